//! From a document to a solid.
//!
//! [`layout()`] places every element, [`sections()`] says what is solid between which heights, and
//! [`evaluate`] runs the whole way: layout, sections, mesh, measures and findings.

mod clear;
mod contour;
mod elevation;
mod ground;
mod layout;
mod loops;
mod outline;
mod reach;
mod samples;
mod sections;
mod words;
mod worked;

pub use elevation::Prism;
pub use layout::{Drawn, Layout, Placed, PlacedPlate, clear_area, layout};
pub use samples::{FaceSample, face_samples};
pub use sections::sections;

pub(crate) use contour::contour;
pub(crate) use words::height_to_fit;

use crate::piece::Piece;
use crate::plane::{MAX_COORDINATE_MM, Rect, Tolerance};
use crate::preflight::{self, Finding};
use crate::solid::{self, Colour, Measures, Mesh, MeshError, Meshed};
use worked::worked;

/// All of a component that prints in one colour.
#[derive(Debug, Clone)]
pub struct Body {
    /// Which of the filaments of the piece.
    pub filament: usize,
    /// Its closed mesh.
    pub mesh: Mesh,
    /// Its volume in mm³.
    pub volume: f64,
}

/// A piece worked out.
#[derive(Debug, Clone)]
pub struct Evaluation {
    /// Every element in its place.
    pub layout: Layout,
    /// How far the blank's foot is above the bed in mm: what is raised on the back stands on it.
    /// Negative where the foot of a mesh was cut away.
    pub lift: f64,
    /// The solid, resting on the bed; empty where a finding of weight [`preflight::Weight::Stop`] says why.
    pub mesh: Mesh,
    /// The solid's measures.
    pub measures: Measures,
    /// The bodies: what prints in each colour. Together they are the solid, and they do not overlap.
    pub bodies: Vec<Body>,
    /// How many loose parts the solid falls into.
    pub parts: usize,
    /// Places where parts touched along a mere edge and were parted.
    pub partings: usize,
    /// What is wrong or worth a look, the weightiest first.
    pub findings: Vec<Finding>,
}

/// Works a piece out. Never panics and never fails: what cannot be built is said in a finding.
pub fn evaluate(piece: &Piece, tolerance: Tolerance) -> Evaluation {
    let missing = piece.component().mesh().map(|mesh| preflight::mesh_missing(piece, mesh));
    let mut layout = layout(piece, tolerance);
    let reaches_too_far = layout.elements.iter().find(|placed| {
        let limit = Rect::centred(2.0 * MAX_COORDINATE_MM, 2.0 * MAX_COORDINATE_MM);
        placed.region.bounds().is_some_and(|bounds| !limit.contains(&bounds))
    });
    let (Meshed { mut mesh, bodies, partings, .. }, stop) = match reaches_too_far {
        Some(placed) => (Meshed::default(), Some(preflight::out_of_reach(piece, placed))),
        None if layout.stock.is_none() && missing.is_some() => (Meshed::default(), missing),
        None => match solid_of(&mut layout, piece.filament_of(None) as Colour) {
            Ok(meshed) if meshed.mesh.triangles.is_empty() => {
                (meshed, Some(preflight::nothing_left(piece)))
            }
            Ok(meshed) => (meshed, None),
            Err(error) => (Meshed::default(), Some(preflight::not_buildable(&error))),
        },
    };
    // What is raised on the back reaches below the blank's foot, and of a mesh the foot may be cut
    // away; the piece rests on the bed.
    let lift = 0.0 - mesh.lowest();
    mesh.lift(lift);
    let measures = mesh.measures();
    // A mesh that falls into parts of its own is meant to.
    let own = layout.stock.as_ref().map_or(1, |stock| stock.parts);
    let parts = (mesh.parts() + 1).saturating_sub(own.max(1));
    let bodies = bodies
        .into_iter()
        .map(|(colour, mut mesh)| {
            mesh.lift(lift);
            let volume = mesh.measures().volume;
            Body { filament: usize::from(colour), mesh, volume }
        })
        .collect();
    let mut findings = match stop {
        Some(stop) => vec![stop],
        None => preflight::run(piece, &layout, parts, partings),
    };
    findings.sort_by_key(|finding| finding.weight);
    Evaluation { layout, lift, mesh, measures, bodies, parts, partings, findings }
}

/// Meshes a layout. Should its edge treatments run into each other so that no sound solid comes of
/// them, all edges are left square instead, and the layout says so. Should outlines run along each
/// other so closely that even then none comes, they are drawn apart by a few thousandths of a
/// millimetre.
fn solid_of(layout: &mut Layout, blank: Colour) -> Result<Meshed, MeshError> {
    if let Some(stock) = layout.stock.clone() {
        return match worked(layout, &stock, blank) {
            Err(MeshError::Tangled) if layout.has_treated_edges() => {
                layout.leave_edges_square();
                worked(layout, &stock, blank)
            }
            result => result,
        };
    }
    let mut meshed = solid::mesh(&sections(layout))?;
    if !meshed.is_sound && layout.has_treated_edges() {
        layout.leave_edges_square();
        meshed = solid::mesh(&sections(layout))?;
    }
    const ATTEMPTS: usize = 3;
    for _ in 0..ATTEMPTS {
        if meshed.is_sound {
            break;
        }
        layout.draw_outlines_apart();
        meshed = solid::mesh(&sections(layout))?;
    }
    Ok(meshed)
}

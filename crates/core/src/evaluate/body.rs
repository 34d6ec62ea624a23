//! Bodies: what a component starts from, worked out, with the faces it has.

use super::bridges::Bridging;
use super::contour::{contour, ties};
use super::face::{Face, Frame};
use super::ground::Ground;
use super::growing;
use super::outline::outline;
use super::profile::Profile;
use super::stack::Stack;
use crate::cache::Stage;
use crate::halt::Halted;
use crate::piece::{Blank, BothEdges, Component, FaceName, MeshBlank, Outline, Piece, Plate};
use crate::plane::{Rect, Region, rounded_rectangle};
use crate::stock::{self, Levelled};
use crate::workshop::Workshop;
use std::sync::Arc;

/// A blank, worked out.
#[derive(Debug, Clone)]
pub struct Body {
    /// The stock it is made of, where it is made of a mesh.
    pub stock: Option<Arc<Levelled>>,
    /// Its outline without loops, as it is seen from the front.
    pub outline: Region,
    /// Width, height and thickness in mm.
    size: [f64; 3],
    edges: BothEdges,
    /// Whether its outline follows what is on its front.
    is_contour: bool,
    /// The ties that hold that outline together.
    pub ties: Option<Arc<Bridging>>,
    /// What of it lies on the bed, where that is not all of the outline.
    foot: Option<Region>,
    /// The profile it is drawn out of, where it is; its outline is then that of its main face.
    pub profile: Option<Arc<Profile>>,
    /// The stack it is, where it is one; its outline is then that of its main face.
    pub stack: Option<Arc<Stack>>,
}

impl Body {
    /// The body of a component. A mesh that is not at hand has a plate in its place; preflight says
    /// so.
    pub(super) fn of(
        piece: &Piece,
        component: &Component,
        workshop: &Workshop<'_>,
    ) -> Result<Self, Halted> {
        match &component.blank {
            Blank::Plate(plate) => plate_of(piece, component, plate, workshop),
            Blank::Mesh(mesh) => Ok(Self::of_mesh(standing(mesh, workshop))),
            Blank::Block(block) => {
                Ok(Self::drawn_out(Profile::of_block(block, workshop.tolerance), component))
            }
            Blank::BentBar(bar) => {
                Ok(Self::drawn_out(Profile::of_bent_bar(bar, workshop.tolerance), component))
            }
            Blank::Tent(tent) => {
                Ok(Self::drawn_out(Profile::of_tent(tent, workshop.tolerance), component))
            }
            Blank::Cap(_) | Blank::Plug(_) | Blank::Ring(_) | Blank::Box(_) => {
                Ok(Self::stacked(Stack::of(piece, component, workshop)))
            }
        }
    }

    fn drawn_out(profile: Profile, component: &Component) -> Self {
        let main = component.blank.faces().first().and_then(|name| profile.face(*name));
        let size = profile.size();
        Body {
            stock: None,
            outline: main.map(|face| face.outline).unwrap_or_default(),
            size,
            edges: BothEdges::default(),
            is_contour: false,
            ties: None,
            foot: None,
            profile: Some(Arc::new(profile)),
            stack: None,
        }
    }

    fn stacked(stack: Stack) -> Self {
        Body {
            stock: None,
            outline: stack.faces.first().map(|face| face.outline.clone()).unwrap_or_default(),
            size: stack.size,
            edges: BothEdges::default(),
            is_contour: false,
            ties: None,
            foot: None,
            profile: None,
            stack: Some(Arc::new(stack)),
        }
    }

    fn of_mesh(stock: Option<Arc<Levelled>>) -> Self {
        let (outline, size, foot) = match &stock {
            Some(stock) => (
                stock.face.clone(),
                [stock.rect.width(), stock.rect.height(), stock.thickness],
                stock.foot.clone(),
            ),
            None => {
                let [width, height, thickness] = Plate::STAND_IN;
                let sheet = sheet(width, height);
                (sheet.clone(), [width, height, thickness], sheet)
            }
        };
        let edges = BothEdges::default();
        Body {
            stock,
            outline,
            size,
            edges,
            is_contour: false,
            ties: None,
            foot: Some(foot),
            profile: None,
            stack: None,
        }
    }

    /// Width, height and thickness in mm: of a contour blank the room that was given, of a mesh the
    /// worked face and what lies below it; of what is drawn out its width, depth and height.
    pub fn size(&self) -> [f64; 3] {
        self.size
    }

    /// Whether its faces are charts to all sides, which the kernel works.
    pub fn has_charts(&self) -> bool {
        self.profile.is_some() || self.stack.is_some()
    }

    /// The smaller of width and height, in mm.
    pub fn shorter_side(&self) -> f64 {
        self.size[0].min(self.size[1])
    }

    /// A face before anything is on it; its clear area is not known yet. Of a face it does not have, the
    /// main one.
    pub(super) fn face(&self, name: FaceName) -> Face {
        if let Some(profile) = &self.profile {
            let found = profile.face(name).or_else(|| profile.face(FaceName::Front));
            if let Some(face) = found {
                return face;
            }
        }
        if let Some(stack) = &self.stack {
            let found = stack.faces.iter().find(|face| face.name == name);
            if let Some(face) = found.or(stack.faces.first()) {
                return face.clone();
            }
        }
        let [width, height, thickness] = self.size;
        let given = Rect::centred(width, height);
        let extent = |outline: &Region| outline.bounds().unwrap_or(given);
        let (outline, frame, edges) = match name {
            FaceName::Back => {
                let outline = self.foot.as_ref().unwrap_or(&self.outline).mirrored(true);
                let BothEdges { top, bottom } = self.edges;
                let edges = BothEdges { top: bottom, bottom: top };
                (outline, Frame::looking_down(thickness), edges)
            }
            _ => (self.outline.clone(), Frame::LOOKING_UP, self.edges),
        };
        let guide = match (name, &self.foot) {
            (FaceName::Back, Some(_)) => extent(&outline),
            _ => given,
        };
        let rect = if self.is_contour { extent(&outline) } else { guide };
        let chart = Face::chart(name, frame, outline, thickness);
        Face { rect, guide, edges, in_sections: true, ..chart }
    }
}

/// The body of a plate. That of a contour blank follows what is on its front; with nothing on it yet it
/// is a rectangle of the size that was given.
fn plate_of(
    piece: &Piece,
    component: &Component,
    plate: &Plate,
    workshop: &Workshop<'_>,
) -> Result<Body, Halted> {
    let plate = &*growing::grown(piece, component, plate, workshop)?;
    let (width, height) = (plate.width.as_mm(), plate.height.as_mm());
    let tolerance = workshop.tolerance;
    let Outline::Contour(wanted) = &plate.outline else {
        return Ok(of_outline(plate, (width, height), workshop));
    };
    let contoured =
        |outline: Region| Body { is_contour: true, ..of_sheet(plate, (width, height), outline) };
    let sheet = contoured(sheet(width, height));
    let ground = Ground::new(piece, component, &sheet, FaceName::Front, workshop);
    let mut figures = Vec::new();
    for element in component.elements.iter().filter(|one| one.face == FaceName::Front) {
        workshop.go_on()?;
        figures.extend(ground.figure_of(element).map(|figure| figure.takes().clone()));
    }
    let figures = Region::gather(figures);
    let found = contour(&figures, wanted, tolerance);
    if found.is_empty() {
        return Ok(sheet);
    }
    Ok(match ties(&found, &figures, wanted).map(Arc::new) {
        Some(ties) => Body { ties: Some(ties.clone()), ..contoured(found.union(&ties.strips)) },
        None => contoured(found),
    })
}

/// The body of a plate of a size in mm whose outline does not follow what is on it.
pub(super) fn of_outline(plate: &Plate, size: (f64, f64), workshop: &Workshop<'_>) -> Body {
    let found = outline(&plate.outline, size, workshop);
    // A shape that is not at hand is stood in for, so that what is on it has a place.
    let found = if found.is_empty() { sheet(size.0, size.1) } else { found };
    // What one figure gives is as large as it comes out.
    let own = match plate.outline.is_given_by_one_figure() {
        true => found.bounds().map(|bounds| (bounds.width(), bounds.height())),
        false => None,
    };
    of_sheet(plate, own.unwrap_or(size), found)
}

fn of_sheet(plate: &Plate, (width, height): (f64, f64), outline: Region) -> Body {
    Body {
        stock: None,
        outline,
        size: [width, height, plate.thickness.as_mm()],
        edges: plate.edges,
        is_contour: false,
        ties: None,
        foot: None,
        profile: None,
        stack: None,
    }
}

fn sheet(width: f64, height: f64) -> Region {
    rounded_rectangle(Rect::centred(width, height), 0.0, Default::default())
}

/// The stock of a blank as the blank wants it to stand; `None` where it is not at hand or cannot stand at
/// this scale.
fn standing(blank: &MeshBlank, workshop: &Workshop<'_>) -> Option<Arc<Levelled>> {
    let stock = workshop.mesh(&blank.mesh)?;
    let MeshBlank { mesh, scale, face, turn, .. } = blank;
    let [x, y, z] = face.normal;
    let figures = [*scale, x, y, z, face.level, *turn].map(f64::to_bits);
    let key = workshop.cache.key(Stage::Standing, (mesh, figures));
    let standing = workshop.cache.kept(key, || stock::level(&stock, blank).map(Arc::new));
    (*standing).clone()
}

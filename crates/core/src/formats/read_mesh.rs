//! Mesh files of others, read: STL, OBJ and 3MF, told apart by what is in them.

use super::{obj, shortened, stl, threemf};
use crate::filament::Rgb;
use crate::solid::{Faults, Mesh};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use thiserror::Error;

/// The most triangles a file may have to be read.
pub const MAX_TRIANGLES: usize = 2_000_000;

/// The largest mesh file that is read, in bytes.
pub const MAX_MESH_BYTES: usize = 128 << 20;

/// How many characters of the name a file gives a body are read.
const MAX_NAME: usize = 80;

/// A mesh file, read. Lengths in mm where the file says its unit, else in its own figures.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FoundMesh {
    /// What kind of file it is: "STL", "OBJ" or "3MF".
    pub format: Cow<'static, str>,
    /// The unit the file states, as its format calls it; figures were turned into mm.
    pub unit: Option<String>,
    /// Its bodies.
    pub bodies: Vec<FoundBody>,
    /// What is against its format's rules but does no harm, a sentence each.
    pub remarks: Vec<String>,
}

/// A body of a mesh file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FoundBody {
    /// What the file calls it, at most 80 characters of it; empty where it does not.
    pub name: String,
    /// The colour the file gives it.
    pub colour: Option<Rgb>,
    /// Its mesh.
    pub mesh: Mesh,
}

/// Why a mesh file was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum MeshFileError {
    /// None of the kinds that are read.
    #[error("this is no STL, OBJ or 3MF file")]
    Unknown,
    /// More than [`MAX_MESH_BYTES`].
    #[error("the file has {} MB; a mesh file may have {} MB at most", .0 >> 20, MAX_MESH_BYTES >> 20)]
    TooLarge(usize),
    /// More than [`MAX_TRIANGLES`].
    #[error("the file has more than {MAX_TRIANGLES} triangles, the most that are read")]
    TooMany,
    /// No triangle at all.
    #[error("there is no triangle in the file")]
    Empty,
    /// A fault of an STL file.
    #[error(transparent)]
    Stl(#[from] stl::StlError),
    /// A fault of an OBJ file.
    #[error("this OBJ file cannot be read: {0}")]
    Obj(String),
    /// A fault of a 3MF package.
    #[error("this 3MF package cannot be read: {0}")]
    ThreeMf(String),
}

/// Reads a mesh file of any kind.
///
/// # Errors
/// [`MeshFileError`] with what is wrong with it.
pub fn read_mesh(bytes: &[u8]) -> Result<FoundMesh, MeshFileError> {
    if bytes.len() > MAX_MESH_BYTES {
        return Err(MeshFileError::TooLarge(bytes.len()));
    }
    let mut found = if bytes.starts_with(b"PK") {
        threemf::read(bytes)?
    } else if obj::looks_like(bytes) {
        obj::read(bytes)?
    } else {
        let solids = match stl::read_solids(bytes) {
            Err(stl::StlError::NotStl) => return Err(MeshFileError::Unknown),
            Err(stl::StlError::TooMany(_)) => return Err(MeshFileError::TooMany),
            // What is no text and does not say how long it is could be anything.
            Err(stl::StlError::Length { stated, .. }) if stated > MAX_TRIANGLES => {
                return Err(MeshFileError::Unknown);
            }
            read => read?,
        };
        found_of(solids)
    };
    if found.bodies.iter().all(|body| body.mesh.triangles.is_empty()) {
        return Err(MeshFileError::Empty);
    }
    for body in &mut found.bodies {
        body.name = shortened(&body.name, MAX_NAME);
    }
    Ok(found)
}

/// The solids of an STL file as bodies, one with all of them where there are more than anybody tells apart.
fn found_of(solids: Vec<stl::StlSolid>) -> FoundMesh {
    const MOST_SOLIDS: usize = 64;
    let mut remarks = Vec::new();
    let count = solids.len();
    let body = |stl::StlSolid { name, mesh }| FoundBody { name, colour: None, mesh };
    let mut bodies: Vec<FoundBody> =
        solids.into_iter().filter(|solid| !solid.mesh.triangles.is_empty()).map(body).collect();
    if bodies.len() > MOST_SOLIDS {
        remarks.push(format!("It has {count} solids; they are taken as one."));
        let mut all = Mesh::default();
        bodies.iter().for_each(|body| all.append(&body.mesh));
        bodies = vec![FoundBody { name: String::new(), colour: None, mesh: all }];
    }
    FoundMesh { format: "STL".into(), unit: None, bodies, remarks }
}

impl FoundMesh {
    /// What is wrong with its bodies, together.
    pub fn faults(&self) -> Faults {
        self.bodies.iter().map(|body| body.mesh.faults()).fold(Faults::default(), Faults::and)
    }

    /// Its extent in mm, or in its own figures.
    pub fn size(&self) -> [f64; 3] {
        let measured = self.bodies.iter().map(|body| body.mesh.measures());
        let (mut low, mut high) = ([f64::INFINITY; 3], [f64::NEG_INFINITY; 3]);
        for of_body in measured {
            for axis in 0..3 {
                low[axis] = low[axis].min(of_body.low[axis]);
                high[axis] = high[axis].max(of_body.high[axis]);
            }
        }
        [0, 1, 2].map(|axis| (high[axis] - low[axis]).max(0.0))
    }

    /// What its figures probably are, where the file does not say: a thing to be held in the hand is
    /// between a few millimetres and half a metre (common practice, no source).
    pub fn likely_unit(&self) -> &'static str {
        let largest = self.size().into_iter().fold(0.0, f64::max);
        match largest {
            _ if self.unit.is_some() => "mm",
            largest if largest < 0.6 => "m",
            largest if largest < 5.0 => "in",
            _ => "mm",
        }
    }

    /// Millimetres to one of its figures, as far as can be told.
    pub fn likely_scale(&self) -> f64 {
        match self.likely_unit() {
            "m" => 1000.0,
            "in" => 25.4,
            _ => 1.0,
        }
    }
}

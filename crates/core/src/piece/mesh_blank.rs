//! Meshes of other programs as blanks.

use super::check::Checker;
use super::limits;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What the ids of meshes begin with.
pub const OWN_STOCK: &str = "mesh-";

/// A mesh of another program, one of whose flat faces is worked on. It lies on the bed so that this
/// face looks up. The mesh itself is not in the piece file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct MeshBlank {
    /// The id of the mesh: "mesh-" and the first half of the SHA-256 of its file, in hexadecimal.
    pub mesh: String,
    /// What its file was called, at most 120 characters.
    pub file: String,
    /// How many millimetres one of its figures is, 0.000001 to 10000.
    pub scale: f64,
    /// The face that is worked on.
    pub face: WorkedFace,
    /// How far it is turned as it is seen from above, counter-clockwise in degrees, −360 to 360.
    pub turn: f64,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

/// A flat face of a mesh, in the mesh's own figures. The face of the mesh that comes nearest is
/// taken.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct WorkedFace {
    /// The direction it looks to.
    pub normal: [f64; 3],
    /// How far it lies from the origin along that direction.
    pub level: f64,
}

impl MeshBlank {
    pub(super) fn check(&self, checker: &mut Checker) {
        const LONGEST_NAME: usize = 120;
        if !self.mesh.starts_with(OWN_STOCK) || self.mesh.len() > 80 {
            let message =
                format!("“{}” is no id of a mesh; they begin with {OWN_STOCK}.", self.mesh);
            checker.report("mesh", message);
        }
        let letters = self.file.chars().count();
        if letters > LONGEST_NAME {
            let message =
                format!("The file’s name has {letters} characters; {LONGEST_NAME} are the most.");
            checker.report("file", message);
        }
        checker.number(&limits::MESH_SCALE, self.scale);
        checker.angle("turn", self.turn);
        let figures = self.face.normal.into_iter().chain([self.face.level]);
        let length = self.face.normal.iter().map(|part| part * part).sum::<f64>();
        if !figures.into_iter().all(f64::is_finite) || !(0.98..=1.02).contains(&length) {
            let message = "The direction a face looks to has a length of 1.".to_owned();
            checker.report("face.normal", message);
        }
    }
}

//! 3MF, written and read, after the 3MF Core Specification 1.3 (3MF Consortium).
//!
//! Reading goes through three rooms: `package` finds the model part in the archive, `model` reads
//! its elements and holds them to the specification, `build` puts its objects down as bodies. What
//! leaves the shape or a colour in doubt is refused; what is merely against the rules is remarked on.

mod build;
mod model;
mod package;
#[cfg(test)]
mod tests;
mod write;
mod xml;

pub use write::write;

use super::{FoundMesh, MeshFileError, quoted};

/// Namespace of the core specification.
const CORE: &str = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";

/// Type of the relationship that names the part to start from.
const START_PART: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel";

/// Content type of a model part.
const MODEL_TYPE: &str = "application/vnd.ms-package.3dmanufacturing-3dmodel+xml";

/// Reads a 3MF package: the bodies its build puts down, in mm.
///
/// # Errors
/// [`MeshFileError`] for what is no package, is too large, or is against the specification in a way
/// that leaves its shape or a colour in doubt.
pub fn read(bytes: &[u8]) -> Result<FoundMesh, MeshFileError> {
    build::put_down(model::parse(&package::model_part(bytes)?)?)
}

fn refuse(message: impl Into<String>) -> MeshFileError {
    MeshFileError::ThreeMf(message.into())
}

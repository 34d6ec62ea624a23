//! Files: one module for each format, what an export consists of, and the names files get.
//!
//! [`export()`] writes a piece in a [`Format`], as one file or several. Meshes go through a
//! [`Model`], outlines for engravers through a [`Drawing`].

mod archive;
mod drawing;
pub mod dxf;
mod export;
mod file_name;
mod model;
pub mod obj;
mod read_mesh;
pub mod render;
pub mod stl;
pub mod svg;
pub mod threemf;
mod xml_text;

pub use archive::{archive, open_archive};
pub use drawing::{Drawing, DrawnLayer};
pub use export::{Format, OutFile, Wanted, archive_name, export};
pub use file_name::file_name;
pub use model::{Division, Model, Part};
pub use read_mesh::{
    FoundBody, FoundMesh, MAX_MESH_BYTES, MAX_TRIANGLES, MeshFileError, read_mesh,
};
use xml_text::xml_text;

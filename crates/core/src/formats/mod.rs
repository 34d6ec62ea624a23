//! Files: one module for each format, and the names they get.

mod file_name;
mod mesh_format;
pub mod obj;
pub mod stl;
pub mod svg;
pub mod threemf;

pub use file_name::file_name;
pub use mesh_format::MeshFormat;

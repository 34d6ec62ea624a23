//! Files: one module for each format, and the names they get.

mod file_name;
pub mod stl;
pub mod svg;

pub use file_name::file_name;

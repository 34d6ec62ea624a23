//! Files: one module for each format.

pub mod stl;
pub mod svg;

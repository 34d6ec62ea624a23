//! File formats: meshes, drawings and pictures, written and read.
//!
//! A file for each, over plain data: meshes go out through a [`Model`] and come in as a [`FoundMesh`],
//! outlines for engravers go out through a [`Drawing`] and come in as a [`FoundDrawing`]. What a piece is written as, and what the files
//! are called, is for [`crate::export`].

mod archive;
mod drawing;
pub mod dxf;
mod model;
pub mod obj;
mod quoted;
mod read_drawing;
mod read_mesh;
mod read_picture;
pub mod render;
pub mod stl;
pub mod svg;
pub mod threemf;
mod xml_text;

pub use archive::{Packing, archive, open_archive};
pub use drawing::{Drawing, DrawnLayer};
pub use model::{Model, Object, Part};
use quoted::{quoted, shortened};
pub use read_drawing::{
    DrawingError, FoundDrawing, FoundLayer, MAX_DRAWING_BYTES, MAX_DRAWING_LAYERS,
    MAX_DRAWING_POINTS, Mark, MarkKind, read_drawing, render_svg,
};
pub use read_mesh::{
    FoundBody, FoundMesh, MAX_MESH_BYTES, MAX_TRIANGLES, MeshFileError, read_mesh,
};
pub use read_picture::{
    MAX_PICTURE_BYTES, MAX_PIXELS, Picture, PictureError, WORKED_SIDE, is_picture, read_picture,
};
use xml_text::xml_text;

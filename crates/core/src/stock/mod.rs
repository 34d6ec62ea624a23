//! Meshes of others as blanks: what a component can start from instead of a plate.
//!
//! A mesh file that was read becomes [`Stock`]: one sound solid with the flat faces found on it
//! ([`flat_faces()`]). A piece names the stock by an id made of the file's content, and one of its
//! faces; [`level()`] then stands the solid so that this face looks up, its middle above the origin and
//! the lowest point on the bed. From there on the face is worked on like that of a plate.
//!
//! The stock itself is looked up in a [library](crate::library), since a piece file holds only its id.

mod accept;
mod evened;
mod flat_faces;
mod level;

pub use accept::{MAX_STOCK_TRIANGLES, Stock, StockError, stock_id};
use evened::evened;
pub use flat_faces::{FlatFace, flat_faces};
pub use level::{Levelled, MAX_EXTENT_MM, level};

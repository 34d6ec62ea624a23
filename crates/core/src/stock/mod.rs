//! Meshes of others as blanks: what a component can start from instead of a plate.
//!
//! A mesh file that was read becomes [`Stock`]: one sound solid with the flat faces found on it
//! ([`flat_faces()`]). A piece names the stock by an id made of the file's content, and one of its
//! faces; [`level()`] then stands the solid so that this face looks up, its middle above the origin and
//! the lowest point on the bed. From there on the face is worked on like that of a plate.
//!
//! Stock lies on a shelf ([`shelve`]), as typefaces do, since a piece file holds only its id; what is
//! not there is fetched from where the application says ([`fetch_from`]).

mod flat_faces;
mod level;
mod shelf;

pub use flat_faces::{FlatFace, flat_faces};
pub use level::{Levelled, MAX_EXTENT_MM, level};
pub use shelf::{
    MAX_STOCK_TRIANGLES, OWN_STOCK, Stock, StockError, fetch_from, on_shelf, shelve, stock_id,
    unshelve,
};

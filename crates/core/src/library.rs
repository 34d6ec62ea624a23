//! Where the typefaces, meshes and shapes come from that a piece names by their ids.
//!
//! A piece file holds ids only. Whoever has a piece worked out lends a [`Library`]: the application
//! one that reads its database, the command line one of the files beside the piece ([`Shelf`]), a test
//! [`Shipped`].

use crate::lettering::Typeface;
use crate::shapes::Shape;
use crate::stock::Stock;
use std::collections::HashMap;
use std::sync::Arc;

/// Look-ups by id. What ships with the program is not asked for here.
pub trait Library: Send + Sync {
    /// One of the user's own typefaces.
    fn typeface(&self, id: &str) -> Option<Arc<Typeface>>;

    /// All of the user's own typefaces, by name.
    fn typefaces(&self) -> Vec<Arc<Typeface>>;

    /// A mesh that a component can be made of.
    fn mesh(&self, id: &str) -> Option<Arc<Stock>>;

    /// A shape of the user's own.
    fn shape(&self, id: &str) -> Option<Arc<Shape>>;
}

/// Nothing but what ships with the program.
#[derive(Debug, Clone, Copy, Default)]
pub struct Shipped;

impl Library for Shipped {
    fn typeface(&self, _: &str) -> Option<Arc<Typeface>> {
        None
    }

    fn typefaces(&self) -> Vec<Arc<Typeface>> {
        Vec::new()
    }

    fn mesh(&self, _: &str) -> Option<Arc<Stock>> {
        None
    }

    fn shape(&self, _: &str) -> Option<Arc<Shape>> {
        None
    }
}

/// Typefaces, meshes and shapes that were put there one by one.
#[derive(Clone, Default)]
pub struct Shelf {
    typefaces: HashMap<String, Arc<Typeface>>,
    meshes: HashMap<String, Arc<Stock>>,
    shapes: HashMap<String, Arc<Shape>>,
}

impl Shelf {
    /// Puts a typeface there, in the place of one of the same id.
    pub fn put_typeface(&mut self, typeface: Typeface) {
        self.typefaces.insert(typeface.id.clone().into_owned(), Arc::new(typeface));
    }

    /// Puts a mesh there, in the place of one of the same id.
    pub fn put_mesh(&mut self, stock: Stock) {
        self.meshes.insert(stock.id.clone(), Arc::new(stock));
    }

    /// Puts a shape there.
    pub fn put_shape(&mut self, shape: Shape) {
        self.shapes.insert(shape.id.clone(), Arc::new(shape));
    }
}

impl Library for Shelf {
    fn typeface(&self, id: &str) -> Option<Arc<Typeface>> {
        self.typefaces.get(id).cloned()
    }

    fn typefaces(&self) -> Vec<Arc<Typeface>> {
        let mut all: Vec<_> = self.typefaces.values().cloned().collect();
        all.sort_by(|a, b| a.name.cmp(&b.name).then(a.id.cmp(&b.id)));
        all
    }

    fn mesh(&self, id: &str) -> Option<Arc<Stock>> {
        self.meshes.get(id).cloned()
    }

    fn shape(&self, id: &str) -> Option<Arc<Shape>> {
        self.shapes.get(id).cloned()
    }
}

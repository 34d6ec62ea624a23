//! What a piece is worked out with, apart from the piece itself.

use crate::cache::Cache;
use crate::halt::{Halt, Halted};
use crate::lettering::{Typeface, shipped};
use crate::library::Library;
use crate::plane::Tolerance;
use crate::shapes::Shape;
use crate::stock::Stock;
use std::sync::Arc;

/// A library to look things up in, a cache, and how closely curves are followed: with the piece the
/// only things an evaluation depends on.
#[derive(Clone)]
pub struct Workshop<'a> {
    library: &'a dyn Library,
    /// What was worked out lately.
    pub(crate) cache: &'a Cache,
    /// How closely curves are followed.
    pub tolerance: Tolerance,
    /// Stops the work.
    pub(crate) halt: Halt,
}

impl<'a> Workshop<'a> {
    /// A workshop whose work nobody stops.
    pub fn new(library: &'a dyn Library, cache: &'a Cache, tolerance: Tolerance) -> Self {
        Workshop { library, cache, tolerance, halt: Halt::default() }
    }

    /// The same, but its work can be stopped.
    pub fn until(self, halt: Halt) -> Self {
        Workshop { halt, ..self }
    }

    /// The same with curves followed more or less closely.
    pub fn at(&self, tolerance: Tolerance) -> Self {
        Workshop { tolerance, ..self.clone() }
    }

    /// The typeface of an id: a shipped one, or one of the user's own.
    pub fn typeface(&self, id: &str) -> Option<Arc<Typeface>> {
        shipped(id).or_else(|| self.library.typeface(id))
    }

    /// The user's own typefaces, by name.
    pub fn own_typefaces(&self) -> Vec<Arc<Typeface>> {
        self.library.typefaces()
    }

    /// The mesh of an id.
    pub fn mesh(&self, id: &str) -> Option<Arc<Stock>> {
        self.library.mesh(id)
    }

    /// The shape of one's own of an id.
    pub fn shape(&self, id: &str) -> Option<Arc<Shape>> {
        self.library.shape(id)
    }

    /// Does work that ends soon after it was stopped.
    ///
    /// # Errors
    /// [`Halted`] where it was left before its end.
    pub fn over<T>(&self, work: impl FnOnce() -> T) -> Result<T, Halted> {
        self.halt.over(work)
    }

    /// Goes on unless the work was stopped.
    pub fn go_on(&self) -> Result<(), Halted> {
        self.halt.go_on()
    }
}

//! All computation of Kalotype: documents and bytes in, meshes, files and findings out.
//!
//! The core does no I/O, knows no clock and no interface, and keeps nothing between two calls but what
//! it is lent a cache for. It tells its work as a pipeline, each step a module that knows only those
//! before it:
//!
//! 1. [`units`] (lengths and what people type), [`plane`] (outlines and regions on an integer grid) and
//!    [`solid`] (sections, closed meshes, the boolean kernel) lie underneath, and [`filament`]s are what
//!    things are printed in. What is kept by its [`content`] is named by it. Documents are read from
//!    [`json`], all by one way.
//! 2. [`lettering`] and [`emblems`] – words and typefaces, and drawn shapes of our own, become outlines.
//! 3. [`piece`] – the document: what to make, with sizes and relations, as versioned JSON
//!    ([`piece::read()`], [`piece::write()`]). Pure data: it computes nothing and looks nothing up.
//! 4. [`formats`] – files: meshes, drawings, pictures. [`stock`] is a mesh of another program, taken
//!    up as something to make a component of, and [`shapes`] are outlines taken from a drawing.
//! 5. [`workshop`] – what a piece is worked out with: a [`library`] its typefaces, meshes and shapes are
//!    looked up in, and a [`cache`].
//! 6. [`evaluate`](mod@evaluate) – from a document to solids: bodies and their faces, every element in
//!    its place, meshes ([`evaluate::evaluate()`]).
//!    [`codes`] are drawn and read back there.
//! 7. [`bed`] – how what was made lies on the printer's bed.
//! 8. [`colour`] – when one nozzle changes between filaments ([`colour::plan_swaps`]).
//! 9. [`preflight`] – what is wrong or worth a look, as [`preflight::Finding`]s that name what they
//!    concern.
//! 10. [`edit`](mod@edit) – small changes to a piece, each checked before the next ([`edit::apply`]).
//! 11. [`gauge`] – pieces that are printed to learn what fits on a printer.
//! 12. [`export`](mod@export) – taking a piece away: which files, and their names.
//!
//! All lengths are in millimetres, volumes in mm³; x runs to the right and y up on the face, z up
//! from the bed. The origin is the centre of the blank's foot.

#[cfg(test)]
extern crate self as kalotype_core;

pub mod bed;
pub mod cache;
pub mod codes;
pub mod colour;
pub mod content;
pub mod edit;
pub mod emblems;
pub mod evaluate;
pub mod export;
pub mod filament;
pub mod formats;
pub mod gauge;
pub mod halt;
pub mod json;
pub mod lettering;
pub mod library;
pub mod piece;
pub mod plane;
pub mod preflight;
pub mod shapes;
pub mod solid;
pub mod stock;
pub mod units;
pub mod workshop;

#[cfg(test)]
#[path = "../tests/common/mod.rs"]
mod testing;

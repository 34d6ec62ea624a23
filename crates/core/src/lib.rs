//! All computation of Kalotype: documents and bytes in, meshes, files and findings out.
//!
//! The core does no I/O, knows no clock and no interface. It tells its work as a pipeline, each
//! step a module with one entry function:
//!
//! 1. [`piece`] – the document: what to make, with sizes and relations, as versioned JSON
//!    ([`piece::read()`], [`piece::write()`]), changed by small [`piece::Edit`]s.
//!    A component starts from a plate, or from a mesh of another program ([`stock`]).
//! 2. [`lettering`] – words and a typeface become outlines ([`lettering::set`]).
//!    [`emblems`] are drawn shapes of our own.
//! 3. [`build`] – [`build::layout()`] places every element, [`build::sections()`] says what is solid
//!    between which heights, and [`build::evaluate`] runs the whole way to a mesh.
//! 4. [`solid`] – [`solid::mesh()`] turns sections into a closed triangle mesh, and measures it.
//! 5. [`colour`] – the filaments, and when one nozzle changes between them
//!    ([`colour::plan_swaps`]).
//! 6. [`preflight`] – what is wrong or worth a look, as [`preflight::Finding`]s that name the
//!    element and the field they concern.
//! 7. [`formats`] – files: meshes, drawings, pictures, and their names.
//!
//! Underneath lie [`units`] (lengths and what people type) and [`plane`] (outlines and regions on
//! an integer grid).
//!
//! All lengths are in millimetres, volumes in mm³; x runs to the right and y up on the face, z up
//! from the bed. The origin is the centre of the blank's foot.

pub mod build;
pub mod colour;
pub mod emblems;
pub mod formats;
pub mod lettering;
pub mod piece;
pub mod plane;
pub mod preflight;
pub mod solid;
pub mod stock;
pub mod units;

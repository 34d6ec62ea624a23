//! Solids: sections by height, the closed mesh built from them, and what can be measured on it.

mod buckets;
mod columns;
mod cut;
mod faults;
mod groups;
mod kernel;
mod mesh;
mod mesher;
mod pinch;
mod sections;
mod shells;
mod slopes;
mod walls;

pub use cut::Cut;
pub use faults::Faults;
pub(crate) use kernel::{KernelSolid, exact_in_f32, furthest};
pub use mesh::{Measures, Mesh};
pub(crate) use mesh::{cross, dot, extremes, minus};
pub use mesher::{MeshError, Meshed, Partings, mesh};
pub use sections::{Act, Colour, Layer, Sections, Slab, Taper};
pub use walls::{ThinWall, Thinnest};

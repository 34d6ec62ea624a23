//! Colours: the filaments a piece prints in, and when one nozzle changes between them.

mod filament;
mod sheet;
mod swaps;

pub use filament::{Filament, Rgb, Tones, shipped_palette};
pub use sheet::{Pause, explain, pause_lines, swap_sheet};
pub use swaps::{Conflict, Swap, SwapPlan, plan_swaps};

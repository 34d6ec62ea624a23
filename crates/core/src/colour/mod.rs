//! Colours with one nozzle: when the filament is changed.

mod sheet;
mod swaps;

pub use sheet::{Advice, Pause, advise, pause_lines, swap_sheet};
pub use swaps::{Conflict, Swap, SwapPlan, plan_swaps, plan_swaps_of};

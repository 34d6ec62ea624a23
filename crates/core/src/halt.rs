//! Stopping work that nobody waits for any more, or that takes too long.
//!
//! The core knows no clock: whoever asks for the work holds the switch and decides when to turn it.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use thiserror::Error;

/// The work was stopped before it was done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
#[error("the work was stopped before it was done")]
pub struct Halted;

/// A switch that stops work. All clones are one switch.
#[derive(Debug, Clone, Default)]
pub struct Halt(Arc<AtomicBool>);

impl Halt {
    /// Stops the work at the next place where it looks.
    pub fn stop(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether it was stopped.
    pub fn is_stopped(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }

    /// Goes on unless the work was stopped.
    ///
    /// # Errors
    /// [`Halted`] once it was.
    pub fn go_on(&self) -> Result<(), Halted> {
        if self.is_stopped() { Err(Halted) } else { Ok(()) }
    }
}

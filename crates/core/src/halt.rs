//! Stopping work that nobody waits for any more, or that takes too long.
//!
//! The core knows no clock: whoever asks for the work holds the switch and decides when to turn it. Work is done
//! *under* a switch ([`Halt::over`]); every step of it, down to the single region or triangle, heeds the switches of
//! its thread (`heed`) and leaves the work by unwinding once one was turned, as a panic does but without being one:
//! no hook is called, nothing is printed, and what was half done is dropped on the way. So no step needs to be handed
//! a switch, and none can forget to hand it on. What a switch does not change is what comes of the work.

use std::cell::{Cell, RefCell};
use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
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

thread_local! {
    /// The switches of the work this thread does now, the innermost last.
    static OVER: RefCell<Vec<Halt>> = const { RefCell::new(Vec::new()) };
}

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

    /// Does work that ends soon after this switch was turned, or one it is already under.
    ///
    /// # Errors
    /// [`Halted`] where the work was left before its end.
    pub fn over<T>(&self, work: impl FnOnce() -> T) -> Result<T, Halted> {
        OverAll(vec![self.clone()]).over(work)
    }
}

/// The switches of a thread, to be taken along to another that helps it.
#[derive(Clone)]
pub(crate) struct OverAll(Vec<Halt>);

impl OverAll {
    /// Those this thread is under.
    pub fn of_this_thread() -> Self {
        OverAll(OVER.with_borrow(Clone::clone))
    }

    /// Does work under all of them.
    ///
    /// # Errors
    /// [`Halted`] where the work was left before its end.
    pub fn over<T>(&self, work: impl FnOnce() -> T) -> Result<T, Halted> {
        let known = OVER.with_borrow_mut(|over| {
            let known = over.len();
            for halt in &self.0 {
                if !over.iter().any(|one| Arc::ptr_eq(&one.0, &halt.0)) {
                    over.push(halt.clone());
                }
            }
            known
        });
        // What was half done is dropped, and the cache keeps nothing of it: nobody sees it afterwards.
        let done = catch_unwind(AssertUnwindSafe(work));
        OVER.with_borrow_mut(|over| over.truncate(known));
        // Somewhere within, what was stopped may have passed for what there is not.
        let is_stopped = self.0.iter().any(Halt::is_stopped);
        match done {
            Ok(done) if !is_stopped => Ok(done),
            Ok(_) => Err(Halted),
            Err(cause) if cause.is::<Halted>() => Err(Halted),
            Err(cause) => resume_unwind(cause),
        }
    }
}

/// Leaves the work if it was stopped. Costs a few nanoseconds.
pub(crate) fn heed() {
    if OVER.with_borrow(|over| over.iter().any(Halt::is_stopped)) {
        resume_unwind(Box::new(Halted));
    }
}

/// The same where it is asked millions of times a second: every 256th looks.
#[inline]
pub(crate) fn heed_often() {
    thread_local! {
        static STEPS: Cell<u8> = const { Cell::new(0) };
    }
    let step = STEPS.get().wrapping_add(1);
    STEPS.set(step);
    if step == 0 {
        heed();
    }
}

/// The same within a loop of so small steps that every 256th looks.
#[inline]
pub(crate) fn heed_at(step: usize) {
    if step.is_multiple_of(256) {
        heed();
    }
}

/// Sorts, and leaves the work on the way if it was stopped where that takes long.
pub(crate) fn sort_heeding<T: Ord>(all: &mut [T]) {
    const MANY: usize = 1 << 15;
    if all.len() < MANY {
        return all.sort_unstable();
    }
    all.sort_unstable_by(|one, other| {
        heed_often();
        one.cmp(other)
    });
}

/// Guards against a library that gives up by a panic: what it made, or nothing. Being stopped is no panic.
pub(crate) fn guarded<T>(work: impl FnOnce() -> T) -> Option<T> {
    match catch_unwind(AssertUnwindSafe(work)) {
        Ok(done) => Some(done),
        Err(cause) if cause.is::<Halted>() => resume_unwind(cause),
        Err(_) => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Work without an end, as deep as one likes.
    fn endless(deep: usize) -> usize {
        loop {
            heed();
            if deep > 0 {
                endless(deep - 1);
            }
        }
    }

    #[test]
    fn work_ends_wherever_it_is_and_other_work_goes_on() {
        let halt = Halt::default();
        std::thread::scope(|scope| {
            let work = scope.spawn(|| halt.over(|| endless(3)));
            halt.stop();
            assert_eq!(work.join().unwrap(), Err(Halted));
        });
        // This thread is under no switch, and under another it works.
        heed();
        assert_eq!(
            Halt::default().over(|| (0..1000)
                .map(|step| {
                    heed_at(step);
                    1
                })
                .sum()),
            Ok(1000)
        );
        assert_eq!(halt.over(|| 7), Err(Halted), "nobody knows what it passed over");
    }

    #[test]
    fn an_outer_switch_stops_what_has_one_of_its_own() {
        let outer = Halt::default();
        let found = outer.over(|| {
            outer.stop();
            let inner = Halt::default().over(|| endless(1));
            assert_eq!(inner, Err(Halted));
            heed();
        });
        assert_eq!(found, Err(Halted));
    }

    #[test]
    fn switches_are_taken_along_to_a_thread_that_helps() {
        let halt = Halt::default();
        let found = halt.over(|| {
            let over = OverAll::of_this_thread();
            std::thread::scope(|scope| {
                let helper = scope.spawn(move || over.over(|| endless(0)));
                halt.stop();
                assert_eq!(helper.join().unwrap(), Err(Halted));
            });
        });
        assert_eq!(found, Err(Halted));
    }

    #[test]
    fn a_panic_stays_one_and_being_stopped_is_none() {
        let panics =
            || catch_unwind(|| Halt::default().over(|| resume_unwind(Box::new("a fault"))));
        assert!(panics().is_err_and(|cause| *cause.downcast::<&str>().unwrap() == "a fault"));
        assert_eq!(guarded(|| resume_unwind(Box::new("a fault"))), None::<()>);
        let halt = Halt::default();
        halt.stop();
        assert_eq!(halt.over(|| guarded(heed)), Err(Halted));
        heed();
    }
}

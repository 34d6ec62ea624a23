//! What was worked out lately, kept by its content.
//!
//! A stage of the pipeline that may be asked for the same again (the outline of a glyph, set words, an
//! offset, a whole component) keeps its result under a hash of exactly what it read. Whoever asks with
//! the same content gets the same result, so one cache serves everybody, and nothing in it has to be
//! forgotten when something changes. It is bounded in bytes; what was not used for long goes first
//! (`quick_cache`), and what is being worked out is worked out once, by whoever came first.

use crate::halt::{Halted, heed};
use crate::plane::{Region, Roof, Side, Skeleton, Tolerance, to_grid};
use quick_cache::sync::{Cache as Bounded, GuardResult};
use quick_cache::{OptionsBuilder, Weighter};
use siphasher::sip128::{Hasher128, SipHasher13};
use std::any::Any;
use std::hash::{BuildHasher, Hash};
use std::sync::Arc;
use std::time::Duration;

/// The stages whose results are kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum Stage {
    /// The outline of a glyph.
    Glyph,
    /// An outline drawn in or out.
    Offset,
    /// What is nearest to which edge of an outline.
    Skeleton,
    /// An outline drawn in or out step by step, with its ridges.
    Roof,
    /// How large the edges of an outline can be.
    Reach,
    /// Words set straight or along a circle.
    Words,
    /// Where parts of an outline hang by little.
    Necks,
    /// What holds together what lies apart.
    Ties,
    /// Where an outline, or what lies between outlines, is narrower than something.
    Thin,
    /// What of an outline, or of what lies between outlines, is narrower than something.
    Narrow,
    /// A shape of one's own, set.
    Shape,
    /// A mesh standing on the bed with a face up.
    Standing,
    /// A component, all the way to its meshes.
    Component,
    /// What two solids share.
    Shared,
}

/// A stage and a hash of what it reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) struct Key {
    stage: Stage,
    content: u128,
}

/// What a result weighs.
pub(crate) trait Kept: Any + Send + Sync {
    /// About how many bytes it takes.
    fn bytes(&self) -> usize;
}

impl Kept for Region {
    fn bytes(&self) -> usize {
        8 * self.vertex_count() + 24 * self.contours().len() + 24
    }
}

#[derive(Clone)]
struct Entry {
    result: Arc<dyn Any + Send + Sync>,
    bytes: usize,
}

#[derive(Clone)]
struct ByBytes;

impl Weighter<Key, Entry> for ByBytes {
    fn weight(&self, _: &Key, entry: &Entry) -> u64 {
        // The key and the cache's own record come to about a hundred bytes.
        entry.bytes as u64 + 100
    }
}

/// What was worked out lately.
pub struct Cache {
    kept: Bounded<Key, Entry, ByBytes>,
    /// Random for every cache, so that nobody can make up two contents of one hash.
    secret: (u64, u64),
}

impl Cache {
    /// A cache of at most about so many bytes.
    pub fn new(bytes: usize) -> Self {
        /// A small outline with its record.
        const USUAL_BYTES: usize = 2 << 10;
        /// Few, so that a whole component has room in one.
        const SHARDS: usize = 4;
        let options = OptionsBuilder::new()
            .shards(SHARDS)
            .estimated_items_capacity((bytes / USUAL_BYTES).max(16))
            .weight_capacity(bytes as u64)
            .build()
            .expect("all that is needed is given");
        let random = std::hash::RandomState::new();
        let kept = Bounded::with_options(options, ByBytes, Default::default(), Default::default());
        Cache { kept, secret: (random.hash_one(0), random.hash_one(1)) }
    }

    /// How many bytes it holds.
    pub fn bytes(&self) -> u64 {
        self.kept.weight()
    }

    /// The key of what a stage reads.
    pub(crate) fn key(&self, stage: Stage, content: impl Hash) -> Key {
        let mut hasher = SipHasher13::new_with_keys(self.secret.0, self.secret.1);
        content.hash(&mut hasher);
        Key { stage, content: hasher.finish128().as_u128() }
    }

    /// The result kept under a key, or the one that is worked out now. Who asks for the same meanwhile
    /// waits for it.
    pub(crate) fn kept<T: Kept>(&self, key: Key, work: impl FnOnce() -> T) -> Arc<T> {
        let made = self.kept_if(key, || Ok(work()));
        made.unwrap_or_else(|_: Halted| unreachable!("this work does not stop"))
    }

    /// The same for work that may stop before it is done; then nothing is kept. Who waits meanwhile for what another
    /// works out looks up now and then whether he is still to wait.
    pub(crate) fn kept_if<T: Kept>(
        &self,
        key: Key,
        work: impl FnOnce() -> Result<T, Halted>,
    ) -> Result<Arc<T>, Halted> {
        const LOOKS_UP_AFTER: Duration = Duration::from_millis(10);
        let entry = loop {
            heed();
            match self.kept.get_value_or_guard(&key, Some(LOOKS_UP_AFTER)) {
                GuardResult::Value(entry) => break entry,
                // Who leaves the work, or unwinds, leaves the place to the next who waits.
                GuardResult::Guard(place) => {
                    let result = work()?;
                    let bytes = result.bytes();
                    let entry = Entry { result: Arc::new(result), bytes };
                    // If there is no room for it in the cache, it is used all the same.
                    let _ = place.insert(entry.clone());
                    break entry;
                }
                GuardResult::Timeout => {}
            }
        };
        Ok(Arc::downcast(entry.result).expect("a stage keeps one type"))
    }
}

impl Cache {
    /// A region drawn in or out, as [`Region::offset`] has it.
    pub(crate) fn offset(&self, region: &Region, distance: f64, tolerance: Tolerance) -> Region {
        if distance == 0.0 || region.is_empty() {
            return region.clone();
        }
        let key = self.key(Stage::Offset, (region, distance.to_bits(), tolerance));
        (*self.kept(key, || region.offset(distance, tolerance))).clone()
    }
}

impl Kept for Option<Skeleton> {
    fn bytes(&self) -> usize {
        self.as_ref().map_or(1, Skeleton::bytes)
    }
}

impl Kept for Option<Roof> {
    fn bytes(&self) -> usize {
        let Some(roof) = self else { return 1 };
        roof.levels.iter().map(Region::bytes).sum::<usize>() + 16 * roof.ridges.len()
    }
}

impl Cache {
    /// The roof of a region over some distances, in grid steps and rising; `None` where its flanks
    /// cannot be told apart. Each of its parts is worked out on its own, wherever it lies, and kept: a
    /// letter costs once.
    pub(crate) fn roof(
        &self,
        region: &Region,
        side: Side,
        distances: &[i32],
        tolerance: Tolerance,
    ) -> Option<Roof> {
        let parts = region.clumps().into_iter().map(|part| {
            let (part, home) = part.at_origin();
            let key = self.key(Stage::Roof, (&part, side, distances, tolerance));
            let roof = self.kept(key, || {
                let skeleton = self.skeleton(&part, side, *distances.last()?);
                let distances: Vec<f64> = distances.iter().copied().map(f64::from).collect();
                (*skeleton).as_ref()?.roof(&distances, tolerance)
            });
            Some((*roof).as_ref()?.moved(home))
        });
        Some(Roof::gather(parts.collect::<Option<Vec<Roof>>>()?))
    }

    /// The skeleton of a part at the origin, as far as a distance in grid steps.
    fn skeleton(&self, part: &Region, side: Side, most: i32) -> Arc<Option<Skeleton>> {
        // Inside nothing is further than the outline itself.
        let most = if side == Side::Inside { 0 } else { most };
        let key = self.key(Stage::Skeleton, (part, side, most));
        self.kept(key, || Skeleton::of(part, side, f64::from(most)))
    }

    /// Whether one part of a region can be drawn in by a distance in mm without losing a hole or a
    /// stroke, as [`Region::can_be_inset`] has it.
    pub(crate) fn can_be_drawn_in(
        &self,
        part: &Region,
        distance: f64,
        tolerance: Tolerance,
    ) -> bool {
        let (part, _) = part.clone().at_origin();
        part.has_as_many_contours_as(&self.drawn_in(&part, distance, tolerance))
    }

    /// The same, and without losing the end of a stroke.
    pub(crate) fn can_have_an_edge(&self, part: &Region, size: f64, tolerance: Tolerance) -> bool {
        let (part, _) = part.clone().at_origin();
        let level = self.drawn_in(&part, size, tolerance);
        part.has_as_many_contours_as(&level) && part.keeps_its_ends(&level, size, tolerance)
    }

    /// One part of a region, at the origin, drawn in by a distance in mm.
    fn drawn_in(&self, part: &Region, distance: f64, tolerance: Tolerance) -> Region {
        let level = |skeleton: &Skeleton| {
            let roof = skeleton.roof(&[f64::from(to_grid(distance))], tolerance)?;
            roof.levels.into_iter().next()
        };
        let found = (*self.skeleton(part, Side::Inside, 0)).as_ref().and_then(level);
        found.unwrap_or_else(|| part.offset(-distance, tolerance))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::halt::Halt;
    use std::sync::atomic::{AtomicUsize, Ordering};

    struct Block(usize);

    impl Kept for Block {
        fn bytes(&self) -> usize {
            self.0
        }
    }

    #[test]
    fn what_is_asked_for_at_once_is_worked_out_once() {
        let cache = Cache::new(1 << 20);
        let runs = AtomicUsize::new(0);
        std::thread::scope(|scope| {
            for _ in 0..8 {
                scope.spawn(|| {
                    let key = cache.key(Stage::Words, "Åse");
                    let found = cache.kept(key, || {
                        runs.fetch_add(1, Ordering::Relaxed);
                        std::thread::yield_now();
                        Block(7)
                    });
                    assert_eq!(found.0, 7);
                });
            }
        });
        assert_eq!(runs.load(Ordering::Relaxed), 1);
    }

    /// One works, two wait: the one that is stopped leaves, though what it waits for is not done; when the one that works
    /// is stopped, the other takes its place.
    #[test]
    fn who_waits_can_be_stopped_and_takes_over_from_who_was_stopped() {
        let cache = Cache::new(1 << 20);
        let key = || cache.key(Stage::Words, "Åse");
        let [working, waiting] = [Halt::default(), Halt::default()];
        let is_begun = AtomicUsize::new(0);
        std::thread::scope(|scope| {
            let first = scope.spawn(|| {
                working.over(|| {
                    cache.kept(key(), || -> Block {
                        is_begun.store(1, Ordering::Release);
                        loop {
                            heed();
                        }
                    })
                })
            });
            while is_begun.load(Ordering::Acquire) == 0 {
                std::thread::yield_now();
            }
            let second = scope.spawn(|| waiting.over(|| cache.kept(key(), || Block(1))));
            let third = scope.spawn(|| cache.kept(key(), || Block(7)));
            waiting.stop();
            assert!(second.join().unwrap().is_err());
            assert!(!first.is_finished() && !third.is_finished());
            working.stop();
            assert!(first.join().unwrap().is_err());
            assert_eq!(third.join().unwrap().0, 7);
        });
    }

    #[test]
    fn it_stays_within_its_bytes_and_keeps_stages_apart() {
        let cache = Cache::new(1 << 20);
        for i in 0..2000 {
            cache.kept(cache.key(Stage::Glyph, i), || Block(4 << 10));
        }
        assert!(cache.bytes() <= 1 << 20, "{}", cache.bytes());
        assert_eq!(cache.kept(cache.key(Stage::Glyph, 7), || Block(1)).0 % 4095, 1);
        assert_eq!(cache.kept(cache.key(Stage::Words, 7), || Block(2)).0, 2);
        let stopped = cache.kept_if(cache.key(Stage::Words, 8), || Err::<Block, _>(Halted));
        assert!(stopped.is_err());
        assert_eq!(cache.kept(cache.key(Stage::Words, 8), || Block(3)).0, 3);
    }
}

//! Where requests get their work done, so that one person's heavy work is not everybody's wait.
//!
//! There are three lanes. Looking things up and keeping them goes to the *shelf*, which is quick and never
//! waits behind geometry. Edits and looks are worked out at a *bench*; there are twice as many as cores, so that
//! who has a light piece shares a core with heavy ones and does not wait for them to end. *Heavy*
//! work (exports, archives, mending all, files of others, pictures for the list) has a lane of its own that
//! leaves a core to the benches, and of one person only one piece of it is under way. A piece
//! has its edits carried out one after the other, so it never holds more than one bench; of the looks one
//! page asks for at one thing only the newest is worked out. Work stops when nobody waits for it any
//! more or when it takes longer than [`LONGEST`], and when too many wait a newcomer is told so at once.

use super::error::WebError;
use crate::service::{Service, Trouble, Viewer};
use actix_web::web;
use kalotype_core::halt::Halt;
use std::any::Any;
use std::collections::HashMap;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;
use tokio::sync::{Mutex as Turn, OwnedMutexGuard, OwnedSemaphorePermit, Semaphore};
use tokio::time::timeout;

/// How long a piece of work may take, and how long it may wait for its place.
const LONGEST: Duration = Duration::from_secs(30);

/// How long heavy work may wait for its turn: pages give up a minute after they asked.
const LONGEST_TURN: Duration = Duration::from_secs(25);

/// How many may wait for a lane, and how much heavy work of one person.
const MOST_WAITING: usize = 256;
const MOST_OF_ONE: usize = 80;

/// How many work at edits and looks at once, to each core.
pub const BENCHES_OF_A_CORE: usize = 2;

/// How many look things up at once.
const SHELF_WIDTH: usize = 4;

/// How many uploads are taken in at once, and of one person.
const UPLOADS: usize = 16;
const UPLOADS_OF_ONE: usize = 4;

/// A lane: so many work at once, and a bounded number waits.
#[derive(Clone)]
struct Lane {
    places: Arc<Semaphore>,
    waiting: Arc<AtomicUsize>,
}

impl Lane {
    fn new(places: usize) -> Self {
        Lane { places: Arc::new(Semaphore::new(places)), waiting: Arc::default() }
    }

    /// How many wait in it.
    fn count_waiting(&self) -> usize {
        self.waiting.load(Ordering::Relaxed)
    }

    /// A place in the lane.
    async fn place(&self) -> Result<OwnedSemaphorePermit, WebError> {
        struct Waits(Arc<AtomicUsize>);
        impl Drop for Waits {
            fn drop(&mut self) {
                self.0.fetch_sub(1, Ordering::Relaxed);
            }
        }
        let ahead = self.waiting.fetch_add(1, Ordering::Relaxed);
        let _waits = Waits(Arc::clone(&self.waiting));
        if ahead >= MOST_WAITING {
            return Err(WebError::Busy);
        }
        let place = Arc::clone(&self.places).acquire_owned();
        match timeout(LONGEST, place).await {
            Ok(Ok(place)) => Ok(place),
            _ => Err(WebError::Busy),
        }
    }
}

/// What a job comes to.
type Outcome = Box<dyn Any + Send>;

/// A job of whatever kind, so that what carries jobs out is compiled once and not for each of them.
type Job = Box<dyn FnOnce(&Service) -> Result<Outcome, Trouble> + Send>;

fn boxed<T: Send + 'static>(
    job: impl FnOnce(&Service) -> Result<T, Trouble> + Send + 'static,
) -> Job {
    Box::new(move |service| Ok(Box::new(job(service)?)))
}

fn opened<T: 'static>(outcome: Outcome) -> Result<T, WebError> {
    let other = |_| WebError::Internal("a job came to something else".to_owned());
    outcome.downcast().map(|done| *done).map_err(other)
}

/// Stops work when whoever waited for it is gone.
struct StopsWhenDropped(Halt);

impl Drop for StopsWhenDropped {
    fn drop(&mut self) {
        self.0.stop();
    }
}

/// Lanes of single persons; those in which nobody is go.
#[derive(Clone)]
struct OwnLanes {
    places: usize,
    lanes: Arc<Mutex<HashMap<String, Lane>>>,
}

impl OwnLanes {
    fn new(places: usize) -> Self {
        OwnLanes { places, lanes: Arc::default() }
    }

    /// The lane of a person; nothing for those who have no word and cannot be told apart.
    fn of(&self, person: &str) -> Option<Lane> {
        let mut lanes = self.lanes.lock().unwrap_or_else(PoisonError::into_inner);
        lanes.retain(|_, lane| {
            Arc::strong_count(&lane.waiting) > 1 || lane.places.available_permits() < self.places
        });
        (!person.is_empty()).then(|| {
            lanes.entry(person.to_owned()).or_insert_with(|| Lane::new(self.places)).clone()
        })
    }
}

/// A place among the uploads, of all and of one person.
pub struct Uploading {
    _own: Option<OwnedSemaphorePermit>,
    _place: OwnedSemaphorePermit,
}

/// How far heavy work has come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Stage {
    /// Other work of the same person comes first.
    BehindOwn,
    /// It waits in the heavy lane.
    InLane,
    /// It is under way.
    UnderWay,
}

/// Heavy work that was asked for and is not done.
struct Ticket {
    number: u64,
    person: String,
    page: String,
    stage: Stage,
}

/// All heavy work that is not done, in the order it was asked for.
#[derive(Clone, Default)]
struct Queue(Arc<Mutex<Vec<Ticket>>>);

/// A place in the queue; whoever drops it has left.
struct Queued {
    queue: Queue,
    number: u64,
}

impl Queue {
    fn tickets(&self) -> MutexGuard<'_, Vec<Ticket>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Takes a place at its end.
    fn join(&self, viewer: &Viewer, stage: Stage) -> Queued {
        let Viewer { person, page, .. } = viewer.clone();
        let mut tickets = self.tickets();
        let number = tickets.last().map_or(0, |last| last.number + 1);
        tickets.push(Ticket { number, person, page, stage });
        Queued { queue: self.clone(), number }
    }

    /// How much other work comes before the first that a page waits for; nothing where it waits for none.
    fn before(&self, viewer: &Viewer) -> Option<usize> {
        let tickets = self.tickets();
        let is_own = |one: &&Ticket| one.person == viewer.person && one.page == viewer.page;
        let first = tickets.iter().find(is_own)?;
        let comes_before = |one: &&Ticket| match (one.stage, first.stage) {
            (_, Stage::UnderWay) => false,
            (Stage::UnderWay, _) => true,
            // Who waits behind work of their own has not joined those who wait for the lane.
            (Stage::BehindOwn, _) => one.person == first.person && one.number < first.number,
            (Stage::InLane, stage) => stage == Stage::BehindOwn || one.number < first.number,
        };
        Some(tickets.iter().filter(comes_before).count())
    }
}

impl Queued {
    fn is_now(&self, stage: Stage) {
        let mut tickets = self.queue.tickets();
        if let Some(own) = tickets.iter_mut().find(|one| one.number == self.number) {
            own.stage = stage;
        }
    }
}

impl Drop for Queued {
    fn drop(&mut self) {
        self.queue.tickets().retain(|one| one.number != self.number);
    }
}

/// The service, and the lanes to it.
#[derive(Clone)]
pub struct Studio {
    service: Service,
    benches: Lane,
    heavy: Lane,
    own_heavy: OwnLanes,
    queue: Queue,
    shelf: Lane,
    uploads: Lane,
    own_uploads: OwnLanes,
    turns: Arc<Mutex<HashMap<String, Arc<Turn<()>>>>>,
    looks: Arc<Mutex<HashMap<String, Halt>>>,
}

impl Studio {
    pub fn new(service: Service) -> Self {
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        Studio {
            service,
            benches: Lane::new(BENCHES_OF_A_CORE * cores),
            heavy: Lane::new((cores - 1).max(1)),
            own_heavy: OwnLanes::new(1),
            queue: Queue::default(),
            shelf: Lane::new(SHELF_WIDTH),
            uploads: Lane::new(UPLOADS),
            own_uploads: OwnLanes::new(UPLOADS_OF_ONE),
            turns: Arc::default(),
            looks: Arc::default(),
        }
    }

    /// The service itself, for what neither blocks nor works anything out.
    pub fn service(&self) -> &Service {
        &self.service
    }

    /// Looks something up or keeps it.
    pub async fn shelf<T: Send + 'static>(
        &self,
        job: impl FnOnce(&Service) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        let place = self.shelf.place().await?;
        opened(self.run(place, boxed(job)).await?)
    }

    /// Works something out.
    pub async fn bench<T: Send + 'static>(
        &self,
        job: impl FnOnce(&Service, Halt) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        self.worked(&self.benches, Halt::default(), None, job).await
    }

    /// Works something out in a lane, where something else may stop it too; of heavy work with its place in the queue.
    async fn worked<T: Send + 'static>(
        &self,
        lane: &Lane,
        halt: Halt,
        queued: Option<Queued>,
        job: impl FnOnce(&Service, Halt) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        let stops = StopsWhenDropped(halt.clone());
        let job = boxed(move |service| job(service, halt));
        opened(self.run_or_stop(lane, stops, queued, job).await?)
    }

    async fn run_or_stop(
        &self,
        lane: &Lane,
        _stops: StopsWhenDropped,
        queued: Option<Queued>,
        job: Job,
    ) -> Result<Outcome, WebError> {
        let place = lane.place().await?;
        if let Some(queued) = &queued {
            queued.is_now(Stage::UnderWay);
        }
        timeout(LONGEST, self.run(place, job)).await.unwrap_or(Err(WebError::TooLong))
    }

    /// Works out something heavy, when it is its turn.
    pub async fn heavy<T: Send + 'static>(
        &self,
        viewer: &Viewer,
        job: impl FnOnce(&Service, Halt) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        let halt = Halt::default();
        let _stops = StopsWhenDropped(halt.clone());
        opened(self.in_turn(viewer, boxed(move |service| job(service, halt))).await?)
    }

    /// How much other heavy work comes before what a page waits for; nothing where it waits for none.
    pub fn before(&self, viewer: &Viewer) -> Option<usize> {
        self.queue.before(viewer)
    }

    async fn in_turn(&self, viewer: &Viewer, job: Job) -> Result<Outcome, WebError> {
        let own = self.own_heavy.of(&viewer.person);
        if own.as_ref().is_some_and(|own| own.count_waiting() >= MOST_OF_ONE) {
            return Err(WebError::Queued(MOST_OF_ONE));
        }
        let queued = self.queue.join(viewer, Stage::BehindOwn);
        let turn = async {
            let own = match &own {
                Some(own) => Some(own.place().await?),
                None => None,
            };
            queued.is_now(Stage::InLane);
            Ok::<_, WebError>((own, self.heavy.place().await?))
        };
        let Ok(turn) = timeout(LONGEST_TURN, turn).await else {
            let others = own.map_or(0, |own| own.count_waiting());
            return Err(WebError::Queued(self.heavy.count_waiting().max(others).max(1)));
        };
        let (_own, place) = turn?;
        queued.is_now(Stage::UnderWay);
        timeout(LONGEST, self.run(place, job)).await.unwrap_or(Err(WebError::TooLong))
    }

    /// Works out a look at something; an earlier look of the same page at it that is still being worked
    /// out is stopped.
    pub async fn look<T: Send + 'static>(
        &self,
        viewer: &Viewer,
        at: &str,
        job: impl FnOnce(&Service, Halt) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        self.worked(&self.benches, self.newest(viewer, at), None, job).await
    }

    /// The same of a file of others, which may be heavy.
    pub async fn look_into<T: Send + 'static>(
        &self,
        viewer: &Viewer,
        at: &str,
        job: impl FnOnce(&Service, Halt) -> Result<T, Trouble> + Send + 'static,
    ) -> Result<T, WebError> {
        let queued = self.queue.join(viewer, Stage::InLane);
        self.worked(&self.heavy, self.newest(viewer, at), Some(queued), job).await
    }

    /// What stops a look once the same page takes a newer one at the same thing.
    fn newest(&self, viewer: &Viewer, at: &str) -> Halt {
        let Viewer { person, page, .. } = viewer;
        let key = format!("{person} {page} {at}");
        let halt = Halt::default();
        if !person.is_empty() || !page.is_empty() {
            let mut looks = self.looks.lock().unwrap_or_else(PoisonError::into_inner);
            looks.retain(|_, halt| !halt.is_stopped());
            if let Some(earlier) = looks.insert(key, halt.clone()) {
                earlier.stop();
            }
        }
        halt
    }

    /// The turn to change a piece: changes of one piece are carried out one after the other.
    pub async fn turn(&self, piece: &str) -> Result<OwnedMutexGuard<()>, WebError> {
        let turn = {
            let mut turns = self.turns.lock().unwrap_or_else(PoisonError::into_inner);
            // Nobody has or waits for those that are only here.
            turns.retain(|_, turn| Arc::strong_count(turn) > 1);
            Arc::clone(turns.entry(piece.to_owned()).or_default())
        };
        timeout(LONGEST, turn.lock_owned()).await.map_err(|_| WebError::Busy)
    }

    /// A place among the uploads that are taken in.
    pub async fn upload(&self, viewer: &Viewer) -> Result<Uploading, WebError> {
        let own = match self.own_uploads.of(&viewer.person) {
            Some(own) => Some(own.place().await?),
            None => None,
        };
        Ok(Uploading { _own: own, _place: self.uploads.place().await? })
    }

    /// Runs blocking work off the async workers.
    async fn run(&self, place: OwnedSemaphorePermit, job: Job) -> Result<Outcome, WebError> {
        let service = self.service.clone();
        let done = web::block(move || {
            let _place = place;
            job(&service)
        });
        Ok(done.await.map_err(|error| WebError::Internal(error.to_string()))??)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::service::Readers;
    use kalotype_store::Store;

    fn studio() -> (tempfile::TempDir, Studio) {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join("test.db")).unwrap();
        (folder, Studio::new(Service::new(store, Readers::Here).unwrap()))
    }

    /// Somebody at one of their pages.
    fn at(page: &str) -> Viewer {
        Viewer { person: "Åse".to_owned(), page: page.to_owned(), request: None }
    }

    /// Works until it is stopped.
    fn endless(halt: &Halt) -> Result<(), Trouble> {
        while !halt.is_stopped() {
            std::thread::yield_now();
        }
        Err(kalotype_core::halt::Halted.into())
    }

    #[actix_web::test]
    async fn a_newer_look_stops_the_older_and_the_shelf_does_not_wait_for_geometry() {
        let (_folder, studio) = studio();
        let page = at("one");
        let older = studio.look(&page, "piece", |_, halt| endless(&halt));
        let newer = async {
            // The shelf answers while the older look is still being worked out.
            studio.shelf(|service| service.list(&Default::default(), 0, 1)).await.unwrap();
            studio.look(&page, "piece", |_, _| Ok(7)).await
        };
        let (older, newer) = tokio::join!(older, newer);
        assert!(matches!(older, Err(WebError::Trouble(Trouble::Halted(_)))));
        assert_eq!(newer.unwrap(), 7);
    }

    #[actix_web::test]
    async fn looks_of_another_page_go_on() {
        let (_folder, studio) = studio();
        let (sender, go) = std::sync::mpsc::channel();
        let (one, other) = (at("one"), at("other"));
        let older = studio.look(&one, "piece", move |_, halt| {
            go.recv().unwrap();
            Ok(halt.go_on()?)
        });
        let newer = async {
            let seen = studio.look(&other, "piece", |_, _| Ok(7)).await;
            sender.send(()).unwrap();
            seen
        };
        let (older, newer) = tokio::join!(older, newer);
        assert!(older.is_ok());
        assert_eq!(newer.unwrap(), 7);
    }

    /// However much heavy work one person has, a bench is free for edits, and somebody else is next.
    #[actix_web::test]
    async fn heavy_work_waits_its_turn_and_edits_do_not_wait_for_it() {
        let (_folder, studio) = studio();
        let gul = Viewer { person: "Gül".to_owned(), ..Viewer::default() };
        let page = at("one");
        let halts: Vec<Halt> = (0..5).map(|_| Halt::default()).collect();
        let works = halts.iter().map(|until| {
            let until = until.clone();
            studio.heavy(&page, move |_, _| {
                let _ = endless(&until);
                Ok(())
            })
        });
        let works = futures_util::future::join_all(works);
        let others = async {
            assert_eq!(studio.bench(|_, _| Ok(3)).await.unwrap(), 3);
            halts[0].stop();
            // Of five, one was under way; hers comes before the other four of the same person.
            assert_eq!(studio.heavy(&gul, |_, _| Ok(4)).await.unwrap(), 4);
            halts.iter().for_each(Halt::stop);
        };
        let (works, ()) = tokio::join!(works, others);
        assert!(works.iter().all(Result::is_ok));
    }

    /// Who waits is told how much comes first: of their own what they asked for earlier, of others what waits for the
    /// lane already.
    #[test]
    fn who_waits_knows_their_place() {
        let queue = Queue::default();
        let of = |person: &str, page: &str| Viewer {
            person: person.to_owned(),
            page: page.to_owned(),
            request: None,
        };
        let places = |pages: &[(&str, &str)]| -> Vec<Option<usize>> {
            pages.iter().map(|(person, page)| queue.before(&of(person, page))).collect()
        };
        let all = [("Åse", "a"), ("Åse", "b"), ("Åse", "c"), ("Gül", "d"), ("Łukasz", "e")];
        assert_eq!(places(&all), [None; 5]);
        let mut tickets: Vec<Queued> = all[..4]
            .iter()
            .map(|(person, page)| queue.join(&of(person, page), Stage::BehindOwn))
            .collect();
        tickets[0].is_now(Stage::UnderWay);
        tickets[3].is_now(Stage::InLane);
        // Her second comes behind her first and his, her third behind all of them.
        assert_eq!(places(&all), [Some(0), Some(2), Some(3), Some(1), None]);
        drop(tickets.remove(0));
        tickets[0].is_now(Stage::InLane);
        tickets[2].is_now(Stage::UnderWay);
        assert_eq!(places(&all), [None, Some(1), Some(2), Some(0), None]);
        tickets.clear();
        assert_eq!(places(&all), [None; 5]);
    }

    #[actix_web::test]
    async fn work_nobody_waits_for_any_more_is_stopped() {
        let (_folder, studio) = studio();
        let (sender, stopped) = std::sync::mpsc::channel();
        let work = studio.bench(move |_, halt| {
            let ended = endless(&halt);
            sender.send(()).unwrap();
            ended
        });
        // Whoever asked goes away at once after the work has begun.
        assert!(timeout(Duration::from_millis(1), work).await.is_err());
        stopped.recv().unwrap();
    }

    #[actix_web::test]
    async fn changes_of_one_piece_take_turns_and_of_another_do_not_wait() {
        let (_folder, studio) = studio();
        let first = studio.turn("a").await.unwrap();
        let other = studio.turn("b").await.unwrap();
        assert!(timeout(Duration::from_millis(1), studio.turn("a")).await.is_err());
        drop((first, other));
        studio.turn("a").await.unwrap();
    }
}

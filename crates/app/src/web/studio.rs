use super::error::WebError;
use actix_web::web;
use kalotype_store::Store;
use std::sync::Arc;
use tokio::sync::Semaphore;

/// Where the work is done: the store, and a limit on how much geometry runs at once.
#[derive(Clone)]
pub struct Studio {
    store: Store,
    benches: Arc<Semaphore>,
}

impl Studio {
    pub fn new(store: Store) -> Self {
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        Studio { store, benches: Arc::new(Semaphore::new(cores)) }
    }

    /// Runs blocking work (geometry, the database) off the async workers; no more jobs at a time
    /// than there are cores, so that one client cannot stall the rest.
    pub async fn work<T: Send + 'static>(
        &self,
        job: impl FnOnce(&Store) -> Result<T, WebError> + Send + 'static,
    ) -> Result<T, WebError> {
        let bench = Arc::clone(&self.benches).acquire_owned().await;
        let store = self.store.clone();
        web::block(move || {
            let _bench = bench;
            job(&store)
        })
        .await
        .map_err(|error| WebError::Internal(error.to_string()))?
    }
}

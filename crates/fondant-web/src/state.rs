//! What handlers share.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use fondant_core::plan::{Conflict, Evaluation, Plan, evaluate};
use fondant_core::resin::Shelf;
use fondant_core::resin::shelf::OwnResin;
use fondant_core::schedule::ShopHours;
use fondant_store::Store;
use fondant_store::repos::{Workshop, WorkshopId};
use jiff::Timestamp;
use tokio::sync::Semaphore;

use crate::WebError;
use crate::field_jobs::FieldJobs;
use crate::views::format::Shown;

/// Evaluations kept at most; a shop has few casts open at a time.
const KEPT_EVALUATIONS: usize = 128;

/// The state of the application.
#[derive(Clone)]
pub struct AppState {
    /// Kept data.
    pub store: Store,
    clock: Arc<dyn Fn() -> Timestamp + Send + Sync>,
    evaluations: Arc<Mutex<HashMap<String, Arc<Evaluation>>>>,
    computing: Arc<Semaphore>,
    /// Sections and blocks, computed beside the requests.
    pub fields: Arc<FieldJobs>,
}

impl std::fmt::Debug for AppState {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("AppState").field("store", &self.store).finish_non_exhaustive()
    }
}

/// The workshop as pages need it.
#[derive(Debug, Clone)]
pub struct Shop {
    /// Its number.
    pub id: WorkshopId,
    /// Its settings and their revision.
    pub workshop: Workshop,
    /// Its hours.
    pub hours: ShopHours,
    /// Its units.
    pub shown: Shown,
    /// Its resins.
    pub shelf: Arc<Shelf>,
}

impl AppState {
    /// State on a store, with the clock that pages go by.
    #[must_use]
    pub fn new(store: Store, clock: impl Fn() -> Timestamp + Send + Sync + 'static) -> Self {
        let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
        Self {
            store,
            clock: Arc::new(clock),
            evaluations: Arc::default(),
            computing: Arc::new(Semaphore::new(cores)),
            fields: Arc::default(),
        }
    }

    /// Now.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        (self.clock)()
    }

    /// The workshop of this installation.
    ///
    /// # Errors
    /// [`WebError`] where there is none or it cannot be read.
    pub async fn shop(&self) -> Result<Shop, WebError> {
        let workshop = self.store.workshop().await?.ok_or(WebError::NotFound("workshop"))?;
        let own = self.store.shelf_items::<OwnResin>(workshop.id).await?;
        let shelf = Shelf::new(own.into_iter().map(|kept| kept.item).collect());
        Ok(Shop {
            id: workshop.id,
            hours: workshop.settings.hours()?,
            shown: Shown { system: workshop.settings.units },
            workshop,
            shelf: Arc::new(shelf),
        })
    }

    /// What follows from a plan: kept from before, or worked out beside the
    /// threads that answer requests. The outer error is of the server, the
    /// inner one lists the plan's conflicts.
    ///
    /// # Errors
    /// [`WebError`] where the work was interrupted.
    pub async fn evaluate(
        &self,
        plan: &Plan,
        shop: &Shop,
    ) -> Result<Result<Arc<Evaluation>, Vec<Conflict>>, WebError> {
        let days = &shop.workshop.settings.days;
        let resin = match shop.shelf.find(&plan.resin) {
            Ok(resin) => resin.clone(),
            Err(error) => return Ok(Err(vec![Conflict::OutOfBounds(error.to_string())])),
        };
        let zone = &shop.workshop.settings.time_zone;
        let key = serde_json::to_string(&(plan, &resin, days, zone))
            .map_err(|error| WebError::Internal(error.to_string()))?;
        if let Some(kept) = self.kept().get(&key) {
            return Ok(Ok(Arc::clone(kept)));
        }
        let (plan, hours) = (plan.clone(), shop.hours.clone());
        let evaluated = self.compute(move || evaluate(&plan, &resin, &hours)).await?;
        Ok(evaluated.map(|evaluation| {
            let evaluation = Arc::new(evaluation);
            let mut kept = self.kept();
            if kept.len() >= KEPT_EVALUATIONS {
                kept.clear();
            }
            kept.insert(key, Arc::clone(&evaluation));
            evaluation
        }))
    }

    /// Runs the model beside the threads that answer requests, on as many
    /// threads as there are cores; more wait their turn.
    ///
    /// # Errors
    /// [`WebError`] where the work was interrupted.
    pub async fn compute<T: Send + 'static>(
        &self,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, WebError> {
        let interrupted = |error: &dyn std::fmt::Display| WebError::Internal(error.to_string());
        let _permit = self.computing.acquire().await.map_err(|error| interrupted(&error))?;
        tokio::task::spawn_blocking(work).await.map_err(|error| interrupted(&error))
    }

    /// The map stays whole even where a thread panicked beside it: entries are
    /// only ever added complete.
    fn kept(&self) -> std::sync::MutexGuard<'_, HashMap<String, Arc<Evaluation>>> {
        self.evaluations.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

//! What handlers share.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use fondant_cast::{Agenda, Conflict, Evaluation, Offer, Plan, Site, Standing, evaluate, facts};
use fondant_devices::forecast::{self, ForecastSource, SimulatedForecast};
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::profile::{Known, Profile};
use fondant_materials::resin::shelf::OwnResin;
use fondant_materials::resin::{Resin, Shelf};
use fondant_pours::ShopHours;
use fondant_store::Store;
use fondant_store::repos::{CastId, Workshop, WorkshopId};
use jiff::{SignedDuration, Timestamp};
use tokio::sync::Semaphore;

use crate::WebError;
use crate::field_jobs::FieldJobs;
use crate::pour_jobs::PourJobs;
use crate::views::format::Shown;

/// Evaluations kept at most; a shop has few casts open at a time.
const KEPT_EVALUATIONS: usize = 128;

/// The shop's air is known so far back, and looked at so far ahead.
const AIR_BACK: SignedDuration = SignedDuration::from_hours(10 * 24);
const AIR_AHEAD: SignedDuration = SignedDuration::from_hours(60 * 24);

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
    /// Alternatives of pour times, computed beside the requests.
    pub pour_jobs: Arc<PourJobs>,
    forecast: Arc<dyn ForecastSource>,
    airs: Arc<Mutex<Option<KeptAir>>>,
    offers: Arc<Mutex<HashMap<String, Arc<Vec<Offer>>>>>,
}

/// What a shop's air follows from: its settings and the hour.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize)]
struct AirKey {
    shop: i64,
    revision: i32,
    hour: i64,
}

/// The air that was worked out last, and what it follows from.
type KeptAir = (AirKey, Arc<ShopAir>);

/// The air of a shop, and why it is not as the shop wishes.
#[derive(Debug, Clone)]
pub struct ShopAir {
    /// From days back to weeks ahead.
    pub series: AirSeries,
    /// Where the profile could not be followed.
    pub trouble: Option<String>,
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
    /// Hours, air and hands, as plans need them.
    pub site: Arc<Site>,
    /// Why its air is not as it wishes; `None` where it is.
    pub air_trouble: Option<String>,
    air_key: AirKey,
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
            pour_jobs: Arc::default(),
            forecast: Arc::new(SimulatedForecast::coast()),
            airs: Arc::default(),
            offers: Arc::default(),
        }
    }

    /// With another source of forecasts.
    #[must_use]
    pub fn with_forecast(mut self, source: impl ForecastSource + 'static) -> Self {
        self.forecast = Arc::new(source);
        self
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
        let hours = workshop.settings.hours()?;
        let (air_key, air) = self.air(&workshop, &hours).await?;
        let settings = &workshop.settings.shop;
        let site = Site {
            hours: hours.clone(),
            air: air.series.clone(),
            hands: settings.hands,
            mixing: settings.mixing_takes,
            pouring: settings.pouring_takes,
        };
        Ok(Shop {
            id: workshop.id,
            hours,
            shown: Shown { system: workshop.settings.units },
            workshop,
            shelf: Arc::new(shelf),
            site: Arc::new(site),
            air_trouble: air.trouble.clone(),
            air_key,
        })
    }

    /// The weather outside, past and to come; `None` where the source does not
    /// answer or makes no sense.
    #[must_use]
    pub fn outside(&self) -> Option<AirSeries> {
        let document = self.forecast.document(self.now());
        let read = document.and_then(|document| forecast::read(&document));
        if let Err(error) = &read {
            tracing::warn!(%error, "no forecast");
        }
        read.ok()
    }

    /// What the forecast source says, as it says it.
    ///
    /// # Errors
    /// [`WebError`] where it does not answer.
    pub fn forecast_document(&self) -> Result<String, WebError> {
        self.forecast.document(self.now()).map_err(|_| WebError::NotFound("forecast"))
    }

    /// The air of a shop as its settings have it: kept for the hour.
    async fn air(
        &self,
        workshop: &Workshop,
        hours: &ShopHours,
    ) -> Result<(AirKey, Arc<ShopAir>), WebError> {
        let now = self.now();
        let hour = now.as_second().div_euclid(3600);
        let key = AirKey { shop: workshop.id.0, revision: workshop.revision, hour };
        let kept = self.airs.lock().unwrap_or_else(PoisonError::into_inner).clone();
        if let Some((_, air)) = kept.filter(|(kept, _)| *kept == key) {
            return Ok((key, air));
        }
        let profile = &workshop.settings.shop.air;
        let needs_log = matches!(profile, Profile::Logged);
        let readings = match needs_log {
            true => self.store.air_since(workshop.id, now - AIR_BACK * 6).await?,
            false => Vec::new(),
        };
        let outside = match profile {
            Profile::Forecast { .. } => self.outside(),
            _ => None,
        };
        let known = Known { readings: &readings, outside: outside.as_ref() };
        let series = profile.series(hours.zone(), now - AIR_BACK, now + AIR_AHEAD, known);
        let air = Arc::new(match series {
            Ok(series) => ShopAir { series, trouble: None },
            Err(error) => {
                let series = match Profile::default() {
                    Profile::Constant { temperature, humidity_percent } => {
                        AirSeries::steady(temperature, humidity_percent)
                    }
                    _ => return Err(WebError::Internal(error.to_string())),
                };
                ShopAir { series, trouble: Some(error.to_string()) }
            }
        });
        let mut airs = self.airs.lock().unwrap_or_else(PoisonError::into_inner);
        *airs = Some((key.clone(), Arc::clone(&air)));
        Ok((key, air))
    }

    /// Works out a cast's agenda anew and keeps it: of a taken plan and what
    /// has happened; a cast without one has none.
    ///
    /// # Errors
    /// [`WebError`].
    pub async fn refresh_agenda(&self, shop: &Shop, cast: CastId) -> Result<(), WebError> {
        let record = self.store.cast(shop.id, cast).await?;
        let former = self.store.agenda(cast).await?;
        let mut agenda = None;
        if !record.plan.pours.taken.is_empty()
            && let Ok(evaluation) = self.evaluate(&record.plan, shop).await?
            && evaluation.standing == Standing::Taken
            && let Ok(planned) = &evaluation.pours
        {
            let rows = self.store.facts(cast).await?;
            let observed = self.by_facts(&evaluation, rows.clone()).await?;
            let schedule = observed.as_ref().map_or(planned, |observed| &observed.schedule);
            let poured = facts::poured(&rows);
            let now = Agenda::of(&record.plan, schedule, poured, self.now());
            agenda = Some(match &former {
                Some(former) => now.following(former),
                None => now,
            });
        }
        if agenda != former {
            self.store.keep_agenda(shop.id, cast, agenda.as_ref()).await?;
        }
        Ok(())
    }

    /// Works out anew what is due of every cast: the shop or its air has changed.
    ///
    /// # Errors
    /// [`WebError`] where nothing can be read; one cast's trouble is logged.
    pub async fn refresh_agendas(&self) -> Result<(), WebError> {
        let shop = self.shop().await?;
        for kept in self.store.agendas(shop.id, self.now()).await? {
            if let Err(error) = self.refresh_agenda(&shop, kept.cast).await {
                tracing::warn!(%error, cast = kept.cast.0, "an agenda stays as it was");
            }
        }
        Ok(())
    }

    /// Follows the shop's air for as long as it is polled: every hour the
    /// forecast and the log may say something else, and windows move.
    pub async fn follow_the_air(self) {
        loop {
            match self.shop().await {
                Ok(shop) if shop.workshop.settings.shop.air.is_read() => {
                    if let Err(error) = self.refresh_agendas().await {
                        tracing::warn!(%error, "agendas stay as they were");
                    }
                }
                Ok(_) => {}
                Err(error) => tracing::warn!(%error, "the shop's air is not known"),
            }
            let past = self.now().as_second().rem_euclid(3600).unsigned_abs();
            tokio::time::sleep(std::time::Duration::from_secs(3600 - past)).await;
        }
    }

    /// The taken plan by what has happened; `None` where nothing has.
    ///
    /// # Errors
    /// [`WebError`] where the work was interrupted.
    pub async fn by_facts(
        &self,
        evaluation: &Arc<Evaluation>,
        rows: Vec<facts::FactRow>,
    ) -> Result<Option<fondant_pours::simulate::observe::Observed>, WebError> {
        if facts::standing(&rows).is_empty() {
            return Ok(None);
        }
        let evaluation = Arc::clone(evaluation);
        self.compute(move || {
            let task = evaluation.pour_task.as_ref()?;
            facts::by_facts(task, &task.taken()?, &rows).ok()
        })
        .await
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
        let resin = match shop.shelf.find(&plan.resin) {
            Ok(resin) => resin.clone(),
            Err(error) => return Ok(Err(vec![Conflict::OutOfBounds(error.to_string())])),
        };
        let key = key_of(plan, &resin, shop)?;
        if let Some(kept) = self.kept().get(&key) {
            return Ok(Ok(Arc::clone(kept)));
        }
        let (plan, site) = (plan.clone(), Arc::clone(&shop.site));
        let evaluated = self.compute(move || evaluate(&plan, &resin, &site)).await?;
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

    /// By what a plan in its shop and air is kept.
    ///
    /// # Errors
    /// [`WebError`] for a resin that is not on the shelf.
    pub fn plan_key(&self, plan: &Plan, shop: &Shop) -> Result<String, WebError> {
        let resin = shop.shelf.find(&plan.resin);
        key_of(plan, resin.map_err(|error| WebError::Internal(error.to_string()))?, shop)
    }

    /// Changes that would help a plan, where they have been worked out.
    #[must_use]
    pub fn kept_offers(&self, key: &str) -> Option<Arc<Vec<Offer>>> {
        self.offers.lock().unwrap_or_else(PoisonError::into_inner).get(key).cloned()
    }

    /// Keeps changes that would help a plan.
    pub fn keep_offers(&self, key: String, offers: Vec<Offer>) -> Arc<Vec<Offer>> {
        let mut kept = self.offers.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= KEPT_EVALUATIONS {
            kept.clear();
        }
        Arc::clone(kept.entry(key).or_insert_with(|| Arc::new(offers)))
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

/// The shop's hours and hands are told by its revision.
fn key_of(plan: &Plan, resin: &Resin, shop: &Shop) -> Result<String, WebError> {
    serde_json::to_string(&(plan, resin, &shop.air_key))
        .map_err(|error| WebError::Internal(error.to_string()))
}

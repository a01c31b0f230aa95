//! The application: what its use cases share.

use std::sync::Arc;

use fondant_devices::forecast::{ForecastSource, SimulatedForecast};
use fondant_store::Store;
use jiff::Timestamp;

use crate::clock::Clock;
use crate::compute::lanes::Lanes;
use crate::compute::results::Results;
use crate::error::AppError;
use crate::events::Events;
use crate::reading::{Readers, Reading};

/// The application. Cheap to copy; all copies are one.
#[derive(Clone)]
pub struct App {
    pub(crate) store: Store,
    clock: Clock,
    weather: Arc<dyn ForecastSource>,
    pub(crate) lanes: Arc<Lanes>,
    pub(crate) reading: Arc<Reading>,
    pub(crate) results: Arc<Results>,
    pub(crate) events: Events,
}

impl std::fmt::Debug for App {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("App").field("store", &self.store).finish_non_exhaustive()
    }
}

impl App {
    /// On a store, by a clock.
    #[must_use]
    pub fn new(store: Store, clock: Clock) -> Self {
        Self {
            store,
            clock,
            weather: Arc::new(SimulatedForecast::coast()),
            lanes: Arc::default(),
            reading: Arc::default(),
            results: Arc::default(),
            events: Events::default(),
        }
    }

    /// By another clock.
    #[must_use]
    pub fn with_clock(mut self, clock: Clock) -> Self {
        self.clock = clock;
        self
    }

    /// With another source of weather forecasts.
    #[must_use]
    pub fn with_weather(mut self, source: impl ForecastSource + 'static) -> Self {
        self.weather = Arc::new(source);
        self
    }

    /// With other readers of files from outside.
    #[must_use]
    pub fn with_readers(mut self, readers: Readers) -> Self {
        self.reading = Arc::new(Reading::by(readers));
        self
    }

    /// The current time, UTC, by the application's clock.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        self.clock.now()
    }

    pub(crate) fn weather(&self) -> &dyn ForecastSource {
        &*self.weather
    }

    /// Whether the records can be reached.
    ///
    /// # Errors
    /// [`AppError::Unavailable`] where they cannot.
    pub async fn ping(&self) -> Result<(), AppError> {
        Ok(self.store.ping().await?)
    }
}

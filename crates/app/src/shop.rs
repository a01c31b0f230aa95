//! The workshop as its casts see it now: settings, shelf, hours, air.

use std::sync::Arc;

use fondant_cast::Site;
use fondant_devices::forecast;
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::profile::{Constant, Known, Way};
use fondant_materials::resin::shelf::{OwnResin, Shelf};
use fondant_pours::ShopHours;
use fondant_store::repos::{Workshop, WorkshopId};
use jiff::{SignedDuration, Timestamp};

use crate::app::App;
use crate::compute::Key;
use crate::error::{AppError, Boxed};
use crate::surroundings::{Stock, Surroundings};

/// How far back the shop's air is read.
const AIR_BACK: SignedDuration = SignedDuration::from_hours(10 * 24);
/// How far ahead the shop's air is forecast.
const AIR_AHEAD: SignedDuration = SignedDuration::from_hours(60 * 24);
/// Span of the readings from which a log's usual day is taken.
const LOG_BACK: SignedDuration = SignedDuration::from_hours(60 * 24);
const HOUR_S: i64 = 3600;
const DAY_H: i64 = 24;

/// The workshop as its casts see it now.
#[derive(Debug, Clone)]
pub struct Shop {
    /// Database id.
    pub id: WorkshopId,
    /// Its settings and their revision.
    pub workshop: Workshop,
    /// Shelf of the shop: resins, colours and lots.
    pub stock: Arc<Stock>,
    /// Hours, air and hands.
    pub around: Arc<Surroundings>,
    /// From when on the air is known, hours since 1970: it becomes another when this does.
    pub(crate) air_from_h: i64,
}

impl Shop {
    /// Hours, air and hands.
    #[must_use]
    pub fn site(&self) -> &Site {
        &self.around.site
    }

    /// Opening hours of the shop.
    #[must_use]
    pub fn hours(&self) -> &ShopHours {
        &self.around.site.hours
    }

    /// Resins of the shop.
    #[must_use]
    pub fn shelf(&self) -> &Shelf {
        &self.stock.shelf
    }
}

impl App {
    /// The workshop of this installation as it is now.
    ///
    /// # Errors
    /// [`AppError`] where there is none or it cannot be read.
    pub fn shop(&self) -> Boxed<'_, Shop> {
        Box::pin(async {
            let workshop = self.store.read().workshop().await?;
            self.shop_of(workshop.ok_or(AppError::NotFound("workshop"))?).await
        })
    }

    /// A workshop with settings that may not be kept yet.
    pub(crate) async fn shop_of(&self, workshop: Workshop) -> Result<Shop, AppError> {
        let id = workshop.id;
        let stock_key = Key::of(&("stock", id, workshop.shelf_revision))?;
        let stock = self.results.stock.get_or(&stock_key, self.read_stock(id)).await?;
        let air_from_h = air_from_h(&workshop, self.now());
        let settings = &workshop.settings;
        let basis = (id, &settings.days, &settings.time_zone, &settings.shop);
        let around_key = Key::of(&("around", basis, workshop.air_revision, air_from_h))?;
        let around = match self.results.surroundings.get(&around_key).await {
            Some(kept) => kept,
            None => {
                let made = self.surroundings(&workshop, air_from_h).await?;
                if made.air_trouble.is_some() {
                    // A source that does not answer is asked again with the next page.
                    Arc::new(made)
                } else {
                    let kept = std::future::ready(Ok(made));
                    self.results.surroundings.get_or(&around_key, kept).await?
                }
            }
        };
        Ok(Shop { id, workshop, stock, around, air_from_h })
    }

    async fn read_stock(&self, id: WorkshopId) -> Result<Stock, AppError> {
        let own = self.store.read().shelf_items::<OwnResin>(id).await?;
        let shelf = Shelf::new(own.items.into_iter().map(|kept| kept.item).collect());
        Ok(Stock { shelf: shelf.without(&own.unreadable), unreadable: own.unreadable })
    }

    async fn surroundings(
        &self,
        workshop: &Workshop,
        air_from_h: i64,
    ) -> Result<Surroundings, AppError> {
        let settings = &workshop.settings;
        let hours = settings.hours().map_err(AppError::fault)?;
        let profile = &settings.shop.air;
        let hour = Timestamp::from_second(air_from_h * HOUR_S).map_err(AppError::fault)?;
        let readings = match profile.by {
            Way::Logged => self.store.read().air_since(workshop.id, hour - LOG_BACK).await?,
            _ => Vec::new(),
        };
        let outside = match profile.by {
            Way::Forecast => self.outside(),
            _ => None,
        };
        let known = Known { readings: &readings, outside: outside.as_ref() };
        let series = profile.series(hours.zone(), hour - AIR_BACK, hour + AIR_AHEAD, known);
        let (air, air_trouble) = match series {
            Ok(series) => (series, None),
            Err(trouble) => {
                let usual = Constant::default();
                (AirSeries::steady(usual.temperature, usual.humidity_percent), Some(trouble))
            }
        };
        let site = Site {
            hours,
            air,
            humidity_percent: settings.shop.humidity_percent(),
            hands: settings.shop.hands,
            mixing: settings.shop.mixing_takes,
            pouring: settings.shop.pouring_takes,
        };
        Ok(Surroundings { key: Key::of(&site)?, site, air_trouble })
    }

    /// The weather outside, past and to come; `None` where the source does not answer or makes no
    /// sense.
    #[must_use]
    pub fn outside(&self) -> Option<AirSeries> {
        let document = self.weather().document(self.now());
        let read = document.and_then(|document| forecast::read(&document));
        if let Err(error) = &read {
            tracing::warn!(%error, "no forecast");
        }
        read.ok()
    }

    /// What the source of weather forecasts says, as it says it.
    ///
    /// # Errors
    /// [`AppError::NotFound`] where it does not answer.
    pub fn weather_document(&self) -> Result<String, AppError> {
        self.weather().document(self.now()).map_err(|_| AppError::NotFound("forecast"))
    }
}

/// Readings and forecasts become others with the hour; a profile that the shop set stays what it
/// is, and only the days that are looked at move on.
fn air_from_h(workshop: &Workshop, now: Timestamp) -> i64 {
    let hour = now.as_second().div_euclid(HOUR_S);
    if workshop.settings.shop.air.is_read() { hour } else { hour.div_euclid(DAY_H) * DAY_H }
}

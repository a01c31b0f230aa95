//! What a shop brings to every cast: its hours, its air, its hands.

use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::AirLimits;
use fondant_materials::resin::Properties;
use fondant_pours::{Crew, ShopHours};
use fondant_quantities::{Span, Temperature};
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};

use crate::document::{AirFrom, Document};
use crate::shop::USUAL_HUMIDITY_PERCENT;

/// The shop's mean air is taken over this long from the earliest pour on: as long as a slow deep
/// pour takes to set (convention).
const MEAN_OVER: SignedDuration = SignedDuration::from_hours(72);

/// What a shop brings to every cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Site {
    /// Opening hours of the shop.
    pub hours: ShopHours,
    /// Air of the shop as a dated series.
    pub air: AirSeries,
    /// From this humidity on care is taken, and from the other nothing is poured, percent.
    #[serde(default = "usual_humidity")]
    pub humidity_percent: [f64; 2],
    /// People who mix and pour at the same time.
    pub hands: u32,
    /// Time to measure out and mix one bucket.
    #[serde(rename = "mixing_s")]
    pub mixing: Span,
    /// Time to pour it.
    #[serde(rename = "pouring_s")]
    pub pouring: Span,
}

const fn usual_humidity() -> [f64; 2] {
    USUAL_HUMIDITY_PERCENT
}

impl Site {
    /// One pair of hands in steady air of 20 °C.
    #[must_use]
    pub fn plain(hours: ShopHours) -> Self {
        let crew = Crew::default();
        Self {
            hours,
            air: AirSeries::steady(Temperature::from_celsius(20.0), 50.0),
            humidity_percent: usual_humidity(),
            hands: crew.hands,
            mixing: crew.mixing,
            pouring: crew.pouring,
        }
    }

    /// The air that a cast's pours stand in.
    #[must_use]
    pub fn air_of(&self, document: &Document) -> AirSeries {
        let conditions = &document.conditions;
        let air = match conditions.air_from {
            AirFrom::Shop => self.air.warmer(conditions.heated),
            AirFrom::Steady => {
                let humidity = self.air.at(document.pours.not_before).humidity_percent;
                AirSeries::steady(conditions.air, humidity)
            }
        };
        match conditions.dried_to_percent {
            Some(percent) => air.dried_to(percent),
            None => air,
        }
    }

    /// What the air may be for a resin: the resin's own ceiling holds where it is lower.
    #[must_use]
    pub fn air_limits(&self, resin: &Properties) -> AirLimits {
        let (working, [care, stop]) = (&resin.working, self.humidity_percent);
        AirLimits {
            coldest: working.coldest,
            warmest: working.warmest,
            humidity_care_percent: care.min(working.humidity_max_percent),
            humidity_stop_percent: stop,
        }
    }

    /// The document with the mean of its air in the place of the steady one, for
    /// what is worked out in steady air: depth, bucket, bubbles.
    #[must_use]
    pub fn in_mean_air(&self, document: &Document) -> Document {
        let mut document = document.clone();
        if document.conditions.air_from == AirFrom::Shop {
            let from = document.pours.not_before;
            document.conditions.air = self.air_of(&document).mean(from, from + MEAN_OVER);
        }
        document
    }

    /// The site as far as a cast depends on it: for one in steady air, without the shop's, which
    /// becomes another every hour.
    #[must_use]
    pub fn as_seen_by(&self, document: &Document) -> Self {
        match document.conditions.air_from {
            AirFrom::Shop => self.clone(),
            AirFrom::Steady => Self { air: self.air_of(document), ..self.clone() },
        }
    }
}

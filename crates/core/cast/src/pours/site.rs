//! What a shop brings to every cast: its hours, its air, its hands.

use fondant_heat::climate::AirSeries;
use fondant_pours::{Crew, ShopHours};
use fondant_quantities::{Span, Temperature};
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};

use crate::document::{AirFrom, Document};

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
    /// People who mix and pour at the same time.
    pub hands: u32,
    /// Time to measure out and mix one bucket.
    #[serde(rename = "mixing_s")]
    pub mixing: Span,
    /// Time to pour it.
    #[serde(rename = "pouring_s")]
    pub pouring: Span,
}

impl Site {
    /// One pair of hands in steady air of 20 °C.
    #[must_use]
    pub fn plain(hours: ShopHours) -> Self {
        let crew = Crew::default();
        Self {
            hours,
            air: AirSeries::steady(Temperature::from_celsius(20.0), 50.0),
            hands: crew.hands,
            mixing: crew.mixing,
            pouring: crew.pouring,
        }
    }

    /// The air that a cast's pours stand in.
    #[must_use]
    pub fn air_of(&self, document: &Document) -> AirSeries {
        match document.conditions.air_from {
            AirFrom::Shop => self.air.warmer(document.conditions.heated),
            AirFrom::Steady => {
                let humidity = self.air.at(document.pours.not_before).humidity_percent;
                AirSeries::steady(document.conditions.air, humidity)
            }
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

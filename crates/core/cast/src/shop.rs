//! What a workshop says of itself beside its hours: hands, buckets, machines,
//! and its air.

use serde::{Deserialize, Serialize};

use fondant_heat::climate::profile::Profile;
use fondant_pours::Exception;
use fondant_quantities::units::{
    MassUnit, TemperatureDeltaUnit, TemperatureUnit, Unit, UnitSystem,
};
use fondant_quantities::{Mass, Money, Span};

/// The settings of a workshop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct ShopSettings {
    /// Dates with other hours.
    pub exceptions: Vec<Exception>,
    /// People who mix and pour at the same time.
    pub hands: u32,
    /// Buckets that it has, by what is mixed in one.
    #[serde(rename = "buckets_kg")]
    pub buckets: Vec<Mass>,
    /// Time that mixing takes.
    pub mixing: Mixing,
    /// Which part is weighed first.
    pub parts: PartOrder,
    /// To measure out and mix one bucket.
    #[serde(rename = "mixing_s")]
    pub mixing_takes: Span,
    /// Time to pour one bucket.
    #[serde(rename = "pouring_s")]
    pub pouring_takes: Span,
    /// Rated pressure of its pressure pot, bar over the air's; `None` without one.
    pub pot_bar: Option<f64>,
    /// The lowest pressure of its vacuum chamber, mbar absolute; `None` without one.
    pub vacuum_mbar: Option<f64>,
    /// Whether the shop has a fan.
    pub has_fan: bool,
    /// From this humidity on care is taken, percent.
    pub humidity_care_percent: f64,
    /// From this humidity on nothing is poured, percent.
    pub humidity_stop_percent: f64,
    /// Source and profile of the shop's air.
    pub air: Profile,
    /// What work and things cost.
    pub prices: Prices,
}

/// What work and things cost, in whatever the shop pays with; nothing where it is not said.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Prices {
    /// An hour of work.
    pub hour: Money,
    /// A square metre of sheet.
    pub sheet_m2: Money,
    /// What a cast uses up beside resin and sheet.
    pub consumables: Money,
}

/// Method of mixing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Mixing {
    /// Slowly by hand: no air, where nothing will remove bubbles.
    #[default]
    SlowByHand,
    /// Fast, by a paddle in a drill: pressure or a thin, warm resin removes the air.
    Drill,
}

/// Which part is weighed first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum PartOrder {
    /// The hardener: thin, it does not splash.
    #[default]
    HardenerFirst,
    /// The resin: colour goes in before the hardener.
    ResinFirst,
}

/// Humidity from which care is taken, and from which nothing is poured, percent (convention).
pub(crate) const USUAL_HUMIDITY_PERCENT: [f64; 2] = [70.0, 85.0];

impl Default for ShopSettings {
    fn default() -> Self {
        Self {
            exceptions: Vec::new(),
            hands: 1,
            buckets: vec![Mass::from_kg(2.0), Mass::from_kg(5.0), Mass::from_kg(12.0)],
            mixing: Mixing::default(),
            parts: PartOrder::default(),
            mixing_takes: Span::from_s(360.0),
            pouring_takes: Span::from_s(240.0),
            pot_bar: None,
            vacuum_mbar: None,
            has_fan: false,
            humidity_care_percent: USUAL_HUMIDITY_PERCENT[0],
            humidity_stop_percent: USUAL_HUMIDITY_PERCENT[1],
            air: Profile::default(),
            prices: Prices::default(),
        }
    }
}

impl ShopSettings {
    /// What a workshop begins with, round in the units that it thinks in.
    #[must_use]
    pub fn usual(units: UnitSystem) -> Self {
        let mut shop = Self::default();
        if units == UnitSystem::UsCustomary {
            let fahrenheit = TemperatureUnit::Fahrenheit;
            // Buckets that are sold there.
            shop.buckets = [5.0, 10.0, 25.0].map(|lb| MassUnit::Pound.read(lb)).to_vec();
            shop.air.day_night.coldest = fahrenheit.read(60.0);
            shop.air.day_night.warmest = fahrenheit.read(70.0);
            shop.air.indoor.offset = TemperatureDeltaUnit::Fahrenheit.read(7.0);
        }
        shop
    }

    /// Humidity from which care is taken, and from which nothing is poured, percent.
    #[must_use]
    pub const fn humidity_percent(&self) -> [f64; 2] {
        [self.humidity_care_percent, self.humidity_stop_percent]
    }
}

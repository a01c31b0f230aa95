//! What a run is to do, as it was when the run began.

use fondant_cast::{PourId, ShopSettings};
use fondant_heat::cooling::CoolingBy;
use fondant_materials::resin::Calibrated;
use fondant_pours::layers::LayerKind;
use fondant_quantities::{Length, Mass, Span, Temperature, Volume};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::happening::ReadyItem;

/// What a run is to do. It is kept with the run: a plan that is changed later changes nothing that is
/// in hand.
// Many fields: everything that the run follows from, kept so that it needs nothing else.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct RunPlan {
    /// The pour of the taken plan; `None` where the cast is poured at once, without a schedule.
    pub pour: Option<PourId>,
    /// Kind of layer.
    pub layer: LayerKind,
    /// The resin as the model ran on it when the run began.
    pub resin: Calibrated,
    /// What is mixed, losses counted.
    #[serde(rename = "mixed_m3")]
    pub mixed: Volume,
    /// What goes into the form.
    #[serde(rename = "in_form_m3")]
    pub in_form: Volume,
    /// The level that the layer begins at.
    #[serde(rename = "from_m")]
    pub from: Length,
    /// The level that it reaches.
    #[serde(rename = "to_m")]
    pub to: Length,
    /// Mixed mass of each of its batches.
    #[serde(rename = "batch_kg")]
    pub batch: Mass,
    /// Most that a bucket is filled with: two thirds of it.
    #[serde(rename = "bucket_kg")]
    pub bucket: Mass,
    /// Temperature of the resin when it is mixed.
    #[serde(rename = "resin_k")]
    pub resin_at: Temperature,
    /// Air around the bucket.
    #[serde(rename = "air_k")]
    pub air: Temperature,
    /// Least time of mixing.
    #[serde(rename = "mixing_s")]
    pub mixing: Span,
    /// What is to be sure before the bucket is opened, in order.
    pub ready: Vec<ReadyItem>,
    /// The window of the layer below, where there is one that is still sticky then.
    pub window: Option<[Timestamp; 2]>,
    /// It is watched for bubbles until this long after the last bucket.
    #[serde(rename = "watch_s")]
    pub watch: Span,
    /// It is covered this long after the last bucket.
    #[serde(rename = "cover_s")]
    pub cover: Span,
    /// It gels this long after the last bucket.
    #[serde(rename = "gels_s")]
    pub gels: Span,
    /// All of a cast that is poured at once is hard this long after the last bucket.
    #[serde(default, rename = "hard_s", skip_serializing_if = "Option::is_none")]
    pub hard: Option<Span>,
    /// The pot's rated pressure over the air's, bar, where it cures in one.
    pub pot_bar: Option<f64>,
    /// The levels of the rack in that pot, from the bottom.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pot_levels: Vec<PotLevel>,
    /// Moulds that have no place in it, since it is full.
    #[serde(default, skip_serializing_if = "is_none")]
    pub out_of_pot: u32,
    /// Lowest pressure of the shop's vacuum chamber, mbar absolute, where the resin may be put into one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vacuum_mbar: Option<f64>,
    /// How the form is kept cool, and for how long after the first bucket.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub chill: Option<Chill>,
    /// Colours of each batch, or of each cup.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub recipe: Vec<Tinting>,
    /// Cups of several colours, in the order in which they are mixed; none where all is of one colour.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub cups: Vec<Cup>,
    /// The cups are joined when they are this warm; `None` where they are poured as they come.
    #[serde(default, rename = "join_k", skip_serializing_if = "Option::is_none")]
    pub join: Option<Temperature>,
}

/// A level of the rack in a pressure pot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PotLevel {
    /// What the maker calls the moulds on it; may be empty.
    pub name: String,
    /// How many of them.
    pub count: u32,
}

/// Whether there are none: what a run is kept without.
#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks by reference")]
const fn is_none(count: &u32) -> bool {
    *count == 0
}

/// How a form is kept cool while its layer heats itself.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Chill {
    /// Way of cooling.
    pub by: CoolingBy,
    /// How cold it is to be.
    #[serde(rename = "at_k")]
    pub at: Option<Temperature>,
    /// It may end this long after the first bucket: past the peak, and when the plan says; `None`
    /// where it lasts until the form is opened.
    #[serde(rename = "lasts_s")]
    pub lasts: Option<Span>,
}

/// A colour that is weighed into batches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Tinting {
    /// What the shop calls it.
    pub colour: String,
    /// Share of the mixed mass.
    pub share: f64,
    /// Most of it, as a share of the mixed mass, where the shelf knows it.
    pub ceiling: Option<f64>,
    /// The cup that it goes into, by its colour; of no matter where there are no cups.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub cup: String,
}

/// A cup of one colour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Cup {
    /// Its colour, in the maker's words; empty where it is clear.
    pub colour: String,
    /// Mixed mass.
    #[serde(rename = "mass_kg")]
    pub mass: Mass,
}

/// Mixing takes at least this long, s (convention: shorter leaves streaks at the sides).
const LEAST_MIXING_S: f64 = 180.0;

impl RunPlan {
    /// Mass of all that is mixed.
    #[must_use]
    pub fn mass(&self) -> Mass {
        self.mixed * self.resin.density
    }

    /// Least time of mixing in a shop: what it takes itself, three minutes at least.
    #[must_use]
    pub fn mixing_of(shop: &ShopSettings) -> Span {
        // Measuring out is part of a bucket's time; half of it is left for mixing.
        Span::from_s((0.5 * shop.mixing_takes.s()).max(LEAST_MIXING_S))
    }
}

//! What happens during a run: kept as rows that are never changed.

use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Mass, Temperature, Volume};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::swirl::Edges;
use crate::warming::Bath;
use crate::weighing::Part;

/// Something that happened at the bench.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "what")]
pub enum Happening {
    /// Something of the ready list was looked at and is as it should be.
    Ready {
        /// Its name in the list.
        item: ReadyItem,
    },
    /// A batch is to be of another mass than the plan has it.
    Resized {
        /// The batch, from 1.
        batch: u32,
        /// Mixed mass.
        #[serde(rename = "mass_kg")]
        mass: Mass,
    },
    /// A part was taken from the scale: it is in the bucket.
    Weighed {
        /// The batch, from 1.
        batch: u32,
        /// Which part.
        part: Part,
        /// How much of it.
        #[serde(rename = "mass_kg")]
        mass: Mass,
    },
    /// A part that was weighed was topped up, to bring the ratio back.
    Added {
        /// The batch, from 1.
        batch: u32,
        /// Which part.
        part: Part,
        /// How much more.
        #[serde(rename = "mass_kg")]
        mass: Mass,
    },
    /// Colour was added.
    Tinted {
        /// The batch, from 1.
        batch: u32,
        /// What it is called.
        colour: String,
        /// How much of it.
        #[serde(rename = "mass_kg")]
        mass: Mass,
    },
    /// Its colour is as it should be, whatever the recipe says.
    Coloured {
        /// The batch, from 1.
        batch: u32,
    },
    /// A met B: the bucket's clock runs.
    MixBegun {
        /// The batch, from 1.
        batch: u32,
        /// How warm the resin was.
        #[serde(rename = "resin_k")]
        resin_at: Option<Temperature>,
        /// Short name of the lot that it was taken from.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        lot: Option<String>,
    },
    /// It went into a second, clean bucket and was mixed on.
    SecondPot {
        /// The batch, from 1.
        batch: u32,
    },
    /// Mixed through.
    MixEnded {
        /// The batch, from 1.
        batch: u32,
    },
    /// It stands in the closed vacuum chamber; each time but the first is a reading of the gauge.
    Evacuated {
        /// The batch, from 1.
        batch: u32,
        /// Pressure in the chamber, absolute, mbar, where it was read.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        mbar: Option<f64>,
    },
    /// Air was let into the chamber.
    Aired {
        /// The batch, from 1.
        batch: u32,
    },
    /// The bucket's temperature was read.
    Read {
        /// The batch, from 1.
        batch: u32,
        /// Temperature that was read.
        #[serde(rename = "at_k")]
        temperature: Temperature,
    },
    /// The first of it went into the form.
    PourBegun {
        /// The batch, from 1.
        batch: u32,
    },
    /// The bucket is empty, or no more goes in.
    PourEnded {
        /// The batch, from 1.
        batch: u32,
        /// What was left over in the bucket.
        #[serde(rename = "left_kg")]
        left: Mass,
        /// The form is full: what is left over is not missing, and no batch follows.
        #[serde(default)]
        is_full: bool,
    },
    /// The bucket was given up.
    Lost {
        /// The batch, from 1.
        batch: u32,
        /// Reason, in the maker's words.
        reason: String,
    },
    /// More resin is needed than was planned.
    RanShort {
        /// How much is missing in the form.
        #[serde(rename = "volume_m3")]
        volume: Volume,
    },
    /// The form leaks.
    Leaked {
        /// What was done about it.
        note: String,
    },
    /// Somebody looked for bubbles.
    Looked,
    /// The watch is over.
    Watched,
    /// A vented lid went on.
    Covered,
    /// The layer, or its witness cup, was touched.
    Touched {
        /// Result of the touch.
        found: Touch,
        /// What the witness cup holds; `None` where the piece itself was touched.
        #[serde(default, rename = "cup_kg", skip_serializing_if = "Option::is_none")]
        cup: Option<Mass>,
    },
    /// Resin was added where some had soaked in; nothing where the level still stood.
    ToppedUp {
        /// Volume that was added.
        #[serde(rename = "volume_m3")]
        volume: Volume,
    },
    /// The pressure pot was read; the first time is when it was closed.
    Gauge {
        /// Over the air's pressure, bar.
        over_bar: f64,
    },
    /// Bottles were put into warm water.
    Bathed {
        /// The largest bottle and the water.
        #[serde(flatten)]
        bath: Bath,
    },
    /// A bottle in warm water was read.
    BottleRead {
        /// Temperature that was read.
        #[serde(rename = "at_k")]
        temperature: Temperature,
    },
    /// The bath that keeps the form cold was read.
    Chilled {
        /// Temperature of its water.
        #[serde(rename = "water_k")]
        water: Temperature,
        /// Ice that is left in it, where it was looked at.
        #[serde(default, rename = "ice_kg", skip_serializing_if = "Option::is_none")]
        ice: Option<Mass>,
    },
    /// The pot was vented.
    Vented,
    /// How the edges of a swirl came out.
    Rated {
        /// Result, as the maker rates it.
        edges: Edges,
    },
    /// A remark.
    Noted {
        /// Text of the remark.
        note: String,
    },
    /// The run rests.
    Paused,
    /// It goes on.
    Resumed,
    /// It was given up.
    Abandoned {
        /// Reason, in the maker's words.
        reason: String,
    },
    /// All that belongs to this pour is done.
    Finished,
    /// An earlier row was wrong.
    Withdrawn {
        /// Its number in the run.
        row: i64,
        /// Reason, in the maker's words.
        reason: String,
    },
}

/// Something to be sure of before the bucket is opened.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ReadyItem {
    /// What was learnt from casts like it.
    Minded,
    /// The timber's moisture.
    Moisture,
    /// The form stands level.
    Level,
    /// Its joints are sealed, and the sealant has cured.
    Sealed,
    /// Release is on; wax has had its wait.
    Release,
    /// Boards and objects are held down.
    HeldDown,
    /// Tubes are plugged and seated.
    Tubes,
    /// Pieces for moulds are sealed, and their coat is dry.
    Pieces,
    /// The pressure pot is ready and within its rated pressure.
    Pot,
    /// The resin is at its temperature.
    Warm,
    /// The air is within the resin's limits, now and over the next night.
    Air,
    /// The layer below is sticky, or sanded and clean.
    Below,
    /// Gloves, eyes, respirator.
    Gear,
    /// Somebody is there for the watch.
    Watch,
}

/// A happening and its row.
#[derive(Debug, Clone, PartialEq)]
pub struct Row {
    /// Number of the row; rows of a run rise.
    pub number: i64,
    /// When it happened, UTC.
    pub at: Timestamp,
    /// When it was written down, UTC: later than it happened where a device was away.
    pub recorded_at: Timestamp,
    /// The device that told of it, as the maker names it; empty where it has no name.
    pub by: String,
    /// What happened.
    pub what: Happening,
}

impl Happening {
    /// The batch that it happened to.
    #[must_use]
    pub const fn batch(&self) -> Option<u32> {
        match self {
            Self::Resized { batch, .. }
            | Self::Weighed { batch, .. }
            | Self::Added { batch, .. }
            | Self::Tinted { batch, .. }
            | Self::Coloured { batch }
            | Self::Evacuated { batch, .. }
            | Self::Aired { batch }
            | Self::MixBegun { batch, .. }
            | Self::SecondPot { batch }
            | Self::MixEnded { batch }
            | Self::Read { batch, .. }
            | Self::PourBegun { batch }
            | Self::PourEnded { batch, .. }
            | Self::Lost { batch, .. } => Some(*batch),
            _ => None,
        }
    }
}

//! The parts of a plan: what the maker has said, subject by subject.

use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use fondant_heat::cooling::Cooling;
use fondant_materials::sheet::Sheet;
use fondant_quantities::{Density, Length, Mass, Span, Temperature, TemperatureDelta, Volume};
use fondant_shapes::blanks::label::Label;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::cut_list::Stock;
use fondant_shapes::form::seal::Release;
use fondant_shapes::timber::{Board, Station};
use fondant_shapes::volume::methods::Method;

/// What the piece is for.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Brief {
    /// The finish wanted, in the maker's words.
    pub finish: String,
    /// When it must be done.
    pub deadline: Option<Date>,
    /// It stands outdoors.
    pub is_outdoor: bool,
    /// Food will touch it.
    pub touches_food: bool,
    /// Light shines through it.
    pub is_lit: bool,
}

/// How the boards' shapes are known.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Shaping {
    /// By the river's width at stations, between two boards.
    #[default]
    Stations,
    /// By an outline of each board.
    Outlines,
}

/// The boards.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(from = "KeptTimber")]
pub struct Timber {
    /// In the order in which they are listed; by stations the near one, then
    /// the far one.
    pub boards: Vec<Board>,
    /// How their shapes are known.
    pub shaping: Shaping,
    /// How far a point of an outline may be off.
    #[serde(rename = "point_tolerance_m")]
    pub point_tolerance: Length,
}

/// Boards as plans keep them, now and in schema 1.
#[derive(Deserialize)]
struct KeptTimber {
    #[serde(default)]
    boards: Vec<Board>,
    near: Option<Board>,
    far: Option<Board>,
    #[serde(default)]
    shaping: Shaping,
    #[serde(rename = "point_tolerance_m", default = "usual_point_tolerance")]
    point_tolerance: Length,
}

fn usual_point_tolerance() -> Length {
    Length::from_mm(1.0)
}

impl From<KeptTimber> for Timber {
    fn from(kept: KeptTimber) -> Self {
        let mut boards = kept.boards;
        boards.extend(kept.near.into_iter().chain(kept.far));
        Self { boards, shaping: kept.shaping, point_tolerance: kept.point_tolerance }
    }
}

impl Timber {
    /// Boards between stations.
    #[must_use]
    pub fn by_stations(boards: Vec<Board>) -> Self {
        Self { boards, shaping: Shaping::Stations, point_tolerance: usual_point_tolerance() }
    }
}

/// The river by stations.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct RiverWidths {
    /// In order along the form.
    pub stations: Vec<Station>,
    /// How far a reading of the tape may be off.
    #[serde(rename = "tape_tolerance_m")]
    pub tape_tolerance: Length,
}

/// Many equal cavities and what goes into each.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Moulding {
    /// How many.
    pub count: u32,
    /// The inside of one.
    pub hollow: Hollow,
    /// Wall of the mould round a cavity, for the pressure pot.
    #[serde(rename = "wall_m")]
    pub wall: Length,
    /// The tube in each, for tube blanks.
    pub tube: Tube,
    /// Its label.
    pub label: Label,
    /// Timber pressed into each, for small moulds.
    #[serde(rename = "timber_m3")]
    pub timber: Volume,
    /// Density of that timber.
    #[serde(rename = "timber_density_kg_m3")]
    pub timber_density: Density,
    /// The pressure pot, where one is used.
    pub pot: Option<Pot>,
}

impl Default for Moulding {
    fn default() -> Self {
        let mm = Length::from_mm;
        Self {
            count: 6,
            hollow: Hollow::Round { diameter: mm(22.0), depth: mm(75.0) },
            wall: mm(5.0),
            tube: Tube { outside: mm(10.4), length: mm(60.0), plugs: mm(10.0) },
            label: Label {
                tube: mm(10.0),
                tube_length: mm(60.0),
                paper: mm(0.2),
                overlap: mm(2.0),
                trim: mm(1.0),
            },
            timber: Volume::ZERO,
            timber_density: Density::from_kg_m3(650.0),
            pot: None,
        }
    }
}

/// A coat over a face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Coat {
    /// Of each coat.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// How many.
    pub coats: u32,
    /// Runs off, share of the coat, 0…1.
    pub run_off_ratio: f64,
    /// The edges are coated too.
    pub edges: bool,
}

impl Default for Coat {
    fn default() -> Self {
        Self { thickness: Length::from_mm(1.6), coats: 1, run_off_ratio: 0.10, edges: true }
    }
}

/// How the form is filled.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct FormChoices {
    /// Resin under the boards.
    #[serde(rename = "base_gap_m")]
    pub base_gap: Length,
    /// Resin proud of the boards.
    #[serde(rename = "overfill_m")]
    pub overfill: Length,
    /// Share that stays in buckets, 0…1.
    pub bucket_residue_ratio: f64,
    /// Share kept back for a leak, 0…1.
    #[serde(default)]
    pub leak_ratio: f64,
    /// The form's fall, mm per m of its length.
    #[serde(default)]
    pub fall_mm_m: f64,
}

/// What the form is built of.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct FormBuild {
    /// The sheet.
    pub sheet: Sheet,
    /// Its thickness.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// How the piece is meant to come off.
    pub release: Release,
    /// Side of the sealant's fillet.
    #[serde(rename = "sealant_m")]
    pub sealant: Length,
    /// Length of a stock sheet.
    #[serde(rename = "stock_length_m")]
    pub stock_length: Length,
    /// Width of a stock sheet.
    #[serde(rename = "stock_width_m")]
    pub stock_width: Length,
    /// Saw cut.
    #[serde(rename = "kerf_m")]
    pub kerf: Length,
}

impl Default for FormBuild {
    fn default() -> Self {
        let mm = Length::from_mm;
        Self {
            sheet: Sheet::Melamine,
            thickness: Sheet::Melamine.usual_thickness(),
            release: Release::Tape,
            sealant: mm(5.0),
            stock_length: mm(2440.0),
            stock_width: mm(1220.0),
            kerf: mm(3.0),
        }
    }
}

impl FormBuild {
    /// The stock sheet and the saw.
    #[must_use]
    pub fn stock(&self) -> Stock {
        Stock { length: self.stock_length, width: self.stock_width, kerf: self.kerf }
    }
}

/// Other ways of measuring, and which one is believed.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Checks {
    /// Bulk of rice or sand that filled the form to the boards' faces, the
    /// boards lying on its floor.
    #[serde(rename = "dry_fill_m3", default, skip_serializing_if = "Option::is_none")]
    pub dry_fill: Option<Volume>,
    /// The one that is believed; `None` for the one that is drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<Method>,
}

/// Where the air of the pours comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum AirFrom {
    /// Steady, as the plan says.
    #[default]
    Steady,
    /// The shop's, by day and night.
    Shop,
}

/// Air and resin at the pour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Conditions {
    /// The air, steady; where it is the shop's own, its mean over the first days.
    #[serde(rename = "air_k")]
    pub air: Temperature,
    /// Where the air of the pours comes from.
    #[serde(default)]
    pub air_from: AirFrom,
    /// A heater makes the shop's own air warmer by this.
    #[serde(rename = "heated_k", default)]
    pub heated: TemperatureDelta,
    /// Resin when it is mixed.
    #[serde(rename = "resin_k")]
    pub resin: Temperature,
    /// How the pour is kept cool.
    #[serde(default)]
    pub cooling: Cooling,
    /// What is mixed in one bucket.
    #[serde(rename = "bucket_kg", default = "usual_bucket")]
    pub bucket: Mass,
    /// How long it stands there before the pour.
    #[serde(rename = "waits_s", default)]
    pub waits: Span,
}

const fn usual_bucket() -> Mass {
    Mass::from_kg(2.0)
}

impl Conditions {
    /// Steady air, resin just mixed, nothing to keep it cool.
    #[must_use]
    pub fn steady(air: Temperature, resin: Temperature) -> Self {
        Self {
            air,
            air_from: AirFrom::Steady,
            heated: TemperatureDelta::ZERO,
            resin,
            cooling: Cooling::default(),
            bucket: usual_bucket(),
            waits: Span::ZERO,
        }
    }
}

/// The deepest layer that the maker wants to pour. Deeper than datasheet, rule
/// and model allow, it counts only with a reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DepthOverride {
    /// The depth.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Why it may be deeper than they allow; empty where it is not.
    pub reason: String,
}

/// When work can begin, how long it takes, and how the depth is split.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Pours {
    /// No pour before this.
    pub not_before: Timestamp,
    /// To sand, wipe and dry a hard layer before the next.
    #[serde(rename = "sanding_s")]
    pub sanding: Span,
    /// How the depth is split into layers.
    #[serde(default)]
    pub split: Split,
    /// Live edges are sealed with a brushed coat before the first pour.
    #[serde(default)]
    pub seal: bool,
    /// The plan that the maker has taken; empty where none is.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub taken: Vec<TakenPour>,
}

impl Pours {
    /// From a moment on, with an hour for sanding.
    #[must_use]
    pub fn from(not_before: Timestamp) -> Self {
        Self {
            not_before,
            sanding: Span::from_h(1.0),
            split: Split::default(),
            seal: false,
            taken: Vec::new(),
        }
    }
}

/// How the depth is split into main layers.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "by")]
pub enum Split {
    /// As few equal ones as the heat allows.
    #[default]
    Fewest,
    /// So many equal ones.
    Equal {
        /// How many.
        count: u32,
    },
    /// As the search decides, on a grid of depths.
    Search,
    /// By hand: the levels at which they end, but for the top.
    ByHand {
        /// Above the floor of the form, rising.
        #[serde(rename = "levels_m")]
        levels: Vec<Length>,
    },
}

/// One pour of the plan that was taken.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct TakenPour {
    /// When.
    pub at: Timestamp,
    /// The level it reaches; nought for a seal coat.
    #[serde(rename = "to_m")]
    pub to: Length,
}

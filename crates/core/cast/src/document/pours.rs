//! When work can begin, how the depth is split, and the pours that were taken.

use fondant_materials::resin::ResinId;
use fondant_quantities::{Length, Span};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// When work can begin, how long it takes, and how the depth is split.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Pours {
    /// When work on the cast can begin: no pour before this and the work before the first pour.
    pub not_before: Timestamp,
    /// Work and waits before the first pour, day and night; `None` where they are computed. A
    /// document from before they were has none.
    #[serde(rename = "lead_s", default = "prepared")]
    pub lead: Option<Span>,
    /// Why pours may be made outside the limits of the air; empty where they may not.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub outside_air: String,
    /// To sand, wipe and dry a hard layer before the next.
    #[serde(rename = "sanding_s")]
    pub sanding: Span,
    /// How the depth is split into layers.
    #[serde(default)]
    pub split: Split,
    /// The plan that the maker has taken; empty where none is.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub taken: Vec<TakenPour>,
    /// The plan that was given up last: those of its pours that a new plan has too keep their ids.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub given_up: Vec<TakenPour>,
    /// Of which resins pours are that were in when the cast got another one for them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub poured_of: Vec<PouredOf>,
}

#[allow(clippy::unnecessary_wraps, reason = "the default of a field that may be empty")]
const fn prepared() -> Option<Span> {
    Some(Span::ZERO)
}

impl Pours {
    /// From a moment on, with everything prepared, with an hour for sanding.
    #[must_use]
    pub fn from(not_before: Timestamp) -> Self {
        Self {
            not_before,
            lead: prepared(),
            outside_air: String::new(),
            sanding: Span::from_h(1.0),
            split: Split::default(),
            taken: Vec::new(),
            given_up: Vec::new(),
            poured_of: Vec::new(),
        }
    }

    /// Gives the plan up.
    pub fn give_up(&mut self) {
        if !self.taken.is_empty() {
            self.given_up = std::mem::take(&mut self.taken);
        }
    }

    /// Forgets what was taken, as for a cast that nothing has been planned or poured of.
    pub fn forget(&mut self) {
        self.taken.clear();
        self.given_up.clear();
        self.poured_of.clear();
    }
}

/// How the depth is split into main layers.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "by")]
pub enum Split {
    /// As few equal ones as the heat allows.
    #[default]
    Fewest,
    /// A number of equal layers.
    Equal {
        /// Number of layers.
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

/// Identifies a pour within its cast for good: it stays when layers are split again, merged or
/// moved, so that what happened to a pour is never told of another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct PourId(pub i64);

impl PourId {
    /// The id of a pour in documents and rows from before pours had ids, by its place, from 0.
    /// Ids that are allotted begin far above these.
    #[must_use]
    pub const fn of_place(place: usize) -> Self {
        Self(place as i64 + 1)
    }

    /// The id of a pour that is proposed over what is in, by its place: no pour that is taken has it.
    #[must_use]
    pub const fn proposed(place: usize) -> Self {
        Self(-1 - place as i64)
    }

    /// Whether it is of a pour that is proposed over what is in.
    #[must_use]
    pub const fn is_proposed(self) -> bool {
        self.0 < 0
    }
}

/// One pour of the plan that was taken.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct TakenPour {
    /// Id of the pour; it stays the same when layers are split again.
    pub id: PourId,
    /// Start of the pour, UTC.
    pub at: Timestamp,
    /// The level it reaches; 0 for a seal coat.
    #[serde(rename = "to_m")]
    pub to: Length,
}

/// A pour that is in, and the resin that it is of: it stays what it is when the cast gets another one.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct PouredOf {
    /// The pour.
    pub pour: PourId,
    /// Its resin.
    pub resin: ResinId,
}

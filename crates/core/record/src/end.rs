//! How a cast came to its end: what the ledger keeps of it.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::figures::Figures;

/// How a cast came to its end.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// The piece is there.
    Finished,
    /// It was given up.
    GivenUp,
}

/// The record of a cast.
// Many fields: what the ledger sorts and filters by stands by itself.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CastEnd {
    /// When the cast came to its end, UTC.
    pub ended_at: Timestamp,
    /// Outcome of the cast.
    pub outcome: Outcome,
    /// Kind of cast, by its slug.
    pub kind: String,
    /// Name of its resin.
    pub resin: String,
    /// Its timbers, in the maker's words.
    pub timber: String,
    /// Who worked on it.
    pub people: String,
    /// A remark.
    pub note: String,
    /// Mixed volume, m³.
    pub volume_m3: f64,
    /// Working hours at the bench and of finishing, s.
    pub hours_s: f64,
    /// Cost of resin, work, sheet and what it used up, in whatever the shop pays with.
    pub cost: f64,
    /// What was measured.
    pub figures: Figures,
    /// What the maker has said beside, which counts before what was measured.
    pub told: Figures,
}

impl CastEnd {
    /// All figures; what the maker has said stands in the place of what was measured.
    #[must_use]
    pub fn known(&self) -> Figures {
        let mut figures = self.figures.clone();
        figures.overlay(&self.told);
        figures
    }
}

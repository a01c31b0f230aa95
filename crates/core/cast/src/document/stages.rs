//! Pours beside the main fill, each with a purpose and, where it is wanted, a resin of its own.

use fondant_materials::resin::ResinId;
use fondant_pours::layers::Purpose;
use fondant_quantities::{Length, Span};
use serde::{Deserialize, Serialize};

/// Pours beside the main fill, each list from the floor up.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Stages {
    /// Cracks and knots of the boards, filled before anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cracks: Option<CracksFirst>,
    /// Under the main fill.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub below: Vec<Stage>,
    /// Over it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub above: Vec<Stage>,
    /// A coat over the finished face.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flood: Option<Flood>,
}

/// A pour in the form with a purpose of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Stage {
    /// What it is for.
    pub purpose: Purpose,
    /// How deep it is.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Its resin; `None` for the cast's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resin: Option<ResinId>,
    /// What colours it, in the maker's words; empty where it is clear.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub tint: String,
}

/// Cracks and knots of the boards filled on their own, hard and sanded flush before the form is
/// filled.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct CracksFirst {
    /// Its resin; `None` for the cast's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resin: Option<ResinId>,
    /// What colours it, in the maker's words; empty where it is clear.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub tint: String,
}

/// A coat over the finished face, once the piece is out of its form.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Flood {
    /// Thickness that stays.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// Runs off, share of the coat, 0…1.
    pub run_off_ratio: f64,
    /// From the open form to a face that takes the coat: flatten, sand, wipe.
    #[serde(rename = "finishing_s")]
    pub finishing: Span,
    /// Its resin; `None` for the cast's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resin: Option<ResinId>,
    /// What colours it, in the maker's words; empty where it is clear.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub tint: String,
}

impl Stage {
    /// A stage as it begins, in the cast's own resin.
    #[must_use]
    pub fn begin(purpose: Purpose) -> Self {
        let mm = match purpose {
            Purpose::Base | Purpose::Inclusions => 3.0,
            Purpose::Top | Purpose::Flood | Purpose::Cracks => 2.0,
        };
        Self { purpose, depth: Length::from_mm(mm), resin: None, tint: String::new() }
    }
}

impl Flood {
    /// As much as levels itself (convention).
    pub const THICKNESS: Length = Length::from_mm(1.6);
    /// What runs off over the edges, share of the coat (convention).
    pub const RUN_OFF_RATIO: f64 = 0.10;

    /// A coat as it begins, a day's work after the form is opened.
    #[must_use]
    pub fn begin(resin: Option<ResinId>) -> Self {
        Self {
            thickness: Self::THICKNESS,
            run_off_ratio: Self::RUN_OFF_RATIO,
            finishing: Span::from_h(6.0),
            resin,
            tint: String::new(),
        }
    }
}

impl Stages {
    /// Whether there are none: the cast's own resin from floor to top.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    /// All stages in the form, from the floor up.
    pub fn in_form(&self) -> impl Iterator<Item = &Stage> {
        self.below.iter().chain(&self.above)
    }

    /// The resins that they name, in order.
    pub fn named_resins(&self) -> impl Iterator<Item = &ResinId> {
        let flood = self.flood.iter().filter_map(|flood| flood.resin.as_ref());
        let cracks = self.cracks.iter().filter_map(|cracks| cracks.resin.as_ref());
        cracks.chain(self.in_form().filter_map(|stage| stage.resin.as_ref())).chain(flood)
    }
}

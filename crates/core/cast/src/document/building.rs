//! How a form is built and filled.

use fondant_materials::sheet::Sheet;
use fondant_quantities::{Length, Slope};
use fondant_shapes::form::cut_list::Stock;
use fondant_shapes::form::seal::Release;
use serde::{Deserialize, Serialize};

/// How the form is filled.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct FormChoices {
    /// Resin proud of the boards.
    #[serde(rename = "overfill_m")]
    pub overfill: Length,
    /// Share that stays in buckets, 0…1.
    pub bucket_residue_ratio: f64,
    /// Share kept back for a leak, 0…1.
    #[serde(default)]
    pub leak_ratio: f64,
    /// The form's fall along its length; matters where a form is built.
    #[serde(rename = "fall_mm_m", default)]
    pub fall: Slope,
}

/// What the form is built of.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct FormBuild {
    /// The sheet.
    pub sheet: Sheet,
    /// Thickness of the sheet.
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

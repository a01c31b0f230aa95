//! Sheets that forms are made of. Elastic moduli are the lower end of what is
//! usual for the material; the maker of the sheet knows better.

use serde::{Deserialize, Serialize};

use fondant_quantities::Length;

/// What base and walls are made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Sheet {
    /// Chipboard with a melamine face.
    Melamine,
    /// Plywood, its face sealed.
    Plywood,
    /// High-density polyethylene.
    Hdpe,
    /// Polypropylene.
    Polypropylene,
    /// Cast acrylic.
    Acrylic,
}

impl Sheet {
    /// Bending modulus, Pa.
    #[must_use]
    pub const fn modulus_pa(self) -> f64 {
        match self {
            Self::Melamine => 2.4e9,
            Self::Plywood => 6.0e9,
            Self::Hdpe => 0.8e9,
            Self::Polypropylene => 1.3e9,
            Self::Acrylic => 3.0e9,
        }
    }

    /// Poisson's ratio.
    #[must_use]
    pub const fn poisson(self) -> f64 {
        match self {
            Self::Melamine | Self::Plywood => 0.25,
            Self::Hdpe | Self::Polypropylene => 0.42,
            Self::Acrylic => 0.37,
        }
    }

    /// Whether resin lets go of the bare sheet.
    #[must_use]
    pub const fn releases_bare(self) -> bool {
        matches!(self, Self::Hdpe | Self::Polypropylene)
    }

    /// Thicknesses that are commonly sold, thin to thick.
    #[must_use]
    pub fn thicknesses(self) -> Vec<Length> {
        let mm: &[f64] = match self {
            Self::Melamine => &[16.0, 18.0, 25.0],
            Self::Plywood => &[12.0, 15.0, 18.0, 21.0, 25.0],
            Self::Hdpe | Self::Polypropylene => &[10.0, 12.0, 15.0, 20.0, 25.0],
            Self::Acrylic => &[6.0, 8.0, 10.0, 12.0, 15.0],
        };
        mm.iter().map(|t| Length::from_mm(*t)).collect()
    }

    /// The thickness most forms are built of.
    #[must_use]
    pub const fn usual_thickness(self) -> Length {
        Length::from_mm(match self {
            Self::Melamine | Self::Plywood => 18.0,
            Self::Hdpe | Self::Polypropylene => 12.0,
            Self::Acrylic => 8.0,
        })
    }
}

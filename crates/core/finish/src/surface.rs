//! The last surface: polished, a flood coat, or oil; what each takes.

use fondant_cast::document::Flood;
use fondant_quantities::{Area, Span, Volume};
use serde::{Deserialize, Serialize};

use crate::sand::{Grit, grits, sand};

/// A school of finishing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum School {
    /// Sanded fine and polished with compound.
    Polished,
    /// A self-levelling coat over everything.
    FloodCoat,
    /// Sanded, then oil on timber and resin.
    Oiled,
}

impl Surface {
    /// Work of its sanding.
    #[must_use]
    pub fn sanding(&self) -> Span {
        self.sanded.iter().map(|grit| grit.takes).sum()
    }
}

impl School {
    /// All, in the order in which they are shown.
    pub const ALL: [Self; 3] = [Self::Polished, Self::FloodCoat, Self::Oiled];

    /// The grit to which the face is sanded first: polish wants the finest; a coat wants tooth.
    #[must_use]
    pub const fn grit(self) -> u32 {
        match self {
            Self::Polished => 3000,
            Self::FloodCoat => 180,
            Self::Oiled => 400,
        }
    }
}

/// Polishing takes this long, s/m², for each of its steps.
const POLISH_S_M2: f64 = 600.0;
/// Steps of polishing: a cutting and a finishing compound.
const POLISH_STEPS: f64 = 2.0;
/// Mixing, pouring and watching a flood coat.
const COAT_TAKES: Span = Span::from_s(3600.0);
/// Oil goes this far, m²/L.
const OIL_M2_L: f64 = 20.0;
/// Coats of oil.
const OIL_COATS: f64 = 2.0;
/// Rubbing oil in and wiping it off, s/m² a coat.
const OIL_S_M2: f64 = 900.0;

/// What a school comes to on a face.
#[derive(Debug, Clone, PartialEq)]
pub struct Surface {
    /// The school.
    pub school: School,
    /// The grits before it.
    pub sanded: Vec<Grit>,
    /// Work, sanding included; waiting is not work.
    pub takes: Span,
    /// Resin of a flood coat, run-off included.
    pub resin: Volume,
    /// Oil.
    pub oil: Volume,
}

/// What each school comes to on an area that leaves the sled at a grit; `timber` is the part of it that
/// absorbs oil.
#[must_use]
pub fn surface(school: School, area: Area, timber: Area, from: u32) -> Surface {
    let sanded = sand(area, &grits(from, school.grit()));
    let sanding: Span = sanded.iter().map(|grit| grit.takes).sum();
    let (more, resin, oil) = match school {
        School::Polished => {
            let polishing = Span::from_s(POLISH_S_M2 * POLISH_STEPS * area.m2());
            (polishing, Volume::ZERO, Volume::ZERO)
        }
        School::FloodCoat => {
            let volume =
                Volume::from_m3(area.m2() * Flood::THICKNESS.m() * (1.0 + Flood::RUN_OFF_RATIO));
            (COAT_TAKES, volume, Volume::ZERO)
        }
        School::Oiled => {
            let oil = Volume::from_l(timber.m2() * OIL_COATS / OIL_M2_L);
            (Span::from_s(OIL_S_M2 * OIL_COATS * area.m2()), Volume::ZERO, oil)
        }
    };
    Surface { school, sanded, takes: sanding + more, resin, oil }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 0.72 m², 0.5 m² of it timber: 0.72 × 1.6 mm × 1.10 = 1.2672 L; 0.5 × 2 ÷ 20 = 50 mL.
    #[test]
    fn quantities_by_hand() {
        let (area, timber) = (Area::from_m2(0.72), Area::from_m2(0.5));
        let coat = surface(School::FloodCoat, area, timber, 80);
        assert!((coat.resin.m3() * 1e3 - 1.2672).abs() < 1e-9);
        let oil = surface(School::Oiled, area, timber, 80);
        assert!((oil.oil.m3() * 1e6 - 50.0).abs() < 1e-9);
        let polished = surface(School::Polished, area, timber, 80);
        assert!(polished.takes > oil.takes && oil.takes > Span::ZERO);
        assert_eq!(polished.sanded.last().map(|grit| grit.grit), Some(3000));
    }
}

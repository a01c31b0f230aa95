//! What a shop does to keep a pour cool, and what that does to its faces.

use serde::{Deserialize, Serialize};

use crate::air::Air;
use crate::field::{Around, Face};
use crate::surroundings::FORM_BOARD_M;
use crate::surroundings::{STILL_AIR_TOP_W_M2K, Surroundings};
use fondant_quantities::{Span, Temperature};

/// Film of a free top under a fan of 1 to 2 m/s, W/(m²·K). Expect 15–25.
pub const FAN_TOP_W_M2K: f64 = 20.0;
/// Film of a top under a lid or sheet with still air beneath, W/(m²·K).
pub const LID_TOP_W_M2K: f64 = 4.5;
/// Film of still water, W/(m²·K). Expect 200–400.
pub const WATER_W_M2K: f64 = 300.0;
/// Conductivity of a usual form board, W/(m·K).
const BOARD_W_M_K: f64 = 0.13;
/// Thickness and conductivity of the walls of a block's form: acrylic.
const WALL_M: f64 = 0.006;
const WALL_W_M_K: f64 = 0.19;

/// How a pour is kept cool.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Cooling {
    /// Means of cooling.
    #[serde(default)]
    pub by: CoolingBy,
    /// How cold it is: water, or the air in a cooler box.
    #[serde(rename = "at_k", default = "ice_water")]
    pub at: Option<Temperature>,
    /// Duration of the cooling from each pour on; 0 lasts until the form is opened.
    #[serde(rename = "for_s", default)]
    pub lasts: Span,
}

#[allow(clippy::unnecessary_wraps, reason = "the default of a field that may be empty")]
fn ice_water() -> Option<Temperature> {
    Some(Temperature::from_celsius(4.0))
}

/// By what a pour is kept cool.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum CoolingBy {
    /// Nothing: still air.
    #[default]
    Nothing,
    /// A fan over the top.
    Fan,
    /// A lid over the top, which keeps dust off and heat in.
    Lid,
    /// The form stands in cold water up to the level of the resin.
    Bath,
    /// The form stands in a box of cold air.
    CoolerBox,
}

impl Cooling {
    fn cold(&self) -> Temperature {
        self.at.unwrap_or(Temperature::from_celsius(4.0))
    }

    /// The surroundings of a column of resin on a form board.
    #[must_use]
    pub fn surroundings(&self, air: Air) -> Surroundings {
        let still = Surroundings { air, ..Surroundings::still_air(0.0) };
        let cooled = match self.by {
            CoolingBy::Nothing => return still,
            CoolingBy::Fan => Surroundings { top_film_w_m2k: FAN_TOP_W_M2K, ..still.clone() },
            CoolingBy::Lid => Surroundings { top_film_w_m2k: LID_TOP_W_M2K, ..still.clone() },
            CoolingBy::Bath => Surroundings {
                base_resistance_m2k_w: FORM_BOARD_M / BOARD_W_M_K + 1.0 / WATER_W_M2K,
                under_k: Some(self.cold().k()),
                ..still.clone()
            },
            CoolingBy::CoolerBox => {
                Surroundings { air: Air::Steady(self.cold().k()), ..still.clone() }
            }
        };
        if self.lasts <= Span::ZERO {
            return cooled;
        }
        Surroundings { then: Some(Box::new((self.lasts.s(), still))), ..cooled }
    }

    /// What is around a section, whose ends across are walls of form board, or
    /// around a quarter of a block, whose outer ends are walls of acrylic.
    #[must_use]
    pub fn around(&self, air: Air, is_block: bool) -> Around {
        let column = self.surroundings(air);
        let of = |s: &Surroundings, is_cold: bool| {
            let bath = is_cold && self.by == CoolingBy::Bath;
            let film = if bath { WATER_W_M2K } else { STILL_AIR_TOP_W_M2K };
            let (thickness, k) =
                if is_block { (WALL_M, WALL_W_M_K) } else { (FORM_BOARD_M, BOARD_W_M_K) };
            let wall =
                Face { beyond_k: bath.then(|| self.cold().k()), ..Face::wall(thickness, k, film) };
            Around {
                air: s.air.clone(),
                x: if is_block { [Face::CLOSED, wall] } else { [wall; 2] },
                y: if is_block { [Face::CLOSED, wall] } else { [Face::CLOSED; 2] },
                base: Face { resistance_m2k_w: s.base_resistance_m2k_w, beyond_k: s.under_k },
                top_film_w_m2k: s.top_film_w_m2k,
                bare_film_w_m2k: 0.0,
                then: None,
            }
        };
        let mut around = of(&column, true);
        if let Some(then) = &column.then {
            around.then = Some(Box::new((then.0, of(&then.1, false))));
        }
        around
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::column::{Accuracy, Deepest, deepest_layer};
    use fondant_materials::resin::{ResinClass, shipped};

    fn deepest(by: CoolingBy, hours: f64) -> f64 {
        let resin = shipped::model(ResinClass::SlowCasting);
        let cooling = Cooling {
            by,
            at: Some(Temperature::from_celsius(if by == CoolingBy::CoolerBox {
                12.0
            } else {
                4.0
            })),
            lasts: Span::from_h(hours),
        };
        let around = cooling.surroundings(Air::Steady(293.15));
        let found =
            deepest_layer(&resin, &around, Poured::fresh(293.15), 338.15, &Accuracy::default());
        match found.unwrap() {
            Deepest::Limited { depth_m } => depth_m,
            other => panic!("{other:?}"),
        }
    }
    use crate::poured::Poured;

    #[test]
    fn what_cools_makes_room_for_depth_and_a_lid_takes_it() {
        let still = deepest(CoolingBy::Nothing, 0.0);
        assert!(deepest(CoolingBy::Lid, 0.0) < still);
        for by in [CoolingBy::Fan, CoolingBy::Bath, CoolingBy::CoolerBox] {
            assert!(deepest(by, 0.0) > still * 1.05, "{by:?}");
        }
    }

    #[test]
    fn a_bath_taken_away_before_the_peak_buys_little() {
        let (short, long) = (deepest(CoolingBy::Bath, 1.0), deepest(CoolingBy::Bath, 48.0));
        assert!(short < long && short >= deepest(CoolingBy::Nothing, 0.0) * 0.99, "{short} {long}");
    }
}

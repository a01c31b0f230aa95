//! Surroundings of a column of resin: air above, board or water below, timber beside.

use crate::air::Air;

/// Film coefficient of a free top in still air, half of it radiation, W/(m²·K).
/// Expect 8–12 in a workshop.
pub const STILL_AIR_TOP_W_M2K: f64 = 10.0;
/// Thermal resistance under the resin: an 18 mm board of 0.13 W/(m·K) with
/// still air under it (6 W/(m²·K)), m²·K/W.
pub const FORM_BOARD_M2K_W: f64 = FORM_BOARD_M / 0.13 + 1.0 / 6.0;
/// Thickness of that board, m: the usual sheet.
pub const FORM_BOARD_M: f64 = 0.018;
/// What surrounds a column of resin.
#[derive(Debug, Clone, PartialEq)]
pub struct Surroundings {
    /// The air above, and below where nothing else is said.
    pub air: Air,
    /// Film coefficient of the top, W/(m²·K); 0 is a perfect insulator.
    pub top_film_w_m2k: f64,
    /// Thermal resistance from the resin's underside to the air, m²·K/W.
    pub base_resistance_m2k_w: f64,
    /// Temperature under the form board where it is not the air's, K: water.
    pub under_k: Option<f64>,
    /// Heat lost sideways through timber or walls to what is under the form,
    /// W/(m³·K); 0 where the resin is wide. See [`sides`](crate::sides).
    pub side_loss_w_m3k: f64,
    /// From this time after a pour, s, it stands in others: as it was before, where ice or a fan is
    /// taken away. What is poured later begins with these again.
    pub then: Option<Box<(f64, Surroundings)>>,
}

impl Surroundings {
    /// A form board in still air.
    #[must_use]
    pub const fn still_air(air_k: f64) -> Self {
        Self {
            air: Air::Steady(air_k),
            top_film_w_m2k: STILL_AIR_TOP_W_M2K,
            base_resistance_m2k_w: FORM_BOARD_M2K_W,
            under_k: None,
            side_loss_w_m3k: 0.0,
            then: None,
        }
    }

    /// The same with heat lost sideways, now and later, W/(m³·K).
    #[must_use]
    pub fn with_sides(mut self, loss_w_m3k: f64) -> Self {
        self.side_loss_w_m3k = loss_w_m3k;
        self.then = self.then.map(|then| Box::new((then.0, then.1.with_sides(loss_w_m3k))));
        self
    }

    /// The same with its change delayed, s.
    pub(crate) fn delayed(mut self, by_s: f64) -> Self {
        self.then = self.then.map(|then| Box::new((then.0 + by_s, then.1)));
        self
    }
}

//! Bottles in warm water: how long until the resin is as warm as it should be.
//!
//! Bottle and tub are two lumps, `m_r c_r dT_r/dt = UA (T_w − T_r)` and
//! `m_w c_w dT_w/dt = −UA (T_w − T_r) − G (T_w − T_air)`, which has a closed form.

use fondant_numerics::roots::first_true;
use fondant_quantities::{Mass, Span, Temperature};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Heat capacity of a liquid resin, J/(kg·K) (convention).
const RESIN_J_KG_K: f64 = 2000.0;
/// Heat capacity of water, J/(kg·K).
const WATER_J_KG_K: f64 = 4186.0;
/// Density of a part in its bottle, kg/m³, for the size of the bottle alone.
const BOTTLE_KG_M3: f64 = 1100.0;
/// From the water to the resin, W/(m²·K): water outside, 2 mm of plastic, and natural convection
/// inside; 20 to 50 (derived from the usual correlation for a wall at 0.5 Pa·s).
pub const BOTTLE_W_M2K: f64 = 30.0;
/// From a tub's water to the air: an open bucket of water of this mass loses about
/// `12 W/(m²·K)` over the area of a cube of its volume (convention).
const TUB_W_M2K: f64 = 12.0;
/// Longest time that bottles stand in warm water, s (convention).
const LONGEST_S: f64 = 4.0 * 3600.0;

/// A bottle in a tub of warm water.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WarmBath {
    /// Resin in the bottle.
    pub resin: Mass,
    /// Its temperature at the beginning.
    pub resin_at: Temperature,
    /// Water in the tub.
    pub water: Mass,
    /// Its temperature at the beginning; 35 to 45 °C is usual.
    pub water_at: Temperature,
    /// Air of the shop.
    pub air: Temperature,
    /// From the water to the resin, W/(m²·K).
    pub film_w_m2k: f64,
}

/// A bottle as it was put into warm water.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Bath {
    /// Resin in the largest bottle.
    #[serde(rename = "bottle_kg")]
    pub bottle: Mass,
    /// Temperature of the resin in it at the beginning.
    #[serde(rename = "bottle_k")]
    pub bottle_at: Temperature,
    /// Water in the tub.
    #[serde(rename = "water_kg")]
    pub water: Mass,
    /// Temperature of the water at the beginning.
    #[serde(rename = "water_k")]
    pub water_at: Temperature,
}

/// Bottles that stand in warm water.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Warming {
    /// Time at which they were put in, UTC.
    pub begun: Timestamp,
    /// How they began.
    pub bath: Bath,
    /// What was read of a bottle last, and when.
    pub read: Option<(Timestamp, Temperature)>,
}

impl Warming {
    pub(crate) const fn begun(begun: Timestamp, bath: Bath) -> Self {
        Self { begun, bath, read: None }
    }

    /// The bath as a reading has it, in a shop of this air.
    #[must_use]
    pub fn bath(&self, air: Temperature) -> WarmBath {
        let Bath { bottle, bottle_at, water, water_at } = self.bath;
        let usual = WarmBath {
            resin: bottle,
            resin_at: bottle_at,
            water,
            water_at,
            air,
            film_w_m2k: BOTTLE_W_M2K,
        };
        match self.read {
            Some((at, read)) if at > self.begun => {
                usual.fitted(Span::between(self.begun, at), read)
            }
            _ => usual,
        }
    }

    /// When the resin is this warm; `None` where it never is.
    #[must_use]
    pub fn until(&self, target: Temperature, air: Temperature) -> Option<Timestamp> {
        Some(self.begun + self.bath(air).takes(target)?.signed())
    }
}

/// Films between which a reading may move the prediction, W/(m²·K): from resin too thick to move to a
/// bottle that is shaken.
const FILMS_W_M2K: [f64; 2] = [5.0, 120.0];

/// A bottle's surface as that of a cylinder twice as high as wide: `A = 2.5 π D²`.
fn bottle_m2(resin: Mass) -> f64 {
    let diameter_m = (2.0 * resin.kg() / BOTTLE_KG_M3 / std::f64::consts::PI).cbrt();
    2.5 * std::f64::consts::PI * diameter_m * diameter_m
}

impl WarmBath {
    /// The resin's temperature some time after the beginning.
    #[must_use]
    pub fn resin_after(&self, after: Span) -> Temperature {
        // Of x = (T_r − T_air, T_w − T_air): x' = M x, by the two eigenvalues of M.
        let coupling = self.film_w_m2k * bottle_m2(self.resin);
        let to_air = TUB_W_M2K * 6.0 * (self.water.kg() / 1000.0).cbrt().powi(2);
        let (c_r, c_w) = (self.resin.kg() * RESIN_J_KG_K, self.water.kg() * WATER_J_KG_K);
        let (r, w, g) = (coupling / c_r, coupling / c_w, to_air / c_w);
        let (trace, determinant) = (-(r + w + g), r * g);
        let root = (0.25 * trace * trace - determinant).max(0.0).sqrt();
        let (fast, slow) = (0.5 * trace - root, 0.5 * trace + root);
        let (x_r, x_w) = ((self.resin_at - self.air).k(), (self.water_at - self.air).k());
        // T_r' at 0 settles the second constant.
        let rate = r * (x_w - x_r);
        let of_slow = (rate - fast * x_r) / (slow - fast).max(1e-12);
        let of_fast = x_r - of_slow;
        let t = after.s();
        let above_air = of_slow * (slow * t).exp() + of_fast * (fast * t).exp();
        Temperature::from_k(self.air.k() + above_air)
    }

    /// The same bath with the film that a reading asks for, within what films are.
    #[must_use]
    pub fn fitted(self, after: Span, read: Temperature) -> Self {
        let [least, most] = FILMS_W_M2K.map(f64::ln);
        let with = |share: f64| Self { film_w_m2k: (least + share * (most - least)).exp(), ..self };
        let share = match (with(0.0).resin_after(after), with(1.0).resin_after(after)) {
            (coldest, _) if coldest >= read => 0.0,
            (_, warmest) if warmest <= read => 1.0,
            _ => first_true(|share| with(share).resin_after(after) >= read),
        };
        with(share)
    }

    /// How long until the resin is this warm; `None` where it never is, or not within four hours.
    #[must_use]
    pub fn takes(&self, target: Temperature) -> Option<Span> {
        const LOOKS: u32 = 480;
        let warm = |s: f64| self.resin_after(Span::from_s(s)) >= target;
        let step = LONGEST_S / f64::from(LOOKS);
        let reached = (0..=LOOKS).map(|look| f64::from(look) * step).find(|s| warm(*s))?;
        if reached <= 0.0 {
            return Some(Span::ZERO);
        }
        let within = first_true(|share| warm(reached - step + share * step));
        Some(Span::from_s(reached - step + within * step))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn bath(resin_kg: f64, water_kg: f64) -> WarmBath {
        let c = Temperature::from_celsius;
        WarmBath {
            resin: Mass::from_kg(resin_kg),
            resin_at: c(18.0),
            water: Mass::from_kg(water_kg),
            water_at: c(38.0),
            air: c(20.0),
            film_w_m2k: BOTTLE_W_M2K,
        }
    }

    /// In water without end, τ = m c / UA: D = (2 · 1/1100 / π)^⅓ = 83.3 mm, A = 0.0545 m²,
    /// τ = 2000 / 1.636 = 1222 s, and ln(20/11) of it is 731 s. Four kilograms: 4^⅓ as long.
    #[test]
    fn a_kilogram_takes_twelve_minutes_and_four_take_nineteen() {
        let takes = |kg| bath(kg, 1e5).takes(Temperature::from_celsius(27.0)).unwrap().s() / 60.0;
        assert!((takes(1.0) - 12.2).abs() < 0.2, "{}", takes(1.0));
        assert!((takes(4.0) - 19.3).abs() < 0.3, "{}", takes(4.0));
    }

    /// Against small steps of the two equations.
    #[test]
    fn the_closed_form_is_that_of_the_two_lumps() {
        let bath = bath(2.0, 6.0);
        let coupling = bath.film_w_m2k * bottle_m2(bath.resin);
        let to_air = TUB_W_M2K * 6.0 * 0.006f64.cbrt().powi(2);
        let (mut t_r, mut t_w, dt) = (18.0, 38.0, 0.05);
        for _ in 0..(3600.0 / dt) as usize {
            let flow = coupling * (t_w - t_r);
            t_r += dt * flow / (2.0 * RESIN_J_KG_K);
            t_w -= dt * (flow + to_air * (t_w - 20.0)) / (6.0 * WATER_J_KG_K);
        }
        let found = bath.resin_after(Span::from_h(1.0)).celsius();
        assert!((found - t_r).abs() < 0.01, "{found} {t_r}");
    }

    /// A bottle that is shaken takes half as long: what is read of it says so.
    #[test]
    fn a_reading_moves_the_prediction() {
        let (usual, shaken) = (bath(1.0, 10.0), WarmBath { film_w_m2k: 60.0, ..bath(1.0, 10.0) });
        let after = Span::from_s(240.0);
        let fitted = usual.fitted(after, shaken.resin_after(after));
        assert!((fitted.film_w_m2k / 60.0 - 1.0).abs() < 1e-3, "{}", fitted.film_w_m2k);
        let cold = usual.fitted(after, Temperature::from_celsius(10.0));
        let hot = usual.fitted(after, Temperature::from_celsius(37.9));
        assert!((cold.film_w_m2k - 5.0).abs() < 1e-9 && (hot.film_w_m2k - 120.0).abs() < 1e-6);
    }

    #[test]
    fn little_water_never_gets_there_and_says_so() {
        assert_eq!(bath(4.0, 1.0).takes(Temperature::from_celsius(27.0)), None);
        assert_eq!(bath(1.0, 5.0).takes(Temperature::from_celsius(18.0)), Some(Span::ZERO));
    }
}

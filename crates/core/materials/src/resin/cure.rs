//! Parameters of the models of cure and viscosity.

use serde::{Deserialize, Serialize};

/// Parameters of the autocatalytic cure model with a glass effect.
///
/// Rate: `(k1 + k2 α^m)(1 − α)^n / (1 + exp((Tg(α) − T − shift) / width))` with
/// `k = A exp(−E / RT)`; form of M. R. Kamal and S. Sourour, *Polymer
/// Engineering and Science* 13 (1973) 59–64. Glass temperature:
/// `Tg(α) = Tg0 + (Tg∞ − Tg0) λα / (1 − (1 − λ)α)`, J. P. Pascault and
/// R. J. J. Williams, *J. Polymer Science B* 28 (1990) 85–95.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct CureParameters {
    /// Frequency factor of the uncatalysed reaction, 1/s.
    pub a1_per_s: f64,
    /// Its activation energy, J/mol.
    pub e1_j_mol: f64,
    /// Frequency factor of the autocatalytic reaction, 1/s.
    pub a2_per_s: f64,
    /// Its activation energy, J/mol.
    pub e2_j_mol: f64,
    /// Order of autocatalysis, m.
    pub order_m: f64,
    /// Order of reaction, n.
    pub order_n: f64,
    /// Heat of complete cure, J per kg of mixed resin.
    pub heat_j_kg: f64,
    /// Glass temperature of the uncured mix, K.
    pub tg_uncured_k: f64,
    /// Glass temperature at complete cure, K.
    pub tg_cured_k: f64,
    /// Shape λ of the rise of the glass temperature.
    pub tg_lambda: f64,
    /// Width of the slow-down near the glass, K.
    pub glass_width_k: f64,
    /// Shift of the slow-down, K: the rate halves at Tg = T + shift.
    pub glass_shift_k: f64,
    /// Conversion at which it gels, 0…1.
    pub gel_conversion: f64,
}

/// Viscosity as it cures: `η0 exp(E/R (1/T − 1/T0)) (αg / (αg − α))^(a + bα)`,
/// J. M. Castro and C. W. Macosko, *AIChE Journal* 28 (1982) 250–260.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Viscosity {
    /// Fresh mix at the reference temperature, Pa·s.
    pub fresh_pa_s: f64,
    /// Activation energy of flow, J/mol.
    pub activation_j_mol: f64,
    /// Reference temperature, K.
    pub reference_k: f64,
    /// Exponent a.
    pub exponent_a: f64,
    /// Exponent b.
    pub exponent_b: f64,
    /// Above this it can no longer be poured well, Pa·s.
    pub pot_limit_pa_s: f64,
}

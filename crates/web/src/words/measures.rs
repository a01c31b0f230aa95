//! Figures that few pages show, in the shop's units.

use fondant_quantities::units::{UnitSystem, trimmed};

use crate::ui::units::{Shown, with_unit};

/// What a square metre of timber drinks, mL/m²: "95 mL/m²", "0.30 fl oz/ft²".
pub(crate) fn absorption(ml_m2: f64, shown: Shown) -> String {
    // US fluid ounces and square feet (NIST SP 811, 2008 edition, appendix B.8).
    const ML_FL_OZ: f64 = 29.573_529_562_5;
    const M2_FT2: f64 = 0.092_903_04;
    match shown.system {
        UnitSystem::Metric => with_unit(&trimmed(ml_m2, 0), "mL/m²"),
        UnitSystem::UsCustomary => {
            with_unit(&format!("{:.2}", ml_m2 * M2_FT2 / ML_FL_OZ), "fl oz/ft²")
        }
    }
}

/// How thick resin is: "4.2 Pa·s".
pub(crate) fn thickness(pa_s: f64) -> String {
    with_unit(&trimmed(pa_s, if pa_s < 10.0 { 1 } else { 0 }), "Pa·s")
}

//! Figures that few pages show, in the shop's units.

use fondant_quantities::bounds::FL_OZ_FT2_IN_ML_M2;
use fondant_quantities::units::{UnitSystem, trimmed};

use crate::ui::numbers::with_unit;
use crate::ui::units::Shown;

/// What a square metre of timber absorbs, mL/m²: "95 mL/m²", "0.30 fl oz/ft²".
pub(crate) fn absorption(ml_m2: f64, shown: Shown) -> String {
    match shown.system {
        UnitSystem::Metric => with_unit(&trimmed(ml_m2, 0), "mL/m²"),
        UnitSystem::UsCustomary => {
            with_unit(&format!("{:.2}", ml_m2 * FL_OZ_FT2_IN_ML_M2), "fl oz/ft²")
        }
    }
}

/// How thick resin is: "4.2 Pa·s".
pub(crate) fn thickness(pa_s: f64) -> String {
    with_unit(&trimmed(pa_s, if pa_s < 10.0 { 1 } else { 0 }), "Pa·s")
}

//! Figures that few pages show, in the shop's units.

use fondant_heat::FORM_BOARD_M;
use fondant_quantities::units::{Unit, UnitSystem, trimmed};
use fondant_quantities::{Absorption, Length};

use crate::ui::numbers::with_unit;
use crate::ui::units::Shown;

/// What timber absorbs: "95 mL/m²", "0.30 fl oz/ft²".
pub(crate) fn absorption(q: Absorption, shown: Shown) -> String {
    let unit = shown.system.absorption();
    let figure = match shown.system {
        UnitSystem::Metric => trimmed(unit.write(q), 0),
        UnitSystem::UsCustomary => format!("{:.2}", unit.write(q)),
    };
    with_unit(&figure, unit.symbol())
}

/// The board under a form, as the heat model has it.
pub(crate) fn form_board(shown: Shown) -> String {
    shown.length(Length::from_m(FORM_BOARD_M))
}

/// A sanding disc as it is sold.
pub(crate) const fn disc(shown: Shown) -> &'static str {
    match shown.system {
        UnitSystem::Metric => "150\u{202f}mm",
        UnitSystem::UsCustomary => "6\u{202f}in",
    }
}

/// The mass by which colours are priced, and how many of it a kilogram is.
pub(crate) const fn priced_mass(system: UnitSystem) -> (&'static str, f64) {
    match system {
        UnitSystem::Metric => ("kilogram", 1.0),
        UnitSystem::UsCustomary => ("pound", 1.0 / 0.453_592_37),
    }
}

/// The area by which sheet is priced, and how many of it a square metre is.
pub(crate) const fn priced_area(system: UnitSystem) -> (&'static str, f64) {
    match system {
        UnitSystem::Metric => ("square metre", 1.0),
        UnitSystem::UsCustomary => ("square foot", 1.0 / 0.092_903_04),
    }
}

/// The paces that finishing is planned with before a shop has timed its own (conventions of the core).
pub(crate) const fn paces(system: UnitSystem) -> &'static str {
    match system {
        UnitSystem::Metric => {
            "15 min a square metre at P80 falling to 6 at P400, 10 min a step of polish, a sled at \
             2\u{202f}m a minute, 1\u{202f}mm a pass, a saw at 1.5\u{202f}m a minute"
        }
        UnitSystem::UsCustomary => {
            "14 min for ten square feet at P80 falling to 5 1/2 at P400, 10 min a step of polish, a \
             sled at 6 1/2\u{202f}ft a minute, 1/32\u{202f}in a pass, a saw at 5\u{202f}ft a minute"
        }
    }
}

/// How thick resin is: "4.2 Pa·s".
pub(crate) fn thickness(pa_s: f64) -> String {
    with_unit(&trimmed(pa_s, if pa_s < 10.0 { 1 } else { 0 }), "Pa·s")
}

//! Figures that few pages show, in the shop's units.

use fondant_heat::FORM_BOARD_M;
use fondant_quantities::bounds::VACUUM_MBAR;
use fondant_quantities::units::{Unit, UnitSystem, VolumeUnit, trimmed};
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

/// How a little resin is typed.
pub(crate) struct LittleResin {
    /// The unit of a bare number.
    pub(crate) unit: VolumeUnit,
    /// What is asked for, and what where there may be none.
    pub(crate) asked: &'static str,
    pub(crate) asked_if_any: &'static str,
}

/// How a little resin is typed in a shop: what is asked for is what a bare number is read as.
pub(crate) const fn little_resin(system: UnitSystem) -> LittleResin {
    match system {
        UnitSystem::Metric => LittleResin {
            unit: VolumeUnit::Millilitre,
            asked: "millilitres, or with a unit",
            asked_if_any: "millilitres; leave empty for nothing",
        },
        UnitSystem::UsCustomary => LittleResin {
            unit: VolumeUnit::FluidOunce,
            asked: "fluid ounces, or with a unit",
            asked_if_any: "fluid ounces; leave empty for nothing",
        },
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

/// The air's pressure at sea level, mbar, and an inch of mercury in it (NIST SP 811, 2008 edition).
const AIR_MBAR: f64 = 1013.25;
const INHG_MBAR: f64 = 33.863_89;

/// A vacuum as its gauge shows it: "80 mbar" absolute, or "27.6 inHg" below the air.
pub(crate) fn vacuum(mbar: f64, shown: Shown) -> String {
    match shown.system {
        UnitSystem::Metric => with_unit(&trimmed(mbar, 0), "mbar"),
        UnitSystem::UsCustomary => with_unit(&trimmed((AIR_MBAR - mbar) / INHG_MBAR, 1), "inHg"),
    }
}

/// What a gauge of a vacuum can show, [`VACUUM_MBAR`] rounded inwards.
pub(crate) const fn vacuum_range(system: UnitSystem) -> &'static str {
    match system {
        UnitSystem::Metric => "between 1 and 900\u{202f}mbar, absolute: the open air has 1013",
        UnitSystem::UsCustomary => "between 3.4 and 29.8\u{202f}inHg below the open air",
    }
}

/// What a gauge shows, as mbar absolute: in the shop's unit, or in either with its own.
pub(crate) fn read_vacuum(text: &str, system: UnitSystem) -> Option<f64> {
    let text = text.trim().replace(',', ".");
    let (figure, is_mercury) = match (text.strip_suffix("mbar"), text.strip_suffix("inHg")) {
        (Some(figure), _) => (figure, false),
        (_, Some(figure)) => (figure, true),
        _ => (text.as_str(), system == UnitSystem::UsCustomary),
    };
    let figure: f64 = figure.trim().parse().ok()?;
    let mbar = if is_mercury { AIR_MBAR - figure * INHG_MBAR } else { figure };
    VACUUM_MBAR.check(mbar).ok()
}

/// How thick resin is: "4.2 Pa·s".
pub(crate) fn thickness(pa_s: f64) -> String {
    with_unit(&trimmed(pa_s, if pa_s < 10.0 { 1 } else { 0 }), "Pa·s")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;

    #[test]
    fn a_gauge_shows_millibars_or_inches_of_mercury() {
        let us = METRIC.other();
        assert_eq!(vacuum(80.0, METRIC), "80\u{202f}mbar");
        assert_eq!(vacuum(80.0, us), "27.6\u{202f}inHg");
        let read = |text, shown: Shown| read_vacuum(text, shown.system);
        assert_eq!(read("80", METRIC), Some(80.0));
        assert_eq!(read("80 mbar", us), Some(80.0));
        for shown in [METRIC, us] {
            assert!((read("27.6 inHg", shown).unwrap() - 78.61).abs() < 0.01);
        }
        assert_eq!(read("27.6", us), read("27.6 inHg", METRIC));
        for nothing in ["", "deep", "31", "1 inHg"] {
            assert_eq!(read(nothing, us), None, "{nothing}");
        }
        // What is said to be in the range is.
        assert!(["3.4", "29.8"].iter().all(|end| vacuum_range(us.system).contains(end)));
        assert!(read("3.4", us).is_some() && read("29.8", us).is_some());
    }
}

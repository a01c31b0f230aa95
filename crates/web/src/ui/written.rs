//! Quantities as fields write them: in the shop's units, and as they were typed.

use fondant_quantities::bounds::ShopMeasured;
use fondant_quantities::units::{
    LengthUnit, MassUnit, Unit, UnitSystem, VolumeUnit, fraction_of_inch, parse, trimmed,
};
use fondant_quantities::{
    Absorption, Density, Length, Mass, Slope, Temperature, TemperatureDelta, Volume,
};

use super::units::Shown;

/// A quantity that a field can hold.
pub(crate) trait Written: ShopMeasured {
    /// In the units of a system, exact enough that saving it again changes nothing that a tape, a jug
    /// or a scale can tell.
    fn entry_in(self, system: UnitSystem) -> String;
    /// For the figure beside it; empty where none stands there.
    fn beside(self, shown: Shown) -> String;

    /// The units in which a field writes it: the shop's, unless it is exact in the others alone. Then it
    /// was measured in those, and "1200 mm" stands there rather than 47.244 in.
    fn written_in(self, shown: Shown) -> Shown {
        let is_exact = |by: Shown| reads_as(&self.entry_in(by.system), self, by.system);
        if !is_exact(shown) && is_exact(shown.other()) { shown.other() } else { shown }
    }

    /// For a field.
    fn entry(self, shown: Shown) -> String {
        self.entry_in(self.written_in(shown).system)
    }
}

/// A number of a unit for a field.
fn plain<Q: ShopMeasured>(q: Q, unit: Q::Unit, decimals: usize) -> String {
    format!("{} {}", trimmed(unit.write(q), decimals), unit.symbol())
}

/// As many decimals as fields write of the unit of a system.
const fn decimals(system: UnitSystem, metric: usize, us_customary: usize) -> usize {
    match system {
        UnitSystem::Metric => metric,
        UnitSystem::UsCustomary => us_customary,
    }
}

impl Written for Length {
    fn entry_in(self, system: UnitSystem) -> String {
        // A fraction where the figure is one, decimals where it is not.
        let thirty_seconds = LengthUnit::Inch.write(self) * 32.0;
        match system {
            UnitSystem::UsCustomary if (thirty_seconds - thirty_seconds.round()).abs() < 1e-6 => {
                fraction_of_inch(self)
            }
            _ => plain(self, system.length(), decimals(system, 2, 3)),
        }
    }
    fn beside(self, shown: Shown) -> String {
        shown.length(self)
    }
}

impl Written for Volume {
    fn entry_in(self, system: UnitSystem) -> String {
        match system {
            UnitSystem::Metric if self.l().abs() < 1.0 => plain(self, VolumeUnit::Millilitre, 2),
            UnitSystem::UsCustomary if VolumeUnit::Gallon.write(self).abs() < 1.0 => {
                plain(self, VolumeUnit::FluidOunce, 3)
            }
            _ => plain(self, system.volume(), decimals(system, 4, 5)),
        }
    }
    fn beside(self, shown: Shown) -> String {
        shown.volume(self)
    }
}

impl Written for Mass {
    fn entry_in(self, system: UnitSystem) -> String {
        match system {
            UnitSystem::Metric if self.kg().abs() < 1.0 => plain(self, MassUnit::Gram, 2),
            UnitSystem::UsCustomary if MassUnit::Pound.write(self).abs() < 1.0 => {
                plain(self, MassUnit::Ounce, 3)
            }
            _ => plain(self, system.mass(), 4),
        }
    }
    fn beside(self, shown: Shown) -> String {
        shown.mass(self)
    }
}

impl Written for Temperature {
    fn entry_in(self, system: UnitSystem) -> String {
        plain(self, system.temperature(), 1)
    }
    fn beside(self, shown: Shown) -> String {
        shown.temperature(self)
    }
}

impl Written for Density {
    fn entry_in(self, system: UnitSystem) -> String {
        plain(self, system.density(), decimals(system, 2, 1))
    }
    fn beside(self, shown: Shown) -> String {
        shown.density(self)
    }
}

impl Written for TemperatureDelta {
    fn entry_in(self, system: UnitSystem) -> String {
        plain(self, system.temperature_delta(), 2)
    }
    fn beside(self, shown: Shown) -> String {
        if self == Self::ZERO { String::new() } else { shown.degrees(self.k()) }
    }
}

impl Written for Slope {
    fn entry_in(self, system: UnitSystem) -> String {
        plain(self, system.slope(), decimals(system, 2, 4))
    }
    fn beside(self, shown: Shown) -> String {
        if self == Self::ZERO { String::new() } else { shown.slope(self) }
    }
}

impl Written for Absorption {
    fn entry_in(self, system: UnitSystem) -> String {
        plain(self, system.absorption(), decimals(system, 1, 2))
    }
    /// Nobody compares it, and its units are long: it would push the figure out of a narrow field.
    fn beside(self, _: Shown) -> String {
        String::new()
    }
}

/// Whether a text that was typed says more than the figure in the shop's words: another unit than those
/// that the field writes.
pub(crate) fn is_worth_keeping(text: &str, entry: &str) -> bool {
    let units = |text: &str| -> String {
        text.chars().filter(|c| c.is_alphabetic() || "\"'°³″′".contains(*c)).collect()
    };
    let typed = units(text);
    !typed.is_empty() && typed != units(entry)
}

/// Whether a text reads as a figure, but for what storing it may have rounded.
pub(crate) fn reads_as<Q: Written>(text: &str, value: Q, system: UnitSystem) -> bool {
    let unit = Q::unit_in(system);
    let figure = unit.write(value);
    parse::<Q>(text, unit)
        .is_ok_and(|read| (unit.write(read) - figure).abs() <= 1e-9 * figure.abs().max(1e-6))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn another_unit_is_kept_and_the_shops_own_is_written_by_the_shop() {
        for (text, entry, kept) in [
            ("1.6 fl oz", "47.32 mL", true),
            ("1 1/2 in", "38.1 mm", true),
            ("3.8 cm", "38 mm", true),
            ("5' 3\"", "63 in", true),
            ("38mm", "38 mm", false),
            ("38", "38 mm", false),
            ("1.50 in", "1 1/2 in", false),
        ] {
            assert_eq!(is_worth_keeping(text, entry), kept, "{text}");
        }
    }

    #[test]
    fn what_a_field_shows_reads_back_as_the_same_length() {
        for system in [UnitSystem::Metric, UnitSystem::UsCustomary] {
            for mm in [38.1, 12.7, 1520.0, 0.5, 217.33, 47.625, 100.0 / 3.0] {
                let text = Length::from_mm(mm).entry(Shown { system });
                let again: Length = parse(&text, system.length()).unwrap();
                assert!((again.mm() - mm).abs() < 0.02, "{text}");
            }
        }
    }

    /// "47.244 in", "4.4092 lb", "101.442 fl oz", "40.58 lb/ft³": figures that nobody has ever measured.
    #[test]
    fn a_figure_is_written_in_the_units_in_which_it_was_measured() {
        let us = Shown { system: UnitSystem::UsCustomary };
        assert_eq!(Length::from_mm(1200.0).entry(us), "1200 mm");
        assert_eq!(Length::from_mm(1200.0).beside(us), "47 1/4\u{202f}in");
        assert_eq!(Length::from_mm(0.35 * 25.4).entry(us), "0.35 in", "as it was typed there");
        assert_eq!(Length::from_mm(47.625).entry(Shown::METRIC), "1 7/8 in");
        assert_eq!(Length::from_mm(6.35).entry(Shown::METRIC), "6.35 mm");
        assert_eq!(Mass::from_kg(2.0).entry(us), "2 kg");
        assert_eq!(MassUnit::Pound.read(5.0).entry(us), "5 lb");
        assert_eq!(MassUnit::Pound.read(5.0).entry(Shown::METRIC), "5 lb");
        assert_eq!(Volume::from_l(3.0).entry(us), "3 L");
        assert_eq!(Density::from_kg_m3(650.0).entry(us), "650 kg/m³");
        assert_eq!(Temperature::from_celsius(20.0).entry(us), "68 °F");
        assert_eq!(Temperature::from_celsius(21.3).entry(us), "21.3 °C");
        assert_eq!(TemperatureDelta::from_k(4.0).entry(us), "7.2 °F");
        assert_eq!(Slope::from_mm_m(0.5).entry(us), "0.006 in/ft");
        assert_eq!(Absorption::from_ml_m2(100.0).entry(us), "100 mL/m²");
        // What is round in neither stands in the shop's.
        assert_eq!(Length::from_mm(1234.567).entry(us), "48.605 in");
    }

    #[test]
    fn a_text_counts_as_long_as_it_reads_as_the_figure() {
        let kept = Length::from_mm(38.1);
        assert!(reads_as("1 1/2 in", kept, UnitSystem::Metric));
        assert!(reads_as("3.81 cm", kept, UnitSystem::UsCustomary));
        assert!(!reads_as("1 1/2 in", Length::from_mm(38.0), UnitSystem::Metric));
        assert!(!reads_as("one and a half", kept, UnitSystem::Metric));
    }
}

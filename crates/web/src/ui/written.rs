//! Quantities as fields write them: in the shop's units, and as they were typed.

use fondant_quantities::bounds::ShopMeasured;
use fondant_quantities::units::{Unit, UnitSystem, parse};
use fondant_quantities::{Density, Length, Mass, Temperature, Volume};

use super::units::Shown;

/// A quantity that a field can hold.
pub(crate) trait Written: ShopMeasured {
    /// For a field: exact enough that saving it again changes nothing.
    fn entry(self, shown: Shown) -> String;
    /// For the figure beside it.
    fn beside(self, shown: Shown) -> String;
}

macro_rules! written {
    ($($quantity:ident, $entry:ident, $beside:ident;)+) => {$(
        impl Written for $quantity {
            fn entry(self, shown: Shown) -> String {
                shown.$entry(self)
            }
            fn beside(self, shown: Shown) -> String {
                shown.$beside(self)
            }
        }
    )+};
}

written! {
    Length, length_entry, length;
    Temperature, temperature_entry, temperature;
    Volume, volume_entry, volume;
    Mass, mass_entry, mass;
    Density, density_entry, density;
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
    fn a_text_counts_as_long_as_it_reads_as_the_figure() {
        let kept = Length::from_mm(38.1);
        assert!(reads_as("1 1/2 in", kept, UnitSystem::Metric));
        assert!(reads_as("3.81 cm", kept, UnitSystem::UsCustomary));
        assert!(!reads_as("1 1/2 in", Length::from_mm(38.0), UnitSystem::Metric));
        assert!(!reads_as("one and a half", kept, UnitSystem::Metric));
    }
}

//! Quantities in the shop's units: rounding, choice of unit, and times on its clock.

use fondant_app::Shop;
use fondant_bench::reading::BAR_PSI;
use fondant_quantities::units::{
    DensityUnit, LengthUnit, Unit, UnitSystem, fraction_of_inch, trimmed,
};
use fondant_quantities::{Area, Density, Force, Length, Mass, Slope, Temperature, Volume};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::numbers::{THIN, three_figures, with_unit};

/// A shop that shows quantities in its own units.
pub(crate) trait InUnits {
    /// Units in which figures are shown.
    fn shown(&self) -> Shown;
}

impl InUnits for Shop {
    fn shown(&self) -> Shown {
        Shown { system: self.workshop.settings.units }
    }
}

/// Writes quantities in a workshop's units.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Shown {
    /// The workshop's system.
    pub(crate) system: UnitSystem,
}

impl Shown {
    /// Millimetres, litres, kilograms, °C.
    pub(crate) const METRIC: Self = Self { system: UnitSystem::Metric };

    /// In the other system.
    #[must_use]
    pub(crate) fn other(self) -> Self {
        Self { system: self.system.other() }
    }

    /// "38 mm", "1 1/2 in".
    #[must_use]
    pub(crate) fn length(self, q: Length) -> String {
        match self.system {
            UnitSystem::Metric => with_unit(&trimmed(q.mm(), 1), "mm"),
            UnitSystem::UsCustomary => with_unit(&self.length_figure(q), "in"),
        }
    }

    /// A forecast of depth, cut to the whole millimetre or sixteenth below.
    #[must_use]
    pub(crate) fn length_cautious(self, q: Length) -> String {
        match self.system {
            UnitSystem::Metric => with_unit(&trimmed((q.mm() + 1e-9).floor(), 0), "mm"),
            UnitSystem::UsCustomary => {
                let sixteenths = (LengthUnit::Inch.write(q) * 16.0 + 1e-9).floor();
                self.length(LengthUnit::Inch.read(sixteenths / 16.0))
            }
        }
    }

    /// The figure alone: "38", "1 1/2".
    #[must_use]
    pub(crate) fn length_figure(self, q: Length) -> String {
        match self.system {
            UnitSystem::Metric => trimmed(q.mm(), 0),
            UnitSystem::UsCustomary => fraction_of_inch(q).replace(" in", ""),
        }
    }

    /// "11.6 L", "3.06 gal".
    #[must_use]
    pub(crate) fn volume(self, q: Volume) -> String {
        let (figure, unit) = self.volume_parts(q);
        with_unit(&figure, unit)
    }

    /// Figure and unit of a volume; small ones in millilitres or fluid ounces.
    #[must_use]
    pub(crate) fn volume_parts(self, q: Volume) -> (String, &'static str) {
        match self.system {
            UnitSystem::Metric if q.l().abs() < 1.0 => (trimmed(q.l() * 1e3, 0), "mL"),
            UnitSystem::Metric => (three_figures(q.l()), "L"),
            UnitSystem::UsCustomary => {
                let gallons = q.l() / 3.785_411_784;
                if gallons.abs() < 1.0 {
                    (trimmed(gallons * 128.0, 1), "fl oz")
                } else {
                    (three_figures(gallons), "gal")
                }
            }
        }
    }

    /// A small mass to a tenth of a gram, as a cup is weighed.
    #[must_use]
    pub(crate) fn mass_fine(self, q: Mass) -> String {
        match self.system {
            _ if q.kg().abs() >= 1.0 => self.mass(q),
            UnitSystem::Metric => with_unit(&trimmed(q.kg() * 1e3, 1), "g"),
            UnitSystem::UsCustomary => with_unit(&trimmed(q.kg() / 0.028_349_523_125, 2), "oz"),
        }
    }

    /// A mass to be weighed out, as a scale shows it: a tenth of a gram under 100 g, a gram under
    /// 10 kg, ten grams above. Scales show grams in either system.
    #[must_use]
    pub(crate) fn weighed(self, q: Mass) -> String {
        let grams = match q.kg().abs() {
            kg if kg < 0.099_95 => with_unit(&trimmed(q.kg() * 1e3, 1), "g"),
            kg if kg < 9.9995 => with_unit(&trimmed(q.kg() * 1e3, 0), "g"),
            _ => with_unit(&trimmed(q.kg(), 2), "kg"),
        };
        match self.system {
            UnitSystem::Metric => grams,
            UnitSystem::UsCustomary if q.kg().abs() < 0.453_592_37 => {
                format!("{grams} ({})", with_unit(&trimmed(q.kg() / 0.028_349_523_125, 2), "oz"))
            }
            UnitSystem::UsCustomary => format!("{grams} ({})", self.mass(q)),
        }
    }

    /// A small volume to a tenth of a millilitre.
    #[must_use]
    pub(crate) fn volume_fine(self, q: Volume) -> String {
        match self.system {
            UnitSystem::Metric if q.l().abs() < 1.0 => with_unit(&trimmed(q.l() * 1e3, 1), "mL"),
            _ => self.volume(q),
        }
    }

    /// A small length to a hundredth of a millimetre.
    #[must_use]
    pub(crate) fn length_fine(self, q: Length) -> String {
        match self.system {
            UnitSystem::Metric => with_unit(&trimmed(q.mm(), 2), "mm"),
            UnitSystem::UsCustomary => with_unit(&trimmed(LengthUnit::Inch.write(q), 3), "in"),
        }
    }

    /// "0.94 m²", "146 in²".
    #[must_use]
    pub(crate) fn area(self, q: Area) -> String {
        match self.system {
            UnitSystem::Metric if q.m2().abs() < 0.01 => {
                with_unit(&trimmed(q.m2() * 1e4, 1), "cm²")
            }
            UnitSystem::Metric => with_unit(&trimmed(q.m2(), 3), "m²"),
            UnitSystem::UsCustomary => with_unit(&trimmed(q.m2() / 0.092_903_04, 2), "ft²"),
        }
    }

    /// A volume's uncertainty in the unit of the volume, "11.6" and "0.57": "±0.57".
    #[must_use]
    pub(crate) fn volume_uncertainty(self, whole: Volume, uncertainty: Volume) -> String {
        let per_unit = match self.volume_parts(whole).1 {
            "mL" => 1e-3,
            "fl oz" => 3.785_411_784 / 128.0,
            "gal" => 3.785_411_784,
            _ => 1.0,
        };
        let figure = uncertainty.l() / per_unit;
        format!("±{THIN}{}", trimmed(figure, if figure < 10.0 { 2 } else { 0 }))
    }

    /// "12.8 kg", "28.2 lb".
    #[must_use]
    pub(crate) fn mass(self, q: Mass) -> String {
        match self.system {
            UnitSystem::Metric if q.kg().abs() < 1.0 => with_unit(&trimmed(q.kg() * 1e3, 0), "g"),
            UnitSystem::Metric => with_unit(&three_figures(q.kg()), "kg"),
            UnitSystem::UsCustomary => with_unit(&three_figures(q.kg() / 0.453_592_37), "lb"),
        }
    }

    /// "29 °C", to the degree: a forecast knows no tenths.
    #[must_use]
    pub(crate) fn temperature(self, q: Temperature) -> String {
        let unit = self.system.temperature();
        with_unit(&trimmed(unit.write(q), 0), unit.symbol())
    }

    /// A temperature to a tenth, as instruments read it.
    #[must_use]
    pub(crate) fn temperature_fine(self, q: Temperature) -> String {
        let unit = self.system.temperature();
        with_unit(&format!("{:.1}", unit.write(q)), unit.symbol())
    }

    /// A pressure over the air's: "2.80 bar", "41 psi".
    #[must_use]
    pub(crate) fn pressure(self, over_bar: f64) -> String {
        match self.system {
            UnitSystem::Metric => with_unit(&format!("{over_bar:.2}"), "bar"),
            UnitSystem::UsCustomary => with_unit(&trimmed(over_bar / BAR_PSI, 1), "psi"),
        }
    }

    /// A difference of temperatures: "14 °C".
    #[must_use]
    pub(crate) fn degrees(self, kelvins: f64) -> String {
        match self.system {
            UnitSystem::Metric => with_unit(&trimmed(kelvins, 0), "°C"),
            UnitSystem::UsCustomary => with_unit(&trimmed(kelvins * 1.8, 0), "°F"),
        }
    }

    /// The fall of a form: "0.5 mm/m", "0.006 in/ft".
    #[must_use]
    pub(crate) fn slope(self, q: Slope) -> String {
        let unit = self.system.slope();
        with_unit(&trimmed(unit.write(q), 3), unit.symbol())
    }

    /// How far off a forecast of a peak may be without a reading of the shop's
    /// own resin: "10–15 °C". From what a tenth more or less of heat, rate and
    /// film does to the peak of a deep layer.
    #[must_use]
    pub(crate) fn forecast_uncertainty(self) -> String {
        let figure = |kelvins: f64| match self.system {
            UnitSystem::Metric => trimmed(kelvins, 0),
            UnitSystem::UsCustomary => trimmed(kelvins * 1.8, 0),
        };
        let unit = self.system.temperature().symbol();
        with_unit(&format!("{}–{}", figure(10.0), figure(15.0)), unit)
    }

    /// "650 kg/m³".
    #[must_use]
    pub(crate) fn density(self, q: Density) -> String {
        let unit = self.system.density();
        with_unit(&trimmed(unit.write(q), decimals(unit)), unit.symbol())
    }

    /// Newtons in either system; makers put on kilograms or pounds.
    #[must_use]
    pub(crate) fn force(self, q: Force) -> String {
        with_unit(&trimmed(q.n(), 0), "N")
    }

    /// "Tue 21:25" on the shop's clock.
    #[must_use]
    pub(crate) fn day_and_time(self, at: Timestamp, zone: &TimeZone) -> String {
        at.to_zoned_datetime(zone.clone()).strftime("%a %H:%M").to_string()
    }

    /// "Tue 24 Nov, 21:25" on the shop's clock.
    #[must_use]
    pub(crate) fn date_and_time(self, at: Timestamp, zone: &TimeZone) -> String {
        at.to_zoned_datetime(zone.clone()).strftime("%a %-d %b, %H:%M").to_string()
    }
}

fn decimals(unit: DensityUnit) -> usize {
    usize::from(unit == DensityUnit::PoundPerCubicFoot)
}

#[cfg(test)]
mod tests {
    use super::*;

    const METRIC: Shown = Shown { system: UnitSystem::Metric };

    #[test]
    fn quantities_are_written_as_a_maker_reads_them() {
        assert_eq!(METRIC.length(Length::from_mm(38.1)), "38.1\u{202f}mm");
        assert_eq!(METRIC.other().length(Length::from_mm(38.1)), "1 1/2\u{202f}in");
        assert_eq!(METRIC.volume(Volume::from_l(11.62)), "11.6\u{202f}L");
        assert_eq!(METRIC.volume(Volume::from_l(0.352)), "352\u{202f}mL");
        assert_eq!(METRIC.other().volume(Volume::from_l(11.62)), "3.07\u{202f}gal");
        assert_eq!(METRIC.mass(Mass::from_kg(12.78)), "12.8\u{202f}kg");
        assert_eq!(METRIC.temperature(Temperature::from_celsius(62.52)), "63\u{202f}°C");
        assert_eq!(METRIC.forecast_uncertainty(), "10–15\u{202f}°C");
        assert_eq!(METRIC.other().forecast_uncertainty(), "18–27\u{202f}°F");
        assert_eq!(METRIC.other().temperature(Temperature::from_celsius(20.0)), "68\u{202f}°F");
    }

    #[test]
    fn under_zero_stands_a_minus_and_a_field_reads_it() {
        assert_eq!(METRIC.temperature(Temperature::from_celsius(-5.0)), "−5\u{202f}°C");
        let text = METRIC.volume(Volume::from_l(-0.062));
        assert_eq!(text, "−62\u{202f}mL");
        let again: Volume =
            fondant_quantities::units::parse(&text, METRIC.system.volume()).unwrap();
        assert!((again.l() + 0.062).abs() < 1e-9, "{again:?}");
    }

    #[test]
    fn times_are_on_the_shops_clock() {
        let zone = TimeZone::get("Europe/Lisbon").unwrap();
        let at: Timestamp = "2026-07-07T20:25:00Z".parse().unwrap();
        assert_eq!(METRIC.day_and_time(at, &zone), "Tue 21:25");
    }
}

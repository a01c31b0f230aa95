use super::*;
use crate::{Absorption, Density, Length, Mass, Slope, Temperature, TemperatureDelta, Volume};
use proptest::prelude::*;

fn mm(text: &str) -> f64 {
    parse::<Length>(text, LengthUnit::Millimetre).unwrap_or_else(|e| panic!("{text}: {e}")).mm()
}

#[test]
fn lengths_are_read_as_makers_type_them() {
    for (text, expected) in [
        ("38", 38.0),
        (" 38 mm ", 38.0),
        ("3.8cm", 38.0),
        ("3,8 cm", 38.0),
        ("1 1/2 in", 38.1),
        ("1 1/2\"", 38.1),
        ("1½″", 38.1),
        ("1/2 in", 12.7),
        ("1.5 Inches", 38.1),
        ("5 ft 3 in", 1600.2),
        ("5' 3 1/2\"", 1612.9),
        ("-5 ft 3 in", -1600.2),
        ("2 m", 2000.0),
        ("2 in.", 50.8),
        ("−4", -4.0),
    ] {
        assert!((mm(text) - expected).abs() < 1e-9, "{text}: {}", mm(text));
    }
}

#[test]
fn other_quantities_are_read_in_their_own_units() {
    let celsius = |t: &str| parse::<Temperature>(t, TemperatureUnit::Celsius).unwrap().celsius();
    assert!((celsius("68 °F") - 20.0).abs() < 1e-9);
    assert!((celsius("-40") + 40.0).abs() < 1e-9);
    assert!((celsius("21.5C") - 21.5).abs() < 1e-9);
    let density =
        |t: &str| parse::<Density>(t, DensityUnit::KilogramPerCubicMetre).unwrap().kg_m3();
    assert!((density("0.65 g/cm³") - 650.0).abs() < 1e-9);
    assert!((density("40 lb/ft3") - 640.738_535).abs() < 1e-5);
    let litres = |t: &str| parse::<Volume>(t, VolumeUnit::Litre).unwrap().l();
    assert!((litres("1 gal") - 3.785_411_784).abs() < 1e-12);
    assert!((litres("8 fl oz") - 0.236_588_236_5).abs() < 1e-12);
    let fall = |t: &str| parse::<Slope>(t, SlopeUnit::MillimetrePerMetre).unwrap().mm_m();
    assert!((fall("0.5") - 0.5).abs() < 1e-12);
    assert!((fall("1/8 in/ft") - 125.0 / 12.0).abs() < 1e-9);
    assert!((fall("1 %") - 10.0).abs() < 1e-12);
    let drinks =
        |t: &str| parse::<Absorption>(t, AbsorptionUnit::MillilitrePerSquareMetre).unwrap().ml_m2();
    assert!((drinks("0.5 fl oz/ft²") - 159.164).abs() < 1e-3);
    let warmer = |t: &str| parse::<TemperatureDelta>(t, TemperatureDeltaUnit::Celsius).unwrap().k();
    assert!((warmer("9 °F") - 5.0).abs() < 1e-9, "a difference knows no 32");
    assert!((warmer("-2 K") + 2.0).abs() < 1e-12);
    let kg = |t: &str| parse::<Mass>(t, MassUnit::Kilogram).unwrap().kg();
    assert!((kg("2 lb 4 oz") - 1.020_582_832_5).abs() < 1e-9);
}

#[test]
fn what_nobody_has_measured_is_round_in_the_units_of_the_shop() {
    let inches = |mm: f64| fraction_of_inch(UnitSystem::UsCustomary.rounded(Length::from_mm(mm)));
    assert_eq!([1.6, 3.0, 6.0, 10.0].map(inches), ["1/16 in", "1/8 in", "1/4 in", "3/8 in"]);
    assert_eq!([20.0, 50.0, 260.0].map(inches), ["3/4 in", "2 in", "10 1/4 in"]);
    let length = Length::from_mm(1.6);
    assert_eq!(UnitSystem::Metric.rounded(length), length);
}

#[test]
fn what_is_no_length_is_refused_by_what_is_wrong_with_it() {
    let refusal = |t: &str| parse::<Length>(t, LengthUnit::Millimetre).unwrap_err();
    let (noun, symbol) = ("a length", "mm");
    assert_eq!(refusal("  "), ParseQuantityError::Empty { noun, symbol });
    let text = "wide".to_owned();
    assert_eq!(refusal("wide"), ParseQuantityError::NotANumber { text, noun, symbol });
    let known = vec!["mm", "cm", "m", "in", "ft"];
    let unit = "kg".to_owned();
    assert_eq!(refusal("38 kg"), ParseQuantityError::UnknownUnit { unit, noun: "length", known });
    for text in
        ["1/0", "1e9", "38 mmm", ".", "--3", "1 1/", "in", "5 5 5 x", "9".repeat(400).as_str()]
    {
        assert!(parse::<Length>(text, LengthUnit::Millimetre).is_err(), "{text}");
    }
}

#[test]
fn inches_are_shown_as_a_rule_is_read() {
    let shown = |mm: f64| fraction_of_inch(Length::from_mm(mm));
    assert_eq!(shown(38.1), "1 1/2 in");
    assert_eq!(shown(38.0), "1 1/2 in");
    assert_eq!(shown(12.7), "1/2 in");
    assert_eq!(shown(25.4), "1 in");
    assert_eq!(shown(0.0), "0 in");
    assert_eq!(shown(-6.35), "-1/4 in");
}

#[test]
fn trailing_zeros_and_a_minus_before_zero_are_not_shown() {
    assert_eq!(trimmed(38.0, 1), "38");
    assert_eq!(trimmed(38.04, 1), "38");
    assert_eq!(trimmed(38.06, 1), "38.1");
    assert_eq!(trimmed(-0.01, 1), "0");
    assert_eq!(trimmed(100.0, 0), "100");
}

proptest! {
    #[test]
    fn reading_what_was_written_gives_the_same_length(metres in -100.0f64..100.0) {
        for unit in LengthUnit::ALL {
            let length = Length::from_m(metres);
            let again: Length = parse(&exact(length, *unit), LengthUnit::Metre).unwrap();
            prop_assert!((again.m() - metres).abs() <= 4.0 * f64::EPSILON * metres.abs());
        }
    }

    #[test]
    fn reading_what_was_written_gives_the_same_temperature(celsius in -80.0f64..300.0) {
        for unit in TemperatureUnit::ALL {
            let warm = Temperature::from_celsius(celsius);
            let again: Temperature = parse(&exact(warm, *unit), TemperatureUnit::Celsius).unwrap();
            prop_assert!((again.k() - warm.k()).abs() < 1e-9);
        }
    }

    #[test]
    fn a_fraction_of_an_inch_is_within_a_sixty_fourth(mm in 0.0f64..5000.0) {
        let length = Length::from_mm(mm);
        let again: Length = parse(&fraction_of_inch(length), LengthUnit::Millimetre).unwrap();
        prop_assert!((again - length).mm().abs() <= 25.4 / 64.0 + 1e-9);
    }

    #[test]
    fn no_text_makes_the_reader_panic(text in "\\PC*") {
        let _ = parse::<Length>(&text, LengthUnit::Millimetre);
        let _ = parse::<Temperature>(&text, TemperatureUnit::Celsius);
    }
}

/// As they stand on plans and labels of shops that measure in inches.
#[test]
fn inches_ounces_and_cubic_inches_are_read_as_makers_write_them() {
    let mm = |text| parse::<Length>(text, LengthUnit::Inch).unwrap().mm();
    for text in ["47-1/2", "47 1/2", "47.5 in", "47½\"", "47-1/2 in", "47–1/2\""] {
        assert!((mm(text) - 47.5 * 25.4).abs() < 1e-9, "{text}: {}", mm(text));
    }
    assert!((mm("3 ft 11-1/2 in") - 47.5 * 25.4).abs() < 1e-9);
    assert!(parse::<Length>("47.5-1/2", LengthUnit::Inch).is_err());
    let ml = |text| parse::<Volume>(text, VolumeUnit::Gallon).unwrap().l() * 1e3;
    for (text, expected) in [
        ("1.6 oz", 1.6 * 29.573_529_562_5),
        ("12 fl oz", 12.0 * 29.573_529_562_5),
        ("40 in³", 40.0 * 16.387_064),
        ("40 cu in", 40.0 * 16.387_064),
        ("22 cm³", 22.0),
    ] {
        assert!((ml(text) - expected).abs() < 1e-6, "{text}: {}", ml(text));
    }
}

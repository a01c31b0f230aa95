use super::*;
use crate::units::UnitSystem;

#[test]
fn a_figure_out_of_range_is_refused_with_its_bounds() {
    let refusal = BOARD_THICKNESS.read("10 m", UnitSystem::Metric).unwrap_err();
    let EntryError::OutOfRange(found) = refusal else { panic!("{refusal:?}") };
    assert_eq!(found.what, "Board thickness");
    assert!(!found.is_below());
    let Extent::Length(limits) = found.extent else { panic!("{found:?}") };
    assert!((limits.found.m() - 10.0).abs() < 1e-12 && (limits.max.mm() - 200.0).abs() < 1e-9);
    let refusal = AIR_TEMPERATURE.read("-40", UnitSystem::Metric).unwrap_err();
    assert!(matches!(refusal, EntryError::OutOfRange(found) if found.is_below()));
    let refusal = RIVER_WIDTH.read("-5", UnitSystem::Metric).unwrap_err();
    assert!(matches!(refusal, EntryError::OutOfRange(found) if found.is_below()));
}

#[test]
fn a_bare_number_is_in_the_shops_unit() {
    let inch = BOARD_THICKNESS.read("1 1/2", UnitSystem::UsCustomary).unwrap();
    assert!((inch.mm() - 38.1).abs() < 1e-9);
    assert!((BOARD_THICKNESS.read("38", UnitSystem::Metric).unwrap().mm() - 38.0).abs() < 1e-9);
}

#[test]
fn percentages_are_read_with_or_without_their_sign() {
    assert!((TIMBER_MOISTURE_PERCENT.read("8,5 %").unwrap() - 8.5).abs() < 1e-12);
    assert!(TIMBER_MOISTURE_PERCENT.read("dry").is_err());
    assert!(TIMBER_MOISTURE_PERCENT.read("NaN").is_err());
    assert!(TIMBER_MOISTURE_PERCENT.read("60").is_err());
}

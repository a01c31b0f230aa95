//! Why an entry is refused, in the units of the shop.

use fondant_quantities::bounds::{EntryError, Extent, Limits, OutOfRange, ShopMeasured};
use fondant_quantities::units::{ParseQuantityError, Unit, UnitSystem, trimmed};

/// A sentence for the field.
pub(crate) fn entry(error: &EntryError, system: UnitSystem) -> String {
    match error {
        EntryError::Unreadable(error) => unreadable(error),
        EntryError::NotANumber { text } => {
            format!("“{text}” is not a number. Type a number such as 8.")
        }
        EntryError::OutOfRange(error) => out_of_range(error, system),
    }
}

fn unreadable(error: &ParseQuantityError) -> String {
    match error {
        ParseQuantityError::Empty { noun, symbol } => format!("Enter {noun}, such as 38 {symbol}."),
        ParseQuantityError::NotANumber { text, noun, symbol } => format!(
            "“{text}” is not {noun}. Type a number with or without a unit, such as 38 {symbol}."
        ),
        ParseQuantityError::UnknownUnit { unit, noun, known } => format!(
            "“{unit}” is not a unit of {noun} that Fondant knows. Use {}.",
            known.join(", ")
        ),
    }
}

/// A figure outside its bounds.
pub(crate) fn out_of_range(error: &OutOfRange, system: UnitSystem) -> String {
    let (range, found, is_below) = match error.extent {
        Extent::Length(limits) => measured(&limits, system),
        Extent::Temperature(limits) => measured(&limits, system),
        Extent::TemperatureDelta(limits) => measured(&limits, system),
        Extent::Absorption(limits) => measured(&limits, system),
        Extent::Slope(limits) => measured(&limits, system),
        Extent::Volume(limits) => measured(&limits, system),
        Extent::Mass(limits) => measured(&limits, system),
        Extent::Density(limits) => measured(&limits, system),
        Extent::Number(limits, unit) => {
            let figure = |v: f64| format!("{} {unit}", trimmed(v, 1)).trim_end().to_owned();
            let range = format!("{} and {}", figure(limits.min), figure(limits.max));
            (range, figure(limits.found), limits.found < limits.min)
        }
    };
    let too = if is_below { "little" } else { "much" };
    format!("{} must be between {range}; {found} is too {too}.", error.what)
}

fn measured<Q: ShopMeasured>(limits: &Limits<Q>, system: UnitSystem) -> (String, String, bool) {
    let unit = Q::unit_in(system);
    let figure = |q: Q| format!("{} {}", trimmed(unit.write(q), 1), unit.symbol());
    let range = format!("{} and {}", figure(limits.min), figure(limits.max));
    (range, figure(limits.found), limits.found < limits.min)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::bounds::{AIR_TEMPERATURE, BOARD_THICKNESS, HANDS};

    #[test]
    fn a_refusal_says_what_is_wrong_and_what_to_type() {
        let said =
            |text: &str, system| entry(&BOARD_THICKNESS.read(text, system).unwrap_err(), system);
        let metric = UnitSystem::Metric;
        assert_eq!(said("  ", metric), "Enter a length, such as 38 mm.");
        assert!(said("wide", metric).starts_with("“wide” is not a length. Type a number"));
        assert!(said("38 kg", metric).starts_with("“kg” is not a unit of length"));
        assert_eq!(
            said("10 m", metric),
            "Board thickness must be between 3 mm and 200 mm; 10000 mm is too much."
        );
        assert!(said("0", UnitSystem::UsCustomary).contains("0.1 in and 7.9 in"));
        let cold = AIR_TEMPERATURE.read("-40", metric).unwrap_err();
        assert!(entry(&cold, metric).ends_with("-40 °C is too little."));
        assert_eq!(
            entry(&HANDS.read("many").unwrap_err(), metric),
            "“many” is not a number. Type a number such as 8."
        );
    }
}

//! Why a log or a datasheet says nothing of a resin.

use fondant_files::logs::cup::{CupLogError, MOST_ROWS};
use fondant_heat::calibration::Refusal;
use fondant_heat::calibration::cup::WaterError;
use fondant_heat::calibration::mixing::MixingError;
use fondant_heat::calibration::sheet::{Contradiction, SheetError};
use fondant_quantities::{Density, Temperature};

use crate::ui::units::Shown;
use crate::words::counting::counted;

/// A log from which a resin cannot be calibrated.
pub(crate) fn refusal(refusal: &Refusal, shown: Shown) -> String {
    let at = |celsius: f64| shown.temperature(Temperature::from_celsius(celsius));
    match refusal {
        Refusal::TooFew { found } => format!(
            "Only {}: twelve or more are needed, from mixing until well past the peak.",
            counted(*found, "reading")
        ),
        Refusal::LooksLikeFahrenheit { celsius } => format!(
            "The first readings are near {}, far from the air. Is the log in °F? Choose the scale \
             and look again.",
            at(*celsius)
        ),
        Refusal::BeginsWarm { celsius } => format!(
            "The log begins at {}. A mix that warm has reacted already: begin the log when A meets B.",
            at(*celsius)
        ),
        Refusal::EndsEarly { hours } => format!(
            "The log ends {hours:.1} h after mixing, before the temperature has fallen again. Let it \
             run to twice the time of the peak."
        ),
        Refusal::GapAtPeak { from_min, to_min } => format!(
            "No readings around the peak: nothing between {from_min:.0} and {to_min:.0} min. \
             Log it again without the gap."
        ),
        Refusal::HardlyWarmed { rise_k } => format!(
            "The cup warmed by only {}, and then its heat cannot be told from its loss. Use a bigger \
             cup, warmer by {} at least, or first measure the loss with warm water.",
            shown.degrees(*rise_k),
            shown.degrees(25.0)
        ),
        Refusal::LossUnsettled => {
            "The log does not settle what the cup loses, and with it the heat. \
             Let it run longer past the peak, or first measure the loss with warm water."
                .to_owned()
        }
        Refusal::HangsOnLoss { rise_k, moved_percent } => format!(
            "This cup warmed by {}: a loss wrong by 15\u{202f}% would change the heat found by \
             {moved_percent:.0}\u{202f}%. Use a bigger cup, or wrap this one, and measure its loss again.",
            shown.degrees(*rise_k)
        ),
        Refusal::Jumps { found, of } => format!(
            "{found} of {of} readings jump away from the rest. Look for a loose thermometer, and log \
             it again."
        ),
        Refusal::OutOfRange { rate, heat } => format!(
            "The log fits only with {rate:.2} times the rate and {heat:.2} times the heat of its \
             class. Check the mass, the ratio, the air and the resin chosen."
        ),
        Refusal::DoesNotFit { noise_k } => format!(
            "No curve of this resin comes nearer to the log than {}. Check the mass, the air's \
             temperature and the times.",
            shown.degrees(*noise_k)
        ),
        Refusal::NoFit(why) => {
            format!("The fit did not come to an end: {why}. Check the log and its times.")
        }
    }
}

/// A log of warm water that says nothing of its cup.
pub(crate) fn water(error: &WaterError, shown: Shown) -> String {
    match error {
        WaterError::TooFew { found } => format!(
            "The water log has {}; eight or more are needed. Read it every few minutes for an hour.",
            counted(*found, "reading")
        ),
        WaterError::HardlyCooled { by_k } => format!(
            "The water cooled by only {} in the log. Begin at {} to {} and let it run for an hour.",
            shown.degrees(*by_k),
            shown.temperature(Temperature::from_celsius(40.0)),
            shown.temperature(Temperature::from_celsius(50.0))
        ),
        WaterError::NoCooling => {
            "The water log does not fall as cooling water does. Check the air's \
             temperature, and that nothing moved the cup."
                .to_owned()
        }
    }
}

/// Why a text is not a log of a cup.
pub(crate) fn log(error: &CupLogError, shown: Shown) -> String {
    match error {
        CupLogError::Empty => "It has no readings. Type one on each line: the time, then the \
             temperature, such as “10  24.5”."
            .to_owned(),
        CupLogError::NotAReading { line, text } => format!(
            "Line {line} is not a reading: “{text}”. Type a time and a temperature, such as “10  24.5”."
        ),
        CupLogError::BackInTime { line } => format!(
            "Line {line} goes back in time. Put the readings in the order in which they were taken, \
             or take the line out."
        ),
        CupLogError::Temperature { line, celsius } => format!(
            "Line {line} says {}, which no cup of resin shows. Check the reading and whether the log \
             is in °C or °F.",
            shown.temperature(Temperature::from_celsius(*celsius))
        ),
        CupLogError::TooLong => format!(
            "The log has more than {MOST_ROWS} rows. A reading every ten seconds is plenty: thin it \
             out or leave off its end."
        ),
    }
}

/// A datasheet that makes no model.
pub(crate) fn sheet(error: &SheetError) -> String {
    match error {
        SheetError::Nothing => {
            "Enter at least one of pot life, tacky time, demould time and deepest layer.".to_owned()
        }
        SheetError::Contradicts(Contradiction::DemouldBeforeTacky) => {
            "The datasheet contradicts itself: it can leave the form before it is sticky. Check the \
             two times and their units."
                .to_owned()
        }
        SheetError::Contradicts(Contradiction::TackyBeforePotLife) => {
            "The datasheet contradicts itself: a thin layer turns sticky before the bucket's time is \
             up, though a bucket is warmer. Check the two times, the mass and the temperatures."
                .to_owned()
        }
        SheetError::NoFit(why) => {
            format!("The figures could not be fitted: {why}. Check them against the datasheet.")
        }
    }
}

/// Figures of a mix that do not agree.
pub(crate) fn mixing(error: &MixingError, shown: Shown) -> String {
    let density = |kg_m3: f64| shown.density(Density::from_kg_m3(kg_m3));
    match error {
        MixingError::TooLittle => {
            "Enter two of these: the ratio by mass, the ratio by volume, the \
             densities of A and B. By volume alone nothing can be weighed out."
                .to_owned()
        }
        MixingError::RatiosDisagree { by_mass, implied, said } => format!(
            "By mass {by_mass:.1} : 100 and these densities make {implied:.1} : 100 by volume, but \
             {said:.1} : 100 is entered. Check which ratio is by mass, and which part is A."
        ),
        MixingError::DensityDisagrees { implied, said } => format!(
            "The parts make a mix of {}, but {} is entered. Check the densities.",
            density(*implied),
            density(*said)
        ),
    }
}

//! What is wrong with what is known of the shop's air.

use fondant_files::logs::air::{AirLogError, MOST_ROWS};
use fondant_heat::climate::SeriesError;
use fondant_heat::climate::indoor::{FEWEST_READINGS, FitError, SHORTEST_H};
use fondant_heat::climate::profile::ProfileError;
use fondant_quantities::Temperature;

use crate::ui::units::Shown;

/// A profile that makes no air.
pub(crate) fn profile(error: &ProfileError) -> String {
    match error {
        ProfileError::TooFewPoints { found } => format!(
            "The air of a day needs two points at least; there is {found}. Add another, such as the \
             coldest of the night."
        ),
        ProfileError::OutOfOrder { time } => format!(
            "The point at {time} does not come after the one before it. Put the points in the order \
             of the clock."
        ),
        ProfileError::NightWarmerThanDay => {
            "The coldest of the night is warmer than the warmest of the day. Exchange the two."
                .to_owned()
        }
        ProfileError::NoLog => {
            "No log of the shop's air has been brought in yet. Bring one in below, or choose another \
             way."
                .to_owned()
        }
        ProfileError::NoForecast => {
            "The forecast cannot be reached. The air stays as it was last known; choose another way \
             if that lasts."
                .to_owned()
        }
        ProfileError::Series(error) => series(error),
    }
}

fn series(error: &SeriesError) -> String {
    match error {
        SeriesError::TooFew { found } => {
            format!("The air needs two moments at least; there are {found}. Add another.")
        }
        SeriesError::NotRising { number } => format!(
            "Moment {number} of the air does not come after the one before it. Put them in order."
        ),
    }
}

/// A room that cannot be fitted.
pub(crate) fn fit(error: &FitError) -> String {
    match error {
        FitError::TooFew { found } => format!(
            "{found} readings fall where the weather outside is known; {FEWEST_READINGS} over at \
             least {SHORTEST_H} hours are needed. Bring a longer log."
        ),
        FitError::Unsettled => {
            "These readings do not settle the room: the weather hardly changed. \
                                Bring a log with colder nights."
                .to_owned()
        }
    }
}

/// Why a file is not a log of the air.
pub(crate) fn log(error: &AirLogError, shown: Shown) -> String {
    let says = |line: &usize, what: String| {
        format!(
            "Line {line} says {what}, which is outside what a shop's air can be. Check whether the log is in °C or °F. \
             Nothing was taken."
        )
    };
    match error {
        AirLogError::Empty => {
            "It has no readings. A line is a date and time, a temperature and a humidity, \
             such as “2026-11-23T06:00Z, 14.5, 62”."
                .to_owned()
        }
        AirLogError::NotAReading { line, text } => {
            format!("Line {line} is not a reading: “{text}”. Nothing was imported.")
        }
        AirLogError::NoZone { line, text } => format!(
            "Line {line} has a local time without a zone: “{text}”. Say below on whose clock the \
             logger runs. Nothing was taken."
        ),
        AirLogError::BackInTime { line } => format!(
            "Line {line} goes back in time. Put the file in order, or take the line out. Nothing was \
             taken."
        ),
        AirLogError::Temperature { line, celsius } => {
            says(line, shown.temperature(Temperature::from_celsius(*celsius)))
        }
        AirLogError::Humidity { line, percent } => {
            says(line, format!("{percent:.0}\u{202f}% humidity"))
        }
        AirLogError::EitherOrder { line, text, .. } => format!(
            "Line {line} may be read with the day or with the month first: “{text}”. Say below which \
             it is; it is remembered for this logger. Nothing was taken."
        ),
        AirLogError::NoSuchZone(name) => {
            format!("There is no time zone “{name}”. Set the shop's time zone again.")
        }
        AirLogError::TooLong => {
            format!(
                "The log has more than {MOST_ROWS} rows. Thin it out or leave off its beginning."
            )
        }
    }
}

//! What was promised when the plan was taken, beside what happened.

use fondant_app::ending::Ending;
use fondant_cast::facts::{Fact, standing};
use fondant_cast::forecast::MODEL_VERSION;
use fondant_quantities::Temperature;
use fondant_record::figures::Figure;

use crate::pages::stations::asked::Asked;
use crate::words::{layers, record};

/// What was promised beside what happened.
pub(super) struct Promised {
    pub(super) name: String,
    pub(super) promised: String,
    pub(super) happened: String,
}

/// Cure that is faster or hotter by less is the same resin, typed again.
const SAME_RATIO: f64 = 0.005;

/// By which model and which knowledge of the resin it was promised, and what has changed since.
pub(super) fn versions(asked: &Asked<'_>, ending: &Ending) -> String {
    let Some(forecast) = &ending.forecast else { return String::new() };
    let (then, now) = (&forecast.resin, &asked.evaluation.resin);
    let by = match then.is_from_readings() {
        true => "as readings had shown it",
        false => "as its class and datasheet have it",
    };
    let mut told = format!("Promised by heat model {}, with {} {by}.", forecast.model, then.name);
    if forecast.model != MODEL_VERSION {
        told += &format!(" Fondant now computes with model {MODEL_VERSION}.");
    }
    if then.name != now.name {
        told += &format!(" The cast has {} now.", now.name);
        return told;
    }
    let [rate, heat] =
        [now.cure.a2_per_s / then.cure.a2_per_s, now.cure.heat_j_kg / then.cure.heat_j_kg];
    let is_same = |ratio: f64| (ratio - 1.0).abs() < SAME_RATIO;
    if !(is_same(rate) && is_same(heat)) {
        told +=
            &format!(" On the shelf it now has {rate:.2} × that rate and {heat:.2} × that heat.");
    }
    told
}

/// The forecast against what happened, line by line.
pub(super) fn promised(asked: &Asked<'_>, ending: &Ending) -> Vec<Promised> {
    let Some(forecast) = &ending.forecast else { return Vec::new() };
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let figure =
        |figure| ending.figures.get(figure).map(|value| record::value(figure, value, shown));
    let plain = |text: Option<String>| text.unwrap_or_else(|| "not known".to_owned());
    let uncertainty = shown.volume_uncertainty(forecast.volume, forecast.volume_uncertainty);
    let mut rows = vec![Promised {
        name: "Mixed volume".into(),
        promised: format!("{} {uncertainty}", shown.volume(forecast.volume)),
        happened: plain(figure(Figure::Volume)),
    }];
    let peak = match forecast.peak_interval_k {
        Some((below, above)) => {
            let at = |k: f64| shown.temperature(Temperature::from_k(forecast.peak.k() + k));
            format!("{} to {}", at(-below.abs()), at(above))
        }
        None => shown.temperature(forecast.peak),
    };
    rows.push(Promised {
        name: "Highest temperature".into(),
        promised: peak,
        happened: plain(figure(Figure::Peak)),
    });
    let happened = standing(&asked.visit.facts);
    for pour in &forecast.pours {
        let poured = happened.iter().find_map(|row| match row.fact {
            Fact::Poured { pour: of, at, .. } if of == pour.id => Some(at),
            _ => None,
        });
        rows.push(Promised {
            name: layers::heading(pour.layer),
            promised: shown.date_and_time(pour.at, zone),
            happened: poured
                .map_or_else(|| "not written down".to_owned(), |at| shown.date_and_time(at, zone)),
        });
    }
    rows
}

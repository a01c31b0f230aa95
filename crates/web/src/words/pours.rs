//! Words for pour times: what binds one, what breaks one, what the air does and
//! what would mend it.

use fondant_cast::agenda::ActKind;
use fondant_cast::facts::rest::Question;
use fondant_cast::pours::lead::LeadWork;
use fondant_heat::climate::trouble::{Trouble, TroubleKind};
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Binding, Unfit};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Mass, Span, Temperature};
use jiff::tz::TimeZone;

use super::layers;
use crate::ui::numbers::span;
use crate::ui::units::Shown;
use crate::words::counting::counted;

/// Why a pour is not earlier.
#[must_use]
pub(crate) const fn binding(binding: Binding) -> &'static str {
    match binding {
        Binding::Begins => "work begins then",
        Binding::Window => "the layer below turns sticky",
        Binding::Air => "the air is fit for it",
        Binding::Hours => "the shop opens",
        Binding::Limit => "earlier it would get too hot",
        Binding::Sanding => "hard and sanded by then",
        Binding::Later => "chosen so that what follows fits",
    }
}

/// What in the air forbids a pour, as a clause.
#[must_use]
pub(crate) fn unfit_air(unfit: Unfit, shown: Shown) -> String {
    match unfit.kind {
        TroubleKind::Dew => format!(
            "its surface is only {} over the dew point",
            shown.degrees(unfit.figure.max(0.0))
        ),
        TroubleKind::Cold => format!(
            "the air is at {}, colder than this resin cures in",
            shown.temperature(Temperature::from_k(unfit.figure))
        ),
        TroubleKind::TooHumid | TroubleKind::Humid | TroubleKind::Warm | TroubleKind::Drop => {
            format!("the humidity is {}\u{202f}%", trimmed(unfit.figure, 0))
        }
    }
}

/// A trouble in a word or two, for the axis.
#[must_use]
pub(crate) const fn trouble_word(kind: TroubleKind) -> &'static str {
    match kind {
        TroubleKind::Dew => "near dew point",
        TroubleKind::TooHumid => "too damp",
        TroubleKind::Humid => "damp",
        TroubleKind::Cold => "too cold",
        TroubleKind::Warm => "too warm",
        TroubleKind::Drop => "sudden drop",
    }
}

/// A trouble with its hours and what to do.
#[must_use]
pub(crate) fn trouble(trouble: &Trouble, shown: Shown, zone: &TimeZone) -> String {
    let hours = format!(
        "{} to {}",
        shown.date_and_time(trouble.from, zone),
        shown.day_and_time(trouble.to, zone)
    );
    let kelvin = |k: f64| shown.temperature(Temperature::from_k(k));
    match trouble.kind {
        TroubleKind::Dew => format!(
            "{hours}: the surface comes within {} of the dew point. Water settles on it and the \
             resin blushes: have a vented lid on before, and warm the shop.",
            shown.degrees(trouble.worst.max(0.0))
        ),
        TroubleKind::TooHumid => format!(
            "{hours}: {:.0}\u{202f}% humidity. Pour nothing then; keep fresh resin under a vented lid, \
             and dry or warm the air.",
            trouble.worst
        ),
        TroubleKind::Humid => format!(
            "{hours}: up to {:.0}\u{202f}% humidity. Cover as soon as the heat has passed, and look for \
             a greasy film before the next layer: wash it off with water and abrade.",
            trouble.worst
        ),
        TroubleKind::Cold => format!(
            "{hours}: down to {}, colder than this resin cures in. Heat the shop through the \
             night; no unflued gas heater, which gives off water and carbon dioxide.",
            kelvin(trouble.worst)
        ),
        TroubleKind::Warm => format!(
            "{hours}: up to {}, warmer than this resin is meant for. Shade the shop, or pour in \
             the evening.",
            kelvin(trouble.worst)
        ),
        TroubleKind::Drop => format!(
            "{hours}: the air falls by {} within three hours. Keep doors shut and the lid on: \
             damp is drawn onto what is still warm.",
            shown.degrees(trouble.worst)
        ),
    }
}

/// What a touch that does not fit would mean. `suspect` is the earlier note that is further from
/// the model, as a clause.
#[must_use]
pub(crate) fn question(question: &Question, suspect: Option<&str>) -> String {
    let percent = (question.rate - 1.0) * 100.0;
    let speed = match (question.is_beyond, percent < 0.0) {
        (true, true) => "less than half as fast as the model".to_owned(),
        (true, false) => "more than twice as fast as the model".to_owned(),
        (false, true) => format!("{:.0}\u{202f}% slower than the model", -percent),
        (false, false) => format!("{percent:.0}\u{202f}% faster than the model"),
    };
    match suspect {
        Some(suspect) => format!(
            "This does not fit what is known: it would mean that the resin cures {speed}. Probably \
             the earlier note is wrong that {suspect}: withdraw that, or check this one."
        ),
        None => format!(
            "This does not fit what is known: it would mean that the resin cures {speed}. Probably \
             the layer, the hour or the finding is wrong here: touch it again."
        ),
    }
}

/// A piece of the work before the first pour.
#[must_use]
pub(crate) const fn lead(work: LeadWork) -> &'static str {
    match work {
        LeadWork::Form => "building the form",
        LeadWork::Sealant => "sealing it",
        LeadWork::Release => "release",
        LeadWork::Boards => "laying the boards",
        LeadWork::Objects => "gluing the objects",
        LeadWork::Cavities => "brushing out and taping the cavities",
        LeadWork::Tubes => "plugging the tubes",
        LeadWork::Pieces => "sealing the pieces",
        LeadWork::Moulds => "preparing the moulds",
        LeadWork::Face => "sanding and wiping the face",
    }
}

/// Result of a touch test, in words.
#[must_use]
pub(crate) const fn touch(touch: Touch) -> &'static str {
    match touch {
        Touch::Clear => "still liquid",
        Touch::Tacky => "sticky",
        Touch::Hard => "set hard",
    }
}

/// That the witness cup said it, after what was felt.
#[must_use]
pub(crate) fn by_cup(cup: Mass, shown: Shown) -> String {
    format!(", by its witness cup of {}", shown.weighed(cup))
}

/// An act, of a layer.
#[must_use]
pub(crate) fn act(kind: ActKind, of: LayerKind) -> String {
    let layer = layers::name(of);
    match kind {
        ActKind::Sand if of.is_flood() => format!("Flatten, sand and wipe for {layer}"),
        ActKind::Sand => format!("Sand, wipe and dry before {layer}"),
        ActKind::Wait => format!("Wait for the window before {layer}, test the cup"),
        ActKind::Pour => format!("Mix and pour {layer}"),
        ActKind::Watch => format!("Watch {layer} for half an hour: bubbles, leaks"),
        ActKind::Cover => format!("Vented lid over {layer}"),
        ActKind::Opens => format!("Window opens: {layer} is sticky"),
        ActKind::Closes => format!("Window closes: {layer} sets"),
        ActKind::Level => "Look at the level, top up where it has sunk".to_owned(),
        ActKind::Open => "Hard: open the form, if a thumbnail leaves no mark".to_owned(),
        ActKind::Hard => format!("Hard: {layer} can be handled"),
    }
}

/// A time to come or gone, as a countdown.
#[must_use]
pub(crate) fn countdown(now: jiff::Timestamp, at: jiff::Timestamp) -> String {
    let minutes = at.duration_since(now).as_secs().div_euclid(60);
    match minutes {
        0 => "now".to_owned(),
        m if m > 0 => format!("in {}", span(Span::from_s(m as f64 * 60.0))),
        m => format!("{} ago", span(Span::from_s(-m as f64 * 60.0))),
    }
}

/// "1 pour", "3 pours".
#[must_use]
pub(crate) fn pours(count: usize) -> String {
    counted(count, "pour")
}

/// "1 joint sanded", "2 joints sanded"; `None` where none is.
#[must_use]
pub(crate) fn sanded(joints: usize) -> Option<String> {
    (joints > 0).then(|| format!("{} sanded", counted(joints, "joint")))
}

/// "1 bucket", "3 buckets".
#[must_use]
pub(crate) fn buckets(count: u32) -> String {
    counted(count, "bucket")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::begin;
    use jiff::SignedDuration;

    #[test]
    fn countdowns_run_down_and_on() {
        let now = begin();
        assert_eq!(
            countdown(now, now + SignedDuration::from_mins(130)),
            "in 2\u{202f}h 10\u{202f}min"
        );
        assert_eq!(countdown(now, now), "now");
        assert_eq!(countdown(now, now - SignedDuration::from_mins(45)), "45\u{202f}min ago");
    }
}

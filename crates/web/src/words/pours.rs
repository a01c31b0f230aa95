//! Words for pour times: what binds one, what breaks one, what the air does and
//! what would mend it.

use fondant_cast::agenda::ActKind;
use fondant_cast::facts::rest::Question;
use fondant_cast::planning::{Alternative, Fix, Wish};
use fondant_cast::pours::lead::LeadWork;
use fondant_heat::climate::trouble::{Trouble, TroubleKind};
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::Held;
use fondant_pours::simulate::observe::Touch;
use fondant_pours::simulate::tries::AIR_K;
use fondant_pours::{Binding, Break, Proof, Schedule, Unfit};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Mass, Span, Temperature};
use jiff::tz::TimeZone;

use super::layers::{self, capitalised};
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

/// What a given time breaks, and what would mend it.
#[must_use]
pub(crate) fn broken(broken: &Break, schedule: &Schedule, shown: Shown, zone: &TimeZone) -> String {
    let time = |at| shown.date_and_time(at, zone);
    let name = capitalised(&layers::of(broken.pour(), schedule));
    let below = |pour: usize| layers::of(pour.saturating_sub(1), schedule);
    match broken {
        Break::TooSoon { .. } => {
            format!("{name} goes in before work may begin. Begin earlier, or move it later.")
        }
        Break::OutOfOrder { pour } => {
            format!("{name} goes in before {}. Put it after that.", below(*pour))
        }
        Break::Closed { .. } => format!(
            "{name} falls outside the shop's hours, or is not done before it closes. Move it, or \
             open the shop for it."
        ),
        Break::UnfitAir { unfit, .. } => format!(
            "{name} would go in when {}. Move it, dry or heat the air, or write down why it may.",
            unfit_air(*unfit, shown)
        ),
        Break::NotSticky { pour, opens } => format!(
            "{name} goes in too early: {} is still liquid until {}, and the two would mix. Pour \
             after that.",
            below(*pour),
            time(*opens)
        ),
        Break::Set { pour, closes, ready } => format!(
            "{name} goes in too late: {} has set by {}, and nothing bonds to it unsanded. Pour \
             before that, or when it is hard and sanded, from {}.",
            below(*pour),
            time(*closes),
            time(*ready)
        ),
        Break::NeverSanded { pour, takes } => format!(
            "{name} goes on {} once that has set, and the shop is never open for the {} that \
             sanding takes. Open it longer on one day, or pour while it is sticky.",
            below(*pour),
            span(*takes)
        ),
        Break::CannotBeSanded { pour, closes } => format!(
            "{name} goes in too late: {} has set by {}, and what lies in it cannot be sanded. Pour \
             before that.",
            below(*pour),
            time(*closes)
        ),
        Break::TooHot { pour, peak } if is_heated_from_above(*pour, schedule) => format!(
            "{name} reaches {}, over its resin's limit, under {}. Pour that at a cooler hour, later, or \
             thinner.",
            shown.temperature(*peak),
            layers::of(pour + 1, schedule)
        ),
        Break::TooHot { peak, .. } => format!(
            "{name} reaches {}, over its resin's limit. Pour it at a cooler hour, later on the \
             one below, or thinner.",
            shown.temperature(*peak)
        ),
    }
}

/// Whether a layer is hottest once the next one is on it.
fn is_heated_from_above(pour: usize, schedule: &Schedule) -> bool {
    let [Some(own), Some(above)] = [pour, pour + 1].map(|place| schedule.pours.get(place)) else {
        return false;
    };
    own.peak_at > above.at
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

/// What a plan is best at.
#[must_use]
pub(crate) const fn wish(wish: Wish) -> &'static str {
    match wish {
        Wish::Soonest => "Soonest",
        Wish::FewestPours => "Fewest pours",
        Wish::Coolest => "Coolest",
        Wish::QuietNights => "Quiet nights",
        Wish::Steadiest => "Steadiest",
    }
}

/// What the search says for its plan.
#[must_use]
pub(crate) fn proof(proof: Proof) -> String {
    match proof {
        Proof::Best => "With layers like these, no other quarter hours of the coming week open \
                        the form more than half an hour sooner."
            .to_owned(),
        Proof::Unproven => "In this air windows leap; a better plan is not ruled out.".to_owned(),
        Proof::Within(gap) => format!(
            "The search ended early: one that opens the form up to {} sooner is not ruled out.",
            span(gap)
        ),
        Proof::Given => "Times as you set them.".to_owned(),
    }
}

/// A change, as its button says it.
#[must_use]
pub(crate) fn fix(fix: &Fix, shown: Shown, zone: &TimeZone) -> String {
    match fix {
        Fix::Begin(at) => format!("Begin {}", shown.date_and_time(*at, zone)),
        Fix::Heat(by) if by.k() > 0.0 => format!("Heat the air by {}", shown.degrees(by.k())),
        Fix::Heat(by) => format!("Cool the air by {}", shown.degrees(-by.k())),
        Fix::Dry(percent) => format!("Dry the air to {}\u{202f}%", trimmed(*percent, 0)),
        Fix::Layers(count) => format!("Pour {count} thinner layers"),
        Fix::Resin(_, name) => format!("Use {name}"),
        Fix::OpenOnce(date, time) => {
            format!("Open at {} on {}", time.strftime("%H:%M"), date.strftime("%a %-d %b"))
        }
        Fix::StayOnce(date, time) => {
            format!("Stay until {} on {}", time.strftime("%H:%M"), date.strftime("%a %-d %b"))
        }
        Fix::Hands(hands) => format!("Have {hands} people pour"),
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

/// That a comparison suggests another plan than the one that is about to be taken.
#[must_use]
pub(crate) fn suggested(plan: &Alternative, shown: Shown, zone: &TimeZone) -> String {
    format!(
        "The comparison below suggests another plan: {}, the form opens {}, and it holds in {} of {} \
         tries. Take it there, or these anyway.",
        pours(plan.pours.len()),
        shown.date_and_time(plan.form_opens(), zone),
        plan.held.held,
        plan.held.tries
    )
}

/// That pours would often not hold.
#[must_use]
pub(crate) fn unsteady(held: Held, shown: Shown) -> String {
    let missed = held.tries - held.held - held.too_hot;
    format!(
        "These times held in {} of {} tries, with the air up to {} off, the resin up to 15\u{202f}% faster \
         or slower and each pour up to half an hour early or late. In {} of them a layer passed the \
         limit, in {missed} a window was missed.",
        held.held,
        held.tries,
        shown.degrees(AIR_K),
        held.too_hot
    )
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
    use crate::sample::{METRIC, begin, evaluated, river_top};
    use jiff::SignedDuration;

    #[test]
    fn every_break_says_what_is_wrong_and_what_would_mend_it() {
        let schedule = evaluated(&river_top()).pours.unwrap();
        let at = begin();
        for one in [
            Break::TooSoon { pour: 0 },
            Break::OutOfOrder { pour: 1 },
            Break::Closed { pour: 1 },
            Break::NotSticky { pour: 1, opens: at },
            Break::Set { pour: 1, closes: at, ready: at },
            Break::NeverSanded { pour: 1, takes: Span::from_s(3600.0) },
            Break::TooHot { pour: 1, peak: Temperature::from_celsius(80.0) },
        ] {
            let said = broken(&one, &schedule, METRIC, &TimeZone::UTC);
            assert!(said.ends_with('.') && said.matches(". ").count() >= 1, "{said}");
            assert!(said.starts_with("The base") || said.starts_with("Layer 1"), "{said}");
        }
        // What is in cannot be poured otherwise: what goes on it can.
        let (mut heated, hot) =
            (schedule, Break::TooHot { pour: 0, peak: Temperature::from_celsius(80.0) });
        heated.pours[0].peak_at = heated.pours[1].at + SignedDuration::from_hours(1);
        let said = broken(&hot, &heated, METRIC, &TimeZone::UTC);
        assert!(said.contains("under layer 1. Pour that"), "{said}");
    }

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

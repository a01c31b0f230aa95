//! Plans in words: what they are best at, what they break, and what would mend it.

use fondant_cast::planning::{Alternative, Fix, Wish};
use fondant_pours::simulate::Held;
use fondant_pours::simulate::tries::AIR_K;
use fondant_pours::{Break, Proof, Schedule};
use fondant_quantities::units::trimmed;
use jiff::tz::TimeZone;

use super::layers::{self, capitalised};
use super::pours::{pours, unfit_air};
use crate::ui::numbers::span;
use crate::ui::units::Shown;

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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, begin, evaluated, river_top};
    use fondant_quantities::{Span, Temperature};
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
}

//! What has happened, beside what was planned.

use fondant_cast::document::PourId;
use fondant_cast::facts::{Fact, FactRow, standing};
use fondant_pours::Schedule;
use fondant_pours::simulate::Observed;
use fondant_quantities::Span;
use jiff::tz::TimeZone;

use super::form::LOCAL;
use crate::pages::stations::asked::Asked;
use crate::paths::casts::WithdrawFact;
use crate::ui::field::Field;
use crate::ui::numbers::span;
use crate::ui::units::Shown;
use crate::words::{layers, pours};

/// Where a touch that does not fit is questioned.
pub(crate) const QUESTIONED: &str = "fact_sure";

/// What was written down, and the fields for more.
#[derive(Default)]
pub(crate) struct FactsView {
    /// None where nothing of the plan can have happened.
    pub(crate) fields: Vec<Field>,
    pub(crate) rows: Vec<Row>,
    /// Why what was typed does not fit; it can be written down all the same.
    pub(crate) question: String,
}

/// One thing that happened.
pub(crate) struct Row {
    pub(crate) withdraw: WithdrawFact,
    pub(crate) when: String,
    pub(crate) what: String,
}

impl FactsView {
    /// What was written down of layers that no plan of the cast as it is now has.
    pub(super) fn of_none(asked: &Asked<'_>) -> Self {
        let rows = standing(&asked.visit.facts);
        Self {
            rows: rows.iter().map(|row| shown_row(asked, row, &[])).collect(),
            ..Self::default()
        }
    }

    /// Of the pours of a plan that can have happened, of which `poured` have.
    pub(super) fn new(
        asked: &Asked<'_>,
        schedule: &Schedule,
        ids: &[PourId],
        poured: usize,
    ) -> Self {
        if ids.is_empty() {
            return Self::of_none(asked);
        }
        let (zone, fields) = (asked.shop.hours().zone(), asked.fields());
        let named = |(index, id): (usize, &PourId)| {
            (id.0.to_string(), layers::capitalised(&layers::of(index, schedule)))
        };
        let names: Vec<(String, String)> = ids.iter().enumerate().map(named).collect();
        let layers: Vec<(&str, &str)> =
            names.iter().map(|(value, name)| (value.as_str(), name.as_str())).collect();
        let next = ids.get(poured).or(ids.last()).map_or_else(String::new, |id| id.0.to_string());
        // Told to be poured once more, a layer gets another hour.
        let what = if poured < ids.len() { "poured" } else { "tacky" };
        let now = asked.now.to_zoned_datetime(zone.clone()).strftime(LOCAL).to_string();
        let whats = [
            ("poured", "was poured"),
            ("clear", "is still liquid"),
            ("tacky", "is sticky"),
            ("hard", "has set hard"),
        ];
        let field = |mut field: Field, hint: &str| {
            field.hint = hint.to_owned();
            field
        };
        let at = fields.text("fact_at", "When", &now).kind("datetime-local");
        Self {
            question: asked.refusals.of(QUESTIONED),
            fields: vec![
                fields.choice("fact_pour", "Which layer", &next, &layers),
                fields.choice("fact_what", "What", what, &whats),
                at,
                field(
                    fields.text("fact_resin", "Resin in the bucket", ""),
                    "Only for a pour, where it was measured.",
                ),
                field(
                    fields.text("fact_cup", "Witness cup holds", ""),
                    "Only for a touch of a cup: it keeps a time of its own.",
                ),
            ],
            rows: standing(&asked.visit.facts)
                .iter()
                .map(|row| shown_row(asked, row, &names))
                .collect(),
        }
    }
}

fn shown_row(asked: &Asked<'_>, row: &FactRow, names: &[(String, String)]) -> Row {
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let name = |pour: PourId| {
        let named = names.iter().find(|(id, _)| *id == pour.0.to_string());
        named.map_or("A layer of an earlier plan", |(_, name)| name)
    };
    let (when, what) = match row.fact {
        Fact::Poured { pour, at, resin_at } => {
            let warm =
                resin_at.map_or_else(String::new, |t| format!(" at {}", shown.temperature(t)));
            (Some(at), format!("{} was poured{warm}", name(pour)))
        }
        Fact::Touched { pour, at, found, cup } => {
            let cup = cup.map_or_else(String::new, |cup| pours::by_cup(cup, shown));
            (Some(at), format!("{}: {}{cup}", name(pour), pours::touch(found)))
        }
        Fact::Withdrawn { .. } => (None, String::new()),
    };
    Row {
        withdraw: WithdrawFact { cast: asked.cast, row: row.number },
        when: when.map_or_else(String::new, |at| shown.date_and_time(at, zone)),
        what,
    }
}

/// How far what happens is from what was planned.
pub(crate) fn difference(
    observed: &Observed,
    planned: &Schedule,
    shown: Shown,
    zone: &TimeZone,
) -> String {
    let shifted = |from: jiff::Timestamp, to: jiff::Timestamp| {
        let minutes = to.duration_since(from).as_secs() as f64 / 60.0;
        let by = span(Span::from_s(minutes.abs() * 60.0));
        match minutes {
            m if m.abs() < 3.0 => "as planned".to_owned(),
            m if m > 0.0 => format!("{by} later than planned"),
            _ => format!("{by} earlier than planned"),
        }
    };
    let fastest = observed.rates.farthest();
    let rate = if (fastest - 1.0).abs() < 0.005 {
        String::new()
    } else {
        let word = if fastest < 1.0 { "slower" } else { "faster" };
        format!(
            "By touch it cures {:.0}\u{202f}% {word} than the model. ",
            (fastest - 1.0).abs() * 100.0
        )
    };
    let now = &observed.schedule;
    let windows: Vec<String> = now
        .pours
        .iter()
        .zip(&planned.pours)
        .enumerate()
        .take(now.pours.len().saturating_sub(1))
        .filter(|(_, (n, p))| n.opens != p.opens)
        .map(|(index, (n, p))| {
            format!(
                "{}: window {} to {}, {}.",
                layers::capitalised(&layers::of(index, now)),
                shown.day_and_time(n.opens, zone),
                shown.day_and_time(n.closes, zone),
                shifted(p.opens, n.opens)
            )
        })
        .collect();
    let uncertainty = if observed.contradictory {
        " The touches contradict one another; the last one counts. Withdraw what was wrong."
    } else {
        ""
    };
    format!(
        "{rate}{} Hard {}, {}.{uncertainty}",
        windows.join(" "),
        shown.date_and_time(now.hard, zone),
        shifted(planned.hard, now.hard)
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, evaluated, river_top};
    use jiff::SignedDuration;

    #[test]
    fn a_difference_names_the_rate_the_window_and_the_end() {
        let planned = evaluated(&river_top()).pours.unwrap();
        let mut now = planned.clone();
        now.pours[0].opens += SignedDuration::from_mins(95);
        now.hard -= SignedDuration::from_mins(30);
        let observed = |rate, contradictory| Observed {
            schedule: now.clone(),
            rates: fondant_pours::simulate::observe::Rates::own(rate),
            contradictory,
        };
        let said = difference(&observed(0.88, false), &planned, METRIC, &TimeZone::UTC);
        assert!(said.starts_with("By touch it cures 12\u{202f}% slower than the model."), "{said}");
        assert!(said.contains("1\u{202f}h 35\u{202f}min later than planned"), "{said}");
        assert!(said.ends_with("30\u{202f}min earlier than planned."), "{said}");
        let said = difference(&observed(1.0, true), &planned, METRIC, &TimeZone::UTC);
        assert!(!said.contains("By touch") && said.contains("contradict one another"), "{said}");
    }
}

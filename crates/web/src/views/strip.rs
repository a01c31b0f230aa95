//! The strip that never leaves: section, volume, mass, layers, heat, hours, next act.

use fondant_cast::{Evaluation, Kind, Measured, Plan, PourTask};
use fondant_pours::{Joint, Schedule};
use fondant_quantities::Span;
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::figure::Figure;
use super::format::{Shown, span, with_unit};
use super::{kinds, words};
use crate::drawings::section::{Extent, Section, draw};
use crate::drawings::{Frame, NARROW};

/// The strip of a cast.
#[derive(Debug, Clone)]
pub struct Strip {
    /// The cast's section, small.
    pub mini: String,
    /// Figures with their workings.
    pub figures: Vec<Figure>,
    /// The next act.
    pub next: String,
    /// When.
    pub next_when: String,
    /// What follows it.
    pub next_detail: String,
}

/// What the strip is made from.
#[derive(Debug, Clone, Copy)]
pub struct StripInput<'a> {
    /// The cast's number.
    pub cast: i64,
    /// The plan.
    pub plan: &'a Plan,
    /// What follows from it.
    pub evaluation: &'a Evaluation,
    /// The shop's clock.
    pub zone: &'a TimeZone,
    /// Now.
    pub now: Timestamp,
    /// So many pours have happened.
    pub poured: usize,
    /// Units.
    pub shown: Shown,
}

/// The strip of a cast.
#[must_use]
pub fn strip(input: StripInput<'_>) -> Strip {
    let StripInput { evaluation, shown, .. } = input;
    let mini = mini(&evaluation.measured, shown);
    let (next, next_when, next_detail) = match &evaluation.pours {
        Ok(schedule) => next_act(&input, schedule),
        Err(trouble) => (
            "No pour times yet".to_owned(),
            String::new(),
            first_sentence(&words::pours(trouble, shown)),
        ),
    };
    let figures =
        vec![volume(&input), mass(&input), layers(&input), hottest(&input), open_form(&input)];
    Strip { mini, figures, next, next_when, next_detail }
}

/// The section of a cast, small: for the strip and the list of casts.
#[must_use]
pub fn mini(measured: &Measured, shown: Shown) -> String {
    let widest = measured.river.as_ref().map(|river| river.widest().at);
    let section = Section {
        layout: &measured.layout,
        fill: &measured.fill,
        at: widest.unwrap_or_else(|| measured.layout.middle()),
        layers: &[],
        shown,
    };
    let frame = Frame { width: 214.0, class: "wide" };
    draw(&section, Extent::Mini, frame) + &draw(&section, Extent::Mini, NARROW)
}

fn next_act(input: &StripInput<'_>, schedule: &Schedule) -> (String, String, String) {
    let StripInput { now, shown, zone, poured, .. } = *input;
    let kind = input.plan.kind;
    let hard = shown.day_and_time(schedule.hard, zone);
    let Some(next) = schedule.pours.get(poured) else {
        return (
            "Let it cure".to_owned(),
            String::new(),
            format!("{} {hard}", kinds::hard(kind).next),
        );
    };
    let when = shown.day_and_time(next.at, zone);
    let detail = if next.at < now {
        "that hour has passed: plan the pours again".to_owned()
    } else if let Some(second) = schedule.pours.get(poured + 1) {
        let name = layer_name(poured + 1, schedule);
        format!("then {name} {}", shown.day_and_time(second.at, zone))
    } else {
        format!("{} {hard}", kinds::hard(kind).next)
    };
    (format!("Pour {}", layer_name(poured, schedule)), when, detail)
}

/// "the base", "layer 2".
#[must_use]
pub fn layer_name(index: usize, schedule: &Schedule) -> String {
    match schedule.pours[index].layer.kind {
        fondant_pours::layers::LayerKind::Seal => "the seal coat".to_owned(),
        fondant_pours::layers::LayerKind::Base => "the base".to_owned(),
        fondant_pours::layers::LayerKind::Main(number) => format!("layer {number}"),
    }
}

fn first_sentence(text: &str) -> String {
    text.split_inclusive(". ").next().unwrap_or(text).trim().to_owned()
}

fn volume(input: &StripInput<'_>) -> Figure {
    let sizing = &input.evaluation.measured.sizing;
    let shown = input.shown;
    let lines: Vec<String> = sizing.lines.iter().map(|line| shown.volume(line.volume)).collect();
    Figure::new(
        "volume",
        shown.volume(sizing.total),
        format!("net resin, {}", shown.volume_doubt(sizing.total, sizing.uncertainty)),
        "How much resin, net of timber",
    )
    .formula(format!(
        "what lies in the form + extras + left in buckets\n= {}\n= {}",
        lines.join(" + ").replace("+ -", "− "),
        shown.volume(sizing.total)
    ))
    .note(format!(
        "About 95 in 100 such casts lie within ±{} of it; what the doubt is made of stands with \
         the lines.",
        shown.volume(sizing.uncertainty)
    ))
    .note(format!("That is {} in the other units.", shown.other().volume(sizing.total)))
    .change("Line by line", format!("/casts/{}/form", input.cast))
    .change(kinds::contents(input.plan.kind), format!("/casts/{}/timber", input.cast))
}

fn mass(input: &StripInput<'_>) -> Figure {
    let (parts, shown) = (&input.evaluation.parts, input.shown);
    let resin = &input.evaluation.resin;
    Figure::new(
        "mass",
        shown.mass(parts.mass),
        format!("{} A + {} B", shown.mass(parts.a_mass), shown.mass(parts.b_mass)),
        "Mass, and parts A and B",
    )
    .formula(format!(
        "volume × mixed density = {} × {}\n= {}",
        shown.volume(parts.volume),
        shown.density(resin.density),
        shown.mass(parts.mass)
    ))
    .note(format!(
        "By mass {} : {} of A and B. By volume {} of A and {} of B.",
        fondant_quantities::units::trimmed(resin.mix.a_by_mass, 2),
        fondant_quantities::units::trimmed(resin.mix.b_by_mass, 2),
        shown.volume(parts.a_volume),
        shown.volume(parts.b_volume)
    ))
    .note("Not one kilogram a litre: mixed resin is heavier, which is how an order comes up short.")
    .change("The resin", format!("/casts/{}/resin", input.cast))
}

fn layers(input: &StripInput<'_>) -> Figure {
    let shown = input.shown;
    let address = format!("/casts/{}/pours", input.cast);
    let fill = &input.evaluation.measured.fill;
    match &input.evaluation.pours {
        Ok(schedule) => {
            let base = usize::from(fill.base().m() > 0.0);
            let main = schedule.pours.len() - base;
            let value = if base == 1 { format!("base + {main}") } else { main.to_string() };
            let each = schedule.pours.last().map(|p| p.layer.depth()).unwrap_or_default();
            Figure::new(
                "layers",
                value,
                format!("{} of {}", if main == 1 { "layer" } else { "layers" }, shown.length(each)),
                "How many layers",
            )
            .formula(format!(
                "({} − {}) ÷ {main} = {}\nallowed: {}",
                shown.length(fill.depth()),
                shown.length(fill.base()),
                shown.length(each),
                shown.length(input.evaluation.heat.allowed)
            ))
            .note("Equal layers, no deeper than the heat model allows less 15 %, the base first.")
            .note(if fill.heat_depth(fill.depth()) < fill.depth() {
                "What stands deeper than it is wide loses its heat sideways: its width counts for \
                 the heat, through an insulated wall at one side, which is on the safe side."
            } else {
                "One surface, one depth: every layer reaches from side to side."
            })
            .change("Pour times", address)
        }
        Err(trouble) => Figure::new("layers", "–".into(), "layers".into(), "How many layers")
            .note(words::pours(trouble, shown))
            .hot(true)
            .change("Pour times", address),
    }
}

fn hottest(input: &StripInput<'_>) -> Figure {
    let (shown, evaluation) = (input.shown, input.evaluation);
    let limit = evaluation.resin.working.peak_limit;
    let address = format!("/casts/{}/heat", input.cast);
    let label = format!("hottest, limit {}", shown.temperature(limit));
    let title = "The hottest any point gets, as planned";
    match &evaluation.pours {
        Ok(schedule) => Figure::new("hottest", shown.temperature(schedule.peak()), label, title)
            .formula(
                "ρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H dα/dt\nsolved through all layers poured".into(),
            )
            .note(format!(
                "{} below the limit. Without a reading of your own resin a forecast is good \
                     to {} near the limit at best.",
                shown.degrees((limit - schedule.peak()).k()),
                shown.forecast_doubt()
            ))
            .note(around(input))
            .change("Air and resin temperature", address),
        Err(_) => match &evaluation.heat.whole {
            Ok(whole) => Figure::new("hottest", shown.temperature(whole.peak), label, title)
                .note("In one pour of the whole depth, as there are no layers yet.")
                .hot(whole.margin.k() < 0.0)
                .change("Air and resin temperature", address),
            Err(error) => Figure::new("hottest", "–".into(), label, title)
                .note(words::heat(error, shown))
                .hot(true)
                .change("Air and resin temperature", address),
        },
    }
}

/// What stands around the resin while its heat is followed.
fn around(input: &StripInput<'_>) -> String {
    let width = input.evaluation.pour_task.as_ref().and_then(PourTask::width);
    match (width, input.plan.kind) {
        (Some(width), _) => format!(
            "In the air of the pours, still air over the form, an 18 mm board under it, and \
             what stands beside it where it is widest: {} from side to side.",
            input.shown.length(width)
        ),
        (None, Kind::TubeBlanks) => "In still air; the ring round the tube counts as a slab of \
             twice its thickness. A metal tube cools further."
            .into(),
        (None, _) => {
            "In the air of the pours, still air over the resin, an 18 mm board under it.".into()
        }
    }
}

fn open_form(input: &StripInput<'_>) -> Figure {
    let shown = input.shown;
    let title = "From the first pour until it is hard";
    let address = format!("/casts/{}/pours", input.cast);
    let Ok(schedule) = &input.evaluation.pours else {
        return Figure::new("open", "–".into(), kinds::hard(input.plan.kind).label.into(), title)
            .change("Pour times", address);
    };
    let Some(first) = schedule.pours.first() else { return Figure::default() };
    let whole = Span::from_s(schedule.hard.duration_since(first.at).as_secs_f64());
    let sanded =
        schedule.pours.iter().filter(|p| matches!(p.joint, Joint::AfterCure { .. })).count();
    let mut figure = Figure::new(
        "open",
        with_unit(&format!("{:.0}", whole.h()), "h"),
        kinds::hard(input.plan.kind).label.into(),
        title,
    )
    .formula(format!(
        "{} − {}\n= {}",
        shown.date_and_time(schedule.hard, input.zone),
        shown.date_and_time(first.at, input.zone),
        span(whole)
    ))
    .note(format!(
        "Hard: the glass temperature stands {} above resin and air at every point. Press a \
         thumbnail into the overfill before you trust it.",
        shown.degrees(input.evaluation.resin.working.demould_margin.k())
    ))
    .change("Pour times", address);
    if sanded > 0 {
        figure =
            figure.note(format!("{sanded} layers wait for the one below to cure and be sanded."));
    }
    figure
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, begin, hours, plan, worked};
    use fondant_quantities::Temperature;
    use jiff::SignedDuration;

    fn strip_of(change: impl FnOnce(&mut Plan), now: Timestamp) -> Strip {
        let mut plan = plan();
        change(&mut plan);
        let shop = hours(8, 18);
        let evaluation = worked(&plan, &shop).unwrap();
        strip(StripInput {
            cast: 7,
            plan: &plan,
            evaluation: &evaluation,
            zone: shop.zone(),
            now,
            poured: 0,
            shown: METRIC,
        })
    }

    #[test]
    fn every_figure_has_a_unit_a_name_and_a_working() {
        let strip = strip_of(|_| {}, begin());
        assert_eq!(strip.figures.len(), 5);
        for figure in &strip.figures {
            assert!(!figure.value.is_empty() && !figure.label.is_empty(), "{figure:?}");
            assert!(!figure.working.formula.is_empty(), "{} has no formula", figure.id);
            assert!(!figure.working.notes.is_empty(), "{} has no assumption", figure.id);
            assert!(!figure.working.changes.is_empty(), "{} cannot be changed", figure.id);
        }
        // 1000 × 250 × 42 mm of river and 1000 × 500 × 2 mm of base, 9 mL that two
        // metres of live edge drink, 3 % on top.
        assert_eq!(strip.figures[0].value, "11.9\u{202f}L");
        assert_eq!(strip.figures[1].value, "13.0\u{202f}kg");
    }

    #[test]
    fn the_next_act_is_the_first_pour_until_its_hour_has_passed() {
        let strip_now = strip_of(|_| {}, begin());
        assert_eq!(strip_now.next, "Pour the base");
        assert!(strip_now.next_detail.starts_with("then layer 1"));
        let late = strip_of(|_| {}, begin() + SignedDuration::from_hours(100));
        assert!(late.next_detail.contains("has passed"));
    }

    #[test]
    fn without_pour_times_the_strip_says_why() {
        let hot = strip_of(
            |plan| {
                plan.resin = fondant_materials::resin::ResinId("coating-epoxy".into());
                plan.conditions.air = Temperature::from_celsius(40.0);
                plan.conditions.resin = Temperature::from_celsius(40.0);
            },
            begin(),
        );
        assert_eq!(hot.next, "No pour times yet");
        assert!(hot.next_detail.contains("layers of at most"), "{}", hot.next_detail);
        assert!(hot.figures[2].is_hot && hot.figures[3].is_hot);
        assert_eq!(hot.figures[4].value, "–");
    }
}

//! The strip that never leaves: section, volume, mass, layers, heat, hours, next act.

use fondant_app::records::CastId;
use fondant_cast::mix::Parts;
use fondant_cast::{Document, Evaluation, Kind, Measured, Need, PourTask};
use fondant_pours::layers::{LayerKind, Purpose};
use fondant_pours::{Schedule, ScheduledPour};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Mass, Span, Volume};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::drawings::section::{Extent, Section, draw};
use crate::paths::casts::Station;
use crate::svg::{Frame, Markup, NARROW};
use crate::ui::figure::Figure;
use crate::ui::numbers::{span, with_unit};
use crate::ui::units::Shown;
use crate::words::counting::counted;
use crate::words::measures::form_board;
use crate::words::pours::pours;
use crate::words::{kinds, layers as named, trouble};

/// The strip of a cast.
#[derive(Debug, Clone)]
pub(crate) struct Strip {
    /// The cast's section, small.
    pub(crate) mini: Markup,
    /// Figures with their workings.
    pub(crate) figures: Vec<Figure>,
    /// The next act.
    pub(crate) next: String,
    /// Time of the next act, in words.
    pub(crate) next_when: String,
    /// Detail of the next act, in words.
    pub(crate) next_detail: String,
}

/// What the strip is made from.
#[derive(Debug, Clone, Copy)]
pub(crate) struct StripInput<'a> {
    /// The cast's number.
    pub(crate) cast: CastId,
    /// The document.
    pub(crate) document: &'a Document,
    /// The evaluation of the document.
    pub(crate) evaluation: &'a Evaluation,
    /// The shop's clock.
    pub(crate) zone: &'a TimeZone,
    /// The current time, UTC.
    pub(crate) now: Timestamp,
    /// How many pours have happened.
    pub(crate) poured: usize,
    /// There is no plan over what is poured.
    pub(crate) misfits: bool,
    /// It stands in the ledger.
    pub(crate) has_ended: bool,
    /// Units.
    pub(crate) shown: Shown,
}

/// The strip of a cast.
#[must_use]
pub(crate) fn strip(input: StripInput<'_>) -> Strip {
    let StripInput { evaluation, shown, .. } = input;
    let mini = mini(&evaluation.measured, shown);
    let (next, next_when, next_detail) = match &evaluation.pours {
        _ if input.has_ended => {
            ("It is in the ledger".to_owned(), String::new(), "nothing is left to do".to_owned())
        }
        _ if input.misfits => (
            "Undo the change".to_owned(),
            String::new(),
            "nothing can be planned over what is poured".to_owned(),
        ),
        Ok(schedule) => next_act(&input, schedule),
        Err(why) => (
            "No pour times yet".to_owned(),
            String::new(),
            first_sentence(&trouble::pours(why, shown)),
        ),
    };
    let figures =
        vec![volume(&input), mass(&input), layers(&input), hottest(&input), open_form(&input)];
    Strip { mini, figures, next, next_when, next_detail }
}

/// The section of a cast, small: for the strip and the list of casts.
#[must_use]
pub(crate) fn mini(measured: &Measured, shown: Shown) -> Markup {
    let widest = measured.river.as_ref().map(|river| river.widest().at);
    let section = Section {
        layout: &measured.layout,
        fill: &measured.fill,
        at: widest.unwrap_or_else(|| measured.layout.middle()),
        layers: &[],
        marks: &[],
        shown,
    };
    let frame = Frame { width: 214.0, class: "wide" };
    [frame, NARROW].into_iter().map(|frame| draw(&section, Extent::Mini, frame)).collect()
}

fn next_act(input: &StripInput<'_>, schedule: &Schedule) -> (String, String, String) {
    let StripInput { now, shown, zone, poured, .. } = *input;
    let kind = input.document.kind();
    let hard = shown.day_and_time(schedule.hard, zone);
    let has_flood = schedule.pours.last().is_some_and(|pour| pour.layer.kind.is_flood());
    let then = if has_flood { "the flood coat is hard" } else { kinds::hard(kind).next };
    let Some(next) = schedule.pours.get(poured) else {
        return ("Let it cure".to_owned(), String::new(), format!("{then} {hard}"));
    };
    if let Some(opens) = schedule.waits_for(poured) {
        let below = named::of(poured.saturating_sub(1), schedule);
        return (
            format!("Wait for the window of {below}"),
            shown.day_and_time(opens, zone),
            format!("then pour {}; test the cup", named::of(poured, schedule)),
        );
    }
    let when = shown.day_and_time(next.at, zone);
    let detail = if next.at < now {
        "that hour has passed: plan the pours again".to_owned()
    } else if let Some(second) = schedule.pours.get(poured + 1) {
        let name = named::of(poured + 1, schedule);
        format!("then {name} {}", shown.day_and_time(second.at, zone))
    } else {
        format!("{then} {hard}")
    };
    (format!("Pour {}", named::of(poured, schedule)), when, detail)
}

fn at(input: &StripInput<'_>, station: &str) -> String {
    Station::of(input.cast, station).to_string()
}

fn first_sentence(text: &str) -> String {
    text.split_inclusive(". ").next().unwrap_or(text).trim().to_owned()
}

fn volume(input: &StripInput<'_>) -> Figure {
    let sizing = &input.evaluation.measured.sizing;
    let (shown, total) = (input.shown, input.evaluation.total());
    let uncertainty = input.evaluation.uncertainty();
    let mut lines: Vec<String> =
        sizing.lines.iter().map(|line| shown.volume(line.volume)).collect();
    if input.evaluation.flood() > Volume::ZERO {
        lines.push(shown.volume(input.evaluation.flood()));
    }
    Figure::new(
        "volume",
        shown.volume(total),
        format!("net resin, {}", shown.volume_uncertainty(total, uncertainty)),
        "How much resin, net of timber",
    )
    .formula(format!(
        "what lies in the form + extras + left in buckets{}\n= {}\n= {}",
        if input.document.stages.flood.is_some() { " + flood coat" } else { "" },
        lines.join(" + ").replace("+ −", "− "),
        shown.volume(total)
    ))
    .note(format!(
        "About 95 of 100 casts like this lie within ±{} of it; the sources of the uncertainty are listed with \
         the lines.",
        shown.volume(uncertainty)
    ))
    .note(format!("That is {} in the other units.", shown.other().volume(total)))
    .change("Line by line", at(input, "form"))
    .change(kinds::contents(input.document.kind()), at(input, "timber"))
}

fn mass(input: &StripInput<'_>) -> Figure {
    let (parts, shown) = (&input.evaluation.own().parts, input.shown);
    let resin = &input.evaluation.resin;
    if input.evaluation.needs.len() > 1 {
        return masses(input);
    }
    Figure::new(
        "mass",
        shown.mass(parts.mass),
        parted(parts, shown),
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
    .note(match shown.system {
        UnitSystem::Metric => {
            "Not one kilogram a litre: mixed resin is heavier, which is how an order comes up short."
        }
        UnitSystem::UsCustomary => {
            "Not a pound a pint: mixed resin is heavier, which is how an order comes up short."
        }
    })
    .change("The resin", at(input, "resin"))
}

/// Parts A and B in short: as a scale shows them where there is little.
fn parted(parts: &Parts, shown: Shown) -> String {
    let short =
        |mass: Mass| if parts.mass.kg() < 1.0 { shown.weighed(mass) } else { shown.mass(mass) };
    format!("{} A + {} B", short(parts.a_mass), short(parts.b_mass))
}

/// The mass of several resins.
fn masses(input: &StripInput<'_>) -> Figure {
    let (needs, shown) = (&input.evaluation.needs, input.shown);
    let each: Vec<String> = needs.iter().map(|need| shown.mass(need.parts.mass)).collect();
    let figure = Figure::new(
        "mass",
        shown.mass(input.evaluation.mass()),
        format!("of {} resins", needs.len()),
        "Mass, and parts A and B of each resin",
    )
    .formula(format!("{}\n= {}", each.join(" + "), shown.mass(input.evaluation.mass())));
    let part = |figure: Figure, need: &Need| {
        figure.note(format!(
            "{}: {}, {} A and {} B.",
            need.resin.name,
            shown.volume(need.parts.volume),
            shown.weighed(need.parts.a_mass),
            shown.weighed(need.parts.b_mass)
        ))
    };
    needs.iter().fold(figure, part).change("The stages", at(input, "pours"))
}

fn layers(input: &StripInput<'_>) -> Figure {
    let shown = input.shown;
    let address = at(input, "pours");
    match &input.evaluation.pours {
        Ok(schedule) => {
            let is_main = |pour: &&ScheduledPour| matches!(pour.layer.kind, LayerKind::Main(_));
            let main = schedule.pours.iter().filter(is_main).count();
            let is_base = matches!(
                schedule.pours.first().map(|pour| pour.layer.kind),
                Some(LayerKind::Base | LayerKind::Stage(Purpose::Base, _))
            );
            let (value, of) = match (schedule.pours.len() - main, is_base) {
                (0, _) => (main.to_string(), ""),
                (1, true) => (format!("base + {main}"), ""),
                _ => (pours(schedule.pours.len()), "main "),
            };
            let layers = if main == 1 { "layer" } else { "layers" };
            let count = if of.is_empty() { String::new() } else { format!("{main} ") };
            let each = schedule.pours.iter().rfind(is_main);
            let each = each.map(|pour| pour.layer.depth()).unwrap_or_default();
            let (from, to) = input.evaluation.measured.filling().main();
            Figure::new(
                "layers",
                value,
                format!("{count}{of}{layers} of {}", shown.length(each)),
                "How many layers",
            )
            .formula(format!(
                "({} − {}) ÷ {main} = {}\nallowed: {}",
                shown.length(to),
                shown.length(from),
                shown.length(each),
                shown.length(input.evaluation.heat.allowed)
            ))
            .note("Equal layers, no deeper than the heat model allows less 15\u{202f}%, the base first.")
            .note("One surface, one depth: every layer reaches from side to side.")
            .change("Pour times", address)
        }
        Err(why) => Figure::new("layers", "–".into(), "layers".into(), "How many layers")
            .note(trouble::pours(why, shown))
            .hot(true)
            .change("Pour times", address),
    }
}

fn hottest(input: &StripInput<'_>) -> Figure {
    let (shown, evaluation) = (input.shown, input.evaluation);
    let limit = evaluation.resin.working.peak_limit;
    let address = at(input, "heat");
    let (word, title) = match input.poured {
        0 => ("planned", "The hottest any point gets, as planned"),
        _ => ("expected", "The hottest any point gets, by what happened and what is planned"),
    };
    let label = format!("{word}, limit {}", shown.temperature(limit));
    match &evaluation.pours {
        Ok(schedule) => Figure::new("hottest", shown.temperature(schedule.peak()), label, title)
            .formula(
                "ρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H dα/dt\nsolved through all layers poured".into(),
            )
            .note(format!(
                "{} below the limit. Without a reading of your own resin a forecast is good \
                     to {} near the limit at best.",
                shown.degrees((limit - schedule.peak()).k()),
                shown.forecast_uncertainty()
            ))
            .note(around(input))
            .change("Air and resin temperature", address),
        Err(_) => match &evaluation.heat.whole {
            Ok(whole) => Figure::new("hottest", shown.temperature(whole.peak), label, title)
                .note("In one pour of the whole depth, as there are no layers yet.")
                .hot(whole.margin.k() < 0.0)
                .change("Air and resin temperature", address),
            Err(error) => Figure::new("hottest", "–".into(), label, title)
                .note(trouble::heat(error, shown))
                .hot(true)
                .change("Air and resin temperature", address),
        },
    }
}

/// Surroundings of the resin in the heat model.
fn around(input: &StripInput<'_>) -> String {
    let width = input.evaluation.pour_task.as_ref().and_then(PourTask::width);
    let Some(width) = width.map(|width| input.shown.length(width)) else {
        return format!(
            "In the air of the pours, still air over the resin, a board of {} under it.",
            form_board(input.shown)
        );
    };
    match input.document.kind() {
        Kind::Tubes | Kind::Moulds => format!(
            "In the air of the pours, in the middle of a silicone mould on a board: a cavity {width} \
             across, with what stands in it and the wall that is its own."
        ),
        Kind::Inlay => format!(
            "In the air of the pours, in the cavity that gets hottest, {width} across, with the \
             timber around it."
        ),
        _ => format!(
            "In the air of the pours, still air over the form, a board of {} under it, and its \
             sides where it is widest: {width} from side to side.",
            form_board(input.shown)
        ),
    }
}

fn open_form(input: &StripInput<'_>) -> Figure {
    let shown = input.shown;
    let title = "From the first pour until it is hard";
    let address = at(input, "pours");
    let Ok(schedule) = &input.evaluation.pours else {
        return Figure::new(
            "open",
            "–".into(),
            kinds::hard(input.document.kind()).label.into(),
            title,
        )
        .change("Pour times", address);
    };
    let Some(first) = schedule.pours.first() else { return Figure::default() };
    let whole = Span::from_s(schedule.form_opens().duration_since(first.at).as_secs_f64());
    let sanded = schedule.sanded_joints();
    let mut figure = Figure::new(
        "open",
        with_unit(&format!("{:.0}", whole.h()), "h"),
        kinds::hard(input.document.kind()).label.into(),
        title,
    )
    .formula(format!(
        "{} − {}\n= {}",
        shown.date_and_time(schedule.form_opens(), input.zone),
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
        figure = figure.note(format!(
            "Sanded first, once what lies below has cured: {}.",
            counted(sanded, "layer")
        ));
    }
    figure
}

#[cfg(test)]
mod tests;

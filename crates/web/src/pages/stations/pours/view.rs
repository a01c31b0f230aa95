//! The pours as they are shown.

use std::sync::Arc;

use askama::Template;
use fondant_app::casts::open::{has_begun, misfits};
use fondant_app::jobs::plans_key;
use fondant_cast::document::{AirFrom, PourId};
use fondant_cast::facts;
use fondant_cast::planning::is_wanted;
use fondant_cast::pours::recoated;
use fondant_cast::{Evaluation, PourTrouble, Standing};
use fondant_pours::simulate::Observed;
use fondant_pours::{Break, Schedule, ScheduleError};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Span, bounds};
use jiff::{SignedDuration, Timestamp};

use super::facts::{FactsView, difference};
use super::form::LOCAL;
use super::notes::{hours, missed, narrow, prepared, too_thick};
use super::part::{AxisPart, Showing};
use super::rows::{PourRow, row};
use super::split::SplitView;
use super::stage_rows::StagesView;
use crate::pages::stations::asked::Asked;
use crate::paths::casts::{
    Alternatives, FitRest, LogFact, MovePour, Offers, PlanSheet, PoursCsv, Release, Settle, TryMove,
};
use crate::svg::Markup;
use crate::ui::field::Field;
use crate::words::cautions::at_the_pour;
use crate::words::{air, layers, pours, trouble};

/// Where pours are questioned that often would not hold.
pub(crate) const UNSTEADY: &str = "sure";

/// "Plan from now" plans from this long after now on.
const SOON: SignedDuration = SignedDuration::from_mins(30);

/// What the station works out beside the evaluation.
pub(crate) struct PoursExtras {
    /// The plan by what has happened; `None` where nothing has.
    pub(super) observed: Arc<Option<Observed>>,
    /// The width of the narrowest place and how much later windows open there.
    pub(super) narrowest: Option<(Length, Span)>,
    /// A key for the next note of what happened, so that it is written down once.
    pub(super) request: String,
}

/// Addresses of what is done with pours.
struct Links {
    offers: Offers,
    alternatives: Alternatives,
    settle: Settle,
    release: Release,
    fit: FitRest,
    csv: PoursCsv,
    paper: PlanSheet,
    try_move: TryMove,
    move_pour: MovePour,
    log_fact: LogFact,
}

// Many fields: the station shows the whole plan on one page.
#[derive(Template)]
#[template(path = "pages/stations/pours/pours.html")]
struct PoursPage {
    links: Links,
    /// Names what is compared: other inputs, other answers.
    key: String,
    request: String,
    refusal: String,
    /// How rarely the pours shown would hold, before they are taken.
    unsteady: String,
    axis: Markup,
    trouble: String,
    missed: Vec<String>,
    narrow: String,
    /// The shop's clock.
    zone: String,
    air_trouble: String,
    troubles: Vec<String>,
    /// Changes that would help are looked for: before anything is poured, as they plan from the floor.
    wants_help: bool,
    rows: Vec<PourRow>,
    standing: &'static str,
    standing_note: &'static str,
    has_taken: bool,
    /// Something is poured: what is left is moved, not planned again.
    has_begun: bool,
    /// Some pour to come breaks something.
    is_broken: bool,
    /// What the button says that brings the plan up to the cast as it is now.
    fit: &'static str,
    difference: String,
    split: SplitView,
    stages: StagesView,
    facts: FactsView,
    when: Vec<Field>,
    past: String,
    now_entry: String,
    hours: String,
    /// What can hurt at these pours.
    cautions: Vec<&'static str>,
}

pub(super) fn view(asked: &Asked<'_>, extras: &PoursExtras) -> askama::Result<Markup> {
    let mut page = begun(asked, &extras.request);
    let evaluation = asked.evaluation;
    let observed = extras.observed.as_ref().as_ref();
    let schedule = match (observed, &evaluation.pours) {
        (Some(observed), _) => &observed.schedule,
        (None, Ok(schedule)) => schedule,
        (None, Err(error)) => {
            page.trouble = trouble::pours(error, asked.shown);
            page.facts = FactsView::of_none(asked);
            return Markup::of(&page);
        }
    };
    show_schedule(&mut page, asked, schedule)?;
    page.narrow = narrow(asked, extras.narrowest);
    if let (Some(observed), Ok(planned)) = (observed, &asked.visit.planned.evaluation.pours) {
        page.difference = difference(observed, planned, asked.shown, asked.shop.hours().zone());
    }
    Markup::of(&page)
}

/// Everything but the schedule.
fn begun(asked: &Asked<'_>, request: &str) -> PoursPage {
    let (document, evaluation, cast) = (asked.document, asked.evaluation, asked.cast);
    let zone = asked.shop.hours().zone();
    let local = |at: Timestamp| at.to_zoned_datetime(zone.clone()).strftime(LOCAL).to_string();
    let (standing, standing_note, fit) = standing(asked);
    let begun = has_begun(&asked.visit.worked, &asked.visit.facts);
    PoursPage {
        cautions: at_the_pour(document, evaluation.needs.iter().map(|need| &*need.resin)),
        links: Links {
            offers: Offers { cast },
            alternatives: Alternatives { cast },
            settle: Settle { cast },
            release: Release { cast },
            fit: FitRest { cast },
            csv: PoursCsv { cast },
            paper: PlanSheet { cast },
            try_move: TryMove { cast },
            move_pour: MovePour { cast },
            log_fact: LogFact { cast },
        },
        key: plans_key(&asked.visit.worked).map(|key| key.to_string()).unwrap_or_default(),
        request: request.to_owned(),
        refusal: asked.refusal(),
        unsteady: asked.refusals.of(UNSTEADY),
        axis: Markup::default(),
        trouble: String::new(),
        missed: too_thick(asked).into_iter().collect(),
        narrow: String::new(),
        zone: zone.iana_name().unwrap_or("UTC").to_owned(),
        air_trouble: asked.shop.around.air_trouble.as_ref().map(air::profile).unwrap_or_default(),
        troubles: Vec::new(),
        wants_help: evaluation.standing != Standing::Taken && !begun && is_wanted(evaluation),
        rows: Vec::new(),
        standing,
        standing_note,
        has_taken: !document.pours.taken.is_empty(),
        is_broken: false,
        fit,
        has_begun: begun,
        difference: String::new(),
        split: SplitView::new(asked),
        stages: StagesView::new(asked),
        facts: FactsView::default(),
        when: when(asked, &local(document.pours.not_before)),
        past: String::new(),
        now_entry: local(asked.now + SOON),
        hours: hours(asked),
    }
}

/// When work can begin and in what air.
fn when(asked: &Asked<'_>, not_before: &str) -> Vec<Field> {
    let (document, fields) = (asked.document, asked.fields());
    let conditions = &document.conditions;
    let steady = format!("Steady, {}", asked.shown.temperature(conditions.air));
    let source = match conditions.air_from {
        AirFrom::Steady => "steady",
        AirFrom::Shop => "shop",
    };
    let minutes = trimmed(document.pours.sanding.s() / 60.0, 0);
    let lead = document.pours.lead.map(Span::h);
    let mut all = vec![
        fields.text("not_before", "Work begins", not_before).kind("datetime-local"),
        fields
            .maybe_number("lead", "Work before the first pour", lead, &bounds::LEAD_HOURS)
            .hint(prepared(asked)),
        fields.choice(
            "air_from",
            "Air of the pours",
            source,
            &[("shop", "The shop's, day and night"), ("steady", &steady)],
        ),
        fields
            .text("sanding", "Sanding between layers", &format!("{minutes} min"))
            .hint("Only where a window is missed: 80 grit, wipe, dry."),
    ];
    if conditions.air_from == AirFrom::Shop {
        let heated = fields
            .quantity("heated", "Heated by", conditions.heated)
            .hint("A heater makes the shop's air warmer by this.");
        all.insert(3, heated);
    }
    let dried = fields
        .maybe_number("dried", "Dried to", conditions.dried_to_percent, &bounds::DRIED_PERCENT)
        .hint("A dehumidifier keeps the air at or below this. Empty: none.");
    all.push(dried);
    let reason = &document.pours.outside_air;
    if !reason.is_empty() || is_unfit(asked.evaluation) {
        let why = fields
            .text("outside_air", "Reason to pour in unfit air", reason)
            .hint("With a reason the limits of humidity, dew point and cold are lifted.");
        all.push(why);
    }
    all
}

/// Whether the air forbids a pour, or all of them.
fn is_unfit(evaluation: &Evaluation) -> bool {
    match &evaluation.pours {
        Ok(schedule) => {
            schedule.breaks.iter().any(|broken| matches!(broken, Break::UnfitAir { .. }))
        }
        Err(PourTrouble::Schedule(ScheduleError::NoFitAir { .. })) => true,
        Err(_) => false,
    }
}

/// What is said where only the flood coat is not as the plan has it.
const COAT_NOTE: &str = "Only the flood coat is not as in the plan that was taken, and the hours shown \
     are proposed. Brought up to it, the plan keeps all that is in the form as it was.";

/// What the button says that brings the plan up to the flood coat; empty where more has changed, or
/// nothing.
fn coat(asked: &Asked<'_>) -> &'static str {
    let taken = &asked.document.pours.taken;
    if asked.evaluation.standing != Standing::Outdated {
        return "";
    }
    let surfaces = asked.measured().surfaces();
    let poured = facts::poured(&asked.visit.facts);
    match recoated(taken, surfaces, (PourId(0), asked.now), &poured) {
        None => "",
        Some(now) if now.len() < taken.len() => "Take the coat out of the plan",
        Some(_) => "Put the coat into the plan",
    }
}

/// What is said where the plan fits no longer and what is in does.
const REST_NOTE: &str = "The cast has changed since its plan was taken. What is poured stays as it is; the \
     hours of the rest are proposed, and stand on Today once they are in the plan.";

/// How the hours stand, what that means, and what the button says that brings the plan up to the cast.
fn standing(asked: &Asked<'_>) -> (&'static str, &'static str, &'static str) {
    let coat = coat(asked);
    match asked.evaluation.standing {
        Standing::Proposed => (
            "Proposed",
            "A quick look; nothing is promised to anybody yet. \
             Compare the alternatives below and take one, or drag a flag.",
            "",
        ),
        Standing::Taken => (
            "Taken",
            "These times are the plan: Today and the calendar go by \
             them. Drag a flag to move a pour; what follows moves along. Touch the row of a \
             layer, before now, to write down what happened.",
            "",
        ),
        Standing::Outdated if !coat.is_empty() => ("Taken, but for the coat", COAT_NOTE, coat),
        Standing::Outdated if asked.evaluation.planned.is_some() => {
            ("Out of date", REST_NOTE, "Put what is left into the plan")
        }
        Standing::Outdated if misfits(&asked.visit.worked, &asked.visit.facts) => (
            "Out of date",
            "The cast has changed since its plan was taken, and nothing can be planned over what is \
             poured: a layer that is in ends where this form has none, or over its top, or no hours \
             hold. Undo the change, or make the form one that has that layer. The hours below are \
             those of an empty form.",
            "",
        ),
        Standing::Outdated => (
            "Out of date",
            "The form has changed since the plan was taken. \
             Take one of the alternatives again; until then Today shows nothing of this cast.",
            "",
        ),
    }
}

fn show_schedule(
    page: &mut PoursPage,
    asked: &Asked<'_>,
    schedule: &Schedule,
) -> askama::Result<()> {
    let (shown, evaluation, zone) = (asked.shown, asked.evaluation, asked.shop.hours().zone());
    let (rows, ids) = (&asked.visit.facts, ids(evaluation));
    let planned = evaluation.planned.as_deref().unwrap_or_default();
    let poured = facts::poured_of(planned, rows);
    let showing = Showing {
        document: asked.document,
        shop: asked.shop,
        schedule,
        resin: &evaluation.resin,
        facts: rows,
        ids: &ids,
        poured,
        now: asked.now,
    };
    page.is_broken = !schedule.breaks.is_empty();
    page.axis = Markup::of(&AxisPart::new(&showing))?;
    page.troubles = showing.troubles().iter().map(|t| pours::trouble(t, shown, zone)).collect();
    page.rows = (0..schedule.pours.len()).map(|i| row(asked, schedule, i, i < poured)).collect();
    page.missed.extend(missed(asked, schedule));
    // What is only proposed has not happened.
    let can_have_happened = if evaluation.standing == Standing::Taken { ids.len() } else { poured };
    page.facts = FactsView::new(asked, schedule, &ids[..can_have_happened], poured);
    let next = schedule.pours.get(poured);
    if let Some(next) = next.filter(|next| next.at < asked.now) {
        page.past = format!(
            "{} stands at {}, which has passed.",
            layers::capitalised(&layers::name(next.layer.kind)),
            shown.date_and_time(next.at, zone)
        );
    }
    Ok(())
}

/// The pours that were taken; none where they are proposed.
pub(crate) fn ids(evaluation: &Evaluation) -> Vec<PourId> {
    let planned = evaluation.planned.as_deref().unwrap_or_default();
    planned.iter().map(|pour| pour.id).collect()
}

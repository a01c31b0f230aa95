//! What the station shows.

use askama::Template;
use fondant_app::ending::{Ending, Explained};
use fondant_app::records::PhotoRecord;
use fondant_quantities::Temperature;
use fondant_quantities::units::UnitSystem;
use fondant_record::compare::Difference;
use fondant_record::diagnose::Likely;
use fondant_record::end::{CastEnd, Outcome};
use fondant_record::fault::FaultKind;
use fondant_record::figures::{Figure, Unit};

use super::super::asked::Asked;
use super::super::pours::form::LOCAL;
use super::promised::{self, Promised};
use super::{drawing, form, photos};
use crate::drawings::course::{self, Drawn, Legend};
use crate::pages::stations::shown::{ShownPhoto, ShownPhotos};
use crate::paths::casts::{
    ChangeFault, CloseCast, CopyCast, Export, MarkFault, RecordSheet, ReopenCast,
};
use crate::svg::{FULL, Markup};
use crate::ui::field::Field;
use crate::ui::slug::{named, slug};
use crate::ui::units::Shown;
use crate::ui::written::Written;
use crate::words::lessons::{self, Told};
use crate::words::{causes, record};

/// Causes that are shown at once; the others open with the arithmetic.
const SHOWN_CAUSES: usize = 3;
/// Standard deviations from which a figure stands out among its like (convention).
const STANDS_OUT: f64 = 2.0;

// Many fields: each is one part of the page.
#[derive(Template)]
#[template(path = "pages/stations/record/record.html")]
struct RecordStation {
    ended: String,
    is_kept: bool,
    /// What the forms of the record change: revisions of the cast and of its record.
    revision: i32,
    record: i32,
    request: String,
    close: CloseCast,
    reopen: ReopenCast,
    mark: MarkFault,
    again: CopyCast,
    sheet: RecordSheet,
    archive: Export,
    promised: Vec<Promised>,
    /// What it was promised by.
    versions: String,
    course: Markup,
    /// What the axes are.
    degrees: &'static str,
    legend: Option<Legend>,
    done: Vec<(String, String)>,
    lessons: Vec<Told>,
    figures: Vec<FigureRow>,
    unlike: String,
    drawing: Markup,
    /// Pixels of the drawing in a metre, and around it.
    map_scale: f64,
    map_around: f64,
    map_unit: &'static str,
    /// The piece cut across, how wide it is there and where it is cut, mm.
    section: Markup,
    section_width: f64,
    section_at: f64,
    faults: Vec<FaultView>,
    /// Photos of its finishing, with what they show.
    steps: Vec<(&'static str, ShownPhoto)>,
    told: Vec<Field>,
    flags: Vec<Field>,
    fault_fields: Vec<Field>,
    outcome: Vec<(String, &'static str, bool)>,
}

struct FigureRow {
    name: &'static str,
    value: String,
    unlike: String,
    stands_out: bool,
}

struct FaultView {
    number: usize,
    /// Cut across at it, where it is known how high it is.
    section: Markup,
    name: &'static str,
    about: String,
    note: String,
    change: ChangeFault,
    confirmed: String,
    causes: Vec<CauseView>,
    more: Vec<CauseView>,
    photos: ShownPhotos,
}

struct CauseView {
    slug: String,
    name: &'static str,
    share: String,
    /// For the bar, percent.
    percent: u32,
    prior: String,
    says_for: Vec<String>,
    against: Vec<String>,
    unknown: Vec<String>,
    /// No figure could speak for it, or none is known.
    is_unknown: bool,
    now: &'static str,
    next: &'static str,
    is_confirmed: bool,
}

pub(super) fn view(
    asked: &Asked<'_>,
    ending: &Ending,
    kept_photos: &[PhotoRecord],
) -> askama::Result<Markup> {
    let cast = asked.cast;
    let closed = ending.kept.as_ref().filter(|kept| !kept.is_open);
    let ended = closed.map_or_else(String::new, |kept| ended(asked, &kept.end));
    // As typed where the form was refused.
    let typed = asked.typed.and_then(|typed| typed.get("outcome")).and_then(named);
    let kept = ending.kept.as_ref().map(|kept| kept.end.outcome);
    let outcome = typed.or(kept).unwrap_or(Outcome::Finished);
    let lived = ending.lived.as_ref().map(|lived| Drawn { lived, shown: asked.shown });
    let page = RecordStation {
        ended,
        is_kept: closed.is_some(),
        revision: as_typed(asked, "revision", asked.visit.open.record.revision),
        record: as_typed(asked, "record", ending.kept.as_ref().map_or(0, |kept| kept.revision)),
        request: fondant_app::Request::new_key().unwrap_or_default(),
        close: CloseCast { cast },
        reopen: ReopenCast { cast },
        mark: MarkFault { cast },
        again: CopyCast { cast },
        sheet: RecordSheet { cast },
        archive: Export { cast, file: "cast.zip".to_owned() },
        promised: promised::promised(asked, ending),
        versions: promised::versions(asked, ending),
        course: lived.map_or_else(Markup::default, |drawn| course::draw(drawn, FULL)),
        degrees: course::degrees(asked.shown),
        legend: lived.map(course::legend),
        done: lived.map_or_else(Vec::new, |drawn| course::told(&drawn.lived.course, asked.shown)),
        lessons: ending.lessons.iter().map(|one| lessons::told(one, asked.shown)).collect(),
        figures: figures(ending, asked.shown),
        unlike: unlike(ending),
        steps: photos::of_steps(asked, kept_photos),
        drawing: drawing::draw(&asked.measured().layout, &ending.faults, asked.shown),
        map_scale: drawing::scale(&asked.measured().layout),
        map_around: drawing::AROUND,
        section: drawing::cut_across(asked),
        section_width: asked.measured().layout.width.mm(),
        section_at: asked.measured().layout.middle().mm(),
        map_unit: match asked.shown.system {
            UnitSystem::Metric => "mm",
            UnitSystem::UsCustomary => "in",
        },
        faults: ending
            .faults
            .iter()
            .zip(1..)
            .map(|(one, number)| fault(asked, (one, kept_photos), number))
            .collect(),
        told: told_fields(asked, ending),
        flags: flag_fields(asked, ending),
        fault_fields: fault_fields(asked),
        outcome: outcomes(outcome),
    };
    Markup::of(&page)
}

/// How a cast can end, and which it is.
fn outcomes(chosen: Outcome) -> Vec<(String, &'static str, bool)> {
    let told = [(Outcome::Finished, "Finished"), (Outcome::GivenUp, "Given up")];
    told.map(|(outcome, says)| (slug(outcome), says, outcome == chosen)).to_vec()
}

/// How it came to its end, and when.
fn ended(asked: &Asked<'_>, end: &CastEnd) -> String {
    let how = match end.outcome {
        Outcome::Finished => "Finished",
        Outcome::GivenUp => "Given up",
    };
    format!("{how} on {}.", asked.shown.date_and_time(end.ended_at, asked.shop.hours().zone()))
}

/// A revision as the maker saw it: a change that came too late stays late until somebody chooses.
fn as_typed(asked: &Asked<'_>, name: &str, now: i32) -> i32 {
    asked.typed.and_then(|typed| typed.number(name)).unwrap_or(now)
}

fn figures(ending: &Ending, shown: Shown) -> Vec<FigureRow> {
    let row = |(figure, value): (Figure, f64)| {
        let among = ending.unlike.iter().find(|difference| difference.figure == figure);
        let deviations = among.and_then(|difference| difference.deviations);
        FigureRow {
            name: record::figure(figure),
            value: record::value(figure, value, shown),
            unlike: among.map_or_else(String::new, |found| among_like(found, shown)),
            stands_out: deviations.is_some_and(|deviations| deviations >= STANDS_OUT),
        }
    };
    ending.figures.known().map(row).collect()
}

fn among_like(difference: &Difference, shown: Shown) -> String {
    let Some(deviations) = difference.deviations else { return String::new() };
    let usual = match difference.figure.unit() {
        Unit::Flag => return String::new(),
        _ => record::value(difference.figure, difference.other, shown),
    };
    if deviations < 1.0 {
        return format!("usual {usual}");
    }
    format!("usual {usual}, {deviations:.1} × its spread away")
}

/// What stands out first among casts of its kind.
fn unlike(ending: &Ending) -> String {
    let known = ending.unlike.iter().filter(|one| one.deviations.is_some()).count();
    let out = ending.unlike.iter().filter(|one| one.deviations.is_some_and(|d| d >= STANDS_OUT));
    let names: Vec<&str> = out.map(|one| record::figure(one.figure)).take(3).collect();
    match (known, names.is_empty()) {
        (0, _) => "There are too few finished casts of this kind to compare with.".into(),
        (_, true) => "Nothing stands out among the finished casts of this kind.".into(),
        _ => format!("Unlike the others of its kind: {}.", names.join(", ")),
    }
}

fn fault(
    asked: &Asked<'_>,
    (one, photos): (&Explained, &[PhotoRecord]),
    number: usize,
) -> FaultView {
    let (shown, kept) = (asked.shown, &one.kept);
    let mut about = Vec::new();
    if let Some(place) = kept.fault.place {
        about.push(format!(
            "{} from the left, {} from the near wall",
            shown.length(place.x),
            shown.length(place.y)
        ));
        about.extend(place.z.map(|z| format!("{} above the floor", shown.length(z))));
    }
    if let Some(size) = kept.fault.size {
        about.push(format!("{} across", shown.length(size)));
    }
    let mut views = one.causes.iter().map(|likely| {
        let is_confirmed = kept.cause == Some(likely.cause);
        cause(likely, is_confirmed, shown)
    });
    FaultView {
        number,
        section: drawing::cut_at(asked, kept.fault.place, number),
        name: record::fault(kept.fault.kind),
        about: about.join(", "),
        note: kept.fault.note.clone(),
        change: ChangeFault { cast: asked.cast, fault: kept.id },
        confirmed: kept.cause.map_or_else(String::new, |cause| causes::told(cause).name.to_owned()),
        causes: views.by_ref().take(SHOWN_CAUSES).collect(),
        more: views.collect(),
        photos: photos::of_fault(asked, one, photos),
    }
}

fn cause(likely: &Likely, is_confirmed: bool, shown: Shown) -> CauseView {
    let told = causes::told(likely.cause);
    let percent = (likely.share * 100.0).round();
    let own = match likely.confirmed {
        0 => String::new(),
        1 => ", once confirmed here".to_owned(),
        times => format!(", {times} times confirmed here"),
    };
    let says = |one| record::evidence(one, shown);
    CauseView {
        slug: slug(likely.cause),
        name: told.name,
        share: format!("{percent:.0}\u{202f}%"),
        percent: percent as u32,
        prior: format!("began at {:.0}\u{202f}%{own}", likely.prior * 100.0),
        says_for: likely.speaks_for().map(says).collect(),
        against: likely.speaks_against().map(says).collect(),
        unknown: likely.unknown().map(says).collect(),
        is_unknown: likely.is_unknown(),
        now: told.now,
        next: told.next,
        is_confirmed,
    }
}

fn told_fields(asked: &Asked<'_>, ending: &Ending) -> Vec<Field> {
    let (fields, zone) = (asked.fields(), asked.shop.hours().zone());
    let kept = ending.kept.as_ref().map(|kept| &kept.end);
    let at = kept.map_or(asked.now, |kept| kept.ended_at);
    let at = at.to_zoned_datetime(zone.clone()).strftime(LOCAL).to_string();
    let said = |figure| kept.and_then(|kept| kept.told.get(figure));
    let number = |value: Option<f64>| {
        value.map_or_else(String::new, |v| fondant_quantities::units::trimmed(v, 2))
    };
    let bucket = said(Figure::Bucket)
        .map_or_else(String::new, |k| Temperature::from_k(k).entry(asked.shown));
    let humidity = number(said(Figure::Humidity).map(|share| share * 100.0));
    let hint = |mut field: Field, hint: &str| {
        field.hint = hint.to_owned();
        field
    };
    vec![
        fields.text("ended", "When", &at).kind("datetime-local"),
        fields.text("people", "Who worked on it", kept.map_or("", |kept| &kept.people)),
        hint(fields.text("bucket", "Coldest bucket", &bucket), "Where it was measured by hand."),
        hint(
            fields.text("humidity", "Humidity, %", &humidity),
            "Where you know better than the log.",
        ),
        hint(
            fields.text("grit_step", "Largest step between grits", &number(said(Figure::GritStep))),
            "From 80 to 180 is 2.25.",
        ),
        fields.text("note", "What is to be remembered", kept.map_or("", |kept| &kept.note)),
    ]
}

/// What was not measured, and can be said by yes or no.
fn flag_fields(asked: &Asked<'_>, ending: &Ending) -> Vec<Field> {
    let answers = [("", "not known"), ("yes", "yes"), ("no", "no")];
    let told = |figure| ending.kept.as_ref().and_then(|kept| kept.end.told.get(figure));
    let is_open =
        |figure: &Figure| told(*figure).is_some() || ending.measured.get(*figure).is_none();
    let field = |figure: Figure| {
        let now = match told(figure) {
            None => "",
            Some(value) if value > 0.5 => "yes",
            Some(_) => "no",
        };
        asked.fields().choice(&form::flag_field(figure), record::figure(figure), now, &answers)
    };
    form::FLAGS.into_iter().filter(is_open).map(field).collect()
}

fn fault_fields(asked: &Asked<'_>) -> Vec<Field> {
    let fields = asked.fields();
    let kinds: Vec<(String, &str)> =
        FaultKind::ALL.into_iter().map(|kind| (slug(kind), record::fault(kind))).collect();
    let mut choices: Vec<(&str, &str)> = vec![("", "choose")];
    choices.extend(kinds.iter().map(|(slug, name)| (slug.as_str(), *name)));
    vec![
        fields.choice("kind", "What is wrong", "", &choices),
        fields.text("at_x", "From the left end", ""),
        fields.text("at_y", "From the near wall", ""),
        fields.text("at_z", "Above the floor", ""),
        fields.text("size", "How large, across", ""),
        fields.text("fault_note", "Remark", ""),
    ]
}

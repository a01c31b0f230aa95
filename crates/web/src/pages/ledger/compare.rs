//! Two casts, figure by figure, in units of the shop's own spread.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use fondant_app::App;
use fondant_app::courses::Lived;
use fondant_app::records::CastId;
use fondant_record::figures::Unit;

use super::asking::Asking;
use crate::drawings::course::{self, Drawn, Legend, StepTold};
use crate::paths::casts::Station;
use crate::paths::shop::{Compare, Ledger};
use crate::svg::{FULL, Markup};
use crate::ui::error::WebError;
use crate::ui::page::{Page, Place};
use crate::ui::units::{InUnits, Shown};
use crate::words::record;

#[derive(Template, WebTemplate)]
#[template(path = "pages/ledger/compare.html")]
pub(super) struct ComparePage {
    page: Page,
    ledger: Ledger,
    sides: [Side; 2],
    rows: Vec<Row>,
    says: String,
    spread: &'static str,
    curves: Option<Markup>,
    degrees: &'static str,
    legend: Legend,
    steps: Vec<StepTold>,
}

struct Side {
    name: String,
    href: Station,
    faults: String,
}

struct Row {
    name: &'static str,
    one: String,
    other: String,
    apart: String,
    stands_out: bool,
}

pub(super) async fn show(
    _: Compare,
    State(app): State<App>,
    Query(asking): Query<Asking>,
) -> Result<ComparePage, WebError> {
    let number = |text: &str| text.parse().ok().map(CastId);
    let both = number(&asking.one).zip(number(&asking.other));
    let (one, other) = both.ok_or(WebError::BadForm("choose two casts".into()))?;
    let shop = app.shop().await?;
    let found = fondant_app::ledger::compare(&app, &shop, (one, other)).await?;
    let shown = shop.shown();
    let side = |cast, (name, faults): &(String, Vec<fondant_record::fault::FaultKind>)| Side {
        name: name.clone(),
        href: Station::of(cast, "record"),
        faults: match faults.as_slice() {
            [] => "no fault".into(),
            all => all.iter().map(|kind| record::fault(*kind)).collect::<Vec<_>>().join(", "),
        },
    };
    let row = |one: &fondant_record::compare::Difference| Row {
        name: record::figure(one.figure),
        one: record::value(one.figure, one.one, shown),
        other: record::value(one.figure, one.other, shown),
        apart: match (one.figure.unit(), one.deviations) {
            (Unit::Flag, _) if (one.one - one.other).abs() > 0.5 => "unlike".into(),
            (Unit::Flag, _) => "the same".into(),
            (_, None) => "spread not known".into(),
            (_, Some(deviations)) => format!("{deviations:.1}\u{202f}× the spread"),
        },
        stands_out: one.deviations.is_some_and(|deviations| deviations >= 2.0),
    };
    let rows: Vec<Row> = found.differences.iter().map(row).collect();
    let drawn = drawn(&found.lived, shown);
    let names = [found.sides[0].0.as_str(), found.sides[1].0.as_str()];
    let out: Vec<&str> = rows.iter().filter(|row| row.stands_out).map(|row| row.name).collect();
    Ok(ComparePage {
        page: Page::new("Compare", Place::Ledger),
        ledger: Ledger,
        sides: [side(one, &found.sides[0]), side(other, &found.sides[1])],
        spread: if found.is_one_kind {
            "The spread is that of the shop’s other casts of this kind."
        } else {
            "These are two kinds of casts: the spread is that of all the shop’s casts."
        },
        says: match out.as_slice() {
            [] => "No figure is further apart than the shop’s casts usually are.".into(),
            [first, ..] => format!("What differs most: {first}."),
        },
        curves: drawn.and_then(|both| course::compared(both, names, FULL)),
        degrees: course::degrees(shown),
        legend: course::legend_of_two(names),
        steps: drawn.map_or_else(Vec::new, |[one, other]| {
            course::steps(&one.lived.course, &other.lived.course, shown)
        }),
        rows,
    })
}

/// Both casts as they are drawn; `None` where nothing was poured of one of them.
fn drawn(lived: &[Option<Lived>; 2], shown: Shown) -> Option<[Drawn<'_>; 2]> {
    let [Some(one), Some(other)] = lived else { return None };
    Some([one, other].map(|lived| Drawn { lived, shown }))
}

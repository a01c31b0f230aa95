//! The page of the ledger, and its table for other programs.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use fondant_app::ledger::{self, LedgerPage as Found};
use fondant_app::records::{LedgerRow, LedgerTotals};
use fondant_app::{App, Shop};
use fondant_cast::Kind;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Money, Span, Volume};
use fondant_record::end::Outcome;
use fondant_record::fault::FaultKind;

use super::asking::{Asking, CHARTED, SORTS};
use super::charts::{bars, individuals};
use crate::paths::casts::Station;
use crate::paths::shop::{Compare, Ledger, LedgerCsv};
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::numbers::{money, money_rounded, span};
use crate::ui::page::{Follows, Page, Place, Script};
use crate::ui::slug::slug;
use crate::ui::units::{InUnits, Shown};
use crate::words::{kinds, record};

// Many fields: each is one part of the page.
#[derive(Template, WebTemplate)]
#[template(path = "pages/ledger/list.html")]
pub(super) struct LedgerPage {
    page: Page,
    asking: Asking,
    /// Why an amount that was typed is left out.
    refused: Vec<String>,
    /// The unit in which resin is looked for.
    unit: &'static str,
    /// No cast has come to its end yet.
    is_empty: bool,
    rows: Vec<Row>,
    heads: Vec<Head>,
    totals: Vec<(String, &'static str)>,
    charts: [(&'static str, Markup); 3],
    figures: Vec<Choice>,
    chart: Option<Markup>,
    chart_says: String,
    chart_name: &'static str,
    kinds: Vec<Choice>,
    resins: Vec<Choice>,
    outcomes: Vec<Choice>,
    faults: Vec<Choice>,
    next: String,
    newest: String,
    csv: String,
    compare: Compare,
}

struct Head {
    name: &'static str,
    href: String,
    /// `up`, `down`, or empty where it is not sorted by this.
    order: &'static str,
}

struct Row {
    number: i64,
    href: Station,
    name: String,
    ended: String,
    about: String,
    people: String,
    volume: String,
    hours: String,
    cost: String,
    faults: String,
    is_faulty: bool,
}

struct Choice {
    value: String,
    name: String,
    is_chosen: bool,
}

pub(super) async fn show(
    _: Ledger,
    State(app): State<App>,
    Query(asking): Query<Asking>,
) -> Result<LedgerPage, WebError> {
    let shop = app.shop().await?;
    let found = ledger::page(&app, &shop, &asking.asked(&shop), asking.charted()).await?;
    Ok(page(&shop, asking, &found))
}

fn page(shop: &Shop, asking: Asking, found: &Found) -> LedgerPage {
    let shown = shop.shown();
    let chart = individuals(asking.charted(), &found.charted, shown);
    let month = |label: &str| label.to_owned();
    let kind = |label: &str| kind_name(label);
    let [by_month, by_resin, by_kind] = &found.groups;
    LedgerPage {
        page: Page::new("Ledger", Place::Ledger).with(&[Script::Htmx]).following(Follows::Nothing),
        is_empty: found.totals.casts == 0 && !asking.is_narrowed(),
        rows: found.rows.iter().map(|one| row(one, shop)).collect(),
        heads: heads(&asking),
        totals: totals(&found.totals, shown),
        charts: [
            ("By month", bars("Casts by month", by_month, month)),
            ("By resin", bars("Casts by resin", by_resin, month)),
            ("By kind", bars("Casts by kind", by_kind, kind)),
        ],
        figures: choices(
            CHARTED.map(|one| (slug(one), record::figure(one).to_owned())),
            &slug(asking.charted()),
        ),
        chart: chart.drawing,
        chart_says: chart.says,
        chart_name: record::figure(asking.charted()),
        kinds: choices(
            Kind::ALL.map(|kind| (kind.slug().to_owned(), kinds::name(kind).to_owned())),
            &asking.kind,
        ),
        resins: choices(
            found.resins.iter().map(|name| (name.clone(), name.clone())),
            &asking.resin,
        ),
        outcomes: choices(
            [(Outcome::Finished, "Finished"), (Outcome::GivenUp, "Given up")]
                .map(|(outcome, name)| (slug(outcome), name.to_owned())),
            &asking.outcome,
        ),
        faults: choices(
            FaultKind::ALL.map(|kind| (slug(kind), record::fault(kind).to_owned())),
            &asking.fault,
        ),
        next: found
            .next
            .map_or_else(String::new, |cast| asking.with(&[("after", &cast.to_string())])),
        newest: if asking.after.is_empty() { String::new() } else { asking.with(&[]) },
        csv: asking.address(&LedgerCsv.to_string(), &[]),
        compare: Compare,
        refused: asking.refused(shown.system),
        unit: match shown.system {
            UnitSystem::Metric => "L",
            UnitSystem::UsCustomary => "gal",
        },
        asking,
    }
}

fn choices(all: impl IntoIterator<Item = (String, String)>, chosen: &str) -> Vec<Choice> {
    let choice = |(value, name): (String, String)| {
        let is_chosen = value == chosen;
        Choice { value, name, is_chosen }
    };
    all.into_iter().map(choice).collect()
}

fn heads(asking: &Asking) -> Vec<Head> {
    let head = |(sort, slug, name): (_, &'static str, &'static str)| {
        let is_by = asking.sort() == sort;
        let is_up = asking.order == "up";
        // A second tap turns it round.
        let order = if is_by && !is_up { "up" } else { "" };
        Head {
            name,
            href: asking.with(&[("sort", slug), ("order", order)]),
            order: match (is_by, is_up) {
                (false, _) => "",
                (true, true) => "up",
                (true, false) => "down",
            },
        }
    };
    SORTS.into_iter().map(head).collect()
}

fn totals(totals: &LedgerTotals, shown: Shown) -> Vec<(String, &'static str)> {
    let share = |part: u64| {
        let whole = totals.casts.max(1) as f64;
        format!("{:.0}", part as f64 / whole * 100.0)
    };
    vec![
        (totals.casts.to_string(), "casts"),
        (format!("{}\u{202f}%", share(totals.sound)), "without a fault"),
        (share(totals.faults), "faults in a hundred casts"),
        (shown.volume(Volume::from_m3(totals.volume_m3)), "resin"),
        (span(Span::from_s(totals.hours_s)), "of work"),
        (money_rounded(Money::from_units(totals.cost)), "cost of the casts"),
        (money_rounded(Money::from_units(totals.cost_of_faults)), "of that, with faults"),
    ]
}

fn kind_name(slug: &str) -> String {
    Kind::from_slug(slug).map_or(slug, |kind| kinds::name(kind)).to_owned()
}

fn row(one: &LedgerRow, shop: &Shop) -> Row {
    let shown = shop.shown();
    let zone = shop.hours().zone();
    let kind = kind_name(&one.kind);
    let about: Vec<&String> =
        [&kind, &one.resin, &one.timber].into_iter().filter(|text| !text.is_empty()).collect();
    let given_up = one.outcome == Outcome::GivenUp;
    Row {
        number: one.cast.0,
        href: Station::of(one.cast, "record"),
        name: one.name.clone(),
        ended: one.ended_at.to_zoned_datetime(zone.clone()).strftime("%-d %b %Y").to_string(),
        about: about.into_iter().map(String::as_str).collect::<Vec<_>>().join(", "),
        people: one.people.clone(),
        volume: shown.volume(Volume::from_m3(one.volume_m3)),
        hours: if one.hours_s > 0.0 { span(Span::from_s(one.hours_s)) } else { "–".into() },
        cost: money(Money::from_units(one.cost)),
        faults: match (given_up, one.faults) {
            (true, 0) => "given up".into(),
            (true, faults) => format!("given up, {faults}"),
            (false, 0) => "–".into(),
            (false, faults) => faults.to_string(),
        },
        is_faulty: given_up || one.faults > 0,
    }
}

/// A line of the table for other programs.
#[derive(serde::Serialize)]
struct Line<'a> {
    cast: i64,
    name: &'a str,
    ended_at: String,
    outcome: &'static str,
    kind: &'a str,
    resin: &'a str,
    timber: &'a str,
    people: &'a str,
    volume_l: String,
    hours: String,
    cost: String,
    faults: u32,
}

/// What the page shows, all pages together, as a table for other programs.
pub(super) async fn csv(
    _: LedgerCsv,
    State(app): State<App>,
    Query(asking): Query<Asking>,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let rows = ledger::all(&app, &shop, &asking.asked(&shop)).await?;
    let mut out = csv::Writer::from_writer(Vec::new());
    for one in &rows {
        let line = Line {
            cast: one.cast.0,
            name: &one.name,
            ended_at: one.ended_at.to_string(),
            outcome: match one.outcome {
                Outcome::Finished => "finished",
                Outcome::GivenUp => "given up",
            },
            kind: &one.kind,
            resin: &one.resin,
            timber: &one.timber,
            people: &one.people,
            volume_l: format!("{:.3}", one.volume_m3 * 1e3),
            hours: format!("{:.2}", one.hours_s / 3600.0),
            cost: format!("{:.2}", one.cost),
            faults: one.faults,
        };
        out.serialize(line).map_err(|error| WebError::Fault(error.to_string()))?;
    }
    let body = out.into_inner().map_err(|error| WebError::Fault(error.to_string()))?;
    let name = "attachment; filename=\"ledger.csv\"";
    let headers =
        [(header::CONTENT_TYPE, "text/csv; charset=utf-8"), (header::CONTENT_DISPOSITION, name)];
    Ok((headers, body).into_response())
}

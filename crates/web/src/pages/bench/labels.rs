//! Labels for the buckets of a run, to print at 1:1 or to take to another program: what is in it, of each
//! part, with a box to tick for each.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use fondant_app::App;
use fondant_bench::Run;
use fondant_bench::run::Tinting;
use fondant_bench::weighing::Pair;
use fondant_quantities::Mass;
use fondant_shapes::blanks::label::Paper;
use serde::Deserialize;

use super::handlers::opened;
use crate::pages::prints::paper;
use crate::pages::stations::asked::Visit;
use crate::paths::casts::{Run as RunPath, RunLabels};
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};
use crate::words::bench::vessel;
use crate::words::layers::{self, capitalised};

/// Length and width of a label, mm: its text can be read standing at a bucket.
const LABEL_MM: (f64, f64) = (90.0, 50.0);
/// Printers leave this much of the paper bare, mm.
const BORDER_MM: f64 = 10.0;
/// Characters of a name that fit on a line.
const NAME: usize = 38;
/// More buckets than this are not labelled: twenty sheets.
const MOST: u32 = 200;

#[derive(Debug, Deserialize)]
pub(super) struct On {
    paper: Option<String>,
    /// `svg` for the drawing alone.
    r#as: Option<String>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/bench/labels.html")]
struct LabelsPage {
    back: RunPath,
    here: RunLabels,
    sheets: Vec<Markup>,
    is_letter: bool,
}

#[derive(Template)]
#[template(path = "pages/bench/label_sheet.html")]
struct Sheet {
    width_mm: f64,
    height_mm: f64,
    labels: Vec<CupLabel>,
}

struct CupLabel {
    x: f64,
    y: f64,
    width: f64,
    height: f64,
    cast: String,
    bucket: String,
    a: String,
    b: String,
    /// Colours by the recipe; empty where it is clear.
    colour: String,
    resin: String,
}

pub(super) async fn show(
    path: RunLabels,
    State(app): State<App>,
    Query(on): Query<On>,
) -> Result<Response, WebError> {
    let (visit, kept) = opened(&app, path.cast, path.run).await?;
    let run = Run::of(kept.plan.clone(), &kept.rows);
    let paper = paper(&visit.open.shop, on.paper.as_deref());
    let labels = texts(&run, &visit);
    if on.r#as.as_deref() == Some("svg") {
        // All of them below each other, two in a row.
        let rows = labels.len().div_ceil(2) as f64;
        let size = (2.0 * LABEL_MM.0 + 2.0 * BORDER_MM, rows * LABEL_MM.1 + 2.0 * BORDER_MM);
        let sheet = sheet(labels, size).render()?;
        let headers = [
            (header::CONTENT_TYPE, "image/svg+xml"),
            (header::CONTENT_DISPOSITION, "attachment; filename=\"bucket-labels.svg\""),
        ];
        return Ok((headers, sheet).into_response());
    }
    let (width, height) = paper.size();
    let a_sheet = 2 * ((height.mm() - 2.0 * BORDER_MM) / LABEL_MM.1).floor() as usize;
    let mut sheets = Vec::new();
    let mut left = labels;
    while !left.is_empty() {
        let rest = left.split_off(a_sheet.clamp(1, left.len()).min(left.len()));
        sheets.push(Markup::of(&sheet(left, (width.mm(), height.mm())))?);
        left = rest;
    }
    let page = LabelsPage {
        back: RunPath { cast: path.cast, run: path.run },
        here: path,
        sheets,
        is_letter: paper == Paper::Letter,
    };
    Ok(page.into_response())
}

/// The labels of all buckets of a run: as weighed where they are, as planned where they come.
fn texts(run: &Run, visit: &Visit) -> Vec<CupLabel> {
    let shown = visit.open.shop.shown();
    let cut = |text: &str| text.chars().take(NAME).collect::<String>();
    let to_come = run.to_come();
    let first = run.next_number();
    let all = (first - 1 + to_come.count).min(MOST);
    let pair = |number: u32| match run.batch(number) {
        Some(batch) => batch.weighed().unwrap_or_else(|| batch.target(&run.plan)),
        None => {
            let mass = run.cup_of(number).map_or(to_come.each, |cup| cup.mass);
            Pair::of(mass, &run.plan.resin)
        }
    };
    let label = |number: u32| {
        let pair = pair(number);
        CupLabel {
            x: 0.0,
            y: 0.0,
            width: LABEL_MM.0,
            height: LABEL_MM.1,
            cast: cut(&format!("{}, {}", visit.document.name, layers::name(run.plan.layer))),
            bucket: cut(&match run.cup_of(number) {
                Some(_) => capitalised(&vessel(run, number)),
                None => format!("Bucket {number} of {all}"),
            }),
            a: format!("A {}", shown.weighed(pair.a)),
            b: format!("B {}", shown.weighed(pair.b)),
            colour: cut(&colours(run, (number, pair.mixed()), shown)),
            resin: cut(&run.plan.resin.name),
        }
    };
    (1..=all).map(label).collect()
}

/// What a bucket of a mixed mass gets of each colour.
fn colours(run: &Run, (number, mixed): (u32, Mass), shown: Shown) -> String {
    let told = |tinting: &Tinting| {
        let mass = mixed * run.share_of(tinting);
        format!("{} {}", tinting.colour, shown.weighed(mass))
    };
    let all: Vec<String> =
        run.plan.recipe.iter().filter(|tinting| run.gets(number, tinting)).map(told).collect();
    all.join(", ")
}

fn sheet(labels: Vec<CupLabel>, (width_mm, height_mm): (f64, f64)) -> Sheet {
    let left = 0.5 * (width_mm - 2.0 * LABEL_MM.0);
    let placed = |(place, label): (usize, CupLabel)| CupLabel {
        x: left + (place % 2) as f64 * LABEL_MM.0,
        y: BORDER_MM + (place / 2) as f64 * LABEL_MM.1,
        ..label
    };
    Sheet { width_mm, height_mm, labels: labels.into_iter().enumerate().map(placed).collect() }
}

//! Labels for tubes, to print and to take to another program.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use fondant_app::casts::{self, Open};
use fondant_app::{App, Shop};
use fondant_cast::Contents;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::blanks::label::Paper;
use serde::Deserialize;

use crate::drawings::labels::Labels as Drawing;
use crate::paths::casts::{Labels, Station};
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::units::InUnits;

#[derive(Template, WebTemplate)]
#[template(path = "pages/prints/labels.html")]
pub(super) struct LabelsPage {
    title: &'static str,
    back: Station,
    sheets: Vec<Markup>,
    too_large: bool,
    is_letter: bool,
}

/// The paper asked for.
#[derive(Debug, Deserialize)]
pub(super) struct On {
    paper: Option<String>,
}

/// The paper of the shop's printer: by its units, where it does not say.
pub(crate) fn paper(shop: &Shop, asked: Option<&str>) -> Paper {
    match (asked, shop.shown().system) {
        (Some("letter"), _) | (None, UnitSystem::UsCustomary) => Paper::Letter,
        _ => Paper::A4,
    }
}

pub(super) async fn show(
    Labels { cast }: Labels,
    State(app): State<App>,
    Query(on): Query<On>,
) -> Result<LabelsPage, WebError> {
    let open = casts::open(&app, cast).await?;
    let paper = paper(&open.shop, on.paper.as_deref());
    let sheets = drawn(&open, paper, |drawing| {
        (0..drawing.grid.sheets()).map(|number| drawing.sheet(number)).collect()
    })?;
    Ok(LabelsPage {
        title: "Labels",
        back: Station::of(cast, "timber"),
        too_large: sheets.is_none(),
        sheets: sheets.unwrap_or_default(),
        is_letter: paper == Paper::Letter,
    })
}

/// All sheets as one file.
pub(super) fn file(open: &Open) -> Result<String, WebError> {
    let all = drawn(open, paper(&open.shop, None), |drawing| drawing.all_sheets())?;
    all.ok_or(WebError::NotFound("label"))
}

/// What is made of a cast's labels; `None` where no sheet holds one.
fn drawn<T>(
    open: &Open,
    paper: Paper,
    make: impl FnOnce(&Drawing<'_>) -> askama::Result<T>,
) -> Result<Option<T>, WebError> {
    let document = &open.record.document;
    let Contents::Tubes(tubes) = &document.contents else {
        return Err(WebError::NotFound("label"));
    };
    let Some(grid) = tubes.label.on_sheets(tubes.count as usize, paper) else { return Ok(None) };
    let drawing = Drawing { label: &tubes.label, grid: &grid, paper, of: &document.name };
    Ok(Some(make(&drawing)?))
}

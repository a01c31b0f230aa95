//! What is taken to the saw, the printer and other programs, at 1:1.

mod sheet;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use axum_extra::routing::RouterExt;
use fondant_app::App;
use fondant_app::casts::{self, Open};
use fondant_cast::document::Tubes;
use fondant_cast::{Contents, measure};
use fondant_files::{dxf, svg};
use fondant_quantities::Length;
use fondant_shapes::form::FREEBOARD;
use fondant_shapes::form::cut_list::{Cut, cut_list};

use crate::Web;
use crate::drawings::blanks::{nest_note, part_name, sheets};
use crate::drawings::labels;
use crate::paths::casts::{CutList, Export, Labels, Station};
use crate::svg::{FULL, Markup};
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(export).typed_get(label_sheets).typed_get(cut_list_page)
}

async fn export(path: Export, State(app): State<App>) -> Result<Response, WebError> {
    let document = casts::open(&app, path.cast).await?.record.document;
    let file = path.file.as_str();
    let text = match (file, &document.contents) {
        ("labels.svg", Contents::Tubes(tubes)) => {
            let nest = tubes.label.on_sheets(tubes.count as usize);
            labels::sheet(&tubes.label, &nest, 0)?.into_string()
        }
        ("outlines.svg", _) => svg::write(&sheet::of(&document)?),
        ("outlines.dxf", _) => dxf::write(&sheet::of(&document)?),
        _ => return Err(WebError::NotFound("page")),
    };
    let kind = if file.ends_with(".dxf") { "image/vnd.dxf" } else { "image/svg+xml" };
    let disposition = format!("attachment; filename=\"{file}\"");
    let headers =
        [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)];
    Ok((headers, text).into_response())
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/prints/labels.html")]
struct LabelsPage {
    title: &'static str,
    back: Station,
    sheets: Vec<Markup>,
    too_large: bool,
}

async fn label_sheets(
    Labels { cast }: Labels,
    State(app): State<App>,
) -> Result<LabelsPage, WebError> {
    let document = casts::open(&app, cast).await?.record.document;
    let Contents::Tubes(Tubes { label, count, .. }) = &document.contents else {
        return Err(WebError::NotFound("label"));
    };
    let nest = label.on_sheets(*count as usize);
    let sheets = (0..nest.sheets).map(|number| labels::sheet(label, &nest, number));
    Ok(LabelsPage {
        title: "Labels",
        back: Station::of(cast, "timber"),
        sheets: sheets.collect::<Result<_, _>>()?,
        too_large: !nest.too_large.is_empty(),
    })
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/prints/cut_list.html")]
struct CutListPage {
    title: &'static str,
    back: Station,
    name: String,
    inside: String,
    outside: String,
    note: String,
    rows: Vec<(String, String)>,
    drawing: Markup,
}

async fn cut_list_page(
    CutList { cast }: CutList,
    State(app): State<App>,
) -> Result<CutListPage, WebError> {
    cut_list_of(&casts::open(&app, cast).await?)
}

fn cut_list_of(open: &Open) -> Result<CutListPage, WebError> {
    let (document, shown) = (&open.record.document, open.shop.shown());
    let none = || WebError::NotFound("cut list");
    let build = document.contents.build().ok_or_else(none)?;
    let measured = measure(document).map_err(|_| none())?;
    let height = measured.fill.depth() + FREEBOARD;
    let stock = build.stock();
    let list = cut_list(&measured.cast, height, build.thickness, stock);
    Ok(CutListPage {
        title: "Cut list",
        back: Station::of(open.record.id, "form"),
        name: document.name.clone(),
        inside: format!(
            "{} × {} × {}",
            shown.length_figure(measured.cast.length),
            shown.length_figure(measured.cast.width),
            shown.length(height)
        ),
        outside: format!(
            "{} × {}",
            shown.length_figure(list.outside_length),
            shown.length(list.outside_width)
        ),
        note: nest_note(list.nest.used_ratio, list.nest.sheets),
        rows: list.cuts.iter().map(|cut| row(cut, build.thickness, shown)).collect(),
        drawing: sheets(&list, &stock, shown, FULL),
    })
}

fn row(cut: &Cut, thickness: Length, shown: Shown) -> (String, String) {
    let size = format!(
        "{} × {} × {}",
        shown.length_figure(cut.length),
        shown.length_figure(cut.width),
        shown.length(thickness)
    );
    (format!("{} × {}", cut.count, part_name(cut.part)), size)
}

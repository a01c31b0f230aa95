//! What is taken to the saw, the printer and other programs, at 1:1.

mod cuts;
mod label_sheets;
mod plan;
mod sheet;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use fondant_app::App;
use fondant_app::casts::{self, Open, archived, exchange};
use fondant_files::{dxf, svg};
use fondant_quantities::Length;
use fondant_shapes::form::cut_list::Cut;

use cuts::Cuts;
pub(crate) use label_sheets::paper;

use crate::Web;
use crate::drawings::blanks::{nest_note, part_name, sheets};
use crate::paths::casts::{CutList, Export, Station};
use crate::routing::Routes;
use crate::svg::{FULL, Markup};
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};
use crate::words::files;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(export)
        .typed_get(label_sheets::show)
        .typed_get(cut_list_page)
        .typed_get(plan::show)
}

async fn export(path: Export, State(app): State<App>) -> Result<Response, WebError> {
    let open = casts::open(&app, path.cast).await?;
    let document = &open.record.document;
    let file = path.file.as_str();
    if file == "cast.zip" {
        let zipped = archived::zipped(&app, &open).await?;
        let refused = |error| WebError::NotWritten(StatusCode::CONFLICT, files::file(&error));
        return Ok(sent(file, "application/zip", zipped.map_err(refused)?));
    }
    let text = match file {
        "labels.svg" => label_sheets::file(&open)?,
        "outlines.svg" => svg::write(&sheet::of(document)?),
        "outlines.dxf" => dxf::write(&sheet::of(document)?),
        "cast.json" => exchange::write(&open)?,
        "cut-list.csv" => cuts::csv(&Cuts::of(document)?)?,
        "cut-list.dxf" => dxf::write(&cuts::sheet(&Cuts::of(document)?, &document.name)),
        _ => return Err(WebError::NotFound("page")),
    };
    let kind = match file.rsplit('.').next() {
        Some("dxf") => "image/vnd.dxf",
        Some("csv") => "text/csv; charset=utf-8",
        Some("json") => "application/json",
        _ => "image/svg+xml",
    };
    Ok(sent(file, kind, text))
}

/// A file that a browser saves under its name.
fn sent(file: &str, kind: &str, body: impl IntoResponse) -> Response {
    let disposition = format!("attachment; filename=\"{file}\"");
    let headers =
        [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)];
    (headers, body).into_response()
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/prints/cut_list.html")]
struct CutListPage {
    title: &'static str,
    back: Station,
    csv: Export,
    dxf: Export,
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
    let (cast, document, shown) = (open.record.id, &open.record.document, open.shop.shown());
    let Cuts { list, stock, thickness, inside } = Cuts::of(document)?;
    let export = |file: &str| Export { cast, file: file.to_owned() };
    Ok(CutListPage {
        title: "Cut list",
        back: Station::of(cast, "form"),
        csv: export("cut-list.csv"),
        dxf: export("cut-list.dxf"),
        name: document.name.clone(),
        inside: format!(
            "{} × {} × {}",
            shown.length_figure(inside[0]),
            shown.length_figure(inside[1]),
            shown.length(inside[2])
        ),
        outside: format!(
            "{} × {}",
            shown.length_figure(list.outside_length),
            shown.length(list.outside_width)
        ),
        note: nest_note(list.nest.used_ratio, list.nest.sheets),
        rows: list.cuts.iter().map(|cut| row(cut, thickness, shown)).collect(),
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

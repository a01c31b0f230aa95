//! What is taken to the saw, the printer and other programs, at 1:1.

use askama::Template;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::{Html, IntoResponse, Response};
use fondant_cast::{Kind, measure};
use fondant_files::{dxf, svg};
use fondant_shapes::form::CastSize;
use fondant_shapes::form::FREEBOARD;
use fondant_shapes::form::cut_list::cut_list;
use fondant_shapes::geometry::Outline;

use super::files::visited;
use super::stations::nest_note;
use crate::drawings::blanks::{part_name, sheets};
use crate::drawings::{FULL, labels};
use crate::{AppState, WebError};

pub(in crate::routes) async fn outlines(
    State(state): State<AppState>,
    Path((cast, format)): Path<(String, String)>,
) -> Result<Response, WebError> {
    let (_, record) = visited(&state, &cast).await?;
    let plan = &record.plan;
    let size = CastSize::of(&plan.piece);
    if format == "labels.svg" && plan.kind == Kind::TubeBlanks {
        let label = plan.moulding.label;
        let nest = label.on_sheets(plan.moulding.count as usize);
        let first = labels::sheet(&label, &nest, 0);
        return Ok(download("labels.svg", "image/svg+xml", first));
    }
    let named: Vec<(String, Outline)> = plan
        .board_shapes()
        .into_iter()
        .enumerate()
        .filter_map(|(index, shape)| Some((format!("board {}", index + 1), shape?.outline)))
        .collect();
    if named.is_empty() {
        return Err(WebError::NotFound("outline"));
    }
    Ok(match format.as_str() {
        "outlines.svg" => download(
            "outlines.svg",
            "image/svg+xml",
            svg::write(&plan.name, &named, size.length, size.width),
        ),
        "outlines.dxf" => download("outlines.dxf", "image/vnd.dxf", dxf::write(&named, size.width)),
        _ => return Err(WebError::NotFound("page")),
    })
}

fn download(name: &str, kind: &'static str, text: String) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)], text)
        .into_response()
}

#[derive(Template)]
#[template(path = "casts/labels.html")]
struct LabelsPage {
    title: &'static str,
    cast: i64,
    sheets: Vec<String>,
    too_large: bool,
}

pub(in crate::routes) async fn label_sheets(
    State(state): State<AppState>,
    Path(cast): Path<String>,
) -> Result<Response, WebError> {
    let (_, record) = visited(&state, &cast).await?;
    let label = record.plan.moulding.label;
    let nest = label.on_sheets(record.plan.moulding.count as usize);
    let page = LabelsPage {
        title: "Labels",
        cast: record.id.0,
        sheets: (0..nest.sheets).map(|number| labels::sheet(&label, &nest, number)).collect(),
        too_large: !nest.too_large.is_empty(),
    };
    Ok(Html(page.render()?).into_response())
}

#[derive(Template)]
#[template(path = "casts/cut_list.html")]
struct CutListPage {
    title: &'static str,
    cast: i64,
    name: String,
    inside: String,
    outside: String,
    note: String,
    rows: Vec<(String, String)>,
    drawing: String,
}

pub(in crate::routes) async fn cut_list_page(
    State(state): State<AppState>,
    Path(cast): Path<String>,
) -> Result<Response, WebError> {
    let (shop, record) = visited(&state, &cast).await?;
    let (plan, shown) = (&record.plan, shop.shown);
    let measured = measure(plan).map_err(|_| WebError::NotFound("cut list"))?;
    if !plan.kind.has_form() {
        return Err(WebError::NotFound("cut list"));
    }
    let height = measured.fill.depth() + FREEBOARD;
    let stock = plan.build.stock();
    let list = cut_list(&measured.cast, height, plan.build.thickness, stock);
    let page = CutListPage {
        title: "Cut list",
        cast: record.id.0,
        name: plan.name.clone(),
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
        rows: list
            .cuts
            .iter()
            .map(|cut| {
                (
                    format!("{} × {}", cut.count, part_name(cut.part)),
                    format!(
                        "{} × {} × {}",
                        shown.length_figure(cut.length),
                        shown.length_figure(cut.width),
                        shown.length(plan.build.thickness)
                    ),
                )
            })
            .collect(),
        drawing: sheets(&list, &stock, shown, FULL),
    };
    Ok(Html(page.render()?).into_response())
}

//! Photos and files brought into a cast: outlines from SVG and DXF, a solid
//! from STL.

use askama::Template;
use axum::extract::{Multipart, Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::document::SCHEMA_VERSION;
use fondant_cast::{Kind, Plan, Shaping, refusals};
use fondant_files::{DRAWING_LIMIT, FLATTENED_TO, MESH_LIMIT, PHOTO_LIMIT, dxf, photo, stl, svg};
use fondant_quantities::{Density, Length, Mass, bounds};
use fondant_shapes::geometry::overlay::{overlap, simplified};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Bounds, Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Insert, InsertShape};
use fondant_store::StoreError;
use fondant_store::repos::{CastId, CastRecord, NewPhoto};

use super::photos::squared_href;
use crate::entries::{Reader, Refusals};
use crate::routes::uploads::Upload;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::{file_words, words};
use crate::{AppState, WebError};

#[derive(Template)]
#[template(path = "casts/files.html")]
struct FilesPage {
    title: &'static str,
    place: &'static str,
    cast: i64,
    name: String,
    revision: i32,
    has_boards: bool,
    has_objects: bool,
    photos: Vec<PhotoRow>,
    photo_refusal: String,
    outlines_refusal: String,
    mesh_refusal: String,
    mesh_fields: Vec<Field>,
    photo_limit: usize,
    drawing_limit: usize,
    mesh_limit: usize,
}

struct PhotoRow {
    href: String,
    picture: String,
    about: String,
}

/// A cast and its shop, as every page beside its stations needs them.
pub(super) async fn visited(state: &AppState, cast: &str) -> Result<(Shop, CastRecord), WebError> {
    let id = CastId(cast.parse().map_err(|_| WebError::NotFound("cast"))?);
    let shop = state.shop().await?;
    let record = state.store.cast(shop.id, id).await?;
    Ok((shop, record))
}

pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Path(cast): Path<String>,
) -> Result<Response, WebError> {
    let (shop, record) = visited(&state, &cast).await?;
    page(&state, &shop, &record, &Refusals::default(), None).await
}

async fn page(
    state: &AppState,
    shop: &Shop,
    record: &CastRecord,
    refusals: &Refusals,
    typed: Option<&crate::entries::Entries>,
) -> Result<Response, WebError> {
    let fields = Fields { shown: shop.shown, typed, refusals };
    let units = [("mm", "millimetres"), ("cm", "centimetres"), ("in", "inches"), ("m", "metres")];
    let photos = state.store.photos(record.id).await?;
    let page = FilesPage {
        title: "Photo and files",
        place: "casts",
        cast: record.id.0,
        name: record.plan.name.clone(),
        revision: record.revision,
        has_boards: record.plan.kind == Kind::River,
        has_objects: matches!(record.plan.kind, Kind::Embed | Kind::River),
        photos: photos
            .iter()
            .map(|p| {
                let base = format!("/casts/{}/photos/{}", record.id.0, p.id.0);
                let squared = p.squaring.as_ref().map(|s| squared_href(record.id, p.id, s));
                PhotoRow {
                    picture: squared.unwrap_or_else(|| format!("{base}/photo.jpg")),
                    about: format!(
                        "{} × {} px{}",
                        p.width,
                        p.height,
                        if p.squaring.is_some() { ", squared up" } else { "" }
                    ),
                    href: base,
                }
            })
            .collect(),
        photo_refusal: refusals.of("photo"),
        outlines_refusal: refusals.of("outlines"),
        mesh_refusal: refusals.of("mesh"),
        mesh_fields: vec![
            fields.choice("unit", "A unit of the file is", "mm", &units),
            fields
                .mass("mass", "Mass of the object", Mass::from_kg(0.1))
                .hint("As it goes in: dry, and sealed if it is porous."),
        ],
        photo_limit: PHOTO_LIMIT,
        drawing_limit: DRAWING_LIMIT,
        mesh_limit: MESH_LIMIT,
    };
    let status =
        if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    Ok((status, Html(page.render()?)).into_response())
}

async fn refused(
    state: &AppState,
    shop: &Shop,
    record: &CastRecord,
    field: &str,
    sentence: String,
) -> Result<Response, WebError> {
    let mut refusals = Refusals::default();
    refusals.add(field, sentence);
    page(state, shop, record, &refusals, None).await
}

pub(in crate::routes) async fn add_photo(
    State(state): State<AppState>,
    Path(cast): Path<String>,
    multipart: Multipart,
) -> Result<Response, WebError> {
    let mut upload = Upload::read(multipart, PHOTO_LIMIT).await?;
    let file = upload.file(PHOTO_LIMIT);
    let (shop, record) = visited(&state, &cast).await?;
    let photo = match state.compute(move || photo::read(&file?)).await? {
        Ok(photo) => photo,
        Err(error) => {
            return refused(&state, &shop, &record, "photo", file_words::file(&error)).await;
        }
    };
    let new = NewPhoto {
        jpeg: photo.jpeg,
        width: photo.width,
        height: photo.height,
        sha256: photo.sha256,
    };
    let id = state.store.add_photo(shop.id, record.id, &new, state.now()).await?;
    Ok(Redirect::to(&format!("/casts/{}/photos/{}", record.id.0, id.0)).into_response())
}

pub(in crate::routes) async fn add_outlines(
    State(state): State<AppState>,
    Path(cast): Path<String>,
    multipart: Multipart,
) -> Result<Response, WebError> {
    let mut upload = Upload::read(multipart, DRAWING_LIMIT).await?;
    let file = upload.file(DRAWING_LIMIT);
    let (shop, record) = visited(&state, &cast).await?;
    let Upload { entries, name, .. } = upload;
    let is_dxf = name.to_lowercase().ends_with(".dxf");
    let read = move || if is_dxf { dxf::read(&file?) } else { svg::read(&file?) };
    let outlines = match state.compute(read).await? {
        Ok(outlines) => outlines,
        Err(error) => {
            return refused(&state, &shop, &record, "outlines", file_words::file(&error)).await;
        }
    };
    let mut plan = record.plan.clone();
    match entries.get("place") {
        Some("under") => place_undersides(&mut plan, &outlines),
        place => place_outlines(&mut plan, &outlines, place != Some("beside")),
    }
    save(&state, &shop, &record, plan, entries.number("revision"), "outlines").await
}

/// Puts outlines into a plan as boards: those of a drawing as they lie there,
/// moved as one so that they begin inside the form.
fn place_outlines(plan: &mut Plan, outlines: &[Outline], instead: bool) {
    let all = Bounds::of(outlines.iter().flat_map(|o| &o.outer));
    let shift = Point { x_m: (-all.min.x_m).max(0.0), y_m: (-all.min.y_m).max(0.0) };
    let moved: Vec<Outline> = outlines
        .iter()
        // Flattened curves have more points than their tolerance asks for.
        .map(|o| simplified(&o.map(|p| on_the_tape(p.plus(shift))), FLATTENED_TO))
        .collect();
    set_outlines(plan, moved, instead);
}

/// Gives each board the outline that it lies on most as its underside.
fn place_undersides(plan: &mut Plan, outlines: &[Outline]) {
    for board in &mut plan.timber.boards {
        let Some(shape) = &mut board.shape else { continue };
        let under = outlines
            .iter()
            .filter_map(|o| Some((overlap(&shape.outline, o)?.0, o)))
            .max_by(|a, b| a.0.m2().total_cmp(&b.0.m2()));
        if let Some((_, outline)) = under {
            let rim = Outline::new(outline.map(on_the_tape).outer);
            shape.underside = Underside::Outline(simplified(&rim, FLATTENED_TO));
        }
    }
}

/// A point to the thousandth of a millimetre: readers with single precision
/// leave a hair beyond the wall that no saw would find.
fn on_the_tape(p: Point) -> Point {
    let round = |v: f64| (v * 1e6).round() * 1e-6;
    Point { x_m: round(p.x_m), y_m: round(p.y_m) }
}

/// Boards of these outlines: each takes timber and thickness from the board
/// that was there in its place.
pub(super) fn set_outlines(plan: &mut Plan, outlines: Vec<Outline>, instead: bool) {
    let before = plan.timber.boards.clone();
    let usual = || Board::usual(plan.piece.thickness + plan.piece.flattening * 2.0);
    let mut boards = if instead { Vec::new() } else { before.clone() };
    for outline in outlines {
        let like = before.get(boards.len()).or(before.last()).cloned().unwrap_or_else(usual);
        let shape = Some(BoardShape::square(outline));
        boards.push(Board { shape, weighed: None, ..like });
    }
    plan.timber.boards = boards;
    plan.timber.shaping = Shaping::Outlines;
}

/// Keeps a plan that something was brought into; what does not fit is said at
/// the field of its file, and nothing is kept.
pub(super) async fn save(
    state: &AppState,
    shop: &Shop,
    record: &CastRecord,
    mut plan: Plan,
    expected: Option<i32>,
    field: &str,
) -> Result<Response, WebError> {
    plan.schema = SCHEMA_VERSION;
    let conflicts = refusals(&plan);
    if let Some(first) = conflicts.first() {
        let said = words::conflict(first, shop.shown);
        return refused(state, shop, record, field, said).await;
    }
    let expected = expected.unwrap_or(record.revision);
    match state.store.save_plan(shop.id, record.id, expected, &plan, state.now()).await {
        Ok(_) => Ok(Redirect::to(&format!("/casts/{}/timber", record.id.0)).into_response()),
        Err(StoreError::Stale { .. }) => {
            let said =
                "The cast was changed in another tab since this page was opened. Nothing was \
                        brought in: choose the file once more."
                    .to_owned();
            refused(state, shop, record, field, said).await
        }
        Err(error) => Err(error.into()),
    }
}

pub(in crate::routes) async fn add_mesh(
    State(state): State<AppState>,
    Path(cast): Path<String>,
    multipart: Multipart,
) -> Result<Response, WebError> {
    let mut upload = Upload::read(multipart, MESH_LIMIT).await?;
    let file = upload.file(MESH_LIMIT);
    let (shop, record) = visited(&state, &cast).await?;
    let Upload { entries, name, .. } = upload;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let mut mass = Mass::ZERO;
    reader.quantity("mass", &bounds::MASS, &mut mass);
    let mut unit = Length::from_mm(1.0);
    let units = [("mm", 1.0), ("cm", 10.0), ("in", 25.4), ("m", 1000.0)];
    reader.choice("unit", &units.map(|(name, mm)| (name, Length::from_mm(mm))), &mut unit);
    let mut refusals = reader.refusals;
    let solid = match state.compute(move || stl::read(&file?, unit)).await? {
        Ok(solid) => Some(solid),
        Err(error) => {
            refusals.add("mesh", file_words::file(&error));
            None
        }
    };
    let Some(solid) = solid.filter(|_| refusals.is_empty()) else {
        return page(&state, &shop, &record, &refusals, Some(&entries)).await;
    };
    let mut plan = record.plan.clone();
    let called =
        name.trim_end_matches(".stl").trim_end_matches(".STL").chars().take(40).collect::<String>();
    plan.inserts.push(Insert {
        name: if called.is_empty() { "object".into() } else { called },
        count: 1,
        shape: InsertShape::Mesh {
            file: name,
            volume: solid.volume,
            size: solid.size,
            triangles: u32::try_from(solid.triangles).unwrap_or(u32::MAX),
            was_inside_out: solid.was_inside_out,
        },
        mass,
        density: Density::from_kg_m3(mass.kg() / solid.volume.m3()),
        above_floor: Length::ZERO,
    });
    save(&state, &shop, &record, plan, entries.number("revision"), "mesh").await
}

//! A photo: its four corners, the picture squared up, the timber found in it.

use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_files::photo;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, bounds};
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::homography::{Homography, Pixel};
use fondant_shapes::geometry::overlay::simplified;
use fondant_shapes::picture::trace::{TimberIs, outlines};
use fondant_shapes::picture::{Raster, square_up};
use fondant_store::repos::{
    CastId, CastRecord, KnownLength, PhotoId, PhotoRecord, Picture, Squaring,
};
use serde::Deserialize;

use super::files::{save, set_outlines, visited};
use super::stations::ring_text;
use crate::entries::{Entries, Reader, Refusals};
use crate::routes::extract::Typed;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::file_words;
use crate::views::format::Shown;
use crate::{AppState, WebError};

/// Longest side of a squared-up picture, pixels.
const LONGEST_PX: f64 = 1600.0;
/// Most pixels of it per metre: finer than a camera sees across a bench.
const MOST_PX_PER_M: f64 = 2500.0;
/// How far a finger misses a corner, pixels of the photo.
const MISSED_PX: f64 = 4.0;
/// A squared-up length off by more than this is not traced by.
const OFF_PERCENT: f64 = 0.5;
/// The outline that is proposed is straightened to this.
const STRAIGHTENED: Length = Length::from_mm(0.8);

#[derive(Template)]
#[template(path = "casts/photo.html")]
struct PhotoPage {
    title: &'static str,
    place: &'static str,
    cast: i64,
    name: String,
    revision: i32,
    photo: i64,
    width: u32,
    height: u32,
    corners: Vec<CornerField>,
    fields: Vec<Field>,
    refusal: String,
    found: Option<Found>,
}

struct CornerField {
    name: String,
    label: String,
    value: String,
}

/// What was found in the squared-up picture.
struct Found {
    picture: String,
    length_mm: String,
    width_mm: String,
    outlines: Vec<FoundOutline>,
    is_cooler: bool,
    sentences: Vec<String>,
    sum: String,
}

struct FoundOutline {
    points: String,
    about: String,
}

/// Which half of the colours is timber.
#[derive(Debug, Clone, Copy, Deserialize)]
pub(in crate::routes) struct Choosing {
    cooler: Option<u8>,
}

impl Choosing {
    fn timber(self) -> TimberIs {
        if self.cooler == Some(1) { TimberIs::Cooler } else { TimberIs::Warmer }
    }
}

struct Visit {
    shop: Shop,
    record: CastRecord,
    photo: PhotoRecord,
}

async fn visit(state: &AppState, cast: &str, photo: &str) -> Result<Visit, WebError> {
    let (shop, record) = visited(state, cast).await?;
    let id: i64 = photo.parse().map_err(|_| WebError::NotFound("photo"))?;
    let photos = state.store.photos(record.id).await?;
    let photo = photos.into_iter().find(|p| p.id.0 == id).ok_or(WebError::NotFound("photo"))?;
    Ok(Visit { shop, record, photo })
}

pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Path((cast, photo)): Path<(String, String)>,
    Query(choosing): Query<Choosing>,
) -> Result<Response, WebError> {
    let visit = visit(&state, &cast, &photo).await?;
    page(&state, &visit, choosing, None, &Refusals::default()).await
}

async fn page(
    state: &AppState,
    visit: &Visit,
    choosing: Choosing,
    typed: Option<&Entries>,
    refusals: &Refusals,
) -> Result<Response, WebError> {
    let Visit { shop, record, photo } = visit;
    let fields = Fields { shown: shop.shown, typed, refusals };
    let cast = fondant_shapes::form::CastSize::of(&record.plan.piece);
    let squaring = photo.squaring.as_ref();
    let (length, width) = squaring.map_or((cast.length, cast.width), |s| (s.length, s.width));
    let corners = squaring.map_or_else(|| begin_corners(photo), |s| s.corners);
    let check = squaring.and_then(|s| s.check);
    let ends = check.map_or_else(|| begin_ends(photo), |c| c.ends);
    let found = match squaring {
        Some(squaring) if refusals.is_empty() => {
            Some(found(state, visit, squaring, choosing).await?)
        }
        _ => None,
    };
    let page = PhotoPage {
        title: "Square up a photo",
        place: "casts",
        cast: record.id.0,
        name: record.plan.name.clone(),
        revision: record.revision,
        photo: photo.id.0,
        width: photo.width,
        height: photo.height,
        corners: corner_fields(typed, &corners, &ends),
        fields: vec![
            fields
                .length("length", "From corner 1 to 2", length)
                .hint("The form inside, or any rectangle laid on the bench."),
            fields.length("width", "From corner 2 to 3", width),
            match check {
                Some(check) => {
                    fields.length("check_length", "From a to b, by the tape", check.length)
                }
                None => fields.text("check_length", "From a to b, by the tape", ""),
            }
            .hint(
                "Any length you can measure on the bench, to check the rest by. May be left empty.",
            ),
        ],
        refusal: refusals.of("corners"),
        found,
    };
    let status =
        if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    Ok((status, Html(page.render()?)).into_response())
}

/// Corners a little inside the photo, to be dragged from there.
fn begin_corners(photo: &PhotoRecord) -> [Pixel; 4] {
    let (w, h) = (f64::from(photo.width), f64::from(photo.height));
    [(0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)]
        .map(|(x, y)| Pixel { x_px: w * x, y_px: h * y })
}

/// Ends of a length to check by, across the middle.
fn begin_ends(photo: &PhotoRecord) -> [Pixel; 2] {
    let (w, h) = (f64::from(photo.width), f64::from(photo.height));
    [0.35, 0.65].map(|x| Pixel { x_px: w * x, y_px: h * 0.5 })
}

/// The six places as fields: as typed, or as kept.
fn corner_fields(
    typed: Option<&Entries>,
    corners: &[Pixel; 4],
    ends: &[Pixel; 2],
) -> Vec<CornerField> {
    let names = [
        ("corner0", "Corner 1"),
        ("corner1", "Corner 2"),
        ("corner2", "Corner 3"),
        ("corner3", "Corner 4"),
        ("end0", "End a"),
        ("end1", "End b"),
    ];
    names
        .into_iter()
        .zip(corners.iter().chain(ends))
        .map(|((name, label), place)| {
            let kept = format!("{},{}", trimmed(place.x_px, 1), trimmed(place.y_px, 1));
            let typed = typed.and_then(|t| t.get(name));
            CornerField {
                name: name.to_owned(),
                label: format!("{label}, x,y in px"),
                value: typed.unwrap_or(&kept).to_owned(),
            }
        })
        .collect()
}

/// Address of a squared-up picture: another one for other corners or another
/// size, so that a browser may keep it.
pub(in crate::routes) fn squared_href(cast: CastId, photo: PhotoId, squaring: &Squaring) -> String {
    let corners: Vec<String> =
        squaring.corners.iter().map(|c| format!("{:.0}-{:.0}", c.x_px, c.y_px)).collect();
    let (length, width) = (squaring.length.mm().round(), squaring.width.mm().round());
    let version = format!("{}-{length}-{width}", corners.join("-"));
    format!("/casts/{}/photos/{}/squared.jpg?v={version}", cast.0, photo.0)
}

async fn found(
    state: &AppState,
    visit: &Visit,
    squaring: &Squaring,
    choosing: Choosing,
) -> Result<Found, WebError> {
    let (shown, record, photo) = (visit.shop.shown, &visit.record, &visit.photo);
    let proposed = propose(state, visit, squaring, choosing.timber()).await?;
    let mut sentences = Vec::new();
    if let Ok(plane) = Homography::of_rectangle(squaring.corners, squaring.length, squaring.width) {
        let middle = plane.to_photo(fondant_shapes::geometry::Point {
            x_m: squaring.length.m() / 2.0,
            y_m: squaring.width.m() / 2.0,
        });
        let pixel = plane.pixel_size(middle);
        sentences.push(format!(
            "A pixel of the photo is {} here; a corner missed by {MISSED_PX} px is off by {}.",
            shown.length_fine(pixel),
            shown.length_fine(pixel * MISSED_PX)
        ));
        sentences.push(residual(&plane, squaring, shown));
    }
    let total = proposed.iter().map(Outline::area).sum();
    Ok(Found {
        picture: squared_href(record.id, photo.id, squaring),
        length_mm: trimmed(squaring.length.mm(), 2),
        width_mm: trimmed(squaring.width.mm(), 2),
        sum: format!(
            "{} found, {} of timber",
            match proposed.len() {
                0 => "No outline".to_owned(),
                1 => "1 outline".to_owned(),
                n => format!("{n} outlines"),
            },
            shown.area(total)
        ),
        outlines: proposed
            .iter()
            .map(|o| FoundOutline {
                points: ring_text(&Outline::new(o.outer.clone())),
                about: format!("{}, {} points", shown.area(o.area()), o.point_count()),
            })
            .collect(),
        is_cooler: choosing.timber() == TimberIs::Cooler,
        sentences,
    })
}

/// How far the squared-up plane is from a length that was measured.
fn residual(plane: &Homography, squaring: &Squaring, shown: Shown) -> String {
    let Some(check) = squaring.check else {
        return "Four corners are always met: mark a length from a to b and type it to see how far \
                off the rest is. Boards stand higher than the rectangle, so that a camera close by \
                shows them larger."
            .to_owned();
    };
    let [a, b] = check.ends.map(|end| plane.to_bench(end));
    let found = Length::from_m(b.minus(a).norm_m());
    let off = (found / check.length - 1.0) * 100.0;
    let verdict = if off.abs() <= OFF_PERCENT {
        "Good enough to trace by."
    } else {
        "Look at the corners and at the size of the rectangle, or photograph from farther away."
    };
    format!(
        "From a to b it measures {}, the tape says {}: off by {} %. {verdict}",
        shown.length(found),
        shown.length(check.length),
        trimmed(off, 1)
    )
}

/// Outlines of the timber in a squared-up photo.
async fn propose(
    state: &AppState,
    visit: &Visit,
    squaring: &Squaring,
    timber: TimberIs,
) -> Result<Vec<Outline>, WebError> {
    let (shop, record, photo) = (&visit.shop, &visit.record, &visit.photo);
    let jpeg = state.store.picture(shop.id, record.id, photo.id, Picture::Squared).await?;
    let scale = squaring.pixels_per_m;
    state
        .compute(move || {
            let raster = photo::raster(&jpeg).map_err(|e| WebError::Internal(e.to_string()))?;
            let found = outlines(&raster, scale, timber);
            Ok(found.iter().map(|o| simplified(o, STRAIGHTENED)).collect())
        })
        .await?
}

pub(in crate::routes) async fn square(
    State(state): State<AppState>,
    Path((cast, photo)): Path<(String, String)>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let visit = visit(&state, &cast, &photo).await?;
    let mut reader = Reader::new(&entries, visit.shop.shown.system);
    let (mut length, mut width) = (Length::ZERO, Length::ZERO);
    reader.quantity("length", &bounds::FINISHED_LENGTH, &mut length);
    reader.quantity("width", &bounds::FINISHED_WIDTH, &mut width);
    let mut known = None;
    reader.maybe("check_length", &bounds::FINISHED_LENGTH, &mut known);
    let mut refusals = reader.refusals;
    let corners = [0, 1, 2, 3].map(|i| corner(entries.get(&format!("corner{i}"))));
    let ends = [0, 1].map(|i| corner(entries.get(&format!("end{i}"))));
    let plane = Homography::of_rectangle(corners, length, width);
    if let (Err(error), true) = (&plane, refusals.is_empty()) {
        refusals.add("corners", file_words::corners(*error));
    }
    let (Ok(plane), true) = (plane, refusals.is_empty()) else {
        let choosing = Choosing { cooler: None };
        return page(&state, &visit, choosing, Some(&entries), &refusals).await;
    };
    let (shop, record, id) = (&visit.shop, &visit.record, visit.photo.id);
    let jpeg = state.store.picture(shop.id, record.id, id, Picture::Photo).await?;
    let pixels_per_m = (LONGEST_PX / length.max(width).m()).min(MOST_PX_PER_M);
    let squared = state
        .compute(move || {
            let raster: Raster = photo::raster(&jpeg)?;
            photo::keep(&square_up(&raster, &plane, length, width, pixels_per_m))
        })
        .await?
        .map_err(|error| WebError::Internal(error.to_string()))?;
    let is_place = |p: &Pixel| p.x_px.is_finite() && p.y_px.is_finite();
    let check =
        known.filter(|_| ends.iter().all(is_place)).map(|length| KnownLength { ends, length });
    let squaring = Squaring { corners, length, width, pixels_per_m, check };
    state.store.square_photo(record.id, id, &squaring, squared.jpeg).await?;
    Ok(Redirect::to(&format!("/casts/{}/photos/{}#found", record.id.0, id.0)).into_response())
}

/// A corner as `x,y` in pixels; what is none is no number, which is refused.
fn corner(text: Option<&str>) -> Pixel {
    let parsed = text.and_then(|t| t.split_once(',')).and_then(|(x, y)| {
        Some(Pixel { x_px: x.trim().parse().ok()?, y_px: y.trim().parse().ok()? })
    });
    parsed.unwrap_or(Pixel { x_px: f64::NAN, y_px: f64::NAN })
}

pub(in crate::routes) async fn take(
    State(state): State<AppState>,
    Path((cast, photo)): Path<(String, String)>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let visit = visit(&state, &cast, &photo).await?;
    let squaring = visit.photo.squaring.clone().ok_or(WebError::NotFound("squared photo"))?;
    let cooler = (entries.get("cooler") == Some("1")).then_some(1);
    let found = propose(&state, &visit, &squaring, Choosing { cooler }.timber()).await?;
    let mut plan = visit.record.plan.clone();
    set_outlines(&mut plan, found, true);
    save(&state, &visit.shop, &visit.record, plan, entries.number("revision"), "photo").await
}

pub(in crate::routes) async fn remove(
    State(state): State<AppState>,
    Path((cast, photo)): Path<(String, String)>,
) -> Result<Response, WebError> {
    let visit = visit(&state, &cast, &photo).await?;
    state.store.remove_photo(visit.record.id, visit.photo.id).await?;
    Ok(Redirect::to(&format!("/casts/{}/files", visit.record.id.0)).into_response())
}

pub(in crate::routes) async fn picture(
    State(state): State<AppState>,
    Path((cast, photo, which)): Path<(String, String, String)>,
) -> Result<Response, WebError> {
    let which = match which.as_str() {
        "photo.jpg" => Picture::Photo,
        "squared.jpg" => Picture::Squared,
        _ => return Err(WebError::NotFound("page")),
    };
    let (shop, record) = visited(&state, &cast).await?;
    let id = PhotoId(photo.parse().map_err(|_| WebError::NotFound("photo"))?);
    let bytes = state.store.picture(shop.id, record.id, id, which).await?;
    // A photo never changes; a squared-up one has an address of its own.
    let kept = "private, max-age=31536000, immutable";
    let headers = [(header::CONTENT_TYPE, "image/jpeg"), (header::CACHE_CONTROL, kept)];
    Ok((headers, bytes).into_response())
}

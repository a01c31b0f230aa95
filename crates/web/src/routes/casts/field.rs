//! A cast's section or block as a field of temperatures, for the canvas that
//! draws it.

use std::time::Instant;

use axum::Json;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use fondant_cast::{Dimension, Evaluation, FieldTask, depth_map};
use fondant_heat::Deepest;
use fondant_heat::field::{Content, FieldSample};
use fondant_quantities::units::Unit;
use fondant_quantities::{Length, Span, Temperature};
use fondant_store::repos::CastId;
use serde::Deserialize;
use serde_json::{Value, json};

use crate::drawings::chart::{Axes, Chart, Side};
use crate::drawings::{WIDE, both};
use crate::field_jobs::Worked;
use crate::state::Shop;
use crate::views::format::{Shown, span};
use crate::views::words;
use crate::{AppState, WebError};

/// Curves are drawn through at most so many moments.
const CURVE_POINTS: usize = 600;
/// Conversions are sent as whole numbers of this part; 255 is no resin.
const CONVERSION_STEPS: f32 = 250.0;
/// Marks a cell that holds nothing.
const NOTHING: i16 = i16::MIN;
/// Air and resin temperatures of the map, °C.
const MAP_AIR_C: [f64; 12] =
    [8.0, 10.0, 12.0, 14.0, 16.0, 18.0, 20.0, 22.0, 24.0, 26.0, 28.0, 30.0];
const MAP_RESIN_C: [f64; 9] = [15.0, 17.0, 19.0, 21.0, 23.0, 25.0, 28.0, 31.0, 34.0];

#[derive(Debug, Deserialize)]
pub(in crate::routes) struct Which {
    /// Where the section is cut, mm from the left end.
    cut: Option<f64>,
    /// `one` pours all at once; else the planned pours are followed.
    pours: Option<String>,
}

/// Starts the field, or says how far it is, or gives it.
pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    Query(which): Query<Which>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let record = state.store.cast(shop.id, CastId(cast)).await?;
    let evaluated = state.evaluate(&record.plan, &shop).await?;
    let Ok(evaluation) = evaluated else { return Ok(none("The plan contradicts itself.")) };
    let layout = &evaluation.measured.layout;
    let cut =
        which.cut.filter(|mm| mm.is_finite()).map_or_else(|| layout.middle(), Length::from_mm);
    let cut = cut.max(Length::ZERO).min(layout.length);
    let in_one = which.pours.as_deref() == Some("one");
    let in_air = shop.site.in_mean_air(&record.plan);
    let Some(task) = FieldTask::of(&in_air, &evaluation, cut, in_one) else {
        return Ok(none(
            "Depth alone says it here: the resin is so wide, or the cavities so small, that the \
             curves below are within a degree.",
        ));
    };
    let (job, is_new) = state.fields.job(cast, &task, Instant::now());
    if is_new {
        let (state, job, expected_s) =
            (state.clone(), std::sync::Arc::clone(&job), expected_s(&task, &evaluation));
        let column_m = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
        let task = task.clone();
        tokio::spawn(async move {
            let worked = state.compute(move || job.work(&task, expected_s, column_m)).await;
            if let Err(error) = worked {
                tracing::error!(%error, "a field was interrupted");
            }
        });
    }
    let answer = match job.done() {
        None => json!({ "state": "working", "key": job.key, "progress": job.progress() }),
        Some(Err(error)) => {
            json!({ "state": "none", "says": words::heat(error, shop.shown) })
        }
        Some(Ok(worked)) => picture(&job.key, worked, &task, &evaluation, &shop),
    };
    Ok(Json(answer).into_response())
}

fn none(says: &str) -> Response {
    Json(json!({ "state": "none", "says": says })).into_response()
}

/// Nobody waits for it any more.
pub(in crate::routes) async fn abandon(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
) -> StatusCode {
    state.fields.abandon(cast);
    StatusCode::NO_CONTENT
}

/// About when all will be hard: after the last pour as long as the column of
/// the whole depth takes.
fn expected_s(task: &FieldTask, evaluation: &Evaluation) -> f64 {
    let last = task.pours().last().map_or(0.0, |pour| pour.at_s);
    let column = evaluation.heat.whole.as_ref().ok().and_then(|whole| whole.events.hard_s);
    last + column.unwrap_or(4.0 * 86_400.0)
}

/// Everything that the canvas draws.
fn picture(
    key: &str,
    worked: &Worked,
    task: &FieldTask,
    evaluation: &Evaluation,
    shop: &Shop,
) -> Value {
    let field = &worked.field;
    let (body, shown) = (field.body(), shop.shown);
    let mesh = body.mesh();
    let mm = |faces: &[f64]| faces.iter().map(|m| round(m * 1e3, 100.0)).collect::<Vec<f64>>();
    let (nx, stride) = (mesh.x.cells(), mesh.strides()[2]);
    let holds: Vec<u8> = (0..mesh.z.cells())
        .flat_map(|k| (0..nx).map(move |i| k * stride + i))
        .map(|cell| match body.contents()[cell] {
            Content::Nothing => 0,
            Content::Resin => 1,
            Content::Solid(_) => 2,
        })
        .collect();
    let no_frames = Vec::new();
    let kept = field.frames();
    let frames: Vec<Value> = kept
        .map_or(&no_frames, |kept| &kept.frames)
        .iter()
        .map(|frame| {
            let t: Vec<u8> = frame
                .t_k
                .iter()
                .flat_map(|k| {
                    let centi = if k.is_finite() { ((k - 273.15) * 100.0) as i16 } else { NOTHING };
                    centi.to_le_bytes()
                })
                .collect();
            let a: Vec<u8> = frame
                .conversion
                .iter()
                .map(|a| if a.is_finite() { (a * CONVERSION_STEPS) as u8 } else { 255 })
                .collect();
            json!({ "t": round(frame.t_s, 1.0), "c": STANDARD.encode(t), "a": STANDARD.encode(a) })
        })
        .collect();
    let samples = kept.map_or(&[][..], |kept| kept.samples.as_slice());
    let cure = &evaluation.resin.cure;
    json!({
        "state": "done",
        "key": key,
        "says": says(worked, task, evaluation, shown),
        "isBlock": task.dimension == Dimension::Three,
        "x": mm(mesh.x.faces_m()),
        "z": mm(mesh.z.faces_m()),
        "holds": STANDARD.encode(holds),
        "frames": frames,
        "hot": thinned(samples).iter().map(|s| json!([
            round(s.t_s, 1.0),
            round(s.hottest.t_k - 273.15, 100.0),
            round(s.hottest.place_m[0] * 1e3, 10.0),
            round(s.hottest.place_m[2] * 1e3, 10.0),
        ])).collect::<Vec<_>>(),
        "limit": round(evaluation.resin.working.peak_limit.celsius(), 10.0),
        "glass": [cure.tg_uncured_k - 273.15, cure.tg_cured_k - 273.15, cure.tg_lambda],
        "fahrenheit": shown.system.temperature().symbol() == "°F",
        "curves": curves(samples, evaluation, shown),
    })
}

fn round(value: f64, parts: f64) -> f64 {
    (value * parts).round() / parts
}

fn thinned(samples: &[FieldSample]) -> Vec<&FieldSample> {
    let step = samples.len().div_ceil(CURVE_POINTS).max(1);
    samples.iter().step_by(step).collect()
}

/// What the field shows, in words.
fn says(worked: &Worked, task: &FieldTask, evaluation: &Evaluation, shown: Shown) -> Vec<String> {
    let field = &worked.field;
    let temperature = |k: f64| shown.temperature(Temperature::from_k(k));
    let mut says = Vec::new();
    says.push(match task.dimension {
        Dimension::Three => {
            "Worked out in three dimensions, as heat leaves on all sides. One quarter is \
             computed, and shown with its mirror image through the middle."
                .to_owned()
        }
        _ => "Worked out across the section, as the timber and walls beside it matter here. A \
              river eight times as wide as deep would need depth alone."
            .to_owned(),
    });
    if let Some(peak) = field.peak() {
        let limit = evaluation.resin.working.peak_limit;
        let margin = limit.k() - peak.t_k;
        says.push(format!(
            "Hottest {} after {}, {} {}.",
            temperature(peak.t_k),
            span(Span::from_s(peak.at_s)),
            shown.degrees(margin.abs()),
            if margin >= 0.0 { "under the limit" } else { "over the limit" },
        ));
        if let (Ok(whole), [_]) = (&evaluation.heat.whole, task.pours()) {
            says.push(format!(
                "Without sides it would be {}: that is what the figures of depth alone go by, on \
                 the safe side.",
                shown.temperature(whole.peak)
            ));
        }
    }
    if let Some(deepest_m) = worked.deepest_m {
        let column = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
        says.push(format!(
            "One pour here could be {} deep before its hottest point reaches the limit; depth alone \
             says {}. The plan keeps to the stricter.",
            shown.length_cautious(Length::from_m(deepest_m)),
            shown.length_cautious(Length::from_m(column))
        ));
    }
    if let Some(face) = field.face_peak() {
        says.push(format!("Where resin meets timber it reaches {}.", temperature(face.t_k)));
    }
    if let Some(segment) = field.segments().last() {
        let hours = |s: f64| span(Span::from_s(s - segment.poured_s));
        if let (Some(opens), Some(closes)) = (segment.opens_s, segment.closes_s) {
            says.push(format!(
                "The last pour is sticky in the middle from {} to {} after it.",
                hours(opens),
                hours(closes)
            ));
        }
        if let (Some(opens), Some(all)) = (segment.opens_s, segment.opens_everywhere_s)
            && all > opens + 1800.0
        {
            says.push(format!(
                "Beside what is cooler it is sticky only {} later.",
                span(Span::from_s(all - opens))
            ));
        }
    }
    let work = field.work();
    says.push(format!("{} cells, {} steps.", work.cells, work.steps));
    says
}

/// Hottest point, surface, base, timber's face and air over time.
fn curves(samples: &[FieldSample], evaluation: &Evaluation, shown: Shown) -> String {
    let Some(last) = samples.last() else { return String::new() };
    let degrees = |k: f64| shown.system.temperature().write(Temperature::from_k(k));
    let limit = evaluation.resin.working.peak_limit;
    let fold = |start: f64, pick: fn(f64, f64) -> f64, of: &dyn Fn(&FieldSample) -> f64| {
        samples.iter().map(of).fold(start, pick)
    };
    let high = degrees(fold(limit.k(), f64::max, &|s| s.hottest.t_k));
    let low = degrees(fold(f64::MAX, f64::min, &|s| s.air_k.min(s.surface_k)));
    let hours = (last.t_s / 3600.0 / 6.0).ceil().max(1.0) * 6.0;
    type Read = fn(&FieldSample) -> Option<f64>;
    let all: [(&str, Read); 6] = [
        // Only on show where glass temperatures are.
        ("curve-glass", |s| Some(s.glass_k)),
        ("curve-soft", |s| Some(s.base_k)),
        ("curve-face", |s| s.face_k),
        ("curve-resin", |s| Some(s.surface_k)),
        ("curve-air", |s| Some(s.air_k)),
        ("curve-hot", |s| Some(s.hottest.t_k)),
    ];
    both(WIDE, |frame| {
        let mut chart = Chart::new(
            frame,
            Axes {
                description: "Temperatures of the section over time".to_owned(),
                x: (0.0, hours),
                y: (((low - 2.0) / 5.0).floor() * 5.0, ((high + 4.0) / 10.0).ceil() * 10.0),
                x_unit: "h",
                height: 190.0,
            },
        );
        for (class, read) in all {
            let points = samples.iter().filter_map(|s| Some((s.t_s / 3600.0, degrees(read(s)?))));
            chart.curve(class, points);
        }
        chart.limit(
            degrees(limit.k()),
            &format!("limit {}", shown.temperature(limit)),
            Side::Right,
        );
        chart.cursor();
        chart.finish()
    })
}

/// The map of deepest layers, as a table: it can be read without colour.
pub(in crate::routes) async fn map(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let record = state.store.cast(shop.id, CastId(cast)).await?;
    let resin =
        shop.shelf.find(&record.plan.resin).map_err(|e| WebError::Internal(e.to_string()))?;
    let plan = shop.site.in_mean_air(&record.plan);
    let resin = resin.as_learnt();
    let kelvin = |c: &f64| Temperature::from_celsius(*c).k();
    let map = state
        .compute(move || {
            let air: Vec<f64> = MAP_AIR_C.iter().map(kelvin).collect();
            let pour: Vec<f64> = MAP_RESIN_C.iter().map(kelvin).collect();
            depth_map(&plan, &resin, &air, &pour)
        })
        .await?;
    let shown = shop.shown;
    let temperature = |k: &f64| shown.temperature(Temperature::from_k(*k));
    let here = |all: &[f64], at: f64| {
        let near = |a: &&f64, b: &&f64| (**a - at).abs().total_cmp(&(**b - at).abs());
        all.iter().min_by(near).copied().unwrap_or(at)
    };
    let conditions = shop.site.in_mean_air(&record.plan).conditions;
    let (air_here, resin_here) =
        (here(&map.air_k, conditions.air.k()), here(&map.resin_k, conditions.resin.k()));
    let unit = shown.length(Length::from_mm(10.0));
    let unit = unit.split('\u{202f}').next_back().unwrap_or("mm");
    let same = |a: f64, b: f64| (a - b).abs() < 1e-9;
    let rows = map
        .resin_k
        .iter()
        .zip(&map.depth_m)
        .map(|(resin_k, row)| MapRow {
            resin: temperature(resin_k),
            is_here: same(*resin_k, resin_here),
            cells: row
                .iter()
                .zip(&map.air_k)
                .map(|(depth_m, air_k)| MapCell {
                    depth: if *depth_m > 0.0 {
                        shown.length_figure(Length::from_m(*depth_m))
                    } else {
                        "none".to_owned()
                    },
                    // Ten steps of ink for the eye; the figure says the same.
                    shade: ((depth_m / 0.08).min(1.0) * 9.0).round() as u8,
                    is_here: same(*resin_k, resin_here) && same(*air_k, air_here),
                })
                .collect(),
        })
        .collect();
    let page =
        MapTable { unit: unit.to_owned(), air: map.air_k.iter().map(temperature).collect(), rows };
    Ok(axum::response::Html(askama::Template::render(&page)?).into_response())
}

#[derive(askama::Template)]
#[template(path = "parts/depth_map.html")]
struct MapTable {
    unit: String,
    air: Vec<String>,
    rows: Vec<MapRow>,
}

struct MapRow {
    resin: String,
    is_here: bool,
    cells: Vec<MapCell>,
}

struct MapCell {
    depth: String,
    shade: u8,
    is_here: bool,
}

//! What a cup's log teaches a resin: shown first, kept when accepted.

use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::measure;
use fondant_heat::calibration::cup::{Cup, WaterTest, water_test};
use fondant_heat::calibration::factors::Factors;
use fondant_heat::calibration::forecast::{self, Interval, Knowledge, Layer};
use fondant_heat::calibration::learning::{Lesson, LossFrom, film_of, learn};
use fondant_heat::calibration::log::{Log, LogScale, Reading, TimeUnit, read as read_log};
use fondant_heat::{Air, Poured};
use fondant_materials::resin::shelf::{LessonRecord, OwnResin};
use fondant_materials::resin::{Learnt, Resin};
use fondant_quantities::units::Unit;
use fondant_quantities::{Length, Mass, Temperature, bounds};
use fondant_store::repos::CastSummary;

use super::on_shelf;
use super::resin::revision;
use crate::drawings::chart::{Axes, Chart};
use crate::drawings::{WIDE, both};
use crate::entries::{Entries, Reader, Refusals};
use crate::routes::extract::Typed;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::format::{Shown, span};
use crate::{AppState, WebError};

/// Longest mark of a lot, characters.
const LOT_CHARACTERS: usize = 40;

const TIMES: [(&str, &str, TimeUnit); 3] = [
    ("minutes", "minutes, or h:mm", TimeUnit::Minutes),
    ("seconds", "seconds, or h:mm", TimeUnit::Seconds),
    ("hours", "hours, or h:mm", TimeUnit::Hours),
];
const SCALES: [(&str, &str, LogScale); 2] =
    [("celsius", "°C", LogScale::Celsius), ("fahrenheit", "°F", LogScale::Fahrenheit)];

#[derive(Template)]
#[template(path = "shelf/learn.html")]
struct LearnPage {
    title: String,
    place: &'static str,
    id: String,
    name: String,
    fields: Vec<Field>,
    log: String,
    water: String,
    log_refusal: String,
    water_refusal: String,
    taught: Option<Taught>,
}

/// A lesson as it is shown before it is kept.
struct Taught {
    chart: String,
    says: Vec<String>,
    peak_before: String,
    peak_after: String,
    depth_before: String,
    depth_after: String,
    cast: String,
    /// Every entry once more, for accepting.
    entries: Vec<(String, String)>,
}

/// Everything that was read.
struct Asked {
    resin: Resin,
    cup: Cup,
    log: Log,
    water: Option<WaterTest>,
    lot: String,
    cast: String,
    layer: Layer,
}

pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let casts = state.store.casts(shop.id).await?;
    let resin = on_shelf(&shop, &id)?.resin.clone();
    let none = Refusals::default();
    page(&shop, &casts, &resin, &Entries::default(), &none, None)
}

fn page(
    shop: &Shop,
    casts: &[CastSummary],
    resin: &Resin,
    entries: &Entries,
    refusals: &Refusals,
    taught: Option<Taught>,
) -> Result<Response, WebError> {
    let is_typed = entries.get("log").is_some();
    let fields = Fields { shown: shop.shown, typed: is_typed.then_some(entries), refusals };
    let air = Temperature::from_celsius(20.0);
    let numbers: Vec<String> = casts.iter().map(|cast| cast.id.0.to_string()).collect();
    let mut offered: Vec<(&str, &str)> = casts
        .iter()
        .zip(&numbers)
        .map(|(cast, number)| (number.as_str(), cast.plan.name.as_str()))
        .collect();
    // The casts planned with this resin first.
    let uses = |number: &str| {
        casts.iter().any(|c| c.id.0.to_string() == number && c.plan.resin == resin.id)
    };
    offered.sort_by_key(|(number, _)| !uses(number));
    offered.push(("", "no cast: a layer of 20 mm"));
    let first = offered[0].0;
    let page = LearnPage {
        title: format!("{}: learn", resin.name),
        place: "shelf",
        id: resin.id.0.clone(),
        name: resin.name.clone(),
        fields: vec![
            fields.mass("mass", "Mixed in the cup", Mass::from_kg(0.3)),
            fields.temperature("air", "Air around it, steady", air),
            fields.text("lot", "Lot, as the bottle says", ""),
            fields.choice("times", "Times in", "minutes", &TIMES.map(|(v, l, _)| (v, l))),
            fields.choice("scale", "Temperatures in", "celsius", &SCALES.map(|(v, l, _)| (v, l))),
            fields.choice("cast", "Show what it means for", first, &offered),
        ],
        log: entries.get("log").unwrap_or_default().to_owned(),
        water: entries.get("water").unwrap_or_default().to_owned(),
        log_refusal: refusals.of("log"),
        water_refusal: refusals.of("water"),
        taught,
    };
    let status =
        if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    Ok((status, Html(page.render()?)).into_response())
}

/// Reads the form. What is refused is in the reader.
fn read(reader: &mut Reader<'_>, resin: &Resin, casts: &[CastSummary]) -> Option<Asked> {
    let (mut mass, mut air) = (Mass::from_kg(0.3), Temperature::from_celsius(20.0));
    reader.quantity("mass", &bounds::CUP, &mut mass);
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut air);
    let mut lot = String::new();
    reader.text("lot", "The lot", LOT_CHARACTERS, true, &mut lot);
    let (mut times, mut scale) = (TimeUnit::Minutes, LogScale::Celsius);
    reader.choice("times", &TIMES.map(|(v, _, t)| (v, t)), &mut times);
    reader.choice("scale", &SCALES.map(|(v, _, s)| (v, s)), &mut scale);
    let cup = Cup { mass, air };
    let log = match read_log(reader.entries.get("log").unwrap_or_default(), times, scale) {
        Ok(log) => Some(log),
        Err(error) => {
            reader.refusals.add("log", error.to_string());
            None
        }
    };
    let text = reader.entries.get("water").unwrap_or_default();
    let water = if text.trim().is_empty() {
        None
    } else {
        let test =
            read_log(text, times, scale).map_err(|error| error.to_string()).and_then(|log| {
                water_test(cup.volume(resin), air, &log.readings).map_err(|error| error.to_string())
            });
        match test {
            Ok(test) => Some(test),
            Err(error) => {
                reader.refusals.add("water", error);
                None
            }
        }
    };
    let number: Option<i64> = reader.entries.get("cast").and_then(|text| text.parse().ok());
    let plan = number.and_then(|n| casts.iter().find(|c| c.id.0 == n)).map(|cast| &cast.plan);
    let (cast, layer) = match plan {
        Some(plan) => {
            let depth = measure(plan)
                .map_or(Length::from_mm(20.0), |found| found.fill.heat_depth(found.fill.depth()));
            let around = plan.conditions.cooling.surroundings(Air::Steady(plan.conditions.air.k()));
            let poured = Poured::fresh(plan.conditions.resin.k());
            (plan.name.clone(), Layer { depth_m: depth.m(), poured, surroundings: around })
        }
        None => {
            let around = fondant_heat::Surroundings::still_air(air.k());
            let layer =
                Layer { depth_m: 0.02, poured: Poured::fresh(air.k()), surroundings: around };
            ("a layer of 20 mm".to_owned(), layer)
        }
    };
    if !reader.refusals.is_empty() {
        return None;
    }
    Some(Asked { resin: resin.clone(), cup, log: log?, water, lot, cast, layer })
}

/// Shows what a log teaches.
pub(in crate::routes) async fn try_log(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let casts = state.store.casts(shop.id).await?;
    let resin = on_shelf(&shop, &id)?.resin.clone();
    let mut reader = Reader::new(&entries, shop.shown.system);
    let asked = read(&mut reader, &resin, &casts);
    let mut refusals = reader.refusals;
    let mut taught = None;
    if let Some(asked) = asked {
        let (shown, copied) = (shop.shown, entries.clone());
        match state.compute(move || teach(&asked, shown, &copied)).await? {
            Ok(lesson) => taught = Some(lesson),
            Err(refusal) => refusals.add("log", refusal),
        }
    }
    page(&shop, &casts, &resin, &entries, &refusals, taught)
}

fn teach(asked: &Asked, shown: Shown, entries: &Entries) -> Result<Taught, String> {
    let lesson = learn(&asked.resin, &asked.cup, &asked.log, asked.water.as_ref())
        .map_err(|refusal| refusal.to_string())?;
    let after = Knowledge::taught(&lesson);
    let before = Knowledge::of(&asked.resin);
    let peak = |known: &Knowledge| {
        forecast::peak(&asked.resin, known, &asked.layer).map_err(|error| error.to_string())
    };
    let depth = |known: &Knowledge| {
        forecast::deepest(&asked.resin, known, &asked.layer).map_err(|error| error.to_string())
    };
    let degrees = |i: Interval| {
        let say = |k: f64| shown.temperature(Temperature::from_k(k));
        format!("{} ({} to {})", say(i.value), say(i.low), say(i.high))
    };
    let lengths = |i: Interval| {
        let say = |m: f64| shown.length(Length::from_m(m));
        format!("{} ({} to {})", say(i.value), say(i.low), say(i.high))
    };
    let names = ["mass", "air", "lot", "times", "scale", "cast", "log", "water"];
    Ok(Taught {
        chart: chart(asked, &lesson, shown),
        says: says(asked, &lesson, shown),
        peak_before: degrees(peak(&before)?),
        peak_after: degrees(peak(&after)?),
        depth_before: lengths(depth(&before)?),
        depth_after: lengths(depth(&after)?),
        cast: asked.cast.clone(),
        entries: names
            .iter()
            .map(|name| ((*name).to_owned(), entries.get(name).unwrap_or_default().to_owned()))
            .collect(),
    })
}

fn says(asked: &Asked, lesson: &Lesson, shown: Shown) -> Vec<String> {
    let mut says = vec![format!(
        "{} readings over {}, spread {:.1} {} about the curve. Rate ×{:.2}, heat ×{:.2}.",
        asked.log.rows,
        span(fondant_quantities::Span::from_s(asked.log.readings.last().map_or(0.0, |r| r.t_s))),
        lesson.noise_k * degree_of(shown),
        shown.system.temperature().symbol(),
        lesson.factors.rate,
        lesson.factors.heat
    )];
    let film = film_of(&asked.resin, &asked.cup, lesson.factors.loss);
    says.push(match lesson.loss_from {
        LossFrom::ThisLog => format!(
            "The cup warmed enough to tell its own loss: as through a film of {film:.0} W/m²K all \
             round."
        ),
        LossFrom::Water => {
            format!("The cup's loss is that of the water log: {film:.0} W/m²K all round.")
        }
    });
    if let Some(apart) = lesson.water_disagrees {
        says.push(format!(
            "The water log says another loss, by {:.0} %. This log settles it better and is believed.",
            apart.abs() * 100.0
        ));
    }
    if !lesson.outliers.is_empty() {
        says.push(format!(
            "{} readings jump away from the rest and were left out; they are the open dots.",
            lesson.outliers.len()
        ));
    }
    if !asked.log.gaps.is_empty() {
        says.push(format!("The log has {} gaps, none of them at the peak.", asked.log.gaps.len()));
    }
    says
}

/// A kelvin in the shop's degrees.
fn degree_of(shown: Shown) -> f64 {
    let unit = shown.system.temperature();
    unit.write(Temperature::from_k(301.0)) - unit.write(Temperature::from_k(300.0))
}

/// Readings, the fitted curve and that of the generic model.
fn chart(asked: &Asked, lesson: &Lesson, shown: Shown) -> String {
    let degrees = |k: f64| shown.system.temperature().write(Temperature::from_k(k));
    let point = |r: &Reading| (r.t_s / 3600.0, degrees(r.t_k));
    let times: Vec<f64> = lesson.curve.iter().map(|r| r.t_s).collect();
    let start_k = asked.log.readings[0].t_k;
    let generic = asked
        .cup
        .temperatures(
            &Resin { learnt: None, ..asked.resin.clone() },
            &Factors::ONE,
            start_k,
            &times,
        )
        .unwrap_or_default();
    let all = asked.log.readings.iter().chain(&lesson.curve).map(|r| degrees(r.t_k));
    let (low, high) = all
        .chain(generic.iter().map(|k| degrees(*k)))
        .fold((f64::MAX, f64::MIN), |(low, high), t| (low.min(t), high.max(t)));
    let hours = times.last().map_or(1.0, |t| t / 3600.0).max(0.1);
    let is_outlier = |r: &Reading| lesson.outliers.iter().any(|o| o == r);
    both(WIDE, |frame| {
        let mut chart = Chart::new(
            frame,
            Axes {
                description: "The log, the fitted curve and the generic model".to_owned(),
                x: (0.0, hours),
                y: (((low - 2.0) / 5.0).floor() * 5.0, ((high + 2.0) / 10.0).ceil() * 10.0),
                x_unit: "h",
                height: 230.0,
            },
        );
        let readings = &asked.log.readings;
        chart.dots("reading", readings.iter().filter(|r| !is_outlier(r)).map(point));
        chart.dots("reading outlier", lesson.outliers.iter().map(point));
        chart.curve(
            "curve-soft",
            times.iter().zip(&generic).map(|(t, k)| (t / 3600.0, degrees(*k))),
        );
        chart.curve("curve-hot", lesson.curve.iter().map(point));
        chart.finish()
    })
}

/// Keeps what a log teaches, with its lot and date.
pub(in crate::routes) async fn accept(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let casts = state.store.casts(shop.id).await?;
    let on = on_shelf(&shop, &id)?.clone();
    let mut reader = Reader::new(&entries, shop.shown.system);
    let asked = read(&mut reader, &on.resin, &casts);
    let mut refusals = reader.refusals;
    let Some(asked) = asked else {
        return page(&shop, &casts, &on.resin, &entries, &refusals, None);
    };
    let (cup, lot) = (asked.cup, asked.lot.clone());
    let readings = asked.log.readings.iter().map(|r| (r.t_s, r.t_k)).collect();
    // Fitted once more: what a page sends back is not believed.
    let fitted = state
        .compute(move || learn(&asked.resin, &asked.cup, &asked.log, asked.water.as_ref()))
        .await?;
    let lesson = match fitted {
        Ok(lesson) => lesson,
        Err(refusal) => {
            refusals.add("log", refusal.to_string());
            return page(&shop, &casts, &on.resin, &entries, &refusals, None);
        }
    };
    let learnt = Learnt {
        rate: lesson.factors.rate,
        heat: lesson.factors.heat,
        covariance: lesson.covariance,
        lot,
        at: state.now(),
    };
    let record = LessonRecord {
        resin: on.resin.id.clone(),
        learnt: learnt.clone(),
        mass: cup.mass,
        air: cup.air,
        readings,
    };
    let slug = format!("{id}-{}", state.now().as_microsecond());
    state.store.put_on_shelf(shop.id, &slug, 0, &record, state.now()).await?;
    let own =
        OwnResin { resin: Resin { learnt: Some(learnt), ..on.resin }, is_put_away: on.is_put_away };
    let expected = revision(&state, &shop, &id).await?;
    state.store.put_on_shelf(shop.id, &id, expected, &own, state.now()).await?;
    Ok(Redirect::to(&format!("/shelf/{id}")).into_response())
}

/// Forgets what was learnt; the log stays kept.
pub(in crate::routes) async fn forget(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let on = on_shelf(&shop, &id)?;
    let own =
        OwnResin { resin: Resin { learnt: None, ..on.resin.clone() }, is_put_away: on.is_put_away };
    let expected = revision(&state, &shop, &id).await?;
    state.store.put_on_shelf(shop.id, &id, expected, &own, state.now()).await?;
    Ok(Redirect::to(&format!("/shelf/{id}")).into_response())
}

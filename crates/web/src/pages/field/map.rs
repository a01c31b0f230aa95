//! The map of deepest layers, as a table: it can be read without colour.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use fondant_app::App;
use fondant_cast::planning::{DepthMap as Map, depth_map};
use fondant_heat::Deepest;
use fondant_quantities::{Length, Temperature};

use crate::pages::stations::asked::{Looking, Visit};
use crate::paths::casts::DepthMap;
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};

/// Air and resin temperatures of the map, °C.
const AIR_C: [f64; 12] = [8.0, 10.0, 12.0, 14.0, 16.0, 18.0, 20.0, 22.0, 24.0, 26.0, 28.0, 30.0];
const RESIN_C: [f64; 9] = [15.0, 17.0, 19.0, 21.0, 23.0, 25.0, 28.0, 31.0, 34.0];
/// From this depth on a cell has the darkest ink, m.
const DARKEST_M: f64 = 0.08;

#[derive(Template, WebTemplate)]
#[template(path = "pages/field/depth_map.html")]
pub(super) struct MapTable {
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

pub(super) async fn show(
    DepthMap { cast }: DepthMap,
    State(app): State<App>,
) -> Result<MapTable, WebError> {
    let visit = Visit::of(&app, cast, Looking::default()).await?;
    let conditions = &visit.document.conditions;
    let (cooling, resin) = (conditions.cooling, visit.worked.inputs.resin.calibrated());
    let kelvin = |c: &f64| Temperature::from_celsius(*c).k();
    let (air, pour): (Vec<f64>, Vec<f64>) =
        (AIR_C.iter().map(kelvin).collect(), RESIN_C.iter().map(kelvin).collect());
    let heat = &visit.worked.evaluation.heat;
    let deepest = Length::from_m(heat.deepest.as_ref().map_or(0.0, Deepest::safe_m));
    let sides = (cooling, heat.losses.at(deepest));
    let map = app.compute_beside(move |stop| depth_map(sides, &resin, &air, &pour, stop)).await?;
    let here = (nearest(&map.air_k, conditions.air), nearest(&map.resin_k, conditions.resin));
    Ok(table(&map, here, visit.open.shop.shown()))
}

/// The column or row of the map nearest to a temperature.
fn nearest(all_k: &[f64], at: Temperature) -> usize {
    let off = |index: &usize| (all_k[*index] - at.k()).abs();
    (0..all_k.len()).min_by(|a, b| off(a).total_cmp(&off(b))).unwrap_or(0)
}

fn table(map: &Map, (air_here, resin_here): (usize, usize), shown: Shown) -> MapTable {
    let temperature = |k: &f64| shown.temperature(Temperature::from_k(*k));
    let unit = shown.length(Length::from_mm(10.0));
    let row = |(row, (resin_k, depths)): (usize, (&f64, &Vec<f64>))| MapRow {
        resin: temperature(resin_k),
        is_here: row == resin_here,
        cells: depths
            .iter()
            .enumerate()
            .map(|(column, depth_m)| cell(*depth_m, (row, column) == (resin_here, air_here), shown))
            .collect(),
    };
    MapTable {
        unit: unit.split('\u{202f}').next_back().unwrap_or("mm").to_owned(),
        air: map.air_k.iter().map(temperature).collect(),
        rows: map.resin_k.iter().zip(&map.depth_m).enumerate().map(row).collect(),
    }
}

fn cell(depth_m: f64, is_here: bool, shown: Shown) -> MapCell {
    let depth = if depth_m > 0.0 {
        shown.length_figure(Length::from_m(depth_m))
    } else {
        "none".to_owned()
    };
    // Ten steps of ink for the eye; the figure says the same.
    let shade = ((depth_m / DARKEST_M).clamp(0.0, 1.0) * 9.0).round() as u8;
    MapCell { depth, shade, is_here }
}

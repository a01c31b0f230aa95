//! Sections of rivers, and blocks.

use std::ops::ControlFlow;

use fondant_heat::Air;
use fondant_heat::field::{
    Around, Block, Face, Field, FieldGoal, Inside, LOOKED_AT, Peak, Progress, Steps, shapes,
};
use fondant_materials::Material;
use fondant_materials::resin::Calibrated;
use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::case::{CaseError, HORIZON_S, celsius, kelvin};

/// The search for the largest cube ends at this difference of sides, m.
const SIDE_TOLERANCE_M: f64 = 2e-5;
/// Rise of the peak by the side is taken over this difference, m.
const SLOPE_OVER_M: f64 = 2e-3;

fn to_the_end(_: Progress) -> ControlFlow<()> {
    ControlFlow::Continue(())
}

// Many fields: the inputs of a case stand flat in its file.
#[derive(Deserialize)]
pub(super) struct RiverInputs {
    #[serde(default)]
    depth_m: Option<f64>,
    #[serde(default)]
    depths_m: Vec<f64>,
    #[serde(default)]
    t_pour_s: Vec<f64>,
    width_m: f64,
    timber_left_m: f64,
    timber_right_m: f64,
    #[serde(rename = "T_amb_C")]
    t_amb_c: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(rename = "T_timber0_C")]
    t_timber_c: f64,
    #[serde(default)]
    alpha0: f64,
    #[serde(default)]
    h_exposed_face: f64,
    h_top: f64,
    #[serde(rename = "R_base")]
    r_base: f64,
    timber_k: f64,
    timber_rho: f64,
    timber_cp: f64,
}

pub(super) fn river(resin: &Calibrated, inputs: &RiverInputs) -> Result<Value, CaseError> {
    let layers_m = inputs.depth_m.map_or_else(|| inputs.depths_m.clone(), |depth| vec![depth]);
    let pours_s = if inputs.depth_m.is_some() { vec![0.0] } else { inputs.t_pour_s.clone() };
    let channel = shapes::Channel {
        layers_m: layers_m.clone(),
        width_m: inputs.width_m,
        boards_m: [inputs.timber_left_m, inputs.timber_right_m],
        timber: Material {
            conductivity_w_m_k: inputs.timber_k,
            capacity_j_m3_k: inputs.timber_rho * inputs.timber_cp,
        },
    };
    let around = Around {
        base: Face { resistance_m2k_w: inputs.r_base, beyond_k: None },
        top_film_w_m2k: inputs.h_top,
        bare_film_w_m2k: inputs.h_exposed_face,
        ..Around::on_a_board(Air::Steady(kelvin(inputs.t_amb_c)))
    };
    let solid_k = kelvin(inputs.t_timber_c);
    let mut field = Field::new(channel.body(), resin, around, solid_k, Steps::default())?;
    let mut level = 0.0;
    for (depth_m, at_s) in layers_m.iter().zip(&pours_s) {
        if *at_s > 0.0 {
            field.run(*at_s, FieldGoal::Time, &mut to_the_end)?;
        }
        level += depth_m;
        field.pour(level, kelvin(inputs.t_pour_c), inputs.alpha0)?;
    }
    field.run(HORIZON_S, FieldGoal::Hard, &mut to_the_end)?;
    let mut outputs = Map::new();
    put_peak(&mut outputs, "T_peak_C", "t_peak_s", field.peak());
    put_peak(&mut outputs, "T_face_peak_C", "t_face_peak_s", field.face_peak());
    if let Some(peak) = field.peak() {
        outputs.insert("x_peak_m".into(), json!(peak.place_m[0]));
        outputs.insert("y_peak_m".into(), json!(peak.place_m[2]));
    }
    for (index, segment) in field.segments().iter().enumerate() {
        let mut group = Map::new();
        put_peak(&mut group, "T_peak_in_segment_C", "t_peak_in_segment_s", segment.peak);
        group.insert("t_open_mid_s".into(), json!(segment.opens_s));
        group.insert("t_close_mid_s".into(), json!(segment.closes_s));
        if layers_m.len() == 1 {
            outputs.extend(group);
        } else {
            outputs.insert(format!("segment{}", index + 1), Value::Object(group));
        }
    }
    Ok(Value::Object(outputs))
}

fn put_peak(outputs: &mut Map<String, Value>, value: &str, time: &str, peak: Option<Peak>) {
    outputs.insert(value.into(), json!(peak.map(|p| celsius(p.t_k))));
    outputs.insert(time.into(), json!(peak.map(|p| p.at_s)));
}

#[derive(Deserialize)]
pub(super) struct BlockInputs {
    #[serde(default)]
    side_m: f64,
    #[serde(default)]
    height_m: f64,
    #[serde(rename = "T_amb_C")]
    t_amb_c: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(default)]
    alpha0: f64,
    #[serde(rename = "T_sides_C")]
    t_sides_c: f64,
    h_sides: f64,
    #[serde(rename = "T_limit_C", default)]
    t_limit_c: f64,
    h_top: f64,
    #[serde(rename = "R_base")]
    r_base: f64,
    wall_m: f64,
    wall_k: f64,
    #[serde(default)]
    insert: Option<InsertInputs>,
}

/// A solid box in the middle of a block.
#[derive(Deserialize)]
struct InsertInputs {
    half_width_m: f64,
    base_m: f64,
    top_m: f64,
    k: f64,
    rho: f64,
    cp: f64,
    #[serde(rename = "T0_C")]
    t0_c: f64,
}

pub(super) fn block(resin: &Calibrated, inputs: &BlockInputs) -> Result<Value, CaseError> {
    let peak = hottest(&block_field(resin, inputs, inputs.side_m, inputs.height_m)?)?;
    Ok(json!({
        "T_peak_C": celsius(peak.t_k),
        "t_peak_s": peak.at_s,
        "z_peak_m": peak.place_m[2],
        "under_limit": celsius(peak.t_k) <= inputs.t_limit_c,
    }))
}

pub(super) fn block_with_insert(
    resin: &Calibrated,
    inputs: &BlockInputs,
) -> Result<Value, CaseError> {
    let field = block_field(resin, inputs, inputs.side_m, inputs.height_m)?;
    let peak = hottest(&field)?;
    Ok(json!({
        "T_peak_C": celsius(peak.t_k),
        "t_peak_s": peak.at_s,
        // A solid that makes no heat is hottest at its face.
        "T_insert_peak_C": field.face_peak().map(|face| celsius(face.t_k)),
    }))
}

fn hottest(field: &Field) -> Result<Peak, CaseError> {
    Ok(field.peak().ok_or(fondant_heat::HeatError::Empty)?)
}

fn block_field(
    resin: &Calibrated,
    inputs: &BlockInputs,
    side_m: f64,
    height_m: f64,
) -> Result<Field, CaseError> {
    let wall = Face {
        beyond_k: Some(kelvin(inputs.t_sides_c)),
        ..Face::wall(inputs.wall_m, inputs.wall_k, inputs.h_sides)
    };
    let around = Around {
        x: [Face::CLOSED, wall],
        y: [Face::CLOSED, wall],
        base: Face { resistance_m2k_w: inputs.r_base, beyond_k: None },
        top_film_w_m2k: inputs.h_top,
        ..Around::on_a_board(Air::Steady(kelvin(inputs.t_amb_c)))
    };
    let inside = inputs.insert.as_ref().map(|insert| Inside {
        half_m: [insert.half_width_m; 2],
        levels_m: [insert.base_m, insert.top_m],
        of: Material { conductivity_w_m_k: insert.k, capacity_j_m3_k: insert.rho * insert.cp },
    });
    let body = Block::new([side_m; 2], inside).body(&[height_m], LOOKED_AT);
    let pour_k = kelvin(inputs.t_pour_c);
    let solid_k = inputs.insert.as_ref().map_or(pour_k, |insert| kelvin(insert.t0_c));
    let mut field = Field::new(body, resin, around, solid_k, Steps::default())?;
    field.pour(height_m, pour_k, inputs.alpha0)?;
    field.run(HORIZON_S, FieldGoal::Peak { enough_k: f64::INFINITY }, &mut to_the_end)?;
    Ok(field)
}

/// The side at which the peak meets the limit, by the rule of false position
/// with the slope of the last two sides.
pub(super) fn largest_cube(resin: &Calibrated, inputs: &BlockInputs) -> Result<Value, CaseError> {
    let excess = |side: f64| -> Result<f64, CaseError> {
        Ok(celsius(hottest(&block_field(resin, inputs, side, side)?)?.t_k) - inputs.t_limit_c)
    };
    let (mut a, mut b) = (0.08, 0.2);
    let (mut over_a, mut over_b) = (excess(a)?, excess(b)?);
    for _ in 0..40 {
        let share = (-over_a / (over_b - over_a)).clamp(0.1, 0.9);
        let middle = a + share * (b - a);
        let over = excess(middle)?;
        if over > 0.0 {
            (b, over_b) = (middle, over);
        } else {
            (a, over_a) = (middle, over);
        }
        if b - a < SIDE_TOLERANCE_M || over.abs() < 1e-3 {
            break;
        }
    }
    let side = if over_a.abs() < over_b.abs() { a } else { b };
    let half = 0.5 * SLOPE_OVER_M;
    let slope = (excess(side + half)? - excess(side - half)?) / (SLOPE_OVER_M * 1e3);
    Ok(json!({ "side_max_m": side, "dTpeak_dside_K_per_mm": slope }))
}

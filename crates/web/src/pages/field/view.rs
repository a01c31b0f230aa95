//! What the canvas draws of a field.

use fondant_app::jobs::{FieldResult, FieldSeen, Working};
use fondant_app::records::JobFailure;
use fondant_cast::planning::{Dimension, FieldTask};
use fondant_heat::field::Peak;
use fondant_quantities::Temperature;
use fondant_quantities::units::Unit;
use serde::Serialize;

use super::drawing::curves;
use super::words::says;
use crate::pages::stations::asked::Visit;
use crate::ui::units::{InUnits, Shown};
use crate::words::{jobs, trouble};

/// The answer to a canvas.
#[derive(Serialize)]
#[serde(tag = "state", rename_all = "camelCase")]
pub(super) enum Answer {
    /// It is worked: it asks again.
    Working {
        /// From 0 to 1.
        progress: f64,
        /// It waits for its turn.
        waits: bool,
    },
    /// No field is needed for this cast.
    None { says: String },
    /// It ended without a field; it can be asked for again.
    Failed { says: &'static str },
    /// The field.
    Done(Box<Picture>),
}

/// Everything that the canvas draws.
#[derive(Serialize)]
#[serde(rename_all = "camelCase")]
pub(super) struct Picture {
    says: Vec<String>,
    is_block: bool,
    /// Faces of the mesh across and upwards, mm.
    x: Vec<f64>,
    z: Vec<f64>,
    /// What each cell holds: 0 nothing, 1 resin, 2 a solid; bytes in base64.
    holds: String,
    frames: Vec<PictureFrame>,
    /// Which of them is the hottest.
    hottest: usize,
    /// The resin's limit, °C.
    limit: f64,
    /// Glass temperatures of fresh and cured resin, °C, and the shape between them.
    glass: [f64; 3],
    fahrenheit: bool,
    /// The curves, drawn.
    curves: String,
}

/// The front plane at a moment: see [`FieldFrame`].
#[derive(Serialize)]
struct PictureFrame {
    t: f64,
    /// The hottest point: °C, mm across, mm up.
    hot: [f64; 3],
    /// Its temperature in words.
    says: String,
    c: String,
    a: String,
}

impl Answer {
    pub(super) fn depth_alone() -> Self {
        let says = "Depth alone says it here: the resin is so wide that the curves below are within \
                    a degree.";
        Self::None { says: says.to_owned() }
    }

    pub(super) fn working(working: &Working) -> Self {
        Self::Working { progress: f64::from(working.permille) / 1e3, waits: working.waits }
    }

    pub(super) const fn failed(why: JobFailure) -> Self {
        Self::Failed { says: jobs::failed(why) }
    }

    pub(super) const fn given_up() -> Self {
        Self::Failed { says: jobs::GIVEN_UP }
    }

    pub(super) fn done(visit: &Visit, task: &FieldTask, done: &FieldResult) -> Self {
        match &done.result {
            Ok(seen) => Self::Done(Box::new(picture(visit, task, seen))),
            Err(error) => Self::None { says: trouble::heat(error, visit.open.shop.shown()) },
        }
    }
}

fn picture(visit: &Visit, task: &FieldTask, seen: &FieldSeen) -> Picture {
    let shown = visit.open.shop.shown();
    let evaluation = &visit.worked.evaluation;
    let cure = &evaluation.resin.cure;
    let (frames, hottest) = frames(seen, shown);
    let mm = |faces: &[f64]| faces.iter().map(|m| round(m * 1e3, 100.0)).collect::<Vec<f64>>();
    Picture {
        says: says(seen, task, evaluation, shown),
        is_block: task.dimension == Dimension::Three,
        x: mm(&seen.x_m),
        z: mm(&seen.z_m),
        holds: seen.holds.clone(),
        frames,
        hottest,
        limit: round(evaluation.resin.working.peak_limit.celsius(), 10.0),
        glass: [cure.tg_uncured_k - 273.15, cure.tg_cured_k - 273.15, cure.tg_lambda],
        fahrenheit: shown.system.temperature().symbol() == "°F",
        curves: curves(&seen.samples, evaluation, shown).into_string(),
    }
}

/// The frames, and which of them is the hottest: it shows the peak that the sentences tell of, which is
/// within a step of it.
fn frames(seen: &FieldSeen, shown: Shown) -> (Vec<PictureFrame>, usize) {
    let hotter =
        |a: &usize, b: &usize| seen.frames[*a].hottest.t_k.total_cmp(&seen.frames[*b].hottest.t_k);
    let hottest = (0..seen.frames.len()).max_by(hotter).unwrap_or_default();
    let drawn = seen.frames.iter().enumerate().map(|(at, frame)| {
        let peak = seen.peak.filter(|_| at == hottest).unwrap_or(frame.hottest);
        let (c, a) = (frame.centi_c.clone(), frame.conversion.clone());
        let says = shown.temperature(Temperature::from_k(peak.t_k));
        PictureFrame { t: round(frame.t_s, 1.0), hot: hot(&peak), says, c, a }
    });
    (drawn.collect(), hottest)
}

fn hot(peak: &Peak) -> [f64; 3] {
    [
        round(peak.t_k - 273.15, 100.0),
        round(peak.place_m[0] * 1e3, 10.0),
        round(peak.place_m[2] * 1e3, 10.0),
    ]
}

fn round(value: f64, parts: f64) -> f64 {
    (value * parts).round() / parts
}

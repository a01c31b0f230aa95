//! A section or block as a field of temperatures over time.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use fondant_cast::planning::{FieldTask, Followed, expected_s, follow};
use fondant_heat::field::{Content, Field, FieldSample, Frame};
use fondant_numerics::Stop;
use fondant_quantities::Length;
use fondant_store::repos::{CastId, WorkshopId};
use serde::{Deserialize, Serialize};

use super::ask::{Asking, JobView, ask};
use super::kind::JobKind;
use super::progress::Progress;
use super::results::{FieldFrame, FieldResult, FieldSeen};
use crate::app::App;
use crate::error::AppError;
use crate::evaluating::Worked;

/// Moments of the curves that are kept.
const MOST_SAMPLES: usize = 1200;
/// Steps of the stored conversion: 0–250 is 0–100 %; 255 marks a cell without resin.
const CONVERSION_STEPS: f32 = 250.0;
/// Marks a cell that holds nothing.
const NOTHING: i16 = i16::MIN;

/// What goes into a field.
#[derive(Serialize, Deserialize)]
struct FieldInput {
    task: FieldTask,
    /// About when it will be hard, s.
    expected_s: f64,
}

/// Asks for the field of a cast cut somewhere; the outer `None` where depth alone says it all.
/// `again` retries one that has failed.
///
/// # Errors
/// [`AppError`].
pub async fn field(
    app: &App,
    (workshop, cast): (WorkshopId, CastId),
    worked: &Worked,
    (cut, pours): (Length, Followed),
    again: bool,
) -> Result<Option<(FieldTask, JobView<FieldResult>)>, AppError> {
    let evaluation = &worked.evaluation;
    let Some(task) = FieldTask::of(&worked.inputs, evaluation, cut, pours) else {
        return Ok(None);
    };
    let input = FieldInput { expected_s: expected_s(&task, evaluation), task };
    let asking = Asking { workshop, cast, kind: JobKind::Field, input: &input, again };
    let view = ask(app, asking, &app.results.fields).await?;
    Ok(Some((input.task, view)))
}

pub(super) fn done(input: &[u8], stop: &Stop, progress: &Progress) -> Result<Vec<u8>, AppError> {
    let input: FieldInput = serde_json::from_slice(input).map_err(AppError::fault)?;
    let told = |share| progress.tell(share);
    let result = follow(&input.task, input.expected_s, stop, &told).map(|field| seen(&field));
    serde_json::to_vec(&FieldResult { result }).map_err(AppError::fault)
}

fn seen(field: &Field) -> FieldSeen {
    let mesh = field.body().mesh();
    let kept = field.frames();
    FieldSeen {
        x_m: mesh.x.faces_m().to_vec(),
        z_m: mesh.z.faces_m().to_vec(),
        holds: STANDARD.encode(holds(field)),
        frames: kept.map_or_else(Vec::new, |kept| kept.pictures().map(frame).collect()),
        samples: kept.map_or_else(Vec::new, |kept| thinned(&kept.samples)),
        peak: field.peak(),
        face_peak: field.face_peak(),
        last: field.segments().last().copied(),
        work: field.work(),
    }
}

fn holds(field: &Field) -> Vec<u8> {
    let body = field.body();
    let mesh = body.mesh();
    let (nx, stride) = (mesh.x.cells(), mesh.strides()[2]);
    let front = (0..mesh.z.cells()).flat_map(|k| (0..nx).map(move |i| k * stride + i));
    let kind = |cell: usize| match body.contents()[cell] {
        Content::Nothing => 0,
        Content::Resin => 1,
        Content::Solid(_) => 2,
    };
    front.map(kind).collect()
}

fn frame(frame: &Frame) -> FieldFrame {
    let centi = |k: &f32| match k.is_finite() {
        true => ((k - 273.15) * 100.0) as i16,
        false => NOTHING,
    };
    let parts = |a: &f32| if a.is_finite() { (a * CONVERSION_STEPS) as u8 } else { u8::MAX };
    let t: Vec<u8> = frame.t_k.iter().flat_map(|k| centi(k).to_le_bytes()).collect();
    let a: Vec<u8> = frame.conversion.iter().map(parts).collect();
    FieldFrame {
        t_s: frame.t_s,
        hottest: frame.hottest,
        centi_c: STANDARD.encode(t),
        conversion: STANDARD.encode(a),
    }
}

/// Every n-th, the hottest and the last.
fn thinned(samples: &[FieldSample]) -> Vec<FieldSample> {
    let step = samples.len().div_ceil(MOST_SAMPLES).max(1);
    let hotter = |a: &usize, b: &usize| samples[*a].hottest.t_k.total_cmp(&samples[*b].hottest.t_k);
    let hottest = (0..samples.len()).max_by(hotter);
    let is_kept =
        |at: &usize| at.is_multiple_of(step) || at + 1 == samples.len() || Some(*at) == hottest;
    (0..samples.len()).filter(is_kept).map(|at| samples[at]).collect()
}

//! What comes of long work, as it is kept and drawn.

use fondant_cast::PourTrouble;
use fondant_cast::planning::Alternative;
use fondant_heat::HeatError;
use fondant_heat::field::{FieldSample, FieldWork, Peak, Segment};
use serde::{Deserialize, Serialize};

/// A field that was followed, as it is drawn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FieldResult {
    /// What was seen, or why it could not be followed.
    pub result: Result<FieldSeen, HeatError>,
}

/// What was seen of a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FieldSeen {
    /// Faces of the mesh across, m.
    pub x_m: Vec<f64>,
    /// Faces of the mesh upwards, m.
    pub z_m: Vec<f64>,
    /// What each cell of the front plane holds, across first, then up: 0 nothing, 1 resin, 2 a
    /// solid; bytes in base64.
    pub holds: String,
    /// Pictures, in order of time.
    pub frames: Vec<FieldFrame>,
    /// The curves.
    pub samples: Vec<FieldSample>,
    /// The hottest point.
    pub peak: Option<Peak>,
    /// The hottest place where resin meets a solid.
    pub face_peak: Option<Peak>,
    /// What happened since the last pour.
    pub last: Option<Segment>,
    /// Work of the solver: steps and cells.
    pub work: FieldWork,
}

/// The front plane at a moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FieldFrame {
    /// Seconds from the first pour.
    pub t_s: f64,
    /// The hottest point of all of the body then.
    pub hottest: Peak,
    /// Hundredths of a °C of each cell as 16-bit integers, little end first, in base64; the least
    /// one is nothing.
    pub centi_c: String,
    /// Conversion of each cell in 250ths as bytes in base64; 255 marks a cell without resin.
    pub conversion: String,
}

impl FieldResult {
    pub(crate) fn bytes(&self) -> usize {
        let Ok(seen) = &self.result else { return 256 };
        let frame = |frame: &FieldFrame| frame.centi_c.len() + frame.conversion.len() + 64;
        seen.frames.iter().map(frame).sum::<usize>()
            + size_of_val(seen.samples.as_slice())
            + seen.holds.len()
            + (seen.x_m.len() + seen.z_m.len()) * 8
    }
}

/// Plans that were compared, or why there are none.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ComparedPlans {
    /// The plans.
    pub result: Result<Vec<Alternative>, PourTrouble>,
}

impl ComparedPlans {
    pub(crate) fn bytes(&self) -> usize {
        let pours = |plan: &Alternative| size_of_val(plan.pours.as_slice());
        self.result.as_ref().map_or(256, |all| all.iter().map(pours).sum::<usize>() + 1024)
    }
}

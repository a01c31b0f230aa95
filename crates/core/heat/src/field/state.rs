//! The state of a section or block: what it holds, temperatures and conversions.

use std::ops::Range;

use crate::cure::CureRate;
use crate::error::HeatError;
use fondant_materials::resin::Calibrated;
use fondant_quantities::bounds::AIR_MODELLED;

use super::body::{Around, Body};
use super::conduction::Conduction;
use super::frames::Frames;
use super::peak::{Highest, Peak};
use super::steps::{FieldWork, Segment, Steps};

/// The true surface over one cell at the top of the resin.
#[derive(Debug, Clone, Copy)]
pub(super) struct Surface {
    pub(super) cell: usize,
    pub(super) t_k: f64,
    pub(super) conversion: f64,
}

/// A face between resin and a solid.
#[derive(Debug, Clone, Copy)]
pub(super) struct Meeting {
    /// The cell of resin, and the cell beside it.
    pub(super) cell: usize,
    pub(super) solid: usize,
    /// How much of the face's temperature is that of the resin's cell.
    pub(super) share: f64,
    pub(super) place_m: [f64; 3],
}

/// Cells of resin in the middle of half a step, side by side.
#[derive(Debug, Clone, Default)]
pub(super) struct Middles {
    pub(super) conversion: Vec<f64>,
    pub(super) t_k: Vec<f64>,
    pub(super) rate_per_s: Vec<f64>,
}

/// A resin in the field, and what its cells need of it.
#[derive(Debug, Clone)]
pub(super) struct FieldResin {
    pub(super) resin: Calibrated,
    pub(super) cure: CureRate,
    /// H / cp, K.
    pub(super) rise_k: f64,
}

impl FieldResin {
    pub(super) fn new(resin: &Calibrated) -> Self {
        Self {
            cure: CureRate::new(&resin.cure),
            rise_k: resin.adiabatic_rise().k(),
            resin: resin.clone(),
        }
    }
}

/// Wet cells of one resin, one after the other.
#[derive(Debug, Clone)]
pub(super) struct Stretch {
    /// Their places among the wet cells.
    pub(super) wet: Range<usize>,
    /// Index of their resin.
    pub(super) resin: usize,
}

/// A section or block with its temperatures and conversions.
// Many fields: the state of one simulation, stepped as a whole.
#[derive(Debug, Clone)]
pub struct Field {
    pub(super) body: Body,
    pub(super) around: Around,
    /// What is around it from each pour on, where that changes with time.
    pub(super) from_each_pour: Option<Around>,
    /// The resins poured so far, the one that it was made with first.
    pub(super) resins: Vec<FieldResin>,
    /// Index of the resin of each cell.
    pub(super) resin_of: Vec<usize>,
    pub(super) steps: Steps,
    pub(super) conduction: Option<Conduction>,
    /// Whether a cell of resin has been poured.
    pub(super) poured: Vec<bool>,
    /// Cells of resin poured so far, in order.
    pub(super) wet: Vec<usize>,
    /// The same by their resins.
    pub(super) stretches: Vec<Stretch>,
    pub(super) t_k: Vec<f64>,
    pub(super) conversion: Vec<f64>,
    /// The rate of each cell when it was last computed, 1/s, and how warm it was then, K.
    pub(super) rate_per_s: Vec<f64>,
    pub(super) rate_at_k: Vec<f64>,
    pub(super) middles: Middles,
    pub(super) surface: Vec<Surface>,
    /// Where the resin poured so far meets a solid.
    pub(super) faces: Vec<Meeting>,
    /// The column of the surface whose window counts.
    pub(super) main: usize,
    pub(super) segments: Vec<Segment>,
    pub(super) gaps: Option<Gaps>,
    pub(super) hottest: Highest,
    pub(super) hottest_in_segment: Highest,
    pub(super) face: Highest,
    pub(super) time_s: f64,
    pub(super) next_s: f64,
    pub(super) work: FieldWork,
    pub(super) frames: Option<Frames>,
}

/// How far the surface is past its events at the end of a step; negative
/// before them. Between ends of steps they are taken to change evenly.
#[derive(Debug, Clone, Copy)]
pub(super) struct Gaps {
    pub(super) at_s: f64,
    pub(super) open: f64,
    pub(super) open_everywhere: f64,
    pub(super) set_k: f64,
}

impl Field {
    /// Everything solid stands at `solid_k`; no resin yet.
    ///
    /// # Errors
    /// [`HeatError::Temperature`] outside 230 to 450 K.
    pub fn new(
        body: Body,
        resin: &Calibrated,
        around: Around,
        solid_k: f64,
        steps: Steps,
    ) -> Result<Self, HeatError> {
        in_range(solid_k)?;
        let (coldest, warmest) = around.air.range_k();
        in_range(coldest)?;
        in_range(warmest)?;
        let cells = body.mesh.cells();
        Ok(Self {
            t_k: vec![solid_k; cells],
            conversion: vec![0.0; cells],
            rate_per_s: vec![0.0; cells],
            rate_at_k: vec![solid_k; cells],
            middles: Middles::default(),
            poured: vec![false; cells],
            wet: Vec::new(),
            stretches: Vec::new(),
            resins: vec![FieldResin::new(resin)],
            resin_of: vec![0; cells],
            conduction: None,
            surface: Vec::new(),
            faces: Vec::new(),
            main: 0,
            segments: Vec::new(),
            gaps: None,
            hottest: Highest::default(),
            hottest_in_segment: Highest::default(),
            face: Highest::default(),
            time_s: 0.0,
            next_s: steps.first_s,
            work: FieldWork { cells, ..FieldWork::default() },
            frames: None,
            body,
            from_each_pour: around.then.is_some().then(|| around.clone()),
            around,
            steps,
        })
    }

    /// Keeps pictures of the plane at the front (y = 0) and curves from now on.
    pub fn record(&mut self) {
        self.frames = Some(Frames::default());
    }

    /// What [`Field::record`] has kept.
    #[must_use]
    pub fn frames(&self) -> Option<&Frames> {
        self.frames.as_ref()
    }

    /// The mesh and its contents.
    #[must_use]
    pub fn body(&self) -> &Body {
        &self.body
    }

    /// Seconds from the first pour.
    #[must_use]
    pub fn time_s(&self) -> f64 {
        self.time_s
    }

    /// The hottest any resin has been.
    #[must_use]
    pub fn peak(&self) -> Option<Peak> {
        self.hottest.best()
    }

    /// The hottest that resin has been where it meets timber or another solid.
    #[must_use]
    pub fn face_peak(&self) -> Option<Peak> {
        self.face.best()
    }

    /// Events between one pour and the next.
    #[must_use]
    pub fn segments(&self) -> &[Segment] {
        &self.segments
    }

    /// Work of the solver: steps and cells.
    #[must_use]
    pub fn work(&self) -> FieldWork {
        self.work
    }

    /// Heat that cure has given off so far, J for the box.
    #[must_use]
    pub fn released_j(&self, started_at: f64) -> f64 {
        let Some(conduction) = &self.conduction else { return 0.0 };
        let capacity = conduction.capacity_j_k();
        self.wet
            .iter()
            .map(|c| capacity[*c] * self.at(*c).rise_k * (self.conversion[*c] - started_at))
            .sum()
    }

    /// The resin of a cell.
    pub(super) fn at(&self, cell: usize) -> &FieldResin {
        &self.resins[self.resin_of[cell]]
    }

    /// Heat in the box above a temperature, J.
    #[must_use]
    pub fn stored_j(&self, above_k: f64) -> f64 {
        let Some(conduction) = &self.conduction else { return 0.0 };
        conduction.capacity_j_k().iter().zip(&self.t_k).map(|(c, t)| c * (t - above_k)).sum()
    }

    /// Heat that leaves the box now, W.
    #[must_use]
    pub fn loss_w(&self) -> f64 {
        let air_k = self.around.air.at(self.time_s);
        self.conduction.as_ref().map_or(0.0, |c| c.loss_w(&self.t_k, air_k))
    }
}

pub(super) fn in_range(t_k: f64) -> Result<(), HeatError> {
    if AIR_MODELLED.contains(&t_k) { Ok(()) } else { Err(HeatError::Temperature { t_k }) }
}

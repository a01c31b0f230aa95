//! Pictures of a section over time, and the curves beside them.

use serde::{Deserialize, Serialize};

use super::body::{Body, Content};
use super::peak::Peak;

/// Change of the hottest point after which a frame is kept, K.
const FRAME_STEP_K: f64 = 1.0;
/// Longest time between two frames, s.
const FRAME_STEP_S: f64 = 2.0 * 3600.0;
/// More pictures than this are thinned to every other one.
const MOST_FRAMES: usize = 180;

/// One moment of a run.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Sample {
    /// Seconds from the first pour.
    pub t_s: f64,
    /// The hottest point.
    pub hottest: Peak,
    /// The true surface where its window counts, K.
    pub surface_k: f64,
    /// The hottest of the underside on the form board, K.
    pub base_k: f64,
    /// The hottest of the faces where resin meets a solid, K, if it does.
    pub face_k: Option<f64>,
    /// Glass temperature of that surface, K.
    pub glass_k: f64,
    /// The air, K.
    pub air_k: f64,
}

/// The front plane of the mesh at a moment: cells across first, then up.
#[derive(Debug, Clone, PartialEq)]
pub struct Frame {
    /// Seconds from the first pour.
    pub t_s: f64,
    /// The hottest point of all of the body then, which need not lie in this plane.
    pub hottest: Peak,
    /// Temperature of each cell, K; not a number where there is nothing.
    pub t_k: Vec<f32>,
    /// Conversion of each cell; not a number where there is no resin.
    pub conversion: Vec<f32>,
}

/// What a run keeps for drawing.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Frames {
    /// Every step.
    pub samples: Vec<Sample>,
    frames: Vec<Frame>,
    /// The hottest moment, which is between two of the others.
    hottest: Option<Frame>,
    last: Option<(f64, f64)>,
    thinned: u32,
}

impl Frames {
    /// Some of the steps as pictures, in order of time; the hottest moment is one of them.
    pub fn pictures(&self) -> impl Iterator<Item = &Frame> {
        let hottest = self.hottest.as_ref();
        let at_s = hottest.map_or(f64::INFINITY, |frame| frame.t_s);
        let is_other =
            move |frame: &&Frame| hottest.is_some_and(|one| one.hottest != frame.hottest);
        let earlier = self.frames.iter().take_while(move |frame| frame.t_s < at_s);
        let later = self.frames.iter().skip_while(move |frame| frame.t_s < at_s).filter(is_other);
        earlier.chain(hottest).chain(later)
    }

    pub(super) fn keep(&mut self, sample: Sample, picture: impl FnOnce() -> Frame) {
        self.samples.push(sample);
        let far = self.last.is_none_or(|(t_s, t_k)| {
            let scale = f64::from(1 << self.thinned);
            sample.t_s - t_s >= scale * FRAME_STEP_S
                || (sample.hottest.t_k - t_k).abs() >= scale * FRAME_STEP_K
                || sample.t_s <= t_s
        });
        let hotter = |before: &Frame| sample.hottest.t_k > before.hottest.t_k;
        let is_hottest = self.hottest.as_ref().is_none_or(hotter);
        if !far && !is_hottest {
            return;
        }
        let picture = picture();
        if is_hottest {
            self.hottest = Some(picture.clone());
        }
        if !far {
            return;
        }
        self.last = Some((sample.t_s, sample.hottest.t_k));
        self.frames.push(picture);
        if self.frames.len() > MOST_FRAMES {
            let mut index = 0;
            self.frames.retain(|_| {
                index += 1;
                index % 2 == 1
            });
            self.thinned += 1;
        }
    }
}

impl Frame {
    pub(super) fn of(
        hottest: Peak,
        body: &Body,
        poured: &[bool],
        t_k: &[f64],
        conversion: &[f64],
    ) -> Self {
        let mesh = &body.mesh;
        let (nx, strides) = (mesh.x.cells(), mesh.strides());
        let cells = (0..mesh.z.cells()).flat_map(|k| (0..nx).map(move |i| k * strides[2] + i));
        let (mut t, mut a) = (Vec::new(), Vec::new());
        for cell in cells {
            let resin = body.contents[cell] == Content::Resin;
            let there = poured[cell] || matches!(body.contents[cell], Content::Solid(_));
            t.push(if there { t_k[cell] as f32 } else { f32::NAN });
            a.push(if resin && poured[cell] { conversion[cell] as f32 } else { f32::NAN });
        }
        Self { t_s: hottest.at_s, hottest, t_k: t, conversion: a }
    }
}

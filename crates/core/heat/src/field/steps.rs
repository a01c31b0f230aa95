//! How a field is followed through time, and what came of it between pours.

use serde::{Deserialize, Serialize};

use super::peak::Peak;

/// How finely time is divided.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Steps {
    /// Rise of the fastest cell by its own heat in one step, K. At 2 K peaks are
    /// within 0.03 K of those of much shorter steps.
    pub release_k: f64,
    /// First step after a pour or a change around, s.
    pub first_s: f64,
    /// Longest step while the surface has not gelled, s.
    pub liquid_s: f64,
    /// Longest step afterwards, s.
    pub longest_s: f64,
}

impl Default for Steps {
    fn default() -> Self {
        Self { release_k: 2.0, first_s: 5.0, liquid_s: 300.0, longest_s: 900.0 }
    }
}

/// When a run may end before its time is up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum FieldGoal {
    /// Only once the time is up.
    Time,
    /// The peak has passed, or a point is hotter than this, K.
    Peak {
        /// Hot enough to know.
        enough_k: f64,
    },
    /// Hard all through.
    Hard,
}

/// What a run has cost. Tests pin these, so that a slower method shows.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct FieldWork {
    /// Cells of the mesh.
    pub cells: usize,
    /// Steps taken.
    pub steps: u32,
    /// Evaluations of the cure rate.
    pub evaluations: u64,
}

/// What has happened since a pour, and before the next one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Segment {
    /// When it was poured, s from the first pour.
    pub poured_s: f64,
    /// Level of its surface, m.
    pub to_m: f64,
    /// The hottest point of all resin in that time.
    pub peak: Option<Peak>,
    /// Its surface gelled at the line of symmetry or the widest place.
    pub opens_s: Option<f64>,
    /// Its surface gelled everywhere.
    pub opens_everywhere_s: Option<f64>,
    /// Its surface there set too hard to bond.
    pub closes_s: Option<f64>,
    /// All resin is hard enough to leave the form.
    pub hard_s: Option<f64>,
}

/// How far a run has come.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Progress {
    /// Seconds from the first pour.
    pub at_s: f64,
    /// The hottest that any point has been, K.
    pub hottest_k: f64,
}

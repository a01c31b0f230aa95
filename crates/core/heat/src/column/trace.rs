//! Temperatures over time, for drawing.

/// One moment of a run.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sample {
    /// Seconds from the first pour.
    pub t_s: f64,
    /// Hottest point, K.
    pub hottest_k: f64,
    /// True top surface, K.
    pub surface_k: f64,
    /// Underside, on the form board, K.
    pub underside_k: f64,
}

/// The moments of a run, in order of time, several in each step of the solver.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Trace {
    /// The moments.
    pub samples: Vec<Sample>,
}

impl Trace {
    /// The samples up to a time.
    #[must_use]
    pub fn until(&self, end_s: f64) -> &[Sample] {
        let end = self.samples.partition_point(|s| s.t_s <= end_s);
        &self.samples[..end]
    }
}

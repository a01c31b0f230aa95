//! Why a log cannot be used for calibration.

/// Why a log cannot be used for calibration.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refusal {
    /// Too few readings.
    #[error("{found} readings")]
    TooFew {
        /// Number of readings found.
        found: usize,
    },
    /// It looks like another scale.
    #[error("the first readings are near {celsius} °C")]
    LooksLikeFahrenheit {
        /// The first reading as it was understood.
        celsius: f64,
    },
    /// The mix was not near the temperature said.
    #[error("begins at {celsius} °C")]
    BeginsWarm {
        /// The first reading.
        celsius: f64,
    },
    /// It ends before the peak has passed.
    #[error("ends {hours} h after mixing")]
    EndsEarly {
        /// Length of the log, h from mixing.
        hours: f64,
    },
    /// It says nothing about the peak.
    #[error("nothing between {from_min} and {to_min} min")]
    GapAtPeak {
        /// From, minutes.
        from_min: f64,
        /// To, minutes.
        to_min: f64,
    },
    /// A cup that hardly warms.
    #[error("warmed by {rise_k} K")]
    HardlyWarmed {
        /// Rise of the temperature, K.
        rise_k: f64,
    },
    /// A warm cup whose log does not settle its loss.
    #[error("the loss is not settled")]
    LossUnsettled,
    /// All hangs on the loss.
    #[error("warmed by {rise_k} K: the heat would move by {moved_percent} %")]
    HangsOnLoss {
        /// By how much it warmed.
        rise_k: f64,
        /// How far the heat would move.
        moved_percent: f64,
    },
    /// A thermometer that lies.
    #[error("{found} of {of} readings jump")]
    Jumps {
        /// Outliers.
        found: usize,
        /// Readings.
        of: usize,
    },
    /// It cannot be this resin.
    #[error("fits with {rate} times the rate and {heat} times the heat")]
    OutOfRange {
        /// Factor on the rate.
        rate: f64,
        /// Factor on the heat.
        heat: f64,
    },
    /// No curve of the model comes near.
    #[error("no curve is nearer than {noise_k} K")]
    DoesNotFit {
        /// The spread left.
        noise_k: f64,
    },
    /// The solver or the fit failed.
    #[error("the fit did not end: {0}")]
    NoFit(String),
}

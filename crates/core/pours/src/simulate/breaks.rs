//! What given pour times break.

use fondant_quantities::{Span, Temperature};
use jiff::Timestamp;

use super::air_rule::Unfit;

/// What a given time breaks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Break {
    /// Before work can begin.
    TooSoon {
        /// The pour, from 0.
        pour: usize,
    },
    /// Before the pour below it.
    OutOfOrder {
        /// The pour, from 0.
        pour: usize,
    },
    /// The shop is closed at some time between the first bucket and the last.
    Closed {
        /// The pour, from 0.
        pour: usize,
    },
    /// The air forbids it.
    UnfitAir {
        /// The pour, from 0.
        pour: usize,
        /// What is wrong with the air.
        unfit: Unfit,
    },
    /// The layer below is still liquid.
    NotSticky {
        /// The pour, from 0.
        pour: usize,
        /// Time at which the window opens, UTC.
        opens: Timestamp,
    },
    /// The layer below has set, and is not hard and sanded yet.
    Set {
        /// The pour, from 0.
        pour: usize,
        /// Time at which the window closes, UTC.
        closes: Timestamp,
        /// When it is hard and has been sanded.
        ready: Timestamp,
    },
    /// The layer below has set, and the shop is never open long enough at a time to sand it.
    NeverSanded {
        /// The pour, from 0.
        pour: usize,
        /// Duration of the sanding.
        takes: Span,
    },
    /// The layer below has set, and what lies in its surface cannot be sanded.
    CannotBeSanded {
        /// The pour, from 0.
        pour: usize,
        /// Time at which the window closes, UTC.
        closes: Timestamp,
    },
    /// A layer passes the limit.
    TooHot {
        /// The layer, from 0.
        pour: usize,
        /// Peak temperature.
        peak: Temperature,
    },
}

impl Break {
    /// The pour that it is told of, from 0.
    #[must_use]
    pub const fn pour(&self) -> usize {
        match self {
            Self::TooSoon { pour }
            | Self::OutOfOrder { pour }
            | Self::Closed { pour }
            | Self::UnfitAir { pour, .. }
            | Self::NotSticky { pour, .. }
            | Self::Set { pour, .. }
            | Self::NeverSanded { pour, .. }
            | Self::CannotBeSanded { pour, .. }
            | Self::TooHot { pour, .. } => *pour,
        }
    }
}

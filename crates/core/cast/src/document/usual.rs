//! Figures that a document has until somebody types another.

use fondant_quantities::Length;

/// Where a new river has its stations, as shares of the form's length.
pub(super) const GUESSED_STATIONS: [f64; 3] = [0.0, 0.5, 1.0];
/// The river's share of the form's width until it is measured.
pub(super) const GUESSED_RIVER_RATIO: f64 = 0.25;
/// A tape is read to about a millimetre (convention).
pub(super) const USUAL_TOLERANCE: Length = Length::from_mm(1.0);

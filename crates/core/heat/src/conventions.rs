//! Conventions of the model that several solvers share.

/// The window closes once the glass temperature at the surface is within this
/// of the surface temperature, K. A convention of this model.
pub const CLOSE_MARGIN_K: f64 = 5.0;
/// "Full" never asks for more than this below the final glass temperature, K.
pub(crate) const FULL_HEADROOM_K: f64 = 8.0;

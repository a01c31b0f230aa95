//! What is drawn under the boards.

use fondant_quantities::Length;

/// A squared-up photo under the drawing.
pub(crate) struct Backdrop {
    pub(crate) href: String,
    pub(crate) length: Length,
    pub(crate) width: Length,
}

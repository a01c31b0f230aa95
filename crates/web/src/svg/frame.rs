//! The width that a drawing is made for.

use super::markup::Markup;

/// The width that a drawing is made for, in CSS pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Frame {
    /// Width of the drawing.
    pub(crate) width: f64,
    /// The class that shows it on the right screens.
    pub(crate) class: &'static str,
}

/// Beside the notes on a large screen.
pub(crate) const WIDE: Frame = Frame { width: 756.0, class: "wide" };
/// Across the whole page on a large screen.
pub(crate) const FULL: Frame = Frame { width: 1078.0, class: "wide" };
/// Half of the space beside the notes.
pub(crate) const HALF: Frame = Frame { width: 366.0, class: "wide" };
/// On a phone.
pub(crate) const NARROW: Frame = Frame { width: 358.0, class: "narrow" };
/// Beside the main column, on any page.
pub(crate) const ASIDE: Frame = Frame { width: 300.0, class: "aside" };

impl Frame {
    /// Whether there is room for little more than the drawing.
    pub(crate) fn is_narrow(&self) -> bool {
        self.width < 400.0
    }
}

/// Draws for a wide page and for a phone.
pub(crate) fn both(wide: Frame, draw: impl Fn(Frame) -> Markup) -> Markup {
    [draw(wide), draw(NARROW)].into_iter().collect()
}

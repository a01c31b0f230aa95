//! Drawings as SVG text: pure functions of what is drawn, coloured by classes
//! so that a theme changes them.
//!
//! Every drawing is made for a [`Frame`]: once for a wide page and once for a
//! phone, so that its text is never scaled below reading size.

pub mod blanks;
pub mod chart;
pub mod day_axis;
pub mod glyphs;
pub mod hours_axis;
pub mod labels;
pub mod plan_view;
pub mod section;
pub mod shop_week;
mod svg;
pub mod temperatures;

pub use svg::Svg;

/// The width that a drawing is made for, in CSS pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Frame {
    /// Width of the drawing.
    pub width: f64,
    /// The class that shows it on the right screens.
    pub class: &'static str,
}

/// Beside the notes on a large screen.
pub const WIDE: Frame = Frame { width: 756.0, class: "wide" };
/// Across the whole page on a large screen.
pub const FULL: Frame = Frame { width: 1078.0, class: "wide" };
/// Half of the space beside the notes.
pub const HALF: Frame = Frame { width: 366.0, class: "wide" };
/// On a phone.
pub const NARROW: Frame = Frame { width: 358.0, class: "narrow" };

/// Beside the main column, on any page.
pub const ASIDE: Frame = Frame { width: 300.0, class: "aside" };

impl Frame {
    /// Whether there is room for little more than the drawing.
    #[must_use]
    pub fn is_narrow(&self) -> bool {
        self.width < 400.0
    }
}

/// Draws for a wide page and for a phone.
pub fn both(wide: Frame, draw: impl Fn(Frame) -> String) -> String {
    draw(wide) + &draw(NARROW)
}

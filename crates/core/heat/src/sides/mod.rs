//! What timber or walls beside resin do to its middle, as a column sees it, and how deep it may be
//! poured between them.
//!
//! A column has no sides: of a narrow river or a block it says that it gets hotter, and turns
//! tacky hours earlier, than it does. Here a column loses heat sideways,
//! `−g (T − T_outside)` W/m³, with the one g that lets it peak as hot as the section or block does.
//! That g is found from a coarse [`field`](crate::field) of a single layer in steady air. What else
//! the column then says of the middle agrees too: in channels of 60 to 600 mm its windows lie
//! within a quarter of an hour of the section's, for layers of 6 to 40 mm.
//!
//! The rim beside cold timber is the last to get hard, in wide rivers too. The
//! share by which it is later than the middle is kept with the loss.
//!
//! - [`Extent`]: channels and blocks, and what is beside them
//! - [`Between`]: their peak, their deepest pour and the loss of their column

mod between;
mod extent;

pub use between::Between;
pub use extent::{Beside, Extent, Stretch, WIDE_RATIO};

/// What the sides do to a column in the middle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sides {
    /// Heat lost sideways, W/(m³·K).
    pub loss_w_m3k: f64,
    /// Ratio of the demould time at the rim to that in the middle, at least 1.
    pub hard_ratio: f64,
}

impl Sides {
    /// As if there were none.
    pub const NONE: Self = Self { loss_w_m3k: 0.0, hard_ratio: 1.0 };

    /// When all is hard, s, from when it was poured and its middle is hard.
    #[must_use]
    pub fn hard_s(&self, poured_s: f64, middle_s: f64) -> f64 {
        poured_s + (middle_s - poured_s) * self.hard_ratio
    }
}

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
//! - [`Sides`]: what they do to a column
//! - [`Between`]: their peak, their deepest pour and the loss of their column

mod between;
mod effect;
mod extent;

pub use between::Between;
pub use effect::Sides;
pub use extent::{Beside, Extent, Stretch, is_wide, wide_m};

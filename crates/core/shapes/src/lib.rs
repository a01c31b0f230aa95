//! Shapes of timber, forms and cavities. It answers how much resin a form takes below a level, with the
//! uncertainty of that figure.
//!
//! - [`geometry`]: outlines, solids between two of them, meshes, the plane of a photo
//! - [`timber`]: boards, cavities, inserts, and the river between boards by stations
//! - [`form`]: from the finished piece to the inside of the form, and how it is built
//! - [`volume`]: V(z), the lines of the volume and their uncertainty, buoyancy
//! - [`blanks`]: moulds of many cavities, tubes and labels, blanks sawn from a block
//! - [`picture`]: a rectified photo, and the timber found in it
//!
//! ```
//! use fondant_quantities::{Area, Length};
//! use fondant_shapes::volume::{Fill, Profile};
//!
//! // A form of 0.5 m² with a block of 0.1 m² and 30 mm in it, filled 50 mm deep.
//! let mm = Length::from_mm;
//! let solid = Profile::prism(mm(0.0), mm(30.0), Area::from_m2(0.1));
//! let fill = Fill::prism(Area::from_m2(0.5), mm(0.0), mm(50.0)).with_solid(solid);
//! assert!((fill.volume().l() - (25.0 - 3.0)).abs() < 1e-9);
//! ```

pub mod blanks;
pub mod form;
pub mod geometry;
pub mod picture;
pub mod timber;
pub mod volume;

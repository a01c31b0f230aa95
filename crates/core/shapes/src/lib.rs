//! Shapes of timber, forms and cavities: how much room they leave for resin below a level.
//!
//! - [`geometry`]: outlines, solids between two of them, meshes, the plane of a photo
//! - [`picture`]: a photo squared up, and the timber found in it
//! - [`timber`]: boards, cavities, inserts, and the river between boards by stations
//! - [`form`]: from the finished piece to the inside of the form, and how it is built
//! - [`blanks`]: moulds of many cavities, tubes and labels, blanks sawn from a block
//! - [`volume`]: V(z), the lines of the volume and their uncertainty, buoyancy

pub mod blanks;
pub mod form;
pub mod geometry;
pub mod picture;
pub mod timber;
pub mod volume;

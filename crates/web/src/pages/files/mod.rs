//! Photos and files brought into a cast: outlines from SVG and DXF, a solid from STL.
//!
//! - `handlers`: read and brought in; `view`: the page

mod handlers;
mod view;

pub(crate) use handlers::{brought, routes, uploads};

//! Drawings as SVG, coloured by classes so that a theme changes them.
//!
//! - [`Svg`]: writes a drawing; text in it is escaped
//! - [`Markup`]: what templates print without escaping; else only parts whose own templates escape
//! - [`Frame`]: the width that a drawing is made for
//!
//! Every drawing is made for a [`Frame`]: once for a wide page and once for a phone, so that its
//! text is never scaled below reading size.

mod builder;
mod frame;
mod markup;

pub(crate) use builder::{Row, Svg};
pub(crate) use frame::{ASIDE, FULL, Frame, HALF, NARROW, WIDE, both};
pub(crate) use markup::Markup;

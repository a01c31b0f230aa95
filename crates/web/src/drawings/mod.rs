//! Drawings that several pages show.
//!
//! - [`plan_view`], [`section`]: the cast from above, and cut across
//! - [`chart`]: lines over axes
//! - [`course`]: what a cast went through on one axis of time
//! - [`blanks`]: blocks and their cuts, stock sheets; [`rack`]: moulds in a pressure pot
//! - [`labels`]: sheets of labels, 1:1

pub(crate) mod blanks;
pub(crate) mod chart;
pub(crate) mod course;
pub(crate) mod labels;
pub(crate) mod plan_view;
pub(crate) mod rack;
pub(crate) mod section;

//! What pages are made of.
//!
//! - [`entries`], [`reader`]: what was typed, read into checked values
//! - [`field`], [`group`], [`figure`]: fields, groups and lists of them, figures with workings
//! - [`slug`]: names of enums in forms and addresses
//! - [`units`], [`numbers`]: quantities and times in the shop's units; spans, money, figures
//! - [`extract`], [`upload`]: what handlers take from a request
//! - [`page`]: the frame of a page: title, place, scripts
//! - [`error`]: what went wrong, as a page or a notice

pub(crate) mod entries;
pub(crate) mod error;
pub(crate) mod extract;
pub(crate) mod field;
pub(crate) mod figure;
pub(crate) mod group;
pub(crate) mod numbers;
pub(crate) mod page;
pub(crate) mod reader;
pub(crate) mod slug;
pub(crate) mod units;
pub(crate) mod upload;
pub(crate) mod written;

//! One file a table.

pub(crate) mod cast;
pub(crate) mod cast_revision;
pub(crate) mod owned_form;
pub(crate) mod photo;
pub(crate) mod shelf_item;
pub(crate) mod workshop;

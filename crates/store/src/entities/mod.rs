//! One file a table.

pub(crate) mod agenda;
pub(crate) mod air_log;
pub(crate) mod air_reading;
pub(crate) mod answered_request;
pub(crate) mod brought_reading;
pub(crate) mod cast;
pub(crate) mod cast_revision;
pub(crate) mod device;
pub(crate) mod device_reading;
pub(crate) mod drawing;
pub(crate) mod finish_row;
pub(crate) mod forecast;
pub(crate) mod job;
pub(crate) mod owned_form;
pub(crate) mod photo;
pub(crate) mod pour_fact;
pub(crate) mod record;
pub(crate) mod record_fault;
pub(crate) mod run;
pub(crate) mod run_row;
pub(crate) mod shelf_item;
pub(crate) mod workshop;

/// What an entity is related to: nothing that it knows of, as the repositories ask for what belongs
/// together by its ids.
#[derive(Clone, Copy, Debug, sea_orm::EnumIter, sea_orm::DeriveRelation)]
pub(crate) enum Relation {}

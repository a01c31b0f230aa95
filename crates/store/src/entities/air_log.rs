//! A log of a shop's air that was brought in.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "air_log")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) workshop_id: i64,
    /// Its heading, by which the logger is known again.
    pub(crate) heading: String,
    /// The order of its dates, where it was told.
    pub(crate) date_order: Option<String>,
    pub(crate) rows: i32,
    pub(crate) first_at: DateTimeUtc,
    pub(crate) last_at: DateTimeUtc,
    pub(crate) created_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

//! Readings of a shop's air.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "air_reading")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) workshop_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) at: DateTimeUtc,
    /// The log that it came with; 0 for those from before logs were kept.
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) log_id: i64,
    pub(crate) t_k: f64,
    pub(crate) humidity_percent: f64,
}

impl ActiveModelBehavior for ActiveModel {}

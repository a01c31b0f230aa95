//! What instruments read. Rows are only ever added.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "device_reading")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) device_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) seq: i64,
    pub(crate) at: DateTimeUtc,
    pub(crate) quantity: String,
    pub(crate) value: f64,
    pub(crate) doubt: Option<String>,
    pub(crate) received_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

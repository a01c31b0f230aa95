//! Records of casts that are finished or given up.

use sea_orm::entity::prelude::*;

use super::Relation;

// Many fields: what the ledger sorts and filters by stands in columns.
#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "record")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) cast_id: i64,
    pub(crate) workshop_id: i64,
    pub(crate) ended_at: DateTimeUtc,
    pub(crate) revision: i32,
    pub(crate) is_open: bool,
    pub(crate) outcome: String,
    pub(crate) kind: String,
    pub(crate) resin: String,
    pub(crate) timber: String,
    pub(crate) people: String,
    pub(crate) note: String,
    pub(crate) volume_m3: f64,
    pub(crate) hours_s: f64,
    pub(crate) cost: f64,
    pub(crate) fault_count: i32,
    pub(crate) words: String,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) figures: Json,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) told: Json,
}

impl ActiveModelBehavior for ActiveModel {}

//! What happened in a run. Rows are only ever added.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "run_row")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) run_id: i64,
    pub(crate) key: String,
    pub(crate) at: DateTimeUtc,
    pub(crate) recorded_at: DateTimeUtc,
    pub(crate) told_by: String,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
}

impl ActiveModelBehavior for ActiveModel {}

//! One state of a cast's plan. Rows are only ever added.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "cast_revision")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) cast_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) number: i32,
    pub(crate) schema_version: i32,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) plan: Json,
    /// The revision whose plan undo brings back.
    pub(crate) undo_to: Option<i32>,
    /// The revision whose plan redo brings back.
    pub(crate) redo_to: Option<i32>,
    pub(crate) created_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

//! Faults of finished pieces.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "record_fault")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    pub(crate) kind: String,
    pub(crate) cause: Option<String>,
    pub(crate) marked_at: DateTimeUtc,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
}

impl ActiveModelBehavior for ActiveModel {}

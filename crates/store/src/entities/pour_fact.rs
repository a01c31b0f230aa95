//! What happened to a cast's pours. Rows are only ever added.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "pour_fact")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
    pub(crate) recorded_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

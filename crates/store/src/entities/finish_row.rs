//! What was told of the finishing of a cast.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "finish_row")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    pub(crate) at: DateTimeUtc,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
}

impl ActiveModelBehavior for ActiveModel {}

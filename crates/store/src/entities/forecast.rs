//! What was promised when a plan was taken.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "forecast")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) cast_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
    pub(crate) taken_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

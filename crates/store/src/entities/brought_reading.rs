//! What instruments of another shop read while a cast came about.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "brought_reading")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) cast_id: i64,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
}

impl ActiveModelBehavior for ActiveModel {}

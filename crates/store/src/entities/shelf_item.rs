//! One thing on a shop's shelf.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "shelf_item")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) workshop_id: i64,
    /// What kind of thing it is.
    pub(crate) kind: String,
    /// Its short name among those of its kind.
    pub(crate) slug: String,
    pub(crate) revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
    pub(crate) updated_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

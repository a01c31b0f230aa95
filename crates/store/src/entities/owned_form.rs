//! A form or mould that the shop has.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "owned_form")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) workshop_id: i64,
    pub(crate) revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
    /// The cast that uses it.
    pub(crate) booked_by: Option<i64>,
}

impl ActiveModelBehavior for ActiveModel {}

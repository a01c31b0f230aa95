//! A drawing that was brought in and is being looked at.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "drawing")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    /// Name of the file.
    pub(crate) name: String,
    /// `svg` or `dxf`.
    pub(crate) format: String,
    pub(crate) bytes: Vec<u8>,
    pub(crate) created_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

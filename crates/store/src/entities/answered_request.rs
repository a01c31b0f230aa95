//! A request that added something, by the key that came with it.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "answered_request")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) workshop_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) key: String,
    /// Number of the row that it added, where it has one.
    pub(crate) result: Option<i64>,
    pub(crate) answered_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

//! A cast: the columns needed to find it, and which revision is the newest.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "cast")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) workshop_id: i64,
    pub(crate) name: String,
    pub(crate) revision: i32,
    pub(crate) created_at: DateTimeUtc,
    pub(crate) updated_at: DateTimeUtc,
    /// Out of the list since.
    pub(crate) put_away_at: Option<DateTimeUtc>,
    /// Deleted since; gone for good after thirty days.
    pub(crate) deleted_at: Option<DateTimeUtc>,
}

impl ActiveModelBehavior for ActiveModel {}

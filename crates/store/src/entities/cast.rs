//! A cast: the columns needed to find it, and which revision is the newest.

use sea_orm::entity::prelude::*;

#[sea_orm::model]
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
}

impl ActiveModelBehavior for ActiveModel {}

//! Instruments of the shop.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "device")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) workshop_id: i64,
    pub(crate) name: String,
    pub(crate) place: String,
    pub(crate) token_hash: String,
    pub(crate) offset_kept: f64,
    pub(crate) is_silenced: bool,
    pub(crate) created_at: DateTimeUtc,
    pub(crate) revoked_at: Option<DateTimeUtc>,
}

impl ActiveModelBehavior for ActiveModel {}

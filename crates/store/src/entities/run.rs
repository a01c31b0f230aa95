//! Runs at the bench.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "run")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    pub(crate) pour_id: Option<i64>,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) plan: Json,
    pub(crate) begun_at: DateTimeUtc,
    pub(crate) ended_at: Option<DateTimeUtc>,
    /// When all of it is hard, where it was poured at once.
    pub(crate) hard_at: Option<DateTimeUtc>,
}

impl ActiveModelBehavior for ActiveModel {}

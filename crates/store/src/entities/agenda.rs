//! What a taken plan asks of the shop and when; follows from the plan.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "agenda")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) cast_id: i64,
    pub(crate) workshop_id: i64,
    pub(crate) ends_at: DateTimeUtc,
    /// Its first pour begins; `None` where an older version kept it and could not be read.
    pub(crate) begins_at: Option<DateTimeUtc>,
    /// Its last pour is in.
    pub(crate) poured_at: Option<DateTimeUtc>,
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) document: Json,
    /// What it was worked out from; `None` before that was kept.
    #[sea_orm(column_type = "JsonBinary", nullable)]
    pub(crate) basis: Option<Json>,
}

impl ActiveModelBehavior for ActiveModel {}

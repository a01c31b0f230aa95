//! Long work on a cast, by the hash of its inputs.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "job")]
pub(crate) struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) workshop_id: i64,
    #[sea_orm(primary_key, auto_increment = false)]
    pub(crate) key: String,
    /// The cast that asked for it last.
    pub(crate) cast_id: i64,
    pub(crate) kind: String,
    /// Counts how often it was begun again after it was cancelled or had failed.
    pub(crate) generation: i32,
    pub(crate) state: String,
    pub(crate) permille: i16,
    pub(crate) input: Vec<u8>,
    pub(crate) result: Option<Vec<u8>>,
    #[sea_orm(column_type = "JsonBinary", nullable)]
    pub(crate) failure: Option<Json>,
    pub(crate) is_cancelled: bool,
    pub(crate) asked_at: DateTimeUtc,
    /// Last sign of a worker.
    pub(crate) seen_at: Option<DateTimeUtc>,
    pub(crate) ended_at: Option<DateTimeUtc>,
}

impl ActiveModelBehavior for ActiveModel {}

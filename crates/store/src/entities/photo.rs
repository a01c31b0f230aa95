//! A photo of the bench; its bytes are hashed, and only the newest squaring is kept.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "photo")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) cast_id: i64,
    pub(crate) sha256: String,
    pub(crate) width: i32,
    pub(crate) height: i32,
    pub(crate) jpeg: Vec<u8>,
    /// How it was squared up.
    #[sea_orm(column_type = "JsonBinary", nullable)]
    pub(crate) squaring: Option<Json>,
    /// The squared-up picture.
    pub(crate) squared: Option<Vec<u8>>,
    /// The step of finishing that it shows.
    pub(crate) step: Option<String>,
    /// The fault that it shows.
    pub(crate) fault_id: Option<i64>,
    /// The same, small; made when it is first asked for.
    pub(crate) small: Option<Vec<u8>>,
    pub(crate) created_at: DateTimeUtc,
}

impl ActiveModelBehavior for ActiveModel {}

//! Drawings that were brought in, until something of them is taken or a day has gone by.

use jiff::{SignedDuration, Timestamp};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
    QueryTrait,
};

use super::{CastId, WorkshopId};
use crate::convert::to_column;
use crate::entities::cast;
use crate::entities::drawing::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// How long a drawing is kept from which nothing is taken (convention: a maker may come back to it
/// the same day).
const KEPT_FOR: SignedDuration = SignedDuration::from_hours(24);
/// Drawings that are kept with a cast at a time, the newest: an undecided maker looks at a few.
const MOST_KEPT: u64 = 8;

/// A drawing's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct DrawingId(pub i64);

impl std::fmt::Display for DrawingId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A drawing's file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DrawingFile {
    /// Name of the file.
    pub name: String,
    /// The word for its format.
    pub format: String,
    /// The file as it was sent.
    pub bytes: Vec<u8>,
}

impl<C: ConnectionTrait> Session<C> {
    /// Name and format of a drawing of a cast.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such drawing any more.
    pub async fn drawing_about(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: DrawingId,
    ) -> Result<(String, String), StoreError> {
        let found = of(workshop, cast, id)
            .select_only()
            .column(Column::Name)
            .column(Column::Format)
            .into_tuple()
            .one(&self.0);
        found.await?.ok_or(StoreError::NotFound("drawing"))
    }

    /// The bytes of a drawing of a cast.
    ///
    /// # Errors
    /// As [`Session::drawing_about`].
    pub async fn drawing_bytes(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: DrawingId,
    ) -> Result<Vec<u8>, StoreError> {
        let found =
            of(workshop, cast, id).select_only().column(Column::Bytes).into_tuple().one(&self.0);
        found.await?.ok_or(StoreError::NotFound("drawing"))
    }
}

impl Transaction {
    /// Keeps a drawing with a cast that is locked in this transaction, and removes those that are
    /// too old or too many.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_drawing(
        &self,
        cast: CastId,
        file: DrawingFile,
        now: Timestamp,
    ) -> Result<DrawingId, StoreError> {
        let old = now.saturating_sub(KEPT_FOR).map_err(|_| StoreError::NotFound("time"))?;
        Entity::delete_many().filter(Column::CreatedAt.lt(to_column(old)?)).exec(&self.0).await?;
        let kept: Vec<i64> = Entity::find()
            .select_only()
            .column(Column::Id)
            .filter(Column::CastId.eq(cast.0))
            .order_by_desc(Column::Id)
            .limit(MOST_KEPT - 1)
            .into_tuple()
            .all(&self.0)
            .await?;
        Entity::delete_many()
            .filter(Column::CastId.eq(cast.0))
            .filter(Column::Id.is_not_in(kept))
            .exec(&self.0)
            .await?;
        let row = ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            name: ActiveValue::Set(file.name),
            format: ActiveValue::Set(file.format),
            bytes: ActiveValue::Set(file.bytes),
            created_at: ActiveValue::Set(to_column(now)?),
        };
        Ok(DrawingId(Entity::insert(row).exec(&self.0).await?.last_insert_id))
    }
}

/// A drawing of a cast, if the cast is this workshop's.
fn of(workshop: WorkshopId, id: CastId, drawing: DrawingId) -> sea_orm::Select<Entity> {
    let owned = cast::Entity::find_by_id(id.0)
        .filter(cast::Column::WorkshopId.eq(workshop.0))
        .select_only()
        .column(cast::Column::Id)
        .into_query();
    Entity::find().filter(Column::Id.eq(drawing.0)).filter(Column::CastId.in_subquery(owned))
}

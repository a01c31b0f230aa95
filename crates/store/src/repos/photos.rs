//! Photos of the bench and how they were squared up; photos of steps and of faults.

use fondant_finish::work::StepKind;
use fondant_shapes::picture::squaring::Squaring;
use jiff::Timestamp;
use sea_orm::{
    ActiveValue, ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect, QueryTrait,
};

use super::devices::{read, word};
use super::records::FaultId;
use super::{CastId, WorkshopId};
use crate::convert::{from_json, to_column, to_json};
use crate::entities::cast;
use crate::entities::photo::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A photo's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct PhotoId(pub i64);

impl std::fmt::Display for PhotoId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A photo without its bytes.
#[derive(Debug, Clone, PartialEq)]
pub struct PhotoRecord {
    /// Database id.
    pub id: PhotoId,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// SHA-256 of its bytes.
    pub sha256: String,
    /// How it was squared up, where it was.
    pub squaring: Option<Squaring>,
    /// What it shows.
    pub shows: Shows,
}

/// What a photo shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shows {
    /// The bench from above, to be traced.
    Bench,
    /// A step of finishing.
    Step(StepKind),
    /// A fault of the piece.
    Fault(FaultId),
}

/// Which bytes of a photo.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Picture {
    /// As the camera saw it.
    Photo,
    /// Squared up.
    Squared,
    /// Small, for a list; not there before it was kept.
    Small,
}

impl<C: ConnectionTrait> Session<C> {
    /// The photos of a cast, newest first, without their bytes.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn photos(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Vec<PhotoRecord>, StoreError> {
        type Row = (i64, String, i32, i32, Option<serde_json::Value>, Option<String>, Option<i64>);
        let rows: Vec<Row> = Entity::find()
            .select_only()
            .column(Column::Id)
            .column(Column::Sha256)
            .column(Column::Width)
            .column(Column::Height)
            .column(Column::Squaring)
            .column(Column::Step)
            .column(Column::FaultId)
            .filter(of(workshop, cast))
            .order_by_desc(Column::Id)
            .into_tuple()
            .all(&self.0)
            .await?;
        rows.into_iter()
            .map(|(id, sha256, width, height, squaring, step, fault)| {
                Ok(PhotoRecord {
                    id: PhotoId(id),
                    width: width.unsigned_abs(),
                    height: height.unsigned_abs(),
                    sha256,
                    squaring: squaring.as_ref().map(from_json).transpose()?,
                    shows: match (step, fault) {
                        (Some(step), _) => Shows::Step(read(&step)?),
                        (None, Some(fault)) => Shows::Fault(FaultId(fault)),
                        (None, None) => Shows::Bench,
                    },
                })
            })
            .collect()
    }

    /// The bytes of a photo of a cast.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none, or it was not squared up or made small.
    pub async fn picture(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: PhotoId,
        which: Picture,
    ) -> Result<Vec<u8>, StoreError> {
        let column = match which {
            Picture::Photo => Column::Jpeg,
            Picture::Squared => Column::Squared,
            Picture::Small => Column::Small,
        };
        let bytes: Option<Option<Vec<u8>>> = Entity::find()
            .select_only()
            .column(column)
            .filter(Column::Id.eq(id.0))
            .filter(of(workshop, cast))
            .into_tuple()
            .one(&self.0)
            .await?;
        bytes.flatten().ok_or(StoreError::NotFound("photo"))
    }
}

impl Transaction {
    /// Keeps a photo with a cast that is locked in this transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_photo(
        &self,
        cast: CastId,
        photo: &NewPhoto,
        now: Timestamp,
    ) -> Result<PhotoId, StoreError> {
        let (step, fault) = match photo.shows {
            Shows::Bench => (None, None),
            Shows::Step(step) => (Some(word(&step)?), None),
            Shows::Fault(fault) => (None, Some(fault.0)),
        };
        let size = |pixels: u32| i32::try_from(pixels).unwrap_or(i32::MAX);
        let row = ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            sha256: ActiveValue::Set(photo.sha256.clone()),
            width: ActiveValue::Set(size(photo.width)),
            height: ActiveValue::Set(size(photo.height)),
            jpeg: ActiveValue::Set(photo.jpeg.clone()),
            squaring: ActiveValue::Set(None),
            squared: ActiveValue::Set(None),
            step: ActiveValue::Set(step),
            fault_id: ActiveValue::Set(fault),
            small: ActiveValue::Set(None),
            created_at: ActiveValue::Set(to_column(now)?),
        };
        Ok(PhotoId(Entity::insert(row).exec(&self.0).await?.last_insert_id))
    }

    /// Keeps how a photo was squared up, and the picture that came of it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such photo.
    pub async fn square_photo(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: PhotoId,
        squaring: &Squaring,
        squared: Vec<u8>,
    ) -> Result<(), StoreError> {
        let row = ActiveModel {
            squaring: ActiveValue::Set(Some(to_json(squaring)?)),
            squared: ActiveValue::Set(Some(squared)),
            ..ActiveModel::default()
        };
        let changed = Entity::update_many()
            .set(row)
            .filter(Column::Id.eq(id.0))
            .filter(of(workshop, cast))
            .exec(&self.0)
            .await?;
        if changed.rows_affected == 1 { Ok(()) } else { Err(StoreError::NotFound("photo")) }
    }

    /// Keeps a photo made small.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_small_photo(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: PhotoId,
        small: Vec<u8>,
    ) -> Result<(), StoreError> {
        let row = ActiveModel { small: ActiveValue::Set(Some(small)), ..ActiveModel::default() };
        let own = Entity::update_many().set(row).filter(Column::Id.eq(id.0));
        own.filter(of(workshop, cast)).exec(&self.0).await?;
        Ok(())
    }

    /// Removes a photo.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such photo.
    pub async fn remove_photo(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: PhotoId,
    ) -> Result<(), StoreError> {
        let gone = Entity::delete_many()
            .filter(Column::Id.eq(id.0))
            .filter(of(workshop, cast))
            .exec(&self.0)
            .await?;
        if gone.rows_affected == 1 { Ok(()) } else { Err(StoreError::NotFound("photo")) }
    }
}

/// Photos of a cast, if the cast is this workshop's.
fn of(workshop: WorkshopId, id: CastId) -> Condition {
    let owned = cast::Entity::find_by_id(id.0)
        .filter(cast::Column::WorkshopId.eq(workshop.0))
        .select_only()
        .column(cast::Column::Id)
        .into_query();
    Condition::all().add(Column::CastId.in_subquery(owned))
}

/// A photo to keep.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewPhoto {
    /// JPEG without metadata.
    pub jpeg: Vec<u8>,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// SHA-256 of the JPEG.
    pub sha256: String,
    /// What it shows. A fault is one of its cast.
    pub shows: Shows,
}

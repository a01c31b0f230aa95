//! What was promised when a plan was taken.

use fondant_cast::Forecast;
use jiff::Timestamp;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};

use super::casts::of_workshop;
use super::{CastId, WorkshopId};
use crate::convert::{from_json, to_column, to_json};
use crate::entities::forecast;
use crate::error::StoreError;
use crate::session::{Session, Transaction};

impl<C: ConnectionTrait> Session<C> {
    /// The forecast of the plan that was taken last; `None` where none was.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn forecast(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Option<Forecast>, StoreError> {
        let row = forecast::Entity::find()
            .filter(forecast::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .order_by_desc(forecast::Column::Revision)
            .one(&self.0)
            .await?;
        row.map(|row| from_json(&row.document)).transpose()
    }
}

impl Transaction {
    /// Keeps the forecast of a cast that is locked in this transaction, with the revision in which
    /// its plan was taken.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_forecast(
        &self,
        cast: CastId,
        revision: i32,
        kept: &Forecast,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let row = forecast::ActiveModel {
            cast_id: ActiveValue::Set(cast.0),
            revision: ActiveValue::Set(revision),
            document: ActiveValue::Set(to_json(kept)?),
            taken_at: ActiveValue::Set(to_column(now)?),
        };
        let key = [forecast::Column::CastId, forecast::Column::Revision];
        forecast::Entity::insert(row)
            .on_conflict(OnConflict::columns(key).do_nothing().to_owned())
            .exec_without_returning(&self.0)
            .await?;
        Ok(())
    }
}

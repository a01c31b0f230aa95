//! What is told of the finishing of casts.

use std::collections::BTreeMap;

use fondant_finish::work::{Told, WorkRow};
use jiff::Timestamp;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
    QueryTrait,
};

use super::casts::of_workshop;
use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{cast, finish_row};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

impl<C: ConnectionTrait> Session<C> {
    /// What was told of the finishing of a cast, in order.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn finish_rows(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Vec<WorkRow>, StoreError> {
        let rows = finish_row::Entity::find()
            .filter(finish_row::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .order_by_asc(finish_row::Column::Id)
            .all(&self.0);
        rows.await?.iter().map(row_of).collect()
    }

    /// The same of the workshop's latest casts that were finished, each by itself, from at most `most` rows.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn finish_rows_of_all(
        &self,
        workshop: WorkshopId,
        most: u64,
    ) -> Result<Vec<Vec<WorkRow>>, StoreError> {
        let casts = cast::Entity::find()
            .select_only()
            .column(cast::Column::Id)
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::DeletedAt.is_null())
            .into_query();
        let rows = finish_row::Entity::find()
            .filter(finish_row::Column::CastId.in_subquery(casts))
            .order_by_desc(finish_row::Column::Id)
            .limit(most)
            .all(&self.0)
            .await?;
        let mut of_casts: BTreeMap<i64, Vec<WorkRow>> = BTreeMap::new();
        for row in rows.iter().rev() {
            of_casts.entry(row.cast_id).or_default().push(row_of(row)?);
        }
        Ok(of_casts.into_values().collect())
    }
}

fn row_of(row: &finish_row::Model) -> Result<WorkRow, StoreError> {
    Ok(WorkRow { number: row.id, at: from_column(row.at)?, told: from_json(&row.document)? })
}

impl Transaction {
    /// Writes down something of the finishing of a cast that is locked in this transaction. Returns the
    /// number of its row.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_finish_row(
        &self,
        cast: CastId,
        told: &Told,
        at: Timestamp,
    ) -> Result<i64, StoreError> {
        let row = finish_row::ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            at: ActiveValue::Set(to_column(at)?),
            document: ActiveValue::Set(to_json(told)?),
        };
        Ok(finish_row::Entity::insert(row).exec(&self.0).await?.last_insert_id)
    }
}

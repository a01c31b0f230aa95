//! What happened to pours, and the agenda that follows from a taken plan.

use fondant_cast::{Agenda, Fact, FactRow};
use jiff::Timestamp;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ActiveValue, ColumnTrait, EntityTrait, QueryFilter, QueryOrder};

use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{agenda, cast, pour_fact};
use crate::{Store, StoreError};

/// An agenda and whose it is.
#[derive(Debug, Clone, PartialEq)]
pub struct CastAgenda {
    /// The cast.
    pub cast: CastId,
    /// Its name.
    pub name: String,
    /// Its agenda.
    pub agenda: Agenda,
}

impl Store {
    /// Writes down what happened. Rows are never changed.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_fact(
        &self,
        cast: CastId,
        fact: &Fact,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let row = pour_fact::ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            document: ActiveValue::Set(to_json(fact)?),
            recorded_at: ActiveValue::Set(to_column(now)?),
        };
        pour_fact::Entity::insert(row).exec(&self.db).await?;
        Ok(())
    }

    /// What happened to a cast, in the order in which it was written down.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn facts(&self, cast: CastId) -> Result<Vec<FactRow>, StoreError> {
        let rows = pour_fact::Entity::find()
            .filter(pour_fact::Column::CastId.eq(cast.0))
            .order_by_asc(pour_fact::Column::Id)
            .all(&self.db)
            .await?;
        rows.into_iter()
            .map(|row| {
                Ok(FactRow {
                    number: row.id,
                    fact: from_json(&row.document)?,
                    recorded_at: from_column(row.recorded_at)?,
                })
            })
            .collect()
    }

    /// Keeps a cast's agenda in the place of the former; `None` takes it away.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_agenda(
        &self,
        shop: WorkshopId,
        cast: CastId,
        kept: Option<&Agenda>,
    ) -> Result<(), StoreError> {
        let Some(kept) = kept else {
            agenda::Entity::delete_by_id(cast.0).exec(&self.db).await?;
            return Ok(());
        };
        let row = agenda::ActiveModel {
            cast_id: ActiveValue::Set(cast.0),
            workshop_id: ActiveValue::Set(shop.0),
            ends_at: ActiveValue::Set(to_column(kept.hard)?),
            document: ActiveValue::Set(to_json(kept)?),
        };
        agenda::Entity::insert(row)
            .on_conflict(
                OnConflict::column(agenda::Column::CastId)
                    .update_columns([agenda::Column::EndsAt, agenda::Column::Document])
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// The agenda of a cast; `None` where nothing is due of it.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn agenda(&self, cast: CastId) -> Result<Option<Agenda>, StoreError> {
        let row = agenda::Entity::find_by_id(cast.0).one(&self.db).await?;
        row.map(|row| from_json(&row.document)).transpose()
    }

    /// The agendas of a workshop that end after a time.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn agendas(
        &self,
        shop: WorkshopId,
        ending_after: Timestamp,
    ) -> Result<Vec<CastAgenda>, StoreError> {
        let rows = agenda::Entity::find()
            .filter(agenda::Column::WorkshopId.eq(shop.0))
            .filter(agenda::Column::EndsAt.gte(to_column(ending_after)?))
            .order_by_asc(agenda::Column::EndsAt)
            .all(&self.db)
            .await?;
        let names: std::collections::HashMap<i64, String> = cast::Entity::find()
            .filter(cast::Column::Id.is_in(rows.iter().map(|row| row.cast_id)))
            .all(&self.db)
            .await?
            .into_iter()
            .map(|cast| (cast.id, cast.name))
            .collect();
        rows.into_iter()
            .filter_map(|row| Some((names.get(&row.cast_id)?.clone(), row)))
            .map(|(name, row)| {
                Ok(CastAgenda {
                    cast: CastId(row.cast_id),
                    name,
                    agenda: from_json(&row.document)?,
                })
            })
            .collect()
    }
}

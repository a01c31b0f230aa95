//! What taken plans ask of the shop, and what each agenda was worked out from.

use fondant_cast::agenda::{Agenda, Fit};
use jiff::Timestamp;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement,
};
use serde::{Deserialize, Serialize};

use super::{CastId, WorkshopId};
use crate::convert::{from_json, to_column, to_json};
use crate::entities::agenda;
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// What an agenda was worked out from: where any of it is another now, it is stale.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Basis {
    /// Revision of the cast.
    pub cast: i32,
    /// Revision of the workshop's settings.
    pub workshop: i32,
    /// Revision of the shelf.
    pub shelf: i32,
    /// Revision of the readings of the air, and hours since 1970: what is forecast becomes
    /// another every hour. `None` for a cast in steady air.
    pub air: Option<(i32, i64)>,
}

/// An agenda as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptAgenda {
    /// The cast.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
    /// Current revision of the cast.
    pub revision: i32,
    /// The agenda; `None` where what is kept cannot be read.
    pub agenda: Option<Agenda>,
    /// What it was worked out from; `None` where that is not known.
    pub basis: Option<Basis>,
}

#[derive(FromQueryResult)]
struct Row {
    cast_id: i64,
    name: String,
    revision: i32,
    document: serde_json::Value,
    basis: Option<serde_json::Value>,
}

impl From<Row> for KeptAgenda {
    fn from(row: Row) -> Self {
        Self {
            cast: CastId(row.cast_id),
            name: row.name,
            revision: row.revision,
            agenda: from_json(&row.document).ok(),
            basis: row.basis.as_ref().and_then(|basis| from_json(basis).ok()),
        }
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// The agenda of a cast; `None` where nothing is due of it.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn agenda(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Option<Agenda>, StoreError> {
        let row = agenda::Entity::find_by_id(cast.0)
            .filter(agenda::Column::WorkshopId.eq(workshop.0))
            .one(&self.0)
            .await?;
        // One that cannot be read is worked out again like a stale one.
        Ok(row.and_then(|row| from_json(&row.document).ok()))
    }

    /// The agendas of a workshop that end after a time.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn agendas(
        &self,
        workshop: WorkshopId,
        ending_after: Timestamp,
    ) -> Result<Vec<KeptAgenda>, StoreError> {
        let values: [sea_orm::Value; 2] = [workshop.0.into(), to_column(ending_after)?.into()];
        let backend = self.0.get_database_backend();
        let sql = "select a.cast_id, c.name, c.revision, a.document, a.basis \
             from agenda a join \"cast\" c on c.id = a.cast_id \
             where c.put_away_at is null and c.deleted_at is null \
             and a.workshop_id = $1 and a.ends_at >= $2 order by a.ends_at, a.cast_id";
        let rows = Row::find_by_statement(Statement::from_sql_and_values(backend, sql, values))
            .all(&self.0)
            .await?;
        Ok(rows.into_iter().map(KeptAgenda::from).collect())
    }
}

impl Transaction {
    /// Keeps the agenda of a cast that is locked in this transaction in the place of the former;
    /// `None` takes it away.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_agenda(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        kept: Option<(&Agenda, Basis)>,
    ) -> Result<(), StoreError> {
        let Some((kept, basis)) = kept else {
            agenda::Entity::delete_by_id(cast.0)
                .filter(agenda::Column::WorkshopId.eq(workshop.0))
                .exec(&self.0)
                .await?;
            return Ok(());
        };
        // What still has to get its hours is in hand until it has them.
        let endless = (kept.fit == Fit::Lacking).then_some(Timestamp::MAX);
        let all_in = endless.or_else(|| kept.pours.last().map(|pour| pour.done));
        let row = agenda::ActiveModel {
            cast_id: ActiveValue::Set(cast.0),
            workshop_id: ActiveValue::Set(workshop.0),
            ends_at: ActiveValue::Set(to_column(endless.unwrap_or(kept.hard))?),
            begins_at: ActiveValue::Set(hour(kept.pours.first().map(|pour| pour.at))?),
            poured_at: ActiveValue::Set(hour(all_in)?),
            document: ActiveValue::Set(to_json(kept)?),
            basis: ActiveValue::Set(Some(to_json(&basis)?)),
        };
        use agenda::Column;
        let hours = [Column::EndsAt, Column::BeginsAt, Column::PouredAt];
        let replaced = hours.into_iter().chain([Column::Document, Column::Basis]);
        agenda::Entity::insert(row)
            .on_conflict(
                OnConflict::column(agenda::Column::CastId).update_columns(replaced).to_owned(),
            )
            .exec_without_returning(&self.0)
            .await?;
        Ok(())
    }
}

fn hour(at: Option<Timestamp>) -> Result<Option<sea_orm::prelude::DateTimeUtc>, StoreError> {
    at.map(to_column).transpose()
}

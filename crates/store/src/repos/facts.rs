//! What happened to pours, and the ids that pours are known by.

use fondant_cast::PourId;
use fondant_cast::facts::{Fact, FactRow};
use jiff::Timestamp;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter,
    QueryOrder, Statement,
};

use super::casts::of_workshop;
use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::pour_fact;
use crate::error::StoreError;
use crate::session::{Session, Transaction};

#[derive(FromQueryResult)]
struct Allotted {
    id: i64,
}

impl<C: ConnectionTrait> Session<C> {
    /// What happened to a cast, in the order in which it was written down.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn facts(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Vec<FactRow>, StoreError> {
        let rows = pour_fact::Entity::find()
            .filter(pour_fact::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .order_by_asc(pour_fact::Column::Id)
            .all(&self.0)
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

    /// Ids for new pours, never given before.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn pour_ids(&self, count: usize) -> Result<Vec<PourId>, StoreError> {
        let sql = "select nextval('pour_id') as id from generate_series(1, $1)";
        let count = i64::try_from(count).unwrap_or(0);
        let statement =
            Statement::from_sql_and_values(self.0.get_database_backend(), sql, [count.into()]);
        let rows = Allotted::find_by_statement(statement).all(&self.0).await?;
        Ok(rows.into_iter().map(|row| PourId(row.id)).collect())
    }
}

impl Transaction {
    /// Writes down what happened to a cast that is locked in this transaction. Rows are never
    /// changed. Returns the number of the row.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_fact(
        &self,
        cast: CastId,
        fact: &Fact,
        now: Timestamp,
    ) -> Result<i64, StoreError> {
        let row = pour_fact::ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            document: ActiveValue::Set(to_json(fact)?),
            recorded_at: ActiveValue::Set(to_column(now)?),
        };
        Ok(pour_fact::Entity::insert(row).exec(&self.0).await?.last_insert_id)
    }
}

//! Runs at the bench, and what happened in them.

use fondant_bench::{Row, RunPlan};
use jiff::Timestamp;
use sea_orm::sea_query::Expr;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
};

use super::casts::of_workshop;
use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{cast, run, run_row};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A run's number.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize, serde::Deserialize,
)]
#[serde(transparent)]
pub struct RunId(pub i64);

impl std::fmt::Display for RunId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A run as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptRun {
    /// Database id.
    pub id: RunId,
    /// The cast that it belongs to.
    pub cast: CastId,
    /// What it is to do.
    pub plan: RunPlan,
    /// When it began, UTC.
    pub begun_at: Timestamp,
    /// When it ended, UTC.
    pub ended_at: Option<Timestamp>,
    /// What happened, in order.
    pub rows: Vec<Row>,
}

/// Something that happened, before it has a number.
#[derive(Debug, Clone, PartialEq)]
pub struct NewRow {
    /// Key that the device gave it: the same row sent twice is one.
    pub key: String,
    /// When it happened, UTC.
    pub at: Timestamp,
    /// The device, as the maker names it.
    pub by: String,
    /// What happened.
    pub what: fondant_bench::Happening,
}

/// Rows that runs are looked for by, among all that ever happened at the bench. Each has an index.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RowsOf {
    /// How the edges of a swirl came out.
    Rating,
    /// Colour that went into a bucket.
    Colour,
}

impl<C: ConnectionTrait> Session<C> {
    /// The runs of a cast with all that happened in them, the newest first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn runs(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Vec<KeptRun>, StoreError> {
        let of_cast = run::Column::CastId.in_subquery(of_workshop(workshop, cast));
        let found = run::Entity::find().filter(of_cast).order_by_desc(run::Column::Id);
        self.with_rows(found.all(&self.0).await?).await
    }

    /// The runs of a workshop that are in hand.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn runs_in_hand(&self, workshop: WorkshopId) -> Result<Vec<KeptRun>, StoreError> {
        let casts = cast::Entity::find()
            .select_only()
            .column(cast::Column::Id)
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::DeletedAt.is_null());
        let casts = sea_orm::QueryTrait::into_query(casts);
        let found = run::Entity::find()
            .filter(run::Column::EndedAt.is_null())
            .filter(run::Column::CastId.in_subquery(casts))
            .order_by_asc(run::Column::Id);
        self.with_rows(found.all(&self.0).await?).await
    }

    /// The latest runs of a workshop with rows of a kind.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn runs_with(
        &self,
        workshop: WorkshopId,
        rows: RowsOf,
        most: u64,
    ) -> Result<Vec<KeptRun>, StoreError> {
        // Written out: the database finds the index of each by its words.
        let with = match rows {
            RowsOf::Rating => {
                "run.id in (select run_id from run_row where document->>'what' = 'rated')"
            }
            RowsOf::Colour => {
                "run.id in (select run_id from run_row where document->>'what' = 'tinted')"
            }
        };
        let casts = cast::Entity::find()
            .select_only()
            .column(cast::Column::Id)
            .filter(cast::Column::WorkshopId.eq(workshop.0));
        let casts = sea_orm::QueryTrait::into_query(casts);
        let found = run::Entity::find()
            .filter(run::Column::CastId.in_subquery(casts))
            .filter(sea_orm::sea_query::Expr::cust(with))
            .order_by_desc(run::Column::Id)
            .limit(most);
        self.with_rows(found.all(&self.0).await?).await
    }

    async fn with_rows(&self, found: Vec<run::Model>) -> Result<Vec<KeptRun>, StoreError> {
        let ids = found.iter().map(|run| run.id);
        let rows = run_row::Entity::find()
            .filter(run_row::Column::RunId.is_in(ids))
            .order_by_asc(run_row::Column::Id)
            .all(&self.0)
            .await?;
        let of_run = |id: i64| -> Result<Vec<Row>, StoreError> {
            rows.iter().filter(|row| row.run_id == id).map(row_of).collect()
        };
        let kept = |found: run::Model| {
            Ok(KeptRun {
                id: RunId(found.id),
                cast: CastId(found.cast_id),
                plan: from_json(&found.plan)?,
                begun_at: from_column(found.begun_at)?,
                ended_at: found.ended_at.map(from_column).transpose()?,
                rows: of_run(found.id)?,
            })
        };
        found.into_iter().map(kept).collect()
    }
}

fn row_of(row: &run_row::Model) -> Result<Row, StoreError> {
    Ok(Row {
        number: row.id,
        at: from_column(row.at)?,
        recorded_at: from_column(row.recorded_at)?,
        by: row.told_by.clone(),
        what: from_json(&row.document)?,
    })
}

impl Transaction {
    /// Begins a run of a cast that is locked in this transaction. `None` where one of this pour is in
    /// hand.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn begin_run(
        &self,
        cast: CastId,
        plan: &RunPlan,
        now: Timestamp,
    ) -> Result<Option<RunId>, StoreError> {
        let pour = plan.pour.map(|pour| pour.0);
        let of_pour = match pour {
            Some(pour) => run::Column::PourId.eq(pour),
            None => run::Column::PourId.is_null(),
        };
        let in_hand = run::Entity::find()
            .filter(run::Column::CastId.eq(cast.0))
            .filter(run::Column::EndedAt.is_null())
            .filter(of_pour);
        if in_hand.one(&self.0).await?.is_some() {
            return Ok(None);
        }
        let row = run::ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            pour_id: ActiveValue::Set(pour),
            plan: ActiveValue::Set(to_json(plan)?),
            begun_at: ActiveValue::Set(to_column(now)?),
            ended_at: ActiveValue::Set(None),
            hard_at: ActiveValue::Set(None),
        };
        Ok(Some(RunId(run::Entity::insert(row).exec(&self.0).await?.last_insert_id)))
    }

    /// Locks a run of a cast until the transaction ends, and reads it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such run.
    pub async fn lock_run(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        id: RunId,
    ) -> Result<KeptRun, StoreError> {
        let found = run::Entity::find_by_id(id.0)
            .filter(run::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .lock_exclusive()
            .one(&self.0)
            .await?;
        let found = found.ok_or(StoreError::NotFound("run"))?;
        self.with_rows(vec![found]).await?.pop().ok_or(StoreError::NotFound("run"))
    }

    /// The number of the row of a run that has a key.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn run_row(&self, run: RunId, key: &str) -> Result<Option<i64>, StoreError> {
        let found = run_row::Entity::find()
            .filter(run_row::Column::RunId.eq(run.0))
            .filter(run_row::Column::Key.eq(key))
            .one(&self.0);
        Ok(found.await?.map(|row| row.id))
    }

    /// Writes down what happened in a run that is locked in this transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_run_row(
        &self,
        run: RunId,
        row: &NewRow,
        now: Timestamp,
    ) -> Result<i64, StoreError> {
        let row = run_row::ActiveModel {
            id: ActiveValue::NotSet,
            run_id: ActiveValue::Set(run.0),
            key: ActiveValue::Set(row.key.clone()),
            at: ActiveValue::Set(to_column(row.at)?),
            recorded_at: ActiveValue::Set(to_column(now)?),
            told_by: ActiveValue::Set(row.by.clone()),
            document: ActiveValue::Set(to_json(&row.what)?),
        };
        Ok(run_row::Entity::insert(row).exec(&self.0).await?.last_insert_id)
    }

    /// Ends a run that is locked in this transaction; `hard_at` is when all of it is hard, where it was
    /// poured at once.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn end_run(
        &self,
        run: RunId,
        at: Timestamp,
        hard_at: Option<Timestamp>,
    ) -> Result<(), StoreError> {
        let hard_at = hard_at.map(to_column).transpose()?;
        run::Entity::update_many()
            .col_expr(run::Column::EndedAt, Expr::value(to_column(at)?))
            .col_expr(run::Column::HardAt, Expr::value(hard_at))
            .filter(run::Column::Id.eq(run.0))
            .exec(&self.0)
            .await?;
        Ok(())
    }
}

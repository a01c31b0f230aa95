//! Jobs as those who work on them see them.

use jiff::{SignedDuration, Timestamp};
use sea_orm::sea_query::Expr;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter,
    QuerySelect, Statement,
};

use super::standing::{BegunJob, DONE, FAILED, JobFailure, RUNNING, of, unfinished};
use crate::convert::{to_column, to_json};
use crate::entities::job::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::repos::{CastId, WorkshopId};
use crate::session::Transaction;

/// Finished jobs are kept this long after somebody last asked for them.
const KEPT_FOR: SignedDuration = SignedDuration::from_hours(14 * 24);
/// What finished jobs of a workshop may take up, bytes; the ones asked for last stay.
const KEPT_BYTES: i64 = 256 * 1024 * 1024;

#[derive(FromQueryResult)]
struct BegunRow {
    kind: String,
    cast_id: i64,
    input: Vec<u8>,
}

#[derive(FromQueryResult)]
struct CancelledRow {
    is_cancelled: bool,
}

impl Transaction {
    /// Begins to work a job, also one that another worker has begun and not ended: its process is
    /// gone. `None` where it has ended or is of another generation.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn begin_job(
        &self,
        workshop: WorkshopId,
        (key, generation): (&str, i32),
        now: Timestamp,
    ) -> Result<Option<BegunJob>, StoreError> {
        let begun = Entity::update_many()
            .col_expr(Column::State, Expr::value(RUNNING))
            .col_expr(Column::SeenAt, Expr::value(to_column(now)?))
            .filter(unfinished(workshop))
            .filter(Column::Key.eq(key))
            .filter(Column::Generation.eq(generation))
            .exec(&self.0)
            .await?;
        if begun.rows_affected == 0 {
            return Ok(None);
        }
        let row = Entity::find()
            .filter(of(workshop, key))
            .select_only()
            .columns([Column::Kind, Column::CastId, Column::Input])
            .into_model::<BegunRow>()
            .one(&self.0)
            .await?;
        let begun = |row: BegunRow| BegunJob {
            kind: row.kind,
            cast: CastId(row.cast_id),
            input: row.input,
        };
        Ok(row.map(begun))
    }

    /// Keeps how far a job has come. Returns whether somebody still wants it.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn job_progress(
        &self,
        workshop: WorkshopId,
        (key, generation): (&str, i32),
        permille: u16,
        now: Timestamp,
    ) -> Result<bool, StoreError> {
        let permille = i16::try_from(permille.min(1000)).unwrap_or(1000);
        Entity::update_many()
            .col_expr(Column::Permille, Expr::value(permille))
            .col_expr(Column::SeenAt, Expr::value(to_column(now)?))
            .filter(of(workshop, key))
            .filter(Column::Generation.eq(generation))
            .exec(&self.0)
            .await?;
        let row = Entity::find()
            .filter(of(workshop, key))
            .filter(Column::Generation.eq(generation))
            .select_only()
            .column(Column::IsCancelled)
            .into_model::<CancelledRow>()
            .one(&self.0)
            .await?;
        Ok(row.is_some_and(|row| !row.is_cancelled))
    }

    /// Keeps the result of a job, unless it was restarted meanwhile, and lets go of results that
    /// nobody has asked for in a long time.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn finish_job(
        &self,
        workshop: WorkshopId,
        (key, generation): (&str, i32),
        result: Vec<u8>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let row = ActiveModel {
            state: ActiveValue::Set(DONE.to_owned()),
            permille: ActiveValue::Set(1000),
            result: ActiveValue::Set(Some(result)),
            ended_at: ActiveValue::Set(Some(to_column(now)?)),
            ..ActiveModel::default()
        };
        self.end(workshop, (key, generation), row).await?;
        self.prune(workshop, now).await
    }

    /// Keeps why a job has ended without a result.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn fail_job(
        &self,
        workshop: WorkshopId,
        job: (&str, i32),
        why: JobFailure,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let row = ActiveModel {
            state: ActiveValue::Set(FAILED.to_owned()),
            failure: ActiveValue::Set(Some(to_json(&why)?)),
            ended_at: ActiveValue::Set(Some(to_column(now)?)),
            ..ActiveModel::default()
        };
        self.end(workshop, job, row).await
    }

    async fn end(
        &self,
        workshop: WorkshopId,
        (key, generation): (&str, i32),
        row: ActiveModel,
    ) -> Result<(), StoreError> {
        Entity::update_many()
            .set(row)
            .filter(of(workshop, key))
            .filter(Column::Generation.eq(generation))
            .filter(Column::IsCancelled.eq(false))
            .exec(&self.0)
            .await?;
        Ok(())
    }

    async fn prune(&self, workshop: WorkshopId, now: Timestamp) -> Result<(), StoreError> {
        let sql = "delete from job j using ( \
             select key, asked_at, sum(octet_length(input) + coalesce(octet_length(result), 0)) \
                 over (order by asked_at desc, key) as bytes \
             from job where workshop_id = $1 and state in ('done', 'failed', 'cancelled') \
             ) kept where j.workshop_id = $1 and j.key = kept.key \
             and (kept.bytes > $2 or kept.asked_at < $3)";
        let values: [sea_orm::Value; 3] =
            [workshop.0.into(), KEPT_BYTES.into(), to_column(now - KEPT_FOR)?.into()];
        let backend = self.0.get_database_backend();
        self.0.execute_raw(Statement::from_sql_and_values(backend, sql, values)).await?;
        Ok(())
    }
}

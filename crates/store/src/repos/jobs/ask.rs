//! Jobs asked for, joined, restarted, cancelled.

use jiff::{SignedDuration, Timestamp};
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{ActiveValue, ColumnTrait, EntityTrait, QueryFilter, QuerySelect};

use super::standing::{
    CANCELLED, JobFailure, JobStanding, JobState, NewJob, WAITING, of, unfinished,
};
use crate::convert::to_column;
use crate::entities::job::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::repos::{CastId, WorkshopId};
use crate::session::Transaction;

/// A job that nobody has asked for in this time, while its cast asks for another of its kind, is
/// of inputs that have changed.
const SUPERSEDED_AFTER: SignedDuration = SignedDuration::from_secs(5);
/// Attempts of a job, after which it is taken to be what its workers crash from.
const MOST_GENERATIONS: i32 = 3;
/// Most jobs of a workshop that wait or run at one time (convention).
const MOST_WAITING: i64 = 64;

impl Transaction {
    /// Asks for a job. One that is there is joined; one that was cancelled restarts, in a new
    /// generation; one that failed stays as it is until `again` asks for it. What the cast asked
    /// for before of the same kind, and nobody asks for any more, is cancelled.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ask_job(
        &self,
        workshop: WorkshopId,
        new: NewJob<'_>,
        again: bool,
        now: Timestamp,
    ) -> Result<JobStanding, StoreError> {
        self.cancel_superseded(workshop, new, now).await?;
        let row = ActiveModel {
            workshop_id: ActiveValue::Set(workshop.0),
            key: ActiveValue::Set(new.key.to_owned()),
            cast_id: ActiveValue::Set(new.cast.0),
            kind: ActiveValue::Set(new.kind.to_owned()),
            generation: ActiveValue::Set(1),
            state: ActiveValue::Set(WAITING.to_owned()),
            permille: ActiveValue::Set(0),
            input: ActiveValue::Set(new.input.to_vec()),
            is_cancelled: ActiveValue::Set(false),
            asked_at: ActiveValue::Set(to_column(now)?),
            ..ActiveModel::default()
        };
        let mut unique = OnConflict::columns([Column::WorkshopId, Column::Key]);
        Entity::insert(row)
            .on_conflict(unique.do_nothing().to_owned())
            .exec_without_returning(&self.0)
            .await?;
        Entity::update_many()
            .col_expr(Column::AskedAt, Expr::value(to_column(now)?))
            .col_expr(Column::CastId, Expr::value(new.cast.0))
            .filter(of(workshop, new.key))
            .exec(&self.0)
            .await?;
        let found = self.job(workshop, new.key).await?.ok_or(StoreError::NotFound("job"))?;
        let restarts = match found.state {
            JobState::Cancelled => true,
            JobState::Failed(_) => again,
            JobState::Running => found.is_lost(now) && found.generation < MOST_GENERATIONS,
            JobState::Waiting | JobState::Done => false,
        };
        if restarts {
            return self.restart(workshop, new.key, found.generation + 1).await;
        }
        let failure = if found.is_lost(now) {
            JobFailure::Panicked
        } else if found.state == JobState::Waiting && self.is_crowded(workshop).await? {
            JobFailure::Crowded
        } else {
            return Ok(found);
        };
        self.fail_job(workshop, (new.key, found.generation), failure, now).await?;
        Ok(JobStanding { state: JobState::Failed(failure), ..found })
    }

    async fn restart(
        &self,
        workshop: WorkshopId,
        key: &str,
        generation: i32,
    ) -> Result<JobStanding, StoreError> {
        let row = ActiveModel {
            generation: ActiveValue::Set(generation),
            state: ActiveValue::Set(WAITING.to_owned()),
            permille: ActiveValue::Set(0),
            failure: ActiveValue::Set(None),
            is_cancelled: ActiveValue::Set(false),
            seen_at: ActiveValue::Set(None),
            ended_at: ActiveValue::Set(None),
            ..ActiveModel::default()
        };
        Entity::update_many().set(row).filter(of(workshop, key)).exec(&self.0).await?;
        Ok(JobStanding { generation, state: JobState::Waiting, permille: 0, seen_at: None })
    }

    /// Cancels the cast's earlier jobs of this kind, whose inputs have changed.
    async fn cancel_superseded(
        &self,
        workshop: WorkshopId,
        new: NewJob<'_>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let of_inputs_that_changed = unfinished(workshop)
            .add(Column::CastId.eq(new.cast.0))
            .add(Column::Kind.eq(new.kind))
            .add(Column::Key.ne(new.key))
            .add(Column::AskedAt.lt(to_column(now - SUPERSEDED_AFTER)?));
        self.cancel(of_inputs_that_changed).await
    }

    /// Cancels the jobs of a kind that a cast has asked for.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn cancel_jobs(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        kind: &'static str,
    ) -> Result<(), StoreError> {
        let of_cast =
            unfinished(workshop).add(Column::CastId.eq(cast.0)).add(Column::Kind.eq(kind));
        self.cancel(of_cast).await
    }

    /// A job that waits has ended with this; one that is worked hears of it within a second.
    async fn cancel(&self, which: sea_orm::Condition) -> Result<(), StoreError> {
        Entity::update_many()
            .col_expr(Column::IsCancelled, Expr::value(true))
            .col_expr(Column::State, Expr::value(CANCELLED))
            .filter(which)
            .exec(&self.0)
            .await?;
        Ok(())
    }

    async fn is_crowded(&self, workshop: WorkshopId) -> Result<bool, StoreError> {
        let waiting: Option<i64> = Entity::find()
            .filter(unfinished(workshop))
            .select_only()
            .column_as(Column::Key.count(), "waiting")
            .into_tuple()
            .one(&self.0)
            .await?;
        Ok(waiting.unwrap_or(0) > MOST_WAITING)
    }
}

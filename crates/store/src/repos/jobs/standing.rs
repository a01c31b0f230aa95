//! How jobs stand.

use jiff::{SignedDuration, Timestamp};
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder,
    QuerySelect,
};
use serde::{Deserialize, Serialize};

use crate::convert::{from_column, from_json};
use crate::entities::job::{Column, Entity};
use crate::error::StoreError;
use crate::repos::{CastId, WorkshopId};
use crate::session::Session;

/// A worker sends a heartbeat several times a second. After this long without one it is gone, and
/// the queue has not found out.
const LOST_AFTER: SignedDuration = SignedDuration::from_secs(60);

/// A job to be asked for.
#[derive(Debug, Clone, Copy)]
pub struct NewJob<'a> {
    /// The cast that asks.
    pub cast: CastId,
    /// What kind of work it is.
    pub kind: &'static str,
    /// Hash of everything that goes into it.
    pub key: &'a str,
    /// Everything that goes into it.
    pub input: &'a [u8],
}

/// State and progress of a job.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JobStanding {
    /// Number of the start, from 1; it rises with every restart.
    pub generation: i32,
    /// State of the job.
    pub state: JobState,
    /// How far it has come, thousandths.
    pub permille: u16,
    /// Last sign of a worker.
    pub seen_at: Option<Timestamp>,
}

impl JobStanding {
    pub(super) fn is_lost(&self, now: Timestamp) -> bool {
        self.state == JobState::Running
            && self.seen_at.is_some_and(|seen| now.duration_since(seen) > LOST_AFTER)
    }
}

/// State of a job.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum JobState {
    /// It waits for its turn.
    Waiting,
    /// A worker is working on it.
    Running,
    /// Finished; its result is stored.
    Done,
    /// It ended without a result.
    Failed(JobFailure),
    /// Nobody wanted it any more.
    Cancelled,
}

/// Why a job ended without a result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum JobFailure {
    /// A fault of the program.
    Panicked,
    /// It took longer than any such work should.
    TooLong,
    /// Too much waits already.
    Crowded,
}

/// What a worker begins on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BegunJob {
    /// What kind of work it is.
    pub kind: String,
    /// The cast that asked for it last.
    pub cast: CastId,
    /// Everything that goes into it.
    pub input: Vec<u8>,
}

#[derive(FromQueryResult)]
struct StandingRow {
    generation: i32,
    state: String,
    permille: i16,
    failure: Option<serde_json::Value>,
    seen_at: Option<sea_orm::prelude::DateTimeUtc>,
}

pub(super) const WAITING: &str = "waiting";
pub(super) const RUNNING: &str = "running";
pub(super) const DONE: &str = "done";
pub(super) const FAILED: &str = "failed";
pub(super) const CANCELLED: &str = "cancelled";

impl JobState {
    /// Whether it is neither worked nor waits to be.
    #[must_use]
    pub const fn has_ended(self) -> bool {
        matches!(self, Self::Done | Self::Failed(_) | Self::Cancelled)
    }
}

impl StandingRow {
    fn read(self) -> Result<JobStanding, StoreError> {
        let failure = self.failure.as_ref().map(from_json).transpose()?;
        let state = match (self.state.as_str(), failure) {
            (WAITING, _) => JobState::Waiting,
            (RUNNING, _) => JobState::Running,
            (DONE, _) => JobState::Done,
            (FAILED, failure) => JobState::Failed(failure.unwrap_or(JobFailure::Panicked)),
            (CANCELLED, _) => JobState::Cancelled,
            (other, _) => return Err(StoreError::Corrupt(format!("a job is {other}"))),
        };
        Ok(JobStanding {
            generation: self.generation,
            state,
            permille: self.permille.unsigned_abs(),
            seen_at: self.seen_at.map(from_column).transpose()?,
        })
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// How a job stands; `None` where nobody has asked for it.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn job(
        &self,
        workshop: WorkshopId,
        key: &str,
    ) -> Result<Option<JobStanding>, StoreError> {
        let row = standing(workshop, key).into_model::<StandingRow>().one(&self.0).await?;
        row.map(StandingRow::read).transpose()
    }

    /// The result of a job that is done.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn job_result(
        &self,
        workshop: WorkshopId,
        key: &str,
    ) -> Result<Option<Vec<u8>>, StoreError> {
        let found: Option<Option<Vec<u8>>> = Entity::find()
            .filter(of(workshop, key))
            .select_only()
            .column(Column::Result)
            .into_tuple()
            .one(&self.0)
            .await?;
        Ok(found.flatten())
    }
}

pub(super) fn of(workshop: WorkshopId, key: &str) -> sea_orm::Condition {
    sea_orm::Condition::all().add(Column::WorkshopId.eq(workshop.0)).add(Column::Key.eq(key))
}

pub(super) fn unfinished(workshop: WorkshopId) -> sea_orm::Condition {
    sea_orm::Condition::all()
        .add(Column::WorkshopId.eq(workshop.0))
        .add(Column::State.is_in([WAITING, RUNNING]))
}

fn standing(workshop: WorkshopId, key: &str) -> sea_orm::Select<Entity> {
    Entity::find()
        .filter(of(workshop, key))
        .select_only()
        .columns([Column::Generation, Column::State, Column::Permille])
        .columns([Column::Failure, Column::SeenAt])
        .order_by_asc(Column::Key)
}

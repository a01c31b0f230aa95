//! Whose turn it is: tickets in PostgreSQL, claimed so that no two workers have the same.

use std::time::Duration;

use apalis::prelude::TaskBuilder;
use apalis_postgres::queries::push_tasks;
use apalis_postgres::{Config, Error, PostgresStorage};
use fondant_store::Store;
use fondant_store::repos::WorkshopId;
use serde::{Deserialize, Serialize};

use super::kind::JobKind;
use crate::compute::Key;
use crate::error::AppError;

/// A worker that has given no sign for three of these has ended; its tickets go to another.
const HEARTBEAT: Duration = Duration::from_secs(1);
const MISSED_HEARTBEATS: usize = 3;
/// Attempts of a ticket, after which it is taken to be what its workers crash from.
const MOST_ATTEMPTS: usize = 4;

/// A turn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(super) struct Ticket {
    pub(super) workshop: WorkshopId,
    pub(super) key: Key,
    pub(super) generation: i32,
}

impl Ticket {
    pub(super) fn new(workshop: WorkshopId, key: &Key, generation: i32) -> Self {
        Self { workshop, key: key.clone(), generation }
    }

    /// Tickets of the same name are one.
    fn name(&self) -> String {
        format!("{}:{}:{}", self.workshop.0, self.key, self.generation)
    }
}

/// Brings the queue's own tables up to date.
pub(crate) async fn set_up(store: &Store) -> Result<(), AppError> {
    PostgresStorage::setup(store.connections()).await.map_err(unavailable)
}

/// Puts a ticket into the queue, unless it is there.
pub(super) async fn push(store: &Store, kind: JobKind, ticket: &Ticket) -> Result<(), AppError> {
    let bytes = serde_json::to_vec(ticket).map_err(AppError::fault)?;
    let task =
        TaskBuilder::new(bytes).idempotency_key(ticket.name()).max_attempts(MOST_ATTEMPTS).build();
    let mut connection = store.connections().acquire().await.map_err(unavailable)?;
    let pushed = push_tasks(&mut *connection, kind.name(), vec![task]).await;
    match pushed {
        Err(Error::Database(error))
            if error.as_database_error().is_some_and(|e| e.is_unique_violation()) =>
        {
            Ok(())
        }
        pushed => pushed.map(|_| ()).map_err(unavailable),
    }
}

/// The tickets of a kind, as a worker takes them.
pub(super) fn config(kind: JobKind) -> Config {
    Config::default()
        .queue(kind.name())
        .batch_size(1)
        .heartbeat_interval(HEARTBEAT)
        .missed_heartbeats(MISSED_HEARTBEATS)
}

fn unavailable(error: impl std::fmt::Display) -> AppError {
    AppError::Unavailable(error.to_string())
}

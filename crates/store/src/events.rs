//! What servers tell each other through the database.

use sea_orm::sqlx::postgres::PgListener;
use sea_orm::{ConnectionTrait, Statement};

use crate::error::StoreError;
use crate::session::{Store, Transaction};

/// The channel of LISTEN and NOTIFY that all servers share.
const CHANNEL: &str = "fondant";

/// Something that another server, or this one, has told.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum RawEvent {
    /// The payload of a notification.
    Told(String),
    /// The connection was lost for a while: something may have been missed.
    Missed,
}

/// What is told from now on. After a loss of the connection it goes on by itself, with
/// [`RawEvent::Missed`] in between.
#[derive(Debug)]
pub struct EventStream(PgListener);

impl Store {
    /// Listens to what is told from now on.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`].
    pub async fn listen(&self) -> Result<EventStream, StoreError> {
        let mut listener = PgListener::connect_with(self.connections()).await?;
        listener.listen(CHANNEL).await?;
        Ok(EventStream(listener))
    }
}

impl Transaction {
    /// Tells every listening server something, once this transaction is committed.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`].
    pub async fn notify(&self, payload: &str) -> Result<(), StoreError> {
        let backend = self.0.get_database_backend();
        let values = [CHANNEL.into(), payload.into()];
        let sql = "select pg_notify($1, $2)";
        self.0.execute_raw(Statement::from_sql_and_values(backend, sql, values)).await?;
        Ok(())
    }
}

impl EventStream {
    /// The next thing that is told.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] where the database cannot be reached again.
    pub async fn next(&mut self) -> Result<RawEvent, StoreError> {
        let told = self.0.try_recv().await?;
        Ok(told.map_or(RawEvent::Missed, |told| RawEvent::Told(told.payload().to_owned())))
    }
}

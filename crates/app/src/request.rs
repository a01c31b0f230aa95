//! A request that adds something, known again when it comes twice.

use fondant_store::Transaction;
use fondant_store::repos::WorkshopId;
use jiff::Timestamp;

use crate::error::AppError;

/// Longest key of a request, characters.
const MOST_CHARACTERS: usize = 64;
/// Bytes of chance in a key.
const KEY_BYTES: usize = 16;

/// A request by the key that its form carries. One without a key is always new.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Request(Option<String>);

impl Request {
    /// By the key in a form; `None` where it is not a key.
    #[must_use]
    pub fn keyed(key: Option<&str>) -> Self {
        let is_key = |key: &&str| {
            (1..=MOST_CHARACTERS).contains(&key.len())
                && key.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-')
        };
        Self(key.filter(is_key).map(str::to_owned))
    }

    /// A key for a form.
    ///
    /// # Errors
    /// [`AppError::Fault`] where the machine has no chance to give.
    pub fn new_key() -> Result<String, AppError> {
        random_hex(KEY_BYTES)
    }

    /// The number of what this request has added before; `None` where it is new. The key is taken
    /// in this transaction: the same request at the same moment waits for it to end.
    pub(crate) async fn answered(
        &self,
        transaction: &Transaction,
        workshop: WorkshopId,
        now: Timestamp,
    ) -> Result<Option<i64>, AppError> {
        let Some(key) = &self.0 else { return Ok(None) };
        Ok(transaction.answered(workshop, key, now).await?.map(Option::unwrap_or_default))
    }

    /// Keeps the number of what this request has added.
    pub(crate) async fn keep_answer(
        &self,
        transaction: &Transaction,
        workshop: WorkshopId,
        added: i64,
        now: Timestamp,
    ) -> Result<(), AppError> {
        let Some(key) = &self.0 else { return Ok(()) };
        Ok(transaction.keep_answer(workshop, key, added, now).await?)
    }
}

/// Length of a key, random bytes; it is written in hexadecimal.
pub(crate) fn random_hex(bytes: usize) -> Result<String, AppError> {
    let mut chance = vec![0u8; bytes];
    getrandom::fill(&mut chance).map_err(AppError::fault)?;
    Ok(hex::encode(chance))
}

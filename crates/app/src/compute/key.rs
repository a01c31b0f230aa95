//! By what a result is found again: a hash of everything that went into it.

use std::io::Write;

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use crate::error::AppError;

/// The SHA-256 of what a value is written as in JSON, in hexadecimal.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Key(String);

impl Key {
    /// Key of a serializable value.
    ///
    /// # Errors
    /// [`AppError::Fault`] for a value that cannot be written.
    pub fn of(value: &impl Serialize) -> Result<Self, AppError> {
        let mut hash = Sha256::new();
        let mut written = std::io::BufWriter::new(&mut hash);
        serde_json::to_writer(&mut written, value).map_err(AppError::fault)?;
        written.flush().map_err(AppError::fault)?;
        drop(written);
        Ok(Self(hex::encode(hash.finalize())))
    }

    /// Parses a key from outside; `None` where the text is not a key.
    #[must_use]
    pub fn read(text: &str) -> Option<Self> {
        let is_key = text.len() == 64 && text.bytes().all(|b| b.is_ascii_hexdigit());
        is_key.then(|| Self(text.to_owned()))
    }

    /// The key as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl std::fmt::Display for Key {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

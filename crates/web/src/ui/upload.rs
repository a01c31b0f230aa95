//! A file in a form, read piece by piece: one over its limit is read to its end and thrown away, so
//! that its size can be told, and memory never holds more than the limit.

use axum::body::Bytes;
use axum::extract::multipart::Field;
use axum::http::StatusCode;
use axum_typed_multipart::{BaseMultipart, TryFromField, TypedMultipartError, async_trait};
use fondant_files::FileError;

use super::error::WebError;

/// Largest body that is read to its end.
pub(crate) const BODY_LIMIT: usize = 512 * 1024 * 1024;
/// Longest name that is kept, characters.
const NAME_CHARACTERS: usize = 80;

/// A form with a file in it, read into its type.
pub(crate) type Uploaded<T> = BaseMultipart<T, WebError>;

/// A file as it came in, of at most `LIMIT` bytes.
#[derive(Debug, Default)]
pub(crate) struct File<const LIMIT: usize> {
    /// Its name, without folders.
    pub(crate) name: String,
    bytes: Vec<u8>,
    size: usize,
}

impl<const LIMIT: usize> File<LIMIT> {
    /// Its bytes, unless it was over its limit.
    pub(crate) fn bytes(self) -> Result<Vec<u8>, FileError> {
        if self.size > LIMIT {
            return Err(FileError::TooLarge { bytes: self.size, most: LIMIT });
        }
        Ok(self.bytes)
    }

    fn add(&mut self, chunk: &Bytes) {
        self.size += chunk.len();
        if self.size <= LIMIT {
            self.bytes.extend_from_slice(chunk);
        } else {
            self.bytes = Vec::new();
        }
    }
}

#[async_trait]
impl<const LIMIT: usize> TryFromField for File<LIMIT> {
    async fn try_from_field(
        mut field: Field<'_>,
        _: Option<usize>,
    ) -> Result<Self, TypedMultipartError> {
        let name = plain_name(field.file_name().unwrap_or_default());
        let mut file = Self { name, ..Self::default() };
        while let Some(chunk) = field.chunk().await? {
            file.add(&chunk);
        }
        Ok(file)
    }
}

impl From<TypedMultipartError> for WebError {
    fn from(error: TypedMultipartError) -> Self {
        let is_too_large = match &error {
            TypedMultipartError::FieldTooLarge { .. } => true,
            TypedMultipartError::InvalidRequestBody { source } => {
                source.status() == StatusCode::PAYLOAD_TOO_LARGE
            }
            _ => false,
        };
        if is_too_large { Self::TooLarge } else { Self::BadForm(error.to_string()) }
    }
}

/// A file's name as it is shown: no folders, no control characters, not long.
fn plain_name(name: &str) -> String {
    let last = name.rsplit(['/', '\\']).next().unwrap_or_default();
    last.chars().filter(|c| !c.is_control()).take(NAME_CHARACTERS).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_lose_their_folders() {
        assert_eq!(plain_name("C:\\shop\\slab.svg"), "slab.svg");
        assert_eq!(plain_name("../../etc/x\n.dxf"), "x.dxf");
        assert_eq!(plain_name(&"a".repeat(500)).len(), 80);
    }

    #[test]
    fn a_file_over_its_limit_is_counted_and_not_kept() {
        let mut file = File::<5>::default();
        for chunk in ["abc", "def", "gh"] {
            file.add(&Bytes::from_static(chunk.as_bytes()));
        }
        assert!(file.bytes.is_empty());
        assert!(matches!(file.bytes(), Err(FileError::TooLarge { bytes: 8, most: 5 })));
    }
}

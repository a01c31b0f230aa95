//! Forms with a file in them, read piece by piece: a file over its limit is
//! read to its end and thrown away, so that the maker gets a sentence instead
//! of a broken connection, and memory never holds more than the limit.

use axum::extract::Multipart;
use fondant_files::FileError;

use crate::WebError;
use crate::entries::Entries;

/// Largest body that is read to its end.
pub(super) const BODY_LIMIT: usize = 512 * 1024 * 1024;
/// Longest text of another field.
const TEXT_LIMIT: usize = 4096;
/// Most fields of such a form.
const MOST_FIELDS: usize = 40;

/// A form with a file.
pub(super) struct Upload {
    /// The other fields.
    pub(super) entries: Entries,
    /// The file's name, without folders.
    pub(super) name: String,
    /// The file's bytes; empty where it is over the limit.
    bytes: Vec<u8>,
    /// How many bytes it has.
    size: usize,
}

impl Upload {
    /// Reads a form whose file has at most `limit` bytes.
    pub(super) async fn read(mut multipart: Multipart, limit: usize) -> Result<Self, WebError> {
        let broken = |error: axum::extract::multipart::MultipartError| {
            if error.status() == axum::http::StatusCode::PAYLOAD_TOO_LARGE {
                WebError::TooLarge
            } else {
                WebError::BadForm(error.to_string())
            }
        };
        let mut pairs = Vec::new();
        let mut upload =
            Self { entries: Entries::default(), name: String::new(), bytes: Vec::new(), size: 0 };
        while let Some(mut field) = multipart.next_field().await.map_err(broken)? {
            let name = field.name().unwrap_or_default().to_owned();
            let file = field.file_name().map(str::to_owned);
            let most = if file.is_some() { limit } else { TEXT_LIMIT };
            let (mut bytes, mut size) = (Vec::new(), 0);
            while let Some(chunk) = field.chunk().await.map_err(broken)? {
                size += chunk.len();
                if size <= most {
                    bytes.extend_from_slice(&chunk);
                } else {
                    bytes = Vec::new();
                }
            }
            match file {
                Some(file) => {
                    upload.name = plain_name(&file);
                    (upload.bytes, upload.size) = (bytes, size);
                }
                None if pairs.len() < MOST_FIELDS => {
                    pairs.push((name, String::from_utf8_lossy(&bytes).into_owned()));
                }
                None => return Err(WebError::TooLarge),
            }
        }
        upload.entries = Entries::new(pairs);
        Ok(upload)
    }

    /// The file, unless it was over its limit.
    pub(super) fn file(&mut self, limit: usize) -> Result<Vec<u8>, FileError> {
        if self.size > limit {
            return Err(FileError::TooLarge { bytes: self.size, most: limit });
        }
        Ok(std::mem::take(&mut self.bytes))
    }
}

/// A file's name as it is shown: no folders, no control characters, not long.
fn plain_name(name: &str) -> String {
    let last = name.rsplit(['/', '\\']).next().unwrap_or_default();
    last.chars().filter(|c| !c.is_control()).take(80).collect()
}

#[cfg(test)]
mod tests {
    use super::plain_name;

    #[test]
    fn names_lose_their_folders() {
        assert_eq!(plain_name("C:\\shop\\slab.svg"), "slab.svg");
        assert_eq!(plain_name("../../etc/x\n.dxf"), "x.dxf");
        assert_eq!(plain_name(&"a".repeat(500)).len(), 80);
    }
}

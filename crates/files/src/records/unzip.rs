//! Files out of a ZIP, none beyond its bound, whatever the ZIP says of its size.

use std::io::{Read, Seek};

use zip::ZipArchive;
use zip::result::ZipError;

use super::NotARecord;

/// A file of a ZIP by its name, of at most `most` bytes.
pub(super) fn unpacked<R: Read + Seek>(
    zip: &mut ZipArchive<R>,
    name: &str,
    most: u64,
) -> Result<Vec<u8>, NotARecord> {
    let file = zip.by_name(name).map_err(|error| match error {
        ZipError::FileNotFound => NotARecord::CannotBe(format!("no {name}")),
        other => unreadable(&other),
    })?;
    let mut bytes = Vec::new();
    file.take(most + 1).read_to_end(&mut bytes).map_err(|error| unreadable(&error))?;
    if bytes.len() as u64 > most {
        return Err(NotARecord::CannotBe(format!("a {name} of more than {most} bytes")));
    }
    Ok(bytes)
}

pub(super) fn unreadable(error: &dyn std::fmt::Display) -> NotARecord {
    NotARecord::Unreadable(error.to_string())
}

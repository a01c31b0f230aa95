//! An archive as the bytes of a ZIP, and back. Only files that `cast.json` names are looked at, and none
//! is unpacked beyond its bound, whatever the ZIP says of its size.

use std::io::{Cursor, Write};

use fondant_cast::document::SCHEMA_VERSION;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use zip::write::{SimpleFileOptions, ZipWriter};
use zip::{CompressionMethod, ZipArchive};

use super::contents::{ARCHIVE_LIMIT, Archive};
use super::sound;
use crate::records::unzip::{unpacked, unreadable};
use crate::records::{NotARecord, all_known, no_newer, version};

/// What the file says it is.
const FORMAT: &str = "fondant-archive";
/// Version of the file, not of the document in it: 2 since it has what instruments read.
const VERSION: u32 = 2;
/// The file that says everything but the pictures.
const TOLD: &str = "cast.json";
/// Largest `cast.json`, bytes.
const TOLD_LIMIT: u64 = 16 * 1024 * 1024;

/// The file around it.
#[derive(Serialize, Deserialize)]
struct Envelope<T> {
    format: String,
    version: u32,
    #[serde(flatten)]
    archive: T,
}

/// Whether bytes begin as a ZIP does.
#[must_use]
pub fn is_zip(bytes: &[u8]) -> bool {
    bytes.starts_with(b"PK\x03\x04")
}

/// An archive as a ZIP. The same archive makes the same bytes.
///
/// # Errors
/// Those of writing JSON or the ZIP.
pub fn write(archive: &Archive) -> std::io::Result<Vec<u8>> {
    let envelope = Envelope { format: FORMAT.to_owned(), version: VERSION, archive };
    let mut told = serde_json::to_vec_pretty(&envelope)?;
    told.push(b'\n');
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    // The options have a time of their own, 1980: bytes depend on what is kept alone.
    let as_is = SimpleFileOptions::default().compression_method(CompressionMethod::Stored);
    let pressed = as_is.compression_method(CompressionMethod::Deflated);
    zip.start_file(TOLD, pressed)?;
    zip.write_all(&told)?;
    for (name, picture) in archive.pictures() {
        zip.start_file(name, as_is)?;
        zip.write_all(&picture.jpeg)?;
    }
    Ok(zip.finish()?.into_inner())
}

/// Reads a ZIP, with the plan that was taken.
///
/// # Errors
/// [`NotARecord`].
pub fn read(bytes: &[u8]) -> Result<Archive, NotARecord> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(|error| unreadable(&error))?;
    let mut left = ARCHIVE_LIMIT as u64;
    let told = unpacked(&mut zip, TOLD, TOLD_LIMIT)?;
    let given: Value = serde_json::from_slice(&told)?;
    if given.get("format").and_then(Value::as_str) != Some(FORMAT) {
        return Err(NotARecord::OtherFormat);
    }
    no_newer(version(given.get("version")), VERSION)?;
    let schema = version(given.pointer("/document/schema"));
    no_newer(schema, SCHEMA_VERSION)?;
    let envelope: Envelope<Archive> = Envelope::deserialize(&given)?;
    if schema == SCHEMA_VERSION {
        all_known(&given, &serde_json::to_value(&envelope)?)?;
    }
    let mut archive = envelope.archive;
    sound::check(&archive)?;
    for (name, picture) in archive.pictures_mut() {
        picture.jpeg = unpacked(&mut zip, &name, left)?;
        left = left.saturating_sub(picture.jpeg.len() as u64);
        let is_picture = picture.is_whole() && crate::photo::raster(&picture.jpeg).is_ok();
        is_picture.then_some(()).ok_or_else(|| {
            NotARecord::CannotBe(format!("a {name} that is not the picture it should be"))
        })?;
    }
    Ok(archive)
}

//! A whole workshop as one ZIP: `workshop.json`, and the archive of each cast as it is saved by itself, in
//! the order in which they were begun. Casts are written and read one after the other: a workshop may be
//! larger than memory.

use std::io::{Read, Seek, Write};

use fondant_cast::ShopSettings;
use fondant_heat::climate::AirAt;
use fondant_materials::resin::shelf::{Colour, LessonRecord, Lot, OwnResin};
use fondant_pours::Workday;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::owned::OwnedForm;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use zip::write::{SimpleFileOptions, ZipWriter};
use zip::{CompressionMethod, ZipArchive};

use super::archive::ARCHIVE_LIMIT;
use super::unzip::{unpacked, unreadable};
use super::{NotARecord, all_known, no_newer, version};

/// What the file says it is, and its version.
const FORMAT: &str = "fondant-workshop";
const VERSION: u32 = 1;
/// The file that says everything but the casts.
const TOLD: &str = "workshop.json";
/// Largest `workshop.json`, bytes: years of readings of the air.
const TOLD_LIMIT: u64 = 64 * 1024 * 1024;
/// Most casts that are read.
const MOST_CASTS: usize = 100_000;

/// A workshop beside its casts. What its instruments have read and their tokens are not in it.
// Many fields: a workshop's settings, its shelf and its forms side by side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Whole {
    /// Name of the workshop.
    pub name: String,
    /// Time zone by its IANA name.
    pub time_zone: String,
    /// Hours from Monday to Sunday.
    pub days: [Vec<Workday>; 7],
    /// The units it thinks in.
    pub units: UnitSystem,
    /// Hands, machines, air, dates with other hours, prices.
    pub shop: ShopSettings,
    /// Resins of its own.
    pub resins: Vec<OwnResin>,
    /// What is in the bottles.
    pub lots: Vec<Lot>,
    /// Colours on the shelf.
    pub colours: Vec<Colour>,
    /// What logs have taught of its resins.
    pub lessons: Vec<LessonRecord>,
    /// Forms of the workshop.
    pub forms: Vec<WholeForm>,
    /// Readings of its air, in order of time.
    pub air: Vec<AirAt>,
    /// How many casts follow.
    pub casts: usize,
}

/// A form of the workshop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct WholeForm {
    /// The form.
    pub form: OwnedForm,
    /// The cast that has booked it, by its place among them from 0.
    pub booked_by: Option<usize>,
}

/// The file around it.
#[derive(Serialize, Deserialize)]
struct Envelope<T> {
    format: String,
    version: u32,
    #[serde(flatten)]
    whole: T,
}

fn cast_name(place: usize) -> String {
    format!("casts/{:06}.zip", place + 1)
}

/// A workshop's file while it is written.
pub struct WholeWriter<W: Write + Seek> {
    zip: ZipWriter<W>,
    casts: usize,
}

impl<W: Write + Seek> WholeWriter<W> {
    /// Begins it with what is not in its casts. The same workshop makes the same bytes.
    ///
    /// # Errors
    /// Those of writing.
    pub fn begin(out: W, whole: &Whole) -> std::io::Result<Self> {
        let envelope = Envelope { format: FORMAT.to_owned(), version: VERSION, whole };
        let mut zip = ZipWriter::new(out);
        let pressed = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
        zip.start_file(TOLD, pressed)?;
        zip.write_all(&serde_json::to_vec_pretty(&envelope)?)?;
        Ok(Self { zip, casts: 0 })
    }

    /// The archive of the next cast, as bytes of a ZIP.
    ///
    /// # Errors
    /// Those of writing.
    pub fn cast(&mut self, archive: &[u8]) -> std::io::Result<()> {
        // It is pressed already.
        let as_is = SimpleFileOptions::default().compression_method(CompressionMethod::Stored);
        self.zip.start_file(cast_name(self.casts), as_is)?;
        self.casts += 1;
        self.zip.write_all(archive)
    }

    /// Ends the file.
    ///
    /// # Errors
    /// Those of writing.
    pub fn end(self) -> std::io::Result<W> {
        Ok(self.zip.finish()?)
    }
}

/// A workshop's file while it is read. No part of it is unpacked beyond its bound.
pub struct WholeReader<R: Read + Seek> {
    zip: ZipArchive<R>,
}

impl<R: Read + Seek> WholeReader<R> {
    /// Opens it, with what is not in its casts.
    ///
    /// # Errors
    /// [`NotARecord`].
    pub fn open(file: R) -> Result<(Self, Whole), NotARecord> {
        let zip = ZipArchive::new(file).map_err(|error| unreadable(&error))?;
        let mut reader = Self { zip };
        let given: Value = serde_json::from_slice(&unpacked(&mut reader.zip, TOLD, TOLD_LIMIT)?)?;
        if given.get("format").and_then(Value::as_str) != Some(FORMAT) {
            return Err(NotARecord::OtherFormat);
        }
        no_newer(version(given.get("version")), VERSION)?;
        let envelope: Envelope<Whole> = Envelope::deserialize(&given)?;
        all_known(&given, &serde_json::to_value(&envelope)?)?;
        let whole = envelope.whole;
        if whole.casts > MOST_CASTS {
            return Err(NotARecord::CannotBe(format!("{} casts", whole.casts)));
        }
        Ok((reader, whole))
    }

    /// The archive of a cast, by its place from 0.
    ///
    /// # Errors
    /// [`NotARecord`].
    pub fn cast(&mut self, place: usize) -> Result<Vec<u8>, NotARecord> {
        unpacked(&mut self.zip, &cast_name(place), ARCHIVE_LIMIT as u64)
    }
}

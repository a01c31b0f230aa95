//! What an archive holds.

use fondant_bench::{Happening, RunPlan};
use fondant_cast::facts::Fact;
use fondant_cast::{Document, Forecast};
use fondant_finish::work::{StepKind, Told};
use fondant_materials::resin::Record;
use fondant_record::causes::Cause;
use fondant_record::end::CastEnd;
use fondant_record::fault::Fault;
use fondant_record::readings::CourseReadings;
use fondant_shapes::picture::squaring::Squaring;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::records::cast::CastFile;

/// Largest archive that is read, bytes: some fifty photos.
pub const ARCHIVE_LIMIT: usize = 64 * 1024 * 1024;

/// A cast and all that is kept of it. Rows are numbered by their place, from 1; pours in the order in which
/// they are first named.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Archive {
    /// The plan.
    pub document: Document,
    /// Resins that it names.
    pub resins: Vec<Record>,
    /// The cast was put away.
    #[serde(default, skip_serializing_if = "is_false")]
    pub is_put_away: bool,
    /// What was promised when the plan was taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub forecast: Option<Forecast>,
    /// What happened to its pours, in the order in which it was written down.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub facts: Vec<ArchivedFact>,
    /// Runs at the bench, the oldest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub runs: Vec<ArchivedRun>,
    /// What was told of its finishing, in the order in which it was written down.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub finishing: Vec<ArchivedTold>,
    /// What instruments read meanwhile; `None` where nothing was read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub readings: Option<CourseReadings>,
    /// Its record; `None` where it has never come to its end.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub record: Option<ArchivedEnd>,
    /// Faults, in the order in which they were marked.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub faults: Vec<ArchivedFault>,
    /// Photos, the oldest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub photos: Vec<ArchivedPhoto>,
}

#[allow(clippy::trivially_copy_pass_by_ref, reason = "serde hands references")]
const fn is_false(value: &bool) -> bool {
    !*value
}

impl From<CastFile> for Archive {
    /// A cast of which nothing has happened yet.
    fn from(CastFile { document, resins }: CastFile) -> Self {
        Self {
            document,
            resins,
            is_put_away: false,
            forecast: None,
            facts: Vec::new(),
            runs: Vec::new(),
            finishing: Vec::new(),
            readings: None,
            record: None,
            faults: Vec::new(),
            photos: Vec::new(),
        }
    }
}

/// What happened to a pour. A withdrawal names the place of what it withdraws, from 1.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ArchivedFact {
    /// When it was written down, UTC.
    pub recorded_at: Timestamp,
    /// What happened.
    pub fact: Fact,
}

/// A run at the bench.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedRun {
    /// What it was begun from.
    pub plan: RunPlan,
    /// When it was begun, UTC.
    pub begun_at: Timestamp,
    /// When it came to its end, UTC; `None` while it is in hand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ended_at: Option<Timestamp>,
    /// What happened, in the order in which it was written down.
    pub rows: Vec<ArchivedRow>,
}

/// A row of a run. A withdrawal names the place of what it withdraws, from 1.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedRow {
    /// When it happened, UTC.
    pub at: Timestamp,
    /// When it was written down, UTC.
    pub recorded_at: Timestamp,
    /// The device that told of it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub by: String,
    /// What happened.
    pub what: Happening,
}

/// Something told of the finishing. A withdrawal names the place of what it withdraws, from 1.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedTold {
    /// Time of the entry, UTC.
    pub at: Timestamp,
    /// Content of the entry.
    pub told: Told,
}

/// The record of a cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedEnd {
    /// The cast is worked on again.
    #[serde(default, skip_serializing_if = "is_false")]
    pub is_open: bool,
    /// What the ledger keeps.
    pub end: CastEnd,
}

/// A fault of the piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedFault {
    /// When it was marked, UTC.
    pub marked_at: Timestamp,
    /// What is wrong.
    pub fault: Fault,
    /// Its cause, once confirmed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cause: Option<Cause>,
}

/// A photo, with what was squared up of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ArchivedPhoto {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// The photo.
    pub photo: Picture,
    /// How it was squared up, and what came of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub squared: Option<Squared>,
    /// What it shows, where that is not the bench.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shows: Option<ArchivedShows>,
}

/// What a photo shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ArchivedShows {
    /// A step of finishing.
    Step(StepKind),
    /// A fault, by its place among the faults, from 1.
    Fault(usize),
}

/// A squared-up photo.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Squared {
    /// Parameters of the squaring.
    pub squaring: Squaring,
    /// The picture.
    pub picture: Picture,
}

/// A JPEG beside `cast.json`.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Picture {
    /// SHA-256 of its bytes, hexadecimal.
    pub sha256: String,
    /// The picture as JPEG.
    #[serde(skip)]
    pub jpeg: Vec<u8>,
}

impl Picture {
    /// A picture by its bytes.
    #[must_use]
    pub fn of(jpeg: Vec<u8>) -> Self {
        Self { sha256: crate::photo::sha256(&jpeg), jpeg }
    }

    pub(super) fn is_whole(&self) -> bool {
        crate::photo::sha256(&self.jpeg) == self.sha256
    }
}

impl Archive {
    /// Its pictures with the names of their files, the same for each reader and writer.
    pub(super) fn pictures(&self) -> impl Iterator<Item = (String, &Picture)> {
        self.photos.iter().enumerate().flat_map(|(place, photo)| {
            let squared = photo.squared.as_ref();
            let squared = squared.map(|squared| (name(place, "-squared"), &squared.picture));
            std::iter::once((name(place, ""), &photo.photo)).chain(squared)
        })
    }

    /// The same, to be filled.
    pub(super) fn pictures_mut(&mut self) -> impl Iterator<Item = (String, &mut Picture)> {
        self.photos.iter_mut().enumerate().flat_map(|(place, photo)| {
            let squared = photo.squared.as_mut();
            let squared = squared.map(|squared| (name(place, "-squared"), &mut squared.picture));
            std::iter::once((name(place, ""), &mut photo.photo)).chain(squared)
        })
    }

    /// The bytes of its pictures one after another, for a stream.
    pub(crate) fn bytes_after(&self) -> impl Iterator<Item = &[u8]> {
        self.pictures().map(|(_, picture)| picture.jpeg.as_slice())
    }

    /// Fills its pictures from bytes that came one after another, by their lengths; `None` where they
    /// are not those that were written.
    pub(crate) fn fill(&mut self, lengths: &[usize], mut bytes: &[u8]) -> Option<()> {
        let mut lengths = lengths.iter();
        for (_, picture) in self.pictures_mut() {
            let (own, rest) = bytes.split_at_checked(*lengths.next()?)?;
            picture.jpeg = own.to_vec();
            bytes = rest;
        }
        let is_whole = bytes.is_empty() && lengths.next().is_none();
        is_whole.then_some(())
    }
}

fn name(place: usize, suffix: &str) -> String {
    format!("photos/{}{suffix}.jpg", place + 1)
}

//! A whole cast with what happened to it as one ZIP: `cast.json` and the photos that it names.
//!
//! - [`numbers`]: ids of a database become places within the file, and the other way round
//! - `contents`: what an archive holds; `sound`: whether it can have happened
//! - `zipped`: the archive as bytes

mod contents;
pub mod numbers;
mod sound;
#[cfg(test)]
mod tests;
mod zipped;

pub use contents::{
    ARCHIVE_LIMIT, Archive, ArchivedEnd, ArchivedFact, ArchivedFault, ArchivedPhoto, ArchivedRow,
    ArchivedRun, ArchivedShows, ArchivedTold, Picture, Squared,
};
pub use sound::MOST_PHOTOS;
pub use zipped::{is_zip, read, write};

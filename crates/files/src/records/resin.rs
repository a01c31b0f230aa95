//! A resin as a file.

use fondant_materials::resin::Record;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::{NotARecord, all_known, no_newer, version};

/// What the file says it is.
const FORMAT: &str = "fondant-resin";
/// Version of the file.
const VERSION: u32 = 1;
/// Largest file of a resin, bytes.
pub const RESIN_LIMIT: usize = 256 * 1024;

#[derive(Serialize, Deserialize)]
struct Envelope {
    format: String,
    version: u32,
    resin: Record,
}

/// A resin as a file, to be read by [`read`].
///
/// # Errors
/// That of writing JSON.
pub fn write(resin: &Record) -> serde_json::Result<String> {
    let (format, resin) = (FORMAT.to_owned(), resin.clone());
    serde_json::to_string_pretty(&Envelope { format, version: VERSION, resin })
}

/// Reads a file. Those from before files had a version are the resin alone. Whether such a resin can
/// be is for [`Record::check`].
///
/// # Errors
/// [`NotARecord`].
pub fn read(bytes: &[u8]) -> Result<Record, NotARecord> {
    let given: Value = serde_json::from_slice(bytes)?;
    let Some(format) = given.get("format") else {
        return Ok(Record::deserialize(&given)?);
    };
    if format.as_str() != Some(FORMAT) {
        return Err(NotARecord::OtherFormat);
    }
    no_newer(version(given.get("version")), VERSION)?;
    let file = Envelope::deserialize(&given)?;
    all_known(&given, &serde_json::to_value(&file)?)?;
    Ok(file.resin)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::ResinClass;
    use fondant_materials::resin::shipped::generic;

    #[test]
    fn a_resin_comes_back_as_it_was_and_unknown_fields_are_named() {
        let resin = generic(ResinClass::Coating);
        let text = write(&resin).unwrap();
        assert_eq!(read(text.as_bytes()), Ok(resin.clone()));
        let alone = serde_json::to_string(&resin).unwrap();
        assert_eq!(read(alone.as_bytes()), Ok(resin));
        let misspelt = text.replacen("\"resin\": {", "\"resin\": {\"colour\": \"red\",", 1);
        let refused = read(misspelt.as_bytes());
        assert!(
            matches!(&refused, Err(NotARecord::Unreadable(why)) if why.contains("`colour`")),
            "{refused:?}"
        );
        let beside = text.replacen('{', "{\"colour\": \"red\",", 1);
        assert_eq!(read(beside.as_bytes()), Err(NotARecord::UnknownField("colour".into())));
        let newer = text.replace("\"version\": 1", "\"version\": 7");
        assert_eq!(read(newer.as_bytes()), Err(NotARecord::Newer { found: 7, known: VERSION }));
        let cast = text.replace(FORMAT, "fondant-cast");
        assert_eq!(read(cast.as_bytes()), Err(NotARecord::OtherFormat));
        assert!(matches!(read(b"{\"id\":3}"), Err(NotARecord::Unreadable(_))));
    }
}

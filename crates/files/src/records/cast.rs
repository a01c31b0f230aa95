//! A whole cast as a file: a document of a known version with the resins that it names.

use fondant_cast::Document;
use fondant_cast::document::SCHEMA_VERSION;
use fondant_materials::resin::Record;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::{NotARecord, all_known, no_newer, version};

/// What the file says it is.
const FORMAT: &str = "fondant-cast";
/// Version of the file, not of the document in it.
const VERSION: u32 = 1;
/// Most resins that are taken from a file: the cast's own and those of its stages.
const MOST_RESINS: usize = 12;
/// Largest file of a cast, bytes.
pub const CAST_LIMIT: usize = 4 * 1024 * 1024;

/// A cast and the resins that come with it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CastFile {
    /// The cast.
    pub document: Document,
    /// Resins that it names.
    pub resins: Vec<Record>,
}

/// The file around it.
#[derive(Serialize, Deserialize)]
struct Envelope {
    format: String,
    version: u32,
    document: Document,
    resins: Vec<Record>,
}

/// A cast as a file, to be read by [`read`].
///
/// # Errors
/// That of writing JSON.
pub fn write(document: &Document, resins: Vec<Record>) -> serde_json::Result<String> {
    let (format, document) = (FORMAT.to_owned(), document.clone());
    serde_json::to_string_pretty(&Envelope { format, version: VERSION, document, resins })
}

/// Reads a file. Its plan is not taken: that is for the hours of the shop that reads it.
///
/// # Errors
/// [`NotARecord`].
pub fn read(bytes: &[u8]) -> Result<CastFile, NotARecord> {
    let given: Value = serde_json::from_slice(bytes)?;
    if given.get("format").and_then(Value::as_str) != Some(FORMAT) {
        return Err(NotARecord::OtherFormat);
    }
    no_newer(version(given.get("version")), VERSION)?;
    let schema = version(given.pointer("/document/schema"));
    no_newer(schema, SCHEMA_VERSION)?;
    let mut file: Envelope = Envelope::deserialize(&given)?;
    // What is written again has every field that was understood. Fields of an older version have
    // become others.
    if schema == SCHEMA_VERSION {
        all_known(&given, &serde_json::to_value(&file)?)?;
    }
    file.document.pours.forget();
    file.resins.truncate(MOST_RESINS);
    Ok(CastFile { document: file.document, resins: file.resins })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Documents of version 3 had a kit of their own.
    #[test]
    fn a_file_of_the_version_before_comes_in() {
        let piece = fondant_shapes::form::Piece::slab(
            fondant_quantities::Length::from_mm(900.0),
            fondant_quantities::Length::from_mm(400.0),
            fondant_quantities::Length::from_mm(30.0),
            fondant_quantities::Length::from_mm(10.0),
        );
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        let document = Document::river_top("Before".into(), piece, begin);
        let mut file: Value = serde_json::from_str(&write(&document, Vec::new()).unwrap()).unwrap();
        file["document"]["buying"] = serde_json::json!({ "kit_m3": 0.003 });
        assert!(read(file.to_string().as_bytes()).is_err(), "this version has no such field");
        file["document"]["schema"] = 3.into();
        assert_eq!(read(file.to_string().as_bytes()).unwrap().document, document);
    }

    #[test]
    fn what_is_no_cast_is_refused_with_its_reason() {
        assert!(matches!(read(b"{"), Err(NotARecord::Unreadable(_))));
        assert!(matches!(read(b"[1]"), Err(NotARecord::OtherFormat)));
        for version in ["9", "4294967297"] {
            let newer = format!(
                r#"{{"format":"fondant-cast","version":{version},"document":{{}},"resins":[]}}"#
            );
            assert!(matches!(
                read(newer.as_bytes()),
                Err(NotARecord::Newer { known: VERSION, .. })
            ));
        }
        let lacking = br#"{"format":"fondant-cast","version":1,"document":{},"resins":[]}"#;
        assert!(matches!(read(lacking), Err(NotARecord::Unreadable(_))));
    }
}

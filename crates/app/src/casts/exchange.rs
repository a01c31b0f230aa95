//! Whole casts as files: a document of a known version with the resins that it names, so that
//! another workshop has the same cast.

use std::collections::BTreeSet;

use fondant_cast::Document;
use fondant_cast::document::SCHEMA_VERSION;
use fondant_materials::resin::Record;
use fondant_materials::resin::shelf::OwnResin;
use fondant_store::repos::CastId;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::app::App;
use crate::casts::create;
use crate::casts::open::Open;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// What the file says it is.
const FORMAT: &str = "fondant-cast";
/// Version of the file, not of the document in it.
const VERSION: u32 = 1;
/// Most resins that a file names: the cast's own and those of its stages.
const MOST_RESINS: usize = 12;
/// Largest file of a cast, bytes.
pub const CAST_LIMIT: usize = 4 * 1024 * 1024;

/// A cast as a file.
#[derive(Debug, Serialize, Deserialize)]
struct CastFile {
    format: String,
    version: u32,
    document: Value,
    resins: Vec<Record>,
}

/// Why a file is not a cast.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum NotACast {
    /// It is not JSON, or something in it is of another kind.
    #[error("{0}")]
    Unreadable(String),
    /// It is JSON of another kind.
    #[error("it does not say that it is a cast")]
    OtherFormat,
    /// It was written by a newer version.
    #[error("it is of version {found}; up to {known} is read")]
    Newer {
        /// Version of the file or of its document.
        found: u32,
        /// Newest version that is read.
        known: u32,
    },
    /// A field that no version has.
    #[error("it has a field {0} that is not known")]
    UnknownField(String),
    /// A resin that it names is neither in it nor on the shelf.
    #[error("the resin {0} is neither in the file nor on the shelf")]
    NoResin(String),
}

/// A cast as a file, to be read by [`read`].
///
/// # Errors
/// [`AppError`].
pub fn write(open: &Open) -> Result<String, AppError> {
    let document = &open.record.document;
    let mut resins = Vec::new();
    for id in std::iter::once(&document.resin).chain(document.stages.named_resins()) {
        if let Ok(found) = open.shop.shelf().find(id)
            && !resins.iter().any(|resin: &Record| resin.id == *id)
        {
            resins.push(found.clone());
        }
    }
    let file = CastFile {
        format: FORMAT.to_owned(),
        version: VERSION,
        document: serde_json::to_value(document).map_err(AppError::fault)?,
        resins,
    };
    serde_json::to_string_pretty(&file).map_err(AppError::fault)
}

/// A cast and the resins that came with it.
#[derive(Debug, Clone)]
pub struct ReadCast {
    document: Document,
    resins: Vec<Record>,
}

/// Reads a file. Its plan is not taken: that is for the hours of the shop that reads it.
///
/// # Errors
/// [`NotACast`].
pub fn read(bytes: &[u8]) -> Result<ReadCast, NotACast> {
    let unreadable = |error: serde_json::Error| NotACast::Unreadable(error.to_string());
    let given: Value = serde_json::from_slice(bytes).map_err(unreadable)?;
    if given.get("format").and_then(Value::as_str) != Some(FORMAT) {
        return Err(NotACast::OtherFormat);
    }
    let version = |value: Option<&Value>| value.and_then(Value::as_u64).unwrap_or(0) as u32;
    let newer = [
        (version(given.get("version")), VERSION),
        (version(given.pointer("/document/schema")), SCHEMA_VERSION),
    ];
    if let Some((found, known)) = newer.into_iter().find(|(found, known)| found > known) {
        return Err(NotACast::Newer { found, known });
    }
    let file: CastFile = serde_json::from_value(given.clone()).map_err(unreadable)?;
    let mut document: Document =
        serde_json::from_value(file.document.clone()).map_err(unreadable)?;
    // What is written again has every field that was understood.
    let again = CastFile {
        document: serde_json::to_value(&document).map_err(unreadable)?,
        format: file.format,
        version: file.version,
        resins: file.resins,
    };
    let kept = serde_json::to_value(&again).map_err(unreadable)?;
    let is_of_now = version(given.pointer("/document/schema")) == SCHEMA_VERSION;
    if let Some(field) = unknown("", &given, &kept).filter(|_| is_of_now) {
        return Err(NotACast::UnknownField(field));
    }
    document.pours.taken = Vec::new();
    document.pours.given_up = Vec::new();
    Ok(ReadCast { document, resins: again.resins.into_iter().take(MOST_RESINS).collect() })
}

/// The first field of what was given that is not in what was understood. A field that holds nothing
/// is left out when it is written.
fn unknown(path: &str, given: &Value, kept: &Value) -> Option<String> {
    match (given, kept) {
        (Value::Object(given), Value::Object(kept)) => given.iter().find_map(|(name, value)| {
            let path = if path.is_empty() { name.clone() } else { format!("{path}.{name}") };
            match kept.get(name) {
                Some(kept) => unknown(&path, value, kept),
                None if is_nothing(value) => None,
                None => Some(path),
            }
        }),
        (Value::Array(given), Value::Array(kept)) if given.len() == kept.len() => {
            given.iter().zip(kept).enumerate().find_map(|(index, (given, kept))| {
                unknown(&format!("{path}[{index}]"), given, kept)
            })
        }
        _ => None,
    }
}

fn is_nothing(value: &Value) -> bool {
    match value {
        Value::Null | Value::Bool(false) => true,
        Value::Number(number) => number.as_f64() == Some(0.0),
        Value::String(text) => text.is_empty(),
        Value::Array(items) => items.iter().all(is_nothing),
        Value::Object(fields) => fields.values().all(is_nothing),
        Value::Bool(true) => false,
    }
}

/// Begins a cast from a file. Resins that the shelf has under the same name are taken from there;
/// the others are put on it, with the cast or not at all. The same request sent twice begins one.
///
/// # Errors
/// [`AppError::Conflicts`] where the document contradicts itself; the inner error says which resin
/// is missing.
pub async fn import(
    app: &App,
    shop: &Shop,
    read: ReadCast,
    request: &Request,
) -> Result<Result<CastId, NotACast>, AppError> {
    let ReadCast { document, resins } = read;
    create::check(app, &document).await?;
    let now = app.now();
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(Ok(CastId(before)));
    }
    let workshop = transaction.lock_workshop(shop.id).await?;
    // The shelf as it is now, which nobody else changes before this is done.
    let shelf = app.shop_of(workshop).await?.stock.shelf.clone();
    let named = std::iter::once(&document.resin).chain(document.stages.named_resins());
    let missing: BTreeSet<&str> =
        named.filter(|id| shelf.find(id).is_err()).map(|id| id.0.as_str()).collect();
    for id in &missing {
        let brought = resins.iter().find(|resin| resin.id.0 == *id && resin.check().is_ok());
        let Some(resin) = brought.cloned() else {
            return Ok(Err(NotACast::NoResin((*id).to_owned())));
        };
        let own = OwnResin { resin, is_put_away: false };
        transaction.put_on_shelf(shop.id, id, 0, &own, now).await?;
    }
    if !missing.is_empty() {
        tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    }
    let cast = create::begin(&transaction, shop, &document, (request, now)).await?;
    transaction.commit().await?;
    Ok(Ok(cast))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn a_field_that_is_not_known_is_named_with_its_place() {
        let kept = json!({"a": 1, "list": [{"b": 2}, {"b": 3}]});
        let given = json!({"a": 1, "list": [{"b": 2}, {"b": 3, "colour": "red"}]});
        assert_eq!(unknown("", &given, &kept).as_deref(), Some("list[1].colour"));
        let nothing = json!({"a": 1, "list": [], "holes": [], "note": "", "shift": [0.0, 0]});
        assert_eq!(unknown("", &nothing, &kept), None);
    }

    #[test]
    fn what_is_no_cast_is_refused_with_its_reason() {
        assert!(matches!(read(b"{"), Err(NotACast::Unreadable(_))));
        assert!(matches!(read(b"[1]"), Err(NotACast::OtherFormat)));
        let newer = br#"{"format":"fondant-cast","version":9,"document":{},"resins":[]}"#;
        assert!(matches!(read(newer), Err(NotACast::Newer { found: 9, known: VERSION })));
        let lacking = br#"{"format":"fondant-cast","version":1,"document":{},"resins":[]}"#;
        assert!(matches!(read(lacking), Err(NotACast::Unreadable(_))));
    }
}

use std::io::Write;

use fondant_cast::Document;
use fondant_quantities::Length;
use zip::write::{SimpleFileOptions, ZipWriter};

use super::*;
use crate::made_up;
use crate::reading::{Answer, Asked, answered};
use crate::records::NotARecord;
use crate::records::cast::CastFile;

fn archive(photos: usize) -> Archive {
    let piece = fondant_shapes::form::Piece::slab(
        Length::from_mm(900.0),
        Length::from_mm(400.0),
        Length::from_mm(30.0),
        Length::from_mm(10.0),
    );
    let begin = "2026-11-23T09:00:00Z".parse().unwrap();
    let document = Document::river_top("Travelling".into(), piece, begin);
    let mut archive = Archive::from(CastFile { document, resins: Vec::new() });
    let kept = crate::photo::keep(&made_up::slab_photo(120).unwrap()).unwrap();
    for _ in 0..photos {
        archive.photos.push(ArchivedPhoto {
            width: kept.width,
            height: kept.height,
            photo: Picture::of(kept.jpeg.clone()),
            squared: None,
            shows: None,
        });
    }
    archive
}

#[test]
fn what_is_written_is_read_also_through_a_process() {
    let archive = archive(2);
    let bytes = write(&archive).unwrap();
    assert!(is_zip(&bytes));
    assert_eq!(read(&bytes).unwrap(), archive);
    let mut written = Vec::new();
    Asked::Cast.answer(&*bytes, &mut written).unwrap();
    let Some(Ok(Answer::Cast(through, _))) = answered(&written) else { panic!("no cast") };
    assert_eq!(through.unwrap(), archive);
    for end in [written.len() - 1, written.len() - 500] {
        assert_eq!(answered(&written[..end]), None, "{end}");
    }
}

/// A ZIP of files by name.
fn zipped(files: &[(&str, &[u8])]) -> Vec<u8> {
    let mut zip = ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, bytes) in files {
        zip.start_file(*name, SimpleFileOptions::default()).unwrap();
        zip.write_all(bytes).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

fn told(archive: &Archive) -> serde_json::Value {
    let mut told = serde_json::to_value(archive).unwrap();
    told["format"] = "fondant-archive".into();
    told["version"] = 1.into();
    told
}

fn refused(files: &[(&str, &[u8])]) -> String {
    read(&zipped(files)).unwrap_err().to_string()
}

#[test]
fn one_of_the_version_before_is_read() {
    let archive = archive(0);
    let text = told(&archive).to_string();
    assert_eq!(read(&zipped(&[("cast.json", text.as_bytes())])).unwrap(), archive);
}

#[test]
fn what_is_no_archive_is_refused_with_its_reason() {
    assert!(matches!(read(b"PK\x03\x04 and nothing"), Err(NotARecord::Unreadable(_))));
    assert_eq!(refused(&[]), "it has no cast.json");
    assert!(matches!(read(&zipped(&[("cast.json", b"{}")])), Err(NotARecord::OtherFormat)));
    let archive = archive(1);
    let told = told(&archive);
    let text = told.to_string();
    let json = ("cast.json", text.as_bytes());
    assert_eq!(refused(&[json]), "it has no photos/1.jpg");
    let other = refused(&[json, ("photos/1.jpg", b"another")]);
    assert_eq!(other, "it has a photos/1.jpg that is not the picture it should be");
    // Of the right checksum, but no picture.
    let mut no_picture = told.clone();
    no_picture["photos"][0]["photo"]["sha256"] = Picture::of(b"text".to_vec()).sha256.into();
    let text = no_picture.to_string();
    let none = refused(&[("cast.json", text.as_bytes()), ("photos/1.jpg", b"text")]);
    assert_eq!(none, other);
    for (field, value, why) in [
        ("version", serde_json::json!(3), "version 3"),
        ("colour", serde_json::json!("red"), "a field colour"),
        (
            "facts",
            serde_json::json!([{ "recorded_at": "2026-11-23T09:00:00Z",
                "fact": { "what": "withdrawn", "row": 1 } }]),
            "a withdrawal of nothing",
        ),
    ] {
        let mut changed = told.clone();
        changed[field] = value;
        let text = changed.to_string();
        let said = refused(&[("cast.json", text.as_bytes())]);
        assert!(said.contains(why), "{field}: {said}");
    }
}

/// A few kilobytes that would be gigabytes.
#[test]
fn a_file_that_grows_without_end_is_refused() {
    let zeros = vec![b' '; 20 * 1024 * 1024];
    let bytes = zipped(&[("cast.json", &zeros)]);
    assert!(bytes.len() < 100_000);
    assert!(read(&bytes).unwrap_err().to_string().contains("more than"), "{}", bytes.len());
}

#[test]
fn pours_are_numbered_in_the_order_in_which_they_are_named() {
    use fondant_cast::document::{PourId, TakenPour};
    let mut archive = archive(0);
    let at = "2026-11-24T09:00:00Z".parse().unwrap();
    let taken = |id| TakenPour { id: PourId(id), at, to: Length::from_mm(30.0) };
    archive.document.pours.taken = vec![taken(871), taken(12)];
    archive.document.pours.given_up = vec![taken(12), taken(40)];
    archive.number_pours();
    let ids = |taken: &[TakenPour]| taken.iter().map(|one| one.id.0).collect::<Vec<_>>();
    assert_eq!(ids(&archive.document.pours.taken), [1, 2]);
    assert_eq!(ids(&archive.document.pours.given_up), [2, 3]);
    archive.renumber(&[PourId(3), PourId(1), PourId(2)]);
    assert_eq!(ids(&archive.document.pours.taken), [3, 1]);
}

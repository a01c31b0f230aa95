//! Documents of every version that has been stored still open, with the volume and the pours that
//! they had. The files were written by the code of their time; none is ever edited.

use fondant_cast::document::{PourId, SCHEMA_VERSION};
use fondant_cast::{Contents, Document, Kind, measure};
use fondant_quantities::Length;

/// A file, its kind, its volume by the code that wrote it, L, and how many pours were taken.
const KEPT: [(&str, &str, Kind, f64, usize); 9] = [
    ("1-river", include_str!("documents/1-river.json"), Kind::River, 13.985_855, 0),
    ("2-river", include_str!("documents/2-river.json"), Kind::River, 11.469_909_442_776, 2),
    (
        "2-river-sealed",
        include_str!("documents/2-river-sealed.json"),
        Kind::River,
        11.233_046_531_117,
        0,
    ),
    ("2-inlay", include_str!("documents/2-inlay.json"), Kind::Inlay, 0.120_250_085_303, 2),
    ("2-block", include_str!("documents/2-block.json"), Kind::Block, 1.781_619_840_000, 2),
    ("2-tubes", include_str!("documents/2-tubes.json"), Kind::Tubes, 0.546_193_685_922, 1),
    ("2-embed", include_str!("documents/2-embed.json"), Kind::Embed, 1.326_640_000_000, 4),
    ("2-moulds", include_str!("documents/2-moulds.json"), Kind::Moulds, 0.650_960_000_000, 1),
    ("2-coat", include_str!("documents/2-coat.json"), Kind::Coat, 3.239_618_624_000, 2),
];

fn read(text: &str) -> Document {
    serde_json::from_str(text).expect("a document of an earlier version")
}

#[test]
fn every_kept_document_opens_with_its_volume_and_its_pours() {
    for (name, text, kind, litres, pours) in KEPT {
        let document = read(text);
        assert_eq!(document.schema, SCHEMA_VERSION, "{name}");
        assert_eq!(document.kind(), kind, "{name}");
        assert_eq!(document.conflicts(), [], "{name}");
        let measured = measure(&document).expect("no conflicts").sizing.total.l();
        assert!((measured - litres).abs() < 1e-9 * litres.max(1.0), "{name}: {measured}");
        let ids: Vec<PourId> = document.pours.taken.iter().map(|pour| pour.id).collect();
        let places: Vec<PourId> = (0..pours).map(PourId::of_place).collect();
        assert_eq!(ids, places, "{name}");
    }
}

#[test]
fn what_was_read_is_written_as_this_version_and_reads_the_same() {
    for (name, text, ..) in KEPT {
        let document = read(text);
        let again = serde_json::to_string(&document).expect("JSON");
        assert!(again.contains("\"contents\""), "{name}");
        assert_eq!(read(&again), document, "{name}");
    }
}

#[test]
fn a_seal_a_gap_and_what_lies_between_boards_are_the_rivers_own() {
    let document = read(include_str!("documents/2-river-sealed.json"));
    let Contents::River(river) = &document.contents else { panic!("{:?}", document.kind()) };
    assert!(river.seal && document.seals());
    assert_eq!((river.cavities.len(), river.inserts.len(), river.stations.len()), (1, 1, 3));
    assert!((river.base_gap.mm() - 2.0).abs() < 1e-9);
    assert_eq!(river.stations[2].from_wall, Some(Length::from_mm(120.0)));
    assert!(river.checks.dry_fill.is_some() && river.boards[0].weighed.is_some());
}

#[test]
fn boards_named_near_and_far_are_the_first_and_the_second() {
    let document = read(include_str!("documents/1-river.json"));
    let names: Vec<&str> =
        document.contents.boards().iter().map(|board| board.timber.as_str()).collect();
    assert_eq!(names, ["ash", "oak"]);
    assert!((document.piece.flattening.mm() - 2.0).abs() < 1e-12);
}

/// Version 3 had a kit, a price and opened stock of its own, and moulds of one row.
#[test]
fn moulds_of_version_3_open_with_their_volume_and_are_written_as_rows() {
    let now = read(include_str!("documents/2-moulds.json"));
    let litres = measure(&now).expect("no conflicts").sizing.total.l();
    let mut kept = serde_json::to_value(&now).expect("JSON");
    let hollow = kept["contents"]["cavities"][0]["hollow"].clone();
    let pressed = kept["contents"]["cavities"][0]["pressed"]["shape"]["volume_m3"].clone();
    kept["schema"] = 3.into();
    kept["buying"] = serde_json::json!({ "kit_m3": 0.003, "price": 60.0, "opened_m3": 0.0 });
    kept["contents"] = serde_json::json!({
        "kind": "moulds", "count": kept["contents"]["cavities"][0]["count"], "hollow": hollow,
        "wall_m": kept["contents"]["wall_m"], "pot": null,
        "timber_m3": pressed, "timber_density_kg_m3": 650.0,
    });
    let document = read(&kept.to_string());
    assert_eq!(document.schema, SCHEMA_VERSION);
    assert!((measure(&document).expect("no conflicts").sizing.total.l() - litres).abs() < 1e-12);
}

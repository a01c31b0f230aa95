//! The station Finish through the router.

use fondant_cast::{Document, Kind};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

use crate::common::get;

fn document(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let mut piece = Piece::slab(mm(1160.0), mm(560.0), mm(36.0), mm(10.0));
    piece.flattening = mm(3.0);
    Document::begin(kind, "Finished".into(), piece, documents::now())
}

/// A cast of 1180 × 580 mm, 3 mm off each face: three passes of ⌈540 ÷ 28⌉ + 1 = 21 lanes of 1.26 m.
#[tokio::test]
async fn a_river_top_is_told_its_passes_and_three_last_surfaces() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let cast = app.create(&document(Kind::River)).await;
    let page = get(&app, &format!("/casts/{cast}/finish")).await.text;
    for said in [
        "Out of the form",
        "3 passes of 21 lanes on each of two faces: the bit travels 79\u{202f}m",
        "P80, P120, P180",
        "Flood coat",
        "of oil",
        "of coating resin",
        "Cured through from about",
        "food too, and only on a resin whose maker allows it",
    ] {
        assert!(page.contains(said), "{said} is not in {page}");
    }
}

#[tokio::test]
async fn blanks_are_turned_and_what_stays_in_its_mould_has_one_face() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let tubes = app.create(&document(Kind::Tubes)).await;
    let page = get(&app, &format!("/casts/{tubes}/finish")).await.text;
    assert!(page.contains("Blanks are turned") && !page.contains("Flood coat"), "{page}");
    let coat = app.create(&document(Kind::Coat)).await;
    let page = get(&app, &format!("/casts/{coat}/finish")).await.text;
    assert!(page.contains("on the upper face") && page.contains("Polished"), "{page}");
}

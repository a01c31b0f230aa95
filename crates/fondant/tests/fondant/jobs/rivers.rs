//! Tables and slabs with resin between boards.

use super::maker::{GALLON_L, INCHES, METRIC, SHOWN, agrees, job};

/// A river table in inches: 60 × 30 × 1 1/2 in, boards of 1 3/4 in.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_river_table() {
    job(INCHES, |maker| async move {
        let sides =
            [("length", "60"), ("width", "30"), ("thickness", "1 1/2"), ("trim_margin", "1/2")];
        maker.begins("river", "Larch for the stair", &sides).await;
        // Widths at both ends and in the middle: 6, 9 and 7 in on a form of 61 in.
        for (field, width) in [("river-0", "6"), ("river-1", "9"), ("river-2", "7")] {
            maker.types(field, width).await;
        }
        for board in ["b_thickness-0", "b_thickness-1"] {
            maker.types(board, "1 3/4").await;
        }
        // Sealed edges absorb nothing.
        for board in ["b_absorbs-0", "b_absorbs-1"] {
            maker.types(board, "0").await;
        }
        let mean = (6.0 + 9.0) / 2.0 * 0.5 + (9.0 + 7.0) / 2.0 * 0.5;
        let width = maker.said("#f-mean-width").await;
        assert!(width.contains("7 3/4"), "{width} for {mean} in");
        maker.at("form").await;
        for (field, text) in [("base_gap", "3/16"), ("overfill", "1/8"), ("residue", "0")] {
            maker.types(field, text).await;
        }
        let inch = 0.254; // dm
        let litres = |cubic_inches: f64| cubic_inches * inch * inch * inch;
        let river = 61.0 * mean * (1.75 + 0.125);
        let by_hand = litres(river + 61.0 * 31.0 * 0.1875);
        agrees("resin, gal", maker.figure("volume").await, by_hand / GALLON_L, SHOWN);
        let mass = maker.figure("mass").await;
        agrees("mass, lb", mass, by_hand * 1.1 / 0.453_592_37, SHOWN);
        maker.takes_the_plan().await;
    })
    .await;
}

/// A slab for a form that the shop has.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_slab_in_a_form_that_is_used_again() {
    job(METRIC, |maker| async move {
        let browser = &maker.browser;
        browser.open("/forms").await;
        browser.run("document.querySelectorAll('details').forEach((d) => d.open = true)").await;
        for (field, text) in
            [("name", "long bench form"), ("length", "1300"), ("width", "520"), ("height", "90")]
        {
            browser.enter(&format!("#{field}"), text).await;
        }
        browser.click("#new-form button[type=submit]").await;
        browser.wait_for_text("main", "long bench form").await;
        let sides =
            [("length", "1180"), ("width", "480"), ("thickness", "40"), ("trim_margin", "10")];
        maker.begins("river", "Slab for the porch", &sides).await;
        for width in ["river-0", "river-1", "river-2"] {
            maker.types(width, "120").await;
        }
        maker.at("form").await;
        // 1200 × 500 mm is cut from 1300 × 520: 100 and 20 mm off, 0.076 m² of base lost.
        let lost = 1.3 * 0.52 - 1.2 * 0.5;
        let offered = maker.said("#owned").await;
        assert!(offered.contains("long bench form"), "{offered}");
        assert!(offered.contains("100 mm off its length"), "{offered}");
        assert!(offered.contains(&format!("{lost:.3}")[..4]), "{offered}: {lost}");
        for (field, text) in [("base_gap", "3"), ("overfill", "0"), ("residue", "0")] {
            maker.types(field, text).await;
        }
        // 44 mm of boards, 120 mm of resin between them, 3 mm under all; 100 mL/m² of two edges.
        let by_hand = 12.0 * (1.2 * 0.44 + 5.0 * 0.03) + 0.1 * 2.0 * 1.2 * 0.044;
        agrees("resin, L", maker.figure("volume").await, by_hand, SHOWN);
        maker.takes_the_plan().await;
    })
    .await;
}

/// A slab poured in four layers, its levels set by hand.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_slab_in_four_pours() {
    job(METRIC, |maker| async move {
        let sides =
            [("length", "800"), ("width", "380"), ("thickness", "56"), ("trim_margin", "10")];
        maker.begins("river", "Deep slab", &sides).await;
        for width in ["river-0", "river-1", "river-2"] {
            maker.types(width, "160").await;
        }
        for board in ["b_absorbs-0", "b_absorbs-1"] {
            maker.types(board, "0").await;
        }
        maker.at("form").await;
        for (field, text) in [("base_gap", "0"), ("overfill", "0"), ("residue", "0")] {
            maker.types(field, text).await;
        }
        agrees("resin, L", maker.figure("volume").await, 8.2 * 1.6 * 0.6, SHOWN);
        maker.at("pours").await;
        maker.chooses("split", "by_hand").await;
        maker.types("levels", "15; 30; 45").await;
        let layers = maker.said("#f-layers").await;
        assert!(layers.trim().starts_with('4'), "{layers}");
        // Four of 15 mm: 820 × 160 × 15 mm³ each.
        let each = 8.2 * 1.6 * 0.15;
        let table = maker.said(".pours-table").await;
        let named = format!("{each:.2} L");
        assert_eq!(table.matches(&named).count(), 4, "{named} four times in {table}");
        maker.takes_the_plan().await;
    })
    .await;
}

/// Which resin for a tabletop: the coating one takes many layers, the slow one few.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_choice_of_resin() {
    job(METRIC, |maker| async move {
        let sides =
            [("length", "900"), ("width", "420"), ("thickness", "36"), ("trim_margin", "10")];
        maker.begins("river", "Hall shelf", &sides).await;
        for width in ["river-0", "river-1", "river-2"] {
            maker.types(width, "104").await;
        }
        maker.at("form").await;
        for (field, text) in [("base_gap", "0"), ("overfill", "0"), ("residue", "0")] {
            maker.types(field, text).await;
        }
        maker.at("resin").await;
        let absorbed = 0.1 * 2.0 * 0.92 * 0.04;
        let by_hand = 9.2 * 1.04 * 0.4 + absorbed;
        agrees("resin, L", maker.figure("volume").await, by_hand, SHOWN);
        let layers_of = |resin: &str| format!("label[for='resin-{resin}'], #resin-{resin}");
        maker.browser.find(&layers_of("coating-epoxy")).await;
        maker.clicks("#resin-coating-epoxy").await;
        let coats = maker.figure("layers").await;
        let each = maker.said("#f-layers").await;
        maker.clicks("#resin-medium-casting-epoxy").await;
        let poured = maker.figure("layers").await;
        assert!(coats > poured, "{coats} coats, {poured} layers: {each}");
        // As deep as it is, in equal layers: 40 mm over their number.
        let deep = maker.said("#f-layers").await;
        let by_hand = 40.0 / poured;
        assert!(deep.contains(&format!("{by_hand:.0}")[..1]), "{deep}: {by_hand}");
        // 1074.2 kg/m³ as its two parts mix.
        agrees(
            "mass, kg",
            maker.figure("mass").await,
            1.0742 * (9.2 * 1.04 * 0.4 + absorbed),
            SHOWN,
        );
        maker.takes_the_plan().await;
    })
    .await;
}

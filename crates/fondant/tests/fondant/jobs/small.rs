//! Moulds, tubes and coats.

use super::maker::{GALLON_L, INCHES, METRIC, PHONE, SHOWN, agrees, job};

/// Coasters with a disc of driftwood in each, on a telephone.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn coasters() {
    job(PHONE, |maker| async move {
        let sides = [("length", "96"), ("width", "96"), ("thickness", "11"), ("count", "6")];
        maker.begins("moulds", "Round coasters", &sides).await;
        maker.at("piece").await;
        maker.chooses("hollow-0", "round").await;
        maker.at("timber").await;
        maker.chooses("pr_shape-0", "round").await;
        maker.types("pr_length-0", "60").await;
        maker.types("pr_height-0", "5").await;
        let quarter_pi = std::f64::consts::FRAC_PI_4;
        let each = quarter_pi * (96.0 * 96.0 * 11.0 - 60.0 * 60.0 * 5.0) / 1e3;
        agrees("one, g", maker.reads("#f-each").await, each * 1.0742, SHOWN);
        agrees("all, mL", maker.figure("volume").await, 6.0 * each * 1.03, SHOWN);
        maker.takes_the_plan().await;
    })
    .await;
}

/// Two dozen tubes with printed labels, in inches.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn tube_blanks() {
    job(INCHES, |maker| async move {
        let sides = [("length", "3"), ("width", "7/8"), ("count", "24")];
        maker.begins("tube-blanks", "Chart tubes", &sides).await;
        maker.at("timber").await;
        for (field, text) in [("tube_length", "2 1/4"), ("tube_outside", "3/8"), ("plugs", "1/2")] {
            maker.types(field, text).await;
        }
        for (field, text) in
            [("label_tube", "0.35 in"), ("paper", "0.01 in"), ("overlap", "0.1 in")]
        {
            maker.types(field, text).await;
        }
        // π/4 (7/8² × 3 − 3/8² × 2 3/4) in³ of medium resin.
        let cubic_inches =
            std::f64::consts::FRAC_PI_4 * (0.875f64.powi(2) * 3.0 - 0.375f64.powi(2) * 2.75);
        let each = cubic_inches * 16.387_064;
        agrees("one, g", maker.reads("#f-each").await, each * 1.0742, SHOWN);
        // π × (0.35 + 0.01) + 0.1 in round the tube.
        let label = std::f64::consts::PI * 0.36 + 0.1;
        agrees("label, in", maker.reads("#f-label").await, label, SHOWN);
        maker.takes_the_plan().await;
    })
    .await;
}

/// A flood coat of two thick coats, in inches.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn thick_coats() {
    job(INCHES, |maker| async move {
        let sides = [("length", "48"), ("width", "20"), ("thickness", "1")];
        maker.begins("coat", "Counter", &sides).await;
        maker.at("timber").await;
        maker.types("coat", "3/32").await;
        maker.types("coats", "2").await;
        maker.types("run_off", "12").await;
        // Two coats of 3/32 in; upright edges of 1 in keep half of them. 12 % runs off, 3 % stays in
        // the cup.
        let both = 2.0 * 3.0 / 32.0;
        let cubic_inches = (48.0 * 20.0 * both + 136.0 * 0.5 * both) * 1.12 * 1.03;
        let by_hand = cubic_inches * 0.016_387_064;
        agrees("resin, fl oz", maker.figure("volume").await, by_hand / GALLON_L * 128.0, 0.01);
        let layers = maker.said("#f-layers").await;
        assert!(layers.trim().starts_with('2'), "{layers}");
        maker.takes_the_plan().await;
    })
    .await;
}

/// A coat that turned greasy: the shop was cold and damp.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn blush() {
    job(PHONE, |maker| async move {
        let browser = &maker.browser;
        browser.open("/shop").await;
        let ways = "const f = document.getElementById('air'); f.value = 'points'; \
            f.dispatchEvent(new Event('change', { bubbles: true })); \
            document.getElementById('points').value = '06:00 18 82\\n18:00 18 82'";
        browser.run(ways).await;
        browser.run("document.getElementById('points').form.requestSubmit()").await;
        browser.wait_for_text("main", "82").await;
        browser.open("/today").await;
        // Magnus: 243.12 γ ÷ (17.62 − γ) with γ = ln 0.82 + 17.62 × 18 ÷ 261.12 is 14.9 °C.
        let gamma = 0.82_f64.ln() + 17.62 * 18.0 / (243.12 + 18.0);
        let dew = 243.12 * gamma / (17.62 - gamma);
        let said = maker.said("main").await;
        assert!(said.contains(&format!("dew point {dew:.0} °C")), "{said}: {dew}");
        let sides = [("length", "700"), ("width", "300"), ("thickness", "20")];
        maker.begins("coat", "Tray", &sides).await;
        agrees(
            "resin, mL",
            maker.figure("volume").await,
            {
                let coat = 700.0 * 300.0 * 1.6 + 2.0 * 1000.0 * 20.0 * 0.8;
                coat * 1.1 * 1.03 / 1e3
            },
            SHOWN,
        );
        maker.at("pours").await;
        // What the page says of the hours after the pour.
        maker.browser.wait_for_text("#workspace", "82 % humidity").await;
        maker.takes_the_plan().await;
    })
    .await;
}

/// Small blocks in several rows of one mould, two colours.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn rows_of_a_mould_in_two_colours() {
    job(METRIC, |maker| async move {
        let sides = [("length", "60"), ("width", "40"), ("thickness", "12"), ("count", "4")];
        maker.begins("moulds", "Two colours", &sides).await;
        maker.at("piece").await;
        maker.types("row_colour-0", "amber").await;
        maker.adds("Add a row of cavities").await;
        maker.types("row_colour-1", "slate").await;
        maker.chooses("hollow-1", "trough").await;
        maker.types("length-1", "130").await;
        maker.types("width-1", "20").await;
        maker.types("depth-1", "18").await;
        let boxes = 4.0 * 60.0 * 40.0 * 12.0 / 1e3;
        let troughs = 4.0 * 130.0 * (std::f64::consts::PI * 50.0 + 20.0 * 8.0) / 1e3;
        agrees("all, mL", maker.figure("volume").await, (boxes + troughs) * 1.03, SHOWN);
        maker.at("timber").await;
        let notes = maker.said("aside.notes").await;
        assert!(notes.contains(&format!("amber {boxes:.0}")[..8]), "{notes}: {boxes}");
        assert!(notes.contains("2 colours"), "{notes}");
        maker.takes_the_plan().await;
    })
    .await;
}

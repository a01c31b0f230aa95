//! Takes the pictures of `docs/screenshots` from the demo data. Run by
//! `./run shots`; left out of an ordinary test run, as it checks nothing.

use std::path::PathBuf;

use fondant_heat::calibration::cup::Cup;
use fondant_heat::calibration::factors::Factors;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Temperature};
use fondant_testkit::{TestDb, with_browser};

use crate::measuring::{file, framed_dxf};
use crate::program::Server;

/// Address, file, size of the page, whether in the evening theme.
const PICTURES: [(&str, &str, (u32, u32), bool); 19] = [
    ("/casts", "casts", (1280, 800), false),
    ("/casts/4/piece", "piece", (1280, 800), false),
    ("/casts/4/timber?section=5", "timber", (1280, 900), false),
    ("/casts/5/form", "form", (1280, 1500), false),
    ("/casts/4/resin", "resin", (1280, 800), false),
    ("/casts/2/heat", "heat", (1280, 1340), false),
    ("/casts/9/heat", "heat-evening", (1280, 900), true),
    ("/casts/3/pours", "pours", (1280, 1180), false),
    ("/today", "today", (1280, 1180), false),
    ("/casts/5/timber", "outlines", (1280, 860), false),
    ("/casts/5/photos/1", "photo", (1280, 1740), false),
    ("/casts/5/files", "drawing", (1280, 1040), false),
    ("/shelf", "shelf", (1280, 1010), false),
    ("/shelf/resins/medium-casting-epoxy/learn", "learn", (1280, 900), false),
    ("/casts/10/runs/1", "bench", (1280, 800), false),
    ("/ledger", "ledger", (1280, 1000), false),
    ("/ledger", "record", (1280, 1300), false),
    ("/shop", "shop", (1280, 1080), false),
    ("/casts/4/timber?section=5", "timber-phone", (390, 844), false),
];

/// A made-up log of 300 g of medium casting epoxy in a shop of 20 °C.
fn log() -> String {
    let air = Temperature::from_celsius(20.0);
    let cup = Cup { mass: Mass::from_kg(0.3), air };
    let truth = Factors { rate: 1.14, heat: 0.94, loss: 1.1 };
    let times: Vec<f64> = (0..150).map(|i| f64::from(i) * 180.0).collect();
    let resin = shipped::generic(ResinClass::MediumCasting);
    let curve =
        cup.temperatures(&resin.generic(), &truth, air.k(), &times, &Stop::NEVER).expect("a curve");
    let line = |(index, (t, k)): (usize, (&f64, f64))| {
        let jitter = [0.3, -0.2, 0.1, -0.4, 0.0, 0.2, -0.1][index % 7];
        let jump = if index % 41 == 30 { 7.0 } else { 0.0 };
        format!("{},{:.1}", t / 60.0, k - 273.15 + jitter + jump)
    };
    let lines: Vec<String> = times.iter().zip(curve).enumerate().map(line).collect();
    lines.join("\\n")
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
#[ignore = "takes pictures; ./run shots"]
async fn pictures_of_the_main_views() {
    let folder =
        PathBuf::from(std::env::var("FONDANT_SHOTS").expect("FONDANT_SHOTS names a folder"));
    let db = TestDb::empty().await;
    let server = Server::start(&db.address, &["--demo"]).await;
    let year = tokio::process::Command::new(env!("CARGO_BIN_EXE_fondant"))
        .arg("history")
        .env("FONDANT_DATABASE_URL", &db.address)
        .stderr(std::process::Stdio::null())
        .status();
    assert!(year.await.expect("the program runs").success());
    let drawn = file("slab.dxf", framed_dxf().as_bytes());
    with_browser(server.base.clone(), move |browser| async move {
        for (path, name, (width, height), evening) in PICTURES {
            browser.size(width, height).await;
            browser.open("/health").await;
            let theme = if evening { "evening" } else { "day" };
            browser.run(&format!("localStorage.setItem('theme', '{theme}')")).await;
            browser.open(path).await;
            browser.find("h1").await;
            if path.ends_with("/heat") {
                browser.find("#heat-field[data-state=done]").await;
            }
            if name == "record" {
                browser.click("tr:has(.trouble-text) a.cast-name").await;
                browser.find(".cause").await;
            }
            if name == "today" {
                browser.wait_for_gone("#collisions div[hx-get] > span.quiet:only-child").await;
            }
            if name == "pours" {
                browser.find("#alternatives .plan-card").await;
            }
            if name == "learn" {
                let paste = format!("document.getElementById('log').value = \"{}\"", log());
                browser.run(&paste).await;
                browser.click("#log-form button.main").await;
                browser.find("#taught").await;
            }
            if name == "drawing" {
                browser.choose_file("#outlines", &drawn).await;
                browser.click("form[action$=outlines] button").await;
                browser.find("#sum").await;
            }
            browser.run("await document.fonts.ready").await;
            let picture = browser.picture().await;
            std::fs::write(folder.join(format!("{name}.png")), picture).expect("a file");
        }
    })
    .await;
}

//! A run written down while everything fails in turn: the tab is closed, the server is killed, the
//! database is away, the network is cut.

use fondant_app::bench::begin as begin_run;
use fondant_bench::Happening;
use fondant_cast::PourId;
use fondant_testkit::{Browser, Outage, TestApp, documents, with_browser};

use crate::bench::{KILLS, kept, taken};
use crate::program::Server;

/// What fails in a round.
#[derive(Debug, Clone, Copy)]
enum Failure {
    TabClosed,
    ServerKilled,
    DatabaseAway,
    NetworkCut,
}

const FAILURES: [Failure; 4] =
    [Failure::NetworkCut, Failure::DatabaseAway, Failure::ServerKilled, Failure::TabClosed];

/// The time of each tap by the page's clock, kept over reloads.
const HEAR: &str = "addEventListener('submit', () => {
    const taps = JSON.parse(sessionStorage.taps ?? '[]');
    sessionStorage.taps = JSON.stringify([...taps, Date.now()]);
  }, true)";

/// A run at the bench in a browser, on a server of its own.
struct Bench {
    browser: Browser,
    page: String,
    notes: usize,
}

impl Bench {
    async fn open(&self) {
        self.browser.open(&self.page).await;
        self.browser.run(HEAR).await;
    }

    /// Writes a numbered note.
    async fn note(&mut self) {
        const FORM: &str = ".bench-more form:has(input[value=noted])";
        let opened = "document.querySelector('.bench-more:has(input[value=noted])').open = true";
        self.browser.run(opened).await;
        self.browser.enter(&format!("{FORM} input[name=note]"), &note(self.notes)).await;
        self.browser.click(&format!("{FORM} button")).await;
        self.notes += 1;
    }

    /// Something fails, and is mended after one more note.
    async fn through(&mut self, failure: Failure, database: &Outage, mut server: Server) -> Server {
        match failure {
            Failure::TabClosed => {
                self.browser.client.goto("about:blank").await.expect("it is left");
                self.open().await;
                self.note().await;
            }
            Failure::ServerKilled => {
                let port = server.base.rsplit(':').next().expect("a port").to_owned();
                server.kill().await;
                self.note().await;
                server = Server::start(database.address(), &["--port", &port]).await;
            }
            Failure::DatabaseAway => {
                database.begin();
                self.note().await;
                database.end();
            }
            Failure::NetworkCut => {
                self.browser.cut_network(true).await;
                self.note().await;
                self.browser.cut_network(false).await;
            }
        }
        server
    }
}

fn note(number: usize) -> String {
    format!("note {number}")
}

/// Each outage strikes between two taps, or while a row is on its way. At the end the log has every note
/// once, in order, each at the second at which it was tapped. `FONDANT_KILLS` asks for more rounds.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_run_written_down_through_outages_is_complete_in_order_and_on_time() {
    let asked = std::env::var("FONDANT_KILLS").ok().and_then(|text| text.parse().ok());
    let rounds = asked.unwrap_or(KILLS).max(FAILURES.len());
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let (cast, pour) = taken(&app).await;
    let run = begin_run(&app.app, cast, Some(PourId(pour))).await.expect("a run");
    let database = Outage::before(&app.db.address).await;
    let server = Server::start(database.address(), &[]).await;
    with_browser(server.base.clone(), async move |browser| {
        let page = format!("/casts/{cast}/runs/{run}");
        let mut bench = Bench { browser, page, notes: 0 };
        let mut server = server;
        bench.open().await;
        bench.browser.find("html[data-kept=bench]").await;
        for round in 0..rounds {
            // Every other time nothing is on its way yet.
            if round % 2 == 1 {
                bench.note().await;
            }
            server = bench.through(FAILURES[round % FAILURES.len()], &database, server).await;
        }
        // What still waits is sent.
        bench.browser.find("#bench-queue[hidden]").await;
        let last = note(bench.notes - 1);
        bench.browser.wait_for_text(".bench-log ul", &last).await;
        let taps = bench.browser.run("return JSON.parse(sessionStorage.taps)").await;
        let taps: Vec<i64> = serde_json::from_value(taps).expect("times");
        let rows = kept(&app, cast).await.rows;
        let told: Vec<&str> = rows
            .iter()
            .map(|row| match &row.what {
                Happening::Noted { note } => note.as_str(),
                other => panic!("{other:?}"),
            })
            .collect();
        let expected: Vec<String> = (0..bench.notes).map(note).collect();
        assert_eq!(told, expected);
        assert_eq!(taps.len(), rows.len());
        for (row, tap) in rows.iter().zip(taps) {
            let off_ms = (row.at.as_millisecond() - tap).abs();
            assert!(off_ms < 1000, "{:?}: {off_ms} ms", row.what);
        }
        server.kill().await;
    })
    .await;
}

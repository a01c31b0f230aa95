//! A maker at work in the browser: begins a cast in an empty workshop, types its figures, reads those
//! that are shown, takes the plan.

use std::sync::Arc;

use fantoccini::Locator;
use fondant_quantities::units::UnitSystem;
use fondant_testkit::{Browser, TestApp, documents};

/// Millilitres of a US gallon, and grams of a pound.
pub(crate) const GALLON_L: f64 = 3.785_411_784;
/// Figures are shown to three digits: half of the last one at most is lost.
pub(crate) const SHOWN: f64 = 0.006;

/// How a workshop works, and on what its maker looks.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Bench {
    pub(crate) system: UnitSystem,
    pub(crate) screen: (u32, u32),
}

pub(crate) const METRIC: Bench = Bench { system: UnitSystem::Metric, screen: (1280, 800) };
pub(crate) const INCHES: Bench = Bench { system: UnitSystem::UsCustomary, screen: (1280, 800) };
/// Millimetres on a telephone.
pub(crate) const PHONE: Bench = Bench { system: UnitSystem::Metric, screen: (390, 844) };

/// A maker with a cast begun.
#[derive(Debug, Clone)]
pub(crate) struct Maker {
    pub(crate) browser: Browser,
}

/// Runs a job in an empty workshop that is open from eight to six.
pub(crate) async fn job<F>(bench: Bench, work: impl FnOnce(Maker) -> F + Send + 'static)
where
    F: Future<Output = ()> + Send + 'static,
{
    let workshop = documents::workshop(8, 18);
    let workshop = fondant_app::records::WorkshopSettings { units: bench.system, ..workshop };
    let app = Arc::new(TestApp::new(&workshop).await);
    app.drive(move |browser| async move {
        let (width, height) = bench.screen;
        browser.size(width, height).await;
        work(Maker { browser: browser.clone() }).await;
        let over = "return [...document.querySelectorAll('main *')]
            .filter((e) => e.getBoundingClientRect().right > innerWidth + 1)
            .map((e) => e.tagName + '.' + e.className).slice(0, 4).join(', ')";
        let wide = browser.run("return document.documentElement.scrollWidth").await;
        let what = browser.run(over).await;
        assert!(wide.as_u64().unwrap_or(0) <= u64::from(width), "{wide} px wide: {what}");
        browser.assert_quiet().await;
    })
    .await;
}

impl Maker {
    /// Begins a cast of a kind with its first figures.
    pub(crate) async fn begins(&self, kind: &str, name: &str, fields: &[(&str, &str)]) {
        let browser = &self.browser;
        browser.open("/casts/new").await;
        browser.click(&format!("a.kind[href$='={kind}']")).await;
        browser.enter("#name", name).await;
        for (field, text) in fields {
            browser.enter(&format!("#{field}"), text).await;
        }
        browser.click("button[type=submit]").await;
        browser.find("#workspace[data-revision]").await;
    }

    /// Goes to a station.
    pub(crate) async fn at(&self, station: &str) {
        self.browser.open(&format!("/casts/1/{station}")).await;
        self.browser.find("#workspace[data-revision]").await;
    }

    async fn revision(&self) -> i64 {
        let shown = "return Number(document.querySelector('#workspace').dataset.revision)";
        self.browser.run(shown).await.as_i64().unwrap_or_default()
    }

    /// Does something that is kept, and waits until it is.
    async fn kept<F: Future<Output = ()>>(&self, change: F) {
        let next = self.revision().await + 1;
        change.await;
        self.browser.find(&format!("#workspace[data-revision='{next}']")).await;
    }

    /// Types a figure.
    pub(crate) async fn types(&self, field: &str, text: &str) {
        self.kept(self.browser.enter(&format!("#{field}"), text)).await;
    }

    /// Chooses from a list.
    pub(crate) async fn chooses(&self, field: &str, value: &str) {
        let script = format!(
            "const f = document.getElementById('{field}'); f.value = '{value}'; \
             f.dispatchEvent(new Event('change', {{ bubbles: true }}))"
        );
        self.kept(async { drop(self.browser.run(&script).await) }).await;
    }

    /// Clicks something that changes the cast.
    pub(crate) async fn clicks(&self, css: &str) {
        self.kept(self.browser.click(css)).await;
    }

    /// Adds a row to a list of the page by its button, or the first one by submitting.
    pub(crate) async fn adds(&self, label: &str) {
        let script = format!(
            "[...document.querySelectorAll('button')].find((b) => b.textContent.trim() === '{label}').click()"
        );
        self.kept(async { drop(self.browser.run(&script).await) }).await;
    }

    /// The first number of what an element says.
    pub(crate) async fn reads(&self, css: &str) -> f64 {
        first_number(&self.browser.text(css).await, css)
    }

    /// What an element says, whether or not it is on the screen.
    pub(crate) async fn said(&self, css: &str) -> String {
        self.browser.find(css).await;
        let script = format!("return document.querySelector(`{css}`).textContent");
        self.browser.run(&script).await.as_str().unwrap_or_default().replace('\u{202f}', " ")
    }

    /// A figure of the strip, folded or not.
    pub(crate) async fn figure(&self, name: &str) -> f64 {
        let css = format!("#f-{name}");
        first_number(&self.said(&css).await, &css)
    }

    /// Takes the times that are proposed, though some tries would miss them.
    pub(crate) async fn takes_the_plan(&self) {
        let browser = &self.browser;
        self.at("pours").await;
        browser.find("button[formaction$=settle]").await;
        let settle = "document.querySelector('button[formaction$=settle]').click()";
        browser.run(settle).await;
        let asked = "button[name=sure], .standing";
        loop {
            browser.find(asked).await;
            if browser.client.find(Locator::Css("button[name=sure]")).await.is_ok() {
                browser.run("document.querySelector('button[name=sure]')?.click()").await;
                break;
            }
            if self.said(".standing").await.contains("Taken") {
                break;
            }
        }
        browser.wait_for_text("#workspace", "Give this plan up").await;
        // A reload loses nothing.
        browser.client.refresh().await.expect("the page opens again");
        browser.wait_for_text("#workspace", "Give this plan up").await;
    }
}

fn first_number(text: &str, place: &str) -> f64 {
    let digits: String = text
        .chars()
        .skip_while(|c| !c.is_ascii_digit())
        .take_while(|c| c.is_ascii_digit() || *c == '.')
        .collect();
    digits.trim_end_matches('.').parse().unwrap_or_else(|_| panic!("no number at {place}: {text}"))
}

/// A figure as it is shown against one worked out by hand, within a share of it.
#[track_caller]
pub(crate) fn agrees(what: &str, shown: f64, by_hand: f64, share: f64) {
    assert!((shown / by_hand - 1.0).abs() <= share, "{what}: {shown} shown, {by_hand} by hand");
}

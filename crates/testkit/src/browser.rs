//! A browser's window, as tests use it.

mod acting;
mod looking;

use std::pin::Pin;

use base64::Engine;
use fantoccini::Client;
use fantoccini::wd::WebDriverCompatibleCommand;
use serde_json::{Value, json};

use crate::chromium::Chromium;

/// A browser window on the application.
#[derive(Debug, Clone)]
pub struct Browser {
    /// The WebDriver client, for what is not wrapped here.
    pub client: Client,
    base: String,
}

/// A command that fantoccini does not know.
#[derive(Debug)]
struct Raw {
    path: &'static str,
    body: Value,
}

impl WebDriverCompatibleCommand for Raw {
    fn endpoint(
        &self,
        base: &url::Url,
        session: Option<&str>,
    ) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/{}", session.unwrap_or_default(), self.path))
    }
    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(self.body.to_string()))
    }
}

/// What a test does with a browser. One type for every test: what runs it is compiled once.
pub(crate) type Work = Box<dyn FnOnce(Browser) -> Pin<Box<dyn Future<Output = ()> + Send>> + Send>;

/// As a [`Work`].
pub(crate) fn boxed<F>(work: impl FnOnce(Browser) -> F + Send + 'static) -> Work
where
    F: Future<Output = ()> + Send + 'static,
{
    Box::new(|browser| Box::pin(work(browser)))
}

/// Runs `work` with a browser on the pages at `base`: a window of its own, which is closed at the end.
///
/// # Panics
/// Where ChromeDriver or Chromium cannot be started, or where `work` panicked.
pub async fn with_browser<F>(base: String, work: impl FnOnce(Browser) -> F + Send + 'static)
where
    F: Future<Output = ()> + Send + 'static,
{
    run(base, boxed(work)).await;
}

/// As [`with_browser`].
pub(crate) async fn run(base: String, work: Work) {
    let chromium = Chromium::take().await;
    let browser = Browser { client: chromium.client.clone(), base };
    browser.size(1280, 800).await;
    // What the test before it logged.
    browser.log().await;
    // In a task of its own, so that a failed assertion still gives the browser back or ends it.
    match tokio::spawn(work(browser)).await {
        Ok(()) => chromium.give_back().await,
        Err(error) => {
            chromium.end().await;
            std::panic::resume_unwind(error.into_panic());
        }
    }
}

impl Browser {
    /// Opens a page of the application.
    ///
    /// # Panics
    /// Where it does not open; so do all methods here where the browser refuses.
    pub async fn open(&self, path: &str) {
        self.client.goto(&format!("{}{path}", self.base)).await.expect("the page opens");
    }

    /// Sets the size of the page in CSS pixels.
    pub async fn size(&self, width: u32, height: u32) {
        let parameters =
            json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false });
        self.raw(
            "goog/cdp/execute",
            json!({ "cmd": "Emulation.setDeviceMetricsOverride", "params": parameters }),
        )
        .await;
    }

    /// Cuts the page's connection, or mends it.
    pub async fn cut_network(&self, is_cut: bool) {
        let parameters = json!({
            "offline": is_cut, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1,
        });
        let cut = json!({ "cmd": "Network.emulateNetworkConditions", "params": parameters });
        self.raw("goog/cdp/execute", json!({ "cmd": "Network.enable", "params": {} })).await;
        self.raw("goog/cdp/execute", cut).await;
    }

    async fn raw(&self, path: &'static str, body: Value) -> Value {
        self.client.issue_cmd(Raw { path, body }).await.expect("the command is known")
    }

    /// What the browser has logged since the last call: faults of scripts,
    /// breaches of the policy, failed requests.
    pub async fn log(&self) -> Vec<String> {
        let entries = self.raw("se/log", json!({ "type": "browser" })).await;
        let text = |entry: &Value| entry["message"].as_str().unwrap_or_default().to_owned();
        entries.as_array().map(|all| all.iter().map(text).collect()).unwrap_or_default()
    }

    /// The browser has nothing to complain of but that entries were refused,
    /// which it notes of every answer of that kind.
    pub async fn assert_quiet(&self) {
        let mut log = self.log().await;
        log.retain(|line| !line.contains("status of 422"));
        assert!(log.is_empty(), "the browser says: {log:#?}");
    }

    /// Runs a script and returns its value.
    pub async fn run(&self, script: &str) -> Value {
        self.client.execute(script, vec![]).await.expect("the script runs")
    }

    /// What is wrong with the page for those who do not see it or have no mouse: serious faults by
    /// rule, with the places. `rules` are those that are looked at; empty for all.
    pub async fn faults_of_access(&self, rules: &[&str]) -> Vec<String> {
        if self.run("return !window.axe").await == Value::Bool(true) {
            self.run(include_str!("../assets/axe.min.js")).await;
        }
        let options = match rules {
            [] => json!({ "resultTypes": ["violations"] }),
            rules => json!({ "resultTypes": ["violations"], "runOnly": rules }),
        };
        let script = "const [options, done] = arguments;
            axe.run(document, options).then((found) => done(found.violations
              .filter((rule) => rule.impact === 'serious' || rule.impact === 'critical')
              .map((rule) => rule.id + ': ' + rule.nodes.map((n) => n.target.join(' ')
                + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? '')).join(' | '))));";
        let found = self.client.execute_async(script, vec![options]).await.expect("axe runs");
        serde_json::from_value(found).expect("sentences")
    }

    /// The page as it is printed, at the size that its stylesheet asks for.
    pub async fn print(&self) -> Vec<u8> {
        let parameters = json!({ "preferCSSPageSize": true, "printBackground": true });
        let command = json!({ "cmd": "Page.printToPDF", "params": parameters });
        let printed = self.raw("goog/cdp/execute", command).await;
        let data = printed["data"].as_str().expect("a document");
        base64::engine::general_purpose::STANDARD.decode(data).expect("base64")
    }

    /// A picture of the page as PNG.
    pub async fn picture(&self) -> Vec<u8> {
        self.client.screenshot().await.expect("a picture")
    }
}

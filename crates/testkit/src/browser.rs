//! A browser's window, as tests use it.

use std::time::Duration;

use base64::Engine;
use fantoccini::actions::{InputSource, KeyAction, KeyActions};
use fantoccini::elements::Element;
use fantoccini::error::{CmdError, ErrorStatus};
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, Locator};
use serde_json::{Value, json};

use crate::chromium::Chromium;

/// How long a test waits for something to appear. Tests run on busy machines,
/// and only what never comes costs this much.
const PATIENCE: Duration = Duration::from_secs(180);
/// Interval at which a page is looked at while a test waits: looking costs the page time.
const LOOK: Duration = Duration::from_millis(100);

/// How often a mouse follows what a page moves.
const MOST_MOVES: usize = 50;

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

/// Runs `work` with a browser on the pages at `base`: a window of its own, which is closed at the end.
///
/// # Panics
/// Where ChromeDriver or Chromium cannot be started, or where `work` panicked.
pub async fn with_browser<F>(base: String, work: impl FnOnce(Browser) -> F + Send + 'static)
where
    F: Future<Output = ()> + Send + 'static,
{
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

/// Whether an element is not there any more, or not to be seen.
fn is_replaced(error: &CmdError) -> bool {
    let CmdError::Standard(standard) = error else { return false };
    matches!(
        standard.error,
        ErrorStatus::StaleElementReference | ErrorStatus::ElementNotInteractable
    )
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

    /// Waits for an element.
    pub async fn find(&self, css: &str) -> Element {
        let found = self.client.wait().at_most(PATIENCE).for_element(Locator::Css(css)).await;
        match found {
            Ok(element) => element,
            Err(error) => panic!("{css}: {error}; shown is {}", self.shown().await),
        }
    }

    /// Address and text of what is shown, for the message of a failed test.
    async fn shown(&self) -> String {
        const MOST: usize = 600;
        let said = self.run("return location.href + ': ' + document.body.innerText").await;
        said.as_str().unwrap_or_default().chars().take(MOST).collect()
    }

    /// The text of an element.
    pub async fn text(&self, css: &str) -> String {
        self.find(css).await.text().await.expect("text")
    }

    /// Waits until the text of an element contains `expected`.
    pub async fn wait_for_text(&self, css: &str, expected: &str) {
        let mut last = String::new();
        let deadline = tokio::time::Instant::now() + PATIENCE;
        let mut looks = tokio::time::interval(LOOK);
        while tokio::time::Instant::now() < deadline {
            looks.tick().await;
            // The element may be replaced between finding and reading it.
            if let Ok(element) = self.client.find(Locator::Css(css)).await
                && let Ok(text) = element.text().await
            {
                if text.contains(expected) {
                    return;
                }
                last = text;
            }
        }
        panic!("{css} never said “{expected}”; it says “{last}”");
    }

    /// Waits until no element matches.
    pub async fn wait_for_gone(&self, css: &str) {
        let deadline = tokio::time::Instant::now() + PATIENCE;
        let mut looks = tokio::time::interval(LOOK);
        while self.client.find(Locator::Css(css)).await.is_ok() {
            assert!(tokio::time::Instant::now() < deadline, "{css} is still there");
            looks.tick().await;
        }
    }

    /// Types into whatever has the focus when a key comes down: an element that is exchanged
    /// meanwhile is no matter. A modifier is held until it is typed again.
    pub async fn type_here(&self, text: &str) {
        const MODIFIERS: [char; 3] = ['\u{E008}', '\u{E009}', '\u{E00A}'];
        let mut keys = KeyActions::new("keyboard".into());
        let mut held: Vec<char> = Vec::new();
        for value in text.chars() {
            if let Some(place) = held.iter().position(|key| *key == value) {
                keys = keys.then(KeyAction::Up { value: held.remove(place) });
            } else if MODIFIERS.contains(&value) {
                held.push(value);
                keys = keys.then(KeyAction::Down { value });
            } else {
                keys = keys.then(KeyAction::Down { value }).then(KeyAction::Up { value });
            }
        }
        for value in held {
            keys = keys.then(KeyAction::Up { value });
        }
        self.client.perform_actions(keys).await.expect("the keys are taken");
    }

    /// Replaces the text of a field and leaves it, which sends the form.
    pub async fn enter(&self, css: &str, text: &str) {
        // Clearing a field would send the empty form; typing over it does not.
        const CONTROL: char = '\u{E009}';
        const RELEASE: char = '\u{E000}';
        let typed = format!("{CONTROL}a{RELEASE}{text}");
        self.touch(css, Some(&typed)).await;
        self.client
            .execute("document.activeElement.blur()", vec![])
            .await
            .expect("the field is left");
    }

    /// Clicks.
    pub async fn click(&self, css: &str) {
        self.touch(css, None).await;
    }

    /// Clicks an element, or types into it. One that the page replaces between the look and the act is
    /// looked for again, as a hand would.
    async fn touch(&self, css: &str, typed: Option<&str>) {
        let given_up = tokio::time::Instant::now() + PATIENCE;
        let mut looks = tokio::time::interval(LOOK);
        loop {
            looks.tick().await;
            let element = self.find(css).await;
            let done = match typed {
                Some(text) => element.send_keys(text).await,
                None => element.click().await,
            };
            match done {
                Ok(()) => return,
                Err(error) if is_replaced(&error) && tokio::time::Instant::now() < given_up => {}
                Err(error) => panic!("{css}: {error}; shown is {}", self.shown().await),
            }
        }
    }

    /// The text of a field.
    pub async fn value(&self, css: &str) -> String {
        self.find(css).await.prop("value").await.expect("a property").unwrap_or_default()
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

    /// Presses a key on the page.
    pub async fn press(&self, key: &str) {
        self.find("body").await.send_keys(key).await.expect("the key is taken");
    }

    /// Presses the mouse on the middle of an element, moves it in steps by `by`
    /// pixels, and lets go.
    pub async fn drag(&self, css: &str, by: (f64, f64)) {
        let at = self.lift(css, by).await;
        self.let_go(at).await;
    }

    /// The middle of an element in the window, px.
    pub async fn middle_of(&self, css: &str) -> (f64, f64) {
        let script = format!(
            "const r = document.querySelector(`{css}`).getBoundingClientRect(); \
             return [r.x + r.width / 2, r.y + r.height / 2]"
        );
        let at = self.run(&script).await;
        (at[0].as_f64().expect("a place"), at[1].as_f64().expect("a place"))
    }

    /// Moves the mouse to the middle of an element, which is scrolled to, and after it where the page
    /// moved it meanwhile; the answer is where that is.
    pub async fn point_at(&self, css: &str) -> (f64, f64) {
        let scroll = "scrollIntoView({ block: 'center', behavior: 'instant' })";
        self.run(&format!("document.querySelector(`{css}`).{scroll}")).await;
        let mut at = self.middle_of(css).await;
        for _ in 0..MOST_MOVES {
            self.mouse("mouseMoved", at.0, at.1, (0, 0)).await;
            let now = self.middle_of(css).await;
            if (now.0 - at.0).abs() < 1.0 && (now.1 - at.1).abs() < 1.0 {
                return at;
            }
            at = now;
        }
        panic!("{css} does not stand still");
    }

    /// Presses the mouse on the middle of an element and moves it in steps by `by` pixels; the
    /// answer is where it is held.
    pub async fn lift(&self, css: &str, by: (f64, f64)) -> (f64, f64) {
        let (x, y) = self.point_at(css).await;
        self.mouse("mousePressed", x, y, (1, 1)).await;
        for step in 1..=8 {
            let share = f64::from(step) / 8.0;
            self.mouse("mouseMoved", x + by.0 * share, y + by.1 * share, (1, 1)).await;
        }
        (x + by.0, y + by.1)
    }

    /// Lets the mouse go where it is held.
    pub async fn let_go(&self, (x, y): (f64, f64)) {
        self.mouse("mouseReleased", x, y, (0, 1)).await;
    }

    /// The second half of a double click, where the first was let go.
    pub async fn click_again(&self, (x, y): (f64, f64)) {
        self.mouse("mousePressed", x, y, (1, 2)).await;
        self.mouse("mouseReleased", x, y, (0, 2)).await;
    }

    async fn mouse(&self, kind: &str, x: f64, y: f64, (buttons, clicks): (u32, u32)) {
        let parameters = json!({
            "type": kind, "x": x, "y": y, "button": "left", "buttons": buttons, "clickCount": clicks
        });
        let command = json!({ "cmd": "Input.dispatchMouseEvent", "params": parameters });
        self.raw("goog/cdp/execute", command).await;
    }

    /// The page as it is printed, at the size that its stylesheet asks for.
    pub async fn print(&self) -> Vec<u8> {
        let parameters = json!({ "preferCSSPageSize": true, "printBackground": true });
        let command = json!({ "cmd": "Page.printToPDF", "params": parameters });
        let printed = self.raw("goog/cdp/execute", command).await;
        let data = printed["data"].as_str().expect("a document");
        base64::engine::general_purpose::STANDARD.decode(data).expect("base64")
    }

    /// Chooses a file in a file field.
    pub async fn choose_file(&self, css: &str, path: &std::path::Path) {
        let path = path.to_str().expect("a path in UTF-8");
        self.find(css).await.send_keys(path).await.expect("the file is taken");
    }

    /// A picture of the page as PNG.
    pub async fn picture(&self) -> Vec<u8> {
        self.client.screenshot().await.expect("a picture")
    }
}

//! Headless Chromium through ChromeDriver: one driver for all tests of a program, and as many browsers
//! as run at once. A browser that was used is used again with a new window.

use std::io::{BufRead, BufReader};
use std::process::{ChildStdin, Command, Stdio};
use std::sync::{Mutex, PoisonError};

use fantoccini::wd::Capabilities;
use fantoccini::{Client, ClientBuilder};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::json;
use tokio::sync::OnceCell;

/// The driver of this process.
static DRIVER: OnceCell<Driver> = OnceCell::const_new();
/// Sessions of browsers that nobody uses.
static IDLE: Mutex<Vec<String>> = Mutex::new(Vec::new());

struct Driver {
    address: String,
    /// The driver ends when this closes, which it does with this process, however it ends.
    _alive: ChildStdin,
}

/// A browser that one test uses.
pub(crate) struct Chromium {
    pub(crate) client: Client,
}

impl Chromium {
    /// One that nobody uses, or a new one.
    pub(crate) async fn take() -> Self {
        let driver = DRIVER.get_or_init(start_driver).await;
        let idle = IDLE.lock().unwrap_or_else(PoisonError::into_inner).pop();
        let client = match idle {
            Some(session) => {
                Client::with_existing_session(&driver.address, &session, HttpConnector::new())
                    .await
                    .expect("the session goes on")
            }
            None => begin_session(&driver.address).await,
        };
        // It outlives the runtime of the test that began it.
        client.persist().await.expect("it stays");
        Self { client }
    }

    /// For the next test: with one new window, and nothing kept of what was done. Pages are kept
    /// apart by their port too, which is another one for each test.
    pub(crate) async fn give_back(self) {
        let Self { client } = self;
        client.delete_all_cookies().await.expect("cookies are deleted");
        let new = client.new_window(true).await.expect("a window");
        for old in client.windows().await.expect("windows") {
            if old != new.handle {
                client.switch_to_window(old).await.expect("a window");
                client.close_window().await.expect("it closes");
            }
        }
        client.switch_to_window(new.handle).await.expect("a window");
        let session = client.session_id().await.expect("a session").expect("a session");
        IDLE.lock().unwrap_or_else(PoisonError::into_inner).push(session);
    }

    /// Ends it: what a failed test leaves is nothing to go on with.
    pub(crate) async fn end(self) {
        let _ = self.client.close().await;
    }
}

/// Two drivers that start at once may choose the same port, and one of them ends.
async fn start_driver() -> Driver {
    let started = tokio::task::spawn_blocking(|| (0..8).find_map(|_| try_driver()));
    started.await.ok().flatten().expect("chromedriver starts; ./run test installs it")
}

/// ChromeDriver chooses its own port and prints it; `None` where it ends without. A shell waits
/// beside it for the end of this process, and ends it with the browsers that it started.
fn try_driver() -> Option<Driver> {
    const BESIDE: &str = "set -m; chromedriver --port=0 </dev/null & read -r _; kill -- -$!";
    let mut shell = Command::new("bash")
        .args(["-c", BESIDE])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .ok()?;
    let alive = shell.stdin.take()?;
    let mut lines = BufReader::new(shell.stdout.take()?).lines();
    let port = loop {
        let line = lines.next()?.ok()?;
        if let Some((_, port)) = line.split_once("successfully on port ") {
            break port.trim_end_matches('.').to_owned();
        }
    };
    // Its output must be read on, or it stops when the pipe is full.
    std::thread::spawn(move || lines.map_while(Result::ok).for_each(drop));
    Some(Driver { address: format!("http://127.0.0.1:{port}"), _alive: alive })
}

async fn begin_session(driver: &str) -> Client {
    let mut capabilities = Capabilities::new();
    let arguments = vec![
        "--no-sandbox",
        "--disable-dev-shm-usage",
        "--hide-scrollbars",
        "--force-color-profile=srgb",
        "--lang=en-GB",
    ];
    capabilities.insert(
        "goog:chromeOptions".into(),
        json!({ "binary": "/usr/bin/chromium-headless-shell", "args": arguments }),
    );
    capabilities.insert("goog:loggingPrefs".into(), json!({ "browser": "ALL" }));
    ClientBuilder::new(HttpConnector::new())
        .capabilities(capabilities)
        .connect(driver)
        .await
        .expect("chromium starts")
}

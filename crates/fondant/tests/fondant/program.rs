//! The program as a process.

use std::process::{ExitStatus, Stdio};
use std::time::Duration;

use tokio::io::{AsyncBufReadExt, BufReader};
use tokio::process::{Child, Command};
use tokio::sync::mpsc;

/// A server that runs until it is killed, told to end, or dropped.
pub(crate) struct Server {
    child: Child,
    /// Lines of its log. They are read as they come: a server whose log nobody reads stops when the pipe
    /// is full.
    log: mpsc::UnboundedReceiver<String>,
    /// Its address, without a slash at the end.
    pub(crate) base: String,
}

impl Server {
    /// Starts it on a database, with further arguments, and waits until it listens.
    pub(crate) async fn start(database: &str, arguments: &[&str]) -> Self {
        Self::begin(database, arguments).listening().await
    }

    /// Starts it without waiting.
    pub(crate) fn begin(database: &str, arguments: &[&str]) -> Self {
        let port: &[&str] = if arguments.contains(&"--port") { &[] } else { &["--port", "0"] };
        let mut child = Command::new(env!("CARGO_BIN_EXE_fondant"))
            .arg("serve")
            .args(port)
            .args(arguments)
            .env("FONDANT_DATABASE_URL", database)
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .kill_on_drop(true)
            .spawn()
            .expect("the program runs");
        let mut lines = BufReader::new(child.stderr.take().expect("a pipe")).lines();
        let (line, log) = mpsc::unbounded_channel();
        tokio::spawn(async move {
            while let Ok(Some(read)) = lines.next_line().await {
                // Read on where no test waits for it.
                let _ = line.send(read);
            }
        });
        Self { child, log, base: String::new() }
    }

    /// Waits until it has said its address.
    pub(crate) async fn listening(mut self) -> Self {
        let out = self.child.stdout.take().expect("a pipe");
        let line = first(out, |line| line.contains("http://")).await;
        let line = line.expect("the program says its address");
        let (_, address) = line.split_once("http://").expect("an address");
        self.base = format!("http://{}", address.split('/').next().unwrap_or_default());
        self
    }

    /// The first line of its log that holds a text.
    pub(crate) async fn logged(&mut self, text: &str) -> Option<String> {
        loop {
            let line = self.log.recv().await?;
            if line.contains(text) {
                return Some(line);
            }
        }
    }

    /// Ends it as a power cut would.
    pub(crate) async fn kill(mut self) {
        self.child.kill().await.expect("it ends");
    }

    /// Asks it to end, and waits for `at_most`.
    pub(crate) async fn terminate(mut self, at_most: Duration) -> Option<ExitStatus> {
        let id = self.child.id().expect("it runs").to_string();
        let told = Command::new("kill").args(["-TERM", &id]).status().await;
        assert!(told.expect("kill runs").success());
        tokio::time::timeout(at_most, self.child.wait()).await.ok()?.ok()
    }
}

async fn first(
    pipe: impl tokio::io::AsyncRead + Unpin,
    wanted: impl Fn(&str) -> bool,
) -> Option<String> {
    let mut lines = BufReader::new(pipe).lines();
    while let Ok(Some(line)) = lines.next_line().await {
        if wanted(&line) {
            return Some(line);
        }
    }
    None
}

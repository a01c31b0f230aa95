//! The program as a process.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, ExitStatus, Stdio};
use std::time::{Duration, Instant};

/// A server that runs until it is killed, told to end, or dropped.
pub(crate) struct Server {
    child: Child,
    /// Its address, without a slash at the end.
    pub(crate) base: String,
}

impl Server {
    /// Starts it on a database, with further arguments, and waits until it listens.
    pub(crate) fn start(database: &str, arguments: &[&str]) -> Self {
        Self::begin(database, arguments).listening()
    }

    /// Starts it without waiting.
    pub(crate) fn begin(database: &str, arguments: &[&str]) -> Self {
        let child = Command::new(env!("CARGO_BIN_EXE_fondant"))
            .args(["serve", "--port", "0", "--database-url", database])
            .args(arguments)
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("the program runs");
        Self::of(child)
    }

    /// A process that was started already.
    pub(crate) fn of(child: Child) -> Self {
        Self { child, base: String::new() }
    }

    pub(crate) fn listening(mut self) -> Self {
        let out = self.child.stdout.take().expect("a pipe");
        let address = BufReader::new(out)
            .lines()
            .map_while(Result::ok)
            .find_map(|line| Some(line.split_once("http://")?.1.split('/').next()?.to_owned()))
            .expect("the program says its address");
        self.base = format!("http://{address}");
        self
    }

    /// Ends it as a power cut would.
    pub(crate) fn kill(mut self) {
        self.child.kill().expect("it runs");
        self.child.wait().expect("it ends");
    }

    /// Asks it to end, and waits at most so long.
    pub(crate) fn terminate(mut self, at_most: Duration) -> Option<ExitStatus> {
        let told = Command::new("kill").args(["-TERM", &self.child.id().to_string()]).status();
        assert!(told.expect("kill runs").success());
        let asked = Instant::now();
        while asked.elapsed() < at_most {
            if let Some(status) = self.child.try_wait().expect("a process") {
                return Some(status);
            }
            std::thread::sleep(Duration::from_millis(10));
        }
        None
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

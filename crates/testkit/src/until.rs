//! Waiting for what other tasks and processes do.

use std::time::Duration;

use crate::TestDb;

/// Longest wait for something that must happen: a busy machine is no fault.
const PATIENCE: Duration = Duration::from_secs(180);

/// Asks until there is an answer: at once, and again whenever a process on the database tells that
/// something has happened there.
///
/// # Panics
/// Where there is none within the patience of a test.
pub async fn eventually<T>(db: &TestDb, what: &str, ask: impl AsyncFn() -> Option<T>) -> T {
    let mut told = db.store.listen().await.expect("the database tells");
    let answer = async {
        loop {
            if let Some(answer) = ask().await {
                return answer;
            }
            told.next().await.expect("the database tells");
        }
    };
    let answer = tokio::time::timeout(PATIENCE, answer).await;
    answer.unwrap_or_else(|_| panic!("never: {what}"))
}

//! Lanes of work: their time, their places, their queue.

use std::sync::Arc;
use std::sync::mpsc;
use std::time::Duration;

use fondant_app::{AppError, Lane};
use fondant_numerics::Stop;

/// Longer than any test.
const ENDLESS: Duration = Duration::from_secs(600);

/// Work that goes on until it is stopped, and says that it has begun and that it has ended.
fn endless(tell: mpsc::Sender<&'static str>) -> impl FnOnce(&Stop) + Send + 'static {
    move |stop: &Stop| {
        tell.send("begun").expect("the test waits");
        while !stop.is_requested() {
            std::thread::yield_now();
        }
        tell.send("ended").expect("the test waits");
    }
}

/// Waits for what is told, beside the work.
async fn told<T: Send + 'static>(by: mpsc::Receiver<T>) -> (T, mpsc::Receiver<T>) {
    let waiting = tokio::task::spawn_blocking(move || (by.recv(), by));
    let (said, by) = waiting.await.expect("no panic");
    (said.expect("it is told"), by)
}

#[tokio::test]
async fn a_time_limit_ends_the_thread_and_frees_its_place_only_then() {
    // Short for what never ends, long for what is asked afterwards on a busy machine.
    let lane = Lane::new(1, Duration::from_millis(500));
    let (tell, hear) = mpsc::channel();
    let refused = lane.run(endless(tell)).await;
    assert!(matches!(refused, Err(AppError::TooLong)), "{refused:?}");
    let (_, hear) = told(hear).await;
    assert_eq!(told(hear).await.0, "ended");
    assert_eq!(lane.run(|_| 7).await.unwrap(), 7, "its place is free again");
}

#[tokio::test]
async fn what_nobody_waits_for_any_more_is_stopped() {
    let lane = Arc::new(Lane::new(1, ENDLESS));
    let (tell, hear) = mpsc::channel();
    let asked = tokio::spawn({
        let lane = Arc::clone(&lane);
        async move { lane.run(endless(tell)).await }
    });
    let (said, hear) = told(hear).await;
    assert_eq!(said, "begun");
    asked.abort();
    assert_eq!(told(hear).await.0, "ended");
}

#[tokio::test]
async fn a_full_queue_refuses_at_once_and_a_panic_is_a_fault() {
    let lane = Arc::new(Lane::new(1, ENDLESS));
    let (begin, has_begun) = mpsc::channel();
    let (go_on, may_end) = mpsc::channel::<()>();
    let begun = |work: Box<dyn FnOnce() + Send>| {
        let lane = Arc::clone(&lane);
        tokio::spawn(async move { lane.run(|_| work()).await })
    };
    let first = begun(Box::new(move || {
        begin.send(()).expect("the test waits");
        may_end.recv().expect("the test goes on");
    }));
    told(has_begun).await;
    let waiting: Vec<_> = (0..Lane::MOST_WAITING).map(|_| begun(Box::new(|| ()))).collect();
    // On one thread each of them comes to its turn before this does again.
    tokio::task::yield_now().await;
    assert!(matches!(lane.run(|_| ()).await, Err(AppError::Busy)));
    go_on.send(()).expect("it waits");
    for one in waiting.into_iter().chain([first]) {
        assert!(one.await.unwrap().is_ok());
    }
    let broken: Result<(), AppError> = lane.run(|_| panic!("a fault made on purpose")).await;
    assert!(matches!(broken, Err(AppError::Fault(_))));
    assert_eq!(lane.run(|_| 7).await.unwrap(), 7, "the lane goes on");
}

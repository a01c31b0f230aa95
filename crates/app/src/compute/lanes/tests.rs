use std::sync::mpsc;

use super::*;

/// Work that goes on until it is stopped, and then says so.
fn endless(ended: mpsc::Sender<()>) -> impl FnOnce(&Stop) + Send + 'static {
    move |stop: &Stop| {
        while !stop.is_requested() {
            std::thread::yield_now();
        }
        ended.send(()).expect("the test waits");
    }
}

#[tokio::test]
async fn a_time_limit_ends_the_thread_and_frees_its_place_only_then() {
    let lane = Lane::new(1, Duration::from_millis(50));
    let (ended, has_ended) = mpsc::channel();
    let refused = lane.run(endless(ended)).await;
    assert!(matches!(refused, Err(AppError::TooLong)), "{refused:?}");
    tokio::task::spawn_blocking(move || has_ended.recv()).await.unwrap().expect("it was stopped");
    assert_eq!(lane.run(|_| 7).await.unwrap(), 7, "its place is free again");
}

#[tokio::test]
async fn what_nobody_waits_for_any_more_is_stopped() {
    let lane = Arc::new(Lane::new(1, Duration::from_secs(600)));
    let (ended, has_ended) = mpsc::channel();
    let asked = tokio::spawn({
        let lane = Arc::clone(&lane);
        async move { lane.run(endless(ended)).await }
    });
    while lane.permits.available_permits() > 0 {
        tokio::task::yield_now().await;
    }
    asked.abort();
    tokio::task::spawn_blocking(move || has_ended.recv()).await.unwrap().expect("it was stopped");
}

#[tokio::test]
async fn a_full_queue_refuses_at_once_and_a_panic_is_a_fault() {
    let lane = Arc::new(Lane::new(1, Duration::from_secs(600)));
    let held = Arc::clone(&lane.permits).acquire_owned().await.unwrap();
    let waiting: Vec<_> = (0..MOST_WAITING)
        .map(|_| {
            let lane = Arc::clone(&lane);
            tokio::spawn(async move { lane.run(|_| ()).await })
        })
        .collect();
    while lane.waiting.load(Ordering::Relaxed) < MOST_WAITING {
        tokio::task::yield_now().await;
    }
    assert!(matches!(lane.run(|_| ()).await, Err(AppError::Busy)));
    drop(held);
    for one in waiting {
        assert!(one.await.unwrap().is_ok());
    }
    let broken: Result<(), AppError> = lane.run(|_| panic!("a fault made on purpose")).await;
    assert!(matches!(broken, Err(AppError::Fault(_))));
    assert_eq!(lane.run(|_| 7).await.unwrap(), 7, "the lane goes on");
}

//! What is done in one process is heard in all.

use fondant_app::{Background, Event, Works};
use fondant_quantities::Length;

use crate::{PATIENCE, app, edit};

#[tokio::test]
async fn an_edit_in_one_process_is_heard_in_another() {
    let app = app().await;
    let cast = app.cast("Heard").await;
    let other = app.another().await;
    let mut heard = other.subscribe();
    let _background = Background::start(&other, Works::Elsewhere);
    // It says first that it listens now.
    let first = tokio::time::timeout(PATIENCE, heard.next()).await.unwrap();
    assert_eq!(first, Some(Event::Missed));
    edit(&app, cast, 1, |document| document.form.overfill = Length::from_mm(4.0)).await.unwrap();
    let event = async {
        loop {
            match heard.next().await.expect("the process goes on") {
                Event::Missed => {}
                other => return other,
            }
        }
    };
    let event = tokio::time::timeout(PATIENCE, event).await.unwrap();
    assert_eq!(event, Event::CastChanged { workshop: app.workshop, cast, revision: 2 });
    let seen = fondant_app::casts::open(&other, cast).await.unwrap();
    assert!((seen.record.document.form.overfill.mm() - 4.0).abs() < 1e-9);
}

/// What is refused tells nobody anything.
#[tokio::test]
async fn a_refused_edit_tells_nothing() {
    let app = app().await;
    let cast = app.cast("Quiet").await;
    let mut heard = app.app.subscribe();
    let _background = Background::start(&app.app, Works::Elsewhere);
    tokio::time::timeout(PATIENCE, heard.next()).await.unwrap();
    let refused = edit(&app, cast, 9, |document| document.form.overfill = Length::from_mm(4.0));
    assert!(refused.await.is_err());
    edit(&app, cast, 1, |document| document.form.overfill = Length::from_mm(5.0)).await.unwrap();
    let next = tokio::time::timeout(PATIENCE, heard.next()).await.unwrap();
    assert_eq!(next, Some(Event::CastChanged { workshop: app.workshop, cast, revision: 2 }));
}

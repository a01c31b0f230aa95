//! Readings of instruments on a real database.

use fondant_app::devices::{Added, Change, Taken, add, all, change, take};
use fondant_app::{Background, Event, Works};
use fondant_bench::reading::{Doubt, Place, Quantity};
use fondant_testkit::{TestApp, documents};
use jiff::{SignedDuration, Timestamp};

use crate::{PATIENCE, app};

/// Some readings of a probe, a second apart, from a number on.
fn lines(from: i64, celsius: &[f64]) -> String {
    let line = |(place, value): (i64, &f64)| {
        let at = second(from + place);
        format!(
            "{{\"device\":\"Probe\",\"seq\":{},\"at\":\"{at}\",\"quantity\":\"temperature\",\"value\":{value},\"unit\":\"C\"}}\n",
            from + place
        )
    };
    (0..).zip(celsius).map(line).collect()
}

fn second(number: i64) -> Timestamp {
    documents::now() - SignedDuration::from_hours(2) + SignedDuration::from_secs(number)
}

async fn probe(app: &TestApp) -> Added {
    add(&app.app, &app.shop().await, "Probe".into(), Place::Bucket).await.unwrap()
}

async fn send(app: &TestApp, token: &str, lines: &str) -> Taken {
    take(&app.app, token, lines).await.unwrap().expect("the token is known")
}

#[tokio::test]
async fn what_is_sent_twice_is_kept_once_even_at_once() {
    let app = app().await;
    let added = probe(&app).await;
    let sent = lines(1, &[24.0, 24.1, 24.3]);
    let all_at_once: Vec<_> = (0..4)
        .map(|_| {
            let (app, token, sent) = (app.app.clone(), added.token.clone(), sent.clone());
            tokio::spawn(async move { take(&app, &token, &sent).await.unwrap().unwrap() })
        })
        .collect();
    let (mut taken, mut known) = (0, 0);
    for one in all_at_once {
        let one = one.await.unwrap();
        (taken, known) = (taken + one.taken, known + one.known);
    }
    assert_eq!((taken, known), (3, 9));
    let more = send(&app, &added.token, &lines(3, &[24.3, 24.6])).await;
    assert_eq!((more.taken, more.known), (1, 1), "one number was there");
    let kept = app.app.readings_of(&app.shop().await, added.device).await.unwrap();
    let seqs: Vec<i64> = kept.iter().map(|(seq, _)| *seq).collect();
    assert_eq!(seqs, [1, 2, 3, 4]);
    assert!((kept[3].1.value - 297.75).abs() < 1e-9, "kept in kelvins: {:?}", kept[3]);
}

#[tokio::test]
async fn a_line_that_is_no_reading_is_told_and_the_others_are_taken() {
    let app = app().await;
    let added = probe(&app).await;
    let mut sent = lines(1, &[24.0]);
    sent.push_str("not json\n\n");
    sent.push_str(&lines(2, &[24.1]).replace("Probe", "Other"));
    sent.push_str(&lines(3, &[24.1]).replace("\"C\"", "\"furlong\""));
    sent.push_str(&lines(4, &[24.1]).replace("temperature", "mass").replace("\"C\"", "\"g\""));
    sent.push_str(&"x".repeat(600));
    sent.push('\n');
    sent.push_str(&lines(5, &[24.2]));
    let taken = send(&app, &added.token, &sent).await;
    assert_eq!((taken.taken, taken.refused_count), (2, 5), "{taken:?}");
    let why: Vec<(usize, String)> =
        taken.refused.iter().map(|one| (one.line, one.why.to_string())).collect();
    assert_eq!(why.iter().map(|(line, _)| *line).collect::<Vec<_>>(), [2, 4, 5, 6, 7]);
    assert!(why[1].1.contains("Other") && why[3].1.contains("Mass"), "{why:?}");
}

#[tokio::test]
async fn every_kind_of_misbehaviour_shows_as_what_it_is() {
    let app = app().await;
    let added = probe(&app).await;
    let sent = lines(1, &[24.0, 24.1, 90.0, 24.2, 900.0]);
    let taken = send(&app, &added.token, &sent).await;
    assert_eq!((taken.taken, taken.doubted), (5, 2));
    let kept = app.app.readings_of(&app.shop().await, added.device).await.unwrap();
    let doubts: Vec<Option<Doubt>> = kept.iter().map(|(_, judged)| judged.doubt).collect();
    assert_eq!(doubts, [None, None, Some(Doubt::Jumped), None, Some(Doubt::OutOfRange)]);
    let ahead = lines(6, &[24.2]).replace(&second(6).to_string(), "2029-01-01T00:00:00Z");
    assert_eq!(send(&app, &added.token, &ahead).await.doubted, 1);
    // Once its clock is set it is judged by what it read, not by what lies in the future.
    let set = send(&app, &added.token, &lines(7, &[24.3, 80.0])).await;
    assert_eq!((set.taken, set.doubted), (2, 1));
    let last = all(&app.app, &app.shop().await).await.unwrap()[0].last[0].1;
    assert_eq!((last.at, last.doubt), (second(8), Some(Doubt::Jumped)));
    let unset = lines(9, &[24.2]).replace(&second(9).to_string(), "-004800-01-01T00:00:00Z");
    let unset = send(&app, &added.token, &unset).await;
    assert_eq!((unset.taken, unset.refused_count), (0, 1), "{unset:?}");
}

#[tokio::test]
async fn a_revoked_token_is_taken_no_more_and_an_offset_counts_from_then_on() {
    let app = app().await;
    let added = probe(&app).await;
    let shop = app.shop().await;
    send(&app, &added.token, &lines(1, &[24.0])).await;
    change(&app.app, &shop, added.device, Change::Offset(-0.5)).await.unwrap();
    send(&app, &added.token, &lines(2, &[24.0])).await;
    let last = all(&app.app, &shop).await.unwrap()[0].last[0];
    assert_eq!(last.0, Quantity::Temperature);
    assert!((last.1.value - 296.65).abs() < 1e-9, "{last:?}");
    change(&app.app, &shop, added.device, Change::Revoke).await.unwrap();
    assert!(take(&app.app, &added.token, &lines(3, &[24.0])).await.unwrap().is_none());
    assert!(take(&app.app, "fondant_guess", "").await.unwrap().is_none());
    assert!(take(&app.app, "", &lines(3, &[24.0])).await.unwrap().is_none());
}

/// Readings never touch a workshop's revision, and the last of each request is told.
#[tokio::test]
async fn readings_are_told_and_change_nothing_else() {
    let app = app().await;
    let added = probe(&app).await;
    let before = app.shop().await.workshop;
    let mut heard = app.app.subscribe();
    let _background = Background::start(&app.app, Works::Elsewhere);
    // It says first that it listens now.
    tokio::time::timeout(PATIENCE, heard.next()).await.unwrap();
    send(&app, &added.token, &lines(1, &[24.0, 24.4])).await;
    let told = tokio::time::timeout(PATIENCE, heard.next()).await.unwrap();
    let Some(Event::Read { place, value, doubt, .. }) = told else { panic!("{told:?}") };
    let told = (place, value, doubt);
    assert_eq!((told.0, told.2), (Place::Bucket, None));
    assert!((told.1 - 297.55).abs() < 1e-9);
    let after = app.shop().await.workshop;
    assert_eq!((before.revision, before.air_revision), (after.revision, after.air_revision));
}

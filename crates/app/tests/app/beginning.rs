//! The first workshop of an installation.

use fondant_app::beginning::{NewWorkshop, begin, has_begun, migrate};
use fondant_app::{App, Clock};
use fondant_materials::resin::shelf::OwnResin;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_testkit::{TestDb, documents};

/// "Workshop created before the demo is loaded: a crash leaves half a demo."
#[tokio::test]
async fn a_beginning_that_fails_leaves_nothing() {
    let db = TestDb::migrated().await;
    let app = App::new(db.store.clone(), Clock::system());
    let own = OwnResin { resin: shipped::generic(ResinClass::Coating), is_put_away: false };
    let mut new = NewWorkshop::empty(documents::workshop(8, 18));
    // The second cannot be put where the first stands.
    new.resins = vec![own.clone(), own];
    assert!(begin(&app, &new).await.is_err());
    assert!(!has_begun(&app).await.unwrap());
    new.resins.pop();
    assert!(begin(&app, &new).await.unwrap().is_some());
}

#[tokio::test]
async fn of_eight_processes_that_begin_at_once_one_makes_the_workshop() {
    let db = TestDb::migrated().await;
    let begun = (0..8).map(|_| {
        let app = App::new(db.store.clone(), Clock::system());
        let new = NewWorkshop::empty(documents::workshop(8, 18));
        tokio::spawn(async move { begin(&app, &new).await.unwrap().is_some() })
    });
    let mut made = 0;
    for begun in begun.collect::<Vec<_>>() {
        made += usize::from(begun.await.unwrap());
    }
    assert_eq!(made, 1);
}

/// Two servers that started at once on an empty database made the same tables, and one ended.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn of_eight_processes_that_migrate_at_once_all_go_on() {
    let db = TestDb::empty().await;
    let migrating = (0..8).map(|_| {
        let address = db.address.clone();
        tokio::spawn(async move {
            let store = fondant_store::Store::connect(&address).await.unwrap();
            migrate(&App::new(store, Clock::system())).await
        })
    });
    for migrated in migrating.collect::<Vec<_>>() {
        migrated.await.unwrap().unwrap();
    }
}

//! A database of its own for each test.

use std::sync::atomic::{AtomicU32, Ordering};

use fondant_store::Store;
use sea_orm::{ConnectionTrait, Database};

static COUNT: AtomicU32 = AtomicU32::new(0);

/// A fresh database on the cluster that `./run test` starts. The cluster goes
/// after the run, and the database with it.
#[derive(Debug)]
pub struct TestDb {
    /// A store on it.
    pub store: Store,
    /// Its address, for a second store.
    pub address: String,
}

impl TestDb {
    /// An empty database, not yet migrated.
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn empty() -> Self {
        let cluster = std::env::var("FONDANT_DATABASE_URL")
            .expect("FONDANT_DATABASE_URL is not set: run the tests with ./run test");
        let name = format!("test_{}_{}", std::process::id(), COUNT.fetch_add(1, Ordering::Relaxed));
        let admin = Database::connect(&cluster).await.expect("the test cluster answers");
        admin
            .execute_unprepared(&format!("CREATE DATABASE {name}"))
            .await
            .expect("a database can be made");
        admin.close().await.expect("the connection closes");
        let (server, _) = cluster.rsplit_once('/').expect("an address with a database name");
        let address = format!("{server}/{name}");
        let store = Store::connect(&address).await.expect("the new database answers");
        Self { store, address }
    }

    /// A migrated database.
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn migrated() -> Self {
        let db = Self::empty().await;
        db.store.migrate().await.expect("migrations run");
        db
    }
}

//! A database of its own for each test.

use std::sync::atomic::{AtomicU32, Ordering};

use fondant_app::{App, Clock, beginning};
use fondant_store::Store;
use sea_orm::{ConnectionTrait, Database, DatabaseBackend, DatabaseConnection, Statement};
use tokio::sync::OnceCell;

static COUNT: AtomicU32 = AtomicU32::new(0);
static TEMPLATE: OnceCell<()> = OnceCell::const_new();
/// A migrated database that others are copied from: made once a run, by the first who needs it.
const MIGRATED: &str = "fondant_migrated";
/// Held while it is made. Any number that nobody else uses.
const MAKING: i64 = 7350;

/// A fresh database on the cluster that `./run test` starts. The cluster goes after the run, and
/// the database with it.
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
        Self::copied("template1").await
    }

    /// A migrated database.
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn migrated() -> Self {
        TEMPLATE.get_or_init(make_template).await;
        Self::copied(MIGRATED).await
    }

    /// Runs SQL on it, past the store.
    ///
    /// # Panics
    /// Where the SQL fails.
    pub async fn run(&self, sql: &str) {
        let raw = Database::connect(&self.address).await.expect("the database answers");
        tell(&raw, sql).await;
        raw.close().await.expect("the connection closes");
    }

    async fn copied(template: &str) -> Self {
        let admin = admin().await;
        let name = format!("test_{}_{}", std::process::id(), COUNT.fetch_add(1, Ordering::Relaxed));
        tell(&admin, &format!("create database {name} template {template}")).await;
        admin.close().await.expect("the connection closes");
        let address = address(&name);
        let store = Store::connect(&address).await.expect("the new database answers");
        Self { store, address }
    }
}

fn cluster() -> String {
    std::env::var("FONDANT_DATABASE_URL")
        .expect("FONDANT_DATABASE_URL is not set: run the tests with ./run test")
}

fn address(name: &str) -> String {
    let cluster = cluster();
    let (server, _) = cluster.rsplit_once('/').expect("an address with a database name");
    format!("{server}/{name}")
}

async fn admin() -> DatabaseConnection {
    let mut options = sea_orm::ConnectOptions::new(cluster());
    // One session, so that what it locks is unlocked by it.
    options.max_connections(1).sqlx_logging(false);
    Database::connect(options).await.expect("the test cluster answers")
}

async fn tell(admin: &DatabaseConnection, sql: &str) {
    admin.execute_unprepared(sql).await.unwrap_or_else(|error| panic!("{sql}: {error}"));
}

/// Several test programs may need it at the same moment.
async fn make_template() {
    let admin = admin().await;
    tell(&admin, &format!("select pg_advisory_lock({MAKING})")).await;
    let sql = format!("select 1 from pg_database where datname = '{MIGRATED}'");
    let found = admin.query_one_raw(Statement::from_string(DatabaseBackend::Postgres, sql)).await;
    if found.expect("an answer").is_none() {
        let making = format!("{MIGRATED}_making");
        tell(&admin, &format!("drop database if exists {making}")).await;
        tell(&admin, &format!("create database {making}")).await;
        let store = Store::connect(&address(&making)).await.expect("the new database answers");
        let app = App::new(store.clone(), Clock::system());
        beginning::migrate(&app).await.expect("migrations run");
        store.close().await.expect("the connections close");
        tell(&admin, &format!("alter database {making} rename to {MIGRATED}")).await;
    }
    tell(&admin, &format!("select pg_advisory_unlock({MAKING})")).await;
    admin.close().await.expect("the connection closes");
}

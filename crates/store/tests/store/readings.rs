//! What a page reads of readings does not grow with how many there are.

use std::time::Duration;

use fondant_bench::reading::Quantity;
use fondant_testkit::documents;
use jiff::SignedDuration;
use sea_orm::{ConnectionTrait, Database, DatabaseBackend, DatabaseConnection, Statement};

use crate::shop;

/// Seconds of which a probe has sent a temperature each; it has never sent a mass.
const SENT: i64 = 40_000;

/// How much of the readings was looked at since the statistics were cleared: rows in sequence, and entries
/// of indexes.
async fn looked_at(admin: &DatabaseConnection) -> [i64; 2] {
    const SQL: &str = "select t.seq_tup_read, sum(i.idx_scan)::bigint as scans, \
        sum(i.idx_tup_read)::bigint as entries \
        from pg_stat_user_tables t join pg_stat_user_indexes i using (relid) \
        where t.relname = 'device_reading' group by t.seq_tup_read";
    let ask = async {
        loop {
            let asked = Statement::from_string(DatabaseBackend::Postgres, SQL);
            let row = admin.query_one_raw(asked).await.expect("an answer").expect("a table");
            let [rows, scans, entries] = ["seq_tup_read", "scans", "entries"]
                .map(|column| row.try_get::<i64>("", column).expect("a count"));
            // A process of the database tells what it has looked at when it ends.
            if scans > 0 || rows > 0 {
                return [rows, entries];
            }
        }
    };
    tokio::time::timeout(Duration::from_secs(60), ask).await.expect("it has looked")
}

/// "Devices took 14.7 s: all readings were gone through for a quantity that was never sent."
#[tokio::test]
async fn last_readings_and_a_stretch_of_time_are_found_by_their_indexes() {
    let (db, shop) = shop().await;
    let admin = Database::connect(&db.address).await.expect("the database answers");
    let now = documents::now();
    let filled = format!(
        "insert into device (workshop_id, name, place, token_hash, offset_kept, is_silenced, created_at) \
         values ({0}, 'Probe', 'surface', 'x', 0, false, now()); \
         insert into device_reading (device_id, seq, at, quantity, value, received_at) \
         select d.id, n, '{now}'::timestamptz + n * interval '1 s', 'temperature', 293 + n % 7, now() \
         from device d, generate_series(1, {SENT}) n; analyze device_reading",
        shop.0
    );
    admin.execute_unprepared(&filled).await.expect("it is filled");
    let mut stores = Vec::new();
    for _ in 0..2 {
        stores.push(fondant_store::Store::connect(&db.address).await.expect("it answers"));
    }
    let cleared = async || {
        admin.execute_unprepared("select pg_stat_reset()").await.expect("they are cleared");
    };
    cleared().await;
    let store = stores.remove(0);
    let last = store.read().last_readings(shop).await.expect("readings");
    assert_eq!(last.len(), 1);
    store.close().await.expect("it closes");
    let [rows, entries] = looked_at(&admin).await;
    assert!(rows == 0 && entries < 20, "{rows} rows in sequence, {entries} entries");
    // Ten minutes of eleven hours.
    cleared().await;
    let store = stores.remove(0);
    let stretch = [now, now + SignedDuration::from_mins(10)];
    let thinned = store.read().thinned(shop, Quantity::Temperature, stretch, 10).await;
    assert_eq!(thinned.expect("readings").len(), 10);
    store.close().await.expect("it closes");
    let [rows, entries] = looked_at(&admin).await;
    assert!(rows == 0 && (500..2000).contains(&entries), "{rows} rows, {entries} entries");
    admin.close().await.expect("it closes");
}

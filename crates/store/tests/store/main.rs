//! What is kept, on a real PostgreSQL.

mod casts;
mod drawings;
mod forms_and_photos;
mod front_page;
mod readings;
mod workshops;

use fondant_app::records::WorkshopId;
use fondant_store::repos::CastId;
use fondant_store::{StoreError, Transaction};
use fondant_testkit::{TestDb, documents};

/// A database with a workshop.
async fn shop() -> (TestDb, WorkshopId) {
    let db = TestDb::migrated().await;
    let id = another_shop(&db).await;
    (db, id)
}

async fn another_shop(db: &TestDb) -> WorkshopId {
    let transaction = db.store.begin().await.expect("it is kept");
    let id = transaction.create_workshop(&documents::workshop(8, 18)).await.expect("it is kept");
    transaction.commit().await.expect("it is kept");
    id
}

/// A cast with a river top.
async fn cast(db: &TestDb, shop: WorkshopId, name: &str) -> CastId {
    let document = documents::river_top(name);
    let transaction = db.store.begin().await.expect("it is kept");
    let id = transaction.create_cast(shop, &document, documents::now()).await.expect("it is kept");
    transaction.commit().await.expect("it is kept");
    id
}

/// Does something in a transaction of its own; what it refuses is not kept.
async fn alone<T>(
    db: &TestDb,
    act: impl AsyncFnOnce(&Transaction) -> Result<T, StoreError>,
) -> Result<T, StoreError> {
    let transaction = db.store.begin().await?;
    let done = act(&transaction).await?;
    transaction.commit().await?;
    Ok(done)
}

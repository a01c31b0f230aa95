use fondant_store::StoreError;
use fondant_testkit::{TestDb, documents};

#[tokio::test]
async fn a_workshop_is_seen_when_it_is_committed() -> Result<(), StoreError> {
    let store = TestDb::migrated().await.store;
    let writing = store.begin().await?;
    let id = writing.create_workshop(&documents::workshop(8, 18)).await?;
    assert!(store.read().workshop().await?.is_none(), "nobody sees what is not committed");
    writing.commit().await?;
    assert_eq!(store.read().workshop().await?.map(|workshop| workshop.id), Some(id));
    Ok(())
}

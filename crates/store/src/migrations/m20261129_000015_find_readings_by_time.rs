//! Readings are found by when they were taken: a record shows those of its own days.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

const INDEX: &str = "device_reading_by_time";

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let by_time = Index::create()
            .name(INDEX)
            .table("device_reading")
            .col("device_id")
            .col("quantity")
            .col("at")
            .to_owned();
        manager.create_index(by_time).await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_index(Index::drop().name(INDEX).table("device_reading").to_owned()).await
    }
}

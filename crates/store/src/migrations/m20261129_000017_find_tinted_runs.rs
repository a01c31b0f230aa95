//! Runs whose buckets were coloured are found among all that ever happened at the bench.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        const SQL: &str = "create index run_row_tinted on run_row (run_id) \
            where document->>'what' = 'tinted'";
        manager.get_connection().execute_unprepared(SQL).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_index(Index::drop().name("run_row_tinted").table("run_row").to_owned()).await
    }
}

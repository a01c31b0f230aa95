//! Photos of a step of finishing and of a fault, each with a small one to look at in a list.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        // A fault that is taken back leaves its photo with the bench's.
        const SQL: &str = "alter table photo add column step varchar, \
            add column fault_id bigint references record_fault (id) on delete set null, \
            add column small bytea; \
            create index photo_by_fault on photo (fault_id) where fault_id is not null";
        manager.get_connection().execute_unprepared(SQL).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let columns = Table::alter()
            .table("photo")
            .drop_column("step")
            .drop_column("fault_id")
            .drop_column("small")
            .to_owned();
        manager.alter_table(columns).await
    }
}

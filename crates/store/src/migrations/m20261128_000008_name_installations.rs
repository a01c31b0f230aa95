//! An id of each installation, so that calendars of two of them never share an event.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let column = "ALTER TABLE workshop ADD COLUMN installation text NOT NULL
            DEFAULT replace(gen_random_uuid()::text, '-', '')";
        manager.get_connection().execute_unprepared(column).await.map(|_| ())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let column = "ALTER TABLE workshop DROP COLUMN installation";
        manager.get_connection().execute_unprepared(column).await.map(|_| ())
    }
}

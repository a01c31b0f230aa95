//! Casts that are put away or deleted, and how far each has come: the hours of its plan that say so
//! stand in columns, so that a list of ten thousand is told apart without reading its documents.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let columns = "ALTER TABLE \"cast\"
            ADD COLUMN put_away_at timestamptz,
            ADD COLUMN deleted_at timestamptz;
            ALTER TABLE agenda ADD COLUMN begins_at timestamptz, ADD COLUMN poured_at timestamptz;
            UPDATE agenda SET
                begins_at = (document->'pours'->0->>'at')::timestamptz,
                poured_at = (document->'pours'->-1->>'done')::timestamptz
            WHERE document->'pours'->0->>'at' ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:.]+Z$'
              AND document->'pours'->-1->>'done' ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:.]+Z$'";
        manager.get_connection().execute_unprepared(columns).await.map(|_| ())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let columns = "ALTER TABLE \"cast\" DROP COLUMN put_away_at, DROP COLUMN deleted_at;
            ALTER TABLE agenda DROP COLUMN begins_at, DROP COLUMN poured_at";
        manager.get_connection().execute_unprepared(columns).await.map(|_| ())
    }
}

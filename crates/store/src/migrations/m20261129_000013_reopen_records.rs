//! A record has a revision of its own, and is kept while its cast is worked on again.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{boolean, integer};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        // Each record that is there was kept once, and stands in the ledger.
        manager
            .alter_table(
                Table::alter()
                    .table("record")
                    .add_column_if_not_exists(integer("revision").default(1))
                    .add_column_if_not_exists(boolean("is_open").default(false))
                    .to_owned(),
            )
            .await
    }
}

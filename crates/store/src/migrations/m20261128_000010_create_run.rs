//! Runs at the bench, and what happened in them.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_integer_null, big_pk_auto, json_binary, string, timestamp_with_time_zone,
    timestamp_with_time_zone_null,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("run")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(big_integer_null("pour_id"))
                    .col(json_binary("plan"))
                    .col(timestamp_with_time_zone("begun_at"))
                    .col(timestamp_with_time_zone_null("ended_at"))
                    .foreign_key(&mut belongs("run", "cast_id", "cast"))
                    .to_owned(),
            )
            .await?;
        // Two devices that begin the same pour at once begin one run.
        manager
            .get_connection()
            .execute_unprepared(
                "create unique index run_in_hand on run (cast_id, coalesce(pour_id, 0)) \
                 where ended_at is null",
            )
            .await?;
        manager
            .create_index(
                Index::create().name("run_by_cast").table("run").col("cast_id").to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("run_row")
                    .col(big_pk_auto("id"))
                    .col(big_integer("run_id"))
                    .col(string("key"))
                    .col(timestamp_with_time_zone("at"))
                    .col(timestamp_with_time_zone("recorded_at"))
                    .col(string("told_by"))
                    .col(json_binary("document"))
                    .foreign_key(&mut belongs("run_row", "run_id", "run"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("run_row_by_key")
                    .table("run_row")
                    .col("run_id")
                    .col("key")
                    .unique()
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("run_row").to_owned()).await?;
        manager.drop_table(Table::drop().table("run").to_owned()).await
    }
}

fn belongs(
    from: &'static str,
    column: &'static str,
    to: &'static str,
) -> ForeignKeyCreateStatement {
    ForeignKey::create()
        .from(from, column)
        .to(to, "id")
        .on_delete(ForeignKeyAction::Cascade)
        .to_owned()
}

//! Logs of a shop's air: which reading came with which, so that a log can be withdrawn.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, integer, string, string_null, timestamp_with_time_zone,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("air_log")
                    .col(big_pk_auto("id"))
                    .col(big_integer("workshop_id"))
                    .col(string("heading"))
                    .col(string_null("date_order"))
                    .col(integer("rows"))
                    .col(timestamp_with_time_zone("first_at"))
                    .col(timestamp_with_time_zone("last_at"))
                    .col(timestamp_with_time_zone("created_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("air_log", "workshop_id")
                            .to("workshop", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        let keys = "ALTER TABLE air_reading ADD COLUMN log_id bigint NOT NULL DEFAULT 0;
            ALTER TABLE air_reading DROP CONSTRAINT air_reading_pkey;
            ALTER TABLE air_reading ADD PRIMARY KEY (workshop_id, at, log_id);";
        manager.get_connection().execute_unprepared(keys).await.map(|_| ())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let keys = "DELETE FROM air_reading WHERE log_id <> 0;
            ALTER TABLE air_reading DROP CONSTRAINT air_reading_pkey;
            ALTER TABLE air_reading DROP COLUMN log_id;
            ALTER TABLE air_reading ADD PRIMARY KEY (workshop_id, at);";
        manager.get_connection().execute_unprepared(keys).await?;
        manager.drop_table(Table::drop().table("air_log").to_owned()).await
    }
}

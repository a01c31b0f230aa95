//! Instruments of the shop, and what they read: a time series of its own.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, boolean, double, string, string_null, timestamp_with_time_zone,
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
                    .table("device")
                    .col(big_pk_auto("id"))
                    .col(big_integer("workshop_id"))
                    .col(string("name"))
                    .col(string("place"))
                    .col(string("token_hash").unique_key())
                    .col(double("offset_kept"))
                    .col(boolean("is_silenced"))
                    .col(timestamp_with_time_zone("created_at"))
                    .col(timestamp_with_time_zone_null("revoked_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("device", "workshop_id")
                            .to("workshop", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("device_reading")
                    .col(big_integer("device_id"))
                    .col(big_integer("seq"))
                    .col(timestamp_with_time_zone("at"))
                    .col(string("quantity"))
                    .col(double("value"))
                    .col(string_null("doubt"))
                    .col(timestamp_with_time_zone("received_at"))
                    .primary_key(Index::create().col("device_id").col("seq"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("device_reading", "device_id")
                            .to("device", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("device_reading_by_quantity")
                    .table("device_reading")
                    .col("device_id")
                    .col("quantity")
                    .col("seq")
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("device_reading").to_owned()).await?;
        manager.drop_table(Table::drop().table("device").to_owned()).await
    }
}

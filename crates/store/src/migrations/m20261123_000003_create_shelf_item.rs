//! What stands on a shop's shelf: resins, colours, lots, and what logs have taught.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, integer, json_binary, string, timestamp_with_time_zone,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("shelf_item")
                    .col(big_pk_auto("id"))
                    .col(big_integer("workshop_id"))
                    .col(string("kind"))
                    .col(string("slug"))
                    .col(integer("revision"))
                    .col(json_binary("document"))
                    .col(timestamp_with_time_zone("updated_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("shelf_item", "workshop_id")
                            .to("workshop", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("shelf_item_by_slug")
                    .table("shelf_item")
                    .col("workshop_id")
                    .col("kind")
                    .col("slug")
                    .unique()
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("shelf_item").to_owned()).await
    }
}

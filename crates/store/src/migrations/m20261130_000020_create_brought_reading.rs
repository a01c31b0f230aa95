//! What instruments of another shop read while a cast came about, brought in with it.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{big_integer, json_binary};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("brought_reading")
                    .col(big_integer("cast_id").primary_key())
                    .col(json_binary("document"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("brought_reading", "cast_id")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("brought_reading").to_owned()).await
    }
}

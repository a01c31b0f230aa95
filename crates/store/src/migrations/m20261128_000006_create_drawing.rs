//! Drawings that are being looked at before anything of them is taken.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{big_integer, big_pk_auto, string, timestamp_with_time_zone};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("drawing")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(string("name"))
                    .col(string("format"))
                    .col(ColumnDef::new("bytes").binary().not_null())
                    .col(timestamp_with_time_zone("created_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("drawing", "cast_id")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create().name("drawing_by_cast").table("drawing").col("cast_id").to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("drawing").to_owned()).await
    }
}

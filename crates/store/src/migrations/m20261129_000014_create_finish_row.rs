//! What is told of the finishing of casts.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{big_integer, big_pk_auto, json_binary, timestamp_with_time_zone};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("finish_row")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("document"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("finish_row", "cast_id")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        let by_cast = Index::create()
            .name("finish_row_by_cast")
            .table("finish_row")
            .col("cast_id")
            .to_owned();
        manager.create_index(by_cast).await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("finish_row").to_owned()).await
    }
}

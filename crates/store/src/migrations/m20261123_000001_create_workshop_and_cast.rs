//! Workshops, casts and the revisions of their plans.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, integer, integer_null, json_binary, string, timestamp_with_time_zone,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("workshop")
                    .col(big_pk_auto("id"))
                    .col(string("name"))
                    .col(string("time_zone"))
                    .col(json_binary("hours"))
                    .col(string("units"))
                    .col(integer("revision").default(1))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("cast")
                    .col(big_pk_auto("id"))
                    .col(big_integer("workshop_id"))
                    .col(string("name"))
                    .col(integer("revision"))
                    .col(timestamp_with_time_zone("created_at"))
                    .col(timestamp_with_time_zone("updated_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("cast", "workshop_id")
                            .to("workshop", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("cast_by_workshop")
                    .table("cast")
                    .col("workshop_id")
                    .col("updated_at")
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("cast_revision")
                    .col(big_integer("cast_id"))
                    .col(integer("number"))
                    .col(integer("schema_version"))
                    .col(json_binary("plan"))
                    .col(integer_null("undo_to"))
                    .col(integer_null("redo_to"))
                    .col(timestamp_with_time_zone("created_at"))
                    .primary_key(Index::create().col("cast_id").col("number"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("cast_revision", "cast_id")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for table in ["cast_revision", "cast", "workshop"] {
            manager.drop_table(Table::drop().table(table).to_owned()).await?;
        }
        Ok(())
    }
}

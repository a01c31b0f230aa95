//! Photos of the bench, and the forms and moulds that a shop has.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_integer_null, big_pk_auto, integer, json_binary, json_binary_null, string,
    timestamp_with_time_zone,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("photo")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(string("sha256"))
                    .col(integer("width"))
                    .col(integer("height"))
                    .col(ColumnDef::new("jpeg").binary().not_null())
                    .col(json_binary_null("squaring"))
                    .col(ColumnDef::new("squared").binary().null())
                    .col(timestamp_with_time_zone("created_at"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("photo", "cast_id")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create().name("photo_by_cast").table("photo").col("cast_id").to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("owned_form")
                    .col(big_pk_auto("id"))
                    .col(big_integer("workshop_id"))
                    .col(integer("revision"))
                    .col(json_binary("document"))
                    .col(big_integer_null("booked_by"))
                    .foreign_key(
                        ForeignKey::create()
                            .from("owned_form", "workshop_id")
                            .to("workshop", "id")
                            .on_delete(ForeignKeyAction::Cascade),
                    )
                    .foreign_key(
                        ForeignKey::create()
                            .from("owned_form", "booked_by")
                            .to("cast", "id")
                            .on_delete(ForeignKeyAction::SetNull),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("owned_form_by_workshop")
                    .table("owned_form")
                    .col("workshop_id")
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for table in ["owned_form", "photo"] {
            manager.drop_table(Table::drop().table(table).to_owned()).await?;
        }
        Ok(())
    }
}

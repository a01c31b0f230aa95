//! Records of casts that are finished or given up, and the faults of their pieces.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, double, integer, json_binary, string, string_null, text,
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
                    .table("record")
                    .col(big_integer("cast_id").primary_key())
                    .col(big_integer("workshop_id"))
                    .col(timestamp_with_time_zone("ended_at"))
                    .col(string("outcome"))
                    .col(string("kind"))
                    .col(string("resin"))
                    .col(string("timber"))
                    .col(string("people"))
                    .col(text("note"))
                    .col(double("volume_m3"))
                    .col(double("hours_s"))
                    .col(double("cost"))
                    .col(integer("fault_count"))
                    // The same as in the figures and the note, for searching.
                    .col(text("words"))
                    .col(json_binary("figures"))
                    .col(json_binary("told"))
                    .foreign_key(&mut belongs("record", "cast_id", "cast"))
                    .foreign_key(&mut belongs("record", "workshop_id", "workshop"))
                    .to_owned(),
            )
            .await?;
        let by_end = Index::create()
            .name("record_by_end")
            .table("record")
            .col("workshop_id")
            .col("ended_at")
            .col("cast_id")
            .to_owned();
        manager.create_index(by_end).await?;
        manager
            .create_table(
                Table::create()
                    .table("record_fault")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(string("kind"))
                    .col(string_null("cause"))
                    .col(timestamp_with_time_zone("marked_at"))
                    .col(json_binary("document"))
                    .foreign_key(&mut belongs("record_fault", "cast_id", "cast"))
                    .to_owned(),
            )
            .await?;
        let by_cast = Index::create()
            .name("record_fault_by_cast")
            .table("record_fault")
            .col("cast_id")
            .to_owned();
        manager.create_index(by_cast).await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.drop_table(Table::drop().table("record_fault").to_owned()).await?;
        manager.drop_table(Table::drop().table("record").to_owned()).await
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

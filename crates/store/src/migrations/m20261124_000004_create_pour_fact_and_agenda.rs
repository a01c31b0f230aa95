//! A shop's machines and air, its air readings, what happened to pours, and the
//! agenda of casts whose plan was taken.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, double, json_binary, string_null, timestamp_with_time_zone,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

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

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .alter_table(
                Table::alter()
                    .table("workshop")
                    .add_column(json_binary("settings").default("{}"))
                    .add_column(string_null("feed_token"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("air_reading")
                    .col(big_integer("workshop_id"))
                    .col(timestamp_with_time_zone("at"))
                    .col(double("t_k"))
                    .col(double("humidity_percent"))
                    .primary_key(Index::create().col("workshop_id").col("at"))
                    .foreign_key(&mut belongs("air_reading", "workshop_id", "workshop"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("pour_fact")
                    .col(big_pk_auto("id"))
                    .col(big_integer("cast_id"))
                    .col(json_binary("document"))
                    .col(timestamp_with_time_zone("recorded_at"))
                    .foreign_key(&mut belongs("pour_fact", "cast_id", "cast"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("pour_fact_by_cast")
                    .table("pour_fact")
                    .col("cast_id")
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("agenda")
                    .col(big_integer("cast_id").primary_key())
                    .col(big_integer("workshop_id"))
                    .col(timestamp_with_time_zone("ends_at"))
                    .col(json_binary("document"))
                    .foreign_key(&mut belongs("agenda", "cast_id", "cast"))
                    .foreign_key(&mut belongs("agenda", "workshop_id", "workshop"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("agenda_by_workshop")
                    .table("agenda")
                    .col("workshop_id")
                    .col("ends_at")
                    .to_owned(),
            )
            .await
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for table in ["agenda", "pour_fact", "air_reading"] {
            manager.drop_table(Table::drop().table(table).to_owned()).await?;
        }
        manager
            .alter_table(
                Table::alter()
                    .table("workshop")
                    .drop_column("settings")
                    .drop_column("feed_token")
                    .to_owned(),
            )
            .await
    }
}

//! Forecasts of taken plans, jobs, keys of requests that were answered, and what an agenda was
//! worked out from.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_integer_null, boolean, integer, json_binary, json_binary_null, small_integer,
    string, timestamp_with_time_zone, timestamp_with_time_zone_null,
};

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

fn belongs(from: &'static str, to: &'static str) -> ForeignKeyCreateStatement {
    ForeignKey::create()
        .from(from, format!("{to}_id"))
        .to(to, "id")
        .on_delete(ForeignKeyAction::Cascade)
        .to_owned()
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        revisions(manager).await?;
        pours(manager).await?;
        answered(manager).await?;
        jobs(manager).await
    }

    async fn down(&self, _: &SchemaManager) -> Result<(), DbErr> {
        Err(DbErr::Migration("the schema only goes forward".to_owned()))
    }
}

/// What agendas depend on beside the cast: counted, so that a stale one is known as such.
async fn revisions(manager: &SchemaManager<'_>) -> Result<(), DbErr> {
    let workshop = Table::alter()
        .table("workshop")
        .add_column(integer("shelf_revision").default(0))
        .add_column(integer("air_revision").default(0))
        .to_owned();
    manager.alter_table(workshop).await?;
    let agenda = Table::alter().table("agenda").add_column(json_binary_null("basis")).to_owned();
    manager.alter_table(agenda).await
}

/// Ids of pours that are never given twice, and the forecast of each taken plan.
async fn pours(manager: &SchemaManager<'_>) -> Result<(), DbErr> {
    // Pours from before ids have small ones, by their place.
    let sequence = "create sequence pour_id minvalue 1001 start 1001";
    manager.get_connection().execute_unprepared(sequence).await?;
    let forecast = Table::create()
        .table("forecast")
        .col(big_integer("cast_id"))
        .col(integer("revision"))
        .col(json_binary("document"))
        .col(timestamp_with_time_zone("taken_at"))
        .primary_key(Index::create().col("cast_id").col("revision"))
        .foreign_key(&mut belongs("forecast", "cast"))
        .to_owned();
    manager.create_table(forecast).await
}

/// Requests that added something, by the key that came with them.
async fn answered(manager: &SchemaManager<'_>) -> Result<(), DbErr> {
    let table = Table::create()
        .table("answered_request")
        .col(big_integer("workshop_id"))
        .col(string("key"))
        .col(big_integer_null("result"))
        .col(timestamp_with_time_zone("answered_at"))
        .primary_key(Index::create().col("workshop_id").col("key"))
        .foreign_key(&mut belongs("answered_request", "workshop"))
        .to_owned();
    manager.create_table(table).await
}

async fn jobs(manager: &SchemaManager<'_>) -> Result<(), DbErr> {
    let table = Table::create()
        .table("job")
        .col(big_integer("workshop_id"))
        .col(string("key"))
        .col(big_integer("cast_id"))
        .col(string("kind"))
        .col(integer("generation").default(1))
        .col(string("state"))
        .col(small_integer("permille").default(0))
        .col(ColumnDef::new("input").binary().not_null())
        .col(ColumnDef::new("result").binary().null())
        .col(json_binary_null("failure"))
        .col(boolean("is_cancelled").default(false))
        .col(timestamp_with_time_zone("asked_at"))
        .col(timestamp_with_time_zone_null("seen_at"))
        .col(timestamp_with_time_zone_null("ended_at"))
        .primary_key(Index::create().col("workshop_id").col("key"))
        .foreign_key(&mut belongs("job", "workshop"))
        .foreign_key(&mut belongs("job", "cast"))
        .to_owned();
    manager.create_table(table).await?;
    let by_cast =
        Index::create().name("job_by_cast").table("job").col("cast_id").col("kind").to_owned();
    manager.create_index(by_cast).await?;
    let by_age = Index::create().name("job_by_age").table("job").col("asked_at").to_owned();
    manager.create_index(by_age).await
}

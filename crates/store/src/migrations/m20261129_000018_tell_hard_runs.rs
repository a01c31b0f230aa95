//! When what was poured at once is hard: it has no agenda that says so.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub(super) struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        // Of runs that are over nobody kept it: a day after the last bucket stands for it.
        const SQL: &str = "alter table run add column hard_at timestamptz; \
            update run set hard_at = \
            (select max(w.at) + interval '1 day' from run_row w \
             where w.run_id = run.id and w.document->>'what' = 'pour_ended') \
            where pour_id is null and ended_at is not null";
        manager.get_connection().execute_unprepared(SQL).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let column = Table::alter().table("run").drop_column("hard_at").to_owned();
        manager.alter_table(column).await
    }
}

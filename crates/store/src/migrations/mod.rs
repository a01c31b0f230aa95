//! The schema, step by step, forward only. A landed step is never edited; a change is a new one.

mod m20261123_000001_create_workshop_and_cast;
mod m20261123_000002_create_photo_and_owned_form;
mod m20261123_000003_create_shelf_item;
mod m20261124_000004_create_pour_fact_and_agenda;
mod m20261127_000005_keep_forecasts_and_jobs;
mod m20261128_000006_create_drawing;
mod m20261128_000007_keep_air_logs;
mod m20261128_000008_name_installations;
mod m20261128_000009_put_casts_away;
mod m20261128_000010_create_run;
mod m20261128_000011_create_device;
mod m20261128_000012_create_record;
mod m20261129_000013_reopen_records;
mod m20261129_000014_create_finish_row;
mod m20261129_000015_find_readings_by_time;
mod m20261129_000016_find_rated_swirls;
mod m20261129_000017_find_tinted_runs;
mod m20261129_000018_tell_hard_runs;
mod m20261129_000019_photos_of_steps_and_faults;
mod m20261130_000020_create_brought_reading;

use sea_orm_migration::prelude::*;

/// All steps in order.
#[derive(Debug)]
pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(m20261123_000001_create_workshop_and_cast::Migration),
            Box::new(m20261123_000002_create_photo_and_owned_form::Migration),
            Box::new(m20261123_000003_create_shelf_item::Migration),
            Box::new(m20261124_000004_create_pour_fact_and_agenda::Migration),
            Box::new(m20261127_000005_keep_forecasts_and_jobs::Migration),
            Box::new(m20261128_000006_create_drawing::Migration),
            Box::new(m20261128_000007_keep_air_logs::Migration),
            Box::new(m20261128_000008_name_installations::Migration),
            Box::new(m20261128_000009_put_casts_away::Migration),
            Box::new(m20261128_000010_create_run::Migration),
            Box::new(m20261128_000011_create_device::Migration),
            Box::new(m20261128_000012_create_record::Migration),
            Box::new(m20261129_000013_reopen_records::Migration),
            Box::new(m20261129_000014_create_finish_row::Migration),
            Box::new(m20261129_000015_find_readings_by_time::Migration),
            Box::new(m20261129_000016_find_rated_swirls::Migration),
            Box::new(m20261129_000017_find_tinted_runs::Migration),
            Box::new(m20261129_000018_tell_hard_runs::Migration),
            Box::new(m20261129_000019_photos_of_steps_and_faults::Migration),
            Box::new(m20261130_000020_create_brought_reading::Migration),
        ]
    }
}

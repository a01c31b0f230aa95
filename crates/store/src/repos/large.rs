//! A workshop grown large, to measure against: ended casts copied over and over, and readings that no
//! instrument has sent.

use jiff::Timestamp;
use sea_orm::{ConnectionTrait, DatabaseBackend, Statement};

use super::{DeviceId, WorkshopId};
use crate::convert::to_column;
use crate::error::StoreError;
use crate::session::Transaction;

/// Which casts are copied, and the numbers that the copies get.
const CHOSEN: &str = "create temp table copied on commit drop as \
    select c.id as old, nextval(pg_get_serial_sequence('\"cast\"', 'id')) as new, n \
    from \"cast\" c join record r on r.cast_id = c.id and not r.is_open \
    cross join generate_series(1, $2) n \
    where c.workshop_id = $1 and c.deleted_at is null order by n, c.id limit $2";

const CASTS: &str = "insert into \"cast\" (id, workshop_id, name, revision, created_at, updated_at) \
    overriding system value select k.new, c.workshop_id, c.name || ', ' || k.n, c.revision, \
    c.created_at, c.updated_at from \"cast\" c join copied k on k.old = c.id";

/// Rows of a cast by the columns that its table has, so that this stays true as the schema grows: the
/// newest document, the record and its faults.
const ROWS: &str = "do $$ declare t text; names text; own text; begin \
    foreach t in array array['cast_revision', 'record', 'record_fault'] loop \
    select string_agg(quote_ident(column_name), ', '), \
    string_agg('o.' || quote_ident(column_name), ', ') into names, own \
    from information_schema.columns where table_schema = 'public' and table_name = t \
    and is_identity = 'NO' and column_name not in ('cast_id', 'undo_to', 'redo_to'); \
    execute format('insert into %I (cast_id, %s) select k.new, %s from %I o \
    join copied k on k.old = o.cast_id', t, names, own, t) \
    || case t when 'cast_revision' \
    then ' join \"cast\" c on c.id = k.old and c.revision = o.number' else '' end; \
    end loop; end $$";

/// Each round of copies ended a quarter of a year before the one after it.
const DATES: &str = "update record r set ended_at = r.ended_at - k.n * interval '91 days' \
    from copied k where k.new = r.cast_id";

const READINGS: &str = "insert into device_reading \
    (device_id, seq, at, quantity, value, doubt, received_at) \
    select $1, n, $2 + n * interval '1 second', 'temperature', 293.15 + 8 * sin(n / 9000.0), null, \
    $2 + n * interval '1 second' from generate_series($3::bigint, $4::bigint) n";

impl Transaction {
    /// Copies casts that have ended until `count` copies are there: their newest document, record and
    /// faults, without runs. Returns how many were made.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn copy_ended_casts(
        &self,
        workshop: WorkshopId,
        count: i64,
    ) -> Result<u64, StoreError> {
        let values = [workshop.0.into(), count.into()];
        let chosen = Statement::from_sql_and_values(DatabaseBackend::Postgres, CHOSEN, values);
        self.0.execute_raw(chosen).await?;
        let made = self.0.execute_unprepared(CASTS).await?.rows_affected();
        for sql in [ROWS, DATES, "analyze \"cast\"", "analyze record", "analyze record_fault"] {
            self.0.execute_unprepared(sql).await?;
        }
        Ok(made)
    }

    /// Readings of an instrument, one a second from a moment on, numbered from `first` to `last`.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn fill_readings(
        &self,
        device: DeviceId,
        from: Timestamp,
        (first, last): (i64, i64),
    ) -> Result<(), StoreError> {
        let values = [device.0.into(), to_column(from)?.into(), first.into(), last.into()];
        let readings = Statement::from_sql_and_values(DatabaseBackend::Postgres, READINGS, values);
        self.0.execute_raw(readings).await?;
        Ok(())
    }
}

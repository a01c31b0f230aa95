//! Readings of instruments over a stretch of time, thinned to what a drawing shows.

use fondant_bench::reading::{Place, Quantity};
use jiff::{SignedDuration, Timestamp};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};

use super::WorkshopId;
use super::devices::{read, word};
use crate::convert::to_column;
use crate::error::StoreError;
use crate::session::Session;

/// What was read at a place in one stretch of time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thinned {
    /// Place of the instrument.
    pub place: Place,
    /// Middle of the stretch, UTC.
    pub at: Timestamp,
    /// Mean of the readings that are not doubted, in the unit that is kept.
    pub mean: f64,
}

#[derive(FromQueryResult)]
struct Slot {
    place: String,
    slot: i64,
    mean: f64,
}

impl<C: ConnectionTrait> Session<C> {
    /// The means of what a shop's instruments read of a quantity between two moments, of `slots`
    /// stretches of the same length each, by place and time. Doubted readings do not count.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn thinned(
        &self,
        workshop: WorkshopId,
        quantity: Quantity,
        [from, to]: [Timestamp; 2],
        slots: u32,
    ) -> Result<Vec<Thinned>, StoreError> {
        // One look into the index by time for each device, however many readings there are: joined
        // otherwise, PostgreSQL goes through all of them.
        const SQL: &str = "select d.place, r.slot, avg(r.mean) as mean \
            from device d cross join lateral (select \
            floor(extract(epoch from (at - $3)) / $5)::bigint as slot, avg(value)::float8 as mean \
            from device_reading where device_id = d.id and quantity = $2 \
            and at >= $3 and at < $4 and doubt is null group by 1) r \
            where d.workshop_id = $1 and not d.is_silenced group by 1, 2 order by 1, 2";
        let step = to.duration_since(from) / i32::try_from(slots.max(1)).unwrap_or(i32::MAX);
        if step < SignedDuration::from_secs(1) {
            return Ok(Vec::new());
        }
        let values = [
            workshop.0.into(),
            word(&quantity)?.into(),
            to_column(from)?.into(),
            to_column(to)?.into(),
            step.as_secs_f64().into(),
        ];
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), SQL, values);
        let slots = Slot::find_by_statement(statement).all(&self.0).await?;
        let thinned = |slot: Slot| {
            let middle = step.as_secs_f64() * (slot.slot as f64 + 0.5);
            let at =
                from + SignedDuration::try_from_secs_f64(middle).unwrap_or(SignedDuration::ZERO);
            Ok(Thinned { place: read(&slot.place)?, at, mean: slot.mean })
        };
        slots.into_iter().map(thinned).collect()
    }
}

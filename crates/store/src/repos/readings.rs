//! Readings of instruments over a stretch of time, thinned to what a drawing shows, and those that came
//! with a cast from another shop.

use fondant_bench::reading::{Place, Quantity};
use fondant_quantities::Span;
use fondant_record::readings::{BUCKET_SLOTS, CourseReadings, ReadCurve, SLOTS};
use jiff::{SignedDuration, Timestamp};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement,
};

use super::casts::of_workshop;
use super::devices::{read, word};
use super::{CastId, WorkshopId};
use crate::convert::{from_json, to_column, to_json};
use crate::entities::brought_reading;
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// Stretches of time in which instruments are read for a cast.
#[derive(Debug, Clone, Copy)]
pub struct ReadIn<'a> {
    /// From the first pour to where its course ends.
    pub course: [Timestamp; 2],
    /// Those in which buckets stood.
    pub buckets: &'a [[Timestamp; 2]],
}

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

impl ReadIn<'_> {
    /// Time from the first pour on, negative before it.
    fn after_first(&self, at: Timestamp) -> Span {
        Span::from_s(at.duration_since(self.course[0]).as_secs_f64())
    }

    fn holds(&self, after_first: Span) -> bool {
        let within = |[from, to]: &[Timestamp; 2]| {
            (self.after_first(*from)..=self.after_first(*to)).contains(&after_first)
        };
        within(&self.course) || self.buckets.iter().any(within)
    }
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

    /// What instruments read while a cast came about: those of the shop, and where they read nothing, what
    /// came with the cast.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn course_readings(
        &self,
        (workshop, cast): (WorkshopId, CastId),
        asked: &ReadIn<'_>,
    ) -> Result<Vec<ReadCurve>, StoreError> {
        let mut curves = self.read_here(workshop, asked).await?;
        let row = brought_reading::Entity::find()
            .filter(brought_reading::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .one(&self.0)
            .await?;
        if let Some(row) = row {
            let here: Vec<_> = curves.iter().map(of).collect();
            let mut brought = from_json::<CourseReadings>(&row.document)?.since(asked.course[0]);
            brought.retain_mut(|curve| {
                curve.points.retain(|(at, _)| asked.holds(*at));
                !curve.points.is_empty() && !here.contains(&of(curve))
            });
            curves.extend(brought);
        }
        Ok(curves)
    }

    async fn read_here(
        &self,
        workshop: WorkshopId,
        asked: &ReadIn<'_>,
    ) -> Result<Vec<ReadCurve>, StoreError> {
        let mut curves: Vec<ReadCurve> = Vec::new();
        let mut keep = |quantity, one: Thinned| {
            let point = (asked.after_first(one.at), one.mean);
            match curves.iter_mut().find(|curve| of(curve) == (one.place, quantity)) {
                Some(curve) => curve.points.push(point),
                None => curves.push(ReadCurve { place: one.place, quantity, points: vec![point] }),
            }
        };
        for quantity in [Quantity::Temperature, Quantity::Pressure] {
            let all = self.thinned(workshop, quantity, asked.course, SLOTS).await?;
            // A bucket is read at the bench alone; what its probe reads later is no bucket.
            all.into_iter()
                .filter(|one| one.place != Place::Bucket)
                .for_each(|one| keep(quantity, one));
        }
        for stood in asked.buckets {
            let all = self.thinned(workshop, Quantity::Temperature, *stood, BUCKET_SLOTS).await?;
            all.into_iter()
                .filter(|one| one.place == Place::Bucket)
                .for_each(|one| keep(Quantity::Temperature, one));
        }
        Ok(curves)
    }
}

impl Transaction {
    /// Keeps what instruments of another shop read while a cast came about, which was created in this
    /// transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn bring_readings(
        &self,
        cast: CastId,
        brought: &CourseReadings,
    ) -> Result<(), StoreError> {
        let row = brought_reading::ActiveModel {
            cast_id: ActiveValue::Set(cast.0),
            document: ActiveValue::Set(to_json(brought)?),
        };
        brought_reading::Entity::insert(row).exec_without_returning(&self.0).await?;
        Ok(())
    }
}

const fn of(curve: &ReadCurve) -> (Place, Quantity) {
    (curve.place, curve.quantity)
}

//! Readings of a shop's air: a time series, in which of several readings of a moment the one of the
//! log that came last counts.

use fondant_heat::climate::AirAt;
use fondant_quantities::Temperature;
use jiff::Timestamp;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
};

use super::WorkshopId;
use crate::convert::{from_column, to_column};
use crate::entities::air_log;
use crate::entities::air_reading::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// Rows of one statement: five parameters each, of 65 535 at most.
const ROWS_AT_ONCE: usize = 8000;
/// Logs that are listed, the newest.
const MOST_LOGS: u64 = 50;

/// A log's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct AirLogId(pub i64);

impl std::fmt::Display for AirLogId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A log that was brought in.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptLog {
    /// Database id.
    pub id: AirLogId,
    /// Its heading, by which the logger is known again.
    pub heading: String,
    /// The order of its dates, where the maker told it.
    pub date_order: Option<String>,
    /// Rows that held a reading.
    pub rows: u32,
    /// Time of its first reading.
    pub first: Timestamp,
    /// Time of its last reading.
    pub last: Timestamp,
    /// When it was brought in.
    pub created: Timestamp,
}

/// A log to keep.
#[derive(Debug, Clone, Copy)]
pub struct NewLog<'a> {
    /// Heading of the log.
    pub heading: &'a str,
    /// The order of its dates, where the maker told it.
    pub date_order: Option<&'a str>,
    /// Rows that held a reading.
    pub rows: usize,
    /// Its readings, in order of time.
    pub readings: &'a [AirAt],
}

impl Transaction {
    /// Adds a log of a shop's air.
    ///
    /// # Errors
    /// [`StoreError`]; [`StoreError::NotFound`] where it has no reading.
    pub async fn add_air(
        &self,
        shop: WorkshopId,
        log: &NewLog<'_>,
        now: Timestamp,
    ) -> Result<AirLogId, StoreError> {
        let ends = log.readings.first().zip(log.readings.last());
        let (first, last) = ends.ok_or(StoreError::NotFound("reading"))?;
        let row = air_log::ActiveModel {
            id: ActiveValue::NotSet,
            workshop_id: ActiveValue::Set(shop.0),
            heading: ActiveValue::Set(log.heading.to_owned()),
            date_order: ActiveValue::Set(log.date_order.map(str::to_owned)),
            rows: ActiveValue::Set(i32::try_from(log.rows).unwrap_or(i32::MAX)),
            first_at: ActiveValue::Set(to_column(first.at)?),
            last_at: ActiveValue::Set(to_column(last.at)?),
            created_at: ActiveValue::Set(to_column(now)?),
        };
        let id = air_log::Entity::insert(row).exec(&self.0).await?.last_insert_id;
        for some in log.readings.chunks(ROWS_AT_ONCE) {
            let rows: Result<Vec<ActiveModel>, StoreError> = some
                .iter()
                .map(|reading| {
                    Ok(ActiveModel {
                        workshop_id: ActiveValue::Set(shop.0),
                        at: ActiveValue::Set(to_column(reading.at)?),
                        log_id: ActiveValue::Set(id),
                        t_k: ActiveValue::Set(reading.temperature.k()),
                        humidity_percent: ActiveValue::Set(reading.humidity_percent),
                    })
                })
                .collect();
            Entity::insert_many(rows?)
                .on_conflict(
                    OnConflict::columns([Column::WorkshopId, Column::At, Column::LogId])
                        .update_columns([Column::TK, Column::HumidityPercent])
                        .to_owned(),
                )
                .exec_without_returning(&self.0)
                .await?;
        }
        self.air_changed(shop).await?;
        Ok(AirLogId(id))
    }

    /// Takes a log out, and with it its readings: those of other logs stand again where they did.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the shop has no such log.
    pub async fn remove_air_log(&self, shop: WorkshopId, id: AirLogId) -> Result<(), StoreError> {
        let gone = air_log::Entity::delete_many()
            .filter(air_log::Column::Id.eq(id.0))
            .filter(air_log::Column::WorkshopId.eq(shop.0))
            .exec(&self.0)
            .await?;
        if gone.rows_affected != 1 {
            return Err(StoreError::NotFound("log"));
        }
        Entity::delete_many()
            .filter(Column::WorkshopId.eq(shop.0))
            .filter(Column::LogId.eq(id.0))
            .exec(&self.0)
            .await?;
        self.air_changed(shop).await
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// The logs of a shop's air, the newest first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn air_logs(&self, shop: WorkshopId) -> Result<Vec<KeptLog>, StoreError> {
        let rows = air_log::Entity::find()
            .filter(air_log::Column::WorkshopId.eq(shop.0))
            .order_by_desc(air_log::Column::Id)
            .limit(MOST_LOGS)
            .all(&self.0)
            .await?;
        rows.into_iter()
            .map(|row| {
                Ok(KeptLog {
                    id: AirLogId(row.id),
                    heading: row.heading,
                    date_order: row.date_order,
                    rows: row.rows.unsigned_abs(),
                    first: from_column(row.first_at)?,
                    last: from_column(row.last_at)?,
                    created: from_column(row.created_at)?,
                })
            })
            .collect()
    }

    /// Readings of a shop's air from a time on, in order.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn air_since(
        &self,
        shop: WorkshopId,
        from: Timestamp,
    ) -> Result<Vec<AirAt>, StoreError> {
        let rows = Entity::find()
            .filter(Column::WorkshopId.eq(shop.0))
            .filter(Column::At.gte(to_column(from)?))
            .order_by_asc(Column::At)
            .order_by_desc(Column::LogId)
            .all(&self.0)
            .await?;
        let mut rows = rows;
        // Of several logs the one that came last counts.
        rows.dedup_by_key(|row| row.at);
        rows.into_iter()
            .map(|row| {
                Ok(AirAt {
                    at: from_column(row.at)?,
                    temperature: Temperature::from_k(row.t_k),
                    humidity_percent: row.humidity_percent,
                })
            })
            .collect()
    }
}

//! Readings of a shop's air: a time series, a later reading of the same moment
//! takes the place of the former.

use fondant_heat::climate::AirAt;
use fondant_quantities::Temperature;
use jiff::Timestamp;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};

use super::WorkshopId;
use crate::convert::{from_column, to_column};
use crate::entities::air_reading::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// Rows of one statement: four parameters each, of 65 535 at most.
const ROWS_AT_ONCE: usize = 8000;

impl Transaction {
    /// Adds readings of a shop's air.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_air(&self, shop: WorkshopId, readings: &[AirAt]) -> Result<(), StoreError> {
        for some in readings.chunks(ROWS_AT_ONCE) {
            let rows: Result<Vec<ActiveModel>, StoreError> = some
                .iter()
                .map(|reading| {
                    Ok(ActiveModel {
                        workshop_id: ActiveValue::Set(shop.0),
                        at: ActiveValue::Set(to_column(reading.at)?),
                        t_k: ActiveValue::Set(reading.temperature.k()),
                        humidity_percent: ActiveValue::Set(reading.humidity_percent),
                    })
                })
                .collect();
            Entity::insert_many(rows?)
                .on_conflict(
                    OnConflict::columns([Column::WorkshopId, Column::At])
                        .update_columns([Column::TK, Column::HumidityPercent])
                        .to_owned(),
                )
                .exec_without_returning(&self.0)
                .await?;
        }
        self.air_changed(shop).await
    }
}

impl<C: ConnectionTrait> Session<C> {
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
            .all(&self.0)
            .await?;
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

//! Instruments of the shop, and what they read. A reading never touches a workshop's revision.

use fondant_bench::reading::{Doubt, Judged, Place, Quantity};
use jiff::Timestamp;
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter,
    QueryOrder, QuerySelect, QueryTrait, Statement,
};

use super::WorkshopId;
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{device, device_reading};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A device's number.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize, serde::Deserialize,
)]
#[serde(transparent)]
pub struct DeviceId(pub i64);

impl std::fmt::Display for DeviceId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// An instrument.
#[derive(Debug, Clone, PartialEq)]
pub struct DeviceRecord {
    /// Database id.
    pub id: DeviceId,
    /// What the shop calls it.
    pub name: String,
    /// Where it reads.
    pub place: Place,
    /// Added to what it reads, in the unit that is kept.
    pub offset: f64,
    /// It is kept and not shown.
    pub is_silenced: bool,
    /// Its token is no longer taken, since then.
    pub revoked_at: Option<Timestamp>,
}

/// An instrument to add.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewDevice {
    /// What the shop calls it.
    pub name: String,
    /// Where it reads.
    pub place: Place,
    /// SHA-256 of its token, in hexadecimal: the token itself is kept nowhere.
    pub token_hash: String,
}

/// A reading to keep.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NewReading {
    /// Number that the device gave it.
    pub seq: i64,
    /// Quantity of the reading.
    pub quantity: Quantity,
    /// Time and value, and why it is doubted where it is.
    pub judged: Judged,
}

/// The last reading of a device.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LastReading {
    /// The device.
    pub device: DeviceId,
    /// Quantity of the reading.
    pub quantity: Quantity,
    /// Time and value, and why it is doubted where it is.
    pub judged: Judged,
}

/// Name of a variant as JSON has it, without its quotes.
pub(super) fn word<T: serde::Serialize>(value: &T) -> Result<String, StoreError> {
    Ok(to_json(value)?.as_str().unwrap_or_default().to_owned())
}

pub(super) fn read<T: serde::de::DeserializeOwned>(word: &str) -> Result<T, StoreError> {
    from_json(&serde_json::Value::String(word.to_owned()))
}

fn record(row: device::Model) -> Result<DeviceRecord, StoreError> {
    Ok(DeviceRecord {
        id: DeviceId(row.id),
        name: row.name,
        place: read(&row.place)?,
        offset: row.offset_kept,
        is_silenced: row.is_silenced,
        revoked_at: row.revoked_at.map(from_column).transpose()?,
    })
}

fn judged(row: &device_reading::Model) -> Result<Judged, StoreError> {
    Ok(Judged {
        at: from_column(row.at)?,
        value: row.value,
        doubt: row.doubt.as_deref().map(read::<Doubt>).transpose()?,
    })
}

#[derive(FromQueryResult)]
struct Last {
    device_id: i64,
    quantity: String,
    at: chrono::DateTime<chrono::Utc>,
    value: f64,
    doubt: Option<String>,
}

impl<C: ConnectionTrait> Session<C> {
    /// The instruments of a workshop, those that are revoked last.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn devices(&self, workshop: WorkshopId) -> Result<Vec<DeviceRecord>, StoreError> {
        let found = device::Entity::find()
            .filter(device::Column::WorkshopId.eq(workshop.0))
            .order_by_asc(device::Column::Id);
        let all: Result<Vec<_>, _> = found.all(&self.0).await?.into_iter().map(record).collect();
        let mut all = all?;
        all.sort_by_key(|device| device.revoked_at.is_some());
        Ok(all)
    }

    /// The instrument that has a token, by its hash, and its workshop; `None` where none has, or it
    /// was revoked.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn device_by_token(
        &self,
        hash: &str,
    ) -> Result<Option<(WorkshopId, DeviceRecord)>, StoreError> {
        let found = device::Entity::find()
            .filter(device::Column::TokenHash.eq(hash))
            .filter(device::Column::RevokedAt.is_null());
        let row = found.one(&self.0).await?;
        row.map(|row| Ok((WorkshopId(row.workshop_id), record(row)?))).transpose()
    }

    /// The last reading of each quantity of each instrument of a workshop.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn last_readings(
        &self,
        workshop: WorkshopId,
    ) -> Result<Vec<LastReading>, StoreError> {
        // One look into the index for each device and quantity, however many readings there are. Asked
        // for a range of one quantity, no other index has this order: asked for the quantity itself,
        // PostgreSQL may go through all that the device has sent, by its primary key.
        const SQL: &str = "select d.id as device_id, r.quantity, r.at, r.value, r.doubt \
            from device d cross join (values ('temperature'), ('humidity'), ('mass'), ('pressure')) \
            as q(quantity) cross join lateral (select quantity, at, value, doubt \
            from device_reading where device_id = d.id and quantity between q.quantity \
            and q.quantity order by quantity desc, seq desc limit 1) r where d.workshop_id = $1 and d.revoked_at is null";
        let values = [workshop.0.into()];
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), SQL, values);
        let rows = Last::find_by_statement(statement).all(&self.0).await?;
        let last = |row: Last| {
            Ok(LastReading {
                device: DeviceId(row.device_id),
                quantity: read(&row.quantity)?,
                judged: Judged {
                    at: from_column(row.at)?,
                    value: row.value,
                    doubt: row.doubt.as_deref().map(read::<Doubt>).transpose()?,
                },
            })
        };
        rows.into_iter().map(last).collect()
    }

    /// The readings of an instrument in the order of its own numbers.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn readings_of(
        &self,
        workshop: WorkshopId,
        device: DeviceId,
    ) -> Result<Vec<(i64, Judged)>, StoreError> {
        let own = device::Entity::find_by_id(device.0)
            .filter(device::Column::WorkshopId.eq(workshop.0))
            .select_only()
            .column(device::Column::Id);
        let found = device_reading::Entity::find()
            .filter(device_reading::Column::DeviceId.in_subquery(own.into_query()))
            .order_by_asc(device_reading::Column::Seq);
        found.all(&self.0).await?.iter().map(|row| Ok((row.seq, judged(row)?))).collect()
    }
}

impl Transaction {
    /// Adds an instrument.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_device(
        &self,
        workshop: WorkshopId,
        new: NewDevice,
        now: Timestamp,
    ) -> Result<DeviceId, StoreError> {
        let row = device::ActiveModel {
            id: ActiveValue::NotSet,
            workshop_id: ActiveValue::Set(workshop.0),
            name: ActiveValue::Set(new.name),
            place: ActiveValue::Set(word(&new.place)?),
            token_hash: ActiveValue::Set(new.token_hash),
            offset_kept: ActiveValue::Set(0.0),
            is_silenced: ActiveValue::Set(false),
            created_at: ActiveValue::Set(to_column(now)?),
            revoked_at: ActiveValue::Set(None),
        };
        Ok(DeviceId(device::Entity::insert(row).exec(&self.0).await?.last_insert_id))
    }

    /// Sets what is added to an instrument's readings, whether it is shown, and whether its token is
    /// taken.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the workshop has no such instrument.
    pub async fn set_device(
        &self,
        workshop: WorkshopId,
        device: &DeviceRecord,
    ) -> Result<(), StoreError> {
        let revoked = device.revoked_at.map(to_column).transpose()?;
        let changed = device::Entity::update_many()
            .col_expr(device::Column::OffsetKept, Expr::value(device.offset))
            .col_expr(device::Column::IsSilenced, Expr::value(device.is_silenced))
            .col_expr(device::Column::RevokedAt, Expr::value(revoked))
            .filter(device::Column::Id.eq(device.id.0))
            .filter(device::Column::WorkshopId.eq(workshop.0))
            .exec(&self.0)
            .await?;
        if changed.rows_affected == 1 { Ok(()) } else { Err(StoreError::NotFound("device")) }
    }

    /// Locks an instrument until the transaction ends: its readings are judged one after the other.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn lock_device(&self, device: DeviceId) -> Result<(), StoreError> {
        let found = device::Entity::find_by_id(device.0).lock_exclusive().one(&self.0).await?;
        found.map(|_| ()).ok_or(StoreError::NotFound("device"))
    }

    /// Which of some numbers an instrument has sent before.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn known_seqs(&self, device: DeviceId, seqs: &[i64]) -> Result<Vec<i64>, StoreError> {
        let found = device_reading::Entity::find()
            .select_only()
            .column(device_reading::Column::Seq)
            .filter(device_reading::Column::DeviceId.eq(device.0))
            .filter(device_reading::Column::Seq.is_in(seqs.iter().copied()))
            .into_tuple()
            .all(&self.0);
        Ok(found.await?)
    }

    /// The newest readings of a quantity of an instrument by its own numbers, the newest last: one whose
    /// clock was ahead once would be the newest for years by its times.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn newest_readings(
        &self,
        device: DeviceId,
        quantity: Quantity,
        count: usize,
    ) -> Result<Vec<Judged>, StoreError> {
        // A range of one quantity: see `last_readings`.
        let quantity = word(&quantity)?;
        let found = device_reading::Entity::find()
            .filter(device_reading::Column::DeviceId.eq(device.0))
            .filter(device_reading::Column::Quantity.between(quantity.clone(), quantity))
            .order_by_desc(device_reading::Column::Quantity)
            .order_by_desc(device_reading::Column::Seq)
            .limit(count as u64);
        let rows = found.all(&self.0).await?;
        rows.iter().rev().map(judged).collect()
    }

    /// Keeps readings of an instrument that is locked in this transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_readings(
        &self,
        device: DeviceId,
        readings: &[NewReading],
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let row = |reading: &NewReading| -> Result<_, StoreError> {
            Ok(device_reading::ActiveModel {
                device_id: ActiveValue::Set(device.0),
                seq: ActiveValue::Set(reading.seq),
                at: ActiveValue::Set(to_column(reading.judged.at)?),
                quantity: ActiveValue::Set(word(&reading.quantity)?),
                value: ActiveValue::Set(reading.judged.value),
                doubt: ActiveValue::Set(reading.judged.doubt.as_ref().map(word).transpose()?),
                received_at: ActiveValue::Set(to_column(now)?),
            })
        };
        let rows: Vec<_> = readings.iter().map(row).collect::<Result<_, _>>()?;
        if rows.is_empty() {
            return Ok(());
        }
        let columns = [device_reading::Column::DeviceId, device_reading::Column::Seq];
        device_reading::Entity::insert_many(rows)
            .on_conflict(OnConflict::columns(columns).do_nothing().to_owned())
            .exec_without_returning(&self.0)
            .await?;
        Ok(())
    }
}

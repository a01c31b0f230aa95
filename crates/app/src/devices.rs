//! Instruments of the shop: added with a token, calibrated, silenced, revoked; and what they send.
//!
//! A device sends readings with numbers of its own that rise; a number that was sent before changes
//! nothing. Each reading is judged by those before it, and one that cannot be is kept as doubtful.

use std::collections::BTreeSet;

use fondant_bench::reading::{
    Doubt, Judged, LOOKED_BACK, Place, Quantity, UnknownUnit, doubt, kept,
};
use fondant_store::Transaction;
use fondant_store::repos::{DeviceId, DeviceRecord, NewDevice, NewReading, WorkshopId};
use jiff::Timestamp;
use serde::Deserialize;
use sha2::{Digest, Sha256};

use crate::app::App;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::random_hex;
use crate::shop::Shop;

/// Bytes of chance in a token.
const TOKEN_BYTES: usize = 24;
/// What tokens begin with, so that one that was lost is found by those who look for such.
const TOKEN_PREFIX: &str = "fondant_";
/// Most readings of one request.
const MOST_LINES: usize = 5000;
/// Longest line of a reading, bytes.
const LONGEST_LINE: usize = 512;
/// 1 January 2000, s since 1970: a clock that was never set says less, and databases end before some
/// times that can be written.
const CENTURY_S: i64 = 946_684_800;
/// Refusals that are answered, of one request; the rest are counted.
const MOST_REFUSALS: usize = 50;

/// An instrument that was added.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Added {
    /// Id of the new device.
    pub device: DeviceId,
    /// Its token. It is told this once and kept nowhere.
    pub token: String,
}

/// The instruments of a workshop with what they read last.
#[derive(Debug, Clone, PartialEq)]
pub struct Instrument {
    /// The instrument.
    pub device: DeviceRecord,
    /// Its last reading of each quantity.
    pub last: Vec<(Quantity, Judged)>,
}

/// What became of readings that were sent.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Taken {
    /// Number of new readings that were saved.
    pub taken: usize,
    /// Of these, kept as doubtful.
    pub doubted: usize,
    /// Kept before: sent again.
    pub known: usize,
    /// Not taken, the first of them.
    pub refused: Vec<Refusal>,
    /// Not taken, all of them.
    pub refused_count: usize,
}

/// A line that was not taken.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Refusal {
    /// Its place in what was sent, from 1.
    pub line: usize,
    /// Reason for the refusal.
    pub why: LineError,
}

/// Why a line was not taken.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum LineError {
    /// It is too long.
    #[error("longer than {LONGEST_LINE} bytes")]
    TooLong,
    /// It is no reading.
    #[error("not a reading: {0}")]
    NotAReading(String),
    /// Its device is another than the token's.
    #[error("device {0:?} is not the one of this token")]
    OtherDevice(String),
    /// Its unit is unknown.
    #[error(transparent)]
    Unit(#[from] UnknownUnit),
    /// The quantity is not measured at that place.
    #[error("{0:?} is not read at {1:?}")]
    NotThere(Quantity, Place),
    /// The time lies before any reading could: the device's clock is not set.
    #[error("{0} is before this century: set the clock of the device")]
    TooEarly(Timestamp),
    /// One request holds no more.
    #[error("more than {MOST_LINES} lines")]
    TooMany,
}

/// One line that a device sends.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Line {
    device: String,
    seq: i64,
    at: Timestamp,
    quantity: Quantity,
    value: f64,
    unit: String,
}

fn hash(token: &str) -> String {
    hex::encode(Sha256::digest(token.as_bytes()))
}

/// Adds an instrument. Its token is in the answer and nowhere else.
///
/// # Errors
/// [`AppError`].
pub async fn add(app: &App, shop: &Shop, name: String, place: Place) -> Result<Added, AppError> {
    let token = format!("{TOKEN_PREFIX}{}", random_hex(TOKEN_BYTES)?);
    let new = NewDevice { name, place, token_hash: hash(&token) };
    let transaction = app.store.begin().await?;
    let device = transaction.add_device(shop.id, new, app.now()).await?;
    tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    transaction.commit().await?;
    Ok(Added { device, token })
}

/// Adds an instrument in the place of those of its name, whose tokens are revoked.
///
/// # Errors
/// [`AppError`].
pub async fn renew(app: &App, shop: &Shop, name: &str, place: Place) -> Result<Added, AppError> {
    for former in app.store.read().devices(shop.id).await? {
        if former.name == name && former.revoked_at.is_none() {
            change(app, shop, former.id, Change::Revoke).await?;
        }
    }
    add(app, shop, name.to_owned(), place).await
}

/// The instruments of a workshop with what they read last.
///
/// # Errors
/// [`AppError`].
pub async fn all(app: &App, shop: &Shop) -> Result<Vec<Instrument>, AppError> {
    let devices = app.store.read().devices(shop.id).await?;
    let last = app.store.read().last_readings(shop.id).await?;
    let of = |device: DeviceRecord| {
        let own = last.iter().filter(|reading| reading.device == device.id);
        let last = own.map(|reading| (reading.quantity, reading.judged)).collect();
        Instrument { device, last }
    };
    Ok(devices.into_iter().map(of).collect())
}

/// Where the instruments of a workshop read that are heard.
///
/// # Errors
/// [`AppError`].
pub async fn places(app: &App, shop: &Shop) -> Result<Vec<Place>, AppError> {
    let devices = app.store.read().devices(shop.id).await?;
    let heard = devices.iter().filter(|device| device.revoked_at.is_none() && !device.is_silenced);
    Ok(heard.map(|device| device.place).collect())
}

/// What is changed of an instrument.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Change {
    /// Added to what it reads, in the unit that is kept.
    Offset(f64),
    /// Kept and not shown, or shown again.
    Silence(bool),
    /// Its token is revoked.
    Revoke,
}

/// Changes an instrument.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn change(
    app: &App,
    shop: &Shop,
    device: DeviceId,
    change: Change,
) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_device(device).await?;
    let all = transaction.devices(shop.id).await?;
    let found = all.into_iter().find(|found| found.id == device);
    let mut record = found.ok_or(AppError::NotFound("device"))?;
    match change {
        Change::Offset(offset) => record.offset = offset,
        Change::Silence(is_silenced) => record.is_silenced = is_silenced,
        Change::Revoke => record.revoked_at = record.revoked_at.or(Some(app.now())),
    }
    transaction.set_device(shop.id, &record).await?;
    tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    Ok(transaction.commit().await?)
}

/// Takes what a device sends: one JSON object a line. `None` where no device has the token.
///
/// # Errors
/// [`AppError`]; nothing is kept then.
pub async fn take(app: &App, token: &str, sent: &str) -> Result<Option<Taken>, AppError> {
    let Some((workshop, device)) = app.store.read().device_by_token(&hash(token)).await? else {
        return Ok(None);
    };
    let mut taken = Taken::default();
    let mut lines: Vec<Line> = Vec::new();
    let mut seqs = BTreeSet::new();
    let rows = sent.lines().enumerate().filter(|(_, line)| !line.trim().is_empty());
    for (place, (index, line)) in rows.enumerate() {
        let read = if place >= MOST_LINES { Err(LineError::TooMany) } else { read(&device, line) };
        match read {
            // Of two of one number the first counts.
            Ok(line) if !seqs.insert(line.seq) => taken.known += 1,
            Ok(line) => lines.push(line),
            Err(why) => {
                taken.refused_count += 1;
                if taken.refused.len() < MOST_REFUSALS {
                    taken.refused.push(Refusal { line: index + 1, why });
                }
                if place >= MOST_LINES {
                    taken.refused_count += sent.lines().count().saturating_sub(index + 1);
                    break;
                }
            }
        }
    }
    keep(app, (workshop, &device), lines, &mut taken).await?;
    Ok(Some(taken))
}

fn read(device: &DeviceRecord, line: &str) -> Result<Line, LineError> {
    if line.len() > LONGEST_LINE {
        return Err(LineError::TooLong);
    }
    let read: Line =
        serde_json::from_str(line).map_err(|error| LineError::NotAReading(error.to_string()))?;
    if read.device != device.name {
        return Err(LineError::OtherDevice(read.device));
    }
    if read.at.as_second() < CENTURY_S {
        return Err(LineError::TooEarly(read.at));
    }
    if !device.place.reads(read.quantity) {
        return Err(LineError::NotThere(read.quantity, device.place));
    }
    let value = kept(read.quantity, read.value, &read.unit)? + device.offset;
    Ok(Line { value, ..read })
}

/// Judges and keeps readings; one event tells of the last.
async fn keep(
    app: &App,
    (workshop, device): (WorkshopId, &DeviceRecord),
    mut lines: Vec<Line>,
    taken: &mut Taken,
) -> Result<(), AppError> {
    if lines.is_empty() {
        return Ok(());
    }
    let now = app.now();
    let transaction = app.store.begin().await?;
    transaction.lock_device(device.id).await?;
    let seqs: Vec<i64> = lines.iter().map(|line| line.seq).collect();
    let known: BTreeSet<i64> =
        transaction.known_seqs(device.id, &seqs).await?.into_iter().collect();
    taken.known += known.len();
    lines.retain(|line| !known.contains(&line.seq));
    lines.sort_by_key(|line| line.seq);
    let readings = judge(&transaction, device, &lines, now).await?;
    transaction.add_readings(device.id, &readings, now).await?;
    if let Some(last) = readings.iter().max_by_key(|reading| reading.judged.at)
        && !device.is_silenced
    {
        let Judged { at, value, doubt } = last.judged;
        let (place, quantity) = (device.place, last.quantity);
        let read = Event::Read { workshop, device: device.id, place, quantity, at, value, doubt };
        tell(&transaction, &read).await?;
    }
    transaction.commit().await?;
    taken.taken = readings.len();
    taken.doubted = readings.iter().filter(|reading| reading.judged.doubt.is_some()).count();
    Ok(())
}

async fn judge(
    transaction: &Transaction,
    device: &DeviceRecord,
    lines: &[Line],
    now: Timestamp,
) -> Result<Vec<NewReading>, AppError> {
    let mut readings = Vec::with_capacity(lines.len());
    let mut quantities: Vec<Quantity> = lines.iter().map(|line| line.quantity).collect();
    quantities.sort_unstable();
    quantities.dedup();
    for quantity in quantities {
        let mut earlier = transaction.newest_readings(device.id, quantity, LOOKED_BACK).await?;
        for line in lines.iter().filter(|line| line.quantity == quantity) {
            let from = earlier.len().saturating_sub(LOOKED_BACK);
            let read = (line.at, line.value);
            let doubt: Option<Doubt> = doubt((device.place, quantity), read, &earlier[from..], now);
            let judged = Judged { at: line.at, value: line.value, doubt };
            earlier.push(judged);
            readings.push(NewReading { seq: line.seq, quantity, judged });
        }
    }
    Ok(readings)
}

impl App {
    /// The readings of an instrument in the order of its own numbers.
    ///
    /// # Errors
    /// [`AppError`].
    pub async fn readings_of(
        &self,
        shop: &Shop,
        device: DeviceId,
    ) -> Result<Vec<(i64, Judged)>, AppError> {
        Ok(self.store.read().readings_of(shop.id, device).await?)
    }
}

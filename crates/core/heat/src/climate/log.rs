//! Readings of an air logger, gathered as far as the model needs them.

use jiff::{SignedDuration, Timestamp};

use fondant_quantities::Temperature;

use super::series::AirAt;

/// Readings are gathered into quarters of an hour, s.
const GATHERED_S: i64 = 900;
/// Longest time between readings that is not a gap (convention).
const GAP: SignedDuration = SignedDuration::from_hours(2);
/// The humidity where the logger has none, percent.
const UNKNOWN_HUMIDITY: f64 = 55.0;

/// One reading.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirRow {
    /// Time of the value, UTC.
    pub at: Timestamp,
    /// Air temperature.
    pub temperature: Temperature,
    /// Relative humidity, percent; `None` where the logger has none.
    pub humidity_percent: Option<f64>,
}

/// A log as it is kept.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct AirLog {
    /// Quarter-hour means, in order.
    pub readings: Vec<AirAt>,
    /// Rows that held a reading.
    pub rows: usize,
    /// Stretches of more than two hours without one.
    pub gaps: Vec<(Timestamp, Timestamp)>,
    /// It has no humidity; 55 % is assumed.
    pub lacks_humidity: bool,
}

impl AirLog {
    /// Of readings in order of time.
    #[must_use]
    pub fn of(rows: &[AirRow]) -> Self {
        let gaps = rows.windows(2).filter(|p| p[1].at.duration_since(p[0].at) > GAP);
        Self {
            gaps: gaps.map(|p| (p[0].at, p[1].at)).collect(),
            lacks_humidity: rows.iter().all(|row| row.humidity_percent.is_none()),
            rows: rows.len(),
            readings: gathered(rows),
        }
    }
}

fn gathered(rows: &[AirRow]) -> Vec<AirAt> {
    let mut all: Vec<AirAt> = Vec::new();
    for group in rows.chunk_by(|a, b| quarter(a.at) == quarter(b.at)) {
        let count = group.len() as f64;
        let k = group.iter().map(|row| row.temperature.k()).sum::<f64>() / count;
        let humid: Vec<f64> = group.iter().filter_map(|row| row.humidity_percent).collect();
        let percent = match humid.len() {
            0 => all.last().map_or(UNKNOWN_HUMIDITY, |before| before.humidity_percent),
            count => humid.iter().sum::<f64>() / count as f64,
        };
        all.push(AirAt {
            at: group[0].at,
            temperature: Temperature::from_k(k),
            humidity_percent: percent,
        });
    }
    all
}

fn quarter(at: Timestamp) -> i64 {
    at.as_second().div_euclid(GATHERED_S)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn gaps_are_told_and_dense_logs_gathered() {
        let start: Timestamp = "2026-11-23T06:00:00Z".parse().unwrap();
        let temperature = Temperature::from_celsius(15.0);
        let rows: Vec<AirRow> = (0..600)
            .filter(|i| !(200..400).contains(i))
            .map(|i| AirRow {
                at: start + SignedDuration::from_mins(i),
                temperature,
                humidity_percent: None,
            })
            .collect();
        let log = AirLog::of(&rows);
        assert_eq!((log.rows, log.gaps.len(), log.lacks_humidity), (400, 1, true));
        assert!(log.readings.len() < 30);
        assert!((log.readings[3].humidity_percent - 55.0).abs() < 1e-9);
    }
}

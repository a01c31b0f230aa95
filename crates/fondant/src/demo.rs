//! A made-up workshop to look round in. Dates are relative to the day on which
//! it is loaded.

use fondant_core::form::Piece;
use fondant_core::plan::Plan;
use fondant_core::quantities::units::UnitSystem;
use fondant_core::quantities::{Density, Length, Temperature};
use fondant_core::resin::ResinId;
use fondant_core::schedule::Workday;
use fondant_core::timber::{Board, Station};
use fondant_store::repos::NewWorkshop;
use fondant_store::{Store, StoreError};
use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

const ZONE: &str = "Europe/Lisbon";

/// Loads the workshop and its casts.
pub(crate) async fn load(store: &Store, now: Timestamp) -> Result<(), StoreError> {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 30, 0, 0) };
    let workshop = NewWorkshop {
        name: "Saltmarsh Lane workshop".into(),
        time_zone: ZONE.into(),
        days: std::array::from_fn(|index| (index < 6).then_some(day)),
        units: UnitSystem::Metric,
    };
    let id = store.create_workshop(&workshop).await?;
    let begin = tomorrow_at_eight(now);
    // The list shows the one changed last first.
    let casts = [bench(begin), bar(begin), side_table(begin), hall_table(begin)];
    for (age, plan) in casts.iter().enumerate() {
        let changed =
            now - SignedDuration::from_hours(26 * (3 - age as i64)) - SignedDuration::from_mins(12);
        store.create_cast(id, plan, changed).await?;
    }
    Ok(())
}

fn tomorrow_at_eight(now: Timestamp) -> Timestamp {
    let zone = TimeZone::get(ZONE).unwrap_or(TimeZone::UTC);
    now.to_zoned_datetime(zone.clone())
        .date()
        .tomorrow()
        .and_then(|date| date.at(8, 0, 0, 0).to_zoned_datetime(zone))
        .map_or(now, |at| at.timestamp())
}

fn piece(length_mm: f64, width_mm: f64, thickness_mm: f64) -> Piece {
    Piece::slab(Length::from_mm(length_mm), Length::from_mm(width_mm), Length::from_mm(thickness_mm), Length::from_mm(10.0))
}

fn board(timber: &str, thickness_mm: f64, kg_m3: f64, moisture_percent: f64) -> Board {
    Board {
        timber: timber.into(),
        thickness: Length::from_mm(thickness_mm),
        density: Density::from_kg_m3(kg_m3),
        moisture_percent,
    }
}

/// Place, width and distance from the near wall, mm.
fn stations(measured: &[(f64, f64, f64)]) -> Vec<Station> {
    measured
        .iter()
        .map(|(at, width, from_wall)| Station {
            at: Length::from_mm(*at),
            width: Length::from_mm(*width),
            from_wall: Some(Length::from_mm(*from_wall)),
        })
        .collect()
}

fn hall_table(begin: Timestamp) -> Plan {
    let mut plan = Plan::river_top(
        "Hall table, elm with a wide bay".into(),
        piece(1500.0, 760.0, 34.0),
        begin,
    );
    plan.timber.near = board("elm", 38.0, 560.0, 9.0);
    plan.timber.far = board("elm", 38.0, 575.0, 9.5);
    plan.river.stations = stations(&[
        (0.0, 217.0, 296.0),
        (190.0, 209.0, 292.0),
        (380.0, 196.0, 273.0),
        (570.0, 262.0, 238.0),
        (760.0, 274.0, 271.0),
        (950.0, 148.0, 308.0),
        (1140.0, 236.0, 228.0),
        (1330.0, 281.0, 262.0),
        (1520.0, 186.0, 312.0),
    ]);
    plan.conditions.air = Temperature::from_celsius(19.0);
    plan.conditions.resin = Temperature::from_celsius(21.0);
    plan
}

fn side_table(begin: Timestamp) -> Plan {
    let mut plan = Plan::river_top(
        "Side table, pear and a thread of green".into(),
        piece(640.0, 420.0, 20.0),
        begin,
    );
    plan.timber.near = board("pear", 25.0, 700.0, 8.5);
    plan.timber.far = board("pear", 24.0, 700.0, 8.0);
    plan.river.stations = stations(&[
        (0.0, 38.0, 190.0),
        (165.0, 52.0, 176.0),
        (330.0, 44.0, 205.0),
        (495.0, 61.0, 196.0),
        (660.0, 35.0, 214.0),
    ]);
    plan.resin = ResinId("medium-casting-epoxy".into());
    plan.conditions.air = Temperature::from_celsius(21.0);
    plan.conditions.resin = Temperature::from_celsius(21.0);
    plan
}

fn bar(begin: Timestamp) -> Plan {
    let mut plan = Plan::river_top(
        "Bar top for the ferry steps, deep oak".into(),
        piece(2400.0, 620.0, 64.0),
        begin,
    );
    plan.timber.near = board("oak", 68.0, 690.0, 11.0);
    plan.timber.far = board("oak", 70.0, 705.0, 10.5);
    plan.river.stations = stations(&[
        (0.0, 120.0, 255.0),
        (400.0, 165.0, 230.0),
        (800.0, 210.0, 196.0),
        (1200.0, 174.0, 240.0),
        (1600.0, 232.0, 205.0),
        (2000.0, 190.0, 226.0),
        (2420.0, 138.0, 260.0),
    ]);
    plan.conditions.air = Temperature::from_celsius(18.0);
    plan
}

fn bench(begin: Timestamp) -> Plan {
    Plan::river_top("Bench seat, boards just in".into(), piece(1200.0, 380.0, 40.0), begin)
}

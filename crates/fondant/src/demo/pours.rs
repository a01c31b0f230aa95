//! What the made-up workshop has taken on: one cast half poured, blanks in the
//! pot, a block planned, and a logger that has been writing for a week.

use fondant_cast::pouring::as_taken;
use fondant_cast::{Agenda, AirFrom, Evaluation, Fact, Plan, ShopSettings, Site, evaluate, facts};
use fondant_devices::forecast::{ForecastSource, SimulatedForecast, read};
use fondant_heat::climate::AirAt;
use fondant_heat::climate::indoor::Indoor;
use fondant_heat::climate::profile::Profile;
use fondant_materials::resin::shipped;
use fondant_pours::refit;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Mass, Span, Temperature, TemperatureDelta};
use fondant_store::repos::{CastId, WorkshopId};
use fondant_store::{Store, StoreError};
use jiff::{SignedDuration, Timestamp};

/// The casts of the demo with pours, by their place in the list.
const HALF_POURED: usize = 3;
const IN_POT: usize = 7;
const BLOCK: usize = 6;
const TABLE: usize = 2;

/// Machines, people and air of the workshop.
pub(super) fn shop() -> ShopSettings {
    ShopSettings {
        hands: 1,
        buckets: [2.0, 5.0, 12.0].map(Mass::from_kg).to_vec(),
        pot_bar: Some(4.0),
        vacuum_mbar: Some(80.0),
        has_fan: true,
        air: Profile::Forecast { indoor: room() },
        ..ShopSettings::default()
    }
}

/// A brick workshop with a heater for the nights.
fn room() -> Indoor {
    Indoor {
        offset: TemperatureDelta::from_k(5.5),
        lag: Span::from_h(7.0),
        added_pa: 40.0,
        set_point: Some(Temperature::from_celsius(16.5)),
        dry_to_percent: Some(68.0),
    }
}

fn corrupt(error: &dyn std::fmt::Display) -> StoreError {
    StoreError::Corrupt(error.to_string())
}

/// Loads them.
pub(super) async fn load(
    store: &Store,
    shop: WorkshopId,
    ids: &[CastId],
    now: Timestamp,
) -> Result<(), StoreError> {
    let workshop = store.workshop().await?.ok_or(StoreError::NotFound("workshop"))?;
    let document = SimulatedForecast::coast().document(now).map_err(|e| corrupt(&e))?;
    let outside = read(&document).map_err(|e| corrupt(&e))?;
    let inside = room().follow(&outside);
    log(store, shop, &inside, now).await?;
    let air = fondant_heat::climate::AirSeries::new(&inside).map_err(|e| corrupt(&e))?;
    let settings = &workshop.settings.shop;
    let site = Site {
        hours: workshop.settings.hours()?,
        air,
        hands: settings.hands,
        mixing: settings.mixing_takes,
        pouring: settings.pouring_takes,
    };
    half_poured(store, shop, ids[HALF_POURED], &site, now).await?;
    in_pot(store, shop, ids[IN_POT], &site, now).await?;
    let begin = now + SignedDuration::from_hours(10);
    let block = store.cast(shop, ids[BLOCK]).await?.plan;
    let Some((block, at_block)) = taken(&block, &site, begin) else { return Ok(()) };
    take(store, shop, ids[BLOCK], (&block, &at_block), now).await?;
    let table = store.cast(shop, ids[TABLE]).await?.plan;
    let Some((table, at_table)) = taken(&table, &site, begin) else { return Ok(()) };
    let colliding = at_the_same_time(&table, &at_table, &at_block, &site);
    let table = colliding.as_ref().map_or((&table, &at_table), |(plan, found)| (plan, found));
    take(store, shop, ids[TABLE], table, now).await
}

/// What the shop's logger wrote in the past week, with a gap of a night.
async fn log(
    store: &Store,
    shop: WorkshopId,
    inside: &[AirAt],
    now: Timestamp,
) -> Result<(), StoreError> {
    let week = now - SignedDuration::from_hours(7 * 24);
    let gap = (now - SignedDuration::from_hours(76), now - SignedDuration::from_hours(69));
    let readings: Vec<AirAt> = inside
        .iter()
        .filter(|reading| reading.at > week && reading.at < now)
        .filter(|reading| reading.at < gap.0 || reading.at > gap.1)
        .enumerate()
        .map(|(index, reading)| {
            let noise = 0.2 * (index as f64 * 12.9898).sin();
            let temperature = reading.temperature + TemperatureDelta::from_k(noise);
            AirAt { temperature, ..*reading }
        })
        .collect();
    store.add_air(shop, &readings).await
}

fn worked(plan: &Plan, site: &Site) -> Option<Evaluation> {
    let resin = shipped::find(&plan.resin).ok()?;
    evaluate(plan, &resin, site).ok()
}

/// A plan begun at a time, its proposal taken.
fn taken(plan: &Plan, site: &Site, begin: Timestamp) -> Option<(Plan, Evaluation)> {
    let mut plan = plan.clone();
    plan.conditions.air_from = AirFrom::Shop;
    plan.pours.not_before = begin;
    plan.pours.taken.clear();
    let proposed = worked(&plan, site)?;
    plan.pours.taken = as_taken(proposed.pours.as_ref().ok()?);
    let evaluation = worked(&plan, site)?;
    Some((plan, evaluation))
}

/// The plan begun with a pour of another cast, so that Today has a collision
/// to show; `None` where that would break something else.
fn at_the_same_time(
    plan: &Plan,
    evaluation: &Evaluation,
    other: &Evaluation,
    site: &Site,
) -> Option<(Plan, Evaluation)> {
    let task = evaluation.pour_task.as_ref()?;
    let given = task.taken()?;
    other.pours.as_ref().ok()?.pours.iter().find_map(|pour| {
        let mut moved = given.clone();
        moved[0].at = pour.at;
        let ladder = task.ladder_of(&moved);
        let moved = refit(&task.task(&ladder), &moved, 0).ok()?;
        let schedule = task.judged(&moved).ok().filter(|schedule| schedule.breaks.is_empty())?;
        let mut plan = plan.clone();
        plan.pours.taken = as_taken(&schedule);
        let found = worked(&plan, site)?;
        Some((plan, found))
    })
}

/// Keeps a plan whose pour times are taken.
async fn take(
    store: &Store,
    shop: WorkshopId,
    id: CastId,
    (plan, evaluation): (&Plan, &Evaluation),
    now: Timestamp,
) -> Result<(), StoreError> {
    let record = store.cast(shop, id).await?;
    store.save_plan(shop, id, record.revision, plan, now).await?;
    let agenda = evaluation.pours.as_ref().ok().map(|schedule| Agenda::of(plan, schedule, 0, now));
    store.keep_agenda(shop, id, agenda.as_ref()).await
}

/// A river top of which the first layers are in and the next window is near.
async fn half_poured(
    store: &Store,
    shop: WorkshopId,
    id: CastId,
    site: &Site,
    now: Timestamp,
) -> Result<(), StoreError> {
    let record = store.cast(shop, id).await?;
    // Of the beginnings of the past days, the one whose next pour is nearest.
    let nearest = (6..=30)
        .filter_map(|back| {
            let begin = now - SignedDuration::from_hours(back * 2);
            let (plan, evaluation) = taken(&record.plan, site, begin)?;
            let schedule = evaluation.pours.as_ref().ok()?;
            let next = schedule.pours.iter().map(|pour| pour.at).find(|at| *at > now)?;
            let has_poured = schedule.pours[0].done < now;
            has_poured.then_some((next - now, plan, evaluation))
        })
        .min_by_key(|found| found.0);
    let Some((_, plan, evaluation)) = nearest else { return Ok(()) };
    let Ok(schedule) = &evaluation.pours else { return Ok(()) };
    store.save_plan(shop, id, record.revision, &plan, now).await?;
    for (index, pour) in schedule.pours.iter().enumerate().filter(|(_, pour)| pour.done < now) {
        // Nobody pours to the minute.
        let late = SignedDuration::from_mins([6, -4, 11][index % 3]);
        let resin_at = Some(plan.conditions.resin + TemperatureDelta::from_k(0.5));
        let fact = Fact::Poured { pour: index, at: pour.at + late, resin_at };
        store.add_fact(id, &fact, pour.done).await?;
        let touched = pour.opens + SignedDuration::from_mins(40);
        if touched < now && schedule.pours.get(index + 1).is_none_or(|next| next.at > touched) {
            let fact = Fact::Touched { pour: index, at: touched, found: Touch::Tacky };
            store.add_fact(id, &fact, touched).await?;
        }
    }
    let rows = store.facts(id).await?;
    let task = evaluation.pour_task.as_ref();
    let observed = task
        .and_then(|task| Some((task, task.taken()?)))
        .and_then(|(task, given)| facts::by_facts(task, &given, &rows).ok());
    let schedule = observed.as_ref().map_or(schedule, |observed| &observed.schedule);
    let agenda = Agenda::of(&plan, schedule, facts::poured(&rows), now);
    store.keep_agenda(shop, id, Some(&agenda)).await
}

/// Blanks that went into the pot in the past hours of the shop.
async fn in_pot(
    store: &Store,
    shop: WorkshopId,
    id: CastId,
    site: &Site,
    now: Timestamp,
) -> Result<(), StoreError> {
    let record = store.cast(shop, id).await?;
    let found = (1..=20).find_map(|back| {
        let begin = now - SignedDuration::from_hours(back * 2);
        let (plan, evaluation) = taken(&record.plan, site, begin)?;
        let done = evaluation.pours.as_ref().ok()?.pours[0].done;
        (done < now).then_some((plan, evaluation))
    });
    let Some((plan, evaluation)) = found else { return Ok(()) };
    let Ok(schedule) = &evaluation.pours else { return Ok(()) };
    store.save_plan(shop, id, record.revision, &plan, now).await?;
    let fact = Fact::Poured { pour: 0, at: schedule.pours[0].at, resin_at: None };
    store.add_fact(id, &fact, schedule.pours[0].done).await?;
    store.keep_agenda(shop, id, Some(&Agenda::of(&plan, schedule, 1, now))).await
}

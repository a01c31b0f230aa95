//! What the made-up workshop has taken on: one cast half poured, blanks in the pot, a block planned,
//! and a logger that has been writing for a week.

use fondant_app::beginning::NewCast;
use fondant_app::records::WorkshopSettings;
use fondant_cast::agenda::Agenda;
use fondant_cast::document::{AirFrom, PourId};
use fondant_cast::facts::{Fact, FactRow, by_facts, poured_of};
use fondant_cast::pours::{as_given, take};
use fondant_cast::shop::Prices;
use fondant_cast::{Document, Evaluation, Forecast, Inputs, ShopSettings, Site, evaluate};
use fondant_devices::forecast::{ForecastSource, SimulatedForecast, read};
use fondant_heat::climate::indoor::Indoor;
use fondant_heat::climate::profile::{Profile, Way};
use fondant_heat::climate::{AirAt, AirSeries};
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Given, Schedule, refit};
use fondant_quantities::{Mass, Money, Span, Temperature, TemperatureDelta};
use jiff::{SignedDuration, Timestamp};

use super::DemoError;

/// Machines, people and air of the workshop.
pub(super) fn shop() -> ShopSettings {
    ShopSettings {
        hands: 1,
        buckets: [2.0, 5.0, 12.0].map(Mass::from_kg).to_vec(),
        pot_bar: Some(4.0),
        vacuum_mbar: Some(80.0),
        has_fan: true,
        prices: Prices {
            hour: Money::from_units(38.0),
            sheet_m2: Money::from_units(14.0),
            consumables: Money::from_units(4.0),
        },
        air: Profile { by: Way::Forecast, indoor: room(), ..Profile::default() },
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

/// The air inside, past and to come.
pub(super) fn inside(now: Timestamp) -> Result<Vec<AirAt>, DemoError> {
    let outside = read(&SimulatedForecast::coast().document(now)?)?;
    Ok(room().follow(&outside))
}

/// What the shop's logger wrote in the past week, with a gap of a night.
pub(super) fn log(inside: &[AirAt], now: Timestamp) -> Vec<AirAt> {
    let week = now - SignedDuration::from_hours(7 * 24);
    let gap = (now - SignedDuration::from_hours(76), now - SignedDuration::from_hours(69));
    inside
        .iter()
        .filter(|reading| reading.at > week && reading.at < now)
        .filter(|reading| reading.at < gap.0 || reading.at > gap.1)
        .enumerate()
        .map(|(index, reading)| {
            let noise = 0.2 * (index as f64 * 12.9898).sin();
            let temperature = reading.temperature + TemperatureDelta::from_k(noise);
            AirAt { temperature, ..*reading }
        })
        .collect()
}

/// The workshop as its casts see it.
pub(super) fn site(settings: &WorkshopSettings, inside: &[AirAt]) -> Result<Site, DemoError> {
    Ok(Site {
        hours: settings.hours()?,
        air: AirSeries::new(inside)?,
        humidity_percent: settings.shop.humidity_percent(),
        hands: settings.shop.hands,
        mixing: settings.shop.mixing_takes,
        pouring: settings.shop.pouring_takes,
    })
}

/// A document with its plan taken, and what follows from it.
pub(super) struct Taken {
    document: Document,
    inputs: Inputs,
    evaluation: Evaluation,
}

fn worked(document: &Document, site: &Site) -> Option<(Inputs, Evaluation)> {
    let resin = shipped::find(&document.resin).ok()?;
    let stages: Result<Vec<_>, _> = document.stages.named_resins().map(shipped::find).collect();
    let inputs = Inputs::new(document.clone(), resin, site).with_stage_resins(stages.ok()?);
    let evaluation = evaluate(&inputs, &Stop::NEVER).ok()?;
    Some((inputs, evaluation))
}

/// A plan begun at a time, before it is taken.
struct Proposed {
    document: Document,
    schedule: Schedule,
}

impl Proposed {
    fn at(document: &Document, site: &Site, begin: Timestamp) -> Option<Self> {
        let mut document = document.clone();
        document.conditions.air_from = AirFrom::Shop;
        document.pours.not_before = begin;
        document.pours.taken.clear();
        let (_, proposed) = worked(&document, site)?;
        Some(Self { document, schedule: proposed.pours.ok()? })
    }

    fn taken(self, site: &Site) -> Option<Taken> {
        Taken::of(self.document, &as_given(&self.schedule), site)
    }
}

impl Taken {
    /// A plan begun at a time, its proposal taken.
    pub(super) fn from(document: &Document, site: &Site, begin: Timestamp) -> Option<Self> {
        Proposed::at(document, site, begin)?.taken(site)
    }

    fn of(mut document: Document, given: &[Given], site: &Site) -> Option<Self> {
        let mut place = 0;
        take(&mut document.pours, given, || {
            place += 1;
            PourId::of_place(place - 1)
        });
        let (inputs, evaluation) = worked(&document, site)?;
        Some(Self { document, inputs, evaluation })
    }

    fn schedule(&self) -> Option<&Schedule> {
        self.evaluation.pours.as_ref().ok()
    }

    fn given(&self) -> Vec<Given> {
        let planned = self.evaluation.planned.as_deref().unwrap_or_default();
        planned.iter().map(|planned| planned.given).collect()
    }

    /// The plan begun with a pour of another cast, so that Today has a collision to show; `None`
    /// where that would break something else.
    pub(super) fn at_the_time_of(&self, other: &Self, site: &Site) -> Option<Self> {
        let task = self.evaluation.pour_task.as_ref()?;
        other.schedule()?.pours.iter().find_map(|pour| {
            let mut moved = self.given();
            moved.first_mut()?.at = pour.at;
            let ladder = task.ladder_of(&moved);
            let moved = refit(&task.task(&ladder), &moved, 0).ok()?;
            let schedule = task.judged(&moved).ok().filter(|s| s.breaks.is_empty())?;
            Self::of(self.document.clone(), &as_given(&schedule), site)
        })
    }

    /// Puts it into a cast, with what has happened.
    pub(super) fn put_into(
        &self,
        cast: &mut NewCast,
        facts: Vec<(Fact, Timestamp)>,
        now: Timestamp,
    ) {
        cast.document = self.document.clone();
        cast.agenda = self.agenda(&facts, now);
        cast.forecast = Forecast::of(&self.inputs, &self.evaluation, &Stop::NEVER);
        cast.facts = facts;
    }

    fn agenda(&self, facts: &[(Fact, Timestamp)], now: Timestamp) -> Option<Agenda> {
        let (task, planned) =
            (self.evaluation.pour_task.as_ref()?, self.evaluation.planned.as_deref()?);
        let row = |(number, (fact, at)): (i64, &(Fact, Timestamp))| FactRow {
            number,
            fact: *fact,
            recorded_at: *at,
        };
        let rows: Vec<FactRow> = (1..).zip(facts).map(row).collect();
        let observed = by_facts(task, planned, &rows).ok();
        let schedule = match &observed {
            Some(observed) => &observed.schedule,
            None => self.schedule()?,
        };
        let poured = poured_of(planned, &rows);
        Some(Agenda::of(&self.document, planned, schedule, poured, now))
    }

    fn id(&self, index: usize) -> PourId {
        self.document.pours.taken[index].id
    }
}

/// A river top of which the first layers are in and the next window is near.
pub(super) fn half_poured(
    document: &Document,
    site: &Site,
    now: Timestamp,
) -> Option<(Taken, Vec<(Fact, Timestamp)>)> {
    // Of the beginnings of the past days, the one whose next pour is nearest.
    let nearest = (6..=30)
        .filter_map(|back| {
            let begin = now - SignedDuration::from_hours(back * 2);
            let proposed = Proposed::at(document, site, begin)?;
            let pours = &proposed.schedule.pours;
            let next = pours.iter().map(|pour| pour.at).find(|at| *at > now)?;
            (pours[0].done < now).then_some((next - now, proposed))
        })
        .min_by_key(|found| found.0);
    let taken = nearest?.1.taken(site)?;
    let facts = happened(&taken, now)?;
    Some((taken, facts))
}

/// Pours that lie in the past happened, and were touched.
fn happened(taken: &Taken, now: Timestamp) -> Option<Vec<(Fact, Timestamp)>> {
    let pours = &taken.schedule()?.pours;
    let mut facts = Vec::new();
    for (index, pour) in pours.iter().enumerate().filter(|(_, pour)| pour.done < now) {
        // Nobody pours to the minute.
        let late = SignedDuration::from_mins([6, -4, 11][index % 3]);
        let resin_at = Some(taken.document.conditions.resin + TemperatureDelta::from_k(0.5));
        let fact = Fact::Poured { pour: taken.id(index), at: pour.at + late, resin_at };
        facts.push((fact, pour.done));
        let touched = pour.opens + SignedDuration::from_mins(40);
        if touched < now && pours.get(index + 1).is_none_or(|next| next.at > touched) {
            let found = Touch::Tacky;
            facts.push((
                Fact::Touched { pour: taken.id(index), at: touched, found, cup: None },
                touched,
            ));
        }
    }
    Some(facts)
}

/// Blanks that went into the pot in the past hours of the shop.
pub(super) fn in_pot(
    document: &Document,
    site: &Site,
    now: Timestamp,
) -> Option<(Taken, Vec<(Fact, Timestamp)>)> {
    (1..=20).find_map(|back| {
        let begin = now - SignedDuration::from_hours(back * 2);
        let proposed = Proposed::at(document, site, begin)?;
        let first = proposed.schedule.pours.first().filter(|first| first.done < now)?;
        let (at, done) = (first.at, first.done);
        let taken = proposed.taken(site)?;
        let fact = Fact::Poured { pour: taken.id(0), at, resin_at: None };
        Some((taken, vec![(fact, done)]))
    })
}

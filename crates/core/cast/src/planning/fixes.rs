//! The smallest changes that make a plan possible, each checked by the search.

use fondant_materials::resin::{Record, ResinId};
use fondant_numerics::Stop;
use fondant_pours::layers::{LayerKind, MOST_LAYERS};
use fondant_pours::{Break, Exception, Schedule, ScheduleError, ScheduledPour, ShopHours, Workday};
use fondant_quantities::TemperatureDelta;
use jiff::civil::{Date, Time};
use jiff::{SignedDuration, Timestamp};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};

use crate::document::{AirFrom, Document, Split};
use crate::evaluate::{Evaluation, Inputs, evaluate};
use crate::pours::{PourTask, PourTrouble, Site};

/// A change.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Fix {
    /// Begin at another time.
    Begin(Timestamp),
    /// Heat the air, or cool it where negative.
    Heat(TemperatureDelta),
    /// Dry the air to this humidity, percent.
    Dry(f64),
    /// A number of equal layers.
    Layers(u32),
    /// Another resin of the shelf.
    Resin(ResinId, String),
    /// Open the shop at this time once.
    OpenOnce(Date, Time),
    /// Keep the shop open until this time once.
    StayOnce(Date, Time),
    /// A number of pairs of hands.
    Hands(u32),
}

/// A change and what comes of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Offer {
    /// The change.
    pub fix: Fix,
    /// When the form can be opened then.
    pub hard: Timestamp,
    /// Joints that must be sanded then.
    pub sanded: usize,
    /// Pours then.
    pub pours: usize,
}

const DELAYS_H: [i64; 4] = [12, 24, 48, 96];
const WARMER_K: [f64; 5] = [1.0, 2.0, 3.0, 5.0, 8.0];
/// What a dehumidifier may be set to, percent.
const DRIED_PERCENT: [f64; 4] = [75.0, 65.0, 55.0, 45.0];
const EARLY: Time = Time::constant(6, 30, 0, 0);
const LATE: Time = Time::constant(21, 0, 0, 0);
/// Changes offered at most.
const MOST_OFFERS: usize = 6;

/// Whether changes would help: there are no pour times, they break something, or a joint has to be
/// sanded.
#[must_use]
pub fn is_wanted(evaluation: &Evaluation) -> bool {
    match &evaluation.pours {
        Ok(schedule) => schedule.sanded_joints() > 0 || !schedule.breaks.is_empty(),
        Err(_) => true,
    }
}

/// The smallest change of each sort that makes pour times where there are none,
/// or spares a joint from sanding. `resins` are the others of the shelf.
#[must_use]
pub fn offers(
    inputs: &Inputs,
    evaluation: &Evaluation,
    resins: &[Record],
    stop: &Stop,
) -> Vec<Offer> {
    if !is_wanted(evaluation) {
        return Vec::new();
    }
    let site = &inputs.site;
    let from = inputs.document.pours.not_before;
    // Each list holds one sort of change, the smallest first.
    let lists: Vec<Vec<Fix>> = vec![
        once(evaluation, site),
        DELAYS_H.iter().map(|h| Fix::Begin(from + SignedDuration::from_hours(*h))).collect(),
        WARMER_K.iter().map(|k| Fix::Heat(TemperatureDelta::from_k(*k))).collect(),
        WARMER_K.iter().map(|k| Fix::Heat(TemperatureDelta::from_k(-*k))).collect(),
        drier(evaluation),
        layers(evaluation),
        (site.hands + 1..=site.hands + 2).map(Fix::Hands).collect(),
    ];
    let others: Vec<Vec<Fix>> =
        resins.iter().map(|r| vec![Fix::Resin(r.id.clone(), r.name.clone())]).collect();
    let now = sanded_or_none(evaluation);
    let mut offers: Vec<Offer> = lists
        .par_iter()
        .chain(others.par_iter())
        .filter_map(|list| {
            list.iter().find_map(|fix| {
                let offer = checked(inputs, fix, resins, stop)?;
                now.is_none_or(|sanded| offer.sanded < sanded).then_some(offer)
            })
        })
        .collect();
    let (changes, mut resins): (Vec<Offer>, Vec<Offer>) =
        offers.drain(..).partition(|offer| !matches!(offer.fix, Fix::Resin(..)));
    // Of all other resins the one that is soonest.
    resins.sort_by_key(|offer| (offer.sanded, offer.hard));
    changes.into_iter().chain(resins.into_iter().take(2)).take(MOST_OFFERS).collect()
}

/// A document and its shop with a change made.
#[derive(Debug, Clone)]
pub struct Changed {
    /// The document, without the pours that were taken.
    pub document: Document,
    /// The shop.
    pub site: Site,
}

/// A change made to a document and its shop; `None` where it cannot be made.
#[must_use]
pub fn with(document: &Document, fix: &Fix, site: &Site) -> Option<Changed> {
    let (mut document, mut site) = (document.clone(), site.clone());
    document.pours.give_up();
    match fix {
        Fix::Begin(at) => document.pours.not_before = *at,
        Fix::Heat(by) => {
            let conditions = &mut document.conditions;
            match conditions.air_from {
                AirFrom::Shop => conditions.heated = conditions.heated + *by,
                AirFrom::Steady => conditions.air = conditions.air + *by,
            }
        }
        Fix::Dry(percent) => document.conditions.dried_to_percent = Some(*percent),
        Fix::Layers(count) => document.pours.split = Split::Equal { count: *count },
        Fix::Resin(id, _) => document.resin = id.clone(),
        Fix::OpenOnce(date, time) => {
            let exception = opened(&site.hours, *date, Some(*time), None)?;
            site.hours = site.hours.with_exceptions(&[exception]).ok()?;
        }
        Fix::StayOnce(date, time) => {
            let exception = opened(&site.hours, *date, None, Some(*time))?;
            site.hours = site.hours.with_exceptions(&[exception]).ok()?;
        }
        Fix::Hands(hands) => site.hands = *hands,
    }
    document.conflicts().is_empty().then_some(Changed { document, site })
}

/// The hours of a date, opened earlier or kept open later.
#[must_use]
pub fn opened(
    hours: &ShopHours,
    date: Date,
    opens: Option<Time>,
    closes: Option<Time>,
) -> Option<Exception> {
    let mut hours: Vec<Workday> = hours.on_date(date).to_vec();
    match (hours.first_mut(), opens) {
        (Some(first), Some(opens)) if opens < first.opens => first.opens = opens,
        (None, Some(opens)) => hours.push(Workday { opens, closes: Time::constant(9, 0, 0, 0) }),
        (_, None) => {}
        _ => return None,
    }
    if let Some(closes) = closes {
        let last = hours.last_mut().filter(|last| closes > last.closes)?;
        last.closes = closes;
    }
    Some(Exception { date, hours })
}

fn sanded_or_none(evaluation: &Evaluation) -> Option<usize> {
    evaluation.pours.as_ref().ok().map(|s| s.sanded_joints() + s.breaks.len())
}

/// Drier air, where the air is what forbids a pour.
fn drier(evaluation: &Evaluation) -> Vec<Fix> {
    let is_air = |broken: &Break| matches!(broken, Break::UnfitAir { .. });
    let wanted = match &evaluation.pours {
        Ok(schedule) => schedule.breaks.iter().any(is_air),
        Err(trouble) => {
            matches!(trouble, PourTrouble::Schedule(ScheduleError::NoFitAir { .. }))
        }
    };
    if wanted { DRIED_PERCENT.map(Fix::Dry).to_vec() } else { Vec::new() }
}

/// A few layers more than are tried anyway.
fn layers(evaluation: &Evaluation) -> Vec<Fix> {
    let now = match &evaluation.pours {
        Ok(schedule) => {
            let main = |p: &&ScheduledPour| matches!(p.layer.kind, LayerKind::Main(_));
            schedule.pours.iter().filter(main).count()
        }
        Err(_) => evaluation.pour_task.as_ref().map_or(1, PourTask::fewest),
    };
    (now + 1..=(now + 4).min(MOST_LAYERS)).map(|count| Fix::Layers(count as u32)).collect()
}

/// Opening early or staying late on the days on which a window was missed.
fn once(evaluation: &Evaluation, site: &Site) -> Vec<Fix> {
    let Ok(schedule) = &evaluation.pours else { return Vec::new() };
    let mut all = Vec::new();
    for below in missed(schedule) {
        let zone = site.hours.zone();
        let on = |at: Timestamp| at.to_zoned_datetime(zone.clone()).date();
        let (opens, closes) = (on(below.0), on(below.1));
        for date in [closes, opens] {
            all.push(Fix::OpenOnce(date, EARLY));
            all.push(Fix::StayOnce(date, LATE));
        }
    }
    all.truncate(8);
    all
}

/// Windows in which nothing could be poured.
fn missed(schedule: &Schedule) -> Vec<(Timestamp, Timestamp)> {
    let pours = &schedule.pours;
    (1..pours.len())
        .filter(|i| pours[*i].is_sanded_joint())
        .map(|i| (pours[i - 1].opens, pours[i - 1].closes))
        .collect()
}

fn checked(inputs: &Inputs, fix: &Fix, resins: &[Record], stop: &Stop) -> Option<Offer> {
    let Changed { document, site } = with(&inputs.document, fix, &inputs.site)?;
    let resin = match fix {
        Fix::Resin(id, _) => resins.iter().find(|resin| resin.id == *id)?,
        _ => &inputs.resin,
    };
    let changed = Inputs { document, resin: resin.clone(), site, ..inputs.clone() };
    let evaluation = evaluate(&changed, stop).ok()?;
    let schedule = evaluation.pours.ok()?;
    Some(Offer {
        fix: fix.clone(),
        hard: schedule.hard,
        sanded: schedule.sanded_joints(),
        pours: schedule.pours.len(),
    })
}

//! The smallest changes that make a plan possible, each checked by the search.

use jiff::civil::{Date, Time};
use jiff::{SignedDuration, Timestamp};
use rayon::prelude::*;

use super::document::Plan;
use super::evaluation::{Evaluation, evaluate};
use super::parts::{AirFrom, Split};
use super::pouring::Site;
use fondant_materials::resin::{Resin, ResinId};
use fondant_pours::layers::{LayerKind, MOST_LAYERS};
use fondant_pours::{Exception, Joint, Schedule, Workday};
use fondant_quantities::TemperatureDelta;

/// A change.
#[derive(Debug, Clone, PartialEq)]
pub enum Fix {
    /// Begin at another time.
    Begin(Timestamp),
    /// Heat the air, or cool it where negative.
    Heat(TemperatureDelta),
    /// So many equal layers.
    Layers(u32),
    /// Another resin of the shelf.
    Resin(ResinId, String),
    /// Open the shop at this time once.
    OpenOnce(Date, Time),
    /// Keep the shop open until this time once.
    StayOnce(Date, Time),
    /// So many pairs of hands.
    Hands(u32),
}

/// A change and what comes of it.
#[derive(Debug, Clone)]
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
const EARLY: Time = Time::constant(6, 30, 0, 0);
const LATE: Time = Time::constant(21, 0, 0, 0);
/// Changes offered at most.
const MOST_OFFERS: usize = 6;

/// What is wrong with a plan's pour times: nothing where there are some and no
/// joint has to be sanded.
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
    plan: &Plan,
    evaluation: &Evaluation,
    resins: &[Resin],
    own: &Resin,
    site: &Site,
) -> Vec<Offer> {
    if !is_wanted(evaluation) {
        return Vec::new();
    }
    let plan = Plan {
        pours: super::parts::Pours { taken: Vec::new(), ..plan.pours.clone() },
        ..plan.clone()
    };
    // Each list holds one sort of change, the smallest first.
    let lists: Vec<Vec<Fix>> = vec![
        once(evaluation, site),
        DELAYS_H
            .iter()
            .map(|h| Fix::Begin(plan.pours.not_before + SignedDuration::from_hours(*h)))
            .collect(),
        WARMER_K.iter().map(|k| Fix::Heat(TemperatureDelta::from_k(*k))).collect(),
        WARMER_K.iter().map(|k| Fix::Heat(TemperatureDelta::from_k(-*k))).collect(),
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
                let offer = checked(&plan, fix, resins, own, site)?;
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

/// A change made to a plan and its shop.
#[must_use]
pub fn with(plan: &Plan, fix: &Fix, site: &Site) -> Option<(Plan, Site)> {
    let (mut plan, mut site) = (plan.clone(), site.clone());
    plan.pours.taken.clear();
    match fix {
        Fix::Begin(at) => plan.pours.not_before = *at,
        Fix::Heat(by) => {
            match plan.conditions.air_from {
                AirFrom::Shop => plan.conditions.heated = plan.conditions.heated + *by,
                AirFrom::Steady => plan.conditions.air = plan.conditions.air + *by,
            }
            if !plan.conflicts().is_empty() {
                return None;
            }
        }
        Fix::Layers(count) => plan.pours.split = Split::Equal { count: *count },
        Fix::Resin(id, _) => plan.resin = id.clone(),
        Fix::OpenOnce(date, time) => {
            let exception = opened(&site, *date, Some(*time), None)?;
            site.hours = site.hours.with_exceptions(&[exception]).ok()?;
        }
        Fix::StayOnce(date, time) => {
            let exception = opened(&site, *date, None, Some(*time))?;
            site.hours = site.hours.with_exceptions(&[exception]).ok()?;
        }
        Fix::Hands(hands) => site.hands = *hands,
    }
    Some((plan, site))
}

/// The hours of a date, opened earlier or kept open later.
#[must_use]
pub fn opened(
    site: &Site,
    date: Date,
    opens: Option<Time>,
    closes: Option<Time>,
) -> Option<Exception> {
    let mut hours: Vec<Workday> = site.hours.on_date(date).to_vec();
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

/// A few layers more than are tried anyway.
fn layers(evaluation: &Evaluation) -> Vec<Fix> {
    let now = match &evaluation.pours {
        Ok(schedule) => {
            let main =
                |p: &&fondant_pours::ScheduledPour| matches!(p.layer.kind, LayerKind::Main(_));
            schedule.pours.iter().filter(main).count()
        }
        Err(_) => evaluation.pour_task.as_ref().map_or(1, super::pouring::PourTask::fewest),
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
        .filter(|i| matches!(pours[*i].joint, Joint::AfterCure { .. }))
        .map(|i| (pours[i - 1].opens, pours[i - 1].closes))
        .collect()
}

fn checked(plan: &Plan, fix: &Fix, resins: &[Resin], own: &Resin, site: &Site) -> Option<Offer> {
    let (plan, site) = with(plan, fix, site)?;
    let resin = match fix {
        Fix::Resin(id, _) => resins.iter().find(|resin| resin.id == *id)?,
        _ => own,
    };
    let evaluation = evaluate(&plan, resin, &site).ok()?;
    let schedule = evaluation.pours.ok()?;
    Some(Offer {
        fix: fix.clone(),
        hard: schedule.hard,
        sanded: schedule.sanded_joints(),
        pours: schedule.pours.len(),
    })
}

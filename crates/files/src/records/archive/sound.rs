//! Whether what an archive tells can have happened: what the bench would have refused is no part of a
//! record, and no figure is out of all bounds.

use fondant_bench::{Row, Run, RunPlan};
use fondant_cast::facts::Fact;
use fondant_finish::work::{Work, WorkRow};
use fondant_record::causes::rows;
use fondant_record::end::CastEnd;
use fondant_record::readings::CourseReadings;

use super::contents::{Archive, ArchivedFault, ArchivedPhoto, ArchivedRun, ArchivedShows};
use crate::records::NotARecord;

/// Most rows of a run, and most facts of a cast: each is replayed.
const MOST_ROWS: usize = 2000;
/// Most runs of a cast.
const MOST_RUNS: usize = 500;
/// Most photos of a cast.
pub const MOST_PHOTOS: usize = 100;
/// Most faults of a piece.
const MOST_FAULTS: usize = 500;
/// Most resin that a run mixes, m³: more than any bench could.
const MOST_M3: f64 = 20.0;
/// Most batches that a run may come to.
const MOST_BATCHES: f64 = 10_000.0;

/// Refuses what cannot be.
pub(super) fn check(archive: &Archive) -> Result<(), NotARecord> {
    let counts = [
        ("facts", archive.facts.len(), MOST_ROWS),
        ("runs", archive.runs.len(), MOST_RUNS),
        ("entries of finishing", archive.finishing.len(), MOST_ROWS),
        ("photos", archive.photos.len(), MOST_PHOTOS),
        ("faults", archive.faults.len(), MOST_FAULTS),
    ];
    for (what, found, most) in counts {
        (found <= most).then_some(()).ok_or_else(|| cannot(format!("more than {most} {what}")))?;
    }
    for (place, kept) in archive.facts.iter().enumerate() {
        if let Fact::Withdrawn { row } = kept.fact {
            let is_earlier = usize::try_from(row).is_ok_and(|row| (1..=place).contains(&row));
            is_earlier.then_some(()).ok_or_else(|| cannot("a withdrawal of nothing".to_owned()))?;
        }
    }
    archive.runs.iter().enumerate().try_for_each(|(place, run)| replayed(place + 1, run))?;
    let in_hand = |run: &&ArchivedRun| run.ended_at.is_none();
    let pours: Vec<_> = archive.runs.iter().filter(in_hand).map(|run| run.plan.pour).collect();
    if pours.iter().enumerate().any(|(place, pour)| pours[..place].contains(pour)) {
        return Err(cannot("two runs of one pour in hand".to_owned()));
    }
    let is_cause = |kept: &ArchivedFault| {
        kept.cause.is_none_or(|cause| rows(kept.fault.kind).any(|row| row.cause == cause))
    };
    if !archive.faults.iter().all(is_cause) {
        return Err(cannot("a cause that its fault cannot have".to_owned()));
    }
    let is_marked = |photo: &ArchivedPhoto| match photo.shows {
        Some(ArchivedShows::Fault(place)) => (1..=archive.faults.len()).contains(&place),
        _ => true,
    };
    if !archive.photos.iter().all(is_marked) {
        return Err(cannot("a photo of a fault that is not there".to_owned()));
    }
    let mut told: Vec<WorkRow> = Vec::with_capacity(archive.finishing.len());
    for (kept, number) in archive.finishing.iter().zip(1..) {
        if let Some(refused) = Work::of(&told).refuses(&kept.told) {
            return Err(cannot(format!("entry {number} of its finishing, where {refused}")));
        }
        told.push(WorkRow { number, at: kept.at, told: kept.told.clone() });
    }
    if !archive.readings.as_ref().is_none_or(CourseReadings::can_be) {
        return Err(cannot("readings that no instrument can have".to_owned()));
    }
    let is_sound = archive.record.as_ref().is_none_or(|kept| is_end(&kept.end));
    is_sound.then_some(()).ok_or_else(|| cannot("a record with figures below 0".to_owned()))
}

fn cannot(what: String) -> NotARecord {
    NotARecord::CannotBe(what)
}

fn is_end(end: &CastEnd) -> bool {
    [end.volume_m3, end.hours_s, end.cost].iter().all(|figure| *figure >= 0.0)
}

fn is_plan(plan: &RunPlan) -> bool {
    let within = |m3: f64| m3 > 0.0 && m3 <= MOST_M3;
    plan.resin.check().is_ok()
        && within(plan.mixed.m3())
        && within(plan.in_form.m3())
        && plan.batch.kg() > 0.0
        && plan.mass() / plan.batch <= MOST_BATCHES
        && plan.bucket.kg() > 0.0
        && [plan.mixing, plan.watch, plan.cover, plan.gels].iter().all(|span| span.s() >= 0.0)
}

fn replayed(place: usize, kept: &ArchivedRun) -> Result<(), NotARecord> {
    if !is_plan(&kept.plan) || kept.rows.len() > MOST_ROWS {
        return Err(cannot(format!("run {place} that no bench could do")));
    }
    let mut rows: Vec<Row> = Vec::with_capacity(kept.rows.len());
    for row in &kept.rows {
        let number = i64::try_from(rows.len() + 1).unwrap_or(i64::MAX);
        let run = Run::of(kept.plan.clone(), &rows);
        if let Some(refused) = run.refuses(&row.what, &rows) {
            return Err(cannot(format!("row {number} of run {place}, where {refused}")));
        }
        rows.push(Row {
            number,
            at: row.at,
            recorded_at: row.recorded_at,
            by: row.by.clone(),
            what: row.what.clone(),
        });
    }
    let has_ended = Run::of(kept.plan.clone(), &rows).ended.is_some();
    let agrees = has_ended == kept.ended_at.is_some();
    agrees
        .then_some(())
        .ok_or_else(|| cannot(format!("run {place} with another end than its rows")))
}

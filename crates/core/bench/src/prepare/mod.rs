//! From a worked cast to the plan of a run: one pour of the taken plan, or all of a cast at once
//! that needs no schedule.
//!
//! - this file: [`prepare`], and the ready list
//! - `prepared`: a cast that is to be run, its batches and buckets
//! - `colours`: recipes, and cups of several colours; `pot`: how moulds stand in the pressure pot

mod colours;
mod pot;
mod prepared;

use fondant_cast::{Contents, Evaluation, PourId, Standing};
use fondant_heat::HeatError;
use fondant_heat::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped};
use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_materials::resin::{Calibrated, Hazard};
use fondant_pours::{Joint, ScheduledPour, WATCH_S};
use fondant_quantities::{Mass, Span, Temperature};
use fondant_shapes::form::seal::Release;
use jiff::Timestamp;

use crate::run::{Chill, ReadyItem, RunPlan};
pub use colours::cups;
use colours::recipe;
use pot::pot_levels;
pub use prepared::Prepared;
use prepared::{batch, bucket};

/// Longest time that a pour is simulated, s.
const HORIZON_S: f64 = 14.0 * 86_400.0;

/// Why no run can begin.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NotPrepared {
    /// The cast is poured in several layers, and none of their plans is taken.
    #[error("{pours} pours and no plan taken")]
    NoPlan {
        /// Pours that it needs.
        pours: usize,
    },
    /// No pour times hold for the cast.
    #[error("no pour times")]
    NoTimes,
    /// The taken plan has no such pour.
    #[error("no such pour")]
    NoPour,
    /// The taken plan no longer fits the form.
    #[error("the plan is outdated")]
    Outdated,
    /// The model cannot follow the resin.
    #[error(transparent)]
    Heat(#[from] HeatError),
}

/// Whether a cast can be poured at once, without a schedule: all of it goes in as one layer.
#[must_use]
pub fn is_at_once(evaluation: &Evaluation) -> bool {
    evaluation.standing != Standing::Taken && pours(evaluation) == Some(1)
}

/// Pours that a cast needs without a plan that is taken; `None` where none holds, which is no reason to
/// pour it at once.
fn pours(evaluation: &Evaluation) -> Option<usize> {
    evaluation.pours.as_ref().ok().map(|schedule| schedule.pours.len())
}

/// The plan of a run of one pour, or of a whole cast where `pour` is `None`.
///
/// # Errors
/// [`NotPrepared`].
pub fn prepare(cast: &Prepared<'_>, pour: Option<PourId>) -> Result<RunPlan, NotPrepared> {
    match pour {
        Some(pour) => of_pour(cast, pour),
        None => at_once(cast),
    }
}

fn of_pour(cast: &Prepared<'_>, pour: PourId) -> Result<RunPlan, NotPrepared> {
    let evaluation = cast.evaluation;
    // What is proposed over what is in is no pour of a plan yet.
    let planned = match evaluation.standing {
        Standing::Taken => evaluation.planned.as_deref().unwrap_or_default(),
        Standing::Proposed => return Err(NotPrepared::NoPour),
        Standing::Outdated => return Err(NotPrepared::Outdated),
    };
    let place = planned.iter().position(|planned| planned.id == pour);
    let schedule = evaluation.pours.as_ref().map_err(|_| NotPrepared::Outdated)?;
    let place = place.ok_or(NotPrepared::NoPour)?;
    let scheduled = schedule.pours.get(place).ok_or(NotPrepared::NoPour)?;
    let below = place.checked_sub(1).and_then(|below| schedule.pours.get(below));
    let window = below
        .filter(|_| matches!(scheduled.joint, Joint::WetOnTacky))
        .map(|below| [below.opens, below.closes]);
    let plan = plan(cast, scheduled, window)?;
    Ok(RunPlan { pour: Some(pour), ready: ready(cast, Some(scheduled)), ..plan })
}

fn at_once(cast: &Prepared<'_>) -> Result<RunPlan, NotPrepared> {
    let evaluation = cast.evaluation;
    let pours = pours(evaluation).ok_or(NotPrepared::NoTimes)?;
    if !is_at_once(evaluation) {
        return Err(NotPrepared::NoPlan { pours });
    }
    let schedule = evaluation.pours.as_ref().map_err(|_| NotPrepared::NoTimes)?;
    let proposed = schedule.pours.first().ok_or(NotPrepared::NoTimes)?;
    let plan = plan(cast, proposed, None)?;
    let hard = Some(Span::between(proposed.done, schedule.hard));
    Ok(RunPlan { ready: ready(cast, None), hard, ..plan })
}

fn plan(
    cast: &Prepared<'_>,
    pour: &ScheduledPour,
    window: Option<[Timestamp; 2]>,
) -> Result<RunPlan, NotPrepared> {
    let conditions = &cast.document.conditions;
    let layer = &pour.layer;
    let resin = cast.evaluation.need_of(layer).resin.clone();
    let batch = batch(pour, &resin);
    let is_in_pot = cast.document.contents.pot().is_some();
    let (cups, join) = cups(cast.document, pour, &resin)?;
    let (pot_levels, out_of_pot) = pot_levels(cast);
    Ok(RunPlan {
        pour: None,
        layer: layer.kind,
        mixed: pour.mixed,
        in_form: layer.volume,
        from: layer.from,
        to: layer.to,
        batch,
        bucket: bucket(cast.document, pour, &resin),
        resin_at: conditions.resin,
        air: conditions.air,
        mixing: RunPlan::mixing_of(cast.shop),
        ready: Vec::new(),
        window,
        watch: Span::from_s(WATCH_S as f64),
        cover: Span::between(pour.done, pour.cover_from()).max(Span::ZERO),
        gels: gels(&resin, batch, [conditions.resin, conditions.air])?,
        hard: None,
        pot_bar: cast.shop.pot_bar.filter(|_| is_in_pot),
        pot_levels,
        out_of_pot,
        vacuum_mbar: cast.shop.vacuum_mbar.filter(|_| !resin.hazards.contains(&Hazard::Flammable)),
        chill: chill(&conditions.cooling, pour),
        recipe: recipe(cast, layer.kind, &cups),
        cups,
        join,
        resin,
    })
}

/// How the form of a pour is kept cool: past its peak at least, where the plan says an end.
fn chill(cooling: &Cooling, pour: &ScheduledPour) -> Option<Chill> {
    let past_peak = Span::between(pour.at, pour.peak_at);
    let lasts = (cooling.lasts > Span::ZERO).then(|| cooling.lasts.max(past_peak));
    let is_cold = !matches!(cooling.by, CoolingBy::Nothing | CoolingBy::Lid);
    is_cold.then_some(Chill { by: cooling.by, at: cooling.at, lasts })
}

/// How long a batch takes to gel in its own mass, which is sooner than in a thin layer.
fn gels(
    resin: &Calibrated,
    batch: Mass,
    [mixed, air]: [Temperature; 2],
) -> Result<Span, HeatError> {
    let bucket = Bucket::as_high_as_wide(resin, batch, air, BUCKET_FILM_W_M2K);
    let gel = resin.cure.gel_conversion;
    let reached = Lumped::new(resin, bucket, mixed.k(), 0.0)
        .run_until(HORIZON_S, |moment| moment.conversion >= gel)?;
    Ok(Span::from_s(reached.unwrap_or(HORIZON_S)))
}

/// What is to be sure before the bucket is opened, of this plan.
fn ready(cast: &Prepared<'_>, pour: Option<&ScheduledPour>) -> Vec<ReadyItem> {
    let is_first = pour.is_none_or(|pour| matches!(pour.joint, Joint::First));
    let contents = &cast.document.contents;
    let build = match contents {
        Contents::River(river) => Some(&river.build),
        Contents::Block(block) => Some(&block.build),
        Contents::Embed(embed) => Some(&embed.build),
        _ => None,
    };
    let mut all = Vec::new();
    all.extend((!cast.document.brief.minded.is_empty()).then_some(ReadyItem::Minded));
    if is_first {
        let has_timber = matches!(
            contents,
            Contents::River(_) | Contents::Inlay(_) | Contents::Moulds(_) | Contents::Coat(_)
        );
        all.extend(has_timber.then_some(ReadyItem::Moisture));
        let has_form = !matches!(contents, Contents::Tubes(_));
        all.extend(has_form.then_some(ReadyItem::Level));
        if let Some(build) = build {
            all.push(ReadyItem::Sealed);
            all.extend((build.release != Release::Bare).then_some(ReadyItem::Release));
        }
        let is_pulled = cast.evaluation.held.iter().any(|held| held.lift.hold_down > Mass::ZERO);
        all.extend(is_pulled.then_some(ReadyItem::HeldDown));
        all.extend(matches!(contents, Contents::Tubes(_)).then_some(ReadyItem::Tubes));
        let bare = matches!(contents, Contents::Moulds(moulds) if moulds.bare_pieces() > 0);
        all.extend(bare.then_some(ReadyItem::Pieces));
    } else {
        all.push(ReadyItem::Below);
    }
    all.extend(contents.pot().map(|_| ReadyItem::Pot));
    all.extend([ReadyItem::Warm, ReadyItem::Air, ReadyItem::Gear, ReadyItem::Watch]);
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_cast::{Document, Inputs, Kind, ShopSettings, Site, evaluate};
    use fondant_materials::resin::shipped;
    use fondant_numerics::Stop;
    use fondant_pours::{ShopHours, Workday};
    use fondant_quantities::Length;
    use fondant_shapes::form::Piece;

    pub(super) fn evaluated(kind: Kind, sides_mm: [f64; 3]) -> (Document, Evaluation) {
        let [length, width, thickness] = sides_mm.map(Length::from_mm);
        let piece = Piece::slab(length, width, thickness, Length::ZERO);
        let begin = "2026-11-23T08:00:00Z".parse().unwrap();
        worked(Document::begin(kind, "Cast".into(), piece, begin))
    }

    pub(super) fn worked(document: Document) -> (Document, Evaluation) {
        let day = Workday::read_day("08:00-18:00").unwrap();
        let site = Site::plain(ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap());
        let resin = shipped::find(&document.resin).unwrap();
        let inputs = Inputs::new(document.clone(), resin, &site);
        (document, evaluate(&inputs, &Stop::NEVER).unwrap())
    }

    pub(super) fn prepared(
        (document, evaluation): &(Document, Evaluation),
        pour: Option<PourId>,
    ) -> Result<RunPlan, NotPrepared> {
        prepare(
            &Prepared { document, evaluation, shop: &ShopSettings::default(), colours: &[] },
            pour,
        )
    }

    #[test]
    fn what_takes_several_pours_is_not_poured_at_once() {
        let river = evaluated(Kind::River, [1200.0, 600.0, 40.0]);
        let pours = river.1.pours.as_ref().unwrap().pours.len();
        assert!(pours > 1 && !is_at_once(&river.1));
        assert_eq!(prepared(&river, None), Err(NotPrepared::NoPlan { pours }));
        assert_eq!(prepared(&river, Some(PourId(1))), Err(NotPrepared::NoPour));
    }

    #[test]
    fn a_block_of_one_pour_is_run_as_it_is_proposed() {
        let block = evaluated(Kind::Block, [200.0, 120.0, 20.0]);
        let proposed = &block.1.pours.as_ref().unwrap().pours;
        assert_eq!(proposed.len(), 1, "shallow enough for one");
        let plan = prepared(&block, None).unwrap();
        assert_eq!((plan.mixed, plan.pour), (proposed[0].mixed, None));
        let batches = crate::batches::split(plan.mass(), plan.batch).count;
        assert_eq!(batches, proposed[0].batches);
        for item in [ReadyItem::Sealed, ReadyItem::Level, ReadyItem::Gear, ReadyItem::Watch] {
            assert!(plan.ready.contains(&item), "{item:?} of {:?}", plan.ready);
        }
        assert!(!plan.ready.contains(&ReadyItem::Tubes) && !plan.ready.contains(&ReadyItem::Below));
        assert!(plan.gels > plan.mixing);
    }
}

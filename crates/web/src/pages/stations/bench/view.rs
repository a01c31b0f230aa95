//! What the station shows: each pour with what is mixed for it, and its run.

use askama::Template;
use fondant_app::records::KeptRun;
use fondant_bench::run::state::Ended;
use fondant_bench::{Run, is_at_once};
use fondant_cast::Standing;
use fondant_cast::mix::parts;

use super::super::asked::Asked;
use crate::paths::casts::{Run as RunPath, Station};
use crate::svg::Markup;
use crate::words::mixing::of_each_bucket;
use crate::words::{cautions, layers, pours};

#[derive(Template)]
#[template(path = "pages/stations/bench/bench.html")]
struct BenchStation {
    pours: Vec<PourRow>,
    /// The cast needs no schedule: it can be poured at once.
    at_once: Option<RunRow>,
    can_begin_at_once: bool,
    /// Why nothing can be begun.
    nothing: String,
    pours_station: Station,
    cautions: Vec<&'static str>,
}

struct PourRow {
    id: i64,
    name: String,
    when: String,
    mixes: String,
    is_poured: bool,
    run: Option<RunRow>,
    may_begin: bool,
    earlier: usize,
}

struct RunRow {
    href: RunPath,
    says: String,
    is_in_hand: bool,
}

pub(super) fn view(asked: &Asked<'_>, runs: &[KeptRun]) -> askama::Result<Markup> {
    let evaluation = asked.evaluation;
    let rows = rows(asked, runs);
    let at_once = runs.iter().find(|run| run.plan.pour.is_none());
    let is_in_hand = at_once.is_some_and(|run| run.ended_at.is_none());
    let can_begin_at_once = is_at_once(evaluation) && !is_in_hand;
    let is_outdated = evaluation.standing == Standing::Outdated;
    let nothing = if (rows.is_empty() || is_outdated) && !can_begin_at_once && !is_in_hand {
        match evaluation.standing {
            Standing::Outdated => {
                "The form has changed since its times were taken. Take times that fit it."
            }
            _ if evaluation.pours.is_err() => {
                "No pour times hold for this cast, so nothing can be poured yet."
            }
            _ => "This cast is poured in layers: take their times first.",
        }
    } else {
        ""
    };
    let resins = evaluation.needs.iter().map(|need| &*need.resin);
    let page = BenchStation {
        pours: rows,
        at_once: at_once.map(|run| row(asked, run)),
        can_begin_at_once,
        nothing: nothing.to_owned(),
        pours_station: Station::of(asked.cast, "pours"),
        cautions: cautions::at_the_pour(asked.document, resins),
    };
    Markup::of(&page)
}

fn rows(asked: &Asked<'_>, runs: &[KeptRun]) -> Vec<PourRow> {
    let evaluation = asked.evaluation;
    let (Some(planned), Ok(schedule)) = (&evaluation.planned, &evaluation.pours) else {
        return Vec::new();
    };
    let poured = fondant_cast::facts::poured(&asked.visit.facts);
    let zone = asked.shop.hours().zone();
    let pour = |(planned, pour): (&fondant_cast::pours::Planned, &fondant_pours::ScheduledPour)| {
        let resin = &evaluation.need_of(&pour.layer).resin;
        let of_pour = || runs.iter().filter(|run| run.plan.pour == Some(planned.id));
        let run = of_pour().next().map(|run| row(asked, run));
        let is_poured = poured.contains(&planned.id);
        PourRow {
            id: planned.id.0,
            name: layers::heading(pour.layer.kind),
            when: asked.shown.date_and_time(pour.at, zone),
            mixes: format!(
                "{}, {}: {}",
                asked.shown.volume(pour.mixed),
                pours::buckets(pour.batches),
                of_each_bucket(&parts(pour.mixed, resin), pour.batches, resin, asked.shown)
            ),
            is_poured,
            // What is proposed over what is in is no pour of a plan yet.
            may_begin: evaluation.standing == Standing::Taken
                && run.as_ref().is_none_or(|run| !run.is_in_hand && !is_poured),
            run,
            earlier: of_pour().count().saturating_sub(1),
        }
    };
    planned.iter().zip(&schedule.pours).map(pour).collect()
}

fn row(asked: &Asked<'_>, kept: &KeptRun) -> RunRow {
    let run = Run::of(kept.plan.clone(), &kept.rows);
    let zone = asked.shop.hours().zone();
    let says = match &run.ended {
        Some(Ended::Finished(at)) => format!("done {}", asked.shown.day_and_time(*at, zone)),
        Some(Ended::Abandoned(_, why)) => format!("given up: {why}"),
        None => format!(
            "{} of {} in",
            asked.shown.weighed(run.poured()),
            asked.shown.weighed(run.wanted())
        ),
    };
    RunRow {
        href: RunPath { cast: asked.cast, run: kept.id },
        says,
        is_in_hand: run.ended.is_none(),
    }
}

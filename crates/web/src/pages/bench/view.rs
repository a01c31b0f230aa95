//! Everything beside the act at hand: what follows, what is running, the buckets, the log.

use askama::Template;
use askama::filters::HtmlSafe;
use fondant_app::records::{CastId, Kept, KeptRun};
use fondant_bench::pot::Pressure;
use fondant_bench::reading::Place as Reads;
use fondant_bench::run::acts;
use fondant_bench::run::state::Ended;
use fondant_bench::swirl::Edges;
use fondant_bench::{Happening, Run};
use fondant_materials::resin::shelf::Lot;
use fondant_pours::simulate::Observed;
use fondant_quantities::Mass;
use fondant_quantities::units::UnitSystem;

use super::baths::{Warm, has_cold_bath};
use super::clocks::{ClockView, clock_views};
use super::drawing::draw;
use super::join::gels_soon;
use super::known::known;
use super::live::Live;
use super::model::Modelled;
use super::telling::{ActView, Telling};
use crate::pages::stations::asked::Visit;
use crate::pages::stations::pours::difference;
use crate::paths::casts::{Run as RunPath, RunLabels, RunRows, Station};
use crate::svg::{ASIDE, Markup};
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown};
use crate::words::measures::little_resin;
use crate::words::{bench as words, cautions, layers};

/// Lines of the log that are shown.
const LOG: usize = 14;

#[derive(Template, askama_web::WebTemplate)]
#[template(path = "pages/bench/page.html")]
pub(super) struct BenchPage {
    page: Page,
    part: BenchPart,
}

#[derive(Template, askama_web::WebTemplate)]
#[template(path = "pages/bench/part.html")]
pub(super) struct BenchPart {
    b: Bench,
}

/// Its template escapes what it holds.
impl HtmlSafe for BenchPart {}

/// The bench.
// Many fields: one for each thing that the page shows.
struct Bench {
    cast: CastId,
    cast_name: String,
    run: i64,
    station: Station,
    rows: RunRows,
    labels: RunLabels,
    now_ms: i64,
    /// Rows written down: an answer with fewer is older.
    rows_kept: usize,
    /// Live figures are told in °F and psi.
    is_us: bool,
    /// What is asked for where a little resin is typed.
    little: &'static str,
    title: String,
    sum: String,
    drawing: Markup,
    act: Option<ActView>,
    /// What an instrument may read for it.
    live: Option<Live>,
    then: Vec<String>,
    clocks: Vec<ClockView>,
    buckets: Vec<BucketView>,
    pot: String,
    /// The plan by what happened, against what was planned; empty where nothing has.
    difference: String,
    alarms: Vec<String>,
    log: Vec<LogRow>,
    cautions: Vec<&'static str>,
    tools: Tools,
    is_paused: bool,
    ended: String,
}

/// What can be written down at any time.
struct Tools {
    /// Buckets in which A has met B: for readings.
    hot: Vec<u32>,
    /// Buckets that can still be tinted.
    tinted: Vec<u32>,
    /// Buckets that are not empty.
    open: Vec<u32>,
    /// The batch that comes next, and its mass, grams.
    next: Option<(u32, String)>,
    has_poured: bool,
    /// A swirl: its edges can be rated.
    is_swirl: bool,
    /// Bottles in warm water, until they are as warm as the plan wants them.
    warm: Warm,
    /// The form is kept cold by water: it can be read.
    has_cold_bath: bool,
}

struct BucketView {
    name: String,
    says: String,
    is_over: bool,
}

struct LogRow {
    row: i64,
    when: String,
    what: String,
    by: String,
    is_undone: bool,
    can_undo: bool,
}

/// What the model says beside the rows.
pub(super) struct Beside<'a> {
    /// The open buckets.
    pub(super) modelled: &'a [Modelled],
    /// The plan by what happened; `None` where nothing has.
    pub(super) observed: Option<&'a Observed>,
    /// The shop's swirls: how they came out, and how thick they were at the join, Pa·s.
    pub(super) swirls: &'a [(Edges, f64)],
    /// The shop's lots.
    pub(super) lots: &'a [Kept<Lot>],
    /// Where the shop's instruments read.
    pub(super) instruments: &'a [Reads],
}

/// The page of a run.
pub(super) fn page(visit: &Visit, kept: &KeptRun, beside: &Beside<'_>) -> BenchPage {
    let title = format!("{}, bench", visit.document.name);
    let page = Page::new(title, Place::Casts).with(&[Script::Module("/bench.js")]);
    BenchPage { page, part: part(visit, kept, beside) }
}

/// The part of it that changes.
pub(super) fn part(visit: &Visit, kept: &KeptRun, beside: &Beside<'_>) -> BenchPart {
    BenchPart { b: bench(visit, kept, beside) }
}

fn bench(visit: &Visit, kept: &KeptRun, beside: &Beside<'_>) -> Bench {
    let modelled = beside.modelled;
    let run = Run::of(kept.plan.clone(), &kept.rows);
    let shop = &visit.open.shop;
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let cast = visit.open.record.id;
    let known = |item| known(visit, &run, item);
    let lots = lots(&run, beside.lots, shown);
    let (lots, swirls) = (&lots[..], beside.swirls);
    let kind = visit.document.kind();
    let telling = Telling { run: &run, kind, modelled, swirls, lots, shown, zone, known: &known };
    let all = acts(&run, visit.open.shop.workshop.settings.shop.parts);
    let fill = &visit.worked.evaluation.measured.fill;
    let act = all.first().map(|act| telling.view(act));
    let tools = tools(&run, shown);
    let path = RunPath { cast, run: kept.id };
    Bench {
        cast,
        cast_name: visit.document.name.clone(),
        run: kept.id.0,
        station: Station::of(cast, "bench"),
        labels: RunLabels { cast: path.cast, run: path.run },
        rows: RunRows { cast: path.cast, run: path.run },
        now_ms: visit.now.as_millisecond(),
        rows_kept: kept.rows.len(),
        is_us: shop.shown().system == UnitSystem::UsCustomary,
        little: little_resin(shown.system).asked,
        title: layers::heading(run.plan.layer),
        sum: sum(&run, shown),
        drawing: draw(&run, fill, shown, ASIDE),
        live: act.as_ref().and_then(|act| Live::of(act, !tools.hot.is_empty(), beside.instruments)),
        act,
        then: all.iter().skip(1).take(2).map(|act| telling.line(act)).collect(),
        clocks: clock_views(&run, modelled, visit),
        buckets: buckets(&run, shown),
        pot: pot(&run, shown, visit),
        difference: moved(visit, beside.observed),
        alarms: alarms(&run, modelled, visit),
        log: log(kept, visit),
        cautions: cautions::at_the_pour(&visit.document, std::iter::once(&*run.plan.resin)),
        tools,
        is_paused: run.paused.is_some(),
        ended: match &run.ended {
            None => String::new(),
            Some(Ended::Finished(at)) => format!("Done on {}.", shown.date_and_time(*at, zone)),
            Some(Ended::Abandoned(at, why)) => {
                format!("Given up on {}: {why}", shown.date_and_time(*at, zone))
            }
        },
    }
}

/// Buckets that run away, and cups that are about to gel.
fn alarms(run: &Run, modelled: &[Modelled], visit: &Visit) -> Vec<String> {
    let shown = visit.open.shop.shown();
    let runaways = modelled.iter().filter_map(|m| Some(words::runaway(&m.runaway?, shown)));
    let gelling = modelled.iter().filter_map(|m| {
        let name = layers::capitalised(&words::vessel(run, m.batch));
        gels_soon(m, &name, visit.now)
    });
    runaways.chain(gelling).collect()
}

fn sum(run: &Run, shown: Shown) -> String {
    let (poured, wanted) = (run.poured(), run.wanted());
    let to_come = run.to_come();
    let left = match to_come.count {
        0 if run.batches.iter().all(fondant_bench::run::Batch::is_over) => {
            "that was all".to_owned()
        }
        0 => "the last bucket is in hand".to_owned(),
        1 => "1 bucket to come".to_owned(),
        count => format!("{count} buckets to come"),
    };
    format!("{} of {} in, {left}", shown.weighed(poured), shown.weighed(wanted))
}

/// The lots of a run's resin that hold some, the one to be used first: what is open longest, then what
/// was bought first.
fn lots(run: &Run, all: &[Kept<Lot>], shown: Shown) -> Vec<(String, String)> {
    let own = |kept: &&Kept<Lot>| kept.item.resin == run.plan.resin.id && kept.item.left.l() > 0.0;
    let mut found: Vec<&Kept<Lot>> = all.iter().filter(own).collect();
    found.sort_by_key(|kept| (kept.item.opened.is_none(), kept.item.opened, kept.item.bought));
    let told =
        |kept: &Kept<Lot>| format!("{}, {} left", kept.item.lot, shown.volume(kept.item.left));
    found.into_iter().map(|kept| (kept.slug.clone(), told(kept))).collect()
}

/// What the touches and pours have moved.
fn moved(visit: &Visit, observed: Option<&Observed>) -> String {
    let planned = visit.planned.evaluation.pours.as_ref().ok();
    let (Some(observed), Some(planned)) = (observed, planned) else { return String::new() };
    let shop = &visit.open.shop;
    difference(observed, planned, shop.shown(), shop.hours().zone())
}

fn tools(run: &Run, shown: Shown) -> Tools {
    let open = || run.batches.iter().filter(|batch| !batch.is_over());
    let next = run.next_number();
    let grams = format!("{:.0}", run.next_mass(next).kg() * 1e3);
    Tools {
        hot: open().filter(|batch| batch.met.is_some()).map(|batch| batch.number).collect(),
        tinted: open().filter(|batch| batch.mixed.is_none()).map(|b| b.number).collect(),
        open: open().map(|batch| batch.number).collect(),
        next: (run.to_come().count > 0).then_some((next, grams)),
        has_poured: run.first_poured().is_some(),
        is_swirl: run.plan.join.is_some(),
        warm: Warm::of(run, shown),
        has_cold_bath: has_cold_bath(run),
    }
}

fn buckets(run: &Run, shown: Shown) -> Vec<BucketView> {
    let view = |batch: &fondant_bench::run::Batch| {
        let part = |name, part: Option<fondant_bench::run::Taken>| match part {
            Some(taken) => format!("{name} {} ✓", shown.weighed(taken.mass)),
            None => format!("{name} –"),
        };
        let mut says = vec![part("A", batch.a), part("B", batch.b)];
        if batch.tint() > Mass::ZERO {
            let share = fondant_bench::tinting::share(batch.tint(), batch.mass(&run.plan)) * 100.0;
            says.push(format!("colour {} ({share:.2}\u{202f}%)", shown.weighed(batch.tint())));
        }
        says.push(match (&batch.lost, batch.poured, batch.pouring, batch.met) {
            (Some((_, why)), ..) => format!("given up: {why}"),
            (_, Some(_), ..) => "in ✓".to_owned(),
            (_, _, Some(_), _) => "going in".to_owned(),
            (_, _, _, Some(_)) if batch.mixed.is_some() => "mixed".to_owned(),
            (_, _, _, Some(_)) => "being mixed".to_owned(),
            _ => "being weighed".to_owned(),
        });
        let name = layers::capitalised(&words::vessel(run, batch.number));
        BucketView { name, says: says.join(" · "), is_over: batch.is_over() }
    };
    run.batches.iter().map(view).collect()
}

/// What the gauge says of the pot; empty without one.
fn pot(run: &Run, shown: Shown, visit: &Visit) -> String {
    let Some(pressure) = Pressure::of(&run.gauge).filter(|_| run.vented.is_none()) else {
        return String::new();
    };
    let gels = run.all_in().map_or(visit.now, |done| done + run.plan.gels.signed());
    let ratio = pressure.bubble_ratio(gels);
    let when = shown.day_and_time(gels, visit.open.shop.hours().zone());
    let leak = match pressure.leak_per_h {
        leak if leak > 0.0 => format!("leaks {:.0}\u{202f}% an hour", leak * 100.0),
        _ => "no leak to be seen".to_owned(),
    };
    let said = format!(
        "Pot: {leak}; {} expected at the gel, {when}; bubbles there at {:.0}\u{202f}% of their size.",
        shown.pressure(pressure.at(gels)),
        ratio * 100.0
    );
    if pressure.holds_until(gels) {
        said
    } else {
        format!(
            "▲ {said} That is less than 80\u{202f}% of the start: bring it up, and look for the leak."
        )
    }
}

fn log(kept: &KeptRun, visit: &Visit) -> Vec<LogRow> {
    let (shown, zone) = (visit.open.shop.shown(), visit.open.shop.hours().zone());
    let run = Run::of(kept.plan.clone(), &kept.rows);
    let is_undone = |number: i64| {
        let gone = |row: &fondant_bench::Row| matches!(row.what, Happening::Withdrawn { row, .. } if row == number);
        kept.rows.iter().any(gone)
    };
    let view = |row: &fondant_bench::Row| {
        let undo = Happening::Withdrawn { row: row.number, reason: String::new() };
        LogRow {
            row: row.number,
            when: shown.day_and_time(row.at, zone),
            what: words::happened(&row.what, &kept.plan.resin, shown),
            by: row.by.clone(),
            is_undone: is_undone(row.number),
            can_undo: run.refuses(&undo, &kept.rows).is_none(),
        }
    };
    kept.rows.iter().rev().take(LOG).map(view).collect()
}

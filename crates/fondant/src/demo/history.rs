//! A year of the made-up workshop: casts that have come to their end, by the use cases that makers have,
//! with the causes of their faults in what was written down.
//!
//! Numbers look random and are the same every time, so that what is shown can be talked about.

use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use fondant_app::ending::{self, Seen, Told};
use fondant_app::ledger;
use fondant_app::records::{CastId, LedgerAsked, NewRow, RunId};
use fondant_app::{App, AppError, Clock, Request, Shop, bench, casts};
use fondant_bench::run::Tinting;
use fondant_bench::weighing::{Pair, Part};
use fondant_bench::{Happening, Run};
use fondant_cast::document::AirFrom;
use fondant_cast::{Document, Kind};
use fondant_quantities::{Area, Mass, Temperature, Volume};
use fondant_record::causes::Cause;
use fondant_record::end::Outcome;
use fondant_record::fault::{Fault, FaultKind};
use fondant_record::figures::{Figure, Figures};
use fondant_shapes::volume::sizing::LineKind;
use jiff::{SignedDuration, Timestamp};

use super::{others, rivers};

/// Days between one and the next.
const APART_DAYS: i64 = 6;
/// Batches of a run at most.
const MOST_BATCHES: u32 = 12;

/// What goes wrong with a cast.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Mishap {
    None,
    ColdBucket,
    OffRatio,
    ShortMixing,
    NotWatched,
    DampAir,
    NoRelease,
}

impl Mishap {
    /// What it leads to, and why.
    const fn leads_to(self) -> Option<(FaultKind, Cause)> {
        match self {
            Self::None => None,
            Self::ColdBucket => Some((FaultKind::Bubbles, Cause::ColdResin)),
            Self::OffRatio => Some((FaultKind::SoftPlaces, Cause::Ratio)),
            Self::ShortMixing => Some((FaultKind::SoftPlaces, Cause::Unmixed)),
            Self::NotWatched => Some((FaultKind::Bubbles, Cause::NotWatched)),
            Self::DampAir => Some((FaultKind::Blush, Cause::DampAir)),
            Self::NoRelease => Some((FaultKind::Stuck, Cause::NoRelease)),
        }
    }
}

/// The generator of D. H. Lehmer (1951).
struct Seeded(u64);

impl Seeded {
    fn share(&mut self) -> f64 {
        const MODULUS: u64 = 2_147_483_647;
        self.0 = self.0 * 48_271 % MODULUS;
        self.0 as f64 / MODULUS as f64
    }

    /// About `mean`, off by `spread` at most; more often near it.
    fn about(&mut self, mean: f64, spread: f64) -> f64 {
        mean + spread * (self.share() + self.share() - 1.0)
    }
}

/// Adds a number of casts to a workshop, some days apart, unless its ledger has casts. Returns how many casts were added.
pub(crate) async fn add(app: &App, shop: &Shop, count: usize) -> Result<usize, AppError> {
    let asked = LedgerAsked::default();
    if ledger::page(app, shop, &asked, Figure::Bucket).await?.totals.casts > 0 {
        return Ok(0);
    }
    let now = app.now();
    let moment = Arc::new(AtomicI64::new(now.as_second()));
    let clock = {
        let moment = Arc::clone(&moment);
        Clock::new(move || {
            Timestamp::from_second(moment.load(Ordering::Relaxed)).unwrap_or(Timestamp::UNIX_EPOCH)
        })
    };
    let past = app.clone().with_clock(clock);
    let mut seeded = Seeded(20_261);
    for place in 0..count {
        let days = APART_DAYS * (count - place) as i64;
        let begun = now - SignedDuration::from_hours(24 * days);
        let book = Book { app: &past, moment: &moment, begun };
        book.cast(place, &mut seeded).await?;
    }
    Ok(count)
}

/// One cast in this many is a river.
const RIVERS: usize = 10;

fn document(place: usize, begun: Timestamp) -> Document {
    let (mut document, name) = match place % 5 {
        _ if place % RIVERS == RIVERS - 1 => (rivers::side_table(begun), "Estuary side table, no."),
        0 | 2 => (others::coasters(begun), "Driftwood coasters, set"),
        1 => (others::tubes(begun), "Chart-paper blanks, lot"),
        3 => (others::inlay(begun), "Knot inlay, board"),
        _ => (others::coat(begun), "Counter top, coat"),
    };
    document.name = format!("{name} {}", place / 2 + 1);
    // The year's air is not logged: each was cast at what the heater keeps.
    document.conditions.air_from = AirFrom::Steady;
    document
}

fn mishap(place: usize) -> Mishap {
    match place % 23 {
        2 => Mishap::ColdBucket,
        5 => Mishap::OffRatio,
        10 => Mishap::ShortMixing,
        14 => Mishap::NotWatched,
        17 => Mishap::DampAir,
        20 => Mishap::NoRelease,
        _ => Mishap::None,
    }
}

/// One cast as it is written down.
struct Book<'a> {
    app: &'a App,
    moment: &'a AtomicI64,
    begun: Timestamp,
}

impl Book<'_> {
    fn set(&self, minutes: f64) -> Timestamp {
        let at = self.begun + SignedDuration::from_secs((minutes * 60.0) as i64);
        self.moment.store(at.as_second(), Ordering::Relaxed);
        at
    }

    async fn cast(&self, place: usize, seeded: &mut Seeded) -> Result<(), AppError> {
        self.set(0.0);
        let shop = self.app.shop().await?;
        let document = document(place, self.begun);
        let cast = casts::create(self.app, &shop, &document, &Request::default()).await?;
        let mishap = mishap(place);
        let last = self.poured(cast, mishap, seeded).await?;
        let ended_at = self.set(last + 3.0 * 24.0 * 60.0);
        if let Some((kind, cause)) = mishap.leads_to() {
            let fault = Fault { kind, place: None, size: None, note: String::new() };
            let id = ending::mark(self.app, cast, &fault, &Request::default()).await?;
            // Not every cause is found.
            if seeded.share() < 0.6 {
                ending::confirm(self.app, cast, (id, Some(cause))).await?;
            }
        }
        let mut figures = Figures::default();
        let humidity = if mishap == Mishap::DampAir { 0.74 } else { seeded.about(0.52, 0.06) };
        figures.set(Figure::Humidity, humidity);
        figures.set_flag(Figure::Release, mishap != Mishap::NoRelease);
        let people = if place.is_multiple_of(3) { "Inês, Rui" } else { "Inês" };
        let given_up = mishap == Mishap::OffRatio;
        let told = Told {
            outcome: if given_up { Outcome::GivenUp } else { Outcome::Finished },
            ended_at,
            people: people.into(),
            note: String::new(),
            figures,
        };
        let seen = casts::open(self.app, cast).await?.record.revision;
        ending::close(self.app, cast, Seen { cast: seen, record: None }, told).await
    }

    /// Pours a cast: at once where it can be, or by the plan that is taken. The minute of the last pour.
    async fn poured(
        &self,
        cast: CastId,
        mishap: Mishap,
        seeded: &mut Seeded,
    ) -> Result<f64, AppError> {
        match bench::begin(self.app, cast, None).await {
            Ok(run) => {
                self.pour((cast, run), 10.0, mishap, seeded).await?;
                return Ok(10.0);
            }
            Err(AppError::NotPrepared(_)) => {}
            Err(error) => return Err(error),
        }
        if !matches!(casts::open(self.app, cast).await?.record.document.kind(), Kind::River) {
            // Its record has what is planned.
            return Ok(0.0);
        }
        casts::pours::settle(self.app, cast, 1).await?;
        let taken = casts::open(self.app, cast).await?.record.document.pours.taken;
        let mut minute = 0.0;
        for pour in taken {
            let planned = pour.at.duration_since(self.begun).as_secs_f64() / 60.0;
            minute = planned + 40.0 * seeded.share();
            self.set(minute);
            let run = bench::begin(self.app, cast, Some(pour.id)).await?;
            self.pour((cast, run), minute, mishap, seeded).await?;
        }
        Ok(minute)
    }

    /// All batches of a run, one after the other.
    async fn pour(
        &self,
        ids: (CastId, RunId),
        from: f64,
        mishap: Mishap,
        seeded: &mut Seeded,
    ) -> Result<(), AppError> {
        let mut minute = from;
        let mut all_ready = true;
        for batch in 1..=MOST_BATCHES {
            let open = casts::open(self.app, ids.0).await?;
            let kept = bench::runs(self.app, &open).await?;
            let Some(kept) = kept.into_iter().find(|kept| kept.id == ids.1) else { return Ok(()) };
            let run = bench::folded(&kept);
            let mut rows = Vec::new();
            if std::mem::take(&mut all_ready) {
                let ready = kept.plan.ready.iter().map(|item| Happening::Ready { item: *item });
                rows.extend(ready.map(|what| (0.5, what)));
            }
            if run.to_come().count == 0 {
                break;
            }
            let pair = Pair::of(run.next_mass(batch), &kept.plan.resin);
            let mut filled = bucket((batch, pair), mishap, seeded);
            // Both parts come first, then colour.
            filled.splice(2..2, tints(&run, (batch, pair.mixed())));
            rows.extend(filled);
            for (minutes, what) in rows {
                minute += minutes;
                self.write(ids, minute, what).await?;
            }
        }
        // Timber absorbs a little more than is usual; what was planned is in the form already.
        let bare = self.bare(ids.0).await?;
        let topped = Volume::from_l(bare.m2() * (0.03 * seeded.share()).max(0.005));
        let after = [
            (mishap != Mishap::NotWatched).then_some((35.0, Happening::Watched)),
            (bare > Area::ZERO).then_some((90.0, Happening::ToppedUp { volume: topped })),
            (seeded.share() < 0.9).then_some((200.0, Happening::Covered)),
            Some((400.0, Happening::Finished)),
        ];
        for (minutes, what) in after.into_iter().flatten() {
            self.write(ids, minute + minutes, what).await?;
        }
        Ok(())
    }

    /// Face of bare timber that resin soaks into.
    async fn bare(&self, cast: CastId) -> Result<Area, AppError> {
        let worked = casts::open(self.app, cast).await?.worked(self.app).await?;
        let drinks =
            worked.evaluation.measured.sizing.lines.iter().find_map(|line| match line.kind {
                LineKind::Absorption { area } => Some(area),
                _ => None,
            });
        Ok(drinks.unwrap_or(Area::ZERO))
    }

    async fn write(
        &self,
        ids: (CastId, RunId),
        minute: f64,
        what: Happening,
    ) -> Result<(), AppError> {
        let at = self.set(minute);
        let key = format!("history-{}-{minute:.1}", ids.1);
        let by = "Bench tablet".into();
        bench::write_down(self.app, ids, NewRow { key, at, by, what }).await
    }
}

/// What colours a bucket, as near to its recipe as a hand gets.
fn tints(run: &Run, (batch, mixed): (u32, Mass)) -> Vec<(f64, Happening)> {
    const NEAR: f64 = 0.99;
    let tint = |tinting: &Tinting| {
        let mass = mixed * (run.share_of(tinting) * NEAR);
        (1.0, Happening::Tinted { batch, colour: tinting.colour.clone(), mass })
    };
    run.plan.recipe.iter().filter(|tinting| run.gets(batch, tinting)).map(tint).collect()
}

/// A bucket from the scale to the form: minutes since the row before, and what happened.
fn bucket(
    (batch, pair): (u32, Pair),
    mishap: Mishap,
    seeded: &mut Seeded,
) -> Vec<(f64, Happening)> {
    let off = if mishap == Mishap::OffRatio { 1.06 } else { seeded.about(1.0, 0.008) };
    let warm = if mishap == Mishap::ColdBucket { 16.5 } else { seeded.about(23.0, 1.5) };
    let mixing = if mishap == Mishap::ShortMixing { 1.6 } else { seeded.about(5.0, 1.0) };
    let weighed = |part, mass: Mass| Happening::Weighed { batch, part, mass };
    let mut rows = vec![
        (2.0, weighed(Part::B, pair.b * off)),
        (2.0, weighed(Part::A, pair.a)),
        (
            0.5,
            Happening::MixBegun {
                batch,
                resin_at: Some(Temperature::from_celsius(warm)),
                lot: None,
            },
        ),
    ];
    if mishap != Mishap::ShortMixing {
        rows.push((0.5 * mixing, Happening::SecondPot { batch }));
    }
    let rest = if mishap == Mishap::ShortMixing { mixing } else { 0.5 * mixing };
    rows.extend([
        (rest, Happening::MixEnded { batch }),
        (1.0, Happening::PourBegun { batch }),
        (
            3.0,
            Happening::PourEnded {
                batch,
                left: pair.mixed() * (0.02 * seeded.share()),
                is_full: false,
            },
        ),
    ]);
    rows
}

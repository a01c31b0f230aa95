//! What taken plans ask of the shop, and when. An agenda is kept with what it was worked out from:
//! one whose basis has changed is worked out again before anybody sees it.

use std::time::Duration;

use fondant_cast::agenda::{Agenda, Fit};
use fondant_cast::document::{AirFrom, PourId};
use fondant_cast::facts::{FactRow, poured, poured_of};
use fondant_cast::{Document, Forecast, Standing};
use fondant_store::Transaction;
use fondant_store::repos::{Basis, CastId, CastRecord, KeptAgenda, Workshop};
use jiff::{SignedDuration, Timestamp};
use tokio::task::JoinSet;
use tokio_util::sync::CancellationToken;

use crate::app::App;
use crate::error::AppError;
use crate::evaluating::Worked;
use crate::events::{Event, tell};
use crate::shop::Shop;

/// How long a page waits for agendas to be recomputed before it shows the saved ones.
const WAIT: Duration = Duration::from_secs(8);
/// Margin by which the end of a saved agenda may move when it is recomputed.
const LATER: SignedDuration = SignedDuration::from_hours(7 * 24);
/// Tries to keep an agenda while others change what it follows from.
const TRIES: usize = 4;

/// An agenda and whose it is.
#[derive(Debug, Clone, PartialEq)]
pub struct CastAgenda {
    /// The cast.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
    /// Agenda of the cast.
    pub agenda: Agenda,
    /// It could not be worked out again in time: the shop or its air have changed since.
    pub is_old: bool,
}

/// What a cast's plan and facts come to.
#[derive(Debug, Clone)]
pub(crate) enum Outcome {
    /// No plan is taken.
    Nothing,
    /// The form is no longer the one the plan was taken for, and has none over what is in: what is kept of
    /// these pours, which have happened, stays.
    Poured(Vec<PourId>),
    /// What is kept stays: the model cannot follow the plan as it is.
    AsItWas,
    /// What the plan asks of the shop.
    Due {
        /// Acts of the plan, with their times.
        agenda: Box<Agenda>,
        /// What it was promised with.
        forecast: Option<Box<Forecast>>,
    },
}

/// What an agenda of this document in this shop follows from.
pub(crate) fn basis(shop: &Shop, document: &Document, cast: i32) -> Basis {
    let air = match document.conditions.air_from {
        AirFrom::Shop => Some((shop.workshop.air_revision, shop.air_from_h)),
        AirFrom::Steady => None,
    };
    Basis { cast, workshop: shop.workshop.revision, shelf: shop.workshop.shelf_revision, air }
}

impl App {
    /// What a document comes to with what has happened.
    pub(crate) async fn outcome(
        &self,
        shop: &Shop,
        document: &Document,
        rows: &[FactRow],
    ) -> Result<Outcome, AppError> {
        if document.pours.taken.is_empty() {
            return Ok(Outcome::Nothing);
        }
        let worked = match self.evaluate(document, shop).await {
            Ok(worked) => worked,
            Err(AppError::Conflicts(_)) => return Ok(Outcome::AsItWas),
            Err(error) => return Err(error),
        };
        let evaluation = &worked.evaluation;
        if evaluation.standing != Standing::Taken {
            return self.of_poured(&worked, document, rows).await;
        }
        let (Ok(schedule), Some(planned)) = (&evaluation.pours, &evaluation.planned) else {
            return Ok(Outcome::AsItWas);
        };
        let observed = self.by_facts(&worked, rows).await?;
        let now = observed.as_ref().as_ref().map_or(schedule, |observed| &observed.schedule);
        let poured = poured_of(planned, rows);
        let agenda = Agenda::of(document, planned, now, poured, self.now());
        let forecast = self.forecast(&worked).await?;
        Ok(Outcome::Due {
            agenda: Box::new(agenda),
            forecast: forecast.as_ref().clone().map(Box::new),
        })
    }

    /// What a plan that fits no longer asks of the shop: what is poured of it.
    async fn of_poured(
        &self,
        worked: &Worked,
        document: &Document,
        rows: &[FactRow],
    ) -> Result<Outcome, AppError> {
        let (poured, over) = (poured(rows), self.over_poured(worked, rows).await?);
        let left = over.as_ref().as_ref().and_then(|(planned, schedule)| {
            let count = poured_of(planned, rows);
            Agenda::of(document, planned, schedule, count, self.now()).of_poured(&poured)
        });
        Ok(match left {
            Some(agenda) => Outcome::Due { agenda: Box::new(agenda), forecast: None },
            None => Outcome::Poured(poured),
        })
    }

    /// The agendas of a workshop that end after a time, as everything is now.
    ///
    /// # Errors
    /// [`AppError`] where nothing can be read; trouble with one cast is logged, and its agenda
    /// stays as it was.
    pub async fn agendas(
        &self,
        shop: &Shop,
        ending_after: Timestamp,
    ) -> Result<Vec<CastAgenda>, AppError> {
        let kept = self.store.read().agendas(shop.id, ending_after - LATER).await?;
        let mut refreshed = JoinSet::new();
        for old in kept.iter().filter(|kept| is_old(shop, kept)) {
            let (app, cast) = (self.clone(), old.cast);
            refreshed.spawn(async move { (cast, app.refresh_agenda(cast).await) });
        }
        let wait_for_all = async {
            let mut done = Vec::new();
            while let Some(joined) = refreshed.join_next().await {
                match joined {
                    Ok((cast, Ok(()))) => done.push(cast),
                    Ok((cast, Err(error))) => {
                        tracing::warn!(%error, cast = cast.0, "an agenda stays as it was");
                    }
                    Err(error) => tracing::warn!(%error, "an agenda stays as it was"),
                }
            }
            done
        };
        let is_any_old = kept.iter().any(|kept| is_old(shop, kept));
        let kept = if is_any_old {
            if tokio::time::timeout(WAIT, wait_for_all).await.is_err() {
                tracing::warn!("agendas are shown as they were: too many have to be worked out");
            }
            // Those that are still worked go on beside the page.
            refreshed.detach_all();
            self.store.read().agendas(shop.id, ending_after - LATER).await?
        } else {
            kept
        };
        let shown = |kept: KeptAgenda| {
            let is_old = is_old(shop, &kept);
            let is_due =
                |agenda: &Agenda| agenda.hard >= ending_after || agenda.fit == Fit::Lacking;
            let agenda = kept.agenda.filter(is_due)?;
            Some(CastAgenda { cast: kept.cast, name: kept.name, agenda, is_old })
        };
        Ok(kept.into_iter().filter_map(shown).collect())
    }

    /// Works out the agenda of a cast again, and keeps it.
    async fn refresh_agenda(&self, cast: CastId) -> Result<(), AppError> {
        for _ in 0..TRIES {
            let shop = self.shop().await?;
            let record = self.store.read().cast(shop.id, cast).await?;
            let rows = self.store.read().facts(shop.id, cast).await?;
            let outcome = self.outcome(&shop, &record.document, &rows).await?;
            let transaction = self.store.begin().await?;
            let held = hold(&transaction, &shop).await?;
            let locked = transaction.lock_cast(shop.id, cast).await?;
            let is_as_read = held
                && locked == record.revision
                && transaction.facts(shop.id, cast).await? == rows;
            if !is_as_read {
                continue;
            }
            if keep(&transaction, &shop, &record, outcome).await? {
                let (workshop, revision) = (shop.id, record.revision);
                let event = Event::CastChanged { workshop, cast, revision };
                tell(&transaction, &event).await?;
            }
            transaction.commit().await?;
            return Ok(());
        }
        Err(AppError::Busy)
    }

    /// Works out stale agendas again whenever the shop, its air or the hour has changed, until it is
    /// ended: pages then find them ready.
    pub async fn follow_the_air(self, end: CancellationToken) {
        let mut events = self.subscribe();
        let follow = async {
            loop {
                if let Err(error) = self.refresh_old_agendas().await {
                    tracing::warn!(%error, "agendas stay as they were");
                }
                let past = self.now().as_second().rem_euclid(3600).unsigned_abs();
                let next_hour = tokio::time::sleep(Duration::from_secs(3600 - past));
                let changed = async {
                    loop {
                        match events.next().await {
                            Some(Event::ShopChanged { .. } | Event::ReadingArrived { .. }) => break,
                            Some(_) => {}
                            None => std::future::pending().await,
                        }
                    }
                };
                tokio::select! {
                    () = next_hour => {}
                    () = changed => {}
                }
            }
        };
        tokio::select! {
            () = follow => {}
            () = end.cancelled() => {}
        }
    }

    async fn refresh_old_agendas(&self) -> Result<(), AppError> {
        let shop = match self.shop().await {
            Err(AppError::NotFound(_)) => return Ok(()),
            found => found?,
        };
        self.agendas(&shop, self.now()).await.map(|_| ())
    }
}

fn is_old(shop: &Shop, kept: &KeptAgenda) -> bool {
    let Some(basis) = kept.basis.filter(|_| kept.agenda.is_some()) else { return true };
    let air = basis.air.map(|_| (shop.workshop.air_revision, shop.air_from_h));
    let now = Basis {
        cast: kept.revision,
        workshop: shop.workshop.revision,
        shelf: shop.workshop.shelf_revision,
        air,
    };
    basis != now
}

/// Holds the workshop until a transaction ends; `false` where it is no longer the one that was
/// read.
pub(crate) async fn hold(transaction: &Transaction, shop: &Shop) -> Result<bool, AppError> {
    Ok(is_same(&transaction.hold_workshop(shop.id).await?, &shop.workshop))
}

/// The same for a transaction that changes the workshop.
pub(crate) async fn lock(transaction: &Transaction, shop: &Shop) -> Result<bool, AppError> {
    Ok(is_same(&transaction.lock_workshop(shop.id).await?, &shop.workshop))
}

fn is_same(now: &Workshop, read: &Workshop) -> bool {
    now.revision == read.revision
        && now.shelf_revision == read.shelf_revision
        && now.air_revision == read.air_revision
}

/// Keeps what a cast that is locked comes to. Returns whether that is another thing than before.
pub(crate) async fn keep(
    transaction: &Transaction,
    shop: &Shop,
    record: &CastRecord,
    outcome: Outcome,
) -> Result<bool, AppError> {
    let former = transaction.agenda(shop.id, record.id).await?;
    let agenda = match outcome {
        Outcome::Nothing => None,
        Outcome::AsItWas => former.clone(),
        Outcome::Poured(pours) => {
            former.as_ref().and_then(|former| Some(former.of_poured(&pours)?.following(former)))
        }
        Outcome::Due { agenda, .. } => Some(match &former {
            Some(former) => agenda.following(former),
            None => *agenda,
        }),
    };
    let basis = basis(shop, &record.document, record.revision);
    transaction
        .keep_agenda(shop.id, record.id, agenda.as_ref().map(|agenda| (agenda, basis)))
        .await?;
    Ok(agenda != former)
}

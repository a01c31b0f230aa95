//! How a cast is changed: document, facts, agenda, forecast, the shop's settings where they change
//! with it, and the revision, in one transaction; then one event.
//!
//! What the change comes to is worked out before the transaction, from the shop and the cast as
//! they were read. The transaction holds both and looks whether they still are: where the shop has
//! changed meanwhile everything is done again, where the cast has, the change is refused.

use fondant_cast::facts::{Fact, FactRow};
use fondant_cast::{Document, refusals};
use fondant_store::Transaction;
use fondant_store::repos::{CastId, CastRecord, NewRow, RunId, Workshop, WorkshopSettings};

use crate::agendas::{self, Outcome};
use crate::app::App;
use crate::casts::open::{Open, open};
use crate::casts::resins;
use crate::error::{AppError, Boxed};
use crate::events::{Event, tell};
use crate::request::Request;
use crate::run_rows::append;
use crate::shop::Shop;

/// Tries while others change the shop.
const TRIES: usize = 6;

/// What a use case does with a cast.
#[derive(Debug, Clone)]
pub(crate) struct Draft {
    /// The document afterwards.
    pub(crate) document: Document,
    /// How the document came about.
    pub(crate) origin: Origin,
    /// The fact to be written.
    pub(crate) fact: Option<Fact>,
    /// What it follows from, where it happened at the bench: written down with it.
    pub(crate) at_bench: Option<(RunId, NewRow)>,
    /// The shop's settings afterwards, where they change.
    pub(crate) settings: Option<WorkshopSettings>,
}

/// How a document came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Origin {
    /// Changed by an edit.
    Changed,
    /// Its plan was taken: what is promised is kept with it.
    Taken,
    /// A change was undone or redone.
    Stepped(fondant_store::repos::Step),
}

/// A cast that was changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Changed {
    /// Current revision of the cast.
    pub revision: i32,
}

impl Draft {
    /// A draft that replaces the document.
    pub(crate) fn document(document: Document) -> Self {
        let (fact, at_bench, settings) = (None, None, None);
        Self { document, origin: Origin::Changed, fact, at_bench, settings }
    }

    /// A document whose plan is taken.
    pub(crate) fn taken(document: Document) -> Self {
        Self { origin: Origin::Taken, ..Self::document(document) }
    }

    fn changes_nothing(&self, record: &CastRecord) -> bool {
        self.document == record.document
            && self.fact.is_none()
            && self.at_bench.is_none()
            && self.settings.is_none()
            && !matches!(self.origin, Origin::Stepped(_))
    }
}

/// A change and everything that it was worked out from.
struct Worked {
    open: Open,
    rows: Vec<FactRow>,
    draft: Draft,
    /// The shop afterwards.
    shop: Shop,
    outcome: Outcome,
}

/// What is to be done with a cast.
pub(crate) trait Act<E = AppError>: Sync {
    /// What it comes to for a cast as it is, with what has happened to it. It is asked again where
    /// the shop has changed meanwhile.
    fn draft(
        &self,
        app: &App,
        open: &Open,
        rows: &[FactRow],
    ) -> impl Future<Output = Result<Draft, E>> + Send;
}

/// Changes a cast that is still at `expected`.
pub(crate) async fn write<E: From<AppError>>(
    app: &App,
    cast: CastId,
    expected: i32,
    request: &Request,
    act: impl Act<E>,
) -> Result<Changed, E> {
    for _ in 0..TRIES {
        let open = open(app, cast).await?;
        let rows = open.facts(app).await?;
        let current = open.record.revision;
        if current != expected {
            // The same request may have come before, and this is its own change.
            if was_answered(app, &open.shop, request).await? {
                return Ok(Changed { revision: current });
            }
            return Err(AppError::Stale { expected, current }.into());
        }
        let mut draft = act.draft(app, &open, &rows).await?;
        if !rows.is_empty() {
            let after = with_fact(app, &rows, &draft);
            draft.document = resins::kept(app, &open, (&rows, &after), draft.document).await?;
        }
        if draft.changes_nothing(&open.record) {
            return Ok(Changed { revision: expected });
        }
        let checked = draft.document.clone();
        let conflicts = app.compute(move |_| refusals(&checked)).await?;
        // What was kept once may be taken back as it was.
        if !conflicts.is_empty() && !matches!(draft.origin, Origin::Stepped(_)) {
            return Err(AppError::Conflicts(conflicts).into());
        }
        let worked = come_to(app, open, rows, draft).await?;
        if let Some(changed) = commit(app, &worked, request).await? {
            return Ok(changed);
        }
    }
    Err(AppError::Busy.into())
}

/// What has happened, with what is about to be written down.
fn with_fact(app: &App, rows: &[FactRow], draft: &Draft) -> Vec<FactRow> {
    let new = draft.fact.map(|fact| FactRow { number: i64::MAX, fact, recorded_at: app.now() });
    rows.iter().copied().chain(new).collect()
}

fn was_answered<'a>(app: &'a App, shop: &'a Shop, request: &'a Request) -> Boxed<'a, bool> {
    Box::pin(async {
        let transaction = app.store.begin().await?;
        // Never committed: a new key stays new.
        Ok(request.answered(&transaction, shop.id, app.now()).await?.is_some())
    })
}

/// Works out what a draft comes to.
fn come_to(app: &App, open: Open, rows: Vec<FactRow>, draft: Draft) -> Boxed<'_, Worked> {
    Box::pin(worked(app, open, rows, draft))
}

async fn worked(
    app: &App,
    open: Open,
    rows: Vec<FactRow>,
    draft: Draft,
) -> Result<Worked, AppError> {
    let happened = with_fact(app, &rows, &draft);
    let shop = match &draft.settings {
        None => open.shop.clone(),
        Some(settings) => app.shop_of(changed(&open.shop.workshop, settings)).await?,
    };
    let outcome = app.outcome(&shop, &draft.document, &happened).await?;
    Ok(Worked { open, rows, draft, shop, outcome })
}

fn changed(workshop: &Workshop, settings: &WorkshopSettings) -> Workshop {
    let revision = workshop.revision.saturating_add(1);
    Workshop { revision, settings: settings.clone(), ..workshop.clone() }
}

/// Does it; `None` where the shop or the facts have changed since they were read.
fn commit<'a>(
    app: &'a App,
    worked: &'a Worked,
    request: &'a Request,
) -> Boxed<'a, Option<Changed>> {
    Box::pin(committed(app, worked, request))
}

async fn committed(
    app: &App,
    worked: &Worked,
    request: &Request,
) -> Result<Option<Changed>, AppError> {
    let Worked { open: Open { shop: read, record }, rows, draft, shop, outcome } = worked;
    let now = app.now();
    let transaction = app.store.begin().await?;
    if request.answered(&transaction, shop.id, now).await?.is_some() {
        let current = transaction.cast(shop.id, record.id).await?.revision;
        return Ok(Some(Changed { revision: current }));
    }
    let is_as_read = match &draft.settings {
        None => agendas::hold(&transaction, read).await?,
        Some(_) => agendas::lock(&transaction, read).await?,
    };
    if !is_as_read {
        return Ok(None);
    }
    if let Some(settings) = &draft.settings {
        transaction.save_workshop(shop.id, read.workshop.revision, settings).await?;
        tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    }
    transaction.lock_cast_at(shop.id, record.id, record.revision).await?;
    let has_plan =
        !(record.document.pours.taken.is_empty() && draft.document.pours.taken.is_empty());
    if has_plan && transaction.facts(shop.id, record.id).await? != *rows {
        return Ok(None);
    }
    let after = save(&transaction, shop, record, draft, now).await?;
    if let Some((run, row)) = &draft.at_bench {
        append(&transaction, shop.id, (record.id, *run), row, now).await?;
    }
    if let Some(fact) = &draft.fact {
        let number = transaction.add_fact(record.id, fact, now).await?;
        request.keep_answer(&transaction, shop.id, number, now).await?;
    } else {
        request.keep_answer(&transaction, shop.id, i64::from(after.revision), now).await?;
    }
    if has_plan {
        let forecast = match outcome {
            Outcome::Due { forecast, .. } => forecast.as_deref(),
            Outcome::Nothing | Outcome::Poured(_) | Outcome::AsItWas => None,
        };
        if let (Origin::Taken, Some(forecast)) = (draft.origin, forecast) {
            transaction.keep_forecast(record.id, after.revision, forecast, now).await?;
        }
        agendas::keep(&transaction, shop, &after, outcome.clone()).await?;
    }
    let event = Event::CastChanged { workshop: shop.id, cast: record.id, revision: after.revision };
    tell(&transaction, &event).await?;
    transaction.commit().await?;
    Ok(Some(Changed { revision: after.revision }))
}

/// The document as it is now kept.
async fn save(
    transaction: &Transaction,
    shop: &Shop,
    record: &CastRecord,
    draft: &Draft,
    now: jiff::Timestamp,
) -> Result<CastRecord, AppError> {
    let mut after = record.clone();
    match draft.origin {
        Origin::Stepped(step) => {
            after.document = draft.document.clone();
            let at = (record.id, record.revision);
            after.revision = transaction.step(shop.id, at, step, &draft.document, now).await?;
        }
        Origin::Changed | Origin::Taken if draft.document != record.document => {
            after.document = draft.document.clone();
            let saved = transaction.save_document(
                shop.id,
                record.id,
                record.revision,
                &draft.document,
                now,
            );
            after.revision = saved.await?;
        }
        Origin::Changed | Origin::Taken => {}
    }
    Ok(after)
}

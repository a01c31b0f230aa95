//! What follows from a cast's document, worked out once and kept.

use std::sync::Arc;

use fondant_cast::facts::{self, FactRow, standing};
use fondant_cast::planning::{self, Offer};
use fondant_cast::pours::Planned;
use fondant_cast::{
    Conflict, Document, Evaluation, Forecast, Inputs, NotEvaluated, Standing, evaluate,
};
use fondant_materials::resin::{Record, ResinId};
use fondant_numerics::Stop;
use fondant_pours::Schedule;
use fondant_pours::simulate::Observed;
use serde::Serialize;

use crate::app::App;
use crate::compute::Key;
use crate::error::{AppError, Boxed};
use crate::shop::Shop;

/// As what something is counted that is worked out beside an evaluation, bytes: some tens of points of a
/// chart, or a figure, take up less.
const BYTES_BESIDE: usize = 16 * 1024;

/// A cast's document, its shop, and what follows from them.
#[derive(Debug, Clone)]
pub struct Worked {
    /// Everything that it follows from.
    pub inputs: Arc<Inputs>,
    /// The evaluation of the inputs.
    pub evaluation: Arc<Evaluation>,
    /// By what it is found again.
    pub key: Key,
}

impl Worked {
    /// From when on pours are proposed: the next full hour, or when work can begin where that is later.
    pub(crate) fn proposed_from(&self) -> jiff::Timestamp {
        self.inputs.now.unwrap_or(self.inputs.document.pours.not_before)
    }
}

impl App {
    /// What a document follows from in a shop.
    ///
    /// # Errors
    /// [`AppError::Conflicts`] for a resin that is not on the shelf.
    pub fn inputs(&self, document: &Document, shop: &Shop) -> Result<Inputs, AppError> {
        let find = |id: &ResinId| {
            let unknown = |_| AppError::Conflicts(vec![Conflict::UnknownResin(id.0.clone())]);
            shop.shelf().find(id).cloned().map_err(unknown)
        };
        let stages: Result<Vec<Record>, AppError> =
            document.stage_resins().iter().map(find).collect();
        let inputs = Inputs::new(document.clone(), find(&document.resin)?, shop.site());
        Ok(inputs.with_stage_resins(stages?).at(self.now()))
    }

    /// Works a document out, or finds it worked out.
    ///
    /// # Errors
    /// [`AppError::Conflicts`] where it contradicts itself.
    pub fn evaluate<'a>(&'a self, document: &'a Document, shop: &'a Shop) -> Boxed<'a, Worked> {
        Box::pin(self.evaluated(document, shop))
    }

    async fn evaluated(&self, document: &Document, shop: &Shop) -> Result<Worked, AppError> {
        let inputs = Arc::new(self.inputs(document, shop)?);
        // The shop's air, which is long, is hashed once with the shop.
        let key = if inputs.site == *shop.site() {
            Key::of(&(
                &inputs.document,
                &inputs.resin,
                &inputs.stage_resins,
                &shop.around.key,
                inputs.now,
            ))?
        } else {
            Key::of(&inputs)?
        };
        let asked = Arc::clone(&inputs);
        let work = async {
            let done = self.lanes.pages.run(move |stop| evaluate(&asked, stop)).await?;
            done.map_err(|error| match error {
                NotEvaluated::Conflicts(conflicts) => AppError::Conflicts(conflicts),
                NotEvaluated::Abandoned => AppError::TooLong,
            })
        };
        let evaluation = self.results.evaluations.get_or(&key, work).await?;
        Ok(Worked { inputs, evaluation, key })
    }

    /// Runs something of the model for a page.
    ///
    /// # Errors
    /// [`AppError::Busy`], [`AppError::TooLong`], [`AppError::Fault`].
    pub async fn compute<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Stop) -> T + Send + 'static,
    ) -> Result<T, AppError> {
        self.lanes.pages.run(work).await
    }

    /// Works out for a page what belongs to a worked cast, or finds it worked out. `by` is what it
    /// follows from beside the evaluation; a sort of its own tells one page's from another's. It
    /// is counted as 16 KB.
    ///
    /// # Errors
    /// [`AppError::Busy`], [`AppError::TooLong`], [`AppError::Fault`].
    pub async fn beside<T: Send + Sync + 'static>(
        &self,
        worked: &Worked,
        by: &(impl Serialize + Sync),
        work: impl FnOnce(&Stop) -> T + Send + 'static,
    ) -> Result<Arc<T>, AppError> {
        // What happened moves pours and windows of a plan, and leaves the key of what was worked out.
        let pours = worked.evaluation.pours.as_ref().ok();
        let times: Option<Vec<_>> =
            pours.map(|all| all.pours.iter().map(|one| [one.at, one.opens, one.closes]).collect());
        let key = Key::of(&(std::any::type_name::<T>(), &worked.key, times, by))?;
        let work = async {
            let run = self.lanes.pages.run(move |stop| {
                let found = work(stop);
                (!stop.is_requested()).then_some(found)
            });
            run.await?.ok_or(AppError::TooLong)
        };
        self.results.beside.get_or(&key, |_| BYTES_BESIDE, work).await
    }

    /// Runs something that is asked for beside a page, which never keeps a page waiting.
    ///
    /// # Errors
    /// [`AppError::Busy`], [`AppError::TooLong`], [`AppError::Fault`].
    pub async fn compute_beside<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Stop) -> T + Send + 'static,
    ) -> Result<T, AppError> {
        self.lanes.beside.run(work).await
    }

    /// The taken plan by what has happened; `None` where nothing has, or no plan is taken.
    ///
    /// # Errors
    /// [`AppError`].
    pub async fn by_facts(
        &self,
        worked: &Worked,
        rows: &[FactRow],
    ) -> Result<Arc<Option<Observed>>, AppError> {
        let stands = standing(rows);
        if stands.is_empty() || worked.evaluation.standing != Standing::Taken {
            return Ok(Arc::new(None));
        }
        let happened: Vec<_> = stands.iter().map(|row| row.fact).collect();
        let key = Key::of(&("by facts", &worked.key, happened))?;
        let (evaluation, rows) = (Arc::clone(&worked.evaluation), rows.to_vec());
        let work = self.lanes.pages.run(move |stop| {
            let task = evaluation.pour_task.as_ref()?.until(stop);
            facts::by_facts(&task, evaluation.planned.as_ref()?, &rows).ok()
        });
        self.results.observed.get_or(&key, work).await
    }

    /// What comes over what is in, where the plan that was taken fits no longer; `None` where nothing is
    /// in, the plan fits, or what is in cannot be part of this form.
    ///
    /// # Errors
    /// [`AppError`].
    pub async fn over_poured(
        &self,
        worked: &Worked,
        rows: &[FactRow],
    ) -> Result<Arc<Option<(Vec<Planned>, Schedule)>>, AppError> {
        let stands = standing(rows);
        if stands.is_empty() || worked.evaluation.standing != Standing::Outdated {
            return Ok(Arc::new(None));
        }
        let happened: Vec<_> = stands.iter().map(|row| row.fact).collect();
        let key = Key::of(&("over poured", &worked.key, happened))?;
        let (evaluation, rows) = (Arc::clone(&worked.evaluation), rows.to_vec());
        let now = worked.proposed_from();
        let work = self.lanes.pages.run(move |stop| {
            let task = evaluation.pour_task.as_ref()?.until(stop);
            facts::rest::over_poured(&task, &rows, now)
        });
        self.results.over_poured.get_or(&key, work).await
    }

    /// What a cast comes to by what has happened: the pours of a taken plan at the times at which
    /// they were, the others as they are expected. Where the plan fits no longer, what is in stays, and the
    /// rest is proposed.
    ///
    /// # Errors
    /// [`AppError`].
    pub async fn happened(&self, worked: &Worked, rows: &[FactRow]) -> Result<Worked, AppError> {
        if let Some((planned, schedule)) = self.over_poured(worked, rows).await?.as_ref() {
            let evaluation = Arc::new(Evaluation {
                pours: Ok(schedule.clone()),
                planned: Some(planned.clone()),
                ..worked.evaluation.as_ref().clone()
            });
            return Ok(Worked { evaluation, ..worked.clone() });
        }
        let observed = self.by_facts(worked, rows).await?;
        let Some(observed) = observed.as_ref() else { return Ok(worked.clone()) };
        let pours = Ok(observed.schedule.clone());
        let evaluation = Arc::new(Evaluation { pours, ..worked.evaluation.as_ref().clone() });
        Ok(Worked { evaluation, ..worked.clone() })
    }

    /// The forecast of a plan that is taken; `None` where none is.
    pub(crate) async fn forecast(
        &self,
        worked: &Worked,
    ) -> Result<Arc<Option<Forecast>>, AppError> {
        let key = Key::of(&("forecast", &worked.key))?;
        let Worked { inputs, evaluation, .. } = worked.clone();
        let work = self.lanes.pages.run(move |stop| Forecast::of(&inputs, &evaluation, stop));
        self.results.forecasts.get_or(&key, work).await
    }

    /// The smallest changes that would help a cast's pours, each checked.
    ///
    /// # Errors
    /// [`AppError`].
    pub async fn offers(&self, shop: &Shop, worked: &Worked) -> Result<Arc<Vec<Offer>>, AppError> {
        let wanted = worked.evaluation.standing != Standing::Taken
            && planning::is_wanted(&worked.evaluation);
        if !wanted {
            return Ok(Arc::default());
        }
        let own = worked.inputs.document.resin.clone();
        let (document, measured) = (&worked.inputs.document, &worked.evaluation.measured);
        let suits = |resin: &Record| planning::suits(document, measured, resin).is_ok();
        let offered = shop.shelf().offered().filter(|resin| resin.id != own && suits(resin));
        let others: Vec<Record> = offered.cloned().collect();
        let key = Key::of(&("offers", &worked.key, &others))?;
        let Worked { inputs, evaluation, .. } = worked.clone();
        let work = async {
            let beside = &self.lanes.beside;
            let found = beside.run(move |stop| {
                let offers = planning::offers(&inputs, &evaluation, &others, stop);
                (!stop.is_requested()).then_some(offers)
            });
            found.await?.ok_or(AppError::TooLong)
        };
        self.results.offers.get_or(&key, work).await
    }
}

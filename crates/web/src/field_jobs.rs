//! Fields that are being computed or have been: long work beside the requests,
//! with progress, that can be abandoned and is kept by what went into it.

use std::collections::HashMap;
use std::ops::ControlFlow;
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::time::{Duration, Instant};

use fondant_cast::FieldTask;
use fondant_heat::HeatError;
use fondant_heat::field::{Field, FieldGoal};

use crate::pour_jobs::key_of;

/// Fields kept at most; each takes a megabyte or two.
const KEPT: usize = 24;
/// A page asks again several times a second; what it has not asked for in this
/// time, no page waits for.
const FORGOTTEN_AFTER: Duration = Duration::from_secs(2);
/// A field is followed for so long after its last pour at most, s.
const HORIZON_S: f64 = 10.0 * 86_400.0;

/// A field, and the deepest single pour in its place.
#[derive(Debug)]
pub struct Worked {
    /// The field.
    pub field: Field,
    /// The deepest single pour here that stays under the limit, m; `None`
    /// where none is safe.
    pub deepest_m: Option<f64>,
}

/// All fields of this server.
#[derive(Debug, Default)]
pub struct FieldJobs {
    kept: Mutex<HashMap<String, Arc<FieldJob>>>,
}

/// One field.
#[derive(Debug)]
pub struct FieldJob {
    /// By what it is found: a hash of everything that went into it.
    pub key: String,
    /// The cast that asked for it last.
    cast: i64,
    /// When a page last asked for it.
    asked: Mutex<Instant>,
    permille: AtomicU32,
    is_abandoned: AtomicBool,
    done: OnceLock<Result<Worked, HeatError>>,
}

impl FieldJob {
    /// How far it has come, 0…1.
    #[must_use]
    pub fn progress(&self) -> f64 {
        f64::from(self.permille.load(Ordering::Relaxed)) * 1e-3
    }

    /// The field or why there is none, once it is finished.
    #[must_use]
    pub fn done(&self) -> Option<&Result<Worked, HeatError>> {
        self.done.get()
    }

    fn asked(&self) -> Instant {
        *self.asked.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn is_wanted(&self) -> bool {
        !self.is_abandoned.load(Ordering::Relaxed)
    }

    /// Computes it; `expected_s` is about when it will be hard, `column_m` how
    /// deep a column may be poured.
    pub fn work(&self, task: &FieldTask, expected_s: f64, column_m: f64) {
        let field = self.follow(task, expected_s, column_m);
        // Whoever came first has the same answer.
        let _ = self.done.set(field);
    }

    fn follow(
        &self,
        task: &FieldTask,
        expected_s: f64,
        column_m: f64,
    ) -> Result<Worked, HeatError> {
        let mut watch = |progress: fondant_heat::field::Progress| {
            // The search for the deepest pour comes after, at about as much again.
            let share = 0.6 * (progress.at_s / expected_s.max(1.0)).min(1.0);
            self.permille.store((share * 1e3) as u32, Ordering::Relaxed);
            if self.is_wanted() { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
        };
        let mut field = task.field()?;
        field.record();
        for pour in task.pours() {
            if pour.at_s > field.time_s() {
                field.run(pour.at_s, FieldGoal::Time, &mut watch)?;
            }
            field.pour(pour.to_m, task.poured().t_k, task.poured().conversion)?;
        }
        field.run(field.time_s() + HORIZON_S, FieldGoal::Hard, &mut watch)?;
        let mut patient = |_: fondant_heat::field::Progress| {
            if self.is_wanted() { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
        };
        let deepest_m = match task.deepest(column_m, &mut patient) {
            Err(error @ HeatError::Abandoned { .. }) => return Err(error),
            found => found.ok(),
        };
        Ok(Worked { field, deepest_m })
    }
}

impl FieldJobs {
    /// The job of a task, and whether it is new and has to be worked. What the
    /// same cast asked for before, and no page asks for any more, is abandoned:
    /// its inputs have changed. Two tabs that look at two cuts both get theirs.
    pub fn job(&self, cast: i64, task: &FieldTask, now: Instant) -> (Arc<FieldJob>, bool) {
        let key = key_of(task);
        let mut kept = self.kept();
        let is_former = |job: &&Arc<FieldJob>| {
            job.cast == cast && job.key != key && now > job.asked() + FORGOTTEN_AFTER
        };
        for other in kept.values().filter(is_former) {
            other.is_abandoned.store(true, Ordering::Relaxed);
        }
        kept.retain(|_, job| job.is_wanted() || matches!(job.done(), Some(Ok(_))));
        if let Some(job) = kept.get(&key) {
            *job.asked.lock().unwrap_or_else(PoisonError::into_inner) = now;
            return (Arc::clone(job), false);
        }
        if kept.len() >= KEPT {
            kept.retain(|_, job| job.done().is_none());
        }
        let job = Arc::new(FieldJob {
            key: key.clone(),
            cast,
            asked: Mutex::new(now),
            permille: AtomicU32::new(0),
            is_abandoned: AtomicBool::new(false),
            done: OnceLock::new(),
        });
        kept.insert(key, Arc::clone(&job));
        (job, true)
    }

    /// Nobody waits for a cast's field any more.
    pub fn abandon(&self, cast: i64) {
        for job in self.kept().values().filter(|job| job.cast == cast) {
            job.is_abandoned.store(true, Ordering::Relaxed);
        }
    }

    /// The map stays whole even where a thread panicked beside it.
    fn kept(&self) -> std::sync::MutexGuard<'_, HashMap<String, Arc<FieldJob>>> {
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{evaluated, of_kind};
    use fondant_cast::Kind;
    use fondant_quantities::Length;

    fn task(width_mm: f64) -> FieldTask {
        let mut plan = of_kind(Kind::Block);
        plan.piece.width = Length::from_mm(width_mm);
        FieldTask::of(&plan, &evaluated(&plan), Length::ZERO, true).unwrap()
    }

    #[test]
    fn the_same_task_is_worked_once_and_kept() {
        let jobs = FieldJobs::default();
        let (job, is_new) = jobs.job(1, &task(80.0), Instant::now());
        assert!(is_new && job.done().is_none());
        job.work(&task(80.0), 1e5, 0.05);
        let (again, is_new) = jobs.job(1, &task(80.0), Instant::now());
        assert!(!is_new && matches!(again.done(), Some(Ok(_))));
        assert_ne!(jobs.job(2, &task(81.0), Instant::now()).0.key, job.key);
    }

    #[test]
    fn what_is_abandoned_ends_and_is_worked_anew_when_asked_again() {
        let jobs = FieldJobs::default();
        let (job, _) = jobs.job(1, &task(80.0), Instant::now());
        jobs.abandon(1);
        job.work(&task(80.0), 1e5, 0.05);
        assert!(matches!(job.done(), Some(Err(HeatError::Abandoned { .. }))));
        assert!(jobs.job(1, &task(80.0), Instant::now()).1, "a new one");
    }

    #[test]
    fn a_changed_cast_abandons_its_former_field() {
        let jobs = FieldJobs::default();
        let now = Instant::now();
        let (first, _) = jobs.job(1, &task(80.0), now);
        let (other, _) = jobs.job(2, &task(90.0), now);
        jobs.job(1, &task(85.0), now + Duration::from_millis(500));
        assert!(first.is_wanted(), "another tab may still look at it");
        jobs.job(1, &task(85.0), now + FORGOTTEN_AFTER * 2);
        assert!(!first.is_wanted() && other.is_wanted());
    }
}

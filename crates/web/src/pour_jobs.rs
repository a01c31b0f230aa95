//! Alternatives of pour times that are being worked out or have been: beside
//! the requests, with progress, abandoned once their inputs change, and kept by
//! what went into them.

use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use fondant_cast::{Alternative, PourTask, PourTrouble, alternatives};
use sha2::{Digest, Sha256};

/// Answers kept at most.
const KEPT: usize = 24;

/// All searches of this server.
#[derive(Debug, Default)]
pub struct PourJobs {
    kept: Mutex<HashMap<String, Arc<PourJob>>>,
}

/// One search.
#[derive(Debug)]
pub struct PourJob {
    cast: i64,
    permille: AtomicU32,
    is_abandoned: AtomicBool,
    done: OnceLock<Result<Vec<Alternative>, PourTrouble>>,
}

impl PourJob {
    /// How far it has come, 0…1.
    #[must_use]
    pub fn progress(&self) -> f64 {
        f64::from(self.permille.load(Ordering::Relaxed)) * 1e-3
    }

    /// The alternatives or why there are none, once it is finished.
    #[must_use]
    pub fn done(&self) -> Option<&Result<Vec<Alternative>, PourTrouble>> {
        self.done.get()
    }

    /// Works it out.
    pub fn work(&self, task: &PourTask) {
        let found = alternatives(task, &|share| {
            let permille = (share * 1e3) as u32;
            self.permille.fetch_max(permille, Ordering::Relaxed);
            !self.is_abandoned.load(Ordering::Relaxed)
        });
        // Whoever came first has the same answer.
        let _ = self.done.set(found);
    }
}

/// By what a task is found: a hash of everything that goes into it.
#[must_use]
pub fn key_of(task: &impl std::fmt::Debug) -> String {
    let hash = Sha256::digest(format!("{task:?}").as_bytes());
    hash.iter().take(12).map(|byte| format!("{byte:02x}")).collect()
}

impl PourJobs {
    /// The job of a task, and whether it is new and has to be worked. What the
    /// same cast asked for before is abandoned: its inputs have changed.
    pub fn job(&self, cast: i64, task: &PourTask) -> (Arc<PourJob>, bool) {
        let key = key_of(task);
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        for (other, job) in kept.iter() {
            if job.cast == cast && *other != key {
                job.is_abandoned.store(true, Ordering::Relaxed);
            }
        }
        kept.retain(|_, job| {
            !job.is_abandoned.load(Ordering::Relaxed) || matches!(job.done(), Some(Ok(_)))
        });
        if let Some(job) = kept.get(&key) {
            return (Arc::clone(job), false);
        }
        if kept.len() >= KEPT {
            kept.retain(|_, job| job.done().is_none());
        }
        let job = Arc::new(PourJob {
            cast,
            permille: AtomicU32::new(0),
            is_abandoned: AtomicBool::new(false),
            done: OnceLock::new(),
        });
        kept.insert(key, Arc::clone(&job));
        (job, true)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{evaluated, plan};
    use fondant_quantities::Length;

    fn task(wide_mm: f64) -> PourTask {
        let mut plan = plan();
        plan.river.stations[1].width = Length::from_mm(wide_mm);
        evaluated(&plan).pour_task.unwrap()
    }

    #[test]
    fn the_same_task_is_worked_once_and_kept() {
        let jobs = PourJobs::default();
        let (job, is_new) = jobs.job(1, &task(300.0));
        assert!(is_new && job.done().is_none());
        job.work(&task(300.0));
        let (again, is_new) = jobs.job(1, &task(300.0));
        assert!(!is_new);
        let found = again.done().unwrap().as_ref().unwrap();
        assert!(!found.is_empty() && found.iter().filter(|a| a.is_suggested).count() == 1);
        assert!((again.progress() - 0.85).abs() < 1e-3);
    }

    #[test]
    fn a_changed_cast_abandons_its_former_search() {
        let jobs = PourJobs::default();
        let (first, _) = jobs.job(1, &task(300.0));
        let (other, _) = jobs.job(2, &task(280.0));
        jobs.job(1, &task(320.0));
        first.work(&task(300.0));
        assert!(matches!(first.done(), Some(Err(PourTrouble::Schedule(_)))));
        assert!(
            other.done().is_none() && jobs.job(1, &task(300.0)).1,
            "worked anew when asked again"
        );
    }
}

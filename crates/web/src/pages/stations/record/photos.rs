//! Photos of faults, and of how the piece was finished.

use fondant_app::ending::Explained;
use fondant_app::records::{PhotoRecord, Shows};
use fondant_finish::surface::School;
use fondant_finish::work::StepKind;

use super::super::asked::Asked;
use crate::pages::stations::shown::{ShownPhoto, ShownPhotos};
use crate::paths::casts::ShowFault;
use crate::words::{finishing, record};

pub(super) fn of_fault(asked: &Asked<'_>, one: &Explained, photos: &[PhotoRecord]) -> ShownPhotos {
    let id = one.kept.id;
    let what = (Shows::Fault(id), record::fault(one.kept.fault.kind));
    let add = ShowFault { cast: asked.cast, fault: id }.to_string();
    ShownPhotos::new(asked, photos, what, (add, format!("photo-fault-{id}")))
}

/// Photos of steps with what they show, in the order in which they were taken.
pub(super) fn of_steps(
    asked: &Asked<'_>,
    photos: &[PhotoRecord],
) -> Vec<(&'static str, ShownPhoto)> {
    let of_step = |photo: &PhotoRecord| {
        let name = match photo.shows {
            Shows::Step(StepKind::Surface) => "The last surface",
            // Only the last surface has names of its own.
            Shows::Step(step) => finishing::step(step, School::Polished),
            Shows::Bench | Shows::Fault(_) => return None,
        };
        Some((name, ShownPhoto::new(asked.cast, photo.id)))
    };
    photos.iter().rev().filter_map(of_step).collect()
}

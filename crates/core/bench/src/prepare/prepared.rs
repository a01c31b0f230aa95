//! A cast that is to be run, its batches and buckets.

use fondant_cast::{Document, Evaluation, ShopSettings};
use fondant_materials::resin::Calibrated;
use fondant_materials::resin::shelf::Colour;
use fondant_pours::ScheduledPour;
use fondant_quantities::Mass;

/// A cast and its shop, as they are when a run begins.
#[derive(Debug, Clone, Copy)]
pub struct Prepared<'a> {
    /// The cast, in the mean of its air.
    pub document: &'a Document,
    /// What follows from it.
    pub evaluation: &'a Evaluation,
    /// The shop.
    pub shop: &'a ShopSettings,
    /// The colours on its shelf.
    pub colours: &'a [Colour],
}

/// Mixed mass of a batch of a pour.
pub(super) fn batch(pour: &ScheduledPour, resin: &Calibrated) -> Mass {
    pour.mixed * resin.density / f64::from(pour.batches.max(1))
}

/// Most that a bucket of a pour is filled with.
pub(super) fn bucket(document: &Document, pour: &ScheduledPour, resin: &Calibrated) -> Mass {
    batch(pour, resin).max(document.conditions.bucket)
}

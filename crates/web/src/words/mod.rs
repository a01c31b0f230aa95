//! Sentences: what the model's figures and errors mean to a maker, in the shop's units.

pub(crate) mod air;
pub(crate) mod bench;
pub(crate) mod calibration;
pub(crate) mod causes;
pub(crate) mod cautions;
pub(crate) mod conflicts;
pub(crate) mod counting;
pub(crate) mod defaults;
pub(crate) mod entry;
pub(crate) mod files;
pub(crate) mod finishing;
pub(crate) mod guide;
pub(crate) mod hours;
pub(crate) mod jobs;
pub(crate) mod kinds;
pub(crate) mod layers;
pub(crate) mod lessons;
pub(crate) mod measures;
pub(crate) mod mixing;
pub(crate) mod plans;
pub(crate) mod pours;
pub(crate) mod rack;
pub(crate) mod record;
pub(crate) mod resin;
pub(crate) mod trouble;

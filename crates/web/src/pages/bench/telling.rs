//! What an act looks like, and what it is told from.

use fondant_bench::Run;
use fondant_bench::swirl::Edges;
use fondant_cast::Kind;
use jiff::tz::TimeZone;

use super::model::Modelled;
use crate::ui::units::Shown;
use crate::words::bench::vessel;

/// The act at hand.
#[derive(Debug, Default)]
pub(super) struct ActView {
    pub(super) heading: String,
    /// A figure for arm's length, and its unit.
    pub(super) figure: String,
    pub(super) unit: &'static str,
    /// What the scale is to show, kg; 0 where nothing is weighed.
    pub(super) target_kg: f64,
    pub(super) says: Vec<String>,
    /// Counts down to this, milliseconds since 1970; 0 for nothing.
    pub(super) until_ms: i64,
    /// Whether the bucket's time is what counts down.
    pub(super) is_bucket: bool,
    /// What is sent with a tap.
    pub(super) sent: Vec<(&'static str, String)>,
    pub(super) entry: Option<Entry>,
    pub(super) choice: Option<Choice>,
    pub(super) tick: Option<(&'static str, &'static str)>,
    pub(super) button: String,
    /// Other ways to do the act.
    pub(super) others: Vec<Other>,
    pub(super) caution: String,
}

/// Something to be typed.
#[derive(Debug)]
pub(super) struct Entry {
    pub(super) name: &'static str,
    pub(super) label: String,
    pub(super) value: String,
    pub(super) hint: &'static str,
}

/// Something to be chosen, the first of it unless another is.
#[derive(Debug, Clone)]
pub(super) struct Choice {
    pub(super) name: &'static str,
    pub(super) label: &'static str,
    pub(super) all: Vec<(String, String)>,
}

/// Another thing that can be tapped instead.
#[derive(Debug)]
pub(super) struct Other {
    pub(super) label: String,
    pub(super) sent: Vec<(&'static str, String)>,
}

/// What an act is told from.
pub(super) struct Telling<'a> {
    pub(super) run: &'a Run,
    /// The kind of the cast.
    pub(super) kind: Kind,
    pub(super) modelled: &'a [Modelled],
    /// The shop's swirls: how they came out, and how thick they were at the join, Pa·s.
    pub(super) swirls: &'a [(Edges, f64)],
    /// Lots of its resin, the one to be used first.
    pub(super) lots: &'a [(String, String)],
    pub(super) shown: Shown,
    pub(super) zone: &'a TimeZone,
    /// What is known of an item of the ready list.
    pub(super) known: &'a dyn Fn(fondant_bench::run::ReadyItem) -> String,
}

impl Telling<'_> {
    /// What a batch is called.
    pub(super) fn vessel(&self, batch: u32) -> String {
        vessel(self.run, batch)
    }
}

pub(super) fn sent(what: &str) -> Vec<(&'static str, String)> {
    vec![("what", what.to_owned())]
}

pub(super) fn of_batch(what: &str, batch: u32) -> Vec<(&'static str, String)> {
    vec![("what", what.to_owned()), ("batch", batch.to_string())]
}

//! What an address of the ledger asks for.

use fondant_app::Shop;
use fondant_app::records::{CastId, LedgerAsked, LedgerSort};
use fondant_cast::Kind;
use fondant_quantities::Volume;
use fondant_quantities::bounds::{LOOKED_FOR, SPENT};
use fondant_quantities::units::UnitSystem;
use fondant_record::figures::Figure;
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use serde::Deserialize;
use url::form_urlencoded;

use crate::paths::shop::Ledger;
use crate::ui::slug::named;
use crate::ui::units::InUnits;
use crate::words::entry::entry;

/// What is asked for; what is left out, or cannot be read, asks for all.
// Many fields: each is one of the address.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(default)]
pub(super) struct Asking {
    pub(super) words: String,
    pub(super) kind: String,
    pub(super) resin: String,
    pub(super) timber: String,
    pub(super) people: String,
    pub(super) outcome: String,
    pub(super) fault: String,
    /// First and last day on the shop's calendar, such as `2026-11-28`.
    pub(super) from: String,
    pub(super) to: String,
    /// Mixed volume at least and at most, in the shop's units.
    pub(super) least_size: String,
    pub(super) most_size: String,
    /// Cost at least and at most.
    pub(super) least_cost: String,
    pub(super) most_cost: String,
    pub(super) sort: String,
    /// `up` for the smallest first.
    pub(super) order: String,
    pub(super) after: String,
    /// The figure that the chart shows.
    pub(super) figure: String,
    /// Two casts to be compared.
    pub(super) one: String,
    pub(super) other: String,
}

/// What it is sorted by, its slug and the head of its column.
pub(super) const SORTS: [(LedgerSort, &str, &str); 6] = [
    (LedgerSort::Ended, "ended", "Ended"),
    (LedgerSort::Name, "name", "Cast"),
    (LedgerSort::Volume, "volume", "Resin"),
    (LedgerSort::Hours, "hours", "Hours"),
    (LedgerSort::Cost, "cost", "Cost"),
    (LedgerSort::Faults, "faults", "Faults"),
];

/// Fields of an address that leave something out.
const NARROWING: usize = 13;

/// The figures that a chart can show.
pub(super) const CHARTED: [Figure; 8] = [
    Figure::Bucket,
    Figure::Mixing,
    Figure::Air,
    Figure::Humidity,
    Figure::Peak,
    Figure::Pressure,
    Figure::Mass,
    Figure::LeftOver,
];

impl Asking {
    /// What the records are asked.
    pub(super) fn asked(&self, shop: &Shop) -> LedgerAsked {
        let day = |text: &str| text.parse::<Date>().ok();
        let begins = |date: Date| -> Option<Timestamp> {
            Some(
                date.at(0, 0, 0, 0)
                    .to_zoned_datetime(shop.hours().zone().clone())
                    .ok()?
                    .timestamp(),
            )
        };
        let system = shop.shown().system;
        let size = |text: &String| LOOKED_FOR.read(text, system).ok().map(Volume::m3);
        let money = |text: &String| SPENT.read(text).ok();
        LedgerAsked {
            words: self.words.trim().to_owned(),
            kind: Kind::from_slug(&self.kind).map_or_else(String::new, |k| k.slug().to_owned()),
            resin: self.resin.clone(),
            timber: self.timber.trim().to_owned(),
            people: self.people.trim().to_owned(),
            outcome: named(&self.outcome),
            fault: named(&self.fault),
            volume_m3: [&self.least_size, &self.most_size].map(size),
            cost: [&self.least_cost, &self.most_cost].map(money),
            from: day(&self.from).and_then(begins),
            until: day(&self.to).and_then(|date| date.checked_add(1.day()).ok()).and_then(begins),
            sort: self.sort(),
            is_ascending: self.order == "up",
            after: self.after.parse().ok().map(CastId),
        }
    }

    /// Why amounts that were typed are left out, where they cannot be read.
    pub(super) fn refused(&self, system: UnitSystem) -> Vec<String> {
        let typed = |text: &&String| !text.trim().is_empty();
        let sizes = [&self.least_size, &self.most_size].into_iter().filter(typed);
        let sizes = sizes.filter_map(|text| LOOKED_FOR.read(text, system).err());
        let costs = [&self.least_cost, &self.most_cost].into_iter().filter(typed);
        let costs = costs.filter_map(|text| SPENT.read(text).err());
        sizes.chain(costs).map(|error| entry(&error, system)).collect()
    }

    pub(super) fn sort(&self) -> LedgerSort {
        SORTS
            .iter()
            .find(|(_, slug, _)| *slug == self.sort)
            .map_or_else(LedgerSort::default, |s| s.0)
    }

    pub(super) fn charted(&self) -> Figure {
        named(&self.figure).filter(|one| CHARTED.contains(one)).unwrap_or(CHARTED[0])
    }

    /// Whether anything is left out.
    pub(super) fn is_narrowed(&self) -> bool {
        self.fields()[..NARROWING].iter().any(|(_, text)| !text.trim().is_empty())
    }

    /// Its fields by name, those first that leave something out.
    fn fields(&self) -> [(&'static str, &String); NARROWING + 3] {
        [
            ("words", &self.words),
            ("kind", &self.kind),
            ("resin", &self.resin),
            ("timber", &self.timber),
            ("people", &self.people),
            ("outcome", &self.outcome),
            ("fault", &self.fault),
            ("from", &self.from),
            ("to", &self.to),
            ("least_size", &self.least_size),
            ("most_size", &self.most_size),
            ("least_cost", &self.least_cost),
            ("most_cost", &self.most_cost),
            ("sort", &self.sort),
            ("order", &self.order),
            ("figure", &self.figure),
        ]
    }

    /// The address of the same with some fields changed; fields that are empty are left out.
    pub(super) fn with(&self, changed: &[(&str, &str)]) -> String {
        self.address(&Ledger.to_string(), changed)
    }

    pub(super) fn address(&self, at: &str, changed: &[(&str, &str)]) -> String {
        let mut query = form_urlencoded::Serializer::new(String::new());
        for (name, value) in self.fields() {
            let value = changed.iter().find(|(n, _)| *n == name).map_or(value.as_str(), |(_, v)| v);
            if !value.is_empty() {
                query.append_pair(name, value);
            }
        }
        for (name, value) in changed.iter().filter(|(name, _)| *name == "after") {
            query.append_pair(name, value);
        }
        let query = query.finish();
        if query.is_empty() { at.to_owned() } else { format!("{at}?{query}") }
    }
}

//! The table of stations: the rail, the dispatcher and the scripts of a page come from it.

use fondant_cast::Kind;

use super::bench::Bench;
use super::contents::Inside;
use super::finish::Finish;
use super::form::Form;
use super::heat::Heat;
use super::piece::Piece;
use super::pours::Pours;
use super::record::Record;
use super::resin::Resin;
use super::station::{Entry, entry};
use super::timber::Timber;

/// The stations in the order of the work.
pub(crate) static STATIONS: [Entry; 10] = [
    entry::<Piece>(),
    entry::<Timber>(),
    entry::<Inside>(),
    entry::<Form>(),
    entry::<Resin>(),
    entry::<Heat>(),
    entry::<Pours>(),
    entry::<Bench>(),
    entry::<Finish>(),
    entry::<Record>(),
];

/// The stations of a kind of cast.
pub(crate) fn of(kind: Kind) -> impl Iterator<Item = &'static Entry> {
    STATIONS.iter().filter(move |entry| (entry.is_for)(kind))
}

/// A station of a kind by its name in an address.
pub(crate) fn find(kind: Kind, slug: &str) -> Option<&'static Entry> {
    of(kind).find(|entry| entry.slug == slug)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_has_nine_stations_with_digits_and_names_of_their_own() {
        for kind in Kind::ALL {
            let digits: Vec<usize> = of(kind).map(|entry| entry.digit).collect();
            assert_eq!(digits, [1, 2, 3, 4, 5, 6, 7, 8, 9], "{kind:?}");
            let mut slugs: Vec<&str> = of(kind).map(|entry| entry.slug).collect();
            slugs.dedup();
            assert_eq!(slugs.len(), 9);
            assert!(of(kind).all(|entry| !(entry.name)(kind).is_empty()));
        }
        assert!(find(Kind::River, "timber").is_some() && find(Kind::River, "nothing").is_none());
    }
}

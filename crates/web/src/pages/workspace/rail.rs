//! The rail of stations.

use fondant_app::records::CastId;
use fondant_cast::{Document, Evaluation};

use crate::pages::stations::station::Entry;
use crate::pages::stations::table::of;
use crate::paths::casts::Station;

/// One tick of the rail.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Tick {
    pub(super) name: &'static str,
    /// Digit that jumps to it.
    pub(super) digit: usize,
    /// Address of the station.
    pub(super) href: String,
    /// It is the one shown.
    pub(super) is_here: bool,
    /// `settled`, `in hand` or `trouble`.
    pub(super) standing: &'static str,
}

/// The ticks of a cast.
pub(super) fn ticks(
    cast: CastId,
    here: &str,
    (document, evaluation): (&Document, &Evaluation),
) -> Vec<Tick> {
    let kind = document.kind();
    let tick = |station: &'static Entry| Tick {
        name: (station.name)(kind),
        digit: station.digit,
        href: Station::of(cast, station.slug).to_string(),
        is_here: station.slug == here,
        standing: (station.standing)(document, evaluation).word(),
    };
    of(kind).map(tick).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{evaluated, river, river_top};
    use fondant_quantities::{Length, Temperature};

    fn standings(change: impl FnOnce(&mut Document)) -> Vec<&'static str> {
        let mut document = river_top();
        change(&mut document);
        let evaluation = evaluated(&document);
        let ticks = ticks(CastId(7), "timber", (&document, &evaluation));
        ticks.iter().map(|tick| tick.standing).collect()
    }

    #[test]
    fn the_rail_has_nine_stations_and_marks_the_one_shown() {
        let document = river_top();
        let ticks = ticks(CastId(7), "timber", (&document, &evaluated(&document)));
        assert_eq!(ticks.len(), 9);
        assert_eq!(ticks.iter().position(|tick| tick.is_here), Some(1));
        assert_eq!(ticks[1].href, "/casts/7/timber");
        assert_eq!((ticks[7].href.as_str(), ticks[7].digit), ("/casts/7/finish", 8));
    }

    #[test]
    fn a_river_of_one_guess_is_in_hand_and_damp_timber_is_trouble() {
        let one_width = |document: &mut Document| {
            for station in &mut river(document).stations {
                station.width = Length::from_mm(200.0);
            }
        };
        assert_eq!(standings(one_width)[1], "in hand");
        assert_eq!(standings(|_| {})[1], "settled");
        assert_eq!(standings(|d| river(d).boards[1].moisture_percent = 16.0)[1], "trouble");
    }

    #[test]
    fn a_depth_that_no_plan_can_hold_is_trouble_at_heat_and_pours() {
        let hot = standings(|document| {
            document.resin = fondant_materials::resin::ResinId("coating-epoxy".into());
            document.conditions.air = Temperature::from_celsius(40.0);
            document.conditions.resin = Temperature::from_celsius(40.0);
        });
        assert_eq!((hot[4], hot[5], hot[6]), ("trouble", "trouble", "in hand"));
        let steady = standings(|_| {});
        assert_eq!((steady[4], steady[5]), ("settled", "in hand"), "proposed, not taken");
    }
}

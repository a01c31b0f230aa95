//! The rail of nine stations.

use fondant_cast::{Evaluation, Plan};
use fondant_quantities::TemperatureDelta;
use fondant_shapes::timber::Board;

use super::kinds;

/// The stations of a cast that are built.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Station {
    /// Finished size.
    Piece,
    /// Boards and river.
    Timber,
    /// Form and volume.
    Form,
    /// Choice of resin.
    Resin,
    /// How hot it gets.
    Heat,
    /// When each layer goes in.
    Pours,
}

impl Station {
    /// In the order of the work.
    pub const ALL: [Self; 6] =
        [Self::Piece, Self::Timber, Self::Form, Self::Resin, Self::Heat, Self::Pours];

    /// Its name in addresses.
    #[must_use]
    pub const fn slug(self) -> &'static str {
        match self {
            Self::Piece => "piece",
            Self::Timber => "timber",
            Self::Form => "form",
            Self::Resin => "resin",
            Self::Heat => "heat",
            Self::Pours => "pours",
        }
    }

    /// From its name in an address.
    #[must_use]
    pub fn from_slug(slug: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|station| station.slug() == slug)
    }

    /// Its name on the rail.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Piece => "Piece",
            Self::Timber => "Timber",
            Self::Form => "Form",
            Self::Resin => "Resin",
            Self::Heat => "Heat",
            Self::Pours => "Pours",
        }
    }
}

/// How a station stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Standing {
    /// Its questions are answered: a filled disc.
    Settled,
    /// Something is still open: a half disc.
    InHand,
    /// Something is wrong: a triangle.
    Trouble,
}

impl Standing {
    /// The word beside the shape.
    #[must_use]
    pub const fn word(self) -> &'static str {
        match self {
            Self::Settled => "settled",
            Self::InHand => "in hand",
            Self::Trouble => "trouble",
        }
    }
}

/// One tick of the rail.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tick {
    /// Name.
    pub name: &'static str,
    /// Digit that jumps to it.
    pub digit: usize,
    /// Address; `None` for a station that is not built yet.
    pub href: Option<String>,
    /// It is the one shown.
    pub is_here: bool,
    /// `settled`, `in hand`, `trouble` or `not built yet`.
    pub standing: &'static str,
}

/// The nine ticks of a cast.
#[must_use]
pub fn ticks(cast: i64, here: Station, plan: &Plan, evaluation: &Evaluation) -> Vec<Tick> {
    let mut ticks: Vec<Tick> = Station::ALL
        .into_iter()
        .enumerate()
        .map(|(index, station)| Tick {
            name: kinds::station(plan.kind, station),
            digit: index + 1,
            href: Some(format!("/casts/{cast}/{}", station.slug())),
            is_here: station == here,
            standing: standing(station, plan, evaluation).word(),
        })
        .collect();
    for (index, name) in ["Bench", "Finish", "Record"].into_iter().enumerate() {
        ticks.push(Tick {
            name,
            digit: index + 7,
            href: None,
            is_here: false,
            standing: "not built yet",
        });
    }
    ticks
}

fn standing(station: Station, plan: &Plan, evaluation: &Evaluation) -> Standing {
    let timber = &plan.timber;
    let ways = &evaluation.measured.ways;
    let is_taken = evaluation.standing == fondant_cast::Standing::Taken;
    match station {
        Station::Piece => Standing::Settled,
        Station::Form if ways.looks_like_slip => Standing::Trouble,
        Station::Form if !ways.disagreements.is_empty() => Standing::InHand,
        Station::Form => Standing::Settled,
        Station::Timber if !timber.boards.iter().all(Board::is_dry) => Standing::Trouble,
        Station::Timber if plan.river_is_guess() => Standing::InHand,
        Station::Timber => Standing::Settled,
        Station::Resin => Standing::Settled,
        Station::Heat => match (&evaluation.heat.whole, &evaluation.pours) {
            (Ok(whole), _) if whole.margin >= TemperatureDelta::ZERO => Standing::Settled,
            // Too hot in one pour, but layers keep it under the limit.
            (Ok(_), Ok(_)) => Standing::Settled,
            _ => Standing::Trouble,
        },
        Station::Pours => match &evaluation.pours {
            Ok(schedule) if !schedule.breaks.is_empty() => Standing::Trouble,
            // Proposed is not decided, and a joint to be sanded is not done with.
            Ok(schedule) if is_taken && schedule.sanded_joints() == 0 => Standing::Settled,
            Ok(_) => Standing::InHand,
            Err(_) => Standing::Trouble,
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::{Length, Temperature};

    fn standings(change: impl FnOnce(&mut Plan)) -> Vec<&'static str> {
        let mut plan = crate::sample::plan();
        let guess = plan.river.stations[0].width;
        for station in &mut plan.river.stations {
            station.width = guess;
        }
        change(&mut plan);
        let evaluation = crate::sample::evaluated(&plan);
        ticks(7, Station::Heat, &plan, &evaluation).into_iter().map(|tick| tick.standing).collect()
    }

    #[test]
    fn a_guessed_river_is_in_hand_and_a_damp_board_is_trouble() {
        assert_eq!(standings(|_| {})[1], "in hand");
        assert_eq!(
            standings(|plan| plan.river.stations[0].width = Length::from_mm(99.0))[1],
            "settled"
        );
        assert_eq!(standings(|plan| plan.timber.boards[1].moisture_percent = 16.0)[1], "trouble");
    }

    #[test]
    fn a_depth_that_no_plan_can_hold_is_trouble_at_heat_and_pours() {
        let hot = standings(|plan| {
            plan.resin = fondant_materials::resin::ResinId("coating-epoxy".into());
            plan.conditions.air = Temperature::from_celsius(40.0);
            plan.conditions.resin = Temperature::from_celsius(40.0);
        });
        assert_eq!((hot[4], hot[5], hot[6]), ("trouble", "trouble", "not built yet"));
        let steady = standings(|_| {});
        assert_eq!((steady[4], steady[5]), ("settled", "in hand"), "proposed, not taken");
    }
}

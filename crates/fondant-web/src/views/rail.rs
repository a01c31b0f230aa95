//! The rail of nine stations.

use fondant_core::plan::Evaluation;
use fondant_core::quantities::TemperatureDelta;

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
pub fn ticks(cast: i64, here: Station, evaluation: &Evaluation, boards_dry: bool) -> Vec<Tick> {
    let mut ticks: Vec<Tick> = Station::ALL
        .into_iter()
        .enumerate()
        .map(|(index, station)| Tick {
            name: station.name(),
            digit: index + 1,
            href: Some(format!("/casts/{cast}/{}", station.slug())),
            is_here: station == here,
            standing: standing(station, evaluation, boards_dry).word(),
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

fn standing(station: Station, evaluation: &Evaluation, boards_dry: bool) -> Standing {
    match station {
        Station::Piece | Station::Form => Standing::Settled,
        Station::Timber if !boards_dry => Standing::Trouble,
        // Three stations are where a new cast begins; more were measured.
        Station::Timber if evaluation.river.stations().len() > 3 => Standing::Settled,
        Station::Timber => Standing::InHand,
        Station::Resin => Standing::Settled,
        Station::Heat => match (&evaluation.heat.whole, &evaluation.pours) {
            (Ok(whole), _) if whole.margin >= TemperatureDelta::ZERO => Standing::Settled,
            // Too hot in one pour, but layers keep it under the limit.
            (Ok(_), Ok(_)) => Standing::Settled,
            _ => Standing::Trouble,
        },
        Station::Pours => match &evaluation.pours {
            Ok(schedule) if schedule.sanded_joints() == 0 => Standing::Settled,
            Ok(_) => Standing::InHand,
            Err(_) => Standing::Trouble,
        },
    }
}

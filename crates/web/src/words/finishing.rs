//! The steps of finishing in words.

use fondant_app::finishing::PlannedCoat;
use fondant_finish::pace::Pace;
use fondant_finish::surface::School;
use fondant_finish::work::{StepKind, WorkRefused};

use super::counting::counted;

/// Ratios closer to one than this are the pace of the trade.
const SAME: f64 = 0.05;

/// What a step is called.
pub(crate) const fn step(kind: StepKind, chosen: School) -> &'static str {
    match kind {
        StepKind::Demould => "Out of the form",
        StepKind::Saw => "Saw to size",
        StepKind::Flatten => "Flatten",
        StepKind::Sand => "Sand",
        StepKind::Surface => match chosen {
            School::Polished => "Polish",
            School::FloodCoat => "Flood coat",
            School::Oiled => "Oil",
        },
        StepKind::Edges => "Ease the edges",
        StepKind::Cure => "Full cure",
        StepKind::HandOver => "Hand over",
    }
}

/// What is to be done to a flood coat before it can be poured; `None` once its hours are taken.
pub(crate) const fn before_coat(coat: PlannedCoat) -> Option<&'static str> {
    match coat {
        PlannedCoat::Missing => Some("Put its flood coat into the plan"),
        PlannedCoat::Proposed => Some("Take the hours of its flood coat"),
        PlannedCoat::Taken => None,
    }
}

/// What a last surface is called.
pub(crate) const fn school(school: School) -> &'static str {
    match school {
        School::Polished => "Polished",
        School::FloodCoat => "Flood coat",
        School::Oiled => "Oiled",
    }
}

/// What it gives, and how it is mended.
pub(crate) const fn gives(school: School) -> &'static str {
    match school {
        School::Polished => {
            "The deepest gloss, shows every scratch, is repaired by polishing again."
        }
        School::FloodCoat => {
            "A level gloss over timber and resin alike; needs a dust-free day; a scratch is sanded and \
             coated again."
        }
        School::Oiled => {
            "Satin, warm to the hand, hides small scratches; is oiled again every year."
        }
    }
}

/// The shop's pace beside that of the trade; empty before anything was timed.
pub(crate) fn pace(pace: Pace) -> String {
    let pieces = match pace.count {
        0 => return String::new(),
        count => counted(count, "piece"),
    };
    if (pace.factor - 1.0).abs() < SAME {
        return format!("your pace is the trade's ({pieces})");
    }
    format!("your pace: {:.2} × the trade's hours ({pieces})", pace.factor)
}

/// Why an entry is refused.
pub(crate) const fn refused(why: WorkRefused) -> &'static str {
    match why {
        WorkRefused::Running => "Somebody works on this step. Stop it first.",
        WorkRefused::NotRunning => "Nobody works on this step. Start it, or type the time it took.",
        WorkRefused::Time => "Type a time between 1 min and 1000 h, such as 90 or 1 h 30 min.",
        WorkRefused::Note => "Write a remark of 1 to 500 characters.",
        WorkRefused::NoRow => {
            "Something was written down meanwhile. Look at it, and take that back."
        }
    }
}

#[cfg(test)]
mod tests {
    use fondant_finish::pace::of_the_trade;

    use super::*;

    #[test]
    fn the_pace_comes_with_its_count() {
        assert_eq!(pace(of_the_trade()), "");
        let at = |factor, count| pace(Pace { factor, count, spread: 0.2 });
        assert_eq!(at(1.3, 3), "your pace: 1.30 × the trade's hours (3 pieces)");
        assert_eq!(at(0.98, 1), "your pace is the trade's (1 piece)");
    }
}

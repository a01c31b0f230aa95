//! Lines of the volume and their uncertainties in words.

use fondant_quantities::Length;
use fondant_quantities::units::trimmed;
use fondant_shapes::volume::methods::Method;
use fondant_shapes::volume::{Contribution, Line, LineKind, UncertaintySource};

use crate::ui::units::Shown;
use crate::words::counting::counted;

pub(crate) struct VolumeRow {
    pub(crate) what: &'static str,
    pub(crate) why: String,
    pub(crate) volume: String,
}

/// What a way of measuring is called.
pub(crate) const fn method(method: Method) -> &'static str {
    match method {
        Method::Outlines => "outlines",
        Method::Stations => "stations",
        Method::DryFill => "dry fill",
        Method::Weighed => "weighed timber",
    }
}

pub(crate) fn volume_row(line: &Line, shown: Shown) -> VolumeRow {
    let (what, why) = words(&line.kind, shown);
    VolumeRow { what, why, volume: shown.volume(line.volume) }
}

fn words(kind: &LineKind, shown: Shown) -> (&'static str, String) {
    let (mm, percent) = (|l: Length| shown.length(l), |ratio: f64| trimmed(ratio * 100.0, 1));
    match *kind {
        LineKind::River { depth: d, length: l, width: w } => {
            ("River", format!("{} deep × {} long × {} mean width", mm(d), mm(l), mm(w)))
        }
        LineKind::Around { boards, depth } => (
            "Between the boards",
            format!("the form to {} less {}, slopes counted", mm(depth), counted(boards, "board")),
        ),
        LineKind::Container { length, width, depth } => {
            ("Form", format!("{} × {} × {} inside", mm(length), mm(width), mm(depth)))
        }
        LineKind::Inserts { count } => {
            ("Objects", format!("what {count} of them displace is not poured"))
        }
        LineKind::Cavities { count } => {
            ("Cavities", format!("{count} of them, length × width × depth × shape"))
        }
        LineKind::Moulds { count, each } => (
            "Cavities of the mould",
            format!("{count} × {} net of the objects in each", shown.volume_fine(each)),
        ),
        LineKind::Face { area, thickness } => {
            ("Face", format!("{} × {}", shown.area(area), mm(thickness)))
        }
        LineKind::Edges { area, thickness } => {
            let thickness = shown.length_fine(thickness);
            ("Edges", format!("{} × {thickness}, half of what lies flat", shown.area(area)))
        }
        LineKind::RunOff { ratio } => {
            ("Runs off", format!("{}\u{202f}% drips over the edge", percent(ratio)))
        }
        LineKind::Base { depth } => {
            ("Under the boards", format!("{} over the whole inside of the form", mm(depth)))
        }
        LineKind::ThinnerBoards { difference } => ("Thinner boards", thinner(difference, shown)),
        LineKind::Overfill { depth } => ("Overfill", format!("{} proud of it", mm(depth))),
        LineKind::Correction { method: by } => {
            ("Corrected", format!("to the figure by {}, which the plan uses", method(by)))
        }
        LineKind::SealCoat { area } => {
            ("Seal coat", format!("brushed on {} of bare edge", shown.area(area)))
        }
        LineKind::Absorption { area } => {
            ("Absorbed by timber", format!("{} of bare edge and cavity", shown.area(area)))
        }
        LineKind::Level { rise } => (
            "Out of level",
            format!("{} from end to end, filled until the high end is covered", mm(rise)),
        ),
        LineKind::Leak { ratio } => ("Leak", format!("{}\u{202f}% kept back", percent(ratio))),
        LineKind::BucketResidue { ratio } => (
            "Left in buckets",
            format!("{}\u{202f}% of what is poured stays on buckets and sticks", percent(ratio)),
        ),
    }
}

fn thinner(difference: Length, shown: Shown) -> String {
    format!(
        "the boards differ by {}: resin goes over the thinner ones, or under them where they are \
         packed up flush",
        shown.length(difference)
    )
}

pub(crate) fn source(contribution: &Contribution, shown: Shown) -> (String, String) {
    let name = match contribution.source {
        UncertaintySource::Spacing => "the edge between stations",
        UncertaintySource::Tape => "sizes read off the tape",
        UncertaintySource::Outlines => "points of the outlines",
        UncertaintySource::Depth => "thickness and depth",
        UncertaintySource::DryFill => "the bulk of the dry fill",
        UncertaintySource::Weighing => "density of the timber",
        UncertaintySource::Cavities => "cavities that are not boxes",
        UncertaintySource::Inserts => "what objects displace",
        UncertaintySource::Absorption => "absorption by timber",
        UncertaintySource::Coat => "thickness of the coat",
    };
    (name.to_owned(), format!("±{}", shown.volume(contribution.volume * 2.0)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use fondant_quantities::{Area, Length, Volume};

    #[test]
    fn every_line_says_why_with_its_figures() {
        let mm = Length::from_mm;
        let area = Area::from_m2(0.25);
        let kinds = [
            (LineKind::Around { boards: 3, depth: mm(38.0) }, "less 3 boards"),
            (
                LineKind::Container { length: mm(90.0), width: mm(80.0), depth: mm(70.0) },
                "70\u{202f}mm inside",
            ),
            (LineKind::Inserts { count: 2 }, "2 of them"),
            (LineKind::Cavities { count: 5 }, "5 of them"),
            (LineKind::Moulds { count: 8, each: Volume::from_l(0.0123) }, "8 × 12.3\u{202f}mL"),
            (LineKind::Face { area, thickness: mm(1.6) }, "0.25\u{202f}m² × 1.6\u{202f}mm"),
            (LineKind::Edges { area, thickness: mm(0.8) }, "0.8\u{202f}mm"),
            (LineKind::RunOff { ratio: 0.1 }, "10\u{202f}%"),
            (LineKind::Base { depth: mm(2.0) }, "2\u{202f}mm over the whole"),
            (LineKind::ThinnerBoards { difference: mm(3.0) }, "differ by 3\u{202f}mm"),
            (LineKind::Overfill { depth: mm(2.0) }, "2\u{202f}mm proud"),
            (LineKind::Correction { method: Method::DryFill }, "by dry fill"),
            (LineKind::SealCoat { area }, "0.25\u{202f}m²"),
            (LineKind::Absorption { area }, "0.25\u{202f}m²"),
            (LineKind::Level { rise: mm(1.2) }, "1.2\u{202f}mm from end to end"),
            (LineKind::Leak { ratio: 0.02 }, "2\u{202f}% kept back"),
            (LineKind::BucketResidue { ratio: 0.03 }, "3\u{202f}%"),
        ];
        for (kind, expected) in kinds {
            let row = volume_row(&Line { kind, volume: Volume::from_l(1.5) }, METRIC);
            assert!(row.why.contains(expected), "{}: {}", row.what, row.why);
            assert_eq!(row.volume, "1.50\u{202f}L");
        }
    }

    #[test]
    fn what_takes_away_has_a_minus() {
        let line = Line { kind: LineKind::Inserts { count: 1 }, volume: Volume::from_l(-0.062) };
        assert_eq!(volume_row(&line, METRIC).volume, "−62\u{202f}mL");
    }
}

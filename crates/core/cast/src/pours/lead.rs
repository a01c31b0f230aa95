//! Work before the first pour: a form to build and seal, wax and glue to wait for.

use fondant_pours::ShopHours;
use fondant_quantities::{Area, Span};
use fondant_shapes::form::seal::Release;
use jiff::{SignedDuration, Timestamp};

use crate::document::{Contents, Document, FormBuild};
use crate::measure::Measured;

/// To cut a sheet of the form to size and screw it on, s; a form has five (convention).
const SHEET_S: f64 = 15.0 * 60.0;
const SHEETS: f64 = 5.0;
/// To screw and seal a metre of joint, s/m (convention).
const JOINT_S_M: f64 = 6.0 * 60.0;
/// Until a fillet of silicone holds water, s (convention; its datasheet may say more).
const SEALANT_S: f64 = 24.0 * 3600.0;
/// To tape a square metre of form, and to wax and buff one, s/m² (convention).
const TAPE_S_M2: f64 = 12.0 * 60.0;
const WAX_S_M2: f64 = 6.0 * 60.0;
/// To lay a board in place and clamp it, s (convention).
const BOARD_S: f64 = 15.0 * 60.0;
/// To glue an object in its place, s, and until the glue holds it, s (convention).
const OBJECT_S: f64 = 10.0 * 60.0;
const GLUE_S: f64 = 3600.0;
/// To brush out a cavity and tape what goes through, s (convention).
const CAVITY_S: f64 = 5.0 * 60.0;
/// To scuff, plug and seat a tube, and to release a mould's cavity and lay its piece in, s
/// (convention).
const TUBE_S: f64 = 4.0 * 60.0;
const MOULD_S: f64 = 2.0 * 60.0;
/// To brush a piece thinly on every side, s, and until that coat is hard enough to be handled, s
/// (convention: a coating epoxy overnight).
const SEAL_PIECE_S: f64 = 60.0;
const SEAL_SETS_S: f64 = 12.0 * 3600.0;
/// To sand and wipe a square metre of face, s/m² (convention).
const FACE_S_M2: f64 = 20.0 * 60.0;
/// The first hour that is open is looked for within this.
const WITHIN: SignedDuration = SignedDuration::from_hours(60 * 24);

/// What is done before the first pour.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LeadWork {
    /// The form is cut and screwed together.
    Form,
    /// Its joints are sealed.
    Sealant,
    /// Tape or wax.
    Release,
    /// Boards are laid and clamped.
    Boards,
    /// Objects are glued in place.
    Objects,
    /// Cavities are brushed out and taped.
    Cavities,
    /// Tubes are plugged and seated.
    Tubes,
    /// Pieces for moulds are sealed.
    Pieces,
    /// Moulds are released, pieces laid in.
    Moulds,
    /// The face is sanded and wiped.
    Face,
}

/// One piece of that work.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LeadStep {
    /// The work.
    pub work: LeadWork,
    /// Work of somebody's hands, inside the shop's hours.
    pub hands: Span,
    /// Wait that follows, day and night.
    pub waits: Span,
}

impl LeadStep {
    const fn new(work: LeadWork, hands_s: f64, waits_s: f64) -> Self {
        Self { work, hands: Span::from_s(hands_s), waits: Span::from_s(waits_s) }
    }
}

/// The work before the first pour, in order.
#[must_use]
pub fn steps(document: &Document, measured: &Measured) -> Vec<LeadStep> {
    let things = |each_s: f64, count: usize| each_s * count as f64;
    let objects = |count: usize| LeadStep::new(LeadWork::Objects, things(OBJECT_S, count), GLUE_S);
    let cavities = |count: usize| LeadStep::new(LeadWork::Cavities, things(CAVITY_S, count), 0.0);
    let mut all = match &document.contents {
        Contents::River(river) => {
            let boards = things(BOARD_S, river.boards.len());
            let mut all = form(&river.build, measured);
            all.push(LeadStep::new(LeadWork::Boards, boards, 0.0));
            all.push(cavities(river.cavities.len()));
            all.push(objects(river.inserts.len()));
            all
        }
        Contents::Block(block) => form(&block.build, measured),
        Contents::Embed(embed) => {
            let mut all = form(&embed.build, measured);
            all.push(objects(embed.inserts.len()));
            all
        }
        Contents::Inlay(inlay) => vec![cavities(inlay.cavities.len())],
        Contents::Tubes(tubes) => {
            vec![LeadStep::new(LeadWork::Tubes, things(TUBE_S, tubes.count as usize), 0.0)]
        }
        Contents::Moulds(moulds) => {
            let bare = moulds.bare_pieces() as usize;
            vec![
                LeadStep::new(LeadWork::Pieces, things(SEAL_PIECE_S, bare), SEAL_SETS_S),
                LeadStep::new(LeadWork::Moulds, things(MOULD_S, moulds.count() as usize), 0.0),
            ]
        }
        Contents::Coat(_) => {
            vec![LeadStep::new(LeadWork::Face, FACE_S_M2 * measured.cast.area().m2(), 0.0)]
        }
    };
    all.retain(|step| step.hands > Span::ZERO);
    all
}

/// Building a form: sheets, sealant, release.
fn form(build: &FormBuild, measured: &Measured) -> Vec<LeadStep> {
    let cast = &measured.cast;
    let wall = measured.fill.depth();
    let around = (cast.length + cast.width) * 2.0;
    let joints = around + wall * 4.0;
    let inside: Area = cast.area() + around * wall;
    let release = match build.release {
        Release::Tape => LeadStep::new(LeadWork::Release, TAPE_S_M2 * inside.m2(), 0.0),
        Release::Wax => {
            LeadStep::new(LeadWork::Release, WAX_S_M2 * inside.m2(), Release::Wax.wait().s())
        }
        Release::Bare => LeadStep::new(LeadWork::Release, 0.0, 0.0),
    };
    let sheets = LeadStep::new(LeadWork::Form, SHEET_S * SHEETS, 0.0);
    // Tape is laid before the sheets are joined, wax after the sealant has cured.
    let sealant = LeadStep::new(LeadWork::Sealant, JOINT_S_M * joints.m(), SEALANT_S);
    match build.release {
        Release::Tape => vec![release, sheets, sealant],
        Release::Wax | Release::Bare => vec![sheets, sealant, release],
    }
}

/// When all is ready that is begun at a time: hands work while the shop is open, waits go on at
/// night. As late as two months where the shop is not open enough.
#[must_use]
pub fn ready(steps: &[LeadStep], hours: &ShopHours, from: Timestamp) -> Timestamp {
    let mut at = from;
    for step in steps {
        at = worked(hours, at, step.hands);
        at += step.waits.signed();
    }
    at
}

/// Time at which work is done that is begun at a time, UTC.
fn worked(hours: &ShopHours, from: Timestamp, takes: Span) -> Timestamp {
    let until = from.checked_add(WITHIN).unwrap_or(from);
    let mut left = takes.signed();
    for span in hours.spans(from, until) {
        let begin = span.from.max(from);
        let open = span.to.duration_since(begin);
        if open >= left {
            return begin + left;
        }
        if open.is_positive() {
            left -= open;
        }
    }
    until
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::Kind;
    use crate::measure::measure;
    use fondant_pours::Workday;
    use fondant_quantities::Length;
    use fondant_shapes::form::Piece;

    fn at(text: &str) -> Timestamp {
        text.parse().expect("a time")
    }

    fn hours() -> ShopHours {
        let day = Workday::read_day("08:00-12:00, 13:00-17:00").expect("hours");
        ShopHours::new(vec![day; 7].try_into().expect("a week"), "UTC").expect("a zone")
    }

    #[test]
    fn hands_rest_at_night_and_waits_do_not() {
        let work = |hands_h: f64, waits_h: f64| {
            LeadStep::new(LeadWork::Form, hands_h * 3600.0, waits_h * 3600.0)
        };
        let from = at("2026-11-23T10:00:00Z");
        // Two hours to noon, one after it; a day's wait; then four hours, over the break.
        let all = [work(3.0, 24.0), work(4.0, 0.0)];
        assert_eq!(ready(&all[..1], &hours(), from), at("2026-11-24T14:00:00Z"));
        assert_eq!(ready(&all, &hours(), from), at("2026-11-25T09:00:00Z"));
        // Work that is begun at night begins in the morning.
        assert_eq!(
            ready(&[work(1.0, 0.0)], &hours(), at("2026-11-23T22:00:00Z")),
            at("2026-11-24T09:00:00Z")
        );
        assert_eq!(ready(&[], &hours(), from), from);
    }

    #[test]
    fn a_sealed_form_waits_a_day_and_a_mould_does_not() {
        let mm = Length::from_mm;
        let begun = |kind| {
            let piece = Piece::slab(mm(1000.0), mm(500.0), mm(40.0), Length::ZERO);
            Document::begin(kind, "x".into(), piece, at("2026-11-23T08:00:00Z"))
        };
        let waits = |document: &Document| -> f64 {
            let measured = measure(document).expect("it is measured");
            steps(document, &measured).iter().map(|step| step.waits.h()).sum()
        };
        let mut river = begun(Kind::River);
        assert!((waits(&river) - 24.0).abs() < 1e-9);
        river.contents.build_mut().expect("a form").release = Release::Wax;
        assert!((waits(&river) - 24.0 - 1.0 / 3.0).abs() < 1e-9, "wax is left to haze");
        for kind in [Kind::Tubes, Kind::Moulds, Kind::Coat, Kind::Inlay] {
            assert!(waits(&begun(kind)).abs() < 1e-9, "{kind:?}");
        }
    }
}

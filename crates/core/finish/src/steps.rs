//! All that is done to a cast once it is out of its form.

use fondant_cast::{Document, Kind, Measured};
use fondant_pours::ShopHours;
use fondant_quantities::{Area, Length, Span};
use fondant_shapes::form::CastSize;
use jiff::{SignedDuration, Timestamp};

use crate::flatten::{Flattened, Sled, flatten};
use crate::square::{Squared, square};
use crate::surface::{School, Surface, surface};
use crate::work::{StepKind, Work};

/// The grit that a sled's marks ask for first.
const AFTER_SLED: u32 = 80;
/// The grit for a face that was only poured, and is level.
const AFTER_POUR: u32 = 120;

/// Easing the edges of both faces with a router and P120, s/m (convention).
const EDGES_S_M: f64 = 150.0;

/// Furthest that work is dated ahead.
const LOOKED_AHEAD: SignedDuration = SignedDuration::from_hours(60 * 24);

/// What is done to a cast.
#[derive(Debug, Clone, PartialEq)]
pub struct Finish {
    /// Sawn to size; `None` where the casting is as large as the piece.
    pub squared: Option<Squared>,
    /// Faces that are flattened, and what each takes; none where nothing is taken off.
    pub flattened: Option<(u32, Flattened)>,
    /// Faces that are sanded.
    pub faces: u32,
    /// Area of one of them.
    pub face: Area,
    /// The schools of its last surface, all faces together.
    pub schools: Vec<Surface>,
    /// Work of easing its edges.
    pub edges: Span,
}

/// What is done to a cast; `None` for blanks that are turned, where a lathe does it. `resin` is the part
/// of a face that is resin.
#[must_use]
pub fn finish(document: &Document, resin: Area) -> Option<Finish> {
    let kind = document.kind();
    if kind == Kind::Tubes {
        return None;
    }
    let piece = &document.piece;
    let cast = CastSize::of(piece);
    let faces = faces(kind);
    let removal = piece.flattening;
    let flattened = (removal > Length::ZERO)
        .then(|| (faces, flatten(cast.length, cast.width, removal, &Sled::default())));
    let face = piece.length * piece.width;
    let sanded = face * f64::from(faces);
    let timber = Area::from_m2((face.m2() - resin.m2()).max(0.0)) * f64::from(faces);
    let from = if flattened.is_some() { AFTER_SLED } else { AFTER_POUR };
    let schools = School::ALL.map(|school| surface(school, sanded, timber, from));
    let edges = Span::from_s(EDGES_S_M * 2.0 * (piece.length + piece.width).m());
    Some(Finish {
        squared: if is_sawn(kind) { square(piece) } else { None },
        flattened,
        faces,
        face,
        schools: schools.into(),
        edges,
    })
}

/// The part of the finished face that is resin: a thin slice of the fill just under it.
#[must_use]
pub fn resin_face(document: &Document, measured: &Measured) -> Area {
    let piece = &document.piece;
    let (fill, thin) = (&measured.fill, Length::from_mm(1.0));
    let top = (piece.flattening + piece.thickness).min(fill.depth());
    let from = (top - thin).max(Length::ZERO);
    let depth = (top - from).max(Length::from_mm(0.01));
    Area::from_m2(fill.volume_between(from, top).m3() / depth.m())
}

/// The last surface: as chosen; before that the coat where one is planned, and else oil, which asks least.
#[must_use]
pub fn chosen(document: &Document, work: &Work) -> School {
    let is_coated = document.stages.flood.is_some();
    work.school.unwrap_or(if is_coated { School::FloodCoat } else { School::Oiled })
}

/// The steps of a cast that are not done, in order, each with its work at the pace of the trade.
#[must_use]
pub fn left(document: &Document, measured: &Measured, work: &Work) -> Vec<(StepKind, Span)> {
    let found = finish(document, resin_face(document, measured));
    let mut all = ordered(found.as_ref(), chosen(document, work));
    all.retain(|(kind, _)| work.steps.get(kind).is_none_or(|step| step.done.is_none()));
    all
}

/// When steps are worked on, one after the other in the hours of a shop from a moment on, and the time
/// until a step is over. What is a moment or a wait takes no time of its own.
#[must_use]
pub fn dated(
    steps: &[(StepKind, Span)],
    hours: &ShopHours,
    from: Timestamp,
) -> Vec<(StepKind, [Timestamp; 2])> {
    let until = from + LOOKED_AHEAD;
    let mut open = hours.spans(from, until).into_iter().map(|span| [span.from.max(from), span.to]);
    let mut now = open.next();
    let mut all = Vec::new();
    for (kind, takes) in steps {
        let mut left_s = takes.s().ceil() as i64;
        let Some(begins) = now.map(|[from, _]| from) else { break };
        while let Some([at, closes]) = now {
            let room_s = closes.duration_since(at).as_secs();
            if left_s <= room_s {
                now = Some([at + SignedDuration::from_secs(left_s), closes]);
                break;
            }
            left_s -= room_s;
            now = open.next();
        }
        let Some([ends, _]) = now else { break };
        all.push((*kind, [begins, ends]));
    }
    all
}

impl Finish {
    /// Work of all flattening.
    #[must_use]
    pub fn flattening(&self) -> Span {
        self.flattened.map_or(Span::ZERO, |(faces, one)| one.takes * f64::from(faces))
    }
}

/// The steps of a cast in order, each with its work at the pace of the trade; 0 where it is a matter of
/// waiting or of a moment. Blanks that are turned come out of their tubes, cure and are handed over.
#[must_use]
pub fn ordered(found: Option<&Finish>, school: School) -> Vec<(StepKind, Span)> {
    let mut steps = vec![(StepKind::Demould, Span::ZERO)];
    if let Some(found) = found {
        steps.extend(found.squared.map(|one| (StepKind::Saw, one.takes)));
        steps.extend(found.flattened.map(|_| (StepKind::Flatten, found.flattening())));
        let surface = found.schools.iter().find(|one| one.school == school);
        steps.extend(surface.into_iter().flat_map(|one| {
            let sanding = one.sanding();
            let rest = Span::from_s((one.takes.s() - sanding.s()).max(0.0));
            [(StepKind::Sand, sanding), (StepKind::Surface, rest)]
        }));
        steps.push((StepKind::Edges, found.edges));
    }
    steps.extend([(StepKind::Cure, Span::ZERO), (StepKind::HandOver, Span::ZERO)]);
    steps
}

/// What comes out of a form has edges to be sawn; what stays in its board or mould has none.
const fn is_sawn(kind: Kind) -> bool {
    matches!(kind, Kind::River | Kind::Block | Kind::Embed)
}

/// Faces that are worked: both of what comes out of a form, the upper one of what stays in its board or
/// lies in a mould, whose other face left it glossy and is not touched.
const fn faces(kind: Kind) -> u32 {
    match kind {
        Kind::River | Kind::Block | Kind::Embed => 2,
        Kind::Inlay | Kind::Tubes | Kind::Moulds | Kind::Coat => 1,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::form::Piece;

    #[test]
    fn a_river_top_is_flattened_on_both_faces_and_a_glossy_face_is_left_alone() {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(1180.0), mm(580.0), mm(36.0), mm(10.0));
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        let mut document = Document::begin(Kind::River, "x".into(), piece, begin);
        document.piece.flattening = mm(3.0);
        let found = finish(&document, Area::from_m2(0.2)).unwrap();
        let (faces, one) = found.flattened.unwrap();
        assert_eq!((faces, one.passes), (2, 3));
        assert!((found.flattening().s() - 2.0 * one.takes.s()).abs() < 1e-9);
        assert_eq!(found.schools[0].sanded[0].grit, AFTER_SLED);
        let all = ordered(Some(&found), School::Oiled);
        assert!(all.is_sorted_by_key(|(kind, _)| *kind), "{all:?}");
        let work: f64 = all.iter().map(|(_, span)| span.s()).sum();
        let by_hand = found.squared.unwrap().takes.s()
            + found.flattening().s()
            + found.schools[2].takes.s()
            + 150.0 * 2.0 * (1.18 + 0.58);
        assert!((work - by_hand).abs() < 1e-6, "{work} {by_hand}");
        // Oil on what is not resin, on both faces: (1.18 × 0.58 − 0.2) × 2 × 2 ÷ 20.
        let oil = found.schools[2].oil.m3() * 1e3;
        assert!((oil - (1.18 * 0.58 - 0.2) * 0.2).abs() < 1e-9, "{oil}");
        let coasters = Document::begin(Kind::Moulds, "x".into(), document.piece, begin);
        assert_eq!(finish(&coasters, Area::ZERO).unwrap().faces, 1);
        let tubes = Document::begin(Kind::Tubes, "x".into(), document.piece, begin);
        assert_eq!(finish(&tubes, Area::ZERO), None);
    }

    #[test]
    fn work_is_dated_in_the_hours_of_the_shop() {
        let day = fondant_pours::Workday::read_day("09:00-17:00").unwrap();
        let hours = ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap();
        let at = |text: &str| -> Timestamp { text.parse().unwrap() };
        let steps = [
            (StepKind::Demould, Span::ZERO),
            (StepKind::Flatten, Span::from_h(3.0)),
            (StepKind::Sand, Span::from_h(12.0)),
            (StepKind::HandOver, Span::ZERO),
        ];
        // Monday at four in the afternoon: an hour of it on Monday, two on Tuesday.
        let found = dated(&steps, &hours, at("2026-11-23T16:00:00Z"));
        let monday = at("2026-11-23T16:00:00Z");
        let tuesday = at("2026-11-24T11:00:00Z");
        let wednesday = at("2026-11-25T15:00:00Z");
        let expected = [
            (StepKind::Demould, [monday, monday]),
            (StepKind::Flatten, [monday, tuesday]),
            (StepKind::Sand, [tuesday, wednesday]),
            (StepKind::HandOver, [wednesday, wednesday]),
        ];
        assert_eq!(found, expected);
        // While the shop is closed nothing begins.
        let night = dated(&steps[..1], &hours, at("2026-11-23T20:00:00Z"));
        assert_eq!(night[0].1[0], at("2026-11-24T09:00:00Z"));
    }

    #[test]
    fn what_is_done_is_left_out() {
        let piece = Piece::slab(
            Length::from_mm(400.0),
            Length::from_mm(200.0),
            Length::from_mm(30.0),
            Length::ZERO,
        );
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        let document = Document::begin(Kind::Block, "x".into(), piece, begin);
        let mut work = Work::default();
        let measured = fondant_cast::measure(&document).unwrap();
        let before = left(&document, &measured, &work);
        assert_eq!(before[0].0, StepKind::Demould);
        work.steps.entry(StepKind::Demould).or_default().done = Some(Timestamp::UNIX_EPOCH);
        assert_eq!(left(&document, &measured, &work), before[1..]);
    }
}

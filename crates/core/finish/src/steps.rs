//! All that is done to a cast once it is out of its form.

use fondant_cast::{Document, Kind};
use fondant_quantities::{Area, Length, Span};
use fondant_shapes::form::CastSize;

use crate::flatten::{Flattened, Sled, flatten};
use crate::square::{Squared, square};
use crate::surface::{School, Surface, surface};
use crate::work::StepKind;

/// The grit that a sled's marks ask for first.
const AFTER_SLED: u32 = 80;
/// The grit for a face that was only poured, and is level.
const AFTER_POUR: u32 = 120;

/// Easing the edges of both faces with a router and P120, s/m (convention).
const EDGES_S_M: f64 = 150.0;

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
}

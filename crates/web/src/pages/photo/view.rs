//! The page of a photo.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::casts::Open;
use fondant_app::records::PhotoRecord;
use fondant_quantities::Length;
use fondant_quantities::units::trimmed;
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::homography::Homography;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::picture::squaring::{KnownLength, Squaring};
use fondant_shapes::picture::trace::TimberIs;

use super::form::{CornerField, begin_corners, begin_ends, corner_fields};
use crate::pages::stations::timber::outlines::ring_text;
use crate::paths::casts::{Files, Photo, PhotoBytes, RemovePhoto, Station, TakeTimber};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::numbers::with_minus;
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown};
use crate::words::counting::counted;

/// How far a finger misses a corner, pixels of the photo.
const MISSED_PX: f64 = 4.0;
/// A squared-up length off by more than this is not traced by.
const OFF_PERCENT: f64 = 0.5;

#[derive(Template, WebTemplate)]
#[template(path = "pages/photo/photo.html")]
pub(super) struct PhotoPage {
    page: Page,
    links: Links,
    name: String,
    revision: i32,
    width: u32,
    height: u32,
    corners: Vec<CornerField>,
    fields: Vec<Field>,
    refusal: String,
    found: Option<FoundView>,
}

/// Addresses of what is done with a photo.
struct Links {
    files: Files,
    here: Photo,
    picture: PhotoBytes,
    take: TakeTimber,
    remove: RemovePhoto,
    timber: Station,
}

/// What was found in the squared-up picture.
struct FoundView {
    picture: String,
    length_mm: String,
    width_mm: String,
    outlines: Vec<FoundOutline>,
    is_cooler: bool,
    sentences: Vec<String>,
    sum: String,
}

struct FoundOutline {
    points: String,
    about: String,
}

/// The timber found in a squared-up photo.
pub(super) struct Found {
    pub(super) outlines: Vec<Outline>,
    pub(super) timber: TimberIs,
}

impl PhotoPage {
    pub(super) fn new(
        open: &Open,
        photo: &PhotoRecord,
        found: Option<&Found>,
        (typed, refusals): (Option<&Entries>, &Refusals),
    ) -> Self {
        let document = &open.record.document;
        let squaring = photo.squaring.as_ref();
        let corners = squaring.map_or_else(|| begin_corners(photo), |s| s.corners);
        let check = squaring.and_then(|s| s.check);
        let ends = check.map_or_else(|| begin_ends(photo), |c| c.ends);
        let fields = Fields::of(open.shop.shown(), typed, refusals);
        let cast = CastSize::of(&document.piece);
        let (length, width) = squaring.map_or((cast.length, cast.width), |s| (s.length, s.width));
        Self {
            page: Page::new("Square up a photo", Place::Casts)
                .with(&[Script::Module("/corners.js")]),
            links: links(open, photo),
            name: document.name.clone(),
            revision: open.record.revision,
            width: photo.width,
            height: photo.height,
            corners: corner_fields(typed, &corners, &ends),
            fields: vec![
                fields
                    .length("length", "From corner 1 to 2", length)
                    .hint("The form inside, or any rectangle laid on the bench."),
                fields.length("width", "From corner 2 to 3", width),
                check_field(&fields, check),
            ],
            refusal: refusals.of("corners"),
            found: found.zip(squaring).map(|(found, s)| found_view(open, photo, s, found)),
        }
    }
}

fn links(open: &Open, photo: &PhotoRecord) -> Links {
    let (cast, photo) = (open.record.id, photo.id);
    Links {
        files: Files { cast },
        here: Photo { cast, photo },
        picture: PhotoBytes { cast, photo, which: "photo.jpg".to_owned() },
        take: TakeTimber { cast, photo },
        remove: RemovePhoto { cast, photo },
        timber: Station::of(cast, "timber"),
    }
}

fn check_field(fields: &Fields<'_>, check: Option<KnownLength>) -> Field {
    let (name, label) = ("check_length", "From a to b, by the tape");
    fields
        .maybe_length(name, label, check.map(|check| check.length))
        .hint("Any length you can measure on the bench, to check the rest by. May be left empty.")
}

fn found_view(open: &Open, photo: &PhotoRecord, squaring: &Squaring, found: &Found) -> FoundView {
    let shown = open.shop.shown();
    let outline = |o: &Outline| FoundOutline {
        points: ring_text(&Outline::new(o.outer.clone())),
        about: format!("{}, {}", shown.area(o.area()), counted(o.point_count(), "point")),
    };
    let count = match found.outlines.len() {
        0 => "No outline".to_owned(),
        1 => "1 outline".to_owned(),
        n => format!("{n} outlines"),
    };
    let total = found.outlines.iter().map(Outline::area).sum();
    FoundView {
        picture: PhotoBytes::squared(open.record.id, photo.id, squaring),
        length_mm: trimmed(squaring.length.mm(), 2),
        width_mm: trimmed(squaring.width.mm(), 2),
        sum: format!("{count} found, {} of timber", shown.area(total)),
        outlines: found.outlines.iter().map(outline).collect(),
        is_cooler: found.timber == TimberIs::Cooler,
        sentences: sentences(squaring, shown),
    }
}

/// How well the photo can be traced by.
fn sentences(squaring: &Squaring, shown: Shown) -> Vec<String> {
    let plane = Homography::of_rectangle(squaring.corners, squaring.length, squaring.width);
    let Ok(plane) = plane else { return Vec::new() };
    let (x_m, y_m) = (squaring.length.m() / 2.0, squaring.width.m() / 2.0);
    let pixel = plane.pixel_size(plane.to_photo(Point { x_m, y_m }));
    let missed = format!(
        "A pixel of the photo is {} here; a corner missed by {MISSED_PX} px is off by {}.",
        shown.length_fine(pixel),
        shown.length_fine(pixel * MISSED_PX)
    );
    vec![missed, residual(&plane, squaring, shown)]
}

/// How far the squared-up plane is from a length that was measured.
fn residual(plane: &Homography, squaring: &Squaring, shown: Shown) -> String {
    let Some(check) = squaring.check else {
        return "Four corners are always met: mark a length from a to b and type it to see how far \
                off the rest is. Boards stand higher than the rectangle, so that a camera close by \
                shows them larger."
            .to_owned();
    };
    let [a, b] = check.ends.map(|end| plane.to_bench(end));
    let found = Length::from_m(b.minus(a).norm_m());
    let off = (found / check.length - 1.0) * 100.0;
    let verdict = if off.abs() <= OFF_PERCENT {
        "Good enough to trace by."
    } else {
        "Look at the corners and at the size of the rectangle, or photograph from farther away."
    };
    format!(
        "From a to b it measures {}, the tape says {}: off by {}\u{202f}%. {verdict}",
        shown.length(found),
        shown.length(check.length),
        with_minus(&trimmed(off, 1))
    )
}

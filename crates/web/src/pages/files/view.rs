//! The page of photos and files.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::casts::Open;
use fondant_app::records::PhotoRecord;
use fondant_cast::Kind;
use fondant_files::{DXF_LIMIT, MESH_LIMIT, PHOTO_LIMIT, SVG_LIMIT};
use fondant_quantities::Mass;

use crate::paths::casts::{AddMesh, AddOutlines, AddPhoto, Photo, PhotoBytes, Station};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::InUnits;

/// Units that an STL file can be in: their names in the form and in words.
const UNITS: [(&str, &str); 4] =
    [("mm", "millimetres"), ("cm", "centimetres"), ("in", "inches"), ("m", "metres")];

#[derive(Template, WebTemplate)]
#[template(path = "pages/files/files.html")]
pub(super) struct FilesPage {
    page: Page,
    links: Links,
    name: String,
    revision: i32,
    /// Names the next file, so that it is brought in once.
    request: String,
    has_boards: bool,
    has_objects: bool,
    photos: Vec<PhotoRow>,
    photo_refusal: String,
    outlines_refusal: String,
    mesh_refusal: String,
    mesh_fields: Vec<Field>,
}

/// Addresses of what is brought in.
struct Links {
    back: Station,
    photo: AddPhoto,
    outlines: AddOutlines,
    mesh: AddMesh,
}

struct PhotoRow {
    href: Photo,
    picture: String,
    about: String,
}

impl FilesPage {
    pub(super) fn new(
        open: &Open,
        photos: &[PhotoRecord],
        (typed, refusals): (Option<&Entries>, &Refusals),
        request: String,
    ) -> Self {
        let (cast, kind) = (open.record.id, open.record.document.kind());
        let fields = Fields { shown: open.shop.shown(), typed, refusals };
        Self {
            page: Page::new("Photo and files", Place::Casts).with(&[Script::Module("/upload.js")]),
            links: Links {
                back: Station::of(cast, "timber"),
                photo: AddPhoto { cast },
                outlines: AddOutlines { cast },
                mesh: AddMesh { cast },
            },
            name: open.record.document.name.clone(),
            revision: open.record.revision,
            request,
            has_boards: kind == Kind::River,
            has_objects: matches!(kind, Kind::Embed | Kind::River),
            photos: photos.iter().map(|photo| row(open, photo)).collect(),
            photo_refusal: refusals.of("photo"),
            outlines_refusal: refusals.of("outlines"),
            mesh_refusal: refusals.of("mesh"),
            mesh_fields: vec![
                fields.choice("unit", "A unit of the file is", "mm", &UNITS),
                fields
                    .mass("mass", "Mass of the object", Mass::from_kg(0.1))
                    .hint("As it goes in: dry, and sealed if it is porous."),
            ],
        }
    }
}

fn row(open: &Open, record: &PhotoRecord) -> PhotoRow {
    let (cast, photo) = (open.record.id, record.id);
    let squared =
        record.squaring.as_ref().map(|squaring| PhotoBytes::squared(cast, photo, squaring));
    let as_taken = || PhotoBytes { cast, photo, which: "photo.jpg".to_owned() }.to_string();
    let says = if record.squaring.is_some() { ", squared up" } else { "" };
    PhotoRow {
        href: Photo { cast, photo },
        picture: squared.unwrap_or_else(as_taken),
        about: format!("{} × {} px{says}", record.width, record.height),
    }
}

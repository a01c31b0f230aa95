//! Photos of a step of finishing or of a fault: what is kept, and the form that keeps one more.

use askama::Template;
use askama::filters::HtmlSafe;
use fondant_app::records::{CastId, PhotoId, PhotoRecord, Shows};
use fondant_files::PHOTO_LIMIT;

use super::asked::Asked;
use crate::paths::casts::{PhotoBytes, RemovePhoto};

/// Photos beside what they show.
#[derive(Template)]
#[template(path = "pages/stations/photos.html")]
pub(crate) struct ShownPhotos {
    /// Where one more is sent.
    pub(crate) add: String,
    /// The step, for one of finishing; empty for a fault.
    pub(crate) step: String,
    pub(crate) request: String,
    /// Id of the field, and the name under which it is refused.
    pub(crate) field: String,
    pub(crate) refusal: String,
    /// What they show, in words.
    pub(crate) what: String,
    pub(crate) all: Vec<ShownPhoto>,
}

/// One photo.
pub(crate) struct ShownPhoto {
    pub(crate) whole: PhotoBytes,
    pub(crate) small: PhotoBytes,
    pub(crate) remove: RemovePhoto,
}

/// Its template escapes what it holds.
impl HtmlSafe for ShownPhotos {}

impl ShownPhotos {
    /// Largest photo, bytes.
    pub(crate) const LIMIT: usize = PHOTO_LIMIT;

    pub(crate) fn new(
        asked: &Asked<'_>,
        photos: &[PhotoRecord],
        (shows, what): (Shows, &str),
        (add, field): (String, String),
    ) -> Self {
        Self {
            add,
            step: String::new(),
            request: fondant_app::Request::new_key().unwrap_or_default(),
            refusal: asked.refusals.of(&field),
            field,
            what: what.to_owned(),
            all: photos
                .iter()
                .filter(|photo| photo.shows == shows)
                .map(|photo| ShownPhoto::new(asked.cast, photo.id))
                .collect(),
        }
    }
}

impl ShownPhoto {
    pub(crate) fn new(cast: CastId, photo: PhotoId) -> Self {
        let bytes = |which: &str| PhotoBytes { cast, photo, which: which.to_owned() };
        Self {
            whole: bytes("photo.jpg"),
            small: bytes("small.jpg"),
            remove: RemovePhoto { cast, photo },
        }
    }
}

//! A cast in the list.

use fondant_app::Shop;
use fondant_app::records::{CastState, CastSummary};
use fondant_cast::{Contents, Document, measure};

use crate::pages::workspace::mini;
use crate::paths::casts::{Cast, CopyCast, KeepCast, RenameCast};
use crate::svg::Markup;
use crate::ui::units::{InUnits, Shown};
use crate::words::{kinds, resin};

/// One cast in the list.
pub(super) struct ListRow {
    pub(super) number: i64,
    pub(super) href: Cast,
    pub(super) mini: Markup,
    pub(super) name: String,
    pub(super) about: String,
    pub(super) size: String,
    pub(super) volume: String,
    pub(super) resin: String,
    /// What is kept of it cannot be read.
    pub(super) is_unreadable: bool,
    pub(super) revision: i32,
    pub(super) rename: RenameCast,
    pub(super) copy: CopyCast,
    pub(super) keep: KeepCast,
    /// The name that was typed for it and is refused, and why.
    pub(super) refused: Option<(String, String)>,
}

/// A state in a word.
pub(super) const fn state(state: CastState) -> &'static str {
    match state {
        CastState::Planning => "planning",
        CastState::Pouring => "pouring",
        CastState::Curing => "curing",
        CastState::Done => "done",
    }
}

pub(super) fn row(cast: &CastSummary, shop: &Shop) -> ListRow {
    let shown = shop.shown();
    let document = cast.document.as_ref();
    let measured = document.and_then(|document| measure(document).ok());
    let none = || "–".to_owned();
    let changed = shown.date_and_time(cast.updated_at, shop.hours().zone());
    let kind = document.map(|document| kinds::name(document.kind()));
    let id = cast.id;
    ListRow {
        number: id.0,
        href: Cast { cast: id },
        mini: measured.as_ref().map_or_else(Markup::default, |measured| mini(measured, shown)),
        name: cast.name.clone(),
        about: format!("{}, {}, changed {changed}", kind.unwrap_or_default(), state(cast.state)),
        size: document.map_or_else(none, |document| size(document, shown)),
        volume: measured.map_or_else(none, |measured| shown.volume(measured.sizing.total)),
        resin: document.map_or_else(none, |document| match shop.shelf().find(&document.resin) {
            Ok(resin) => resin.name.clone(),
            Err(_) => resin::unknown(&document.resin.0),
        }),
        is_unreadable: document.is_none(),
        revision: cast.revision,
        rename: RenameCast { cast: id },
        copy: CopyCast { cast: id },
        keep: KeepCast { cast: id },
        refused: None,
    }
}

fn size(document: &Document, shown: Shown) -> String {
    let piece = &document.piece;
    if let Contents::Moulds(moulds) = &document.contents
        && moulds.cavities.len() > 1
    {
        return format!("{} cavities in {} rows", moulds.count(), moulds.cavities.len());
    }
    if let Some((count, hollow, _)) = document.contents.moulding() {
        let across = shown.length_figure(hollow.mouth().0);
        return format!("{count} × {across} across, {} deep", shown.length(hollow.depth()));
    }
    format!(
        "{} × {} × {}",
        shown.length_figure(piece.length),
        shown.length_figure(piece.width),
        shown.length(piece.thickness)
    )
}

//! What a kind shows at its second station.

use crate::svg::Markup;
use crate::ui::figure::Figure;
use crate::ui::group::{Group, List};

/// What a kind shows at its second station.
#[derive(Default)]
pub(super) struct Inside {
    pub(super) title: &'static str,
    pub(super) groups: Vec<Group>,
    pub(super) list: Option<List>,
    /// A drawing of the kind's own in the place of plan and section, with its caption.
    pub(super) drawing: Markup,
    pub(super) caption: String,
    pub(super) figures: Vec<Figure>,
    /// What is worth knowing: a heading and a sentence.
    pub(super) notes: Vec<(&'static str, String)>,
    pub(super) troubles: Vec<String>,
    pub(super) cares: Vec<String>,
    pub(super) links: Vec<(&'static str, String)>,
}

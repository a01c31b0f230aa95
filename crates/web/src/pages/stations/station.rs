//! What a station is: how it reads its form, what it loads, what it shows.

use std::future::Future;
use std::pin::Pin;

use fondant_app::{App, Shop};
use fondant_cast::{Conflict, Document, Evaluation, Kind};

use super::asked::{Asked, Beside, Visit};
use super::standing::Standing;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;

/// A station of a cast. A new one is a folder with an implementation of this, and a line in the
/// table.
pub(crate) trait Station {
    /// What it needs beside the cast itself.
    type Loaded: Send;
    /// Slug of the station in addresses.
    const SLUG: &'static str;
    /// Its place on the rail, from 1, and the digit that jumps to it.
    const DIGIT: usize;
    /// Whether its page is one form, saved field by field; one that is not has forms of its own.
    const HAS_FORM: bool = true;
    /// Scripts that its page needs beside those of every station.
    const SCRIPTS: &'static [Script] = &[];

    /// Whether a kind of cast has it.
    fn is_for(_: Kind) -> bool {
        true
    }
    /// Its name on the rail.
    fn name(kind: Kind) -> &'static str;
    /// State of the station for this document.
    fn standing(document: &Document, evaluation: &Evaluation) -> Standing;
    /// Reads its form into the document; what is refused is in the reader.
    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop);
    /// The field of its form at which a conflict is told; empty for the form as a whole.
    fn field_of(_: &Conflict, _: Kind) -> String {
        String::new()
    }
    /// What it needs beside the cast itself.
    fn load(
        app: &App,
        visit: &Visit,
    ) -> impl Future<Output = Result<Self::Loaded, WebError>> + Send;
    /// Renders the station's page.
    fn view(asked: &Asked<'_>, loaded: Self::Loaded) -> askama::Result<Markup>;
}

type Shows<'a> = Pin<Box<dyn Future<Output = Result<Markup, WebError>> + Send + 'a>>;

/// A station as the table holds it.
pub(crate) struct Entry {
    pub(crate) slug: &'static str,
    pub(crate) digit: usize,
    pub(crate) has_form: bool,
    pub(crate) scripts: &'static [Script],
    pub(crate) is_for: fn(Kind) -> bool,
    pub(crate) name: fn(Kind) -> &'static str,
    pub(crate) standing: fn(&Document, &Evaluation) -> Standing,
    pub(crate) apply: fn(&mut Reader<'_>, &mut Document, &Shop),
    pub(crate) field_of: fn(&Conflict, Kind) -> String,
    pub(crate) show: for<'a> fn(&'a App, &'a Visit, Beside<'a>) -> Shows<'a>,
}

/// The entry of a station.
pub(crate) const fn entry<S: Station>() -> Entry {
    Entry {
        slug: S::SLUG,
        digit: S::DIGIT,
        has_form: S::HAS_FORM,
        scripts: S::SCRIPTS,
        is_for: S::is_for,
        name: S::name,
        standing: S::standing,
        apply: S::apply,
        field_of: S::field_of,
        show: show::<S>,
    }
}

fn show<'a, S: Station>(app: &'a App, visit: &'a Visit, beside: Beside<'a>) -> Shows<'a> {
    Box::pin(async move {
        let loaded = S::load(app, visit).await?;
        Ok(S::view(&Asked::new(visit, beside), loaded)?)
    })
}

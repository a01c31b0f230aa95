//! The frame of a page: its title, its place among the six, the scripts that it needs.

use askama::Template;
use askama::filters::HtmlSafe;

use crate::assets;

/// A place of the application.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Place {
    Today,
    Casts,
    Shelf,
    Forms,
    Shop,
    Ledger,
    /// None of the six.
    Elsewhere,
}

/// A script that a page needs. Scripts run in the order of this list.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Script {
    /// Fragments of the page are replaced.
    Htmx,
    /// A module of Fondant's own, such as `/heat.js`.
    Module(&'static str),
    /// Components that are registered before Alpine starts.
    Components(&'static str),
    /// Small components in the markup.
    Alpine,
}

/// What `base.html` needs.
#[derive(Debug, Clone)]
pub(crate) struct Page {
    pub(crate) title: String,
    pub(crate) place: Place,
    /// What of the shop it shows, so that it is told when that changes.
    pub(crate) follows: Follows,
    scripts: Vec<Script>,
}

/// What stands at the head of a page: its title, styles and scripts.
#[derive(Template)]
#[template(path = "ui/head.html")]
pub(crate) struct Head<'a> {
    page: &'a Page,
}

/// The places of the application, and which of them a page is.
#[derive(Template)]
#[template(path = "ui/places.html")]
pub(crate) struct Places {
    place: Place,
}

/// Their templates escape what they hold.
impl HtmlSafe for Head<'_> {}
impl HtmlSafe for Places {}

/// What of the shop a page shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Follows {
    /// Nothing that others change, or a cast, whose page follows it by itself.
    Nothing,
    /// What all casts ask of the shop.
    Agendas,
    /// The list of casts.
    Casts,
    /// Settings, shelf, forms.
    Shop,
    /// Instruments and what they read.
    Devices,
}

impl Follows {
    /// Its name for scripts; empty for nothing.
    pub(crate) const fn name(self) -> &'static str {
        match self {
            Self::Nothing => "",
            Self::Agendas => "agendas",
            Self::Casts => "casts",
            Self::Shop => "shop",
            Self::Devices => "devices",
        }
    }
}

/// A script as markup names it.
pub(crate) struct Tag {
    pub(crate) src: String,
    pub(crate) is_module: bool,
}

impl Page {
    pub(crate) fn new(title: impl Into<String>, place: Place) -> Self {
        Self { title: title.into(), place, follows: Follows::Nothing, scripts: Vec::new() }
    }

    pub(crate) fn following(self, follows: Follows) -> Self {
        Self { follows, ..self }
    }

    pub(crate) fn head(&self) -> Head<'_> {
        Head { page: self }
    }

    pub(crate) fn places(&self) -> Places {
        Places { place: self.place }
    }

    pub(crate) fn with(mut self, scripts: &[Script]) -> Self {
        self.scripts.extend_from_slice(scripts);
        self.scripts.sort_unstable();
        self.scripts.dedup();
        self
    }

    /// The scripts in the order in which they run.
    pub(crate) fn tags(&self) -> Vec<Tag> {
        let tag = |script: &Script| {
            let (file, is_module) = match script {
                Script::Htmx => ("/htmx.min.js", false),
                Script::Alpine => ("/alpine.min.js", false),
                Script::Components(file) => (*file, false),
                Script::Module(file) => (*file, true),
            };
            Tag { src: assets::path(file), is_module }
        };
        self.scripts.iter().map(tag).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn alpine_runs_after_what_registers_with_it_and_nothing_is_loaded_twice() {
        let page = Page::new("x", Place::Shop).with(&[
            Script::Alpine,
            Script::Components("/rows.js"),
            Script::Htmx,
            Script::Htmx,
        ]);
        let files: Vec<String> = page.tags().into_iter().map(|tag| tag.src).collect();
        assert_eq!(files.len(), 3);
        assert!(
            files[0].contains("htmx") && files[1].contains("rows") && files[2].contains("alpine")
        );
    }
}

//! A figure with the working behind it.

use askama::Template;
use askama::filters::HtmlSafe;

/// A figure that opens its working.
#[derive(Debug, Clone, Default, PartialEq, Template)]
#[template(path = "ui/figure.html")]
pub(crate) struct Figure {
    /// Id of its panel on the page.
    pub(crate) id: String,
    /// The figure with its unit.
    pub(crate) value: String,
    /// Label of the figure.
    pub(crate) label: String,
    /// It is over its limit.
    pub(crate) is_hot: bool,
    /// The panel.
    pub(crate) working: Working,
}

/// Its template escapes what it holds.
impl HtmlSafe for Figure {}

/// A figure in a line of text.
#[derive(Template)]
#[template(path = "ui/inline.html")]
pub(crate) struct Inline<'a> {
    figure: &'a Figure,
}

/// Its template escapes what it holds.
impl HtmlSafe for Inline<'_> {}

/// What a figure opens.
#[derive(Template)]
#[template(path = "ui/working.html")]
struct Panel<'a> {
    figure: &'a Figure,
    working: &'a Working,
}

/// Its template escapes what it holds.
impl HtmlSafe for Panel<'_> {}

impl Figure {
    /// As it stands in a line of text.
    pub(crate) fn inline(&self) -> Inline<'_> {
        Inline { figure: self }
    }

    fn panel(&self) -> Panel<'_> {
        Panel { figure: self, working: &self.working }
    }
}

/// How a figure came about.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct Working {
    /// A sentence for a title.
    pub(crate) title: String,
    /// The formula, then the same with the numbers put in.
    pub(crate) formula: String,
    /// What was assumed, and the margin.
    pub(crate) notes: Vec<String>,
    /// Where each input can be changed: name and address.
    pub(crate) changes: Vec<(String, String)>,
}

impl Figure {
    /// A figure with a title for its working.
    #[must_use]
    pub(crate) fn new(id: &str, value: String, label: String, title: &str) -> Self {
        Self {
            id: id.to_owned(),
            value,
            label,
            is_hot: false,
            working: Working { title: title.to_owned(), ..Working::default() },
        }
    }

    /// With its formula and the numbers in it.
    #[must_use]
    pub(crate) fn formula(mut self, formula: String) -> Self {
        self.working.formula = formula;
        self
    }

    /// With an assumption or a margin.
    #[must_use]
    pub(crate) fn note(mut self, note: impl Into<String>) -> Self {
        self.working.notes.push(note.into());
        self
    }

    /// With the place where an input is changed.
    #[must_use]
    pub(crate) fn change(mut self, name: &str, address: String) -> Self {
        self.working.changes.push((name.to_owned(), address));
        self
    }

    /// Marked as over its limit.
    #[must_use]
    pub(crate) fn hot(mut self, is_hot: bool) -> Self {
        self.is_hot = is_hot;
        self
    }
}

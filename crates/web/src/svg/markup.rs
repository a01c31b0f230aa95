//! Markup that templates print as it is.

use askama::Template;
use askama::filters::HtmlSafe;

/// Markup that templates print without escaping: a drawing, or what another template has made.
/// Text from outside cannot become markup: both escape it.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(crate) struct Markup(String);

impl Markup {
    /// A finished drawing.
    pub(super) fn of_svg(text: String) -> Self {
        Self(text)
    }

    /// Markup rendered from a template.
    pub(crate) fn of(template: &impl Template) -> askama::Result<Self> {
        template.render().map(Self)
    }

    /// The markup.
    pub(crate) fn as_str(&self) -> &str {
        &self.0
    }

    pub(crate) fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// As text, for a file or a script.
    pub(crate) fn into_string(self) -> String {
        self.0
    }
}

impl std::fmt::Display for Markup {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

impl HtmlSafe for Markup {}

impl FromIterator<Self> for Markup {
    fn from_iter<I: IntoIterator<Item = Self>>(all: I) -> Self {
        Self(all.into_iter().map(|one| one.0).collect())
    }
}

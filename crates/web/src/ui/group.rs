//! Fields that belong together, and lists whose rows come and go.

use askama::Template;
use askama::filters::HtmlSafe;

use super::field::Field;

/// Fields that belong together.
#[derive(Template)]
#[template(path = "ui/group.html")]
pub(crate) struct Group {
    pub(crate) title: &'static str,
    pub(crate) why: String,
    pub(crate) fields: Vec<Field>,
}

/// Its template escapes what it holds.
impl HtmlSafe for Group {}

impl Group {
    pub(crate) fn new(title: &'static str, fields: Vec<Field>) -> Self {
        Self { title, why: String::new(), fields }
    }

    pub(crate) fn why(mut self, why: impl Into<String>) -> Self {
        self.why = why.into();
        self
    }
}

/// A list whose rows come and go.
#[derive(Template)]
#[template(path = "ui/list.html")]
pub(crate) struct List {
    /// Name of the field that numbers its rows.
    pub(crate) name: &'static str,
    pub(crate) title: &'static str,
    pub(crate) why: String,
    /// What a row is called, such as "object"; empty where rows can be neither added nor removed.
    pub(crate) one: &'static str,
    pub(crate) rows: Vec<ListRow>,
    /// It need not have a row.
    pub(crate) may_be_empty: bool,
}

/// Its template escapes what it holds.
impl HtmlSafe for List {}

impl List {
    /// What a row is called with its article: "an object".
    pub(crate) fn a_row(&self) -> String {
        let article = if self.one.starts_with(['a', 'e', 'i', 'o', 'u']) { "an" } else { "a" };
        format!("{article} {}", self.one)
    }
}

/// One row of a list.
pub(crate) struct ListRow {
    pub(crate) number: String,
    pub(crate) fields: Vec<Field>,
    pub(crate) note: String,
}

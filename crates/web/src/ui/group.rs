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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ui::field::Choice;
    use crate::ui::figure::Figure;

    #[test]
    fn what_is_typed_stays_text_in_every_part_that_renders_itself() {
        const TYPED: &str = "\"><script>alert(1)</script>";
        let typed = || TYPED.to_owned();
        let choice = Choice { value: typed(), label: typed(), is_chosen: true };
        let field = |kind| Field {
            name: typed(),
            label: typed(),
            value: typed(),
            other: typed(),
            hint: typed(),
            options: vec![choice.clone()],
            kind,
            ..Field::default()
        };
        let refused = Field { refusal: typed(), ..field("text") };
        let fields = vec![field("text"), field("select"), field("checkbox"), refused];
        let group = Group::new("Group", fields.clone()).why(TYPED);
        let row = ListRow { number: typed(), fields, note: typed() };
        let (title, one, name) = ("List", "row", "rows");
        let list = List { name, title, one, why: typed(), rows: vec![row], may_be_empty: true };
        let figure = Figure::new("figure", typed(), typed(), TYPED).formula(typed()).note(TYPED);
        let figure = figure.change(TYPED, typed());
        for html in
            [group.to_string(), list.to_string(), figure.to_string(), figure.inline().to_string()]
        {
            assert!(!html.contains("<script"), "{html}");
            assert!(html.contains("&#62;&#60;script&#62;"), "it is shown, escaped once: {html}");
        }
    }
}

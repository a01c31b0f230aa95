//! How large files, functions, parameter lists and structs are.

use syn::spanned::Spanned;
use syn::visit::{self, Visit};

use crate::source::Workspace;

/// Lines of a file.
const FILE_LINES: usize = 400;
/// Lines of a function, from its signature to its closing brace.
const FUNCTION_LINES: usize = 60;
/// Parameters of a function, `self` included.
const PARAMETERS: usize = 6;
/// Fields of a struct.
const FIELDS: usize = 15;
/// A struct of more fields says why in a comment that begins like this.
const REASON: &str = "// Many fields:";

/// A migration is one long statement, and never edited once it has landed.
const MIGRATIONS: &str = "/migrations/";

/// One measure of everything in the workspace, the largest first.
pub(crate) struct Measure {
    pub(crate) what: &'static str,
    pub(crate) most: usize,
    pub(crate) entries: Vec<Entry>,
}

/// The size of one thing.
pub(crate) struct Entry {
    pub(crate) size: usize,
    pub(crate) place: String,
    /// The source says why it is larger than usual.
    pub(crate) has_reason: bool,
}

pub(crate) fn measures(workspace: &Workspace) -> [Measure; 4] {
    let mut files: Vec<Entry> = Vec::new();
    let mut seen = Sizes::default();
    for module in workspace.modules() {
        if !files.iter().any(|entry| entry.place == module.file) {
            let size = module.text.lines().count();
            files.push(Entry { size, place: module.file.clone(), has_reason: false });
        }
        seen.file.clone_from(&module.file);
        seen.lines = module.text.lines().map(str::to_owned).collect();
        for item in module.items.iter().filter(|item| !matches!(item, syn::Item::Mod(_))) {
            seen.visit_item(item);
        }
    }
    [
        sorted("lines of a file", FILE_LINES, files),
        sorted("lines of a function", FUNCTION_LINES, seen.functions),
        sorted("parameters of a function", PARAMETERS, seen.parameters),
        sorted("fields of a struct", FIELDS, seen.fields),
    ]
}

fn sorted(what: &'static str, most: usize, mut entries: Vec<Entry>) -> Measure {
    entries.sort_by(|a, b| b.size.cmp(&a.size).then_with(|| a.place.cmp(&b.place)));
    Measure { what, most, entries }
}

#[derive(Default)]
struct Sizes {
    file: String,
    lines: Vec<String>,
    functions: Vec<Entry>,
    parameters: Vec<Entry>,
    fields: Vec<Entry>,
}

impl Sizes {
    fn function(&mut self, signature: &syn::Signature, body: &syn::Block) {
        let (from, to) = (signature.span().start().line, body.span().end().line);
        let place = format!("{}:{from} {}", self.file, signature.ident);
        let has_reason = self.file.contains(MIGRATIONS);
        self.functions.push(Entry { size: to - from + 1, place: place.clone(), has_reason });
        let size = signature.inputs.len();
        self.parameters.push(Entry { size, place, has_reason: false });
    }
}

impl<'ast> Visit<'ast> for Sizes {
    fn visit_item_fn(&mut self, item: &'ast syn::ItemFn) {
        self.function(&item.sig, &item.block);
        visit::visit_item_fn(self, item);
    }

    fn visit_impl_item_fn(&mut self, item: &'ast syn::ImplItemFn) {
        self.function(&item.sig, &item.block);
        visit::visit_impl_item_fn(self, item);
    }

    fn visit_trait_item_fn(&mut self, item: &'ast syn::TraitItemFn) {
        if let Some(body) = &item.default {
            self.function(&item.sig, body);
        }
        visit::visit_trait_item_fn(self, item);
    }

    fn visit_item_struct(&mut self, item: &'ast syn::ItemStruct) {
        let line = item.span().start().line;
        let end = item.span().end().line;
        let has_reason = self.lines[line.saturating_sub(4)..end.min(self.lines.len())]
            .iter()
            .any(|text| text.trim_start().starts_with(REASON));
        let place = format!("{}:{line} {}", self.file, item.ident);
        self.fields.push(Entry { size: item.fields.len(), place, has_reason });
    }
}

//! Which file imports which: every path that is named, followed to the file in which the thing is
//! defined. A `pub use` counts as an import, a `mod` does not.

use std::collections::{BTreeMap, BTreeSet};

use syn::visit::{self, Visit};

use crate::source::{Crate, Module, Workspace, leaves};

/// Files, and for each the files it imports from with the names it takes.
pub(crate) type Imports = BTreeMap<String, BTreeMap<String, BTreeSet<String>>>;

/// The imports of all files outside tests.
pub(crate) fn imports(workspace: &Workspace) -> Imports {
    let mut found = Imports::new();
    for krate in &workspace.crates {
        for (place, module) in &krate.modules {
            let mut names = Names::default();
            module.items.iter().filter(|i| !matches!(i, syn::Item::Mod(_))).for_each(|item| {
                names.visit_item(item);
            });
            for path in names.paths {
                let Some((file, name)) = resolved(workspace, krate, place, &path, 0) else {
                    continue;
                };
                if file != module.file {
                    let from = found.entry(module.file.clone()).or_default();
                    from.entry(file).or_default().insert(name);
                }
            }
        }
    }
    found
}

/// Every path named in a module's items.
#[derive(Default)]
struct Names {
    paths: Vec<Vec<String>>,
}

impl<'ast> Visit<'ast> for Names {
    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        leaves(&item.tree, &mut Vec::new(), &mut |_, path| self.paths.push(path.to_vec()));
    }

    // `pub(in crate::x)` imports nothing.
    fn visit_visibility(&mut self, _: &'ast syn::Visibility) {}

    fn visit_path(&mut self, path: &'ast syn::Path) {
        let path_names: Vec<String> =
            path.segments.iter().map(|segment| segment.ident.to_string()).collect();
        if path_names.len() > 1 {
            self.paths.push(path_names);
        }
        visit::visit_path(self, path);
    }
}

/// The file in which the thing at a path is defined, and the thing's name; `None` for what is not
/// of this workspace.
fn resolved(
    workspace: &Workspace,
    krate: &Crate,
    from: &[String],
    path: &[String],
    depth: usize,
) -> Option<(String, String)> {
    // Re-exports of re-exports end somewhere; a circle of globs does not.
    if depth > 8 {
        return None;
    }
    let (first, mut rest) = path.split_first()?;
    let (home, mut at) = match first.as_str() {
        "crate" => (krate, Vec::new()),
        "self" => (krate, from.to_vec()),
        "super" => {
            let mut at = from.to_vec();
            at.pop();
            while rest.first().is_some_and(|name| name == "super") {
                at.pop();
                rest = &rest[1..];
            }
            (krate, at)
        }
        name => match workspace.crates.iter().find(|c| c.package.replace('-', "_") == *name) {
            Some(other) => (other, Vec::new()),
            // A child module, named without `self`.
            None => {
                let child: Vec<String> = from.iter().cloned().chain([name.to_owned()]).collect();
                krate.modules.get(&child)?;
                (krate, child)
            }
        },
    };
    while let Some((name, after)) = rest.split_first() {
        let deeper: Vec<String> = at.iter().cloned().chain([name.clone()]).collect();
        if home.modules.contains_key(&deeper) {
            at = deeper;
            rest = after;
        } else {
            return named(workspace, home, &at, name, depth);
        }
    }
    let module = home.modules.get(&at)?;
    Some((module.file.clone(), "(module)".to_owned()))
}

/// The file that defines a name which a module offers.
fn named(
    workspace: &Workspace,
    krate: &Crate,
    at: &[String],
    name: &str,
    depth: usize,
) -> Option<(String, String)> {
    let module: &Module = krate.modules.get(at)?;
    if name == "*" || module.defined.iter().any(|defined| defined == name) {
        return Some((module.file.clone(), name.to_owned()));
    }
    for (offered, path) in &module.reexported {
        if offered == name {
            return resolved(workspace, krate, at, path, depth + 1)
                .or_else(|| Some((module.file.clone(), name.to_owned())));
        }
        if offered == "*" {
            let mut named_path = path.clone();
            *named_path.last_mut()? = name.to_owned();
            if let Some(found) = resolved(workspace, krate, at, &named_path, depth + 1) {
                return Some(found);
            }
        }
    }
    None
}

/// Groups of files that import each other in a circle (Tarjan's strongly connected components of
/// more than one file).
pub(crate) fn circles(imports: &Imports) -> Vec<Vec<String>> {
    let mut search = Search { imports, ..Search::empty(imports) };
    for file in imports.keys() {
        if !search.index.contains_key(file) {
            search.visit(file);
        }
    }
    search.found
}

struct Search<'a> {
    imports: &'a Imports,
    index: BTreeMap<&'a String, usize>,
    low: BTreeMap<&'a String, usize>,
    stack: Vec<&'a String>,
    found: Vec<Vec<String>>,
}

impl<'a> Search<'a> {
    fn empty(imports: &'a Imports) -> Self {
        Self {
            imports,
            index: BTreeMap::new(),
            low: BTreeMap::new(),
            stack: Vec::new(),
            found: Vec::new(),
        }
    }

    fn visit(&mut self, file: &'a String) {
        let number = self.index.len();
        self.index.insert(file, number);
        self.low.insert(file, number);
        self.stack.push(file);
        for other in self.imports.get(file).into_iter().flat_map(BTreeMap::keys) {
            if !self.index.contains_key(other) {
                self.visit(other);
                let low = self.low[other].min(self.low[file]);
                self.low.insert(file, low);
            } else if self.stack.contains(&other) {
                let low = self.index[other].min(self.low[file]);
                self.low.insert(file, low);
            }
        }
        if self.low[file] == number {
            let from = self.stack.iter().position(|other| *other == file).expect("it is there");
            let circle: Vec<String> = self.stack.drain(from..).cloned().collect();
            if circle.len() > 1 {
                self.found.push(circle);
            }
        }
    }
}

/// A circle in words: each file, what it takes, and from where.
pub(crate) fn told(circle: &[String], imports: &Imports) -> String {
    let mut lines = Vec::new();
    for file in circle {
        for (other, names) in imports.get(file).into_iter().flatten() {
            if circle.contains(other) {
                let names: Vec<&str> = names.iter().map(String::as_str).collect();
                lines.push(format!("  {file} -> {other}: {}", names.join(", ")));
            }
        }
    }
    lines.sort();
    lines.join("\n")
}

#[cfg(test)]
mod tests {
    use super::*;

    fn imports_of(pairs: &[(&str, &str)]) -> Imports {
        let mut all = Imports::new();
        for (from, to) in pairs {
            let from = all.entry((*from).to_owned()).or_default();
            from.entry((*to).to_owned()).or_default().insert("x".to_owned());
        }
        all
    }

    #[test]
    fn a_circle_is_found_and_a_diamond_is_none() {
        let diamond = imports_of(&[("a", "b"), ("a", "c"), ("b", "d"), ("c", "d")]);
        assert!(circles(&diamond).is_empty());
        let ring = imports_of(&[("a", "b"), ("b", "c"), ("c", "b"), ("c", "d")]);
        let found = circles(&ring);
        assert_eq!(found.len(), 1);
        assert_eq!(found[0].len(), 2);
        assert!(told(&found[0], &ring).contains("c -> b"));
    }
}

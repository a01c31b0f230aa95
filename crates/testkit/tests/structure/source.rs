//! The sources of the workspace, parsed: crates, their modules, and the file of each.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use syn::{Attribute, Item, ItemMod, UseTree, Visibility};

/// All crates of the workspace.
pub(crate) struct Workspace {
    pub(crate) crates: Vec<Crate>,
}

/// One crate without its tests.
pub(crate) struct Crate {
    pub(crate) package: String,
    /// Names in `[dependencies]`.
    pub(crate) dependencies: Vec<String>,
    pub(crate) modules: BTreeMap<Vec<String>, Module>,
}

/// One module: a file, or a block within one.
pub(crate) struct Module {
    /// Path of its file from the root of the workspace.
    pub(crate) file: String,
    pub(crate) text: String,
    pub(crate) items: Vec<Item>,
    /// Names of what it defines.
    pub(crate) defined: Vec<String>,
    /// What it makes available under a name: the name and the path of the thing.
    pub(crate) reexported: Vec<(String, Vec<String>)>,
}

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").canonicalize().expect("a workspace")
}

impl Workspace {
    pub(crate) fn read() -> Self {
        let mut folders = Vec::new();
        for parent in ["crates/core", "crates"] {
            for entry in std::fs::read_dir(root().join(parent)).expect("a folder") {
                let path = entry.expect("an entry").path();
                if path.join("Cargo.toml").exists() {
                    folders.push(path);
                }
            }
        }
        folders.sort();
        let crates: Vec<Crate> = folders.iter().map(|folder| Crate::read(folder)).collect();
        assert!(crates.len() > 10, "the crates are where they were");
        Self { crates }
    }

    pub(crate) fn modules(&self) -> impl Iterator<Item = &Module> {
        self.crates.iter().flat_map(|krate| krate.modules.values())
    }
}

impl Crate {
    fn read(folder: &Path) -> Self {
        let manifest = std::fs::read_to_string(folder.join("Cargo.toml")).expect("a manifest");
        let package = manifest
            .lines()
            .find_map(|line| line.strip_prefix("name = "))
            .expect("a name")
            .trim_matches('"')
            .to_owned();
        let mut krate =
            Self { package, dependencies: dependencies(&manifest), modules: BTreeMap::new() };
        for start in ["src/lib.rs", "src/main.rs"] {
            let file = folder.join(start);
            if file.exists() {
                krate.add_file(Vec::new(), &file, &folder.join("src"));
            }
        }
        krate
    }

    fn add_file(&mut self, path: Vec<String>, file: &Path, children: &Path) {
        let text = std::fs::read_to_string(file)
            .unwrap_or_else(|error| panic!("{}: {error}", file.display()));
        let parsed =
            syn::parse_file(&text).unwrap_or_else(|error| panic!("{}: {error}", file.display()));
        let shown = file.strip_prefix(root()).expect("in the workspace").display().to_string();
        self.add(path, parsed.items, (&shown, &text), children);
    }

    fn add(
        &mut self,
        path: Vec<String>,
        items: Vec<Item>,
        (file, text): (&str, &str),
        children: &Path,
    ) {
        let items: Vec<Item> =
            items.into_iter().filter(|item| !is_test(attributes(item))).collect();
        let mut module = Module {
            file: file.to_owned(),
            text: text.to_owned(),
            items: Vec::new(),
            defined: Vec::new(),
            reexported: Vec::new(),
        };
        for item in &items {
            match item {
                Item::Mod(child) => self.add_child(&path, child, (file, text), children),
                Item::Use(import) if !matches!(import.vis, Visibility::Inherited) => {
                    leaves(&import.tree, &mut Vec::new(), &mut |name, path| {
                        module.reexported.push((name.to_owned(), path.to_vec()));
                    });
                }
                _ => module.defined.extend(name_of(item)),
            }
        }
        module.items = items;
        self.modules.insert(path, module);
    }

    fn add_child(
        &mut self,
        parent: &[String],
        child: &ItemMod,
        (file, text): (&str, &str),
        children: &Path,
    ) {
        let name = child.ident.to_string();
        let path: Vec<String> = parent.iter().cloned().chain([name.clone()]).collect();
        if let Some((_, items)) = &child.content {
            self.add(path, items.clone(), (file, text), &children.join(name));
            return;
        }
        let (plain, folder) =
            (children.join(format!("{name}.rs")), children.join(&name).join("mod.rs"));
        let file = if plain.exists() { plain } else { folder };
        self.add_file(path, &file, &children.join(name));
    }
}

/// Names in `[dependencies]`, without those of tests.
fn dependencies(manifest: &str) -> Vec<String> {
    let Some((_, after)) = manifest.split_once("\n[dependencies]") else { return Vec::new() };
    let section = after.split("\n[").next().expect("a section");
    section
        .lines()
        .filter_map(|line| line.split(['.', ' ', '=']).next())
        .filter(|name| !name.is_empty())
        .map(str::to_owned)
        .collect()
}

/// Every name that a `use` brings in, with its path; `*` for a glob.
pub(crate) fn leaves(tree: &UseTree, path: &mut Vec<String>, see: &mut dyn FnMut(&str, &[String])) {
    match tree {
        UseTree::Path(step) => {
            path.push(step.ident.to_string());
            leaves(&step.tree, path, see);
            path.pop();
        }
        UseTree::Name(leaf) => {
            let name = leaf.ident.to_string();
            if name == "self" {
                let own = path.last().cloned().unwrap_or_default();
                see(&own, path);
            } else {
                path.push(name.clone());
                see(&name, path);
                path.pop();
            }
        }
        UseTree::Rename(leaf) => {
            path.push(leaf.ident.to_string());
            see(&leaf.rename.to_string(), path);
            path.pop();
        }
        UseTree::Glob(_) => {
            path.push("*".to_owned());
            see("*", path);
            path.pop();
        }
        UseTree::Group(group) => {
            for tree in &group.items {
                leaves(tree, path, see);
            }
        }
    }
}

fn name_of(item: &Item) -> Option<String> {
    Some(match item {
        Item::Const(item) => item.ident.to_string(),
        Item::Enum(item) => item.ident.to_string(),
        Item::Fn(item) => item.sig.ident.to_string(),
        Item::Macro(item) => item.ident.as_ref()?.to_string(),
        Item::Static(item) => item.ident.to_string(),
        Item::Struct(item) => item.ident.to_string(),
        Item::Trait(item) => item.ident.to_string(),
        Item::Type(item) => item.ident.to_string(),
        _ => return None,
    })
}

pub(crate) fn attributes(item: &Item) -> &[Attribute] {
    match item {
        Item::Const(item) => &item.attrs,
        Item::Enum(item) => &item.attrs,
        Item::Fn(item) => &item.attrs,
        Item::Impl(item) => &item.attrs,
        Item::Mod(item) => &item.attrs,
        Item::Static(item) => &item.attrs,
        Item::Struct(item) => &item.attrs,
        Item::Trait(item) => &item.attrs,
        Item::Type(item) => &item.attrs,
        Item::Use(item) => &item.attrs,
        _ => &[],
    }
}

/// Whether something exists for tests alone.
fn is_test(attributes: &[Attribute]) -> bool {
    attributes.iter().any(|attribute| {
        attribute.path().is_ident("cfg")
            && attribute.meta.require_list().is_ok_and(|list| list.tokens.to_string() == "test")
    })
}

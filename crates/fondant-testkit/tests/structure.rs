//! The rule of dependencies: which crate may use which, and the order of the
//! core's modules.

use std::path::{Path, PathBuf};

/// Crates and what they may depend on of ours outside tests.
const CRATES: [(&str, &[&str]); 7] = [
    ("fondant-core", &[]),
    ("fondant-store", &["fondant-core"]),
    ("fondant-files", &["fondant-core"]),
    ("fondant-devices", &["fondant-core"]),
    ("fondant-web", &["fondant-core", "fondant-devices", "fondant-files", "fondant-store"]),
    (
        "fondant",
        &["fondant-core", "fondant-devices", "fondant-files", "fondant-store", "fondant-web"],
    ),
    ("fondant-testkit", &["fondant-core", "fondant-store", "fondant-web"]),
];

/// The core's modules: each may use only those before it.
const MODULES: [&str; 17] = [
    "quantities",
    "numerics",
    "climate",
    "geometry",
    "picture",
    "timber",
    "form",
    "volume",
    "blanks",
    "resin",
    "cure",
    "heat",
    "calibration",
    "layers",
    "schedule",
    "mix",
    "plan",
];

/// What the core must never depend on: it has no clock, no input or output.
const NOT_IN_CORE: [&str; 7] =
    ["tokio", "sea-orm", "axum", "askama", "serde_json", "chrono", "rand"];

fn crates() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("..")
}

/// Names in `[dependencies]`, without those of tests.
fn dependencies(name: &str) -> Vec<String> {
    let manifest =
        std::fs::read_to_string(crates().join(name).join("Cargo.toml")).expect("a manifest");
    let (_, after) = manifest.split_once("[dependencies]").expect("its dependencies");
    let section = after.split("\n[").next().expect("a section");
    section
        .lines()
        .filter_map(|line| line.split(['.', ' ', '=']).next())
        .filter(|name| !name.is_empty())
        .map(str::to_owned)
        .collect()
}

#[test]
fn crates_depend_only_downwards() {
    for (name, allowed) in CRATES {
        for dependency in dependencies(name).iter().filter(|d| d.starts_with("fondant")) {
            assert!(allowed.contains(&dependency.as_str()), "{name} must not use {dependency}");
        }
    }
    for banned in NOT_IN_CORE {
        assert!(!dependencies("fondant-core").contains(&banned.to_owned()), "core uses {banned}");
    }
}

fn sources(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            sources(&path, found);
        } else if path.extension().is_some_and(|extension| extension == "rs") {
            found.push(path);
        }
    }
}

#[test]
fn modules_of_the_core_use_only_those_before_them() {
    let source = crates().join("fondant-core/src");
    let mut files = Vec::new();
    sources(&source, &mut files);
    assert!(files.len() > 30, "the sources are where they were");
    for file in files {
        let relative = file.strip_prefix(&source).unwrap();
        let first = relative.components().next().unwrap().as_os_str().to_string_lossy();
        let Some(rank) = MODULES.iter().position(|m| first == *m) else {
            assert_eq!(first, "lib.rs", "{first} has no place in the order");
            continue;
        };
        let text = std::fs::read_to_string(&file).unwrap();
        for line in text.lines().take_while(|line| !line.contains("#[cfg(test)]")) {
            let Some((_, used)) = line.split_once("crate::") else { continue };
            let used = used.split([':', ';', '{', ' ']).next().unwrap();
            if let Some(other) = MODULES.iter().position(|m| used == *m) {
                let shown = relative.display();
                assert!(other <= rank, "{shown} uses {used}, which comes after {first}");
            }
        }
    }
}

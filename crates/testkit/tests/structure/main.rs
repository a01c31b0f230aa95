//! The structure of the workspace, measured from its sources: which crate may use which, that no
//! two files import each other in a circle, and that files, functions, parameter lists and structs
//! stay small enough to be read.
//!
//! `cargo test -p fondant-testkit --test structure -- --nocapture` prints the largest of each.

mod graph;
mod sizes;
mod source;

use std::sync::LazyLock;

use source::Workspace;

/// What the tests ask of the workspace. Its sources are parsed once for all of them.
struct Known {
    /// Names of the crates, and of what each depends on.
    crates: Vec<(String, Vec<String>)>,
    imports: graph::Imports,
    measures: [sizes::Measure; 4],
}

static KNOWN: LazyLock<Known> = LazyLock::new(|| {
    let workspace = Workspace::read();
    let (imports, measures) = (graph::imports(&workspace), sizes::measures(&workspace));
    let crates = workspace.crates.into_iter().map(|krate| (krate.package, krate.dependencies));
    Known { crates: crates.collect(), imports, measures }
});

/// Crates from the bottom up, and those that each may depend on outside tests.
const CRATES: [(&str, &[&str]); 17] = [
    ("fondant-quantities", &[]),
    ("fondant-numerics", &[]),
    ("fondant-materials", &["fondant-quantities"]),
    ("fondant-shapes", &["fondant-quantities", "fondant-materials"]),
    ("fondant-heat", &["fondant-quantities", "fondant-numerics", "fondant-materials"]),
    (
        "fondant-pours",
        &[
            "fondant-quantities",
            "fondant-numerics",
            "fondant-materials",
            "fondant-shapes",
            "fondant-heat",
        ],
    ),
    ("fondant-cast", &CORE),
    ("fondant-bench", &CORE),
    ("fondant-finish", &CORE),
    ("fondant-record", &CORE),
    ("fondant-files", &CORE),
    ("fondant-devices", &CORE),
    ("fondant-store", &CORE),
    ("fondant-app", &APP),
    ("fondant-web", &WEB),
    ("fondant", &PROGRAM),
    ("fondant-testkit", &PROGRAM),
];

const CORE: [&str; 10] = [
    "fondant-quantities",
    "fondant-numerics",
    "fondant-materials",
    "fondant-shapes",
    "fondant-heat",
    "fondant-pours",
    "fondant-cast",
    "fondant-bench",
    "fondant-finish",
    "fondant-record",
];
const APP: [&str; 13] = with(CORE, ["fondant-files", "fondant-devices", "fondant-store"]);
const WEB: [&str; 14] = with(APP, ["fondant-app"]);
const PROGRAM: [&str; 15] = with(WEB, ["fondant-web"]);

const fn with<const A: usize, const B: usize, const C: usize>(
    below: [&'static str; A],
    more: [&'static str; B],
) -> [&'static str; C] {
    let mut all = [""; C];
    let mut index = 0;
    while index < C {
        all[index] = if index < A { below[index] } else { more[index - A] };
        index += 1;
    }
    all
}

/// What the core must never depend on: it has no clock, no input or output, no JSON text.
const NOT_IN_CORE: [&str; 8] =
    ["tokio", "sea-orm", "axum", "askama", "serde_json", "chrono", "rand", "csv"];

#[test]
fn crates_depend_only_downwards() {
    for (package, dependencies) in &KNOWN.crates {
        let (_, allowed) = CRATES
            .iter()
            .find(|(name, _)| name == package)
            .unwrap_or_else(|| panic!("{package} has no place in the order of crates"));
        for dependency in dependencies.iter().filter(|d| d.starts_with("fondant")) {
            assert!(allowed.contains(&dependency.as_str()), "{package} must not use {dependency}");
        }
        if CORE.contains(&package.as_str()) {
            for banned in NOT_IN_CORE {
                assert!(!dependencies.iter().any(|d| d == banned), "{package} uses {banned}");
            }
        }
    }
}

#[test]
fn no_file_imports_itself_through_others() {
    let imports = &KNOWN.imports;
    assert!(imports.len() > 100, "only {} files import others: was the tree read?", imports.len());
    let circles = graph::circles(imports);
    let told: Vec<String> = circles.iter().map(|circle| graph::told(circle, imports)).collect();
    assert!(circles.is_empty(), "{} circles of imports:\n{}", circles.len(), told.join("\n"));
}

#[test]
fn files_functions_parameters_and_structs_stay_small() {
    let mut broken = Vec::new();
    for measure in &KNOWN.measures {
        println!("{} (at most {}):", measure.what, measure.most);
        for entry in measure.entries.iter().take(5) {
            println!("  {:4}  {}", entry.size, entry.place);
        }
        let over = measure.entries.iter().filter(|e| e.size > measure.most && !e.has_reason);
        broken.extend(over.map(|e| format!("{}: {} {}", measure.what, e.size, e.place)));
    }
    assert!(broken.is_empty(), "too large:\n{}", broken.join("\n"));
}

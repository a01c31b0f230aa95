//! `fondant model` on files of cases, as a program.

use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use serde_json::{Value, json};

fn data(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/data").join(name)
}

fn model(arguments: &[&str], file: &Path) -> Output {
    Command::new(env!("CARGO_BIN_EXE_fondant"))
        .arg("model")
        .args(arguments)
        .arg(file)
        .output()
        .expect("the program runs")
}

fn text(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}

/// A file of cases beside a copy of the resins, in a folder of its own.
fn file_of(name: &str, cases: &Value) -> PathBuf {
    let folder = std::env::temp_dir().join(format!("fondant-model-{}-{name}", std::process::id()));
    std::fs::create_dir_all(&folder).expect("a writable folder");
    std::fs::copy(data("resins.json"), folder.join("resins.json")).expect("a writable folder");
    let file = folder.join("cases.json");
    std::fs::write(&file, json!({ "resins": "resins.json", "cases": cases }).to_string())
        .expect("a writable folder");
    file
}

fn adiabatic(rise: f64) -> Value {
    json!({
        "id": "rise-a", "kind": "adiabatic", "inputs": { "resin": "a", "T0_C": 20.0 },
        "outputs": { "dT_adiabatic_full_K": { "value": rise, "tol": 0.01 } },
    })
}

#[test]
fn all_reference_cases_agree() {
    let output = model(&["--check"], &data("cases.json"));
    let said = text(&output.stdout);
    assert!(output.status.success(), "{said}");
    assert!(
        said.contains("260 cases computed, 1457 values agree, 0 out of tolerance, 0 cases skipped"),
        "{said}"
    );
}

#[test]
fn what_is_out_of_tolerance_is_listed_and_fails() {
    let output = model(&["--check"], &file_of("wrong", &json!([adiabatic(126.0)])));
    assert_eq!(output.status.code(), Some(1));
    let said = text(&output.stdout);
    assert!(said.contains("rise-a") && said.contains("126") && said.contains("125"), "{said}");
    assert!(said.contains("1 out of tolerance"), "{said}");
}

#[test]
fn unknown_kinds_are_named_and_skipped_and_never_pass_alone() {
    let unknown = json!({ "id": "x", "kind": "volcano", "inputs": {}, "outputs": {} });
    let output = model(&["--check"], &file_of("mixed", &json!([adiabatic(125.0), unknown])));
    assert!(output.status.success());
    assert!(text(&output.stdout).contains("skipped: 1 of the unknown kind “volcano”"));
    let output = model(&["--check"], &file_of("unknown", &json!([unknown])));
    assert_eq!(output.status.code(), Some(1), "nothing was checked, so nothing passed");
}

#[test]
fn outputs_are_printed_as_json_without_expected_values() {
    let case = json!([{ "id": "thin", "kind": "slab", "inputs": {
        "resin": "a", "depth_m": 0.05, "T_amb_C": 20, "T_pour_C": 20,
        "h_top": 10.0, "R_base": 0.305_128_205_1,
    } }]);
    let output = model(&[], &file_of("print", &case));
    assert!(output.status.success());
    let printed: Value = serde_json::from_slice(&output.stdout).unwrap();
    let peak = printed["cases"][0]["outputs"]["T_peak_C"].as_f64().unwrap();
    assert!((peak - 62.5207).abs() < 0.05, "{peak}");
    assert_eq!(printed["skipped"], json!([]));
}

#[test]
fn files_that_cannot_be_read_are_named() {
    let output = model(&["--check"], Path::new("/nowhere/cases.json"));
    assert_eq!(output.status.code(), Some(2));
    assert!(text(&output.stderr).contains("/nowhere/cases.json"));
    let unknown_resin =
        json!([{ "id": "z", "kind": "adiabatic", "inputs": { "resin": "z", "T0_C": 20 } }]);
    let output = model(&[], &file_of("resin", &unknown_resin));
    assert_eq!(output.status.code(), Some(2));
    assert!(text(&output.stderr).contains("there is no resin “z”"));
}

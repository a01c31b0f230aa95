//! `fondant model`: the heat and cure model on a file of cases.
//!
//! - [`schema`]: the files
//! - [`compute`]: from inputs to outputs
//! - [`check`](mod@check): outputs against expected values

mod check;
mod compute;
mod schema;

use std::io::Write;
use std::path::{Path, PathBuf};

use schema::{CaseFile, ResinFile};

/// Why a file of cases could not be worked.
#[derive(Debug, thiserror::Error)]
pub(crate) enum ModelError {
    /// A file could not be read.
    #[error("{}: {source}", path.display())]
    Read {
        /// The file.
        path: PathBuf,
        /// The operating system's error.
        source: std::io::Error,
    },
    /// A file is not what its schema says.
    #[error("{}: {source}", path.display())]
    Schema {
        /// The file.
        path: PathBuf,
        /// The parser's error, with its line.
        source: serde_json::Error,
    },
    /// A case could not be computed.
    #[error("case {id}: {source}")]
    Case {
        /// The case.
        id: String,
        /// The error of the case.
        source: compute::CaseError,
    },
    /// Output could not be written.
    #[error("writing the result: {0}")]
    Write(#[from] std::io::Error),
    /// Output could not be put into words.
    #[error("writing the result: {0}")]
    Json(#[from] serde_json::Error),
}

/// Computes the cases of `file` and writes their outputs as JSON to `out`.
pub(crate) fn run(file: &Path, out: &mut impl Write) -> Result<(), ModelError> {
    let (cases, resins) = load(file)?;
    let mut computed = Vec::new();
    let mut skipped = Vec::new();
    for case in &cases.cases {
        match compute::compute(case, &resins) {
            Ok(Some(outputs)) => computed.push(serde_json::json!({
                "id": case.id, "kind": case.kind, "outputs": outputs,
            })),
            Ok(None) => skipped.push(serde_json::json!({ "id": case.id, "kind": case.kind })),
            Err(source) => return Err(ModelError::Case { id: case.id.clone(), source }),
        }
    }
    let all = serde_json::json!({ "cases": computed, "skipped": skipped });
    serde_json::to_writer_pretty(&mut *out, &all)?;
    writeln!(out)?;
    Ok(())
}

/// Compares the cases of `file` with their expected values and writes what is
/// out of tolerance. `true` where everything computed agrees.
pub(crate) fn check(file: &Path, out: &mut impl Write) -> Result<bool, ModelError> {
    let (cases, resins) = load(file)?;
    let report = check::check(&cases, &resins);
    write!(out, "{report}")?;
    Ok(report.passed())
}

/// The cases and the resins of the file named in them, which stands beside it.
fn load(file: &Path) -> Result<(CaseFile, ResinFile), ModelError> {
    let cases: CaseFile = read(file)?;
    let resins = read(&file.with_file_name(&cases.resins))?;
    Ok((cases, resins))
}

fn read<T: serde::de::DeserializeOwned>(path: &Path) -> Result<T, ModelError> {
    let text = std::fs::read_to_string(path)
        .map_err(|source| ModelError::Read { path: path.to_owned(), source })?;
    serde_json::from_str(&text)
        .map_err(|source| ModelError::Schema { path: path.to_owned(), source })
}

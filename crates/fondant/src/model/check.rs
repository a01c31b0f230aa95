//! Outputs against expected values.

use std::collections::BTreeMap;
use std::fmt;

use serde_json::Value;

use super::compute::compute;
use super::schema::{Case, CaseFile, Expected, ResinFile};

/// Result of a check.
#[derive(Debug, Default)]
pub(crate) struct Report {
    /// Cases computed.
    computed: usize,
    /// Values that agree.
    agreeing: usize,
    /// Largest deviation met, as a share of its tolerance, by kind.
    worst: BTreeMap<String, (f64, String)>,
    /// Values out of tolerance.
    faults: Vec<Fault>,
    /// Cases of kinds that are not known, by kind.
    skipped: BTreeMap<String, usize>,
}

#[derive(Debug)]
struct Fault {
    case: String,
    output: String,
    expected: String,
    found: String,
    tolerance: String,
}

impl Report {
    /// Whether everything that was computed agrees, and anything was.
    pub(crate) fn passed(&self) -> bool {
        self.faults.is_empty() && self.computed > 0
    }

    fn fault(&mut self, case: &Case, output: &str, expected: Option<f64>, found: &str, tol: f64) {
        self.faults.push(Fault {
            case: case.id.clone(),
            output: output.to_owned(),
            expected: expected.map_or("never".to_owned(), |v| v.to_string()),
            found: found.to_owned(),
            tolerance: tol.to_string(),
        });
    }
}

/// Computes every case and compares it.
pub(crate) fn check(cases: &CaseFile, resins: &ResinFile) -> Report {
    let mut report = Report::default();
    for case in &cases.cases {
        match compute(case, resins) {
            Ok(Some(found)) => {
                report.computed += 1;
                compare(&mut report, case, "", &case.outputs, &found);
            }
            Ok(None) => *report.skipped.entry(case.kind.clone()).or_default() += 1,
            Err(error) => report.fault(case, "", None, &error.to_string(), 0.0),
        }
    }
    report
}

fn compare(
    report: &mut Report,
    case: &Case,
    prefix: &str,
    expected: &BTreeMap<String, Expected>,
    found: &Value,
) {
    for (name, expected) in expected {
        let path = format!("{prefix}{name}");
        let Some(found) = found.get(name) else {
            report.fault(case, &path, None, "not computed", 0.0);
            continue;
        };
        match expected {
            Expected::Group(group) => compare(report, case, &format!("{path}."), group, found),
            Expected::Fact(fact) => {
                if found.as_bool() == Some(*fact) {
                    report.agreeing += 1;
                } else {
                    report.fault(case, &path, None, &format!("{found} for {fact}"), 0.0);
                }
            }
            Expected::Value { value, tol } => {
                compare_value(report, case, &path, *value, tol.unwrap_or(0.0), found.as_f64());
            }
        }
    }
}

fn compare_value(
    report: &mut Report,
    case: &Case,
    output: &str,
    expected: Option<f64>,
    tol: f64,
    found: Option<f64>,
) {
    let agrees = match (expected, found) {
        (None, None) => true,
        (Some(expected), Some(found)) => {
            let share = (found - expected).abs() / tol.max(f64::MIN_POSITIVE);
            let entry = report.worst.entry(case.kind.clone()).or_default();
            if share > entry.0 {
                *entry = (share, format!("{} {output}", case.id));
            }
            share <= 1.0
        }
        _ => false,
    };
    if agrees {
        report.agreeing += 1;
    } else {
        let found = found.map_or("never".to_owned(), |v| v.to_string());
        report.fault(case, output, expected, &found, tol);
    }
}

impl fmt::Display for Report {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if !self.faults.is_empty() {
            writeln!(
                f,
                "{:<36} {:<22} {:>16} {:>16} {:>10}",
                "case", "output", "expected", "found", "tolerance"
            )?;
            for fault in &self.faults {
                writeln!(
                    f,
                    "{:<36} {:<22} {:>16} {:>16} {:>10}",
                    fault.case, fault.output, fault.expected, fault.found, fault.tolerance
                )?;
            }
        }
        for (kind, (share, place)) in &self.worst {
            writeln!(f, "{kind}: largest deviation {share:.2} of its tolerance, at {place}")?;
        }
        for (kind, count) in &self.skipped {
            writeln!(f, "skipped: {count} of the unknown kind “{kind}”")?;
        }
        let skipped: usize = self.skipped.values().sum();
        writeln!(
            f,
            "{} cases computed, {} values agree, {} out of tolerance, {skipped} cases skipped",
            self.computed,
            self.agreeing,
            self.faults.len()
        )
    }
}

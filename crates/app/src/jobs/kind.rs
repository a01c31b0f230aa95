//! Kinds of long work.

/// Raised when results are computed or written otherwise: those of before are worked out again.
pub(super) const RESULTS: u32 = 3;

/// A kind of long work. Each has a queue of its own, so that a field of minutes does not keep a
/// comparison of seconds waiting.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum JobKind {
    /// A section or block as a field of temperatures.
    Field,
    /// Plans compared.
    Plans,
}

impl JobKind {
    /// All kinds of job.
    pub const ALL: [Self; 2] = [Self::Field, Self::Plans];

    /// Its name in the records, and that of its queue.
    pub(crate) const fn name(self) -> &'static str {
        match self {
            Self::Field => "field",
            Self::Plans => "plans",
        }
    }

    pub(crate) fn of(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.name() == name)
    }
}

//! How far a run that goes on was looked through for what can be left out of it.

/// What is kept of a run from its beginning, in bytes.
pub(crate) const FIRST: u64 = 64 << 20;

/// How far a run was looked through for what can be left out.
#[derive(Debug, Default)]
pub(crate) struct Trimmed {
    /// Up to here it was looked through.
    pub(crate) to: u64,
    /// What was kept in that for the sake of entries, in bytes.
    pub(crate) kept: u64,
    /// Whether the user knows.
    pub(crate) told: bool,
}

impl Trimmed {
    /// Of a run that begins here.
    pub(crate) fn from(begins: u64) -> Trimmed {
        Trimmed { to: begins + FIRST, ..Trimmed::default() }
    }
}

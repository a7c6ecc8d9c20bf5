//! How a run of a source goes.

/// How a source's run goes.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum RunMark {
    /// Nothing has started yet.
    #[default]
    Waiting,
    /// It runs, or is watched.
    Running,
    /// It has ended.
    Ended {
        /// In these words (“ended with exit code 1”).
        how: String,
        /// Whether that is nothing to worry about.
        well: bool,
    },
}

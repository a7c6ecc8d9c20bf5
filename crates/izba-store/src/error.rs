//! What goes wrong with what is kept, as sentences.

use std::io;
use std::path::{Path, PathBuf};

/// What went wrong. The text says what was tried, on what, and why it failed.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The disk refused.
    #[error("cannot {doing} {}: {cause}", path.display())]
    Io {
        /// What was tried.
        doing: &'static str,
        /// On what.
        path: PathBuf,
        /// Why it failed.
        cause: io::Error,
    },
    /// The database refused; it may be locked or full.
    #[error("the ledger cannot be {doing}: {cause}")]
    Database {
        /// What was tried.
        doing: &'static str,
        /// Why it failed.
        cause: rusqlite::Error,
    },
    /// The database was written by a newer Izba.
    #[error("the ledger in {} was written by a newer Izba (version {found}, this one knows \
        {known}); it is left as it is, and the runs of this session are kept beside it", path.display())]
    Newer {
        /// The database.
        path: PathBuf,
        /// Its version.
        found: i64,
        /// The newest that is known.
        known: i64,
    },
}

impl StoreError {
    pub(crate) fn io(doing: &'static str, path: &Path) -> impl FnOnce(io::Error) -> StoreError {
        let path = path.to_owned();
        move |cause| StoreError::Io { doing, path, cause }
    }

    pub(crate) fn database(doing: &'static str) -> impl FnOnce(rusqlite::Error) -> StoreError {
        move |cause| StoreError::Database { doing, cause }
    }

    /// Whether another process holds the database just now.
    pub(crate) fn is_busy(&self) -> bool {
        use rusqlite::ErrorCode::{DatabaseBusy, DatabaseLocked};
        match self {
            StoreError::Database { cause: rusqlite::Error::SqliteFailure(cause, _), .. } => {
                matches!(cause.code, DatabaseBusy | DatabaseLocked)
            }
            _ => false,
        }
    }

    /// Whether the database itself is broken, so that it has to be made anew.
    pub fn is_damage(&self) -> bool {
        use rusqlite::ErrorCode::{DatabaseCorrupt, NotADatabase};
        match self {
            StoreError::Database { cause: rusqlite::Error::SqliteFailure(cause, _), .. } => {
                matches!(cause.code, DatabaseCorrupt | NotADatabase)
            }
            _ => false,
        }
    }
}

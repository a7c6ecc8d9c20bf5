//! The tables, and the way from each version to the next.

use crate::StoreError;
use rusqlite::{Connection, TransactionBehavior};

/// Each step leads from the version of its place to the next; a new database takes them all.
const STEPS: &[&str] = &[
    "CREATE TABLE run (
        id INTEGER PRIMARY KEY,
        segment TEXT NOT NULL UNIQUE,
        project TEXT NOT NULL,
        source TEXT NOT NULL,
        number INTEGER NOT NULL,
        command TEXT NOT NULL,
        started INTEGER NOT NULL,
        ran_ms INTEGER NOT NULL DEFAULT 0,
        ended TEXT,
        well INTEGER,
        lines INTEGER NOT NULL DEFAULT 0,
        bytes INTEGER NOT NULL DEFAULT 0,
        edits TEXT NOT NULL DEFAULT '[]',
        files TEXT
    );
    CREATE INDEX run_of_source ON run (project, source, number);
    CREATE TABLE mistake (
        id INTEGER PRIMARY KEY,
        project TEXT NOT NULL,
        source TEXT NOT NULL,
        identity TEXT NOT NULL,
        across TEXT NOT NULL,
        edited TEXT,
        entry TEXT NOT NULL,
        gaps TEXT NOT NULL,
        UNIQUE (project, source, identity)
    );
    CREATE TABLE seen (
        run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE,
        mistake INTEGER NOT NULL REFERENCES mistake (id) ON DELETE CASCADE,
        count INTEGER NOT NULL,
        first INTEGER,
        last INTEGER,
        line INTEGER NOT NULL,
        PRIMARY KEY (run, mistake)
    ) WITHOUT ROWID;
    CREATE INDEX seen_of_mistake ON seen (mistake);",
    "ALTER TABLE run ADD COLUMN versions TEXT NOT NULL DEFAULT '[]';
     ALTER TABLE run ADD COLUMN actions INTEGER NOT NULL DEFAULT 0;
     ALTER TABLE run ADD COLUMN pruned INTEGER NOT NULL DEFAULT 0;",
    "CREATE TABLE numbered (
        project TEXT NOT NULL,
        source TEXT NOT NULL,
        last INTEGER NOT NULL,
        PRIMARY KEY (project, source)
    ) WITHOUT ROWID;",
    "ALTER TABLE seen ADD COLUMN ended INTEGER NOT NULL DEFAULT 0;",
];

/// The version that this Izba writes.
pub(crate) const VERSION: i64 = STEPS.len() as i64;

/// Brings a database to the newest version; gives the version it had when it is newer than that.
pub(crate) fn bring_up(db: &mut Connection) -> Result<Option<i64>, StoreError> {
    let failed = StoreError::database;
    // Two Izbas may open it at the same moment; the second waits and finds it done.
    let step =
        db.transaction_with_behavior(TransactionBehavior::Immediate).map_err(failed("opened"))?;
    let version: i64 =
        step.query_row("PRAGMA user_version", [], |row| row.get(0)).map_err(failed("read"))?;
    if version > VERSION {
        return Ok(Some(version));
    }
    for sql in STEPS.iter().skip(usize::try_from(version).unwrap_or(0)) {
        step.execute_batch(sql).map_err(failed("brought up to date"))?;
    }
    step.pragma_update(None, "user_version", VERSION).map_err(failed("brought up to date"))?;
    step.commit().map_err(failed("brought up to date"))?;
    Ok(None)
}

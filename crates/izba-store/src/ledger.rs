//! The ledger: every run of every project, and what each saw of which mistake.

use crate::{RunCard, StoreError, schema};
use izba_core::group::{Gaps, Recalled, RunTally};
use izba_core::{Identity, RunSpan};
use izba_model::{Entry, Millis};
use rusqlite::{
    Connection, OpenFlags, OptionalExtension, Row, Transaction, TransactionBehavior, params,
};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// How long another Izba's write is waited for.
const BUSY: Duration = Duration::from_secs(3);
/// How long it is tried to use a database that others hold, and how long between two tries.
const HELD: Duration = Duration::from_secs(10);
const PAUSE: Duration = Duration::from_millis(20);

/// The database of runs and groups, which can be made again from the runs.
#[derive(Debug)]
pub struct Ledger {
    db: Connection,
}

/// One run as the ledger has it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RunRow {
    /// Its number in the database.
    pub id: i64,
    /// Its segment, relative to the store's folder.
    pub segment: String,
    /// What was known at its start.
    pub card: RunCard,
    /// How it went on.
    pub progress: Progress,
    /// Whether its lines were pruned.
    pub pruned: bool,
}

/// How a run went on.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Progress {
    /// How long it ran, in milliseconds.
    pub ran_ms: u64,
    /// How it ended, in words; `None` while it goes on, or when nobody saw its end.
    pub ended: Option<String>,
    /// Whether that is nothing to worry about.
    pub well: Option<bool>,
    /// Lines that it put out.
    pub lines: u64,
    /// Bytes that it put out.
    pub bytes: u64,
    /// Actions of the user that it told.
    pub actions: u32,
}

/// What one run saw of one mistake.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Cell {
    /// Number of the run, from 1 for each source.
    pub run: u32,
    /// How often it was met in that run.
    pub count: u64,
}

/// One mistake over the runs of its source.
#[derive(Debug, Clone)]
pub struct GridRow {
    /// What it is known by.
    pub identity: Identity,
    /// Its entry in the last run that saw it.
    pub entry: Entry,
    /// What the runs saw, oldest first; runs that saw nothing are left out.
    pub cells: Vec<Cell>,
}

/// The runs of one source, and the mistakes that they saw.
#[derive(Debug, Clone, Default)]
pub struct Grid {
    /// The runs, oldest first.
    pub runs: Vec<RunRow>,
    /// The mistakes, in the order in which they were first seen.
    pub rows: Vec<GridRow>,
}

const RUN: &str = "id, segment, project, source, number, command, started, ran_ms, ended, well, lines, \
    bytes, edits, files, versions, actions, pruned";

fn run_row(row: &Row<'_>) -> rusqlite::Result<RunRow> {
    let list = |text: String| serde_json::from_str(&text).unwrap_or_default();
    let versions: String = row.get(14)?;
    Ok(RunRow {
        id: row.get(0)?,
        segment: row.get(1)?,
        card: RunCard {
            v: 1,
            project: row.get(2)?,
            source: row.get(3)?,
            number: row.get(4)?,
            command: row.get(5)?,
            started: row.get(6)?,
            edits: list(row.get(12)?),
            files: row.get(13)?,
            versions: serde_json::from_str(&versions).unwrap_or_default(),
        },
        progress: Progress {
            ran_ms: row.get::<_, i64>(7)? as u64,
            ended: row.get(8)?,
            well: row.get(9)?,
            lines: row.get::<_, i64>(10)? as u64,
            bytes: row.get::<_, i64>(11)? as u64,
            actions: row.get(15)?,
        },
        pruned: row.get(16)?,
    })
}

/// Tries for a while what may find that others hold the database: while one makes it, or takes its
/// log in, the library refuses at once, whatever time it was given.
fn patiently<T>(mut now: impl FnMut() -> Result<T, StoreError>) -> Result<T, StoreError> {
    let begun = Instant::now();
    loop {
        match now() {
            Err(error) if error.is_busy() && begun.elapsed() < HELD => std::thread::sleep(PAUSE),
            done => return done,
        }
    }
}

/// A number for a column, which knows no unsigned ones.
fn signed(number: u64) -> i64 {
    i64::try_from(number).unwrap_or(i64::MAX)
}

impl Ledger {
    /// The database in the store's folder.
    pub fn path(store: &Path) -> PathBuf {
        store.join("ledger.db")
    }

    /// Opens the database in `store`, or makes it; an older one is brought up to date.
    ///
    /// # Errors
    ///
    /// [`StoreError::Newer`] when a newer Izba wrote it; [`StoreError::is_damage`] tells when it
    /// has to be made anew.
    pub fn open(store: &Path) -> Result<Ledger, StoreError> {
        patiently(|| Ledger::open_now(store))
    }

    fn open_now(store: &Path) -> Result<Ledger, StoreError> {
        let path = Ledger::path(store);
        let failed = StoreError::database;
        let mut db = Connection::open(&path).map_err(failed("opened"))?;
        {
            use std::os::unix::fs::PermissionsExt;
            // Logs hold secrets: the user alone reads them.
            let _ = std::fs::set_permissions(&path, std::fs::Permissions::from_mode(0o600));
        }
        db.busy_timeout(BUSY).map_err(failed("opened"))?;
        db.pragma_update(None, "journal_mode", "WAL").map_err(failed("opened"))?;
        db.pragma_update(None, "synchronous", "NORMAL").map_err(failed("opened"))?;
        db.pragma_update(None, "foreign_keys", true).map_err(failed("opened"))?;
        if let Some(found) = schema::bring_up(&mut db)? {
            return Err(StoreError::Newer { path, found, known: schema::VERSION });
        }
        // Damage in the middle would show much later, and then cost what was written until then.
        let sound: String =
            db.query_row("PRAGMA quick_check(1)", [], |row| row.get(0)).map_err(failed("read"))?;
        if sound != "ok" {
            let cause = rusqlite::Error::SqliteFailure(
                rusqlite::ffi::Error::new(rusqlite::ffi::SQLITE_CORRUPT),
                Some(sound),
            );
            return Err(StoreError::Database { doing: "read", cause });
        }
        Ok(Ledger { db })
    }

    /// Opens the database for reading only, if there is one.
    ///
    /// # Errors
    ///
    /// As [`Ledger::open`]; an older one cannot be read before it was opened for writing once.
    pub fn look(store: &Path) -> Result<Option<Ledger>, StoreError> {
        let path = Ledger::path(store);
        if !path.exists() {
            return Ok(None);
        }
        let failed = StoreError::database;
        let db = Connection::open_with_flags(&path, OpenFlags::SQLITE_OPEN_READ_WRITE)
            .map_err(failed("opened"))?;
        db.busy_timeout(BUSY).map_err(failed("opened"))?;
        let version: i64 =
            db.query_row("PRAGMA user_version", [], |row| row.get(0)).map_err(failed("read"))?;
        if version > schema::VERSION {
            return Err(StoreError::Newer { path, found: version, known: schema::VERSION });
        }
        if version < schema::VERSION {
            return Ledger::open(store).map(Some);
        }
        Ok(Some(Ledger { db }))
    }

    /// Puts a database that cannot be read aside; gives its new name.
    ///
    /// # Errors
    ///
    /// When it cannot be renamed.
    pub fn put_aside(store: &Path, stamp: &str) -> Result<PathBuf, StoreError> {
        let path = Ledger::path(store);
        let aside = store.join(format!("ledger.damaged-{stamp}.db"));
        std::fs::rename(&path, &aside).map_err(StoreError::io("rename", &path))?;
        for rest in ["-wal", "-shm"] {
            let beside = |of: &Path| PathBuf::from(format!("{}{rest}", of.display()));
            let _ = std::fs::rename(beside(&path), beside(&aside));
        }
        Ok(aside)
    }

    /// The number of the next run of a source: each is given once, whoever asks, also when two ask
    /// at the same moment.
    ///
    /// # Errors
    ///
    /// When the database refuses.
    pub fn next_number(&self, project: &str, source: &str) -> Result<u32, StoreError> {
        let failed = StoreError::database;
        patiently(|| {
            // A number is given only once it is sure that it is kept: without a transaction of its own
            // the row would be told before that, and what then goes wrong would not.
            let now = Transaction::new_unchecked(&self.db, TransactionBehavior::Immediate)
                .map_err(failed("written"))?;
            let number = now
                .query_row(
                    "INSERT INTO numbered (project, source, last) VALUES (?1, ?2, 1 + (SELECT
                         COALESCE(MAX(number), 0) FROM run WHERE project = ?1 AND source = ?2))
                     ON CONFLICT (project, source)
                     DO UPDATE SET last = MAX(last + 1, excluded.last)
                     RETURNING last",
                    params![project, source],
                    |row| row.get(0),
                )
                .map_err(failed("written"))?;
            now.commit().map_err(failed("written"))?;
            Ok(number)
        })
    }

    /// Enters a run; one that is there already keeps its number.
    ///
    /// # Errors
    ///
    /// When the database refuses.
    pub fn begin(&mut self, segment: &str, card: &RunCard) -> Result<i64, StoreError> {
        let json = |value: &serde_json::Value| value.to_string();
        self.db
            .query_row(
                "INSERT INTO run (segment, project, source, number, command, started, edits, files, versions) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)
                 ON CONFLICT (segment) DO UPDATE SET started = excluded.started RETURNING id",
                params![
                    segment,
                    card.project,
                    card.source,
                    card.number,
                    card.command,
                    card.started,
                    json(&serde_json::json!(card.edits)),
                    card.files,
                    json(&serde_json::json!(card.versions)),
                ],
                |row| row.get(0),
            )
            .map_err(StoreError::database("written"))
    }

    /// Notes how a run goes on, and what it saw of the mistakes that were met since the last call.
    ///
    /// # Errors
    ///
    /// When the database refuses; nothing of this call is in it then.
    pub fn note(
        &mut self,
        run: i64,
        card: &RunCard,
        progress: &Progress,
        met: &[Recalled],
    ) -> Result<(), StoreError> {
        let failed = StoreError::database;
        let step = self
            .db
            .transaction_with_behavior(TransactionBehavior::Immediate)
            .map_err(failed("written"))?;
        {
            let mut update = step
                .prepare_cached(
                    "UPDATE run SET ran_ms = ?2, ended = ?3, well = ?4, lines = ?5, bytes = \
                    ?6, actions = ?7 WHERE id = ?1",
                )
                .map_err(failed("written"))?;
            let Progress { ran_ms, ended, well, lines, bytes, actions } = progress;
            update
                .execute(params![
                    run,
                    signed(*ran_ms),
                    ended,
                    well,
                    signed(*lines),
                    signed(*bytes),
                    actions
                ])
                .map_err(failed("written"))?;
            let mut mistake = step
                .prepare_cached(
                    "INSERT INTO mistake (project, source, identity, across, edited, entry, gaps) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
                     ON CONFLICT (project, source, identity) DO UPDATE SET entry = excluded.entry, gaps = excluded.gaps, edited = excluded.edited RETURNING id",
                )
                .map_err(failed("written"))?;
            let mut seen = step
                .prepare_cached(
                    "INSERT INTO seen (run, mistake, count, first, last, line, ended) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
                     ON CONFLICT (run, mistake) DO UPDATE SET count = excluded.count, first = excluded.first, last = excluded.last, ended = excluded.ended",
                )
                .map_err(failed("written"))?;
            for group in met {
                let Some(tally) = group.runs.last().filter(|t| t.run == card.number) else {
                    continue;
                };
                // Values of strings and numbers always have a JSON form.
                let entry = serde_json::to_string(&group.entry).unwrap_or_default();
                let gaps = serde_json::to_string(&group.gaps).unwrap_or_default();
                let edited = group.edited.as_ref().map(Identity::as_str);
                let id: i64 = mistake
                    .query_row(
                        params![
                            card.project,
                            card.source,
                            group.identity.as_str(),
                            group.across.as_str(),
                            edited,
                            entry,
                            gaps
                        ],
                        |row| row.get(0),
                    )
                    .map_err(failed("written"))?;
                seen.execute(params![
                    run,
                    id,
                    signed(tally.count),
                    tally.first.map(|t| t.0),
                    tally.last.map(|t| t.0),
                    signed(tally.line),
                    tally.ended
                ])
                .map_err(failed("written"))?;
            }
        }
        step.commit().map_err(failed("written"))
    }

    /// Notes what a run uses, by name and version.
    ///
    /// # Errors
    ///
    /// When the database refuses.
    pub fn set_versions(
        &mut self,
        run: i64,
        versions: &[(String, String)],
    ) -> Result<(), StoreError> {
        let text = serde_json::json!(versions).to_string();
        self.db
            .execute("UPDATE run SET versions = ?2 WHERE id = ?1", params![run, text])
            .map_err(StoreError::database("written"))?;
        Ok(())
    }

    fn query<T>(
        &self,
        sql: &str,
        args: impl rusqlite::Params,
        of: impl FnMut(&Row<'_>) -> rusqlite::Result<T>,
    ) -> Result<Vec<T>, StoreError> {
        let mut query = self.db.prepare_cached(sql).map_err(StoreError::database("read"))?;
        let rows = query.query_map(args, of).and_then(Iterator::collect);
        rows.map_err(StoreError::database("read"))
    }

    /// The runs of a project, oldest first; all sources, or one.
    ///
    /// # Errors
    ///
    /// When the database cannot be read.
    pub fn runs(&self, project: &str, source: Option<&str>) -> Result<Vec<RunRow>, StoreError> {
        // The clock may have jumped: numbers tell which run came after which.
        let order = if source.is_some() { "number, id" } else { "started, id" };
        let sql = format!(
            "SELECT {RUN} FROM run WHERE project = ?1 AND (?2 IS NULL OR source = ?2) \
                ORDER BY {order}"
        );
        self.query(&sql, params![project, source], run_row)
    }

    /// Every run of every project that is kept, oldest first.
    ///
    /// # Errors
    ///
    /// When the database cannot be read.
    pub fn all_runs(&self) -> Result<Vec<RunRow>, StoreError> {
        self.query(&format!("SELECT {RUN} FROM run ORDER BY started, id"), [], run_row)
    }

    /// What earlier sessions knew of a source, for the engine: its runs, and its mistakes as they
    /// were left. `before` leaves out the runs from this number on.
    ///
    /// # Errors
    ///
    /// When the database cannot be read. A mistake that cannot be read is left out.
    pub fn history(
        &self,
        project: &str,
        source: &str,
        before: Option<u32>,
    ) -> Result<(Vec<RunSpan>, Vec<Recalled>), StoreError> {
        let before = before.unwrap_or(u32::MAX);
        let runs = self.runs(project, Some(source))?;
        let spans = runs.iter().filter(|r| r.card.number < before).map(|r| RunSpan {
            run: r.card.number,
            started: Some(Millis(r.card.started)),
            ran_ms: r.progress.ran_ms,
            edits: r.card.edits.clone(),
            actions: r.progress.actions,
            first_line: 0,
            updates: Vec::new(),
            pictures: Vec::new(),
        });
        let tallies = self.query(
            "SELECT seen.mistake, run.number, seen.count, seen.first, seen.last, seen.line, seen.ended FROM seen JOIN run ON run.id = seen.run
             WHERE run.project = ?1 AND run.source = ?2 AND run.number < ?3 ORDER BY run.number",
            params![project, source, before],
            |row| {
                let tally = RunTally {
                    run: row.get(1)?,
                    count: row.get::<_, i64>(2)? as u64,
                    first: row.get::<_, Option<i64>>(3)?.map(Millis),
                    last: row.get::<_, Option<i64>>(4)?.map(Millis),
                    line: row.get::<_, i64>(5)? as u64,
                    ended: row.get(6)?,
                };
                Ok((row.get::<_, i64>(0)?, tally))
            },
        )?;
        let mut of: HashMap<i64, Vec<RunTally>> = HashMap::new();
        for (mistake, tally) in tallies {
            of.entry(mistake).or_default().push(tally);
        }
        let kept = self.query(
            "SELECT id, identity, across, edited, entry, gaps FROM mistake WHERE project = \
                ?1 AND source = ?2 ORDER BY id",
            params![project, source],
            |row| {
                Ok((
                    row.get::<_, i64>(0)?,
                    row.get::<_, String>(1)?,
                    row.get::<_, String>(2)?,
                    row.get::<_, Option<String>>(3)?,
                    row.get::<_, String>(4)?,
                    row.get::<_, String>(5)?,
                ))
            },
        )?;
        let recalled =
            kept.into_iter().filter_map(|(id, identity, across, edited, entry, gaps)| {
                Some(Recalled {
                    identity: Identity::from_text(identity),
                    across: Identity::from_text(across),
                    edited: edited.map(Identity::from_text),
                    entry: serde_json::from_str(&entry).ok()?,
                    runs: of.remove(&id)?,
                    gaps: serde_json::from_str::<Gaps>(&gaps).unwrap_or_default(),
                })
            });
        let recalled = recalled.collect();
        Ok((spans.collect(), recalled))
    }

    /// The runs of one source of a project, with the mistakes that they saw.
    ///
    /// # Errors
    ///
    /// When the database cannot be read.
    pub fn grid(&self, project: &str, source: &str) -> Result<Grid, StoreError> {
        let runs = self.runs(project, Some(source))?;
        let (_, mistakes) = self.history(project, source, None)?;
        let row = |m: Recalled| GridRow {
            identity: m.identity,
            entry: m.entry,
            cells: m.runs.iter().map(|t| Cell { run: t.run, count: t.count }).collect(),
        };
        Ok(Grid { runs, rows: mistakes.into_iter().map(row).collect() })
    }

    /// The last run of a source of a project, if there is one.
    ///
    /// # Errors
    ///
    /// When the database cannot be read.
    pub fn last_run(&self, project: &str, source: &str) -> Result<Option<RunRow>, StoreError> {
        let sql = format!(
            "SELECT {RUN} FROM run WHERE project = ?1 AND source = ?2 ORDER BY number \
                DESC, id DESC LIMIT 1"
        );
        self.db
            .query_row(&sql, params![project, source], run_row)
            .optional()
            .map_err(StoreError::database("read"))
    }

    /// Notes that the lines of these runs were pruned, by their segments.
    ///
    /// # Errors
    ///
    /// When the database refuses.
    pub fn pruned(&mut self, segments: &[String]) -> Result<(), StoreError> {
        let step = self.db.transaction().map_err(StoreError::database("written"))?;
        for segment in segments {
            step.execute("UPDATE run SET pruned = 1 WHERE segment = ?1", [segment])
                .map_err(StoreError::database("written"))?;
        }
        step.commit().map_err(StoreError::database("written"))
    }

    /// Forgets the runs that started before a moment, and the mistakes that no run saw any more;
    /// gives how many runs went.
    ///
    /// # Errors
    ///
    /// When the database refuses.
    pub fn forget_before(&mut self, moment: i64) -> Result<usize, StoreError> {
        let failed = StoreError::database;
        let gone = self
            .db
            .execute("DELETE FROM run WHERE started < ?1", [moment])
            .map_err(failed("written"))?;
        if gone > 0 {
            self.db
                .execute("DELETE FROM mistake WHERE id NOT IN (SELECT mistake FROM seen)", [])
                .map_err(failed("written"))?;
        }
        Ok(gone)
    }
}

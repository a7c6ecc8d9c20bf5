//! The folder in which everything lies that Izba keeps: a folder of spools for each session, and
//! its budget.

use crate::SourceError;
use crate::spool::{SEALED, seal};
use std::fs;
use std::io;
use std::os::unix::fs::{DirBuilderExt, MetadataExt};
use std::path::{Path, PathBuf};
use std::sync::Mutex;

/// The folder in which spools lie, and its budget.
#[derive(Debug, Clone)]
pub struct Store {
    folder: PathBuf,
}

/// Why the session of this process is kept in memory only.
static TOLD: Mutex<Option<String>> = Mutex::new(None);

/// Why the session of this process is kept in memory only, in a sentence, if it is.
pub fn aside_told() -> Option<String> {
    TOLD.lock().ok().and_then(|told| told.clone())
}

fn cause_of(error: &SourceError) -> String {
    match error {
        SourceError::Io { cause, .. } | SourceError::System { cause, .. } => crate::plain_io(cause),
        other => other.sentence(),
    }
}

/// The folder of the user's settings (XDG), whether or not it is there.
pub fn config_folder() -> Option<PathBuf> {
    use etcetera::BaseStrategy;
    etcetera::choose_base_strategy().ok().map(|base| base.config_dir().join("izba"))
}

fn place(folder: Option<PathBuf>) -> Result<PathBuf, SourceError> {
    use etcetera::BaseStrategy;
    if let Some(folder) = folder {
        return Ok(folder);
    }
    let base = etcetera::choose_base_strategy().map_err(|e| SourceError::System {
        doing: "find the user's folders",
        cause: io::Error::other(e),
    })?;
    Ok(base.state_dir().unwrap_or_else(|| base.data_dir()).join("izba"))
}

/// What the store may take up; the oldest runs go first.
pub const STORE_BUDGET: u64 = 2 << 30;

impl Store {
    /// The store at `folder`, or in the user's XDG state folder.
    ///
    /// # Errors
    ///
    /// When there is no home, or the folder cannot be made.
    pub fn open(folder: Option<PathBuf>) -> Result<Store, SourceError> {
        let folder = place(folder)?;
        fs::DirBuilder::new()
            .recursive(true)
            .mode(0o700)
            .create(&folder)
            .map_err(SourceError::io("make", &folder))?;
        Ok(Store { folder })
    }

    /// The store at `folder`, or in the user's XDG state folder, as far as it is there: nothing is
    /// made.
    ///
    /// # Errors
    ///
    /// When there is no home.
    pub fn look(folder: Option<PathBuf>) -> Result<Store, SourceError> {
        Ok(Store { folder: place(folder)? })
    }

    /// The folder of a new session in the store at `folder`. Where that may not be written or has no
    /// room, one in memory, so that watching goes on; [`aside_told`] then says so.
    ///
    /// # Errors
    ///
    /// When there is no room there either.
    pub fn new_session(folder: Option<PathBuf>) -> Result<PathBuf, SourceError> {
        let named = place(folder.clone());
        let made = Store::open(folder).and_then(|store| store.session()).and_then(|session| {
            // A folder may be made where no byte finds room.
            let probe = session.join("room");
            let written = fs::write(&probe, [0; 4096]);
            let _ = fs::remove_file(probe);
            if let Err(cause) = written {
                let _ = fs::remove_dir(&session);
                return Err(SourceError::io("write to", &session)(cause));
            }
            Ok(session)
        });
        let refused = match made {
            Ok(session) => return Ok(session),
            Err(refused) => refused,
        };
        let aside =
            crate::aside_folder().map_err(SourceError::system("keep anything in memory"))?;
        let session = Store { folder: aside }.session()?;
        let place = named.map_or_else(|_| "the store".into(), |p| p.display().to_string());
        if let Ok(mut told) = TOLD.lock() {
            *told = Some(format!(
                "{place} cannot keep anything ({}): this session is kept in memory, and gone when \
                 you leave",
                cause_of(&refused)
            ));
        }
        Ok(session)
    }

    /// The folder or place in which it lies.
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    /// The user's collection of notes: in the XDG data folder, or, where the store was named, in
    /// it.
    pub fn notes_of(folder: &Path) -> PathBuf {
        use etcetera::BaseStrategy;
        let base = etcetera::choose_base_strategy().ok();
        let usual =
            base.filter(|b| b.state_dir().unwrap_or_else(|| b.data_dir()).join("izba") == folder);
        usual.map_or_else(|| folder.join("notes"), |b| b.data_dir().join("izba").join("notes"))
    }

    /// Makes the folder of one session.
    ///
    /// # Errors
    ///
    /// When the folder cannot be made.
    pub fn session(&self) -> Result<PathBuf, SourceError> {
        let stamp = jiff::Timestamp::now().strftime("%Y%m%dT%H%M%S%3f");
        let folder = self.folder.join(format!("{stamp}-{}", std::process::id()));
        fs::DirBuilder::new()
            .recursive(true)
            .mode(0o700)
            .create(&folder)
            .map_err(SourceError::io("make", &folder))?;
        Ok(folder)
    }

    /// The sessions, oldest first, with their size in bytes.
    pub fn sessions(&self) -> Vec<(PathBuf, u64)> {
        let Ok(entries) = fs::read_dir(&self.folder) else { return Vec::new() };
        let mut found: Vec<_> = entries
            .flatten()
            .map(|e| e.path())
            .filter(|p| p.is_dir() && process_of(p).is_some())
            .map(|p| (p.clone(), folder_size(&p)))
            .collect();
        found.sort();
        found
    }

    /// The segments of all sessions, oldest first.
    pub fn segments(&self) -> Vec<Segment> {
        let mut all = Vec::new();
        for (session, _) in self.sessions() {
            let alive = is_alive(&session);
            let Ok(entries) = fs::read_dir(&session) else { continue };
            let mut here: Vec<Segment> = entries
                .flatten()
                .filter_map(|e| {
                    let path = e.path();
                    let ending = path.extension()?.to_string_lossy().into_owned();
                    (ending == "seg" || ending == SEALED).then(|| Segment {
                        bytes: e.metadata().map_or(0, |m| room_of(&m)),
                        alive,
                        path,
                    })
                })
                .collect();
            // Runs of one source in their order; of several they began about together.
            here.sort_by_key(|s| (crate::SpoolReader::base_of(&s.path), s.path.clone()));
            all.extend(here);
        }
        all
    }

    /// Takes away the oldest runs beyond `budget` bytes, never those of a process that lives; gives
    /// what went.
    pub fn prune(&self, budget: u64) -> Vec<PathBuf> {
        let segments = self.segments();
        let mut total: u64 = segments.iter().map(|s| s.bytes).sum();
        let mut gone = Vec::new();
        for segment in segments.into_iter().filter(|s| !s.alive) {
            if total <= budget {
                break;
            }
            if fs::remove_file(&segment.path).is_ok() {
                total -= segment.bytes;
                gone.push(segment.path);
            }
        }
        for (session, _) in self.sessions() {
            // An empty folder says nothing; one that is not empty cannot be removed like this.
            if !is_alive(&session) {
                let _ = fs::remove_dir(&session);
            }
        }
        gone
    }

    /// Makes what nobody writes any more small. What cannot be read stays as it is.
    pub fn seal(&self) {
        for segment in self.segments().into_iter().filter(|s| !s.alive) {
            let _ = seal(&segment.path);
        }
    }
}

/// One run's bytes on disk.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Segment {
    /// The file.
    pub path: PathBuf,
    /// How many bytes it takes on the disk.
    pub bytes: u64,
    /// Whether the process that writes it lives.
    pub alive: bool,
}

/// The last part of a session's name is the process that writes there.
fn process_of(session: &Path) -> Option<u32> {
    let name = session.file_name()?.to_str()?;
    let (stamp, process) = name.rsplit_once('-')?;
    if stamp.starts_with(|c: char| c.is_ascii_digit()) { process.parse().ok() } else { None }
}

fn is_alive(session: &Path) -> bool {
    process_of(session).is_some_and(|pid| Path::new("/proc").join(pid.to_string()).exists())
}

fn folder_size(folder: &Path) -> u64 {
    fs::read_dir(folder).map_or(0, |entries| {
        entries.flatten().filter_map(|e| e.metadata().ok()).map(|m| room_of(&m)).sum()
    })
}

/// What a file takes of the disk, in bytes: less than its length where something was left out of it.
fn room_of(meta: &fs::Metadata) -> u64 {
    meta.len().min(meta.blocks() * 512)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_oldest_sessions_go_first_and_never_one_that_lives() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let store = Store::open(Some(folder.path().to_owned())).expect("room");
        let session = |name: String| {
            let path = folder.path().join(name);
            fs::create_dir(&path).expect("room");
            fs::write(path.join("source-1.seg"), vec![0u8; 1000]).expect("room");
            path
        };
        let living = session(format!("20260101T000000000-{}", std::process::id()));
        // No process has a number that large.
        let old = session("20260201T000000000-999999999".into());
        let new = session("20260301T000000000-999999998".into());
        store.prune(2_500);
        assert!(living.exists() && !old.exists() && new.exists());
        store.prune(0);
        assert!(living.exists() && !new.exists());
    }
}

//! Where segments go when the store finds no room or may not be written: a folder in memory, for
//! this process alone and within a bound. Nothing of it outlives the session.

use nix::unistd::{Pid, geteuid};
use std::collections::BTreeMap;
use std::fs::{self, DirBuilder};
use std::io;
use std::os::unix::fs::DirBuilderExt;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicU64, Ordering};

/// What is kept in memory at most, in bytes.
const CAP: u64 = 64 << 20;
static KEPT: AtomicU64 = AtomicU64::new(0);

/// Segments that lie in memory, by the paths that they would have.
static MOVED: Mutex<BTreeMap<PathBuf, PathBuf>> = Mutex::new(BTreeMap::new());
static FOLDER: Mutex<Option<PathBuf>> = Mutex::new(None);

/// Where a segment really lies.
pub(super) fn whereabouts(path: &Path) -> PathBuf {
    let moved = MOVED.lock().ok().and_then(|moved| moved.get(path).cloned());
    moved.unwrap_or_else(|| path.to_owned())
}

/// A place in memory for a segment that finds none at `path`.
pub(super) fn place_for(path: &Path) -> io::Result<PathBuf> {
    let folder = folder()?;
    let mut moved = MOVED.lock().map_err(|_| io::Error::other("a thread failed"))?;
    let place = folder.join(format!("{}.seg", moved.len()));
    moved.insert(path.to_owned(), place.clone());
    Ok(place)
}

/// Takes so many bytes of what may be kept in memory; whether there was room.
pub(super) fn take(bytes: usize) -> bool {
    let bytes = bytes as u64;
    let fits = |kept: u64| (kept + bytes <= CAP).then_some(kept + bytes);
    KEPT.fetch_update(Ordering::AcqRel, Ordering::Acquire, fits).is_ok()
}

/// The folder of this process in memory; made when it is needed first.
///
/// # Errors
///
/// When there is no place for one.
pub fn folder() -> io::Result<PathBuf> {
    let mut known = FOLDER.lock().map_err(|_| io::Error::other("a thread failed"))?;
    if let Some(folder) = &*known {
        return Ok(folder.clone());
    }
    let mut last = io::Error::other("no folder in memory is known");
    let runtime = std::env::var_os("XDG_RUNTIME_DIR").map(PathBuf::from);
    for above in runtime.into_iter().chain(["/dev/shm".into(), std::env::temp_dir()]) {
        sweep(&above);
        let folder = above.join(format!("izba-aside-{}-{}", geteuid(), std::process::id()));
        match DirBuilder::new().mode(0o700).create(&folder) {
            Ok(()) => {
                *known = Some(folder.clone());
                return Ok(folder);
            }
            Err(e) => last = e,
        }
    }
    Err(last)
}

/// Removes what this process kept in memory.
pub fn put_away() {
    if let Some(folder) = FOLDER.lock().ok().and_then(|mut known| known.take()) {
        let _ = fs::remove_dir_all(folder);
    }
}

/// Removes what processes left that were killed.
fn sweep(above: &Path) {
    let begins = format!("izba-aside-{}-", geteuid());
    for entry in fs::read_dir(above).into_iter().flatten().flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        let pid = name.strip_prefix(&begins).and_then(|pid| pid.parse::<i32>().ok());
        let dead = pid.is_some_and(|pid| nix::sys::signal::kill(Pid::from_raw(pid), None).is_err());
        if dead {
            let _ = fs::remove_dir_all(entry.path());
        }
    }
}

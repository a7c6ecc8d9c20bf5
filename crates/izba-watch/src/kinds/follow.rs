//! follow: a file that grows, the newest of a folder, or all that fit a pattern.

use super::act::Act;
use super::kind::Wanted;
use super::kind::{Found, Line, Open, Opened, SourceKind};
use izba_sources::SourceError;
use std::path::{Path, PathBuf};

/// The kind of source for this: a file that grows, the newest of a folder, or all that fit a
/// pattern.
pub static KIND: SourceKind = SourceKind {
    word: "follow",
    what: "a log file, a folder (its newest), a pattern: logs/*.log",
    origin,
    acts,
};

fn origin(wanted: &Wanted, root: &Path) -> Found {
    let (what, path) = (&wanted.what, root.join(&wanted.what));
    let name = if what.contains('*') || path.is_dir() { what.clone() } else { file_name(&path) };
    Ok((name, Box::new(File(path))))
}

/// Entries of a folder that are looked at for links that lead out of the project.
const LOOKED_AT: usize = 2_000;

/// A folder or a pattern stands for files that may be links.
fn acts(wanted: &Wanted, root: &Path) -> Vec<Act> {
    let path = root.join(&wanted.what);
    let fixed = wanted.what.split('*').next().unwrap_or_default();
    let folder = match wanted.what.contains('*') && !path.exists() {
        true => root.join(fixed.rsplit_once('/').map_or("", |(folder, _)| folder)),
        false => path.clone(),
    };
    let out = Act::read(root, &path).or_else(|| Act::read(root, &folder));
    let linked = || {
        let entries = std::fs::read_dir(&folder).into_iter().flatten().flatten();
        entries.take(LOOKED_AT).find_map(|entry| {
            entry
                .file_type()
                .is_ok_and(|t| t.is_symlink())
                .then(|| Act::read(root, &entry.path()))?
        })
    };
    out.or_else(linked).into_iter().collect()
}

/// A file that grows while it is watched, such as a log.
#[derive(Debug)]
pub struct File(pub PathBuf);

impl Open for File {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        izba_sources::follow(&self.0, to.spool, to.bell, to.stop)?;
        Ok(Opened::by_itself())
    }

    fn pattern(&self) -> Option<String> {
        let path = self.0.to_string_lossy();
        (path.contains('*') && !self.0.exists()).then(|| path.into_owned())
    }
}

/// A name for a file as a source.
pub fn file_name(path: &Path) -> String {
    path.file_name()
        .map_or_else(|| path.to_string_lossy().into_owned(), |n| n.to_string_lossy().into_owned())
}

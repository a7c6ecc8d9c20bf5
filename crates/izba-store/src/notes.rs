//! Notes on disk: plain Markdown files in the user's own collection, and in the project's folder
//! `izba-notes` where there is one, which can be shared in version control. The collection
//! remembers the folders of projects, so that what was met in one is offered in all.

use crate::StoreError;
use izba_core::notes::Note;
use izba_files::{SETTINGS_CAP, read_text};
use std::collections::BTreeSet;
use std::fs;
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

/// The folder of a project in which its notes lie.
pub const SHARED: &str = "izba-notes";
/// The list of such folders, in the collection.
const FOLDERS: &str = "folders.txt";
/// Notes that are read at most, of all folders together.
const MOST: usize = 5_000;
/// Entries of one folder that are looked at.
const LOOKED_AT: usize = 20_000;
/// Sentences about files that are no notes.
const TROUBLES: usize = 20;
/// Folders of projects that are remembered.
const REMEMBERED: usize = 200;

/// A note with where it lies.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KeptNote {
    /// The file.
    pub path: PathBuf,
    /// What stands in it.
    pub note: Note,
    /// Whether it lies in a folder of a project, which others may read.
    pub shared: bool,
}

/// Where notes are looked for and kept.
#[derive(Debug, Clone)]
pub struct Notes {
    collection: PathBuf,
    project: PathBuf,
}

impl Notes {
    /// For the project at `root`, with the user's own collection in `collection`; neither has to be
    /// there.
    pub fn of(root: &Path, collection: &Path) -> Notes {
        Notes { collection: collection.to_owned(), project: root.join(SHARED) }
    }

    /// The folder in which new notes are kept: the project's where there is one, else the
    /// collection.
    pub fn home(&self) -> &Path {
        if self.project.is_dir() { &self.project } else { &self.collection }
    }

    /// The collection, and the folders of projects that are known.
    fn folders(&self) -> Vec<(PathBuf, bool)> {
        let known = read_text(&self.collection.join(FOLDERS), SETTINGS_CAP).unwrap_or_default();
        let known = known
            .lines()
            .map(PathBuf::from)
            .filter(|p| p.is_absolute() && *p != self.project)
            .take(REMEMBERED);
        let shared = std::iter::once(self.project.clone()).chain(known).map(|p| (p, true));
        shared.chain([(self.collection.clone(), false)]).filter(|(p, _)| p.is_dir()).collect()
    }

    /// Remembers the project's folder, so that its notes are offered in other projects too.
    fn remember(&self) {
        if !self.project.is_dir() {
            return;
        }
        let Ok(project) = self.project.canonicalize() else { return };
        let list = self.collection.join(FOLDERS);
        let mut known: BTreeSet<String> =
            read_text(&list, SETTINGS_CAP).unwrap_or_default().lines().map(str::to_owned).collect();
        if known.len() < REMEMBERED && known.insert(project.to_string_lossy().into_owned()) {
            let all = known.into_iter().map(|l| l + "\n").collect::<String>();
            // What cannot be remembered is found again when the project is opened.
            let _ = fs::create_dir_all(&self.collection).and_then(|()| fs::write(&list, all));
        }
    }

    /// All notes, by the day they were met, the newest first; and what could not be read, in
    /// sentences.
    pub fn read(&self) -> (Vec<KeptNote>, Vec<String>) {
        self.remember();
        let (mut notes, mut troubles, mut seen) = (Vec::new(), Vec::new(), BTreeSet::new());
        for (folder, shared) in self.folders() {
            let Ok(entries) = fs::read_dir(&folder) else { continue };
            for path in entries
                .flatten()
                .take(LOOKED_AT)
                .map(|e| e.path())
                .filter(|p| p.extension().is_some_and(|e| e == "md"))
            {
                if notes.len() >= MOST
                    || !seen.insert(path.canonicalize().unwrap_or_else(|_| path.clone()))
                {
                    continue;
                }
                let read = read_text(&path, SETTINGS_CAP)
                    .map_err(|e| e.to_string())
                    .and_then(|t| Note::parse(&t).map_err(|p| p.to_string()));
                match read {
                    Ok(note) => notes.push(KeptNote { path, note, shared }),
                    // Other Markdown may lie beside the notes, such as a page that explains them.
                    Err(why) if why.contains("no head") => {}
                    Err(_) if troubles.len() >= TROUBLES => {}
                    Err(why) => troubles.push(format!("{} is no note: {why}", path.display())),
                }
            }
        }
        notes.sort_by(|a, b| (&b.note.head.met, &a.path).cmp(&(&a.note.head.met, &b.path)));
        (notes, troubles)
    }

    /// Keeps a note: over the file it was read from, or under a name that is free. Its file is
    /// written beside and then moved, so that a crash leaves the old one.
    ///
    /// # Errors
    ///
    /// When the folder or the file cannot be written.
    pub fn keep(&self, note: &Note, over: Option<&Path>) -> Result<PathBuf, StoreError> {
        let path = match over {
            Some(path) => path.to_owned(),
            None => {
                let home = self.home();
                fs::create_dir_all(home).map_err(StoreError::io("make", home))?;
                let name = note.file_name();
                let numbered = (2..10_000).map(|n| home.join(format!("{name}-{n}.md")));
                let mut free = std::iter::once(home.join(format!("{name}.md")))
                    .chain(numbered)
                    .filter(|p| !p.exists());
                free.next().unwrap_or_else(|| home.join(format!("{name}.md")))
            }
        };
        let beside = path.with_extension("md.new");
        let write = || {
            let mut open = fs::OpenOptions::new();
            open.write(true).create(true).truncate(true);
            // What is the user's alone is read by nobody else; what is shared, by whom it is for.
            if !path.starts_with(&self.project) {
                open.mode(0o600);
            }
            let mut file = open.open(&beside)?;
            file.write_all(note.write().as_bytes())?;
            file.sync_all()?;
            fs::rename(&beside, &path)
        };
        write().map_err(StoreError::io("write", &path))?;
        Ok(path)
    }

    /// Takes the file of a note away: it stays beside under a free name that is not read, which is
    /// given back.
    ///
    /// # Errors
    ///
    /// When the file cannot be moved.
    pub fn take_away(&self, path: &Path) -> Result<PathBuf, StoreError> {
        let named = |n: u32| {
            path.with_extension(format!(
                "md.gone{}",
                if n > 1 { n.to_string() } else { String::new() }
            ))
        };
        let aside = (1..10_000).map(named).find(|p| !p.exists()).unwrap_or_else(|| named(1));
        fs::rename(path, &aside).map_err(StoreError::io("move", path))?;
        Ok(aside)
    }

    /// Puts back what was taken away, unless something else has come to lie there.
    ///
    /// # Errors
    ///
    /// When there is a file again, or it cannot be moved.
    pub fn put_back(&self, aside: &Path, path: &Path) -> Result<(), StoreError> {
        if path.exists() {
            return Err(StoreError::io("write", path)(std::io::ErrorKind::AlreadyExists.into()));
        }
        fs::rename(aside, path).map_err(StoreError::io("move", aside))
    }

    /// Moves a note into the project's folder, which is made where it is not there yet.
    ///
    /// # Errors
    ///
    /// When the folder or the file cannot be written.
    pub fn share(&self, kept: &KeptNote) -> Result<PathBuf, StoreError> {
        fs::create_dir_all(&self.project).map_err(StoreError::io("make", &self.project))?;
        let path = self.keep(&kept.note, None)?;
        fs::remove_file(&kept.path).map_err(StoreError::io("delete", &kept.path))?;
        Ok(path)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_core::notes::Head;

    #[test]
    fn a_note_that_is_taken_away_is_read_no_more_and_can_be_put_back() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let notes = Notes::of(&folder.path().join("project"), folder.path());
        let note = Note { head: Head::default(), body: "The pump was dry.".into() };
        let path = notes.keep(&note, None).expect("room");
        let aside = notes.take_away(&path).expect("it moves");
        assert!(notes.read().0.is_empty() && !path.exists());
        // Another one of the same name leaves the first where it is.
        let again = notes.keep(&note, None).expect("room");
        assert_eq!(again, path);
        assert_ne!(notes.take_away(&again).expect("it moves"), aside);
        notes.put_back(&aside, &path).expect("it moves");
        assert_eq!(notes.read().0[0].note.body, note.body);
        assert!(notes.put_back(&aside, &path).is_err(), "what lies there stays");
    }

    #[test]
    fn notes_are_kept_shared_and_met_in_other_projects() {
        let folder = tempfile::tempdir().expect("a folder");
        let (ferry, harbour, collection) = (
            folder.path().join("ferry"),
            folder.path().join("harbour"),
            folder.path().join("notes"),
        );
        fs::create_dir_all(&ferry).and_then(|()| fs::create_dir_all(&harbour)).expect("room");
        let note = |title: &str, met: &str| Note {
            head: Head { title: title.into(), met: met.into(), ..Head::default() },
            body: "## What it meant\n\nA slip.".into(),
        };
        let notes = Notes::of(&ferry, &collection);
        assert_eq!(notes.read(), (Vec::new(), Vec::new()));
        let first =
            notes.keep(&note("wick has no value: here!", "2026-11-20"), None).expect("it is kept");
        let second = notes
            .keep(&note("wick has no value: here!", "2026-11-21"), None)
            .expect("it is kept beside");
        assert!(
            first.ends_with("notes/wick-has-no-value-here.md")
                && second.ends_with("notes/wick-has-no-value-here-2.md"),
            "{first:?} {second:?}"
        );
        notes
            .keep(&note("wick has no value: mended", "2026-11-21"), Some(&second))
            .expect("it is written over");
        fs::write(collection.join("broken.md"), "+++\ntitle = 3\n+++\n")
            .and_then(|()| fs::write(collection.join("about.md"), "no note\n"))
            .expect("room");
        let (all, troubles) = notes.read();
        assert_eq!(
            all.iter().map(|k| k.note.head.title.as_str()).collect::<Vec<_>>(),
            ["wick has no value: mended", "wick has no value: here!"]
        );
        assert!(
            troubles.len() == 1 && troubles[0].contains("broken.md is no note: line 2"),
            "{troubles:?}"
        );
        // Shared in the project's folder it is read by others, and offered in other projects of
        // this user.
        let shared = notes.share(&all[0]).expect("it moves");
        assert!(
            shared.ends_with("ferry/izba-notes/wick-has-no-value-mended.md") && !second.exists()
        );
        let (here, _) = notes.read();
        assert_eq!(here.iter().filter(|k| k.shared).count(), 1);
        let (there, _) = Notes::of(&harbour, &collection).read();
        assert_eq!(there.len(), 2, "{there:?}");
        let (stranger, _) = Notes::of(&ferry, &folder.path().join("elsewhere")).read();
        assert_eq!(
            stranger.iter().map(|k| k.note.head.title.as_str()).collect::<Vec<_>>(),
            ["wick has no value: mended"]
        );
    }
}

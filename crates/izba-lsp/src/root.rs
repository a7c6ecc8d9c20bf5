//! One folder that the editor has open: its files with what is not saved yet, what is found wrong in
//! them, and what a session that watches it tells.

use crate::shown::Shown;
use crate::told::Told;
use izba_cause::checks::{self, Remark};
use izba_files::Saved;
use izba_model::code::Index;
use izba_model::{Project, ProjectFile};
use std::collections::{BTreeMap, HashMap};
use std::os::unix::net::UnixStream;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::time::Duration;

/// What a session tells, with the files as they were when its newest run began.
pub(crate) struct Session {
    pub(crate) shown: Shown,
    pub(crate) run: u32,
    pub(crate) files: Arc<Project>,
}

/// What was found wrong in the files without running.
#[derive(Default)]
pub(crate) struct Checked {
    /// The files that were looked at.
    pub(crate) project: Option<Arc<Project>>,
    pub(crate) index: Arc<Index>,
    pub(crate) remarks: Vec<Remark>,
}

/// A folder that is open.
pub(crate) struct Root {
    pub(crate) path: PathBuf,
    /// The files as they are on the disk.
    pub(crate) disk: Arc<Project>,
    /// Texts that the editor has open, by their path in the project.
    pub(crate) open: HashMap<Arc<str>, Arc<str>>,
    /// The files as they are in the editor.
    pub(crate) now: Arc<Project>,
    pub(crate) checked: Checked,
    pub(crate) sessions: BTreeMap<PathBuf, Session>,
    /// Where sessions are asked for something.
    pub(crate) asked: HashMap<PathBuf, UnixStream>,
    /// What is told of each file.
    pub(crate) told: BTreeMap<Arc<str>, Vec<Told>>,
    work: Sender<Arc<Project>>,
    _watching: Option<izba_files::Watch>,
    /// Gone with the folder: who looks on for it ends then.
    pub(crate) open_still: Arc<()>,
}

/// How long it is waited for more before the files are looked at anew.
const SETTLE: Duration = Duration::from_millis(120);

impl Root {
    /// Opens a folder; what is found wrong in it goes to `found`, what is saved in it to `saved`.
    pub(crate) fn open(
        path: PathBuf,
        found: impl Fn(Checked) -> bool + Send + 'static,
        saved: impl FnMut(Saved) + Send + 'static,
    ) -> Root {
        let disk = Arc::new(izba_files::scan(&path));
        let watching = izba_files::watch_saves(&disk, saved).ok();
        let (work, jobs) = channel();
        let working = move || work_on(&jobs, found);
        let _ = std::thread::Builder::new().name("checks".into()).spawn(working);
        let root = Root {
            path,
            now: disk.clone(),
            disk,
            open: HashMap::new(),
            checked: Checked::default(),
            sessions: BTreeMap::new(),
            asked: HashMap::new(),
            told: BTreeMap::new(),
            work,
            _watching: watching,
            open_still: Arc::new(()),
        };
        let _ = root.work.send(root.now.clone());
        root
    }

    /// The path of a file in the project; `None` where it lies elsewhere.
    pub(crate) fn within(&self, path: &std::path::Path) -> Option<Arc<str>> {
        let there = path.strip_prefix(&self.path).ok();
        let real =
            || path.canonicalize().ok()?.strip_prefix(self.disk.root()).ok().map(PathBuf::from);
        let inner = there.map(PathBuf::from).or_else(real)?;
        Some(inner.to_string_lossy().replace('\\', "/").into())
    }

    /// The editor shows this text of a file, or none any more.
    pub(crate) fn edit(&mut self, file: Arc<str>, text: Option<Arc<str>>) {
        match text {
            Some(text) => drop(self.open.insert(file, text)),
            None => drop(self.open.remove(&file)),
        }
        self.look_anew();
    }

    /// A file was saved or is gone.
    pub(crate) fn saved(&mut self, saved: Saved) {
        let (changed, gone) = match saved.file {
            Some(file) => (vec![file], Vec::new()),
            None => (Vec::new(), vec![saved.path]),
        };
        self.disk = Arc::new(self.disk.with_changes(changed, &gone));
        self.look_anew();
    }

    fn look_anew(&mut self) {
        let open = self.open.iter().filter(|(path, text)| {
            let there = self.disk.file(path);
            // What the project does not hold is none of its files: a draft, a file that is left out.
            there.is_some_and(|f| f.text.as_ref() != Some(*text))
        });
        let changed: Vec<ProjectFile> = open
            .map(|(path, text)| ProjectFile { path: path.clone(), text: Some(text.clone()) })
            .collect();
        self.now = match changed.is_empty() {
            true => self.disk.clone(),
            false => Arc::new(self.disk.with_changes(changed, &[])),
        };
        let _ = self.work.send(self.now.clone());
    }

    /// A session tells what is so now.
    pub(crate) fn hear(&mut self, socket: PathBuf, shown: Shown) {
        let run = shown.groups.iter().map(|g| g.run).max().unwrap_or(0);
        let known = self.sessions.get(&socket).filter(|s| s.run == run);
        let files = known.map_or_else(|| self.disk.clone(), |s| s.files.clone());
        self.sessions.insert(socket, Session { shown, run, files });
    }
}

/// Looks at the files, the newest ones only, as long as somebody wants to know.
fn work_on(jobs: &Receiver<Arc<Project>>, found: impl Fn(Checked) -> bool) {
    let mut index: Option<Index> = None;
    while let Ok(mut project) = jobs.recv() {
        while let Ok(newer) = jobs.recv_timeout(SETTLE) {
            project = newer;
        }
        let files = || project.files().iter().map(|f| (&f.path, f.text.as_ref()));
        let now = match &index {
            Some(before) => izba_code::updated(before, files()),
            None => izba_code::index(files()).with_library(project.library()),
        };
        let repaired = izba_code::all_repaired(&now, &izba_sources::accepts);
        let remarks = checks::all(&repaired).remarks;
        index = Some(now);
        let checked = Checked { project: Some(project), index: Arc::new(repaired), remarks };
        if !found(checked) {
            return;
        }
    }
}

//! Notices when own files are saved.

use izba_model::{Project, ProjectFile};
use notify::{Event, EventKind, RecursiveMode, Watcher};
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// One own file was saved, or is gone.
#[derive(Debug, Clone)]
pub struct Saved {
    /// Path relative to the project.
    pub path: Arc<str>,
    /// The file as it is now; `None` when it is gone.
    pub file: Option<ProjectFile>,
}

/// Watching goes on while this lives.
#[derive(Debug)]
pub struct Watch {
    _watcher: notify::RecommendedWatcher,
}

/// Folders watched at most; a larger project is looked at anew at each run only.
const FOLDERS_CAP: usize = 2_000;

/// Calls `each` for every own file that is saved with another text than before, until the watcher
/// is dropped.
///
/// # Errors
///
/// When the system offers no watching; runs still begin with the files as they are then.
pub fn watch_saves(
    project: &Project,
    mut each: impl FnMut(Saved) + Send + 'static,
) -> std::io::Result<Watch> {
    let root = PathBuf::from(project.root());
    let mut folders: BTreeSet<PathBuf> = BTreeSet::from([root.clone()]);
    let mut known: std::collections::HashMap<Arc<str>, Option<Arc<str>>> =
        std::collections::HashMap::new();
    for file in project.files() {
        folders.extend(root.join(file.path.as_ref()).parent().map(Path::to_owned));
        known.insert(file.path.clone(), file.text.clone());
    }
    let failed = |e: notify::Error| {
        std::io::Error::other(format!("the project's files cannot be watched: {e}"))
    };
    let mut watcher = notify::recommended_watcher(move |event: notify::Result<Event>| {
        let Ok(event) = event else { return };
        if !matches!(event.kind, EventKind::Create(_) | EventKind::Modify(_) | EventKind::Remove(_))
        {
            return;
        }
        for path in event.paths {
            let Ok(relative) = path.strip_prefix(&root) else { continue };
            let name: Arc<str> = relative.to_string_lossy().replace('\\', "/").into();
            let file = crate::scan_file(&root, &path);
            let text = file.as_ref().and_then(|f| f.text.clone());
            // An editor's own files beside ours, and saves that change nothing, are no news.
            let was = known.get(&name);
            if was.is_none() || was == Some(&text) || text.as_deref().is_some_and(str::is_empty) {
                continue;
            }
            known.insert(name.clone(), text);
            each(Saved { path: name, file });
        }
    })
    .map_err(failed)?;
    for folder in folders.into_iter().take(FOLDERS_CAP) {
        // A folder that vanished meanwhile is not worth a sentence.
        let _ = watcher.watch(&folder, RecursiveMode::NonRecursive);
    }
    Ok(Watch { _watcher: watcher })
}

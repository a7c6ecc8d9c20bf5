//! What a session tells while it is watched, as it comes from its socket.

use izba_watch::sharing;
use serde::Deserialize;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Weak};
use std::time::Duration;

/// The errors of a session at one moment.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Shown {
    /// Version of this form.
    pub(crate) v: u32,
    /// The project's folder.
    pub(crate) root: PathBuf,
    /// The errors, most important first.
    pub(crate) groups: Vec<Group>,
}

/// One error.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Group {
    pub(crate) id: u32,
    pub(crate) headline: String,
    pub(crate) run: u32,
    pub(crate) level: String,
    pub(crate) kind: Option<String>,
    pub(crate) message: String,
    pub(crate) file: Option<Arc<str>>,
    pub(crate) line: Option<u32>,
    pub(crate) frames: Vec<Frame>,
    pub(crate) count: u64,
    pub(crate) state: Option<String>,
    pub(crate) muted: bool,
    pub(crate) follows: Option<usize>,
    pub(crate) source: String,
    pub(crate) suspects: Vec<Suspect>,
    pub(crate) edits: Vec<Edit>,
    pub(crate) explanation: String,
}

/// A step that the console told.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Frame {
    pub(crate) file: Option<Arc<str>>,
    pub(crate) line: Option<u32>,
    pub(crate) function: Option<String>,
    pub(crate) own: bool,
}

/// A place that may be guilty.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Suspect {
    pub(crate) file: Arc<str>,
    pub(crate) line: u32,
    pub(crate) kind: String,
    pub(crate) reason: String,
    pub(crate) confidence: f32,
    pub(crate) evidence: Vec<Evidence>,
}

/// What speaks for it.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Evidence {
    pub(crate) file: Arc<str>,
    pub(crate) line: u32,
    pub(crate) saw: String,
}

/// An exact edit, line by line.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Edit {
    /// Which of the suspects, from 1.
    pub(crate) suspect: usize,
    pub(crate) file: Arc<str>,
    pub(crate) says: String,
    pub(crate) changes: Vec<Change>,
}

/// Lines before and behind it.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Change {
    pub(crate) line: u32,
    pub(crate) before: Vec<String>,
    pub(crate) after: Vec<String>,
}

/// How often it is looked whether somebody watches.
const LOOK: Duration = Duration::from_millis(500);

/// What is heard of a session.
pub(crate) enum Heard {
    /// Somebody watches this project: requests go to the stream.
    Begins(PathBuf, std::os::unix::net::UnixStream),
    /// What is so now.
    Told(PathBuf, Box<Shown>),
    /// Nobody watches there any more.
    Ends(PathBuf),
}

/// Looks on at every session of this project in a store, now and later, as long as `open` lives and
/// `tell` wants it.
pub(crate) fn look_on(
    store: Option<PathBuf>,
    root: PathBuf,
    open: Weak<()>,
    tell: impl Fn(Heard) -> bool + Clone + Send + 'static,
) {
    let looking = move || {
        let mut known: Vec<PathBuf> = Vec::new();
        while open.strong_count() > 0 {
            let sockets = izba_sources::Store::look(store.clone())
                .map(|store| sharing::sockets(&store))
                .unwrap_or_default();
            known.retain(|socket| sockets.contains(socket));
            for socket in sockets {
                if !known.contains(&socket) {
                    known.push(socket.clone());
                    visit(socket, root.clone(), open.clone(), tell.clone());
                }
            }
            std::thread::sleep(LOOK);
        }
    };
    // Without a thread nothing is heard, and all else works.
    let _ = std::thread::Builder::new().name("look-on".into()).spawn(looking);
}

/// Hears one session, if it is of this project.
fn visit(
    socket: PathBuf,
    root: PathBuf,
    open: Weak<()>,
    tell: impl Fn(Heard) -> bool + Send + 'static,
) {
    let hearing = move || {
        let Ok(stream) = sharing::visit(&socket) else { return };
        let mut begun = false;
        let _ = sharing::look_on(&stream, |line| {
            let Ok(shown) = serde_json::from_str::<Shown>(line) else { return false };
            if open.strong_count() == 0 {
                return false;
            }
            if shown.v != sharing::VERSION || !is_same(&shown.root, &root) {
                return false;
            }
            if !begun {
                begun = true;
                let Ok(requests) = stream.try_clone() else { return false };
                if !tell(Heard::Begins(socket.clone(), requests)) {
                    return false;
                }
            }
            tell(Heard::Told(socket.clone(), Box::new(shown)))
        });
        if begun {
            tell(Heard::Ends(socket));
        }
    };
    let _ = std::thread::Builder::new().name("look-on".into()).spawn(hearing);
}

fn is_same(a: &Path, b: &Path) -> bool {
    a == b || a.canonicalize().ok().zip(b.canonicalize().ok()).is_some_and(|(a, b)| a == b)
}

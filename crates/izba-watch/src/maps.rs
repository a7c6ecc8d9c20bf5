//! Source maps are looked for on a thread of their own: walking a project's folders takes longer
//! than the engine may be away from its orders.

use izba_files::{FoundMap, find_maps, read_maps};
use izba_sources::Bell;
use std::path::Path;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, TryRecvError, channel};
use std::time::{Duration, Instant};

/// How often they are looked for at most.
const EVERY: Duration = Duration::from_millis(300);

/// Scripts with the texts of their maps.
type Texts = Vec<(Arc<str>, Arc<str>)>;
/// What a look came to: what lies there, and the texts, where that is not what lay there before.
type Looked = (Vec<FoundMap>, Option<Texts>);

/// The maps of a project, as they were found last.
#[derive(Debug)]
pub(crate) struct Maps {
    found: Vec<FoundMap>,
    looked: Option<Instant>,
    looking: Option<Receiver<Looked>>,
}

impl Maps {
    /// Maps as they lay there at the start.
    pub(crate) fn new(found: Vec<FoundMap>) -> Maps {
        Maps { found, looked: None, looking: None }
    }

    /// Whether a look is under way.
    pub(crate) fn is_looking(&self) -> bool {
        self.looking.is_some()
    }

    /// Begins a look unless one was made a moment ago; the bell rings when it is over.
    pub(crate) fn look(&mut self, root: &Path, bell: &Bell) {
        if self.is_looking() || self.looked.is_some_and(|at| at.elapsed() < EVERY) {
            return;
        }
        let (tell, told) = channel();
        let (root, before, bell) = (root.to_owned(), self.found.clone(), bell.clone());
        let look = move || {
            let found = find_maps(&root);
            let bundles = (found != before).then(|| read_maps(&found));
            // Whoever asked may be gone.
            let _ = tell.send((found, bundles));
            bell();
        };
        // Without a thread there is no look; what is known of maps stays.
        if std::thread::Builder::new().name("maps".into()).spawn(look).is_ok() {
            self.looking = Some(told);
        }
        self.looked = Some(Instant::now());
    }

    /// What a look that is over found new.
    pub(crate) fn take(&mut self) -> Option<Texts> {
        let told = match self.looking.as_ref()?.try_recv() {
            Err(TryRecvError::Empty) => return None,
            Err(TryRecvError::Disconnected) => None,
            Ok(told) => Some(told),
        };
        (self.looking, self.looked) = (None, Some(Instant::now()));
        let (found, bundles) = told?;
        self.found = found;
        bundles
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Waits for the bell, which rings when a look is over.
    fn looked(maps: &mut Maps, root: &Path) -> Option<Texts> {
        let (ring, rung) = channel();
        let ring = std::sync::Mutex::new(ring);
        let bell: Bell = Arc::new(move || drop(ring.lock().map(|r| r.send(()))));
        maps.look(root, &bell);
        assert!(maps.is_looking());
        rung.recv_timeout(Duration::from_secs(20)).expect("the look ends");
        let found = maps.take();
        assert!(!maps.is_looking());
        // A look right after it would be too soon; the test does not wait.
        maps.looked = None;
        found
    }

    #[test]
    fn what_is_built_meanwhile_is_found_once() {
        let folder = tempfile::tempdir().expect("room");
        let mut maps = Maps::new(find_maps(folder.path()));
        assert_eq!(looked(&mut maps, folder.path()), None, "nothing is new");
        std::fs::write(folder.path().join("all.js.map"), "{}").expect("room");
        let texts = looked(&mut maps, folder.path()).expect("a new one");
        assert_eq!(texts, [(Arc::from("all.js"), Arc::from("{}"))]);
        assert_eq!(looked(&mut maps, folder.path()), None, "it is known by now");
    }
}

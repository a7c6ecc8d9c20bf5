//! What is watched, told to others of the same user while it is watched: an editor, say. A session's
//! folder holds a local socket that nobody else may open; whoever connects is told the errors as they
//! are now, and again whenever they change, a line of JSON each; and may ask for little.

use crate::orders::{Order, Published};
use arc_swap::ArcSwap;
use izba_cause::suspect::Findings;
use izba_core::{GroupId, GroupView, Wish, answer, suspect_key};
use serde::{Deserialize, Serialize};
use std::fs::File;
use std::io::{BufRead, BufReader, Read, Write};
use std::os::fd::AsRawFd;
use std::os::unix::net::{UnixListener, UnixStream};
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::mpsc::SyncSender;
use std::time::Duration;

/// What the socket is called in the folder of its session.
const SOCKET: &str = "shown";
/// So many may look on at once.
const LOOKERS: usize = 16;
/// How often it is looked whether anything changed.
const LOOK: Duration = Duration::from_millis(200);
/// How long one who does not read is waited for.
const WRITE: Duration = Duration::from_secs(2);
/// A longer request is none, in bytes.
const REQUEST: u64 = 64 << 10;
/// Version of what is told.
pub const VERSION: u32 = 1;

/// What is asked for by one who looks on, a line of JSON each.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Request {
    /// Set a group aside, by its number.
    SetAside(u32),
    /// A suspect of a group is innocent: the group's number, and which of them from 1.
    RuleOut(u32, usize),
}

/// Tells others until it is dropped.
#[derive(Debug)]
pub(crate) struct Sharing {
    stop: Arc<AtomicBool>,
    socket: PathBuf,
}

impl Drop for Sharing {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::Release);
        // Wakes the one who waits for others.
        drop(visit(&self.socket));
        let _ = std::fs::remove_file(&self.socket);
    }
}

/// A path to a socket in a folder that may lie deeper than an address of a socket is long; the folder
/// is held open as long as it is used.
fn address(socket: &Path) -> std::io::Result<(File, PathBuf)> {
    let folder = File::open(socket.parent().unwrap_or(Path::new(".")))?;
    let name = socket.file_name().unwrap_or_default();
    let path = Path::new("/proc/self/fd").join(folder.as_raw_fd().to_string()).join(name);
    Ok((folder, path))
}

/// Connects to a socket of [`sockets`].
///
/// # Errors
///
/// When nobody is there.
pub fn visit(socket: &Path) -> std::io::Result<UnixStream> {
    let (_held, path) = address(socket)?;
    UnixStream::connect(path)
}

impl Sharing {
    /// Tells what is published, from the folder of a session. `None` where no socket can be made
    /// there: then nobody looks on.
    pub(crate) fn start(
        session: &Path,
        root: &Path,
        slot: Arc<ArcSwap<Published>>,
        orders: SyncSender<Order>,
    ) -> Option<Sharing> {
        let socket = session.join(SOCKET);
        let (_held, path) = address(&socket).ok()?;
        let listener = UnixListener::bind(path).ok()?;
        let stop = Arc::new(AtomicBool::new(false));
        let teller = Teller { root: root.to_owned(), slot, orders, stop: stop.clone() };
        let accepting = move || {
            let lookers = Arc::new(AtomicUsize::new(0));
            for stream in listener.incoming() {
                if teller.stop.load(Ordering::Acquire) {
                    break;
                }
                let Ok(stream) = stream else { continue };
                if lookers.load(Ordering::Acquire) >= LOOKERS {
                    continue;
                }
                lookers.fetch_add(1, Ordering::AcqRel);
                let (teller, count) = (teller.clone(), lookers.clone());
                let telling = std::thread::Builder::new().name("shown".into()).spawn(move || {
                    // One who is gone is told nothing more.
                    let _ = teller.tell(stream);
                    count.fetch_sub(1, Ordering::AcqRel);
                });
                if telling.is_err() {
                    lookers.fetch_sub(1, Ordering::AcqRel);
                }
            }
        };
        std::thread::Builder::new().name("shown".into()).spawn(accepting).ok()?;
        Some(Sharing { stop, socket })
    }
}

/// What is told to each who looks on.
#[derive(Clone)]
struct Teller {
    root: PathBuf,
    slot: Arc<ArcSwap<Published>>,
    orders: SyncSender<Order>,
    stop: Arc<AtomicBool>,
}

impl Teller {
    fn tell(&self, stream: UnixStream) -> std::io::Result<()> {
        stream.set_read_timeout(Some(LOOK))?;
        stream.set_write_timeout(Some(WRITE))?;
        // For one who looks on the code is looked into as for a screen.
        let _ = self.orders.try_send(Order::LookInto);
        let mut out = stream.try_clone()?;
        let mut requests = BufReader::new(stream);
        let (mut asked, mut told, mut seen) = (Vec::new(), String::new(), None);
        while !self.stop.load(Ordering::Acquire) {
            let published = self.slot.load_full();
            let moment = Arc::as_ptr(&published) as usize;
            if seen != Some(moment) {
                seen = Some(moment);
                let now = line(&self.root, &published);
                if now != told {
                    out.write_all(now.as_bytes())?;
                    told = now;
                }
            }
            match requests.by_ref().take(REQUEST).read_until(b'\n', &mut asked) {
                Ok(0) => return Ok(()),
                Ok(_) if asked.ends_with(b"\n") => {
                    self.obey(&published, &asked);
                    asked.clear();
                }
                Ok(_) if asked.len() as u64 >= REQUEST => return Ok(()),
                Ok(_) => {}
                Err(e) if is_pause(&e) => {}
                Err(e) => return Err(e),
            }
        }
        Ok(())
    }

    /// Does what is asked for; what is not understood is left alone.
    fn obey(&self, published: &Published, asked: &[u8]) {
        let Ok(request) = serde_json::from_slice::<Request>(asked) else { return };
        let group = |id: u32| published.snapshot.groups.row(GroupId(id));
        let wish = match request {
            Request::SetAside(id) => group(id).map(|g| {
                (Wish::Mute(g.identity.clone(), true), "set aside from the editor".to_owned())
            }),
            Request::RuleOut(id, nth) => group(id).and_then(|g| {
                // Counted as they were told.
                let found = findings(published, g);
                let suspect = found.suspects.get(nth.checked_sub(1)?)?;
                let said =
                    format!("{}:{} is ruled out from the editor", suspect.file, suspect.line);
                Some((Wish::Known(suspect_key(g, suspect), true), said))
            }),
        };
        if let Some((wish, said)) = wish {
            let _ = self.orders.send(Order::Wish(vec![wish], said));
        }
    }
}

fn is_pause(error: &std::io::Error) -> bool {
    use std::io::ErrorKind::{Interrupted, TimedOut, WouldBlock};
    matches!(error.kind(), WouldBlock | TimedOut | Interrupted)
}

/// What was found out about a group, without what the user knows to be innocent.
fn findings(published: &Published, group: &GroupView) -> Findings {
    let found = published.code.findings.get(&group.id);
    let mut found = found.map(|f| f.as_ref().clone()).unwrap_or_default();
    found.suspects.retain(|s| !published.known.contains(&suspect_key(group, s)));
    found
}

/// What is told of a moment: a line of JSON.
fn line(root: &Path, published: &Published) -> String {
    let groups = answer::shown(&published.snapshot, &|group| findings(published, group));
    let root = serde_json::Value::from(root.to_string_lossy());
    let running = published.running;
    format!("{{\"v\":{VERSION},\"root\":{root},\"running\":{running},\"groups\":{groups}}}\n")
}

/// The sockets of all sessions in a store at which somebody may be watching.
pub fn sockets(store: &izba_sources::Store) -> Vec<PathBuf> {
    let sessions = store.sessions().into_iter().map(|(folder, _)| folder.join(SOCKET));
    sessions.filter(|socket| socket.exists()).collect()
}

/// Looks on at a socket: each line that is told goes to `hear`, until that says no or the session is
/// over.
///
/// # Errors
///
/// When nobody is at the socket, or the connection breaks.
pub fn look_on(stream: &UnixStream, mut hear: impl FnMut(&str) -> bool) -> std::io::Result<()> {
    let mut lines = BufReader::new(stream.try_clone()?);
    let mut line = String::new();
    loop {
        line.clear();
        if lines.read_line(&mut line)? == 0 || !hear(&line) {
            return Ok(());
        }
    }
}

/// Asks for something at a socket that is looked on.
///
/// # Errors
///
/// When the session is over.
pub fn ask(mut stream: &UnixStream, request: &Request) -> std::io::Result<()> {
    let mut line = serde_json::to_vec(request)?;
    line.push(b'\n');
    stream.write_all(&line)
}

//! A debug adapter, started as a command or reached at an address: threads that read and write, and
//! one that holds the session.
//!
//! Nobody waits for an adapter: what is wanted is put in a queue, what is known lies ready to be
//! read. When the adapter is gone, hangs or talks nonsense, that is a sentence in the state; what
//! the program printed is in the spool by then.

use crate::command::{apart, end_marked, new_token};
use crate::left_behind::MARK;
use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_dap::wire::{Decoder, encode};
use izba_dap::{Begin, Out, Phase, Plan, Session, State, Want, World};
use nix::sys::signal::Signal;
use nix::unistd::Pid;
use std::collections::VecDeque;
use std::ffi::OsString;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::{Shutdown, SocketAddr, TcpStream};
use std::path::PathBuf;
use std::process::{Child, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, SyncSender, channel, sync_channel};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// Where a debug adapter is to be found: a command, or an address.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Reach {
    /// A program that speaks over its standard input and output.
    Command {
        /// The program and its arguments.
        words: Vec<OsString>,
        /// Where it runs.
        folder: PathBuf,
        /// Variables that it gets.
        environment: Vec<(OsString, OsString)>,
    },
    /// An address at which it listens; looked for until it is there.
    Address(SocketAddr),
}

/// How long an adapter at an address is looked for.
const LOOKED_FOR: Duration = Duration::from_secs(15);
/// How often.
const LOOK: Duration = Duration::from_millis(50);
/// How often the session looks at the clock.
const CLOCK: Duration = Duration::from_millis(250);
/// How long an adapter has to end by itself.
const GRACE: Duration = Duration::from_millis(1500);
/// Requests that may wait for an adapter that does not read.
const UNREAD: usize = 5_000;
/// Last words of an adapter that are kept.
const WORDS: usize = 6;

type TheWorld = Arc<dyn World + Send + Sync>;

enum In {
    Bytes(Vec<u8>),
    Closed,
    Want(Want),
    World(TheWorld),
    Quit,
}

/// A session with an adapter. Dropping it ends the session, and the program when the adapter
/// started it.
#[derive(Debug)]
pub struct Adapter {
    inbox: SyncSender<In>,
    state: Arc<Mutex<Arc<State>>>,
    reread: Arc<Mutex<Vec<String>>>,
    ended: Arc<AtomicBool>,
    thread: Option<JoinHandle<()>>,
}

impl std::fmt::Debug for In {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(match self {
            In::Bytes(_) => "Bytes",
            In::Closed => "Closed",
            In::Want(_) => "Want",
            In::World(_) => "World",
            In::Quit => "Quit",
        })
    }
}

impl Adapter {
    /// Starts a session. What the program prints by way of the adapter goes to `spool`, with
    /// records for its start and end; unless it is `read_elsewhere`: then only what breakpoints
    /// write, and what the adapter itself says, goes there. `bell` is rung whenever something
    /// changed.
    ///
    /// # Errors
    ///
    /// [`SourceError::Start`] when the adapter's program is not there. An address at which nobody
    /// answers is told in the state.
    pub fn start(
        reach: Reach,
        begin: Begin,
        plan: Plan,
        world: TheWorld,
        spool: Arc<Mutex<SpoolWriter>>,
        read_elsewhere: bool,
        bell: Bell,
    ) -> Result<Adapter, SourceError> {
        let (to, inbox) = sync_channel(256);
        let words = Arc::new(Mutex::new(VecDeque::new()));
        let link = match &reach {
            Reach::Command { words: program, folder, environment } => {
                Some(Link::of_command(program, folder, environment, &to, &words)?)
            }
            Reach::Address(_) => None,
        };
        let state = Arc::new(Mutex::new(Arc::new(State::default())));
        let (reread, ended) = (Arc::default(), Arc::new(AtomicBool::new(false)));
        let notes = Sink::new(spool, bell.clone());
        let sink = (!read_elsewhere).then(|| notes.clone());
        let mut holder = Holder {
            to: to.clone(),
            state: state.clone(),
            reread: Arc::clone(&reread),
            words,
            world,
            sink,
            notes,
            bell,
            shown: None,
        };
        let over = ended.clone();
        let run = move || {
            holder.run(reach, link, begin, plan, &inbox);
            over.store(true, Ordering::Release);
            (holder.bell)();
        };
        let thread = std::thread::Builder::new()
            .name("adapter".into())
            .spawn(run)
            .map_err(SourceError::system("start a thread"))?;
        Ok(Adapter { inbox: to, state, reread, ended, thread: Some(thread) })
    }

    /// What is known by now.
    pub fn state(&self) -> Arc<State> {
        self.state.lock().map(|s| s.clone()).unwrap_or_default()
    }

    /// Asks for something; what comes of it stands in the state.
    pub fn want(&self, want: Want) {
        // A session that is over has nobody who could want something.
        let _ = self.inbox.send(In::Want(want));
    }

    /// The project is another one now.
    pub fn set_world(&self, world: TheWorld) {
        let _ = self.inbox.send(In::World(world));
    }

    /// Sources that the program read again since this was asked last, as the adapter names them.
    pub fn reread(&self) -> Vec<String> {
        self.reread.lock().map(|mut r| std::mem::take(&mut *r)).unwrap_or_default()
    }

    /// Whether the session is over and its last words are in the spool.
    pub fn has_ended(&self) -> bool {
        self.ended.load(Ordering::Acquire)
    }
}

impl Drop for Adapter {
    fn drop(&mut self) {
        let _ = self.inbox.send(In::Quit);
        if let Some(thread) = self.thread.take() {
            let _ = thread.join();
        }
    }
}

/// The way to the adapter.
struct Link {
    writer: Sender<Vec<u8>>,
    unread: Arc<Mutex<usize>>,
    child: Option<(Child, String)>,
    stream: Option<TcpStream>,
}

impl Link {
    fn of_command(
        words: &[OsString],
        folder: &PathBuf,
        environment: &[(OsString, OsString)],
        to: &SyncSender<In>,
        last: &Arc<Mutex<VecDeque<String>>>,
    ) -> Result<Link, SourceError> {
        let token = new_token();
        let mut command = std::process::Command::new(&words[0]);
        command
            .args(&words[1..])
            .current_dir(folder)
            .envs(environment.iter().map(|(n, v)| (n, v)))
            .env(MARK, &token);
        command.stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::piped());
        apart(&mut command, Signal::SIGHUP);
        let name = words[0].to_string_lossy().into_owned();
        let mut child =
            command.spawn().map_err(|cause| SourceError::Start { command: name, cause })?;
        let (input, output, error) = (child.stdin.take(), child.stdout.take(), child.stderr.take());
        let (Some(input), Some(output), Some(error)) = (input, output, error) else {
            return Err(SourceError::system("talk to the adapter")(std::io::Error::other(
                "it has no input or output",
            )));
        };
        let last = last.clone();
        std::thread::Builder::new()
            .name("adapter-words".into())
            .spawn(move || {
                for line in BufReader::new(error.take(16 << 20))
                    .lines()
                    .map_while(Result::ok)
                    .filter(|l| !l.trim().is_empty())
                {
                    let Ok(mut last) = last.lock() else { return };
                    last.push_back(line.chars().take(400).collect());
                    if last.len() > WORDS {
                        last.pop_front();
                    }
                }
            })
            .map_err(SourceError::system("start a thread"))?;
        Link::new(input, output, to, Some((child, token)), None)
    }

    fn of_stream(stream: TcpStream, to: &SyncSender<In>) -> Result<Link, SourceError> {
        let copy = || stream.try_clone().map_err(SourceError::system("copy a connection"));
        let _ = stream.set_nodelay(true);
        let (input, output) = (copy()?, copy()?);
        Link::new(input, output, to, None, Some(stream))
    }

    fn new(
        mut input: impl Write + Send + 'static,
        mut output: impl Read + Send + 'static,
        to: &SyncSender<In>,
        child: Option<(Child, String)>,
        stream: Option<TcpStream>,
    ) -> Result<Link, SourceError> {
        let to = to.clone();
        let read = move || {
            let mut buffer = vec![0u8; 64 * 1024];
            loop {
                match output.read(&mut buffer) {
                    Ok(0) => break,
                    Ok(count) => {
                        if to.send(In::Bytes(buffer[..count].to_vec())).is_err() {
                            return;
                        }
                    }
                    Err(e) if e.kind() == std::io::ErrorKind::Interrupted => {}
                    Err(_) => break,
                }
            }
            let _ = to.send(In::Closed);
        };
        let (writer, queue) = channel::<Vec<u8>>();
        let unread = Arc::new(Mutex::new(0usize));
        let waiting = unread.clone();
        let write = move || {
            for bytes in queue {
                if input.write_all(&bytes).and_then(|()| input.flush()).is_err() {
                    return;
                }
                if let Ok(mut waiting) = waiting.lock() {
                    *waiting = waiting.saturating_sub(1);
                }
            }
        };
        for (name, work) in [
            ("adapter-in", Box::new(read) as Box<dyn FnOnce() + Send>),
            ("adapter-out", Box::new(write)),
        ] {
            std::thread::Builder::new()
                .name(name.into())
                .spawn(work)
                .map_err(SourceError::system("start a thread"))?;
        }
        Ok(Link { writer, unread, child, stream })
    }

    /// Hands over one message; false when the adapter does not read any more.
    fn send(&self, bytes: Vec<u8>) -> bool {
        let waiting = self.unread.lock().map_or(0, |mut n| {
            *n += 1;
            *n
        });
        waiting <= UNREAD && self.writer.send(bytes).is_ok()
    }

    /// Ends the adapter, in order first, then by force.
    fn close(mut self) {
        if let Some(stream) = self.stream.take() {
            let _ = stream.shutdown(Shutdown::Write);
            // What was sent last is to be read before the connection goes.
            std::thread::sleep(Duration::from_millis(20));
            let _ = stream.shutdown(Shutdown::Both);
        }
        let Some((mut child, token)) = self.child.take() else { return };
        drop(self.writer);
        let pid = Pid::from_raw(child.id().cast_signed());
        let begun = Instant::now();
        while begun.elapsed() < GRACE && matches!(child.try_wait(), Ok(None)) {
            std::thread::sleep(Duration::from_millis(10));
        }
        end_marked(pid, &token, Signal::SIGKILL);
        let _ = child.wait();
    }
}

struct Holder {
    to: SyncSender<In>,
    state: Arc<Mutex<Arc<State>>>,
    reread: Arc<Mutex<Vec<String>>>,
    words: Arc<Mutex<VecDeque<String>>>,
    world: TheWorld,
    sink: Option<Sink>,
    notes: Sink,
    bell: Bell,
    /// What was shown last.
    shown: Option<State>,
}

fn ms() -> i64 {
    crate::now().0
}

impl Holder {
    fn run(
        &mut self,
        reach: Reach,
        link: Option<Link>,
        begin: Begin,
        plan: Plan,
        inbox: &Receiver<In>,
    ) {
        let mut session = Session::new(begin, plan, ms());
        let line = match &reach {
            Reach::Command { words, .. } => {
                words.iter().map(|w| w.to_string_lossy()).collect::<Vec<_>>().join(" ")
            }
            Reach::Address(address) => address.to_string(),
        };
        if let Some(sink) = &self.sink {
            sink.append(&Event::Start, line.as_bytes());
        }
        let link = match (link, reach) {
            (Some(link), _) => Some(link),
            (None, Reach::Address(address)) => self.look_for(address, &mut session, inbox),
            (None, Reach::Command { .. }) => None,
        };
        let Some(link) = link else {
            return self.finish(&mut session, None, "no adapter");
        };
        let mut decoder = Decoder::default();
        let mut code = None;
        let mut told = Instant::now();
        while !session.is_over() {
            self.obey(&mut session, Some(&link), &mut code);
            // A flood of news is told in one.
            if told.elapsed() >= Duration::from_millis(5) {
                self.publish(&session);
                told = Instant::now();
            }
            let next = match inbox.try_recv() {
                Ok(next) => Ok(next),
                Err(_) => {
                    self.publish(&session);
                    inbox.recv_timeout(CLOCK)
                }
            };
            match next {
                Ok(In::Bytes(bytes)) => {
                    decoder.feed(&bytes);
                    while let Some(piece) = decoder.piece() {
                        session.receive(piece, self.world.as_ref(), ms());
                    }
                }
                Ok(In::Closed) => {
                    let last = self.words.lock().ok().and_then(|w| w.back().cloned());
                    session.end(match last {
                        Some(last) => format!("the adapter went away; its last words: {last}"),
                        None => "the adapter went away".into(),
                    });
                }
                Ok(In::Want(want)) => session.want(want, self.world.as_ref(), ms()),
                Ok(In::World(world)) => {
                    self.world = world;
                    session.want(Want::Known, self.world.as_ref(), ms());
                }
                Ok(In::Quit) | Err(RecvTimeoutError::Disconnected) => {
                    session.want(Want::End, self.world.as_ref(), ms());
                    self.obey(&mut session, Some(&link), &mut code);
                    session.end("the session was ended".into());
                }
                Err(RecvTimeoutError::Timeout) => {}
            }
            session.tick(ms());
        }
        self.obey(&mut session, Some(&link), &mut code);
        self.finish(&mut session, code, "");
        // Whoever still sends to us would wait for ever.
        while inbox.try_recv().is_ok() {}
        link.close();
        while inbox.try_recv().is_ok() {}
    }

    /// Waits for an adapter that is not there yet.
    fn look_for(
        &mut self,
        address: SocketAddr,
        session: &mut Session,
        inbox: &Receiver<In>,
    ) -> Option<Link> {
        let begun = Instant::now();
        loop {
            match TcpStream::connect_timeout(&address, Duration::from_millis(500)) {
                // On the own machine a connection may get the very number that it looks for as its
                // own, and so meet itself.
                Ok(stream) if stream.local_addr().ok() != Some(address) => {
                    match Link::of_stream(stream, &self.to) {
                        Ok(link) => return Some(link),
                        Err(error) => {
                            session.end(error.sentence());
                            return None;
                        }
                    }
                }
                _ if begun.elapsed() > LOOKED_FOR => {
                    session.end(format!(
                        "no debug adapter answers at {address}; the program may have been \
                        started without one"
                    ));
                    return None;
                }
                _ => {}
            }
            match inbox.recv_timeout(LOOK) {
                Ok(In::Quit) | Err(RecvTimeoutError::Disconnected) => {
                    session.end("the session was ended".into());
                    return None;
                }
                Ok(In::Want(want)) => session.want(want, self.world.as_ref(), ms()),
                Ok(In::World(world)) => {
                    self.world = world;
                    session.want(Want::Known, self.world.as_ref(), ms());
                }
                Ok(In::Bytes(_) | In::Closed) | Err(RecvTimeoutError::Timeout) => {}
            }
        }
    }

    /// Does what the session asks for.
    fn obey(&mut self, session: &mut Session, link: Option<&Link>, code: &mut Option<i64>) {
        for out in session.take() {
            match out {
                Out::Send(message) => {
                    if let Some(link) = link
                        && !link.send(encode(&message))
                        && !session.is_over()
                    {
                        session.end("the adapter does not read what it is told".into());
                    }
                }
                Out::Print(stream, text) => {
                    if let Some(sink) = &self.sink {
                        sink.append(&Event::Bytes(stream), text.as_bytes());
                    }
                }
                Out::Note(text) => {
                    self.notes.append(&Event::Bytes(izba_model::Stream::Out), text.as_bytes())
                }
                Out::Reread(path) => {
                    if let Ok(mut reread) = self.reread.lock() {
                        reread.push(path);
                    }
                    (self.bell)();
                }
                Out::Ended(told) => *code = told,
            }
        }
    }

    fn publish(&mut self, session: &Session) {
        if self.shown.as_ref() == Some(session.state()) {
            return;
        }
        self.shown = Some(session.state().clone());
        if let Ok(mut state) = self.state.lock() {
            *state = Arc::new(session.state().clone());
        }
        (self.bell)();
    }

    fn finish(&mut self, session: &mut Session, code: Option<i64>, otherwise: &str) {
        session.end(otherwise.to_owned());
        let mut none = None;
        self.obey(session, None, &mut none);
        self.publish(session);
        if let (Some(sink), Phase::Ended(how)) = (&self.sink, &session.state().phase) {
            let words = match code {
                Some(0) => "ended well".to_owned(),
                Some(code) => format!("ended with exit code {code}"),
                None => how.clone(),
            };
            sink.append(
                &Event::End { well: code.unwrap_or(0) == 0 && !how.contains("adapter") },
                words.as_bytes(),
            );
        }
    }
}

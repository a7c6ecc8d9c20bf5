//! A command that Izba starts: its output on a pseudo-terminal, its errors on a pipe, in one poll
//! loop.
//!
//! Within each stream the order is exact; across the two it is that of arrival, good to about a
//! millisecond. The pseudo-terminal makes programs print line by line, as they do in front of a
//! person.

use crate::cleared::Cleared;
use crate::left_behind::{MARK, marked};
use crate::sink::wait_for_reader;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError, interpreter};
use izba_model::Stream;
use nix::errno::Errno;
use nix::poll::{PollFd, PollFlags, PollTimeout, poll};
use nix::pty::openpty;
use nix::sys::signal::{Signal, kill, killpg};
use nix::sys::termios::{OutputFlags, SetArg, tcgetattr, tcsetattr};
use nix::unistd::{Pid, pipe, read, write};
use std::ffi::OsString;
use std::io;
use std::os::fd::{AsFd, AsRawFd, OwnedFd};
use std::os::unix::process::{CommandExt, ExitStatusExt};
use std::path::{Path, PathBuf};
use std::process::{Child, ExitStatus, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicI32, AtomicU64, Ordering};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// How often output is read in a row before errors are.
const OUTPUT_READS: usize = 64;
/// How long output may take from the program's hand into ours, in milliseconds.
const SETTLE_MS: u8 = 1;
/// How long a program may take to end after it was asked to.
const GRACE: Duration = Duration::from_secs(2);
/// How long what its children still print is waited for.
const DRAIN: Duration = Duration::from_millis(500);

/// What to start, where, and how its streams are connected.
#[derive(Debug, Clone)]
pub struct CommandSpec {
    /// The program and its arguments; a script alone finds its interpreter.
    pub words: Vec<OsString>,
    /// The folder in which it runs.
    pub folder: PathBuf,
    /// Variables that it gets beside those of this process.
    pub environment: Vec<(OsString, OsString)>,
    /// Plain pipes instead of a pseudo-terminal.
    pub pipes: bool,
    /// Let the program read this process's own standard input.
    pub inherit_input: bool,
}

/// A command that can be started again and again.
#[derive(Debug, Clone)]
pub struct Command {
    spec: CommandSpec,
    words: Vec<OsString>,
}

impl Command {
    /// Finds out what to start.
    ///
    /// # Errors
    ///
    /// [`SourceError::NoInterpreter`] when a script was given and nothing that runs it is
    /// installed.
    pub fn new(spec: CommandSpec) -> Result<Command, SourceError> {
        let words = interpreter::find_interpreter(&spec.words, &spec.folder)?;
        Ok(Command { spec, words })
    }

    /// The program and its arguments, with the interpreter that was found.
    pub fn words(&self) -> &[OsString] {
        &self.words
    }

    /// The folder in which the program runs.
    pub fn folder(&self) -> &Path {
        &self.spec.folder
    }

    /// Variables of the environment that the program gets beside ours.
    pub fn environment(&self) -> &[(OsString, OsString)] {
        &self.spec.environment
    }

    /// The command as one line, for people.
    pub fn line(&self) -> String {
        self.spec.words.iter().map(|w| w.to_string_lossy()).collect::<Vec<_>>().join(" ")
    }

    /// Starts it. What it prints goes to `spool`, with a record for the start and one for the end.
    ///
    /// # Errors
    ///
    /// [`SourceError::Start`] when it is not there or may not be run; the spool has no record then.
    pub fn start(
        &self,
        spool: Arc<std::sync::Mutex<SpoolWriter>>,
        bell: Bell,
    ) -> Result<Running, SourceError> {
        crate::left_behind::end_once();
        let token = new_token();
        let mut command = std::process::Command::new(&self.words[0]);
        command
            .args(&self.words[1..])
            .current_dir(&self.spec.folder)
            .envs(self.spec.environment.iter().map(|(name, value)| (name, value)))
            .env(MARK, &token);
        let (err_read, err_write) =
            pipe().map_err(|e| SourceError::system("make a pipe")(e.into()))?;
        let (out_read, input) = if self.spec.pipes {
            let (out_read, out_write) =
                pipe().map_err(|e| SourceError::system("make a pipe")(e.into()))?;
            command.stdout(Stdio::from(out_write)).stdin(if self.spec.inherit_input {
                Stdio::inherit()
            } else {
                Stdio::null()
            });
            apart(&mut command, Signal::SIGHUP);
            (out_read, None)
        } else {
            let terminal = open_terminal()?;
            let slave_out =
                terminal.1.try_clone().map_err(SourceError::system("copy a file handle"))?;
            command.stdout(Stdio::from(slave_out));
            command.stdin(if self.spec.inherit_input {
                Stdio::inherit()
            } else {
                Stdio::from(
                    terminal.1.try_clone().map_err(SourceError::system("copy a file handle"))?,
                )
            });
            let slave = terminal.1;
            // SAFETY: between fork and exec only system calls that are safe there are made.
            unsafe {
                command.pre_exec(move || {
                    nix::unistd::setsid()?;
                    if nix::libc::ioctl(slave.as_raw_fd(), nix::libc::TIOCSCTTY, 0) == -1 {
                        return Err(io::Error::last_os_error());
                    }
                    Ok(nix::sys::prctl::set_pdeathsig(Signal::SIGHUP)?)
                });
            }
            let input =
                terminal.0.try_clone().map_err(SourceError::system("copy a file handle"))?;
            (terminal.0, Some(Arc::new(input)))
        };
        command.stderr(Stdio::from(err_write));
        let name = self.words[0].to_string_lossy().into_owned();
        let child = command.spawn().map_err(|cause| SourceError::Start { command: name, cause })?;
        // The command's own handles of the child's ends have to close, or the end is never seen.
        drop(command);
        let pid = Pid::from_raw(child.id().cast_signed());
        let ended = Arc::new(AtomicBool::new(false));
        let code = Arc::new(AtomicI32::new(0));
        let stopping = Arc::new(AtomicBool::new(false));
        let grace_ms = Arc::new(AtomicU64::new(GRACE.as_millis() as u64));
        let pump = Pump {
            child,
            pid,
            token,
            out: Some(out_read),
            err: Some(err_read),
            spool,
            bell,
            stopping: stopping.clone(),
            grace_ms: grace_ms.clone(),
            cleared: Cleared::default(),
        };
        let (done, exit) = (ended.clone(), code.clone());
        let line = self.line();
        let thread = std::thread::Builder::new()
            .name("command".into())
            .spawn(move || {
                exit.store(pump.run(&line), Ordering::Release);
                done.store(true, Ordering::Release);
            })
            .map_err(SourceError::system("start a thread"))?;
        Ok(Running { pid, input, ended, code, stopping, grace_ms, thread: Some(thread) })
    }
}

/// A mark for one started program. Several may be started within one millisecond; each has to be
/// told from the others.
pub(crate) fn new_token() -> String {
    static STARTED: AtomicU64 = AtomicU64::new(0);
    format!("{}-{}-{}", std::process::id(), crate::now().0, STARTED.fetch_add(1, Ordering::Relaxed))
}

/// Gives a program a session of its own: all it starts can be ended with it, and the terminal in
/// which Izba draws is out of its reach. Even when Izba is killed outright it goes with it, by this
/// signal.
pub(crate) fn apart(command: &mut std::process::Command, with_us: Signal) {
    // SAFETY: between fork and exec only system calls that are safe there are made.
    unsafe {
        command.pre_exec(move || {
            nix::unistd::setsid()?;
            Ok(nix::sys::prctl::set_pdeathsig(with_us)?)
        });
    }
}

fn open_terminal() -> Result<(OwnedFd, OwnedFd), SourceError> {
    let failed = |e: Errno| SourceError::system("open a pseudo-terminal")(e.into());
    let size = nix::pty::Winsize { ws_row: 40, ws_col: 160, ws_xpixel: 0, ws_ypixel: 0 };
    let pair = openpty(Some(&size), None).map_err(failed)?;
    let mut modes = tcgetattr(&pair.slave).map_err(failed)?;
    // Lines arrive as they were written: no carriage return is added.
    modes.output_flags.remove(OutputFlags::OPOST);
    tcsetattr(&pair.slave, SetArg::TCSANOW, &modes).map_err(failed)?;
    for fd in [&pair.master, &pair.slave] {
        let flags = nix::fcntl::FdFlag::FD_CLOEXEC;
        nix::fcntl::fcntl(fd, nix::fcntl::FcntlArg::F_SETFD(flags)).map_err(failed)?;
    }
    Ok((pair.master, pair.slave))
}

/// A command that runs. Dropping it ends the program and all that it started.
#[derive(Debug)]
pub struct Running {
    pid: Pid,
    input: Option<Arc<OwnedFd>>,
    ended: Arc<AtomicBool>,
    code: Arc<AtomicI32>,
    stopping: Arc<AtomicBool>,
    grace_ms: Arc<AtomicU64>,
    thread: Option<JoinHandle<()>>,
}

impl Running {
    /// Whether the program has ended and its last words are in the spool.
    pub fn has_ended(&self) -> bool {
        self.ended.load(Ordering::Acquire)
    }

    /// Its exit code, 128 + signal when a signal ended it; meaningful once it has ended.
    pub fn code(&self) -> i32 {
        self.code.load(Ordering::Acquire)
    }

    /// Sends what the user typed, as if typed at the program's own terminal.
    ///
    /// # Errors
    ///
    /// When the program reads from elsewhere, or is gone.
    pub fn type_in(&self, text: &str) -> Result<(), SourceError> {
        let no_input = || {
            SourceError::system("type to the program")(io::Error::other(
                "it does not read from this terminal",
            ))
        };
        let input = self.input.as_ref().ok_or_else(no_input)?;
        let mut bytes = text.as_bytes();
        while !bytes.is_empty() {
            let written = write(input.as_fd(), bytes)
                .map_err(|e| SourceError::system("type to the program")(e.into()))?;
            bytes = &bytes[written..];
        }
        Ok(())
    }

    /// Asks the program to end; what still lives after a grace of two seconds is killed. Returns at
    /// once.
    pub fn stop(&self) {
        self.stop_within(GRACE);
    }

    /// [`Running::stop`] with another grace.
    pub fn stop_within(&self, grace: Duration) {
        let ms = u64::try_from(grace.as_millis()).unwrap_or(u64::MAX);
        self.grace_ms.fetch_min(ms, Ordering::AcqRel);
        self.stopping.store(true, Ordering::Release);
        let _ = killpg(self.pid, Signal::SIGTERM);
    }

    /// Waits until it has ended.
    pub fn wait(&mut self) {
        if let Some(thread) = self.thread.take() {
            let _ = thread.join();
        }
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        if !self.has_ended() {
            self.stop();
        }
        self.wait();
    }
}

struct Pump {
    child: Child,
    pid: Pid,
    token: String,
    out: Option<OwnedFd>,
    err: Option<OwnedFd>,
    spool: Arc<std::sync::Mutex<SpoolWriter>>,
    bell: Bell,
    stopping: Arc<AtomicBool>,
    grace_ms: Arc<AtomicU64>,
    cleared: Cleared,
}

impl Pump {
    fn run(mut self, line: &str) -> i32 {
        self.append(&Event::Start, line.as_bytes());
        let mut buffer = vec![0u8; 64 * 1024];
        let mut asked_at: Option<Instant> = None;
        let mut known: Vec<Pid> = Vec::new();
        let mut exited: Option<(ExitStatus, Instant)> = None;
        while self.out.is_some() || self.err.is_some() || exited.is_none() {
            self.wait_and_read(&mut buffer);
            if exited.is_none()
                && let Ok(Some(status)) = self.child.try_wait()
            {
                // Nothing that it started outlives it.
                known.extend(self.end_descendants(Signal::SIGTERM));
                exited = Some((status, Instant::now()));
            }
            if self.stopping.load(Ordering::Acquire) && exited.is_none() {
                let since = *asked_at.get_or_insert_with(Instant::now);
                if since.elapsed() > self.grace() {
                    known.extend(self.end_descendants(Signal::SIGKILL));
                }
            }
            if exited.is_some_and(|(_, at)| at.elapsed() > DRAIN.min(self.grace())) {
                break;
            }
        }
        self.append_held();
        known.extend(self.end_descendants(Signal::SIGKILL));
        wait_until_gone(&known, self.child.id(), GONE.min(self.grace()));
        let status = exited.map(|(status, _)| status).or_else(|| self.child.wait().ok());
        let (code, words, well) = match status {
            Some(status) => told(status, self.stopping.load(Ordering::Acquire)),
            None => (1, "ended; how is not known".to_owned(), false),
        };
        self.append(&Event::End { well }, words.as_bytes());
        code
    }

    /// What the program gets to end by itself.
    fn grace(&self) -> Duration {
        Duration::from_millis(self.grace_ms.load(Ordering::Acquire))
    }

    /// Our end of a stream, while it is open.
    fn end_of(&self, stream: Stream) -> Option<&OwnedFd> {
        match stream {
            Stream::Out => self.out.as_ref(),
            Stream::Err => self.err.as_ref(),
        }
    }

    fn wait_and_read(&mut self, buffer: &mut [u8]) {
        let ready: Vec<bool> = {
            let mut waits: Vec<PollFd<'_>> = [&self.out, &self.err]
                .into_iter()
                .flatten()
                .map(|fd| PollFd::new(fd.as_fd(), PollFlags::POLLIN))
                .collect();
            if waits.is_empty() {
                std::thread::sleep(Duration::from_millis(5));
                return;
            }
            match poll(&mut waits, PollTimeout::from(20u8)) {
                Err(_) => return,
                Ok(0) => {
                    drop(waits);
                    return self.append_held();
                }
                Ok(_) => {}
            }
            waits.iter().map(|w| w.revents().is_some_and(|r| !r.is_empty())).collect()
        };
        let mut ready = ready.into_iter();
        for stream in [Stream::Out, Stream::Err] {
            if self.end_of(stream).is_none() || ready.next() != Some(true) {
                continue;
            }
            if stream == Stream::Err {
                // A terminal hands on what was printed a little later than a pipe does, and little
                // at a time. What came before an error is read before it.
                self.read_output(buffer);
            }
            let Some(fd) = self.end_of(stream) else { continue };
            match read(fd.as_fd(), buffer) {
                Ok(0) => self.close(stream),
                Ok(count) => self.append_bytes(stream, &buffer[..count]),
                Err(Errno::EINTR | Errno::EAGAIN) => {}
                // A pseudo-terminal whose last writer is gone says EIO.
                Err(_) => self.close(stream),
            }
        }
    }

    /// Reads the output that is on its way, up to a bound, so that errors are not left waiting.
    fn read_output(&mut self, buffer: &mut [u8]) {
        for _ in 0..OUTPUT_READS {
            let Some(fd) = &self.out else { return };
            let mut waits = [PollFd::new(fd.as_fd(), PollFlags::POLLIN)];
            let more = poll(&mut waits, PollTimeout::from(SETTLE_MS)).is_ok()
                && waits[0].revents().is_some_and(|r| r.contains(PollFlags::POLLIN));
            if !more {
                return;
            }
            match read(fd.as_fd(), buffer) {
                Ok(0) => return self.close(Stream::Out),
                Ok(count) => self.append_bytes(Stream::Out, &buffer[..count]),
                Err(_) => return,
            }
        }
    }

    /// Appends what a program wrote; a terminal's screen that it cleared leaves no blank lines.
    fn append_bytes(&mut self, stream: Stream, bytes: &[u8]) {
        match stream {
            Stream::Out => {
                let kept = self.cleared.take(bytes);
                if !kept.is_empty() {
                    self.append(&Event::Bytes(Stream::Out), &kept);
                }
            }
            Stream::Err => {
                self.append_held();
                self.append(&Event::Bytes(Stream::Err), bytes);
            }
        }
    }

    /// Appends the blank lines behind which nothing came.
    fn append_held(&mut self) {
        let held = self.cleared.rest();
        if !held.is_empty() {
            self.append(&Event::Bytes(Stream::Out), &held);
        }
    }

    fn close(&mut self, stream: Stream) {
        match stream {
            Stream::Out => {
                self.append_held();
                self.out = None;
            }
            Stream::Err => self.err = None,
        }
    }

    fn append(&self, event: &Event, bytes: &[u8]) {
        if let Ok(mut spool) = self.spool.lock() {
            // What finds no room is counted by the spool and told by whoever shows it.
            let _ = spool.append(event, bytes);
        }
        (self.bell)();
        wait_for_reader(&self.spool, &self.stopping);
    }

    fn end_descendants(&self, signal: Signal) -> Vec<Pid> {
        end_marked(self.pid, &self.token, signal)
    }
}

/// How long whoever was ended may still stand in the list of processes.
const GONE: Duration = Duration::from_secs(2);

/// Waits until the system has forgotten these, but for the one that the caller itself has to ask about:
/// what is started next may look whether the one before it is still there.
fn wait_until_gone(all: &[Pid], own: u32, bound: Duration) {
    let begun = Instant::now();
    let there = |pid: &Pid| {
        pid.as_raw().cast_unsigned() != own && Path::new("/proc").join(pid.to_string()).exists()
    };
    while all.iter().any(there) && begun.elapsed() < bound {
        std::thread::sleep(Duration::from_millis(10));
    }
}

/// Signals a program's group, and whatever else carries its mark in its environment; tells whom.
pub(crate) fn end_marked(pid: Pid, token: &str, signal: Signal) -> Vec<Pid> {
    let _ = killpg(pid, signal);
    const LOOKS: usize = 10;
    let mut all = Vec::new();
    for _ in 0..LOOKS {
        let found = marked(|mark| mark == token);
        for pid in &found {
            let _ = kill(*pid, signal);
        }
        all.extend(&found);
        // Whoever may not object could have forked while it was looked for: until none is left.
        if found.is_empty() || signal != Signal::SIGKILL {
            break;
        }
        std::thread::sleep(Duration::from_millis(2));
    }
    all
}

/// Exit code for a caller, the end in words, and whether it is nothing to worry about.
fn told(status: ExitStatus, stopped: bool) -> (i32, String, bool) {
    match (status.code(), status.signal()) {
        (_, Some(signal)) => {
            let name = Signal::try_from(signal).map_or_else(
                |_| format!("signal {signal}"),
                |s| format!("signal {signal}, {}", s.as_str()),
            );
            (
                128 + signal,
                if stopped { "was stopped".to_owned() } else { format!("was ended by {name}") },
                stopped,
            )
        }
        (Some(0), _) => (0, "ended well".to_owned(), true),
        (Some(code), _) => (
            code,
            if stopped { "was stopped".to_owned() } else { format!("ended with exit code {code}") },
            stopped,
        ),
        (None, None) => (1, "ended; how is not known".to_owned(), false),
    }
}

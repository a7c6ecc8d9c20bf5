//! Trying things out beside the user's project: a copy of it, and bounded runs of a program in that
//! copy.

use crate::SourceError;
use crate::command::{apart, end_marked, new_token};
use crate::left_behind::MARK;
use izba_model::Stream;
use nix::poll::{PollFd, PollFlags, PollTimeout, poll};
use nix::sys::resource::{Resource, getrlimit, setrlimit};
use nix::sys::signal::{Signal, killpg};
use nix::unistd::{Pid, read};
use std::ffi::OsString;
use std::fs;
use std::os::fd::{AsFd, OwnedFd};
use std::os::unix::process::CommandExt;
use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// A project larger than this is not copied, in bytes.
pub const COPIED: u64 = 500 << 20;

/// A copy of a project. Dropping it removes it, and ends whatever was started in it.
#[derive(Debug)]
pub struct Copied {
    folder: PathBuf,
    token: String,
    room: Room,
}

/// What a program in a copy may write, in bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Room {
    /// To one file, wherever it lies; the system ends a program that goes on.
    pub file: u64,
    /// To the disk on which the copy lies, while it runs; it is ended then.
    pub disk: u64,
}

impl Default for Room {
    fn default() -> Room {
        Room { file: 256 << 20, disk: 1 << 30 }
    }
}

/// What is run in a copy.
#[derive(Debug, Clone, Default)]
pub struct Program {
    /// The program and its arguments.
    pub words: Vec<OsString>,
    /// Where it runs, within the project.
    pub within: PathBuf,
    /// Variables that it gets.
    pub environment: Vec<(OsString, OsString)>,
    /// What it reads from its standard input.
    pub input: String,
}

/// How a try in a copy of the project ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TryEnd {
    /// The program ended by itself, well or not.
    Ended {
        /// Whether its exit code was 0.
        well: bool,
    },
    /// What it said was enough.
    Enough,
    /// It took longer than it may.
    TooLong,
    /// More was written to the disk while it ran than it may write.
    TooMuch,
    /// Nobody wants to know any more.
    Stopped,
}

impl Copied {
    /// Copies the project at `root` to `folder`, but for what version control keeps. Links that
    /// lead out of it are left out, so that nothing written in the copy can reach the project
    /// itself.
    ///
    /// # Errors
    ///
    /// When it is larger than [`COPIED`], or cannot be read or written.
    pub fn of(root: &Path, folder: &Path) -> Result<Copied, SourceError> {
        let root = root.canonicalize().map_err(SourceError::io("read", root))?;
        fs::create_dir_all(folder).map_err(SourceError::io("make the folder", folder))?;
        let copied = Copied {
            folder: folder.canonicalize().map_err(SourceError::io("read", folder))?,
            token: new_token(),
            room: Room::default(),
        };
        let mut bytes = 0;
        copied.copy(&root, &root, &copied.folder, &mut bytes)?;
        Ok(copied)
    }

    fn copy(
        &self,
        root: &Path,
        from: &Path,
        to: &Path,
        bytes: &mut u64,
    ) -> Result<(), SourceError> {
        for entry in fs::read_dir(from).map_err(SourceError::io("read", from))?.flatten() {
            let (path, name) = (entry.path(), entry.file_name());
            let target = to.join(&name);
            let Ok(kind) = entry.file_type() else { continue };
            if kind.is_symlink() {
                let inside = fs::read_link(&path)
                    .ok()
                    .filter(|l| l.is_relative())
                    .filter(|_| path.canonicalize().is_ok_and(|p| p.starts_with(root)));
                if let Some(link) = inside {
                    let _ = std::os::unix::fs::symlink(link, &target);
                }
            } else if kind.is_dir() {
                // The copy may lie in the project's own folder.
                if [".git", ".hg", ".svn"].iter().any(|v| name == *v)
                    || self.folder.starts_with(&path)
                {
                    continue;
                }
                fs::create_dir_all(&target).map_err(SourceError::io("make the folder", &target))?;
                self.copy(root, &path, &target, bytes)?;
            } else if kind.is_file() {
                *bytes += entry.metadata().map_or(0, |m| m.len());
                if *bytes > COPIED {
                    let why = format!("the project holds more than {} MB", COPIED >> 20);
                    return Err(SourceError::system("copy the project")(std::io::Error::other(
                        why,
                    )));
                }
                fs::copy(&path, &target).map_err(SourceError::io("copy", &path))?;
            }
        }
        Ok(())
    }

    /// Where what the program reads lies: beside the copy, since it is no part of the project.
    fn input(&self) -> PathBuf {
        self.folder.with_extension("input")
    }

    /// The same with other bounds for what is written in it.
    pub fn within(mut self, room: Room) -> Copied {
        self.room = room;
        self
    }

    /// Bytes that are free on the disk of the copy; `None` where the system does not say.
    fn free(&self) -> Option<u64> {
        let disk = nix::sys::statvfs::statvfs(&self.folder).ok()?;
        Some(disk.blocks_available() * disk.fragment_size())
    }

    /// The folder in which the copy lies.
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    /// Writes a file of the copy.
    ///
    /// # Errors
    ///
    /// When it cannot be written.
    pub fn write(&self, path: &str, text: &str) -> Result<(), SourceError> {
        let target = self.folder.join(path);
        fs::write(&target, text).map_err(SourceError::io("write to", &target))
    }

    /// Removes a file of the copy, if it is there.
    pub fn remove(&self, path: &str) {
        let _ = fs::remove_file(self.folder.join(path));
    }

    /// Runs a program in the copy, at most for `bound`. What it says is handed to `hear`, which
    /// tells when it is enough; it is also asked now and then when nothing is said.
    ///
    /// # Errors
    ///
    /// [`SourceError::Start`] when the program cannot be started.
    pub fn run(
        &self,
        program: &Program,
        bound: Duration,
        stop: &AtomicBool,
        hear: &mut dyn FnMut(Stream, &[u8]) -> bool,
    ) -> Result<TryEnd, SourceError> {
        let pipe = || {
            nix::unistd::pipe2(nix::fcntl::OFlag::O_CLOEXEC)
                .map_err(|e| SourceError::system("make a pipe")(e.into()))
        };
        let ((out, out_write), (err, err_write)) = (pipe()?, pipe()?);
        let Program { words, within, environment, input } = program;
        let mut command = std::process::Command::new(&words[0]);
        command
            .args(&words[1..])
            .current_dir(self.folder.join(within))
            .envs(environment.iter().map(|(n, v)| (n, v)))
            .env(MARK, &self.token);
        let given = self.input();
        let input = if input.is_empty() {
            Stdio::null()
        } else {
            fs::write(&given, input).map_err(SourceError::io("write to", &given))?;
            Stdio::from(fs::File::open(&given).map_err(SourceError::io("read", &given))?)
        };
        command.stdin(input).stdout(Stdio::from(out_write)).stderr(Stdio::from(err_write));
        apart(&mut command, Signal::SIGHUP);
        bound_files(&mut command, self.room.file);
        let free = self.free();
        let name = words[0].to_string_lossy().into_owned();
        let mut child =
            command.spawn().map_err(|cause| SourceError::Start { command: name, cause })?;
        drop(command);
        let begun = Instant::now();
        let mut open: Vec<(Stream, OwnedFd)> = vec![(Stream::Out, out), (Stream::Err, err)];
        let mut buffer = vec![0u8; 64 * 1024];
        let end = loop {
            if stop.load(Ordering::Acquire) {
                break TryEnd::Stopped;
            }
            if begun.elapsed() > bound {
                break TryEnd::TooLong;
            }
            let taken = || Some(free?.saturating_sub(self.free()?));
            if taken().is_some_and(|taken| taken > self.room.disk) {
                break TryEnd::TooMuch;
            }
            let ready: Vec<bool> = {
                let mut waits: Vec<PollFd<'_>> =
                    open.iter().map(|(_, fd)| PollFd::new(fd.as_fd(), PollFlags::POLLIN)).collect();
                let _ = poll(&mut waits, PollTimeout::from(20u8));
                waits.iter().map(|w| w.revents().is_some_and(|r| !r.is_empty())).collect()
            };
            let mut enough = false;
            let mut closed = Vec::new();
            for (at, (stream, fd)) in open.iter().enumerate().filter(|(at, _)| ready[*at]) {
                match read(fd.as_fd(), &mut buffer) {
                    Ok(0) | Err(_) => closed.push(at),
                    Ok(count) => enough |= hear(*stream, &buffer[..count]),
                }
            }
            if !ready.contains(&true) {
                enough |= hear(Stream::Out, b"");
            }
            if enough {
                break TryEnd::Enough;
            }
            for at in closed.into_iter().rev() {
                open.remove(at);
            }
            // What it left behind may hold the pipes open; it has ended all the same.
            if open.is_empty() || !ready.contains(&true) && matches!(child.try_wait(), Ok(Some(_)))
            {
                break TryEnd::Ended { well: true };
            }
        };
        // What has closed its output is about to end; how, is worth a moment.
        let by_itself =
            matches!(end, TryEnd::Ended { .. }).then(|| ends_within(&mut child, MOMENT));
        let _ = killpg(Pid::from_raw(child.id().cast_signed()), Signal::SIGKILL);
        let _ = child.wait();
        Ok(by_itself.flatten().map_or(end, |well| TryEnd::Ended { well }))
    }
}

/// No file that the program writes becomes longer than this, in bytes; and it leaves no picture of its
/// memory behind.
fn bound_files(command: &mut std::process::Command, most: u64) {
    // SAFETY: between fork and exec only system calls that are safe there are made.
    unsafe {
        command.pre_exec(move || {
            setrlimit(Resource::RLIMIT_CORE, 0, 0)?;
            let (_, allowed) = getrlimit(Resource::RLIMIT_FSIZE)?;
            let most = most.min(allowed);
            Ok(setrlimit(Resource::RLIMIT_FSIZE, most, most)?)
        });
    }
}

/// How long a program that has closed its output may take to end.
const MOMENT: Duration = Duration::from_millis(500);

/// Whether a program ended well, where it ends by itself so soon.
fn ends_within(child: &mut std::process::Child, moment: Duration) -> Option<bool> {
    let begun = Instant::now();
    loop {
        match child.try_wait() {
            Ok(Some(status)) => return Some(status.success()),
            Ok(None) if begun.elapsed() < moment => std::thread::sleep(Duration::from_millis(2)),
            _ => return None,
        }
    }
}

impl Drop for Copied {
    fn drop(&mut self) {
        // No process of ours has this number; only what carries the mark is meant.
        end_marked(Pid::from_raw(i32::MAX), &self.token, Signal::SIGKILL);
        let _ = fs::remove_file(self.input());
        let _ = fs::remove_dir_all(&self.folder);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Runs a line of the shell in a copy of an empty project.
    fn run(script: &str, room: Room) -> (TryEnd, u64, tempfile::TempDir) {
        let home = tempfile::tempdir().expect("a temporary folder");
        let root = home.path().join("ferry");
        fs::create_dir(&root).expect("room");
        let copied =
            Copied::of(&root, &home.path().join("copy")).expect("it is copied").within(room);
        let words = ["sh", "-c", script].map(OsString::from).to_vec();
        let program = Program { words, ..Program::default() };
        let stop = AtomicBool::new(false);
        let end = copied
            .run(&program, Duration::from_secs(60), &stop, &mut |_, _| false)
            .expect("it starts");
        let files = fs::read_dir(copied.folder()).expect("a folder").flatten();
        let longest = files.filter_map(|f| Some(f.metadata().ok()?.len())).max();
        (end, longest.unwrap_or(0), home)
    }

    #[test]
    fn a_file_that_grows_without_end_stops_at_its_bound() {
        let room = Room { file: 1 << 20, ..Room::default() };
        let (end, longest, _home) = run("exec cat /dev/zero > logbook", room);
        assert_eq!(end, TryEnd::Ended { well: false });
        assert_eq!(longest, 1 << 20);
    }

    #[test]
    fn files_without_end_are_ended_and_gone() {
        let room = Room { disk: 20 << 20, ..Room::default() };
        let script = "n=0; while :; do head -c 1000000 /dev/zero > f$n; n=$((n+1)); done";
        let (end, _, home) = run(script, room);
        assert_eq!(end, TryEnd::TooMuch);
        let left: Vec<_> = fs::read_dir(home.path()).expect("a folder").flatten().collect();
        assert_eq!(left.len(), 1, "the copy is gone: {left:?}");
    }
}

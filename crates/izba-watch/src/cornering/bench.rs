//! A bench: a copy of the project on which versions of it are tried, and whether the error comes.

use super::mistake::{Alike, Mistake, Progress, Start};
use izba_core::Engine;
use izba_model::{Project, ProjectFile, Stream};
use izba_sources::{Copied, Program, TryEnd};
use std::collections::BTreeMap;
use std::ffi::OsString;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::{Duration, Instant};

/// Runs of the whole, before anything is left out.
const FIRST: u32 = 3;
/// A program that has not ended by itself has this long before its error counts as not seen, beyond
/// what it took at first.
const BEYOND: Duration = Duration::from_millis(300);
/// What is said where a program was ended because of what it writes.
pub(super) const TOO_MUCH: &str =
    "more than 1 GB was written to the disk while it ran, so it was ended and nothing is known";
/// The longest first run.
pub(super) const LONGEST: Duration = Duration::from_secs(30);
/// Runs of one try of an error that does not always come.
const REPEATS: u32 = 6;

/// A bench on which versions of the project are tried.
pub(super) struct Bench<'a> {
    start: &'a Start,
    pub(super) copied: Copied,
    pub(super) program: Program,
    mistake: &'a Mistake,
    /// What each file of the copy holds now, where that is not what the project's does.
    written: BTreeMap<Arc<str>, Option<String>>,
    bound: Duration,
    repeats: u32,
    pub(super) alike: Alike,
    begun: Instant,
    runs: u32,
}

impl<'a> Bench<'a> {
    pub(super) fn new(start: &'a Start, mistake: &'a Mistake) -> Result<Bench<'a>, String> {
        let copied = Copied::of(&start.root, &start.beside).map_err(|e| e.sentence())?;
        // Whoever names the project by its whole path means the copy now.
        let root = start.root.canonicalize().unwrap_or_else(|_| start.root.clone());
        let moved = |word: &OsString| {
            Path::new(word)
                .strip_prefix(&root)
                .map_or_else(|_| word.clone(), |p| copied.folder().join(p).into_os_string())
        };
        let program = Program {
            words: start.program.words.iter().map(moved).collect(),
            ..start.program.clone()
        };
        Ok(Bench {
            start,
            copied,
            program,
            mistake,
            written: BTreeMap::new(),
            bound: LONGEST,
            repeats: 1,
            alike: Alike { message: false, line: true, steps: false },
            begun: Instant::now(),
            runs: 0,
        })
    }

    /// Puts these files into the copy in place of what they were; whatever else was changed before
    /// is put back.
    pub(super) fn put(&mut self, texts: &[(Arc<str>, Option<String>)]) -> Result<(), String> {
        let original = |path: &str| self.start.project.file(path).and_then(|f| f.text.as_deref());
        let mut wanted: BTreeMap<Arc<str>, Option<String>> = texts.iter().cloned().collect();
        for path in self.written.keys().filter(|p| !texts.iter().any(|(t, _)| t == *p)) {
            wanted.insert(path.clone(), original(path).map(str::to_owned));
        }
        for (path, text) in &wanted {
            if self.written.get(path) == Some(text) {
                continue;
            }
            match text {
                Some(text) => self.copied.write(path, text).map_err(|e| e.sentence())?,
                None => self.copied.remove(path),
            }
        }
        self.written.extend(wanted);
        Ok(())
    }

    /// The files as they are in the copy now.
    pub(super) fn project(&self) -> Arc<Project> {
        let (mut changed, mut gone) = (Vec::new(), Vec::new());
        for (path, text) in &self.written {
            match text {
                Some(text) => changed
                    .push(ProjectFile { path: path.clone(), text: Some(text.as_str().into()) }),
                None => gone.push(path.clone()),
            }
        }
        // Paths that the program prints are those of the copy.
        Arc::new(
            self.start
                .project
                .with_changes(changed, &gone)
                .at(&self.copied.folder().to_string_lossy()),
        )
    }

    /// Runs the copy once: the error as it came, if it did, and how long that took. `None` when it
    /// was stopped.
    fn once(&mut self, stop: &AtomicBool) -> Result<Option<(Option<Mistake>, Duration)>, String> {
        self.runs += 1;
        let project = self.project();
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source("copy");
        engine.start_run(source, None, project);
        let (begun, mut seen, mut offset, mut quiet) = (Instant::now(), None, 0u64, 0u32);
        let (mistake, alike) = (self.mistake, self.alike);
        let came = |engine: &Engine| {
            engine.groups().iter().map(|g| Mistake::of(g)).find(|m| mistake.is(m, alike))
        };
        let now = |begun: Instant| {
            izba_model::Millis(i64::try_from(begun.elapsed().as_millis()).unwrap_or(i64::MAX))
        };
        let end = self.copied.run(
            &self.program,
            self.bound,
            stop,
            &mut |stream: Stream, bytes: &[u8]| {
                if bytes.is_empty() {
                    // Nothing more comes for now: what was said is whole.
                    quiet += 1;
                    engine.tick(now(begun));
                    if quiet == 1 || quiet.is_multiple_of(10) {
                        seen = came(&engine);
                    }
                    return seen.is_some();
                }
                quiet = 0;
                engine.feed(source, stream, Some(now(begun)), offset, bytes);
                offset += bytes.len() as u64;
                false
            },
        );
        match end.map_err(|e| e.sentence())? {
            TryEnd::Stopped => return Ok(None),
            TryEnd::Enough => {}
            TryEnd::TooMuch => return Err(TOO_MUCH.to_owned()),
            TryEnd::Ended { .. } | TryEnd::TooLong => {
                engine.finish();
                seen = came(&engine);
            }
        }
        Ok(Some((seen, begun.elapsed())))
    }

    /// Whether the error comes with the copy as it is, in any of as many runs as it takes to be
    /// fairly sure.
    pub(super) fn comes(&mut self, stop: &AtomicBool) -> Result<Option<bool>, String> {
        for _ in 0..self.repeats {
            match self.once(stop)? {
                None => return Ok(None),
                Some((Some(_), _)) => return Ok(Some(true)),
                Some((None, _)) => {}
            }
        }
        Ok(Some(false))
    }

    /// Runs the whole a few times, to see how often the error comes and how long to wait for it.
    pub(super) fn settle(&mut self, stop: &AtomicBool) -> Result<Option<(u32, u32)>, String> {
        let (mut seen, mut longest) = (0, Duration::ZERO);
        let mut all: Vec<Mistake> = Vec::new();
        for _ in 0..FIRST {
            let Some((came, took)) = self.once(stop)? else { return Ok(None) };
            if let Some(came) = came {
                seen += 1;
                longest = longest.max(took);
                all.push(came);
            }
        }
        // What was the same each time has to be the same from now on.
        if self.alike.line {
            self.alike.message = all.iter().all(|m| m.message == self.mistake.message);
            self.alike.steps = all.iter().all(|m| m.steps == self.mistake.steps);
        }
        if seen == 0 {
            return Err(format!(
                "the error did not come in {FIRST} runs of a copy of the project, so \
                    nothing can be found out by running it"
            ));
        }
        self.bound = longest * 2 + BEYOND;
        self.repeats = if seen == FIRST { 1 } else { REPEATS };
        Ok(Some((seen, FIRST)))
    }

    /// How long the error may take in one run, once it is known.
    pub(super) fn bound(&self) -> Duration {
        self.bound
    }

    pub(super) fn is_spent(&self) -> bool {
        self.runs >= self.start.budget.0 || self.begun.elapsed() > self.start.budget.1
    }

    pub(super) fn progress(&self, left: (usize, usize), edits: bool, seen: (u32, u32)) -> Progress {
        Progress {
            runs: self.runs,
            left,
            edits,
            trying: String::new(),
            took_ms: u64::try_from(self.begun.elapsed().as_millis()).unwrap_or(u64::MAX),
            seen,
        }
    }
}

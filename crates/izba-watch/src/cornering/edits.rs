//! Which of the user's edits brought an error.

use super::bench::Bench;
use super::mistake::{Mistake, Progress, Start};
use izba_cause::corner::{Hunk, Search, Unit, hunks, with_hunks};
use izba_model::Project;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// One edit of the user's.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Edit {
    /// The file.
    pub file: Arc<str>,
    /// First line in the file as it is now, from 1.
    pub line: u32,
    /// The lines that went.
    pub before: Vec<String>,
    /// The lines that came.
    pub after: Vec<String>,
}

/// A file in both versions.
struct Edited {
    path: Arc<str>,
    old: Option<Arc<str>>,
    new: Option<Arc<str>>,
    hunks: Vec<Hunk>,
}

/// Which of the edits since an earlier version brought the error: the smallest set of them with
/// which it comes.
///
/// # Errors
///
/// As [`corner`]; also when nothing was edited, or the earlier version has the error too.
pub fn corner_edits(
    start: &Start,
    before: &Project,
    mistake: &Mistake,
    stop: &AtomicBool,
    tell: &mut dyn FnMut(&Progress),
) -> Result<(Vec<Edit>, Progress, bool), String> {
    let mut bench = Bench::new(start, mistake)?;
    let mut edits: Vec<(usize, usize)> = Vec::new();
    let mut files: Vec<Edited> = Vec::new();
    let paths: std::collections::BTreeSet<Arc<str>> =
        before.files().iter().chain(start.project.files()).map(|f| f.path.clone()).collect();
    for path in paths {
        let text = |project: &Project| project.file(&path).and_then(|f| f.text.clone());
        let (old, new) = (text(before), text(&start.project));
        if old == new {
            continue;
        }
        let found = match (&old, &new) {
            (Some(old), Some(new)) => hunks(old, new),
            // A file that came or went is one edit.
            _ => vec![Hunk { old: (0, 0), new: (0, 0) }],
        };
        edits.extend((0..found.len()).map(|n| (files.len(), n)));
        files.push(Edited { path, old, new, hunks: found });
    }
    if edits.is_empty() {
        return Err("nothing was edited since then".into());
    }
    // An edit that is left out is one that was not made yet.
    let texts = |without: &[bool]| -> Vec<(Arc<str>, Option<String>)> {
        let text = |at: usize| {
            let Edited { path, old, new, hunks: found } = &files[at];
            let made = |n: usize| {
                edits.iter().position(|e| *e == (at, n)).is_none_or(|unit| !without[unit])
            };
            let text = match (old, new) {
                (Some(old), Some(new)) => Some(with_hunks(old, new, found, made)),
                (old, new) => if made(0) { new } else { old }.as_ref().map(ToString::to_string),
            };
            (path.clone(), text)
        };
        (0..files.len()).map(text).collect()
    };
    // Lines move with the edits that are left out, so they are no mark of the error here.
    bench.alike.line = false;
    let total = edits.len();
    tell(&bench.progress((total, total), true, (0, 0)));
    let Some(seen) = bench.settle(stop)? else {
        return Err("it was stopped before anything was known".into());
    };
    bench.put(&texts(&vec![true; total]))?;
    if bench.comes(stop)? == Some(true) {
        return Err("the error came before these edits too, so none of them brought it".into());
    }
    let mut search = Search::new(vec![Unit::new(None, 0); total]);
    while !bench.is_spent() && !stop.load(Ordering::Acquire) {
        let Some(without) = search.next_try() else { break };
        bench.put(&texts(&without))?;
        let Some(same) = bench.comes(stop)? else { break };
        search.answer(same);
        tell(&bench.progress((search.left(), total), true, seen));
    }
    let lines = |text: &Option<Arc<str>>, (from, to): (usize, usize)| -> Vec<String> {
        text.as_ref().map_or_else(Vec::new, |t| {
            t.lines().skip(from).take(to - from).map(str::to_owned).collect()
        })
    };
    let made = edits.iter().zip(search.gone()).filter(|(_, gone)| !**gone).map(|((at, n), _)| {
        let Edited { path, old, new, hunks: found } = &files[*at];
        let hunk = &found[*n];
        let whole = old.is_none() || new.is_none();
        let span = |text: &Option<Arc<str>>, span| {
            if whole { (0, text.as_ref().map_or(0, |t| t.lines().count())) } else { span }
        };
        Edit {
            file: path.clone(),
            line: hunk.new.0 as u32 + 1,
            before: lines(old, span(old, hunk.old)),
            after: lines(new, span(new, hunk.new)),
        }
    });
    let made = made.collect();
    Ok((made, bench.progress((search.left(), total), true, seen), search.is_over()))
}

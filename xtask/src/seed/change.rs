//! One change of one file, and what all ways to break programs need.

use crate::root;
use std::collections::BTreeMap;
use std::path::PathBuf;

/// Files of a project by their names.
pub type Files = BTreeMap<String, String>;

/// One change of one file.
pub struct Change {
    /// The kind of slip, which the scores are counted by.
    pub slip: &'static str,
    /// Its file, by the name in the program's folder.
    pub file: String,
    /// Line from 1, how many lines go, and what comes instead.
    pub at: usize,
    pub take: usize,
    pub put: Vec<String>,
    /// Lines of the changed file that are guilty.
    pub guilty: (usize, usize),
    /// What was done, for people.
    pub cause: String,
}

impl Change {
    /// What makes `after` of `before`; none if they are the same.
    pub fn between(
        slip: &'static str,
        file: &str,
        before: &str,
        after: &str,
        cause: String,
    ) -> Option<Change> {
        let (old, new): (Vec<&str>, Vec<&str>) =
            (before.lines().collect(), after.lines().collect());
        let head = old.iter().zip(&new).take_while(|(a, b)| a == b).count();
        let left = old.len().min(new.len()) - head;
        let tail =
            old.iter().rev().zip(new.iter().rev()).take(left).take_while(|(a, b)| a == b).count();
        let put = new[head..new.len() - tail].iter().map(|l| (*l).to_owned()).collect::<Vec<_>>();
        let take = old.len() - tail - head;
        // Where nothing came instead, the lines around the gap are the guilty ones.
        let blank = |l: &&str| l.trim().is_empty();
        let guilty = if put.iter().all(|l| l.trim().is_empty()) {
            let gap = new[..head].iter().rev().take_while(|l| blank(l)).count();
            let after = new[head..].iter().take_while(|l| blank(l)).count();
            (head - gap, head + after + 1)
        } else {
            (head + 1, head + put.len())
        };
        (take > 0 || !put.is_empty()).then(|| Change {
            slip,
            file: file.to_owned(),
            at: head + 1,
            take,
            put,
            guilty: (guilty.0.max(1), guilty.1),
            cause,
        })
    }
}

/// Where the programs stand.
pub fn folder() -> PathBuf {
    root().join("cases/faults")
}

/// A number that depends on a text only, to choose among many without chance.
pub fn mix(text: &str) -> u64 {
    text.bytes()
        .fold(0xcbf2_9ce4_8422_2325, |h, b| (h ^ u64::from(b)).wrapping_mul(0x0100_0000_01b3))
}

/// The text after a change.
pub fn apply(text: &str, change: &Change) -> String {
    let mut lines: Vec<&str> = text.lines().collect();
    let put: Vec<&str> = change.put.iter().map(String::as_str).collect();
    lines.splice(change.at - 1..change.at - 1 + change.take, put);
    lines.join("\n") + "\n"
}

//! What somebody wrote about an error: plain Markdown with a head of TOML between lines of `+++`,
//! so that notes can be read, shared and merged without Izba. Found again by words, and offered by
//! themselves when an error like it appears.

mod alike;
mod file;

pub use alike::{Alike, Likely, alike, offered};
pub use file::{Head, Note, NoteProblem};

use crate::GroupView;
use izba_model::{Millis, Project};

/// The parts of a note's body, as its headings name them.
pub const PARTS: [&str; 3] = ["What it meant", "What fixed it", "How to make it happen"];

impl Note {
    /// A note about a group, with nothing written yet but what can be offered: the edit that made
    /// it quiet, as a diff, what was proved in a trial, and how the program was started.
    pub fn about(
        group: &GroupView,
        project: &Project,
        now: Millis,
        diff: Option<&str>,
        proved: Option<&str>,
        start: Option<&str>,
    ) -> Note {
        let entry = &group.entry;
        let place = entry.place.as_ref();
        let head = Head {
            title: group.explanation.short.to_string(),
            family: entry.family.id().to_owned(),
            kind: entry.root_kind.clone(),
            code: entry.report.code.clone(),
            message: if entry.root_message.is_empty() {
                entry.report.message.clone()
            } else {
                entry.root_message.clone()
            },
            shape: group.shape.clone(),
            file: place.map(|p| p.file.to_string()),
            function: entry.function.clone(),
            text: entry
                .line_text
                .as_deref()
                .map(|t| t.split_whitespace().collect::<Vec<_>>().join(" ")),
            project: project.name().to_owned(),
            met: now.to_rfc3339().unwrap_or_default().get(..10).unwrap_or_default().to_owned(),
            tags: Vec::new(),
        };
        let fixed = diff.map_or_else(String::new, |d| {
            format!("```diff\n{}\n```\n", d.trim_end().replace("```", "` ` `"))
        });
        let proved = proved.map_or_else(String::new, |p| format!("Proved in a trial: {p}.\n"));
        let fixed = [fixed, proved].into_iter().filter(|t| !t.is_empty());
        let fixed = fixed.collect::<Vec<_>>().join("\n");
        let start = start.map_or_else(String::new, |s| format!("Start `{}`", s.replace('`', "'")));
        let body = [String::new(), fixed, start]
            .iter()
            .zip(PARTS)
            .map(|(text, part)| format!("## {part}\n\n{text}\n"))
            .collect::<Vec<_>>()
            .join("\n");
        Note { head, body }
    }

    /// What stands under one of the headings of [`PARTS`]; empty where there is none.
    pub fn part(&self, heading: &str) -> &str {
        let mark = format!("## {heading}");
        let Some(at) = self.body.lines().position(|l| l.trim_end() == mark) else { return "" };
        let begin = self.body.split_inclusive('\n').take(at + 1).map(str::len).sum::<usize>();
        let rest = &self.body[begin..];
        let mut open = false;
        let mut end = rest.len();
        let mut length = 0;
        for line in rest.split_inclusive('\n') {
            // A heading inside a fence is text.
            open ^= line.trim_start().starts_with("```");
            if !open && line.starts_with("## ") {
                end = length;
                break;
            }
            length += line.len();
        }
        rest[..end].trim()
    }

    /// Its first sentence about what it meant, for a line.
    pub fn meant(&self) -> &str {
        let meant = self.part(PARTS[0]);
        meant.lines().find(|l| !l.trim().is_empty()).unwrap_or("").trim()
    }

    /// Whether all of these words, in small letters, stand somewhere in it.
    pub fn holds(&self, words: &[String]) -> bool {
        let head = &self.head;
        let parts = [&head.title, &head.family, &head.message, &head.project, &self.body];
        let more = [&head.kind, &head.code, &head.file, &head.function, &head.text];
        let all = parts
            .into_iter()
            .chain(more.into_iter().flatten())
            .chain(&head.tags)
            .map(|t| t.to_lowercase())
            .collect::<Vec<_>>()
            .join("\n");
        words.iter().all(|w| all.contains(w))
    }

    /// A name for its file: what it says, in letters that every file system bears.
    pub fn file_name(&self) -> String {
        let mut name = String::new();
        for c in self.head.title.to_lowercase().chars() {
            match c {
                c if c.is_ascii_alphanumeric() => name.push(c),
                _ if !name.ends_with('-') && !name.is_empty() => name.push('-'),
                _ => {}
            }
            if name.len() >= 48 {
                break;
            }
        }
        let name = name.trim_end_matches('-');
        if name.is_empty() { "note".into() } else { name.to_owned() }
    }
}

//! Answers without a screen: the groups as JSON lines (a public contract) and as text for people.

use crate::engine::Engine;
use crate::group::{GroupView, State};
use crate::model::{Cause, StackFrame};
use crate::text::SafeText;
use serde::Serialize;
use std::fmt::Write;

/// Version of the contract; it changes when a field changes its meaning.
pub const VERSION: u32 = 1;

#[derive(Serialize)]
struct FrameOut<'a> {
    file: Option<&'a str>,
    line: Option<u32>,
    column: Option<u32>,
    function: Option<&'a str>,
    own: bool,
}

#[derive(Serialize)]
struct CauseOut<'a> {
    kind: Option<&'a str>,
    message: &'a str,
    file: Option<&'a str>,
    line: Option<u32>,
}

/// One group as `izba read --as jsonl` prints it. What has no meaning yet is null or empty.
#[derive(Serialize)]
struct GroupOut<'a> {
    v: u32,
    rank: usize,
    level: &'a str,
    family: &'a str,
    kind: Option<&'a str>,
    code: Option<&'a str>,
    message: &'a str,
    shape: String,
    file: Option<&'a str>,
    line: Option<u32>,
    column: Option<u32>,
    function: Option<&'a str>,
    object: Option<&'a str>,
    handler: Option<&'a str>,
    frames: Vec<FrameOut<'a>>,
    causes: Vec<CauseOut<'a>>,
    count: u64,
    first: Option<String>,
    last: Option<String>,
    state: Option<State>,
    muted: bool,
    follows: Option<usize>,
    source: &'a str,
    suspects: [(); 0],
    reasons: [(); 0],
    explanation: String,
}

fn frame_out(frame: &StackFrame) -> FrameOut<'_> {
    FrameOut {
        file: frame.own.as_deref().or(frame.file.as_deref()),
        line: frame.line,
        column: frame.column.map(|c| c.number),
        function: frame.function.as_deref(),
        own: frame.own.is_some(),
    }
}

fn cause_out(cause: &Cause) -> CauseOut<'_> {
    let place = cause.frames.iter().find(|f| f.own.is_some()).or(cause.frames.first());
    CauseOut {
        kind: cause.kind.as_deref(),
        message: &cause.message,
        file: place.and_then(|f| f.own.as_deref().or(f.file.as_deref())),
        line: place.and_then(|f| f.line),
    }
}

fn group_out<'a>(rank: usize, group: &'a GroupView, source: &'a str) -> GroupOut<'a> {
    let entry = &*group.entry;
    let report = &entry.report;
    GroupOut {
        v: VERSION,
        rank,
        level: report.level.word(),
        family: entry.family.id,
        kind: report.kind.as_deref(),
        code: report.code.as_deref(),
        message: &report.message,
        shape: crate::group::shape(&report.message),
        file: entry.place.as_ref().map(|p| p.file.as_ref()),
        line: entry.place.as_ref().and_then(|p| p.line),
        column: entry.column().map(|c| c.number),
        function: entry.function.as_deref(),
        object: report.object.as_deref(),
        handler: report.handler.as_deref(),
        frames: report.frames.iter().map(frame_out).collect(),
        causes: report.causes.iter().map(cause_out).collect(),
        count: group.count,
        first: group.first.and_then(|t| t.to_rfc3339()),
        last: group.last.and_then(|t| t.to_rfc3339()),
        state: None,
        muted: false,
        follows: None,
        source,
        suspects: [],
        reasons: [],
        explanation: format!("{} {}", group.explanation.headline, group.explanation.plain.join(" ")),
    }
}

/// The groups as JSON lines, one object each, most important first.
pub fn jsonl(engine: &Engine) -> String {
    let names: Vec<String> = engine.snapshot().sources.into_iter().map(|s| s.name).collect();
    let mut out = String::new();
    for (at, group) in engine.groups().iter().enumerate() {
        let source = names.get(group.source).map_or("", String::as_str);
        // A struct of strings and numbers always has a JSON form.
        out.push_str(&serde_json::to_string(&group_out(at + 1, group, source)).unwrap_or_default());
        out.push('\n');
    }
    out
}

/// `1 error`, `2 errors`.
pub fn counted(count: u64, one: &str, many: &str) -> String {
    format!("{} {}", thousands(count), if count == 1 { one } else { many })
}

/// A number with thin groups of three: `41 802`.
pub fn thousands(number: u64) -> String {
    let digits = number.to_string();
    let mut out = String::new();
    for (at, digit) in digits.chars().enumerate() {
        if at > 0 && (digits.len() - at).is_multiple_of(3) {
            out.push(' ');
        }
        out.push(digit);
    }
    out
}

/// The groups as text: a sentence on top, then each group with its place and the console's own words.
pub fn text(engine: &Engine) -> String {
    let groups = engine.groups();
    let mut out = String::new();
    if let Some(sentence) = engine.unexplained_end() {
        let _ = writeln!(out, "{}", SafeText::new(&sentence));
    }
    let Some(first) = groups.first() else {
        let _ = writeln!(out, "No errors and no warnings in {}.", counted(engine.rows(), "line", "lines"));
        return out;
    };
    let _ = writeln!(out, "Fix first: {}", SafeText::new(&first.explanation.headline.to_string()));
    let _ = writeln!(out, "{} in {}\n", counted(groups.len() as u64, "group", "groups"), counted(engine.rows(), "line", "lines"));
    for group in &groups {
        let entry = &*group.entry;
        let _ = writeln!(
            out,
            "{:>8}  {:<8} {}",
            format!("{}×", thousands(group.count)),
            entry.report.level.word(),
            SafeText::new(&group.explanation.short)
        );
        let mut details: Vec<String> = Vec::new();
        if let Some(place) = &entry.place {
            details.push(place.line.map_or(place.file.to_string(), |line| format!("{}:{line}", place.file)));
        }
        details.extend(entry.function.as_ref().map(|f| format!("in {f}")));
        details.extend(entry.report.object.as_ref().map(|o| format!("object {o}")));
        if !details.is_empty() {
            let _ = writeln!(out, "{:19}{}", "", SafeText::new(&details.join("  ")));
        }
        let kind = entry.report.kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
        let _ = writeln!(out, "{:19}It says: {}", "", SafeText::new(&format!("{kind}{}", entry.report.message)));
        if entry.root_message != entry.report.message {
            let kind = entry.root_kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
            let _ = writeln!(out, "{:19}because: {}", "", SafeText::new(&format!("{kind}{}", entry.root_message)));
        }
        for line in group.explanation.plain.iter().flat_map(|p| crate::text::wrap(p, 80)) {
            let _ = writeln!(out, "{:19}{}", "", SafeText::new(&line));
        }
        out.push('\n');
    }
    if engine.project().files().is_empty() {
        let _ = writeln!(
            out,
            "No source was found in {}, so no line could be told; name your project's folder with --project.",
            SafeText::new(engine.project().root())
        );
    }
    out
}

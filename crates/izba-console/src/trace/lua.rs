//! Lua 5.4: `file:line: message`, from the interpreter, from an engine's prefix or from a caught
//! error, and its traceback.

use super::general::indented_step;
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Run-time and parse errors of Lua.
pub static READER: Reader = Reader {
    id: "lua",
    name: "Lua",
    begins,
    sample: "lua5.4: scripts/lantern.lua:42: attempt to index a nil value (local 'wick')",
};

static INTERPRETER: Pattern = Pattern::new(r"^(?:\S*/)?lua(?:jit)?[\d.]*: ");

/// Sentences that only the language itself says.
static SAYS_LUA: Pattern = Pattern::new(concat!(
    r"^attempt to (?:index|call|perform|concatenate|get length|compare|yield",
    r"|resume|modify|divide|use|assign)|^bad argument #\d+ to |",
    r"(?:expected|symbol|string|number|comment|error|escape sequence|sequence",
    r"|block) (?:\((?:to close .* at|starting at) line \d+\) )?near ",
    r"|^'[^']+' expected|",
    r"^number has no integer|^stack overflow|^module '.*' not found|^(?:label",
    r"|break|goto|no visible label)|^invalid |^wrong number of arguments"
));

/// Of native code older Lua says nothing and LuaJIT its address.
static STEP: Pattern = Pattern::new(concat!(
    r"^\t(?:(?P<place>\[C\]|.+?)(?::(?P<line>\d+))?: in (?P<what>.+)",
    r"|\[C\]: (?:\?|at 0x[0-9a-fA-F]+))$"
));

#[derive(Debug)]
struct Lua {
    report: Report,
    in_traceback: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let interpreter = INTERPRETER.find(start.text);
    if start.rest().starts_with("stack traceback:") {
        // Printed under a sentence that had no other sign of being an error.
        let before = start.before?;
        let prefix = crate::read::split_prefix(before);
        let rest = &before[prefix.rest_at..];
        // What stands above a traceback is what it is about, with a place or without.
        let said = |rest: &str| {
            (SAYS_LUA.is_match(rest) || rest.contains(": "))
                .then(|| Report::new(READER.id, Level::Error, rest.trim()))
        };
        let mut report = read_sentence(rest, Level::Error).or_else(|| said(rest))?;
        report.object = prefix.object;
        report.handler = prefix.handler;
        return Some(Begin {
            confidence: 80,
            draft: Box::new(Lua { report, in_traceback: true }),
            takes_before: true,
            joins_record: false,
            yields: false,
        });
    }
    let rest = match &interpreter {
        Some(found) => &start.text[found.end()..],
        None => start.rest(),
    };
    let level = start.prefix.level.unwrap_or(Level::Error);
    if level < Level::Warning {
        return None;
    }
    let Some(mut report) = read_sentence(rest, level).or_else(|| in_brackets(rest, level)) else {
        let report = Report::new(READER.id, Level::Error, rest.trim());
        return interpreter.and_then(|_| Begin::new(80, Lua { report, in_traceback: false }));
    };
    if interpreter.is_none() && start.prefix.level.is_none() && !SAYS_LUA.is_match(&report.message)
    {
        return None;
    }
    report.object = start.prefix.object.clone();
    report.handler = start.prefix.handler.clone();
    Begin::new(80, Lua { report, in_traceback: false })
}

/// `(name of a chunk):line: message`: a piece of Lua that an engine named by what it is for; only
/// with a sentence of the language.
fn in_brackets(text: &str, level: Level) -> Option<Report> {
    static NAMED: Pattern = Pattern::new(
        r"^(?:\S{1,3} )?(?P<chunk>\([^()]{1,60}\)):(?P<line>\d{1,7}): (?P<message>.+)$",
    );
    let found = NAMED.found(text)?;
    let message = found["message"].trim();
    if !SAYS_LUA.is_match(message) {
        return None;
    }
    let mut report = Report::new(READER.id, level, message);
    report.head = Some(StackFrame {
        file: Some(found["chunk"].to_owned()),
        line: found["line"].parse().ok(),
        ..StackFrame::default()
    });
    report.head_leads = false;
    Some(report)
}

/// `place: message`, where the place is a Lua file or a chunk with a name.
fn read_sentence(text: &str, level: Level) -> Option<Report> {
    if !text.contains(".lua") && !text.contains("[string ") {
        return None;
    }
    let place = find_place(text, 0)?;
    let lua_file = place.file.ends_with(".lua") || place.file.starts_with("[string ");
    // A caught error is often told behind a few words.
    let near_start = text[..place.span.0].split_whitespace().count() <= 6;
    let after = text[place.span.1..].strip_prefix(": ")?;
    if !lua_file || !near_start || place.column.is_some() {
        return None;
    }
    // An error that was caught and raised again carries both places; the inner one is where it
    // began.
    let again = find_place(after, 0)
        .filter(|p| p.span.0 == 0 && p.column.is_none() && after[p.span.1..].starts_with(": "));
    // Behind words of the program's own it is told within them.
    let within = || {
        let at = after.find(".lua:")?;
        let from = after[..at].rfind([' ', '\'', '"', '(', '<']).map_or(0, |n| n + 1);
        let inner = find_place(after, from).filter(|p| p.span.0 == from && p.column.is_none())?;
        let said = after[inner.span.1..].strip_prefix(": ")?;
        SAYS_LUA.is_match(said).then_some(inner)
    };
    let (file, line, message) = match again {
        Some(inner) => (inner.file, inner.line, &after[inner.span.1 + 2..]),
        None => match within() {
            Some(inner) => (inner.file, inner.line, after),
            None => (place.file, place.line, after),
        },
    };
    let mut report = Report::new(READER.id, level, message.trim());
    report.head =
        Some(StackFrame { file: Some(file.to_owned()), line: Some(line), ..StackFrame::default() });
    Some(report)
}

/// One step of a traceback.
pub(super) fn step(text: &str) -> Option<StackFrame> {
    let step = STEP.found(text)?;
    let place = step.name("place").map(|p| p.as_str()).filter(|p| *p != "[C]");
    Some(StackFrame {
        file: place.map(str::to_owned),
        line: step.name("line").and_then(|l| l.as_str().parse().ok()),
        function: step.name("what").and_then(|what| function_name(what.as_str())),
        ..StackFrame::default()
    })
}

impl Draft for Lua {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        if text.trim() == "stack traceback:" {
            self.in_traceback = true;
            return Take::Took;
        }
        if let Some(frame) = step(text) {
            if self.report.frames.len() < FRAME_CAP {
                self.report.frames.push(frame);
            }
            return Take::Took;
        }
        // What could not be loaded, and below it why.
        if self.report.message.ends_with(':')
            && !self.in_traceback
            && text.starts_with('\t')
            && let Some(why) = read_sentence(text.trim(), self.report.level)
        {
            self.report = why;
            return Take::Took;
        }
        let folded = text.starts_with("\t...") || text.starts_with("\t(...tail calls...)");
        let searched = text.starts_with("\tno ") && self.report.message.contains("not found");
        if folded || searched {
            return Take::Took;
        }
        match indented_step(text).filter(|_| !self.in_traceback) {
            Some(frame) => {
                self.report.frames.push(frame);
                Take::Took
            }
            None => Take::Refused,
        }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

fn function_name(what: &str) -> Option<String> {
    if what == "?" {
        return None;
    }
    if what == "main chunk" {
        return Some(what.to_owned());
    }
    let quoted = what.find(['\'', '`']).map(|at| what[at + 1..].trim_end_matches('\'').to_owned());
    quoted
        .or_else(|| what.strip_prefix("function ").map(str::to_owned))
        .or_else(|| Some(what.to_owned()))
}

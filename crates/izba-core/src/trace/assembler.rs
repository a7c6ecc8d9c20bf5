//! Puts the lines of one stream together into entries, asking the readers.

use super::{Begin, Draft, READERS, Start, Take};
use crate::model::{Level, Millis, Report};
use crate::project::Project;
use crate::read::split_prefix;
use std::collections::VecDeque;

/// An entry longer than this ends here; a trace does not go on for ever.
const LINES_CAP: u64 = 20_000;

/// From this confidence on a line is a header that has no sentence of its own and may stand under any record of an error.
const HEADER_ONLY: u8 = 90;

/// A line that is only the head of a record: a date with a time of day, and names.
static HEADED: std::sync::LazyLock<regex::Regex> = std::sync::LazyLock::new(|| {
    regex::Regex::new(r"^(?:[A-Z][a-z]{2} \d{1,2}, \d{4},? \d{1,2}:\d\d:\d\d [AP]M|\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d\S*) [\w.$]+(?: [\w$<>]+)?$")
        .expect("the pattern is fixed")
});

/// Lines that may wait for one that decides about them.
const HELD_CAP: usize = 16;

/// An entry with the lines it takes up.
#[derive(Debug, Clone)]
pub struct Assembled {
    /// What was understood.
    pub report: Report,
    /// Number of its first line in the source.
    pub first_line: u64,
    /// Number of its last line.
    pub last_line: u64,
    /// When the first line arrived.
    pub time: Option<Millis>,
}

#[derive(Debug)]
struct Open {
    draft: Box<dyn Draft>,
    record: Option<Report>,
    first_line: u64,
    last_line: u64,
    time: Option<Millis>,
}

#[derive(Debug)]
struct Seen {
    number: u64,
    time: Option<Millis>,
    text: String,
}

/// One stream's lines on their way into entries. Only entries come out; ordinary lines pass.
#[derive(Debug, Default)]
pub struct Assembler {
    open: Option<Open>,
    held: VecDeque<Seen>,
    before: Option<Seen>,
    newest: Option<Millis>,
    /// Whether the open entry's first line bore a time, as log records do.
    timed: bool,
}

impl Assembler {
    /// Looks at the next line and hands entries that are now complete to `out`.
    pub fn line(&mut self, number: u64, time: Option<Millis>, text: &str, project: &Project, out: &mut impl FnMut(Assembled)) {
        self.newest = time.or(self.newest);
        if self.open.is_none() && !may_matter(text) {
            self.remember(number, time, text);
            return;
        }
        let mut queue = VecDeque::from([Seen { number, time, text: text.to_owned() }]);
        while let Some(seen) = queue.pop_front() {
            if let Some(open) = &mut self.open {
                let take = if open.last_line - open.first_line > LINES_CAP { Take::Refused } else { take(open.draft.as_mut(), &seen.text, project) };
                match take {
                    Take::Took => {
                        open.last_line = seen.number;
                        self.held.clear();
                        continue;
                    }
                    Take::Held if self.held.len() < HELD_CAP => {
                        self.held.push_back(seen);
                        continue;
                    }
                    _ => {}
                }
                // Lines that waited in vain are looked at anew, in their order, before this one.
                if !self.held.is_empty() {
                    self.close(out);
                    queue.push_front(seen);
                    while let Some(waiting) = self.held.pop_back() {
                        queue.push_front(waiting);
                    }
                    continue;
                }
                let joined = self.begin_under_record(&seen, project);
                if joined {
                    continue;
                }
                self.close(out);
            }
            self.begin(seen, project);
        }
    }

    /// Ends the stream: what is open is complete.
    pub fn finish(&mut self, project: &Project, out: &mut impl FnMut(Assembled)) {
        while self.open.is_some() {
            self.close(out);
            let mut held = std::mem::take(&mut self.held);
            while let Some(seen) = held.pop_front() {
                self.line(seen.number, seen.time, &seen.text, project, out);
            }
        }
    }

    /// When this stream's newest line arrived.
    pub fn newest(&self) -> Option<Millis> {
        self.newest
    }

    /// The open entry as it would be if nothing followed.
    pub fn peek(&self) -> Option<Assembled> {
        self.open.as_ref().and_then(assembled)
    }

    fn remember(&mut self, number: u64, time: Option<Millis>, text: &str) {
        let slot = self.before.get_or_insert_with(|| Seen { number, time, text: String::new() });
        slot.number = number;
        slot.time = time;
        slot.text.clear();
        let end = (0..=text.len().min(4096)).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
        slot.text.push_str(&text[..end]);
    }

    fn begin(&mut self, seen: Seen, project: &Project) {
        let Some(begin) = surest(&seen.text, self.before.as_ref().map(|b| b.text.as_str()), project) else {
            self.remember(seen.number, seen.time, &seen.text);
            return;
        };
        // Some logs put time and logger on a line of their own.
        let above = || self.before.as_ref().is_some_and(|b| HEADED.is_match(&b.text));
        self.timed = split_prefix(&seen.text).timed || above();
        let before = self.before.take().filter(|_| begin.takes_before);
        let (first_line, time) = before.map_or((seen.number, seen.time), |b| (b.number, b.time));
        self.open = Some(Open { draft: begin.draft, record: None, first_line, last_line: seen.number, time });
    }

    /// A log record of one line with an exception right under it is one entry.
    fn begin_under_record(&mut self, seen: &Seen, project: &Project) -> bool {
        let Some(open) = &mut self.open else { return false };
        if open.record.is_some() || open.last_line != open.first_line || !may_matter(&seen.text) {
            return false;
        }
        let Some(record) = open.draft.report().filter(|r| r.reader == super::general::READER.id) else { return false };
        let Some(begin) = surest(&seen.text, Some(&record.message), project)
            .filter(|b| b.takes_before || b.joins_record && (self.timed || b.confidence >= HEADER_ONLY && record.level >= Level::Error))
        else {
            return false;
        };
        open.draft = begin.draft;
        open.record = Some(record);
        open.last_line = seen.number;
        true
    }

    fn close(&mut self, out: &mut impl FnMut(Assembled)) {
        if let Some(open) = self.open.take()
            && let Some(done) = assembled(&open)
        {
            out(done);
        }
        self.before = None;
    }
}

/// Hands a line to a draft; one that bears a prefix of its own, as each line of a log does, also without it.
fn take(draft: &mut dyn Draft, text: &str, project: &Project) -> Take {
    let whole = draft.take(text, project);
    if whole != Take::Refused {
        return whole;
    }
    let prefix = split_prefix(text);
    if !prefix.timed || prefix.rest_at == 0 {
        return whole;
    }
    // Only what is surely a part of the entry: a step, a cause. A sentence is a record of its own.
    match draft.take(&text[prefix.rest_at..], project) {
        Take::Took => Take::Took,
        Take::Held | Take::Refused => Take::Refused,
    }
}

fn assembled(open: &Open) -> Option<Assembled> {
    let mut report = match (open.draft.report(), &open.record) {
        (Some(report), _) => report,
        (None, Some(record)) => record.clone(),
        (None, None) => return None,
    };
    if let Some(record) = &open.record {
        report.level = report.level.max(record.level);
        report.object = report.object.or_else(|| record.object.clone());
        report.handler = report.handler.or_else(|| record.handler.clone());
    }
    Some(Assembled { report, first_line: open.first_line, last_line: open.last_line, time: open.time })
}

fn surest(text: &str, before: Option<&str>, project: &Project) -> Option<Begin> {
    if !may_matter(text) {
        return None;
    }
    let prefix = split_prefix(text);
    let start = Start { text, prefix: &prefix, before, project };
    READERS.iter().filter_map(|reader| (reader.begins)(&start)).max_by_key(|begin| begin.confidence)
}

/// The quick reject: most lines of a console can be seen at once to begin no entry.
fn may_matter(text: &str) -> bool {
    use std::sync::LazyLock;
    static SIGNS: LazyLock<regex::bytes::Regex> = LazyLock::new(|| {
        regex::bytes::Regex::new(concat!(
            r"(?i-u)error|\berr|warn|fatal|panic|crit|severe|exception|traceback|unhandled|fault|alert|emerg|^lua|python\S*: can|^\S*\.\w+$|",
            // RFC 5424 says how grave a line is in a number; rulers begin reports.
            r#""\w*(?:level|severity|lvl|prio\w*|sev)\w*" ?: ?(?:[0-4]\b|[4-9]\d|\d{3})|"#,
            r"^\{$|terminat|dumped|Precondition|^[ew]: |[VDIWEFA]/\w|^fail: |^Assertion failed|^panic: |panicked|\.go:\d|:in [`']| line \d+\.?$|unterminated|unexpected|undefined reference|^[WEFC][,\d]|\d [WEFC] |",
            r"[=~*#_-]{4}|",
            r#"\[string "|^[\t ]+at |^[\t ]*file |\.\w{1,8}(?::\d|\(\d)"#
        ))
        .expect("the pattern is fixed")
    });
    grave_number(text.as_bytes()) || SIGNS.is_match(text.as_bytes())
}

/// Whether a line begins with a priority of syslog, `<PRI>`, whose severity is that of a warning or worse.
fn grave_number(text: &[u8]) -> bool {
    let Some(rest) = text.strip_prefix(b"<") else { return false };
    let digits = rest.iter().take(4).take_while(|b| b.is_ascii_digit()).count();
    let number = rest[..digits].iter().fold(0u32, |n, b| n * 10 + u32::from(b - b'0'));
    digits > 0 && rest.get(digits) == Some(&b'>') && number % 8 <= 4
}

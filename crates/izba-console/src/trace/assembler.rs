//! Puts the lines of one stream together into entries, asking the readers.

use super::{Begin, Draft, READERS, Start, Take};
use crate::read::Reading;
use crate::read::may_matter;
use crate::read::{Layouts, Prefix};
use izba_model::moment::{Printed, printed};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Millis, Report};
use std::collections::VecDeque;

/// An entry longer than this ends here; a trace does not go on for ever.
const LINES_CAP: u64 = 20_000;

/// From this confidence on a line is a header that has no sentence of its own and may stand under
/// any record of an error.
const HEADER_ONLY: u8 = 90;

/// A line that is only the head of a record: a date with a time of day, and names.
static HEADED: Pattern = Pattern::new(concat!(
    r"^(?:[A-Z][a-z]{2} \d{1,2}, \d{4},? \d{1,2}:\d\d:\d\d [AP]M",
    r"|\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d\S*) [\w.$]+(?: [\w$<>]+)?$"
));

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
    printed: Option<Printed>,
    speaker: Option<String>,
    thrown: bool,
    thread: Option<String>,
}

#[derive(Debug)]
struct Seen {
    number: u64,
    time: Option<Millis>,
    text: String,
}

impl Open {
    /// Hands a line to the draft, unless the entry is as long as any may be.
    fn offer(&mut self, text: &str, reading: Reading<'_>) -> Take {
        if self.last_line - self.first_line > LINES_CAP {
            Take::Refused
        } else {
            take(self.draft.as_mut(), text, reading)
        }
    }
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
    pub fn line(
        &mut self,
        number: u64,
        time: Option<Millis>,
        text: &str,
        reading: Reading<'_>,
        out: &mut impl FnMut(Assembled),
    ) {
        self.newest = time.or(self.newest);
        if self.open.is_none() && !may_matter(text, reading) {
            self.pass(number, time, text);
            return;
        }
        // Nearly all lines of an entry are taken at once; those are not copied.
        let mut answer = match &mut self.open {
            Some(open) if self.held.is_empty() => Some(open.offer(text, reading)),
            _ => None,
        };
        if let (Some(Take::Took), Some(open)) = (answer, &mut self.open) {
            open.last_line = number;
            return;
        }
        let mut queue = VecDeque::from([Seen { number, time, text: text.to_owned() }]);
        while let Some(seen) = queue.pop_front() {
            if let Some(open) = &mut self.open {
                let take = answer.take().unwrap_or_else(|| open.offer(&seen.text, reading));
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
                let joined = self.begin_under_record(&seen, reading);
                if joined {
                    continue;
                }
                self.close(out);
            }
            self.begin(seen, reading);
        }
    }

    /// Moves all numbers of lines down by `lines`.
    pub(crate) fn shift(&mut self, lines: u64) {
        if let Some(open) = &mut self.open {
            open.first_line += lines;
            open.last_line += lines;
        }
        self.held.iter_mut().chain(&mut self.before).for_each(|seen| seen.number += lines);
    }

    /// Ends the stream: what is open is complete.
    pub fn finish(&mut self, reading: Reading<'_>, out: &mut impl FnMut(Assembled)) {
        while self.open.is_some() {
            self.close(out);
            let mut held = std::mem::take(&mut self.held);
            while let Some(seen) = held.pop_front() {
                self.line(seen.number, seen.time, &seen.text, reading, out);
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

    /// The thread that the first line of an open exception names: of what comes next, its steps may
    /// name it too.
    pub fn thread(&self) -> Option<&str> {
        self.open.as_ref().filter(|open| open.thrown)?.thread.as_deref()
    }

    /// Number of the first line of the open entry.
    pub fn first_line(&self) -> Option<u64> {
        self.open.as_ref().map(|open| open.first_line)
    }

    /// Number of the last line of the open entry.
    pub fn last_line(&self) -> Option<u64> {
        self.open.as_ref().map(|open| open.last_line)
    }

    /// Whether no entry is open: a line that may begin none changes nothing then.
    pub fn is_idle(&self) -> bool {
        self.open.is_none()
    }

    /// Notes the last of the lines that may begin no entry, while none is open.
    pub fn pass(&mut self, number: u64, time: Option<Millis>, text: &str) {
        self.newest = time.or(self.newest);
        let slot = self.before.get_or_insert_with(|| Seen { number, time, text: String::new() });
        slot.number = number;
        slot.time = time;
        slot.text.clear();
        let end =
            (0..=text.len().min(4096)).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
        slot.text.push_str(&text[..end]);
    }

    fn begin(&mut self, seen: Seen, reading: Reading<'_>) {
        let prefix = if may_matter(&seen.text, reading) {
            Some(reading.layouts.prefix(&seen.text))
        } else {
            None
        };
        let begin = prefix.as_ref().and_then(|prefix| {
            surest(&seen.text, prefix, self.before.as_ref().map(|b| b.text.as_str()), reading)
        });
        let (Some(begin), Some(prefix)) = (begin, prefix) else {
            self.pass(seen.number, seen.time, &seen.text);
            return;
        };
        // Some logs put time and logger on a line of their own.
        let above = || self.before.as_ref().is_some_and(|b| HEADED.is_match(&b.text));
        self.timed = prefix.timed || above();
        let speaker = prefix.name.or_else(|| reading.layouts.speaker(&seen.text));
        let printed = prefix.time.and_then(|(from, to)| printed(&seen.text[from..to]));
        let before = self.before.take().filter(|_| begin.takes_before);
        let (first_line, time) = before.map_or((seen.number, seen.time), |b| (b.number, b.time));
        self.open = Some(Open {
            draft: begin.draft,
            record: None,
            first_line,
            last_line: seen.number,
            time,
            printed,
            speaker,
            thrown: begin.joins_record,
            thread: prefix.thread,
        });
    }

    /// A log record of one line with an exception right under it is one entry.
    fn begin_under_record(&mut self, seen: &Seen, reading: Reading<'_>) -> bool {
        let Some(open) = &mut self.open else { return false };
        if open.record.is_some()
            || open.last_line != open.first_line
            || !may_matter(&seen.text, reading)
        {
            return false;
        }
        // What has a level of its own beside a time or number is the next record, whatever it
        // holds.
        let own = reading.layouts.prefix(&seen.text);
        if own.level.is_some() && own.timed {
            return false;
        }
        let Some(record) = open.draft.report().filter(|r| r.reader == super::general::READER.id)
        else {
            return false;
        };
        let Some(begin) = surest(&seen.text, &own, Some(&record.message), reading).filter(|b| {
            b.takes_before
                || b.joins_record
                    && (self.timed || b.confidence >= HEADER_ONLY && record.level >= Level::Error)
        }) else {
            return false;
        };
        open.draft = begin.draft;
        open.thrown = true;
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

/// Hands a line to a draft; one that bears a prefix of its own, as each line of a log does, also
/// without it.
fn take(draft: &mut dyn Draft, text: &str, reading: Reading<'_>) -> Take {
    let whole = draft.take(text, reading.project);
    if whole != Take::Refused {
        return whole;
    }
    let prefix = reading.layouts.prefix(text);
    if !prefix.timed || prefix.rest_at == 0 {
        return whole;
    }
    // Only what is surely a part of the entry: a step, a cause. A sentence is a record of its own.
    match draft.take(&text[prefix.rest_at..], reading.project) {
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
    report.printed = report.printed.or(open.printed);
    report.speaker = report.speaker.or_else(|| open.speaker.clone());
    Some(Assembled {
        report,
        first_line: open.first_line,
        last_line: open.last_line,
        time: open.time,
    })
}

/// Begins an entry with the reader that is surest of this line.
fn surest(
    text: &str,
    prefix: &Prefix,
    before: Option<&str>,
    reading: Reading<'_>,
) -> Option<Begin> {
    let start =
        Start { text, prefix, before, project: reading.project, layouts: reading.layouts, inside };
    READERS.iter().filter_map(|reader| (reader.begins)(&start)).max_by_key(|begin| begin.confidence)
}

/// Reads a text of several lines as a console of its own; a trace inside a record has no layout.
pub(super) fn inside(text: &str, project: &Project) -> Option<Report> {
    let mut assembler = Assembler::default();
    let mut found = Vec::new();
    let layouts = Layouts::default();
    let reading = Reading { project, layouts: &layouts };
    let separators = if text.contains('\n') { "\n" } else { "#012" };
    for (number, line) in text.split(separators).enumerate() {
        assembler.line(number as u64, None, line.trim_end_matches('\r'), reading, &mut |done| {
            found.push(done.report)
        });
    }
    assembler.finish(reading, &mut |done| found.push(done.report));
    found.into_iter().next().filter(|r| r.kind.is_some() || !r.frames.is_empty())
}

//! Puts the lines of one stream together into entries, asking the readers.

use super::beginning::{Context, HEADER_ONLY, KNOWN, SURE, surest, undressed};
use super::general::is_of_page;
use super::steps::Steps;
use super::{Draft, Take};
use crate::dress::{Fit, Worn};
use crate::read::Layouts;
use crate::read::Reading;
use crate::read::may_matter;
use izba_model::moment::{Printed, printed};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Millis, Report, trace_id};
use std::collections::VecDeque;

/// An entry longer than this ends here; a trace does not go on for ever.
const LINES_CAP: u64 = 20_000;

/// A line that is only the head of a record: a date with a time of day, and names.
static HEADED: Pattern = Pattern::new(concat!(
    r"^(?:[A-Z][a-z]{2} \d{1,2}, \d{4},? \d{1,2}:\d\d:\d\d [AP]M",
    r"|\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d\S*) [\w.$]+(?: [\w$<>]+)?$"
));

/// A line with nothing above it.
const ALONE: Context<'_> = Context { before: None, heading: None, inside };

/// A reader this sure knows the first line of an exception.
const THROWN: u8 = 60;

/// Ordinary lines that may stand between two steps: another stream's, another program's.
const GAP: usize = 2;

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
    /// The trace that its first line names.
    trace: Option<Box<str>>,
    speaker: Option<String>,
    thrown: bool,
    thread: Option<String>,
    /// What its first line wears, and so the others.
    dress: Worn,
    /// Whether it is only a ruler so far.
    yields: bool,
    /// Steps below it that its reader does not know.
    steps: Option<Steps>,
    /// Whether a line of it wore something else: then nobody else's lines can be told from its own.
    bare: bool,
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
        } else if let Some(steps) = &mut self.steps {
            steps.take(body_of(&self.dress, text))
        } else {
            let take = take(self.draft.as_mut(), &self.dress, text, reading);
            if take == Take::Took && !self.dress.is_bare() {
                self.dress.settle(text);
                if self.dress.strip(text) == Fit::Not {
                    // Only its first line wore anything.
                    (self.bare, self.dress) = (true, Worn::default());
                }
            }
            take
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
    /// The own file whose name stood last on a line of its own.
    heading: Option<String>,
    /// The last line of an entry with steps that ended.
    walked: Option<u64>,
    /// Whether the open entry's first line bore a time, as log records do.
    timed: bool,
    /// The ordinary line that was seen last before an entry.
    usual: String,
    /// How many of the lines that wait are nobody's, and may stand between two steps.
    gap: usize,
}

/// Whether a printed time tells parts of a second.
fn is_fine(time: &str) -> bool {
    let parts = time.rsplit(['.', ',']).next().filter(|p| p.len() < time.len()).unwrap_or("");
    parts.chars().take_while(char::is_ascii_digit).count() >= 3
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
        self.yield_to_who_knows(number, text, reading);
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
                // Behind lines of somebody else only a step is offered: a draft keeps what it takes.
                let strange = self.gap > 0 && !is_step(&seen.text);
                let take = match answer.take() {
                    Some(take) => take,
                    None if strange => Take::Refused,
                    None => open.offer(&seen.text, reading),
                };
                match take {
                    Take::Took => {
                        open.last_line = seen.number;
                        self.held.clear();
                        self.gap = 0;
                        continue;
                    }
                    Take::Held if self.held.len() < HELD_CAP && self.gap == 0 => {
                        self.held.push_back(seen);
                        continue;
                    }
                    _ => {}
                }
                if self.leaves_gap(&seen, reading) {
                    self.gap += 1;
                    self.held.push_back(seen);
                    continue;
                }
                if self.begin_steps(&seen, reading) {
                    continue;
                }
                // Lines that waited in vain are looked at anew, in their order, before this one; but
                // those between a record and its trace belong to it.
                if !self.held.is_empty() && self.gap == 0 && self.begin_under_record(&seen, reading)
                {
                    self.held.clear();
                    continue;
                }
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

    /// Whether a line that is not of the open entry may stand between two of its steps: nothing
    /// begins there, and it is one of those that the program prints all the time.
    fn leaves_gap(&self, seen: &Seen, reading: Reading<'_>) -> bool {
        let Some(open) = &self.open else { return false };
        let plain = !seen.text.starts_with([' ', '\t']) && !seen.text.trim().is_empty();
        plain
            && self.gap < GAP
            && self.held.len() == self.gap
            && open.steps.is_none()
            && alike(&self.usual, &seen.text)
            && !may_matter(&seen.text, reading)
            && open.draft.report().is_some_and(|r| !r.frames.is_empty() || open.thrown)
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

    /// How a line fits what the open entry wears, when that names somebody.
    pub(super) fn fits(&self, text: &str) -> Option<Fit<'static>> {
        let open = self.open.as_ref()?;
        if open.bare { None } else { open.dress.speaker(text) }
    }

    /// Number of the first line of the open entry.
    pub fn first_line(&self) -> Option<u64> {
        self.open.as_ref().map(|open| open.first_line)
    }

    /// Whether the line of this number was taken by an entry that is more than a ruler.
    pub fn took(&self, number: u64) -> bool {
        self.open.as_ref().is_some_and(|open| open.last_line == number && !open.yields)
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
        let before = self.before.as_ref().map(|b| b.text.as_str());
        let found = may_matter(&seen.text, reading).then(|| {
            let prefix = reading.layouts.prefix(&seen.text);
            let context = Context { before, heading: self.heading.as_deref(), inside };
            (undressed(&seen.text, &prefix, context, reading), prefix)
        });
        let Some((Some((begin, dress)), prefix)) = found else {
            self.see_heading(&seen.text, reading);
            self.pass(seen.number, seen.time, &seen.text);
            return;
        };
        // A step behind a line that another program printed in between belongs to what was told
        // before.
        let step = begin.takes_before && begin.confidence <= KNOWN;
        if step && self.walked.is_some_and(|walked| seen.number <= walked + 2) {
            self.walked = Some(seen.number);
            self.pass(seen.number, seen.time, &seen.text);
            return;
        }
        // Some logs put time and logger on a line of their own.
        let above = || self.before.as_ref().is_some_and(|b| HEADED.is_match(&b.text));
        self.timed = prefix.timed || above();
        let speaker = prefix.name.or_else(|| reading.layouts.speaker(&seen.text));
        let printed = prefix.time.and_then(|(from, to)| printed(&seen.text[from..to]));
        if let Some(before) = self.before.as_ref().filter(|_| !begin.takes_before) {
            self.usual.clone_from(&before.text);
        }
        let before = self.before.take().filter(|_| begin.takes_before);
        let (first_line, time) = before.map_or((seen.number, seen.time), |b| (b.number, b.time));
        self.open = Some(Open {
            draft: begin.draft,
            record: None,
            first_line,
            last_line: seen.number,
            time,
            printed,
            trace: trace_id(&seen.text).map(Box::from),
            speaker,
            thrown: begin.joins_record,
            thread: prefix.thread,
            dress,
            yields: begin.yields,
            steps: None,
            bare: false,
        });
    }

    /// A log record of one line with an exception right under it is one entry.
    fn begin_under_record(&mut self, seen: &Seen, reading: Reading<'_>) -> bool {
        let Some(open) = &mut self.open else { return false };
        if open.record.is_some()
            || open.last_line != open.first_line
            || !may_matter(&seen.text, reading)
            || is_of_page(&seen.text)
        {
            return false;
        }
        // Under a record that wears the same, only what is surely its trace belongs to it.
        let (text, worn) = match open.dress.strip(&seen.text) {
            Fit::Same(body) if !open.dress.is_bare() => (body, true),
            _ => (seen.text.as_str(), false),
        };
        // What has a level of its own beside a time or number is the next record, whatever it
        // holds.
        let own = reading.layouts.prefix(text);
        if own.level.is_some() && own.timed {
            return false;
        }
        let Some(record) = open.draft.report().filter(|r| r.reader == super::general::READER.id)
        else {
            return false;
        };
        // One call of a logger prints both at once; what bears the very time of the record, to a part
        // of a second, is no second call.
        let at_once = worn && {
            let prefix = reading.layouts.prefix(&seen.text);
            let time = prefix.time.map(|(from, to)| &seen.text[from..to]);
            time.is_some_and(|t| is_fine(t) && printed(t) == open.printed)
        };
        let header = match (worn, at_once) {
            (true, true) => KNOWN,
            (true, false) => SURE,
            (false, _) => HEADER_ONLY,
        };
        let found =
            undressed(text, &own, Context { before: Some(&record.message), ..ALONE }, reading)
                .filter(|(b, _)| {
                    b.takes_before
                        || b.joins_record
                            && (self.timed && !worn
                                || b.confidence >= header && record.level >= Level::Error)
                });
        let Some((begin, dress)) = found else { return false };
        if !worn {
            open.dress = dress;
        }
        open.draft = begin.draft;
        open.thrown = true;
        open.record = Some(record);
        open.last_line = seen.number;
        true
    }

    /// Notes a line that is only the name of an own file.
    fn see_heading(&mut self, text: &str, reading: Reading<'_>) {
        let name = text.trim().trim_end_matches(':');
        let like = name.len() < 300 && name.contains('.') && !name.contains(": ");
        if like && reading.project.find(name).is_some() {
            self.heading = Some(name.to_owned());
        }
    }

    /// A ruler says nothing: whoever knows the line below it has the entry.
    fn yield_to_who_knows(&mut self, number: u64, text: &str, reading: Reading<'_>) {
        let Some(open) = self.open.as_ref().filter(|open| open.yields) else { return };
        // Right below it any reader has it that knows the line, later on one that is sure.
        let sure = if number <= open.first_line + 2 { KNOWN } else { THROWN };
        if !may_matter(text, reading) {
            return;
        }
        let prefix = reading.layouts.prefix(text);
        let known = undressed(text, &prefix, ALONE, reading);
        if known.is_some_and(|(begin, _)| begin.confidence >= sure) {
            self.open = None;
            self.held.clear();
            self.gap = 0;
        }
    }

    /// What the reader of an entry without steps refuses may be steps in a form that it does not
    /// know: with the lines that waited, this one has to be of them.
    fn begin_steps(&mut self, seen: &Seen, reading: Reading<'_>) -> bool {
        let Some(open) = self.open.as_mut().filter(|open| open.steps.is_none()) else {
            return false;
        };
        if open.dress.strip(&seen.text) == Fit::Other
            || open.draft.report().is_none_or(|r| !r.frames.is_empty() || r.level < Level::Warning)
        {
            return false;
        }
        let mut steps = Steps::default();
        let mut last = Take::Refused;
        if self.gap > 0 {
            return false;
        }
        for line in self.held.iter().map(|held| held.text.as_str()).chain([seen.text.as_str()]) {
            last = steps.take(body_of(&open.dress, line));
            if last == Take::Refused {
                return false;
            }
        }
        // A line that some reader knows begins an entry.
        let prefix = reading.layouts.prefix(&seen.text);
        let known =
            surest(&seen.text, &prefix, ALONE, reading).is_some_and(|b| b.confidence >= KNOWN);
        if known || self.held.len() >= HELD_CAP {
            return false;
        }
        open.steps = Some(steps);
        match last {
            Take::Took => {
                open.last_line = seen.number;
                self.held.clear();
            }
            _ => self.held.push_back(Seen { text: seen.text.clone(), ..*seen }),
        }
        true
    }

    fn close(&mut self, out: &mut impl FnMut(Assembled)) {
        if let Some(open) = self.open.take()
            && let Some(done) = assembled(&open)
        {
            self.walked = (!done.report.frames.is_empty()).then_some(done.last_line);
            out(done);
        }
        (self.before, self.gap) = (None, 0);
    }
}

/// Whether two lines begin with the same words, whatever their numbers.
fn alike(one: &str, other: &str) -> bool {
    let words = |text: &str| {
        let words = text.split_whitespace().take(2).map(str::to_owned);
        words.collect::<Vec<_>>().join(" ").replace(|c: char| c.is_ascii_digit(), "0")
    };
    !one.is_empty() && words(one) == words(other)
}

/// Whether a line is a step and nothing else, set in behind a word that leads to one.
fn is_step(text: &str) -> bool {
    let words = text.trim_start();
    words.len() < text.len()
        && ["at ", "from ", "File \"", "... "].iter().any(|lead| words.starts_with(lead))
}

/// A line without what its entry wears.
fn body_of<'a>(dress: &Worn, text: &'a str) -> &'a str {
    match dress.strip(text) {
        Fit::Same(body) => body,
        Fit::Other | Fit::Not => text,
    }
}

/// Hands a line to a draft: what it wears like the first line of the entry comes off before.
fn take(draft: &mut dyn Draft, dress: &Worn, text: &str, reading: Reading<'_>) -> Take {
    if is_of_page(text) {
        return Take::Refused;
    }
    if !dress.is_bare() {
        match dress.strip(text) {
            Fit::Same(body) => match draft.take(body, reading.project) {
                Take::Refused => {}
                take => return take,
            },
            Fit::Other => return Take::Refused,
            Fit::Not => {}
        }
    }
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
    if let Some(steps) = &open.steps {
        steps.add_to(&mut report);
    }
    if let Some(record) = &open.record {
        report.level = report.level.max(record.level);
        report.object = report.object.or_else(|| record.object.clone());
        report.handler = report.handler.or_else(|| record.handler.clone());
    }
    report.printed = report.printed.or(open.printed);
    report.trace = report.trace.or_else(|| open.trace.clone());
    report.speaker = report.speaker.or_else(|| open.speaker.clone());
    Some(Assembled {
        report,
        first_line: open.first_line,
        last_line: open.last_line,
        time: open.time,
    })
}

/// Reads a text of several lines as a console of its own: of its traces the first one that stands
/// in the project, else the first.
pub fn read_text(text: &str, project: &Project) -> Option<Report> {
    let mut found = all_inside(text, project);
    let own = |r: &Report| {
        let causes = r.causes.iter().flat_map(|c| &c.frames);
        let mut frames = r.head.iter().chain(&r.frames).chain(causes);
        frames.any(|f| f.file.as_deref().is_some_and(|file| project.find(file).is_some()))
    };
    let at = found.iter().position(own).or((!found.is_empty()).then_some(0))?;
    Some(found.swap_remove(at))
}

/// Reads a text of several lines as a console of its own; a trace inside a record has no layout.
pub(super) fn inside(text: &str, project: &Project) -> Option<Report> {
    all_inside(text, project).into_iter().next()
}

/// All traces in a text.
fn all_inside(text: &str, project: &Project) -> Vec<Report> {
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
    let tells = |r: &Report| r.kind.is_some() || !r.frames.is_empty() || r.head.is_some();
    found.retain(tells);
    found
}

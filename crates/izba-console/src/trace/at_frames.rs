//! Exceptions whose steps begin with `at`: an exception line, its steps, the exceptions that caused
//! it.
//!
//! JavaScript, the JVM and .NET share this build; each tells its own form of step in a file of its
//! own.

use super::at_form::{AtForm, Head, read_head};
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use super::{dotnet, jvm, v8};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Cause, Level, Report, StackFrame};

/// Exceptions whose steps begin with `at`, of three families of runtimes.
pub static READER: Reader = Reader {
    id: "at-frames",
    name: "exceptions with steps that begin with “at”",
    begins,
    sample: "java.lang.IllegalStateException: the jetty is closed",
};

/// The language whose runtime names a place before the exception.
const ANNOUNCES: &str = "javascript";

static CAUSE: Pattern = Pattern::new(
    r"^\s*(?P<mark>[Cc]aused by: |Suppressed: |---> |\[cause\]: | cause: |\[errors\]: )(?:\(Inner Exception #\d+\) )?(?P<rest>.*)$",
);

/// A line of the source below a step, with its number, and the mark below that.
static SHOWN: Pattern = Pattern::new(r"^\s+(?:\d+)?\s*\|");

/// Forms of steps that begin with `at`, strictest first: the first that reads a step has it.
static AT_FORMS: &[&AtForm] = &[&jvm::FORM, &dotnet::FORM, &v8::FORM];

fn read_step(text: &str) -> Option<(&'static AtForm, StackFrame)> {
    // An arrow closes the steps of one of several inner exceptions.
    let text = text.trim_end().strip_suffix(" <---").unwrap_or(text);
    let Some(step) = text.trim_start().strip_prefix("at ") else {
        let other = super::v8::at_sign(text).or_else(|| super::v8::arrow(text));
        return other.map(|frame| (&v8::FORM, frame));
    };
    AT_FORMS.iter().find_map(|form| Some((*form, (form.step)(step)?)))
}

/// A step of any of the forms.
pub(super) fn step(text: &str) -> Option<StackFrame> {
    read_step(text).map(|(_, frame)| frame)
}

#[derive(Debug, Clone, Default)]
struct Thrown {
    kind: Option<String>,
    message: String,
    frames: Vec<StackFrame>,
    parent: usize,
    suppressed: bool,
}

/// An exception and those that caused it, while its lines arrive.
#[derive(Debug, Default)]
pub(super) struct AtDraft {
    thrown: Vec<Thrown>,
    current: usize,
    code: Option<String>,
    form: Option<&'static str>,
    repeating: bool,
    properties: u32,
    lead: bool,
    /// Where the runtime said the trouble is, ahead of the exception.
    pub(super) announced: Option<StackFrame>,
    /// What it marked there.
    pub(super) caret: Option<izba_model::Caret>,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.rest();
    let begin = |confidence, draft: AtDraft, takes_before| {
        let joins_record = !draft.lead;
        Some(Begin {
            confidence,
            draft: Box::new(draft),
            takes_before,
            joins_record,
            yields: false,
        })
    };
    if matches!(rest.trim_end(), "Unhandled Exception:" | "Unhandled exception.") {
        return begin(60, AtDraft::default(), false);
    }
    // An error without steps is shown in square brackets, with what it carries behind it.
    if let Some(head) = rest
        .trim_end()
        .strip_suffix("] {")
        .and_then(|r| r.split_once('['))
        .filter(|(before, _)| before.is_empty() || before.ends_with(' '))
        .and_then(|(_, inner)| read_head(inner))
    {
        let mut draft = AtDraft { form: Some(ANNOUNCES), properties: 1, ..AtDraft::default() };
        draft.head(head);
        return begin(62, draft, false);
    }
    // Prefixes such as [ERROR] may be part of the exception line's own lead.
    if let Some(head) = read_head(rest).or_else(|| read_head(start.text)) {
        let confidence = if head.lead { 75 } else { 60 };
        let mut draft = AtDraft::default();
        draft.head(head);
        return begin(confidence, draft, false);
    }
    // What calls itself an error may say something before it names the exception.
    if start.prefix.level.is_some_and(|level| level >= Level::Warning)
        && let Some(head) = rest
            .match_indices(": ")
            .filter_map(|(at, sign)| read_head(&rest[at + sign.len()..]))
            .next()
    {
        let mut draft = AtDraft::default();
        draft.head(head);
        return begin(58, draft, false);
    }
    if let (Some((form, frame)), Some(before)) = (read_step(start.text), start.before) {
        // Steps under a sentence that does not look like an exception: thrown with a kind of the
        // user's own.
        let sentence = before.trim();
        if sentence.is_empty()
            || sentence.len() > 500
            || sentence.starts_with("Trace")
            || read_step(before).is_some()
        {
            return None;
        }
        // The path of an error without words, made only to be printed.
        if form.id == ANNOUNCES && sentence.ends_with(" Error") {
            return None;
        }
        // What calls itself information is no exception, whatever follows it.
        if crate::read::split_prefix(before).level.is_some_and(|level| level < Level::Warning) {
            return None;
        }
        let mut draft = AtDraft::default();
        // The exception may stand at the end of a sentence of the program's own.
        let tails = std::iter::once(0)
            .chain(sentence.match_indices(": ").map(|(at, sign)| at + sign.len()));
        let mut sure = 55;
        match tails.filter_map(|at| read_head(&sentence[at..])).next() {
            Some(head) => {
                sure = 58;
                draft.head(head);
            }
            None if frame.file.is_none() => return None,
            None => {
                let (kind, message) = match sentence.split_once(": ") {
                    Some((kind, message))
                        if kind
                            .chars()
                            .all(|c| c.is_alphanumeric() || matches!(c, '_' | '.' | '$')) =>
                    {
                        (Some(kind.to_owned()), message)
                    }
                    _ => (None, sentence),
                };
                draft.push(kind, message.to_owned(), false);
            }
        }
        draft.thrown[draft.current].frames.push(frame);
        draft.form = Some(form.id);
        return begin(sure, draft, true);
    }
    None
}

impl AtDraft {
    /// A draft whose runtime named a place before it named the exception.
    pub(super) fn announced_at(place: StackFrame) -> AtDraft {
        AtDraft { announced: Some(place), ..AtDraft::default() }
    }

    pub(super) fn head(&mut self, head: Head) {
        self.code = self.code.take().or(head.code);
        self.lead |= head.lead;
        let mut kind = Some(head.kind);
        let mut message = head.message;
        // .NET writes the whole chain on one line: outer ---> inner.
        loop {
            let inner = message.split_once(" ---> ").map(|(m, i)| (m.to_owned(), i.to_owned()));
            let (own, rest) = inner.map_or((message.clone(), None), |(m, i)| (m, Some(i)));
            self.push(kind, own, false);
            let Some(rest) = rest else { break };
            let (k, m) = kind_and_message(&rest);
            kind = k;
            message = m;
        }
    }

    fn push(&mut self, kind: Option<String>, message: String, suppressed: bool) {
        let parent = self.current;
        self.thrown.push(Thrown { kind, message, frames: Vec::new(), parent, suppressed });
        self.current = self.thrown.len() - 1;
    }

    /// An error of JavaScript without words that nobody threw: it was made to print its path, for
    /// which the language has no other way that goes to any console.
    fn made_for_its_path(&self) -> bool {
        let [only] = &self.thrown[..] else { return false };
        let thrown =
            self.announced.is_some() || self.lead || self.code.is_some() || self.properties > 0;
        self.form == Some(ANNOUNCES)
            && !thrown
            && only.message.is_empty()
            && only.kind.as_deref() == Some("Error")
    }

    fn has_frames(&self) -> bool {
        self.thrown.iter().any(|t| !t.frames.is_empty())
    }
}

fn kind_and_message(text: &str) -> (Option<String>, String) {
    match read_head(text) {
        Some(head) => (Some(head.kind), head.message),
        None => match text.split_once(": ") {
            Some((kind, message)) if !kind.contains(' ') => {
                (Some(kind.to_owned()), message.to_owned())
            }
            _ => (None, text.to_owned()),
        },
    }
}

impl Draft for AtDraft {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let trimmed = text.trim();
        if self.thrown.is_empty() {
            let Some(head) = read_head(trimmed) else {
                return if trimmed.is_empty() { Take::Held } else { Take::Refused };
            };
            self.head(head);
            return Take::Took;
        }
        if let Some(head) = read_head(trimmed).filter(|h| {
            h.lead && self.has_frames() && h.kind == self.thrown[0].kind.clone().unwrap_or_default()
        }) {
            // The runtime tells the same exception twice on its way out.
            let same = head.message.split(" ---> ").next() == Some(self.thrown[0].message.as_str());
            self.repeating = same;
            return if same { Take::Took } else { Take::Refused };
        }
        if let Some((form, frame)) = read_step(text) {
            if !self.repeating {
                self.form.get_or_insert(form.id);
                let frames = &mut self.thrown[self.current].frames;
                if frames.len() < FRAME_CAP {
                    frames.push(frame);
                }
            }
            if text.trim_end().ends_with('{') {
                self.properties += 1;
            }
            return Take::Took;
        }
        if trimmed.starts_with("Emitted '") && trimmed.ends_with("event at:") {
            // Where the event was raised, not where it went wrong.
            self.repeating = true;
            return Take::Took;
        }
        if trimmed.starts_with("Caused by: [CIRCULAR REFERENCE") {
            return Take::Took;
        }
        if let Some(cause) = CAUSE.found(text) {
            if !self.repeating {
                let suppressed = &cause["mark"] == "Suppressed: ";
                if &cause["mark"] == "[errors]: " {
                    // Errors gathered under one: they are told with it, not after it.
                    self.push(None, String::new(), true);
                    self.properties += 1;
                    return Take::Took;
                }
                let (kind, message) = kind_and_message(cause["rest"].trim_end_matches('{').trim());
                // The first of several inner exceptions stood in the head already.
                if self.thrown.iter().any(|t| t.kind == kind && t.message == message) {
                    self.repeating = true;
                    return Take::Took;
                }
                if &cause["mark"] == "---> " || suppressed {
                    self.push(kind, message, suppressed);
                } else {
                    // A cause hangs on the last exception that is not suppressed.
                    while self.thrown[self.current].suppressed {
                        self.current = self.thrown[self.current].parent;
                    }
                    self.push(kind, message, false);
                }
            }
            return Take::Took;
        }
        if trimmed.starts_with("--- End of inner")
            || trimmed.starts_with("--- End of stack trace from previous")
        {
            if trimmed.contains("inner") && !self.repeating {
                self.current = self.thrown[self.current].parent;
            }
            return Take::Took;
        }
        if trimmed.starts_with("... ") && (trimmed.ends_with("more") || trimmed.ends_with("...")) {
            return Take::Took;
        }
        // A sentence that ends with a colon goes on below.
        let now = &self.thrown[self.current];
        let open = now.message.ends_with(':') && now.frames.is_empty() && !trimmed.is_empty();
        if open && read_head(trimmed).is_none() {
            let message = &mut self.thrown[self.current].message;
            message.push(' ');
            message.push_str(trimmed);
            return Take::Took;
        }
        if self.properties > 0 {
            // What an error object carries beside its message, between braces.
            if trimmed.ends_with('{') || trimmed.ends_with('[') {
                self.properties += 1;
            }
            if trimmed.starts_with('}') || trimmed.starts_with(']') {
                self.properties -= 1;
            }
            if let Some(code) = trimmed.strip_prefix("code: '").and_then(|c| c.split('\'').next()) {
                self.code.get_or_insert_with(|| code.to_owned());
            }
            return if text.starts_with(' ') || trimmed.starts_with('}') {
                Take::Took
            } else {
                Take::Refused
            };
        }
        if trimmed.is_empty() || (trimmed.starts_with("Node.js v") && self.has_frames()) {
            return if trimmed.is_empty() { Take::Held } else { Take::Took };
        }
        if self.repeating {
            return if read_head(trimmed).is_some() { Take::Refused } else { Take::Held };
        }
        // What is shown of a step.
        if self.has_frames() && SHOWN.is_match(text) {
            return Take::Took;
        }
        // A sentence of several lines goes on until its steps come.
        let begins_anew = read_head(trimmed).is_some() || text.starts_with("  File ");
        let headed = super::steps::is_heading(trimmed);
        if self.has_frames()
            || begins_anew
            || headed
            || crate::read::split_prefix(text).level.is_some()
        {
            Take::Refused
        } else {
            Take::Held
        }
    }

    fn report(&self) -> Option<Report> {
        let outer = self.thrown.first()?;
        // A path that the program printed on purpose is no error.
        if outer
            .frames
            .first()
            .and_then(|f| f.function.as_deref())
            .is_some_and(|f| f.ends_with("Thread.dumpStack"))
            || self.made_for_its_path()
        {
            return None;
        }
        let reader =
            self.form.unwrap_or(if self.announced.is_some() { ANNOUNCES } else { READER.id });
        let mut report = Report::new(reader, Level::Error, outer.message.clone());
        report.kind = outer.kind.clone();
        report.code = self.code.clone();
        report.frames = outer.frames.clone();
        report.head = self.announced.clone();
        // A script that cannot be read has no step of its own; the announced place is the one.
        // What could not be found is asked for by a file, whose line nobody tells.
        if let Some((_, asks)) = report.message.split_once(" imported from ") {
            let file = asks.split_whitespace().next().map(str::to_owned);
            let asks = StackFrame { file, ..StackFrame::default() };
            report.head = report.head.or(Some(asks));
        }
        report.head_leads = outer.kind.as_deref() == Some("SyntaxError");
        report.caret = self.caret.clone();
        report.causes = self.thrown[1..]
            .iter()
            .filter(|t| !t.suppressed)
            .map(|t| Cause {
                kind: t.kind.clone(),
                message: t.message.clone(),
                frames: t.frames.clone(),
            })
            .collect();
        Some(report)
    }
}

//! What was said at one moment: first as a reader understood it (report), then placed in the
//! project (entry).

use crate::family;
use crate::family::{Facts, Family};
use crate::moment::Printed;
use crate::pattern::Pattern;
use crate::project::Project;
use crate::said_place;
use crate::{Column, Level, Millis, Place, StackFrame};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::sync::Arc;

/// A chained or nested exception, as its reader found it.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Cause {
    /// The language's name for it.
    pub kind: Option<String>,
    /// Its sentence.
    pub message: String,
    /// Its own steps, fault first; may be empty when folded into the outer ones.
    pub frames: Vec<StackFrame>,
}

/// Another place that an entry names: a note of a compiler, where memory was given back, from where
/// a file was brought in.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Related {
    /// What the console says of it; may be empty.
    pub words: String,
    /// The place.
    pub frame: StackFrame,
}

/// Related places that are kept of one entry.
const RELATED: usize = 12;

/// The source line that a console echoed, and what it marked there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Caret {
    /// The echoed line as printed.
    pub echo: String,
    /// First marked character of `echo`, from 0.
    pub start: usize,
    /// How many characters are marked, at least 1.
    pub len: usize,
}

/// The id of a reader of traces.
pub type ReaderId = Cow<'static, str>;

/// What one reader made of the lines of one entry. Nothing in it is resolved against the project
/// yet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Report {
    /// Id of the reader that understood it.
    pub reader: ReaderId,
    /// How grave.
    pub level: Level,
    /// The language's name for the outermost exception.
    pub kind: Option<String>,
    /// A compiler's or tool's code, such as `CS1002`.
    pub code: Option<String>,
    /// The outermost sentence.
    pub message: String,
    /// Steps of the outermost exception, fault first.
    pub frames: Vec<StackFrame>,
    /// Chained exceptions, outermost first.
    pub causes: Vec<Cause>,
    /// A place that the sentence itself names (parse and compile errors).
    pub head: Option<StackFrame>,
    /// Whether `head` is where the mistake is told to be; else it is only where the runtime
    /// noticed, and own steps lead.
    pub head_leads: bool,
    /// What the console marked under an echoed source line.
    pub caret: Option<Caret>,
    /// What a compiler adds line by line (the symbol, what it required, what it found).
    pub details: Vec<String>,
    /// Other places that it names beside its steps, in the order in which they are told.
    #[serde(default)]
    pub related: Vec<Related>,
    /// The object at fault, where the console tells.
    pub object: Option<String>,
    /// The handler that ran, where the console tells.
    pub handler: Option<String>,
    /// The app, logger or tag that spoke, where the console tells.
    pub speaker: Option<String>,
    /// The moment that the console prints.
    #[serde(skip)]
    pub printed: Option<Printed>,
    /// The id of the trace that it belongs to (W3C Trace Context: 32 digits of base 16), where the
    /// console tells: the same in all programs that served one request.
    #[serde(default)]
    pub trace: Option<Box<str>>,
}

/// The id of a trace in a line that speaks of one (W3C Trace Context): bare, or in a `traceparent`.
pub fn trace_id(text: &str) -> Option<&str> {
    memchr::memmem::find(text.as_bytes(), b"race")?;
    let digit = |c: char| c.is_ascii_digit() || matches!(c, 'a'..='f');
    let words = text.split(|c: char| !c.is_ascii_alphanumeric());
    let mut ids = words.filter(|w| w.len() == 32 && w.chars().all(digit));
    ids.find(|id| id.contains(|c| c != '0'))
}

/// An entry as it is written down: what follows from the rest is left out.
#[derive(Serialize, Deserialize)]
struct Kept {
    report: Report,
    place: Option<Place>,
    function: Option<String>,
    line_text: Option<String>,
    root_message: String,
    root_kind: Option<String>,
    token: Option<(usize, usize)>,
    time: Option<Millis>,
    #[serde(default)]
    may_be: Vec<Place>,
}

impl From<Entry> for Kept {
    fn from(entry: Entry) -> Kept {
        let Entry {
            report,
            place,
            function,
            line_text,
            root_message,
            root_kind,
            token,
            time,
            may_be,
            ..
        } = entry;
        Kept { report, place, function, line_text, root_message, root_kind, token, time, may_be }
    }
}

impl From<Kept> for Entry {
    fn from(kept: Kept) -> Entry {
        let Kept {
            report,
            place,
            function,
            line_text,
            root_message,
            root_kind,
            token,
            time,
            may_be,
        } = kept;
        let (family, facts) =
            family::classify(root_kind.as_deref(), &root_message, &report.details);
        // A text that was written down may have been cut elsewhere since.
        let token = token
            .filter(|(from, to)| line_text.as_deref().is_some_and(|t| t.get(*from..*to).is_some()));
        Entry {
            report,
            place,
            function,
            line_text,
            root_message,
            root_kind,
            token,
            family,
            facts,
            time,
            may_be,
        }
    }
}

impl Report {
    /// A report of one sentence and nothing else.
    pub fn new(reader: &'static str, level: Level, message: impl Into<String>) -> Report {
        Report {
            reader: reader.into(),
            level,
            kind: None,
            code: None,
            message: message.into(),
            frames: Vec::new(),
            causes: Vec::new(),
            head: None,
            head_leads: true,
            caret: None,
            details: Vec::new(),
            related: Vec::new(),
            object: None,
            handler: None,
            speaker: None,
            printed: None,
            trace: None,
        }
    }

    /// Notes another place that the entry names; of many the first ones, each once.
    pub fn relate(&mut self, words: &str, frame: StackFrame) {
        let same = |f: &StackFrame| f.file == frame.file && f.line == frame.line;
        let known = self.head.iter().any(same) || self.related.iter().any(|r| same(&r.frame));
        if !known && self.related.len() < RELATED {
            self.related.push(Related { words: words.trim().to_owned(), frame });
        }
    }
}

/// A report placed in the project: which line of the user's it is about, and of which family.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(from = "Kept", into = "Kept")]
pub struct Entry {
    /// What the reader understood, with own frames marked.
    pub report: Report,
    /// The place to look at first, in own code.
    pub place: Option<Place>,
    /// Function of that place.
    pub function: Option<String>,
    /// Text of that line as it was when the run started.
    pub line_text: Option<String>,
    /// Sentence that the family and explanation are taken from: the deepest cause with an own
    /// frame; where there is none, the deepest one that a family knows; else the outermost.
    pub root_message: String,
    /// Kind that goes with `root_message`.
    pub root_kind: Option<String>,
    /// Marked bytes of `line_text`, half open.
    pub token: Option<(usize, usize)>,
    /// The family across languages.
    pub family: Family,
    /// Names and numbers that the sentence holds.
    pub facts: Facts,
    /// When its first line arrived; `None` when a file without known times was read.
    pub time: Option<Millis>,
    /// Where no place is sure: the lines of own files between which nothing decides.
    pub may_be: Vec<Place>,
}

static ENDED: Pattern = Pattern::new(concat!(
    r"(?i)did(?:n't| not) exit successfully",
    r"|\bexit(?:ed)?(?: with)?(?: an?)?(?: non-?zero)?(?: exit)? (?:status",
    r"|code):? -?\d+|returned (?:an? )?non-?zero exit (?:status|code)",
    r"|^code (?:E?LIFECYCLE|\d+)$|^\[[^\]]*\] Error \d+(?: \(ignored\))?$"
));

impl Entry {
    /// What is said instead of a place of the project where there is none.
    pub fn no_place(&self) -> &'static str {
        match self.report.head.is_some() || !self.report.frames.is_empty() {
            true => "outside your files",
            false => "no place given",
        }
    }

    /// Whether it says no more than that a program ended, and with which code.
    pub fn tells_only_an_end(&self) -> bool {
        let report = &self.report;
        self.place.is_none()
            && report.kind.is_none()
            && report.frames.is_empty()
            && report.causes.is_empty()
            && ENDED.is_match(&report.message)
    }

    /// The column of the place.
    pub fn column(&self) -> Option<Column> {
        self.place.as_ref().and_then(|p| p.column)
    }
}

impl Entry {
    /// Places `report` in `project`: marks own steps, chooses the place, and finds the family.
    ///
    /// The place is that of the deepest cause with an own step; a parse or compile error's place is
    /// the reported one.
    pub fn resolve(mut report: Report, project: &Project, time: Option<Millis>) -> Entry {
        mark_own(&mut report.frames, project);
        for cause in &mut report.causes {
            mark_own(&mut cause.frames, project);
        }
        let related = report.related.iter_mut().map(|r| &mut r.frame);
        for frame in report.head.iter_mut().chain(related) {
            mark_own(std::slice::from_mut(frame), project);
        }
        if report.object.is_none() {
            let told = std::iter::once(&report.message).chain(&report.details);
            let named = told.into_iter().find_map(|text| crate::witness::named(text, project));
            if let Some((object, handler)) = named {
                report.object = Some(object);
                report.handler.get_or_insert(handler);
            }
        }
        crate::witness::order(&report.reader, &mut report.frames, project);
        let own = |frames: &[StackFrame]| frames.iter().find(|f| f.own.is_some()).cloned();
        let deepest = report
            .causes
            .iter()
            .enumerate()
            .rev()
            .find_map(|(at, cause)| Some((at, own(&cause.frames)?)));
        let head = report.head.clone().filter(|h| h.own.is_some());
        let (root, mut frame) = match (deepest, head) {
            (Some((at, frame)), _) => (Some(at), Some(frame)),
            (None, Some(head)) if report.head_leads => (None, Some(head)),
            (None, head) => (None, own(&report.frames).or(head)),
        };
        // A cause without steps of its own is still what went wrong.
        let root = root.or_else(|| {
            report.causes.len().checked_sub(1).filter(|last| report.causes[*last].frames.is_empty())
        });
        // Where no step at all is own, the deepest cause that says something known is worth most.
        let known = |cause: &Cause| {
            family::classify(cause.kind.as_deref(), &cause.message, &[]).0 != Family::Other
        };
        let root = root
            .or_else(|| if frame.is_none() { report.causes.iter().rposition(known) } else { None });
        let (root_kind, root_message) = match root.and_then(|at| report.causes.get(at)) {
            Some(cause) => (cause.kind.clone(), cause.message.clone()),
            None => (report.kind.clone(), report.message.clone()),
        };
        if let Some(frame) = &mut frame
            && frame.function.is_none()
        {
            let same = report.frames.iter().find(|f| f.own == frame.own && f.line == frame.line);
            frame.function = same.and_then(|f| f.function.clone());
        }
        let (family, facts) =
            family::classify(root_kind.as_deref(), &root_message, &report.details);
        let mut may_be = Vec::new();
        if frame.is_none() {
            // The console cuts its paths, and several own files fit: what it says of the line may
            // tell which.
            let told = report
                .head
                .iter()
                .chain(&report.frames)
                .chain(report.causes.iter().flat_map(|c| &c.frames));
            let drawn = told
                .filter_map(|f| Some((f, project.find_all(f.file.as_deref()?))))
                .find(|(_, files)| files.len() > 1);
            if let Some((told, files)) = drawn {
                let mut told = told.clone();
                let decided = decide(&told, &files, project, facts.get("name").map(String::as_str));
                if let Some(file) = decided {
                    told.own = Some(file.clone());
                    frame = Some(told);
                } else {
                    may_be = files
                        .iter()
                        .take(6)
                        .filter_map(|file| {
                            StackFrame { own: Some(file.clone()), ..told.clone() }.place()
                        })
                        .collect();
                }
            }
        }
        let mut place = frame.as_ref().and_then(StackFrame::place);
        if let Some(place) = place.as_mut().filter(|p| p.line.is_none()) {
            place.line = said_place::line_of_quoted(&report.message, &place.file, project);
        }
        if place.is_none() {
            place = said_place::place_in_words(&report.message, &report.details, project);
        }
        let line_text =
            place.as_ref().and_then(|p| project.line(&p.file, p.line?)).map(str::to_owned);
        let token = mark_token(&report, place.as_mut(), line_text.as_deref());
        let function = frame.and_then(|f| f.function);
        Entry {
            report,
            place,
            function,
            line_text,
            root_message,
            root_kind,
            token,
            family,
            facts,
            time,
            may_be,
        }
    }
}

/// Of several files that bear the printed name the one that alone has what the console tells: the
/// name in that very line, or the function.
fn decide<'a>(
    told: &StackFrame,
    files: &'a [Arc<str>],
    project: &Project,
    name: Option<&str>,
) -> Option<&'a Arc<str>> {
    let only = |fits: &dyn Fn(&str) -> bool| {
        let mut fitting = files.iter().filter(|f| fits(f));
        fitting.next().filter(|_| fitting.next().is_none())
    };
    let line = told.line?;
    let has_word = |text: &str, word: &str| crate::excerpt::find_word(text, word, None).is_some();
    let last = |name: &str| {
        name.rsplit(['.', ':', '#']).next().unwrap_or(name).trim_end_matches("()").to_owned()
    };
    let by_name = name.map(last).and_then(|name| {
        only(&|file| project.line(file, line).is_some_and(|text| has_word(text, &name)))
    });
    by_name.or_else(|| {
        let function = last(told.function.as_deref()?);
        let above = |file: &str| {
            project
                .file(file)
                .and_then(|f| f.text.clone())
                .is_some_and(|t| t.lines().take(line as usize).any(|l| has_word(l, &function)))
        };
        only(&|file| project.line(file, line).is_some() && above(file))
    })
}

/// Finds the own files of steps.
pub fn mark_own(frames: &mut [StackFrame], project: &Project) {
    for frame in frames {
        let files = frame.file.as_deref().map_or_else(Vec::new, |file| project.find_all(file));
        frame.own = if files.len() > 1 {
            decide(frame, &files, project, None).cloned()
        } else {
            files.into_iter().next()
        };
        if frame.own.is_none()
            && let (Some(file), Some(line), Some(column)) = (&frame.file, frame.line, frame.column)
            && let Some((path, line, number)) = project.written(file, line, column.number)
        {
            frame.file = Some(path.to_string());
            (frame.own, frame.line, frame.column) =
                (Some(path), Some(line), Some(Column { number, unit: crate::ColumnUnit::Utf16 }));
        }
    }
}

/// The bytes of the line that the console marked; gives the place a column where only a caret told
/// it.
fn mark_token(
    report: &Report,
    place: Option<&mut Place>,
    line_text: Option<&str>,
) -> Option<(usize, usize)> {
    let (place, line) = (place?, line_text?);
    if let Some(caret) = &report.caret
        && caret.echo.contains(line.trim())
        && !line.trim().is_empty()
    {
        // The echo may be indented otherwise than the file, or stand behind a line number.
        let echoed_at =
            caret.echo.find(line.trim()).map_or(0, |at| caret.echo[..at].chars().count());
        let indent = line.chars().take_while(|c| c.is_whitespace()).count();
        let start = (caret.start + indent).checked_sub(echoed_at)?;
        place.column.get_or_insert(Column::chars(start as u32 + 1));
        let from = Column::chars(start as u32 + 1).to_byte(line);
        let to = Column::chars((start + caret.len) as u32 + 1).to_byte(line);
        if caret.len > 1 {
            return Some((from, to.max(from)));
        }
    }
    let from = place.column?.to_byte(line);
    Some(crate::excerpt::token_at(line, from))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::project::ProjectFile;

    /// Where an error of these words lies, with the file that its first line names if any.
    fn place(said: &str, file: Option<&str>) -> Option<(String, Option<u32>)> {
        let of =
            |path: &str, text: &str| ProjectFile { path: path.into(), text: Some(text.into()) };
        let project = Project::new(
            "/srv",
            vec![
                of("src/Quay.tsx", "import a from './rope.js';\n\nexport function Quay() {\n}\n"),
                of(
                    "src/Berths.tsx",
                    "export function Berths({ all }) {\n  return (\n    <ul onclick=\"sell()\">\n      \
                     {all.map((one) => (\n        <li id={() => one}>{one}</li>\n      ))}\n    </ul>\n  );\n}\n\
                     function sell() {}\n",
                ),
                of("src/tide.js", "const tide = 1;\nnew Worker('./fog.js');\n// Quay, rope.js\n"),
            ],
        );
        let mut report = Report::new("general", Level::Error, said);
        report.head =
            file.map(|file| StackFrame { file: Some(file.into()), ..StackFrame::default() });
        let place = Entry::resolve(report, &project, None).place?;
        Some((place.file.to_string(), place.line))
    }

    #[test]
    fn what_a_sentence_names_tells_its_line() {
        let at = |file: &str, line| Some((file.to_owned(), Some(line)));
        let quoted = "Could not resolve \"./rope.js\" from \"src/Quay.tsx\"";
        assert_eq!(place(quoted, Some("src/Quay.tsx")), at("src/Quay.tsx", 1));
        let component = "Check the render method of `Quay`.";
        assert_eq!(place(component, None), at("src/Quay.tsx", 3));
        let worker = "http://127.0.0.1:8000/src/fog.js?t=2 was not loaded: the server answers 404";
        assert_eq!(place(worker, None), at("src/tide.js", 2));
        let keyless = "Each child needs a unique \"key\" prop. See the render method of `Berths`.";
        assert_eq!(place(keyless, None), at("src/Berths.tsx", 5));
        let barred = "inline was not let in: the policy script-src-attr forbids it: sell()";
        assert_eq!(place(barred, None), at("src/Berths.tsx", 3), "as an attribute");
    }

    #[test]
    fn what_it_names_twice_or_nowhere_tells_none() {
        let gone = "http://127.0.0.1:8000/src/gone.js was not loaded: the server answers 404";
        assert_eq!(place(gone, None), None);
        assert_eq!(place("An error occurred in the <Boat> component.", None), None);
        let named = place("Could not resolve \"./sail.js\"", Some("src/tide.js"));
        assert_eq!(named, Some(("src/tide.js".to_owned(), None)));
    }
}

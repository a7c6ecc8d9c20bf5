//! Records of named fields: JSON lines, and `key=value` pairs. Fields are told by what they hold
//! and by the usual words in their names, never by whose format it is: a level as a word or number,
//! a sentence, and perhaps an exception, as a text of several lines or as an object with a list of
//! steps.

use super::reader::{Inner, Inside};
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::dress::lines_within;
use izba_model::moment::{Printed, printed};
use izba_model::project::Project;
use izba_model::{Cause, Level, Report, StackFrame};
use serde_json::{Map, Value};

/// Records of named fields: JSON lines, and `key=value` pairs.
pub static READER: Reader = Reader {
    id: "records",
    name: "JSON lines and key=value",
    begins,
    sample: r#"{"time":"2026-11-23T20:00:01Z","level":"error","msg":"the rope is torn"}"#,
};

/// How deep objects in a record are looked into.
const DEPTH: usize = 6;

#[derive(Debug)]
struct Record {
    report: Report,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    if start.text.trim_end() == "{" {
        return Begin::new(95, Spread { text: "{".into(), closed: false, inside: start.inside });
    }
    let rest = start.rest().trim();
    let rest = if rest.starts_with('{') || rest.contains('=') { rest } else { start.text.trim() };
    let fields = fields_of(rest).or_else(|| pairs(start.text.trim()))?;
    let level = level_of(&fields).or(start.prefix.level)?;
    if level < Level::Warning {
        // Whatever else it holds, it calls itself harmless; nothing else may read it as an error.
        return Begin::new(95, Harmless);
    }
    Begin::new(95, Record { report: report_of(&fields, level, start.inner()) })
}

/// The fields of a text that is a record and nothing else.
fn fields_of(text: &str) -> Option<Map<String, Value>> {
    if !(text.starts_with('{') && text.ends_with('}')) {
        return pairs(text);
    }
    match serde_json::from_str(text) {
        Ok(Value::Object(fields)) => Some(fields),
        _ => None,
    }
}

/// How grave a record calls itself.
pub(super) fn level_in(text: &str) -> Option<Level> {
    level_of(&fields_of(text.trim())?)
}

fn report_of(fields: &Map<String, Value>, level: Level, inner: Inner<'_>) -> Report {
    // Some put what belongs to the record itself into an object of its own.
    let nested =
        || fields.values().filter_map(Value::as_object).find_map(|f| text_of(f, &MESSAGES));
    let mut message = text_of(fields, &MESSAGES).or_else(nested).unwrap_or_default().to_owned();
    let thrown = thrown_in(fields, inner, 0);
    let mut report = match thrown {
        Some(mut thrown) => {
            thrown.level = level;
            thrown
        }
        None => {
            if message.is_empty() {
                message = text_of(fields, &ERRORS).unwrap_or_default().to_owned();
            }
            Report::new(READER.id, level, message.trim())
        }
    };
    report.reader = READER.id.into();
    report.printed = moment_of(fields);
    report.speaker = text_of(
        fields,
        &[
            "app",
            "logger",
            "service",
            "logger_name",
            "loggername",
            "name",
            "tag",
            "module",
            "source",
        ],
    )
    .map(str::to_owned);
    report.details.extend(spans_of(fields));
    let place = placed(fields);
    if report.frames.is_empty() && report.head.is_none() {
        report.head = place;
    }
    report
}

/// The spans of a trace that a record was reached by, the outermost first, in words.
fn spans_of(fields: &Map<String, Value>) -> Option<String> {
    let names: Vec<&str> =
        fields.get("spans")?.as_array()?.iter().filter_map(Value::as_str).collect();
    (!names.is_empty()).then(|| format!("within {}", names.join(" > ")))
}

/// A JSON object over several lines.
#[derive(Debug)]
struct Spread {
    text: String,
    closed: bool,
    inside: Inside,
}

/// Objects longer than this, in bytes, are not records.
const SPREAD: usize = 256 * 1024;

impl Draft for Spread {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let inside = text.starts_with([' ', '\t']) && text.len() + self.text.len() < SPREAD;
        let closes = matches!(text.trim_end(), "}" | "},");
        if self.closed || !(inside || closes) {
            return Take::Refused;
        }
        self.text.push('\n');
        self.text.push_str(text.trim_end().trim_end_matches(if closes { "," } else { "" }));
        self.closed = closes;
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let fields: Map<String, Value> =
            serde_json::from_str(self.text.trim_end_matches(',')).ok()?;
        let level = level_of(&fields).filter(|l| *l >= Level::Warning)?;
        // Places are found when the entry is placed; only traces inside need the project, and they
        // can do without.
        let project = Project::default();
        Some(report_of(&fields, level, Inner { project: &project, inside: self.inside }))
    }
}

impl Draft for Record {
    fn take(&mut self, _text: &str, _project: &Project) -> Take {
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

/// A record that is no error.
#[derive(Debug)]
struct Harmless;

impl Draft for Harmless {
    fn take(&mut self, _text: &str, _project: &Project) -> Take {
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        None
    }
}

const MESSAGES: [&str; 8] =
    ["message", "msg", "says", "event", "text", "short_message", "body", "description"];
const ERRORS: [&str; 4] = ["error", "err", "exception", "reason"];
const LEVELS: [&str; 8] =
    ["level", "severity", "lvl", "loglevel", "priority", "grade", "sev", "levelname"];

/// The last part of a name such as `log.level`, in lower case without `_` and `@`.
fn plain(name: &str) -> String {
    let last = name.rsplit('.').next().unwrap_or(name);
    last.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect()
}

fn text_of<'a>(fields: &'a Map<String, Value>, names: &[&str]) -> Option<&'a str> {
    names.iter().find_map(|wanted| {
        let wanted = plain(wanted);
        fields
            .iter()
            .find(|(name, value)| plain(name) == wanted && value.is_string())
            .and_then(|(_, v)| v.as_str())
    })
}

/// The moment that a record names.
fn moment_of(fields: &Map<String, Value>) -> Option<Printed> {
    const NAMES: [&str; 9] =
        ["time", "timestamp", "ts", "t", "datetime", "date", "when", "at", "timeunixnano"];
    let named = fields.iter().find(|(name, _)| NAMES.contains(&plain(name).as_str()))?.1;
    match named {
        Value::String(text) => printed(text),
        Value::Number(number) => printed(&number.to_string()),
        _ => None,
    }
}

fn level_of(fields: &Map<String, Value>) -> Option<Level> {
    let mut numbered = None;
    for (name, value) in fields {
        let key = plain(name);
        let named = LEVELS.contains(&key.as_str());
        match value {
            Value::String(word) if named => {
                if let Some(level) = Level::from_word(word.trim()) {
                    return Some(level);
                }
            }
            Value::Number(n) if named || key == "levelno" => {
                numbered =
                    n.as_i64().and_then(|n| Level::from_number(n, key == "levelno")).or(numbered);
            }
            // Nested as in {"log": {"level": "error"}}.
            Value::Object(inner) if named || key == "log" => {
                let word = inner.values().filter_map(Value::as_str).find_map(Level::from_word);
                if word.is_some() {
                    return word;
                }
            }
            _ => {}
        }
    }
    // Whatever its field is called, a level in capitals is one.
    let shouted = |v: &Value| {
        let word =
            v.as_str().filter(|w| w.len() >= 3 && w.bytes().all(|b| b.is_ascii_uppercase()))?;
        Level::from_word(word)
    };
    numbered.or_else(|| fields.values().find_map(shouted))
}

fn line_of(fields: &Map<String, Value>) -> Option<u64> {
    let named =
        |name: &str| matches!(plain(name).as_str(), "line" | "lineno" | "linenumber" | "lno");
    fields.iter().find(|(k, v)| named(k) && v.is_u64()).and_then(|(_, v)| v.as_u64())
}

fn file_of(fields: &Map<String, Value>) -> Option<&str> {
    let named = |name: &str| {
        matches!(plain(name).as_str(), "file" | "filename" | "script" | "pathname" | "path")
    };
    fields
        .iter()
        .filter(|(k, _)| named(k))
        .filter_map(|(_, v)| v.as_str())
        .find(|s| s.contains('.'))
}

/// A file and a line in these fields, or in an object among them.
fn place_of(fields: &Map<String, Value>, depth: usize) -> Option<(String, u64)> {
    if depth > DEPTH {
        return None;
    }
    if let (Some(file), Some(line)) = (file_of(fields), line_of(fields)) {
        return Some((file.to_owned(), line));
    }
    fields.iter().find_map(|(key, value)| {
        let deeper = value.as_object()?;
        // `file: {name, line}`
        let named =
            text_of(deeper, &["name"]).filter(|_| plain(key) == "file").zip(line_of(deeper));
        named.map(|(file, line)| (file.to_owned(), line)).or_else(|| place_of(deeper, depth + 1))
    })
}

/// A place that one field tells: `caller=main.x:19`.
fn place_told(fields: &Map<String, Value>) -> Option<(String, u64)> {
    const NAMES: [&str; 9] =
        ["caller", "source", "src", "location", "loc", "file", "at", "where", "position"];
    fields.iter().filter(|(key, _)| NAMES.contains(&plain(key).as_str())).find_map(|(_, value)| {
        let text = value.as_str()?.trim();
        let place = crate::read::find_place(text, 0).filter(|p| p.span == (0, text.len()))?;
        Some((place.file.to_owned(), u64::from(place.line)))
    })
}

/// A place in fields of their own: a file beside a line.
fn placed(fields: &Map<String, Value>) -> Option<StackFrame> {
    let (file, line) = place_of(fields, 0).or_else(|| place_told(fields))?;
    let function =
        text_of(fields, &["function", "func", "funcname", "method", "in"]).map(str::to_owned);
    Some(StackFrame {
        file: Some(file),
        line: u32::try_from(line).ok().filter(|l| *l > 0),
        function,
        ..StackFrame::default()
    })
}

/// An exception somewhere in the fields: a text that reads as a trace, or an object that describes
/// one.
fn thrown_in(fields: &Map<String, Value>, inner: Inner<'_>, depth: usize) -> Option<Report> {
    if depth > DEPTH {
        return None;
    }
    for value in fields.values() {
        match value {
            Value::String(text) if text.contains(['\n', '\\']) || text.contains("#012") => {
                let read = lines_within(text).iter().find_map(|lines| inner.read(lines));
                if let Some(report) = read {
                    return Some(report);
                }
            }
            Value::Object(deeper) => {
                if let Some(report) =
                    described(deeper, inner, depth).or_else(|| thrown_in(deeper, inner, depth + 1))
                {
                    return Some(report);
                }
            }
            Value::Array(items) => {
                // A chain of exceptions, the outermost first or alone.
                let kinds = |f: &&Map<String, Value>| text_of(f, &KINDS).is_some_and(like_kind);
                let mut chain = items
                    .iter()
                    .filter_map(Value::as_object)
                    .filter(kinds)
                    .filter_map(|deeper| described(deeper, inner, depth));
                if let Some(mut report) = chain.next() {
                    if report.causes.is_empty() {
                        report.causes = chain.flat_map(as_causes).collect();
                    }
                    return Some(report);
                }
                // Steps beside the record's own sentence.
                let frames = steps(items);
                if !frames.is_empty() {
                    let message = text_of(fields, &MESSAGES).unwrap_or_default();
                    let place = crate::read::find_place(message, 0).filter(|p| p.span.0 == 0);
                    let mut report = Report::new(
                        READER.id,
                        Level::Error,
                        place.as_ref().map_or(message, |p| {
                            message[p.span.1..].trim_start_matches([':', ' '])
                        }),
                    );
                    report.frames = frames;
                    return Some(report);
                }
                for deeper in items.iter().filter_map(Value::as_object) {
                    if let Some(report) = described(deeper, inner, depth) {
                        return Some(report);
                    }
                }
            }
            _ => {}
        }
    }
    None
}

/// Names of fields that hold the kind of an exception.
const KINDS: [&str; 7] = ["type", "name", "class", "kind", "exceptionclass", "exctype", "code"];

/// Whether a word may be the kind of an exception.
fn like_kind(word: &str) -> bool {
    word.ends_with("Error")
        || word.ends_with("Exception")
        || word.ends_with("Fault")
        || word.matches('.').count() >= 2
}

/// An object with the name and message of an exception, and perhaps steps and a cause.
fn described(fields: &Map<String, Value>, inner: Inner<'_>, depth: usize) -> Option<Report> {
    if depth > DEPTH {
        return None;
    }
    let kind = text_of(fields, &KINDS);
    let stack = fields
        .values()
        .filter_map(Value::as_str)
        .filter(|t| t.contains('\n'))
        .find_map(|t| inner.read(t).or_else(|| inner.read(&format!("{HEADER}\n{t}"))));
    let listed = fields
        .values()
        .filter_map(Value::as_array)
        .map(|items| steps(items))
        .find(|s| !s.is_empty());
    if stack.is_none() && listed.is_none() && !kind.is_some_and(like_kind) {
        return None;
    }
    let message = text_of(
        fields,
        &["message", "msg", "reason", "value", "excvalue", "exceptionmessage", "localizedmessage"],
    );
    let mut report =
        stack.unwrap_or_else(|| Report::new(READER.id, Level::Error, message.unwrap_or_default()));
    if report.kind.is_none() {
        report.kind = kind.map(str::to_owned);
    }
    if let Some(message) = message.filter(|_| report.message.is_empty()) {
        report.message = message.to_owned();
    }
    if report.frames.is_empty() {
        report.frames = listed.unwrap_or_default();
        // Where it was made may stand beside the steps.
        let made = place_told(fields).map(|(file, line)| StackFrame {
            file: Some(file),
            line: u32::try_from(line).ok(),
            ..StackFrame::default()
        });
        let same = |a: &StackFrame, b: &StackFrame| a.file == b.file && a.line == b.line;
        if let Some(made) = made.filter(|m| report.frames.first().is_none_or(|f| !same(f, m))) {
            report.frames.insert(0, made);
        }
    }
    if report.causes.is_empty() {
        let cause = fields.iter().find(|(k, _)| {
            matches!(
                plain(k).as_str(),
                "cause" | "inner" | "innerexception" | "causedby" | "previous"
            )
        });
        if let Some(inner) = cause
            .and_then(|(_, v)| v.as_object())
            .and_then(|deeper| described(deeper, inner, depth + 1))
        {
            report.causes = as_causes(inner);
        }
    }
    Some(report)
}

/// An exception as the cause of another one, with its own causes.
fn as_causes(report: Report) -> Vec<Cause> {
    let Report { kind, message, frames, causes, .. } = report;
    std::iter::once(Cause { kind, message, frames }).chain(causes).collect()
}

/// What stands over the steps of Python, which are told without it in a record.
const HEADER: &str = "Traceback (most recent call last):";

/// Names of the outermost step of a path.
const OUTERMOST: [&str; 5] = ["<module>", "main", "{main}", "main chunk", "__main__"];

/// Steps as a list of objects, each with a line and a file or class, or as a list of texts.
fn steps(items: &[Value]) -> Vec<StackFrame> {
    let step = |item: &Value| match item {
        Value::Object(fields) => {
            let mut frame = placed(fields)?;
            let class = text_of(fields, &["class", "classname", "module"]);
            let method =
                text_of(fields, &["method", "methodname", "function", "func", "in", "name"]);
            frame.function = match (class, method) {
                (Some(class), Some(method)) => Some(format!("{class}.{method}")),
                (None, Some(method)) => Some(method.to_owned()),
                _ => frame.function,
            };
            // The package tells the folder, as in traces of the same language.
            if let (Some(class), Some(file)) =
                (class, frame.file.as_ref().filter(|f| !f.contains('/')))
                && let Some((package, _)) = class.rsplit_once('.')
            {
                frame.file = Some(format!("{}/{file}", package.replace('.', "/")));
            }
            Some(frame)
        }
        Value::String(text) => super::general::indented_step(&format!(" {}", text.trim())),
        _ => None,
    };
    let mut found: Vec<StackFrame> = items.iter().take(FRAME_CAP).filter_map(step).collect();
    let outermost = |f: Option<&StackFrame>| {
        f.and_then(|f| f.function.as_deref()).is_some_and(|f| OUTERMOST.contains(&f))
    };
    if outermost(found.first()) && !outermost(found.last()) {
        found.reverse();
    }
    if found.len() == items.len().min(FRAME_CAP) { found } else { Vec::new() }
}

/// `key=value key="quoted value"`: at least three of them, and nothing but them behind the first.
fn pairs(text: &str) -> Option<Map<String, Value>> {
    let mut fields = Map::new();
    let mut rest = text.trim_start();
    while !rest.is_empty() {
        let end = rest
            .find(|c: char| !(c.is_alphanumeric() || matches!(c, '_' | '.' | '-' | '@' | '/')))?;
        if end == 0 || !rest[end..].starts_with('=') {
            return None;
        }
        let (key, value) = (&rest[..end], &rest[end + 1..]);
        let (value, after) = if let Some(quoted) = value.strip_prefix('"') {
            let (mut text, mut close, mut escaped) = (String::new(), None, false);
            for (at, c) in quoted.char_indices() {
                match c {
                    _ if escaped => {
                        text.push(match c {
                            'n' => '\n',
                            't' => '\t',
                            other => other,
                        });
                        escaped = false;
                    }
                    '\\' => escaped = true,
                    '"' => {
                        close = Some(at);
                        break;
                    }
                    other => text.push(other),
                }
            }
            (text, &quoted[close? + 1..])
        } else {
            let end = value.find(' ').unwrap_or(value.len());
            (value[..end].to_owned(), &value[end..])
        };
        let value =
            value.parse::<i64>().map_or_else(|_| Value::String(value), |n| Value::Number(n.into()));
        fields.insert(key.to_owned(), value);
        rest = after.trim_start();
    }
    (fields.len() >= 3).then_some(fields)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::{Layouts, split_prefix};
    use proptest::prelude::*;

    fn read(text: &str) -> Option<Report> {
        let (prefix, project) = (split_prefix(text), Project::default());
        begins(&Start {
            heading: None,
            text,
            prefix: &prefix,
            before: None,
            project: &project,
            layouts: &Layouts::default(),
            inside: super::super::assembler::inside,
            within: |_, _, _| None,
        })?
        .draft
        .report()
    }

    #[track_caller]
    fn check(
        text: &str,
        level: Level,
        kind: Option<&str>,
        message: &str,
        frames: usize,
        causes: usize,
    ) {
        let r = read(text).unwrap_or_else(|| panic!("not read: {text}"));
        assert_eq!(
            (r.level, r.kind.as_deref(), r.message.as_str(), r.frames.len(), r.causes.len()),
            (level, kind, message, frames, causes),
            "{text}"
        );
    }

    #[test]
    fn records_of_many_makes_are_read() {
        check(
            r#"{"level":40,"msg":"the rope is worn"}"#,
            Level::Warning,
            None,
            "the rope is worn",
            0,
            0,
        );
        check(
            r#"{"sev":"ERR","log.logger":"x","message":"torn"}"#,
            Level::Error,
            None,
            "torn",
            0,
            0,
        );
        check(r#"{"log":{"level":"critical"},"event":"sunk"}"#, Level::Fatal, None, "sunk", 0, 0);
        check(
            "{\"l\":1,\"level\":50,\"err\":{\"type\":\"TypeError\",\"stack\":\"TypeError: \
                no bell\\n    at ring (/a/b.js:3:4)\\n    at main \
                (/a/c.js:9:1)\"},\"msg\":\"x\"}",
            Level::Error,
            Some("TypeError"),
            "no bell",
            2,
            0,
        );
        check(
            r#"{"severity":"ERROR","thrown":{"name":"a.b.MarkException","message":"gone","extendedStackTrace":[{"class":"a.b.C","method":"m","file":"C.java","line":4}],"cause":{"name":"a.b.D","message":"deep","trace":[{"class":"a.D","method":"n","file":"D.java","line":5}]}}}"#,
            Level::Error,
            Some("a.b.MarkException"),
            "gone",
            1,
            1,
        );
        check(
            r#"{"at":1.5,"grade":"error","says":"s/a.lua:3: no mast","steps":[{"in":"tick","line":3,"script":"s/a.lua"}]}"#,
            Level::Error,
            None,
            "no mast",
            1,
            0,
        );
        check(
            r#"ts=2026-11-23T20:00:01Z level=error msg="no \"rope\"" boat=3"#,
            Level::Error,
            None,
            "no \"rope\"",
            0,
            0,
        );
        assert!(read(r#"{"level":30,"msg":"0 errors"}"#).is_none());
        assert!(read("level=info msg=x errors=0").is_none());
        assert!(read("a=1 b=2 and so on c=3").is_none());
    }

    proptest! {
        #[test]
        fn any_record_is_answered(text in r#"\{("[a-z]{1,8}":("[ -~]{0,12}"|[0-9]{1,3}|\{\}|\[\]),?){0,5}\}"#, other in "([a-z]{1,5}=[ -~]{0,8} ?){0,6}") {
            let _ = read(&text);
            let _ = read(&other);
        }
    }
}

//! What stands before the sentence of a log line: time, level, tag, object; and places such as
//! `main.lua:12`.
//!
//! Works on the shape of the words of one line alone; what only many lines together can tell is
//! found in `layout`.

use izba_model::pattern::Pattern;
use izba_model::{Column, ColumnUnit, Level, StackFrame};

/// What was recognised before a line's sentence.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Prefix {
    /// The level that the line names for itself.
    pub level: Option<Level>,
    /// An object with its number, such as `Lantern#3`.
    pub object: Option<String>,
    /// The handler of that object.
    pub handler: Option<String>,
    /// Whether it bears a time, as log records do.
    pub timed: bool,
    /// Where that stands, in bytes, half open.
    pub time: Option<(usize, usize)>,
    /// The thread that spoke.
    pub thread: Option<String>,
    /// The process.
    pub process: Option<String>,
    /// The part of the program that spoke: a logger, a tag, an app.
    pub name: Option<String>,
    /// A place that stands in a column of its own, as `file:line`.
    pub place: Option<(String, u32)>,
    /// The function in the column behind it.
    pub function: Option<String>,
    /// Byte at which the sentence begins.
    pub rest_at: usize,
}

/// A place named inside a text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FoundPlace<'a> {
    /// The file as printed.
    pub file: &'a str,
    /// Line, from 1.
    pub line: u32,
    /// Column as printed; characters are assumed.
    pub column: Option<Column>,
    /// Bytes of the text that it takes up, half open.
    pub span: (usize, usize),
}

impl FoundPlace<'_> {
    /// As a step that names no function.
    pub fn frame(&self) -> StackFrame {
        StackFrame {
            file: Some(self.file.to_owned()),
            line: Some(self.line),
            column: self.column,
            ..StackFrame::default()
        }
    }
}

static PLACE: Pattern = Pattern::new(concat!(
    r#"(?P<file>\[string "[^"]*"\]|(?:[a-z]+://[^/\s:]*(?::\d+)?/?|[A-Za-z]:[\\/])?[^\s:()"'<>|,;=\[\]{}]*\.[A-Za-z][A-Za-z0-9]{0,7})"#,
    r"(?::(?P<line>\d{1,7})(?::(?P<col>\d{1,7}))?",
    r"|:\[(?P<bline>\d{1,7}),(?P<bcol>\d{1,7})\]",
    r"|\((?P<pline>\d{1,7})(?:,(?P<pcol>\d{1,7}))?(?:,\d+,\d+)?\)",
    r"| \((?P<sline>\d{1,7}):(?P<scol>\d{1,7})\))"
));

/// Finds the first `file:line`, `file:line:column`, `file(line)`, `file(line,column)` or
/// `file (line:column)` at or after byte `from`.
///
/// A file is something with an ending; `http://host:80` and times are not taken for one.
pub fn find_place(text: &str, from: usize) -> Option<FoundPlace<'_>> {
    // A place has a number; most texts have none.
    let numbered = text.as_bytes().get(from..).is_some_and(|t| t.iter().any(u8::is_ascii_digit));
    if !numbered || !PLACE.regex().is_match_at(text, from) {
        return None;
    }
    let whole = PLACE.regex().captures_at(text, from)?;
    let number = |names: [&str; 4]| {
        names.iter().find_map(|n| whole.name(n)).and_then(|m| m.as_str().parse::<u32>().ok())
    };
    let line = number(["line", "pline", "bline", "sline"]).filter(|n| *n > 0)?;
    let column = number(["col", "pcol", "bcol", "scol"])
        .map(|number| Column { number, unit: ColumnUnit::Chars });
    let all = whole.get(0)?;
    Some(FoundPlace {
        file: whole.name("file")?.as_str(),
        line,
        column,
        span: (all.start(), all.end()),
    })
}

/// The place that a text begins with. Most texts can be seen at once to begin with none: there is a
/// colon or a bracket with a digit behind it in their first words.
pub(crate) fn place_at_start(text: &str) -> Option<FoundPlace<'_>> {
    let head = &text.as_bytes()[..text.len().min(PATH)];
    let numbered = |pair: &[u8]| {
        matches!(pair[0], b':' | b'(') && (pair[1].is_ascii_digit() || pair[1] == b'[')
    };
    let dot = memchr::memchr(b'.', head).or_else(|| memchr::memchr(b'"', head))?;
    if !head[dot..].windows(2).any(numbered) {
        return None;
    }
    find_place(text, 0).filter(|place| place.span.0 == 0)
}

/// Bytes within which the path of a place ends.
const PATH: usize = 400;

static OBJECT: Pattern =
    Pattern::new(r"^(?P<object>[A-Za-z_]\w*#\w+)(?:[.:](?P<handler>[A-Za-z_]\w*))?:?$");

/// Takes time, level, tags and object off the front of `text`, as far as they can be told by their
/// shape, a level in a column of its own.
pub(super) fn columns_of(text: &str) -> Prefix {
    if let Some(prefix) = syslog(text).or_else(|| short_header(text)).or_else(|| device(text)) {
        return prefix;
    }
    let mut prefix = Prefix::default();
    let mut at = behind_progress(text);
    if let Some((end, level)) = old_syslog(text) {
        (prefix.timed, prefix.level, at, prefix.rest_at) = (true, level, end, end);
    }
    let mut barred = false;
    for _ in 0..10 {
        let trimmed = text[at..].trim_start_matches([' ', '\t']);
        at = text.len() - trimmed.len();
        prefix.rest_at = at;
        if prefix.timed
            && let Some((end, found)) = columns(trimmed, &prefix)
        {
            prefix = found;
            at += end;
            // Separators have done their work; what comes is the sentence.
            prefix.rest_at = at;
            return prefix;
        }
        if let Some(after) = trimmed.strip_prefix('|') {
            at = text.len() - after.len();
            barred = true;
            continue;
        }
        if let Some((inner, after)) = bracketed(trimmed) {
            if is_time(inner.split(' ').next().unwrap_or("")) {
                prefix.timed = true;
                let words = inner
                    .split(' ')
                    .take_while(|w| is_time(w) || w.starts_with(['+', '-']) && w.len() == 5)
                    .map(|w| w.len() + 1)
                    .sum::<usize>();
                prefix.see_time(text, at + 1, at + words.max(1));
            }
            let level = inner.split_whitespace().find_map(Level::from_word);
            if prefix.timed
                && level.is_none()
                && prefix.thread.is_none()
                && is_tag(inner)
                && !is_time(inner)
            {
                prefix.thread = Some(inner.to_owned());
            }
            prefix.level = prefix.level.or(level);
            at = text.len() - after.trim_start_matches(':').len();
            continue;
        }
        let token_len = trimmed.find([' ', '\t', '|']).unwrap_or(trimmed.len());
        let token = &trimmed[..token_len];
        let after = &trimmed[token_len..];
        if token.is_empty() {
            break;
        }
        let closed_by_bar = after.trim_start().starts_with('|');
        if is_time(token) || (is_number(token) && closed_by_bar) {
            prefix.timed = true;
            prefix.see_time(text, at, at + token_len);
            at += token_len;
            continue;
        }
        if prefix.level.is_none()
            && let Some((level, dated)) = letter_level(token, after, prefix.timed)
        {
            prefix.level = Some(level);
            prefix.timed |= dated;
            at += token_len;
            continue;
        }
        // Numbers of processes and threads stand beside the time.
        if prefix.timed
            && is_number(token)
            && !after.trim_start().is_empty()
            && (prefix.level.is_none() || place_column(after).is_some())
            && !token.contains('.')
        {
            at += token_len;
            continue;
        }
        if prefix.timed && prefix.level.is_some() {
            let bare = token.trim_end_matches(':');
            let enclosed = bare.len() > 2
                && bare.starts_with('(')
                && bare.ends_with(')')
                && is_tag(&bare[1..bare.len() - 1]);
            let module = token.ends_with(':') && token.contains("::") && is_tag(token);
            if (enclosed || module) && !after.trim().is_empty() {
                at += token_len;
                continue;
            }
            if matches!(token, "-" | "--" | "]" | ":") || is_tag(token) && after.starts_with('\t') {
                at += token_len;
                continue;
            }
            // A column with a place, and perhaps one with a function behind it.
            if let Some((file, line)) =
                place_column(token).filter(|_| token.ends_with(']') || is_column(after))
            {
                prefix.place = Some((file.to_owned(), line));
                at += token_len;
                continue;
            }
            if prefix.place.is_some()
                && prefix.function.is_none()
                && is_tag(token)
                && separated(after)
            {
                prefix.function = Some(token.to_owned());
                at += token_len;
                continue;
            }
            if is_tag(token)
                && (separated(after) || barred && token.contains(':') && separated(after))
            {
                at += token_len;
                continue;
            }
            if token.len() > 1
                && token.ends_with(':')
                && is_tag(token.trim_end_matches(':'))
                && text[..at].trim_end().ends_with("--")
            {
                at += token_len;
                continue;
            }
        }
        if prefix.level.is_none() {
            let word = token.trim_end_matches(':');
            if let Some(level) = Level::from_word(word) {
                let shouted = word.len() >= 3 && word.bytes().all(|b| b.is_ascii_uppercase());
                if shouted || token.ends_with(':') || closed_by_bar || barred {
                    prefix.level = Some(level);
                    at += token_len;
                    continue;
                }
            }
        }
        if prefix.object.is_none()
            && let Some(found) = OBJECT.found(token)
            && (closed_by_bar || token.ends_with(':'))
        {
            prefix.object = Some(found["object"].to_owned());
            prefix.handler = found.name("handler").map(|m| m.as_str().to_owned());
            at += token_len;
            continue;
        }
        // One word between bars is a column of its own.
        if barred && closed_by_bar && find_place(token, 0).is_none() {
            at += token_len;
            continue;
        }
        // A tag with a colon is left out only when more of a prefix, or a place, follows it.
        if token.len() > 1
            && token.ends_with(':')
            && find_place(token, 0).is_none()
            && continues(after, prefix.level.is_some())
        {
            // A file without an ending, before its line.
            let numbered = token.trim_end_matches(':').rsplit_once(':');
            let place =
                numbered.and_then(|(file, line)| Some((file.to_owned(), line.parse().ok()?)));
            prefix.place =
                prefix.place.or(place.filter(|(file, line)| !file.is_empty() && *line > 0));
            at += token_len;
            continue;
        }
        break;
    }
    prefix
}

/// The header of a syslog message: `<PRI>1 TIME HOST APP PROCID MSGID [DATA] sentence` (RFC 5424,
/// section 6).
fn syslog(text: &str) -> Option<Prefix> {
    static HEADER: Pattern = Pattern::new(
        r#"^<(?P<pri>\d{1,3})>1 (?P<time>-|\d{4}-\d\d-\d\dT\S+) \S+ (?P<app>\S+) (?P<process>\S+) \S+ (?:-|(?:\[(?:[^\]"\\]|\\.|"(?:[^"\\]|\\.)*")*\])+)(?: (?:\u{FEFF})?|$)"#,
    );
    let found = HEADER.found(text)?;
    let severity = found["pri"].parse::<u32>().ok().filter(|pri| *pri <= 191)? % 8;
    let level = match severity {
        0..=2 => Level::Fatal,
        3 => Level::Error,
        4 => Level::Warning,
        5 | 6 => Level::Info,
        _ => Level::Debug,
    };
    let time = found.name("time").map(|t| (t.start(), t.end()));
    let word = |part: &str| found.name(part).map(|m| m.as_str().to_owned()).filter(|w| w != "-");
    Some(Prefix {
        level: Some(level),
        timed: true,
        time,
        name: word("app"),
        process: word("process"),
        rest_at: found.get(0)?.end(),
        ..Prefix::default()
    })
}

impl Prefix {
    /// Notes a time; what stands right behind one that is known belongs to it: a time of day behind
    /// its date.
    fn see_time(&mut self, text: &str, from: usize, to: usize) {
        self.time = match self.time {
            Some((start, end))
                if text.get(end..from).is_some_and(|between| between.trim().is_empty()) =>
            {
                Some((start, to))
            }
            Some(known) => Some(known),
            None => Some((from, to.min(text.len()))),
        };
    }
}

/// A level as a single letter: `E` behind a time or before one, `E1123` with month and day, `W,`
/// and `I/tag`.
fn letter_level(token: &str, after: &str, timed: bool) -> Option<(Level, bool)> {
    let level = match token.chars().next()? {
        'F' | 'C' => Level::Fatal,
        'E' => Level::Error,
        'W' => Level::Warning,
        'I' | 'N' => Level::Info,
        'D' | 'V' | 'T' => Level::Debug,
        _ => return None,
    };
    let rest = &token[1..];
    let next = after.trim_start().split([' ', '\t']).next().unwrap_or("").trim_start_matches('[');
    let dated = rest.len() == 4 && rest.bytes().all(|b| b.is_ascii_digit()) && is_time(next);
    let marked = matches!(rest, "," | ":") && is_time(next);
    let bare = rest.is_empty() && timed && !next.is_empty();
    let before = rest.is_empty() && next.contains(':') && is_time(next);
    (dated || marked || bare || before).then_some((level, dated || marked))
}

/// A word that is nothing but `file:line`, perhaps with a closing bracket.
fn place_column(token: &str) -> Option<(&str, u32)> {
    let word = token
        .split([' ', '\t'])
        .find(|w| !w.is_empty())?
        .trim_end_matches([']', ',', ')'])
        .trim_start_matches('(');
    let place = find_place(word, 0)?;
    (place.span == (0, word.len()) && place.column.is_none()).then_some((place.file, place.line))
}

/// Whether what stands behind a word shows that it was a column: a separator, at once or behind one
/// more word.
fn is_column(after: &str) -> bool {
    let mut words = after.split_whitespace();
    let sign = |w: Option<&str>| matches!(w, Some("|" | "-" | "--" | "]"));
    let first = words.next();
    sign(first) || sign(words.next())
}

fn separated(after: &str) -> bool {
    let mut words = after.split_whitespace();
    matches!(words.next(), Some("-" | "--" | "|")) && words.next().is_some()
}

/// A name of a logger, function or program: no sentence begins with it and a sign.
fn is_tag(token: &str) -> bool {
    !token.is_empty()
        && token.chars().all(|c| c.is_alphanumeric() || "._:<>$/-".contains(c))
        && token.chars().any(char::is_alphanumeric)
}

/// Where a record begins that is glued to a bar of progress: behind its closing bracket, when a
/// level stands there.
fn behind_progress(text: &str) -> usize {
    static GLUED: Pattern = Pattern::new(
        r"\d%.*\](?P<record>(?:\d\d:\d\d:\d\d\S*\s+)?(?:FATAL|CRITICAL|ERROR|WARNING|WARN|INFO|DEBUG)\b[: ].*)$",
    );
    if !text.contains("%") {
        return 0;
    }
    GLUED.found(text).and_then(|c| c.name("record")).map_or(0, |m| m.start())
}

/// Headers that are all there is: `ERROR:logger:sentence`, `E/tag( 12): sentence`.
fn short_header(text: &str) -> Option<Prefix> {
    static SHORT: Pattern = Pattern::new(concat!(
        r"^(?:(?P<word>DEBUG|INFO|WARNING|ERROR|CRITICAL|FATAL):[\w.]+:",
        r"|[\w.]+ (?P<name>Verbose|Information|Warning|Error|Critical): \d+ : ",
        r"|(?P<letter>[VDIWEFA])/(?P<tag>[^():/]{1,40})\( *(?P<process>\d+)\): )"
    ));
    let found = SHORT.found(text)?;
    let level = match found.name("word").or(found.name("name")) {
        Some(word) => Level::from_word(word.as_str()),
        None => letter_level(found["letter"].replace('A', "F").as_str(), " x", true)
            .map(|(level, _)| level),
    };
    let word = |part: &str| found.name(part).map(|m| m.as_str().trim().to_owned());
    Some(Prefix {
        level,
        timed: true,
        name: word("tag"),
        process: word("process"),
        rest_at: found.get(0)?.end(),
        ..Prefix::default()
    })
}

/// The columns of a phone's log: month and day, time, process, thread, level, tag; on newer ones the
/// year and the zone, or whose process it is, stand among them.
fn device(text: &str) -> Option<Prefix> {
    static HEADER: Pattern = Pattern::new(concat!(
        r"^(?P<time>(?:\d{4}-)?\d\d-\d\d \d\d:\d\d:\d\d\.\d{3,9})(?: [+-]\d{4})?(?: +[a-z]\w*)?",
        r" +(?P<process>\d+) +\d+ (?P<letter>[VDIWEFA]) (?P<tag>[^\s:](?:[^:]{0,78}[^\s:])?) *: ?",
    ));
    let digits = text.as_bytes().first().is_some_and(u8::is_ascii_digit);
    let found = digits.then(|| HEADER.found(text)).flatten()?;
    let letter = found["letter"].replace('A', "F");
    let word = |part: &str| found.name(part).map(|m| m.as_str().to_owned());
    Some(Prefix {
        level: letter_level(&letter, " x", true).map(|(level, _)| level),
        timed: true,
        time: found.name("time").map(|t| (t.start(), t.end())),
        process: word("process"),
        name: word("tag"),
        rest_at: found.get(0)?.end(),
        ..Prefix::default()
    })
}

/// The header of syslog before it had a standard: month, day, time, host, program. Where it ends,
/// and the level of its number.
fn old_syslog(text: &str) -> Option<(usize, Option<Level>)> {
    static HEADER: Pattern = Pattern::new(concat!(
        r"^(?:<(?P<pri>\d{1,3})>)?(?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov",
        r"|Dec) [ \d]\d \d\d:\d\d:\d\d(?:\.\d+)? (?:[\w.-]+ )?[\w./-]+(?:\[\d+\])?: "
    ));
    let found = HEADER.found(text)?;
    let level = found
        .name("pri")
        .and_then(|p| p.as_str().parse::<i64>().ok())
        .and_then(|pri| Level::from_number(pri % 8, false));
    Some((found.get(0)?.end(), level))
}

/// Columns divided by one sign, from that sign on: where the sentence begins, and what the columns
/// tell. A level has to be among them, or known before.
fn columns(text: &str, so_far: &Prefix) -> Option<(usize, Prefix)> {
    let sign = ["--", "-", "|", ":"]
        .into_iter()
        .find(|s| text.strip_prefix(s).is_some_and(|rest| rest.starts_with(' ')))?;
    let between = format!(" {sign} ");
    let mut prefix = so_far.clone();
    let mut at = sign.len();
    loop {
        let rest = &text[at..];
        at += rest.len() - rest.trim_start().len();
        let Some(end) = text[at..].find(&between) else { break };
        if !take_column(text[at..at + end].trim(), &mut prefix) {
            break;
        }
        at += end + between.len();
    }
    let rest = text[at..].trim_start();
    at = text.len() - rest.len();
    // A last column of several names may be divided from the sentence in another way.
    if let Some((names, sentence)) =
        rest.split_once(" - ").filter(|(names, _)| names.contains(':') && is_tag(names))
    {
        at += names.len() + rest[names.len()..].len() - sentence.len();
    }
    (prefix.level.is_some() && at > sign.len() + 1).then_some((at, prefix))
}

/// Takes what one column tells; `false` when it is none.
fn take_column(column: &str, prefix: &mut Prefix) -> bool {
    let inner = column
        .strip_prefix(['[', '<', '('])
        .and_then(|c| c.strip_suffix([']', '>', ')']))
        .unwrap_or(column)
        .trim();
    let mut words: Vec<&str> = inner.split_whitespace().collect();
    if words.is_empty() || words.len() > 4 {
        return false;
    }
    if let ([word], Some(found)) = (&words[..], OBJECT.found(inner)) {
        prefix.object = Some(found["object"].to_owned());
        prefix.handler = found.name("handler").map(|m| m.as_str().to_owned());
        return !word.is_empty();
    }
    let mut telling = words.len() == 1;
    let (mut level, mut place) = (prefix.level, None);
    words.retain(|word| {
        if level.is_none()
            && let Some(found) =
                Level::from_word(word).or_else(|| letter_level(word, " x", true).map(|(l, _)| l))
        {
            (level, telling) = (Some(found), true);
            return false;
        }
        if let Some((file, line)) = place_column(word) {
            (place, telling) = (Some((file.to_owned(), line)), true);
            return false;
        }
        true
    });
    if !telling || !words.iter().all(|w| is_number(w) || is_tag(w)) {
        return false;
    }
    prefix.level = level;
    if place.is_some() {
        prefix.place = place;
        prefix.function = words.last().map(|w| (*w).to_owned());
    }
    true
}

fn continues(after: &str, level_known: bool) -> bool {
    let after = after.trim_start();
    let place = find_place(after, 0).is_some_and(|p| p.span.0 == 0);
    let word = after.split([' ', '\t']).next().unwrap_or("");
    let level = word.ends_with(':') && Level::from_word(word.trim_end_matches(':')).is_some();
    place || (!level_known && level)
}

fn bracketed(text: &str) -> Option<(&str, &str)> {
    let close = match text.as_bytes().first()? {
        b'[' => ']',
        b'<' => '>',
        _ => return None,
    };
    if text.starts_with("[string ") || text.starts_with("[C]") {
        return None;
    }
    let end = text.char_indices().take(48).find(|(_, c)| *c == close)?.0;
    let inner = &text[1..end];
    (!inner.starts_with("cause")).then_some((inner, &text[end + 1..]))
}

fn is_number(token: &str) -> bool {
    token.bytes().any(|b| b.is_ascii_digit())
        && token.bytes().all(|b| b.is_ascii_digit() || b == b'.')
}

/// Digits joined by the signs of dates and times, with at least one such sign.
fn is_time(token: &str) -> bool {
    let bytes = token.trim_end_matches(':').as_bytes();
    // A date with points has a year at its end.
    if let [day, month, year] = token.split('.').collect::<Vec<_>>()[..] {
        let digits = |text: &str, most: usize| {
            (1..=most).contains(&text.len()) && text.bytes().all(|b| b.is_ascii_digit())
        };
        let year = year.split(['T', '_']).next().unwrap_or(year);
        if digits(day, 2) && digits(month, 2) && digits(year, 4) && year.len() == 4 {
            return true;
        }
    }
    // Seconds since the start, with their unit.
    if let Some(number) = token.strip_suffix("ms").or_else(|| token.strip_suffix('s'))
        && number.contains('.')
        && is_number(number)
    {
        return true;
    }
    bytes.first().is_some_and(u8::is_ascii_digit)
        && bytes.iter().filter(|b| b.is_ascii_digit()).count() >= 4
        && bytes.iter().any(|b| matches!(b, b':' | b'-' | b'/'))
        && bytes.iter().all(|b| {
            b.is_ascii_digit() || matches!(b, b':' | b'-' | b'/' | b'.' | b',' | b'T' | b'Z' | b'+')
        })
}

#[cfg(test)]
mod tests {
    use super::columns_of as split_prefix;
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_number_has_a_digit_and_nothing_but_digits_and_points() {
        for number in ["7", "12.5", "1.2.3", ".5"] {
            assert!(is_number(number), "{number}");
        }
        for other in ["", ".", "..", "1a", "12-5", "one"] {
            assert!(!is_number(other), "{other}");
        }
    }

    #[track_caller]
    fn check(text: &str, level: Option<Level>, object: Option<&str>, rest: &str) {
        let prefix = split_prefix(text);
        assert_eq!(
            (prefix.level, prefix.object.as_deref(), &text[prefix.rest_at..]),
            (level, object, rest),
            "{text}"
        );
    }

    #[test]
    fn prefixes_are_taken_off_by_shape() {
        check(
            "   12.433 | error | Lantern#3.tick | lantern.lua:42: no",
            Some(Level::Error),
            Some("Lantern#3"),
            "lantern.lua:42: no",
        );
        check(
            "2026-11-23T08:00:01.5Z WARN  [main] the tide is odd",
            Some(Level::Warning),
            None,
            "the tide is odd",
        );
        check(
            "[ERROR] boat.update: ./boat.lua:10: attempt",
            Some(Level::Error),
            None,
            "./boat.lua:10: attempt",
        );
        check("lua5.4: main.lua:3: attempt", None, None, "main.lua:3: attempt");
        check("error: it failed", Some(Level::Error), None, "it failed");
        check("0 errors while loading", None, None, "0 errors while loading");
        check("error handling is set up", None, None, "error handling is set up");
        check("TypeError: x", None, None, "TypeError: x");
        check("[12:00:01] [warning] fog", Some(Level::Warning), None, "fog");
        check(
            "W1123 06:56:37.569688 139950 sluice.py:16] water is at 2.5 m",
            Some(Level::Warning),
            None,
            "water is at 2.5 m",
        );
        check(
            "W, [2026-11-23T06:55:24.233547 #3784]  WARN -- : the awning is torn",
            Some(Level::Warning),
            None,
            "the awning is torn",
        );
        check(
            "F, [2026-11-23T06:55:24.233547 #3784] FATAL -- shop: cannot go on",
            Some(Level::Fatal),
            None,
            "cannot go on",
        );
        check(
            "2026-11-23T06:55:44.839 C main.cpp:27 main | boiler is dry",
            Some(Level::Fatal),
            None,
            "boiler is dry",
        );
        check(
            "2026-11-23 06:55:20.482 | ERROR    | __main__:pack:27 - no labels",
            Some(Level::Error),
            None,
            "no labels",
        );
        check(
            "06:56:17 WARN log.pl:26 main:: - battery low",
            Some(Level::Warning),
            None,
            "battery low",
        );
        check(
            "11-23 20:00:01.120  4312  4320 E TicketApp: no seat",
            Some(Level::Error),
            None,
            "no seat",
        );
        check("12:00:01 E is a letter", Some(Level::Error), None, "is a letter");
        check("E is a letter", None, None, "E is a letter");
        let place = |text: &str| split_prefix(text).place;
        assert_eq!(
            place("E1123 06:56:37.569776 1399 sluice.py:17] frayed"),
            Some(("sluice.py".into(), 17))
        );
        assert_eq!(
            place("2026-11-23T06:55:44.839 C main.cpp:27 main | boiler is dry"),
            Some(("main.cpp".into(), 27))
        );
    }

    #[test]
    fn a_phones_columns_tell_who_spoke_and_which_process() {
        for (text, process, tag, rest) in [
            (
                "11-23 20:00:01.120  4312  4320 E Ticket App: no: seat",
                "4312",
                "Ticket App",
                "no: seat",
            ),
            ("2026-11-23 20:00:01.120 +0100 u0_a12  4312  4320 W ferry   : ", "4312", "ferry", ""),
            ("11-23 20:00:01.120480  1  2 I a: \tset in", "1", "a", "\tset in"),
        ] {
            let prefix = split_prefix(text);
            let told = (prefix.process.as_deref(), prefix.name.as_deref(), &text[prefix.rest_at..]);
            assert_eq!(told, (Some(process), Some(tag), rest));
            assert!(prefix.level.is_some() && prefix.time.is_some());
        }
        // Without a tag, or with a letter that is no level, it is another form.
        for text in ["11-23 20:00:01.120  4312  4320 E no tag", "11-23 20:00:01.120 4 4 X ferry: x"]
        {
            assert_eq!(split_prefix(text).name, None, "{text}");
        }
    }

    #[test]
    fn a_syslog_header_is_taken_off_whole() {
        check(
            "<11>1 2026-11-23T20:00:01.5Z phone tickets 43 crash - \tat a.B.c(B.kt:3)",
            Some(Level::Error),
            None,
            "\tat a.B.c(B.kt:3)",
        );
        check(r#"<10>1 - - - - - [a@1 x="] \"y"][b] it fell"#, Some(Level::Fatal), None, "it fell");
        check("<14>1 2026-11-23T20:00:01Z h a - - -", Some(Level::Info), None, "");
        check(
            "<999>1 2026-11-23T20:00:01Z h a - - - no such priority",
            None,
            None,
            "1 2026-11-23T20:00:01Z h a - - - no such priority",
        );
    }

    #[test]
    fn places_are_found_and_times_are_not() {
        let place = |text: &'static str| {
            find_place(text, 0).map(|p| (p.file, p.line, p.column.map(|c| c.number)))
        };
        assert_eq!(place("at f (/a/b c/x.js:3:14)"), Some(("c/x.js", 3, Some(14))));
        assert_eq!(place("Main.cs(3,9): error CS1002: ; expected"), Some(("Main.cs", 3, Some(9))));
        assert_eq!(place("file:///srv/x.mjs:7"), Some(("file:///srv/x.mjs", 7, None)));
        assert_eq!(place(r"C:\game\main.lua:12: no"), Some((r"C:\game\main.lua", 12, None)));
        assert_eq!(place("12:30:01.500 start"), None);
        assert_eq!(place(r#"[string "scene"]:5: no"#), Some((r#"[string "scene"]"#, 5, None)));
    }

    proptest! {
        /// Time, level, tag and object in the usual orders and brackets: the level is found and the
        /// sentence is left whole.
        #[test]
        fn prefixes_of_many_forms_are_taken_off(
            time in prop_oneof![Just(""), Just("12:00:01.500 "), Just("2026-11-23T08:00:01Z "), Just("[12:00:01] "), Just("[2026-11-23 12:00:01] ")],
            level in prop_oneof![Just(("[ERROR] ", Level::Error)), Just(("WARN ", Level::Warning)), Just(("error: ", Level::Error)), Just(("<warning> ", Level::Warning)), Just(("FATAL: ", Level::Fatal))],
            tag in prop_oneof![Just(""), Just("[main] "), Just("[night.Ferry] ")],
            sentence in "(the [a-z]{2,9} is [a-z]{2,9}|no [a-z]{2,6} here: try again|Boat #[0-9]{1,3} \
                sank)",
        ) {
            let text = format!("{time}{}{tag}{sentence}", level.0);
            let prefix = split_prefix(&text);
            prop_assert_eq!(prefix.level, Some(level.1), "{}", text);
            prop_assert_eq!(&text[prefix.rest_at..], sentence.as_str(), "{}", text);
            prop_assert_eq!(prefix.timed, !time.is_empty(), "{}", text);
        }

        #[test]
        fn any_text_has_a_prefix_inside_itself(text in "\\PC{0,80}") {
            let prefix = split_prefix(&text);
            prop_assert!(text.is_char_boundary(prefix.rest_at));
            if let Some(place) = find_place(&text, 0) {
                prop_assert!(place.span.1 <= text.len());
            }
        }
    }
}

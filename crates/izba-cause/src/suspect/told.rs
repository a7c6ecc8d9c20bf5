//! told: what the console itself says of where the mistake is: the beginning of a comment or text
//! without an end, a place in a file of data, a name that a script does not hand out, what has to
//! be brought in.

use super::brought::names_file;
use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "told", Any, "../../words/suspects/told.toml";
    COMMENT_OPEN = "comment-open",
    COMMENT_TOLD = "comment-told",
    DATA_BROKEN = "data-broken",
    DATA_HERE = "data-here",
    READS_IT = "reads-it",
    NOT_EXPORTED = "not-exported",
    ASKS_HERE = "asks-here",
    NOTHING_GIVEN = "nothing-given",
    BRING_IN = "bring-in",
    NEW_MISSING = "new-missing",
    REFUSED_HERE = "refused-here",
}

/// The check for this: what the console itself says of where the mistake is.
pub static CHECK: Check =
    Check { id: "told", kinds: KINDS, applies: |query| query.file.is_some(), look };

static STARTING: Pattern = Pattern::new(
    r"starting at line (?<line>\d+)|(?:to (?:close|match) .+? at line|started (?:at|on) line) (?<other>\d+)",
);
static IN_DATA: Pattern = Pattern::new(
    r"(?i)\bin JSON\b|\bvalid JSON\b|JSONDecodeError|Expecting .*: line \d+ column|XmlException|not well-formed|SAXParse|ParseError: .*line \d+|YAML|TOML|Extra data: line|Unexpected token .*, (?:\.\.\.)?\x22",
);
static LINE: Pattern = Pattern::new(r"(?i)\bline (?<line>\d+)");
static POSITION: Pattern = Pattern::new(r"(?i)at position (?<at>\d+)|\(char (?<char>\d+)\)");
static EXPORT: Pattern = Pattern::new(
    r"module '(?<module>[^']+)' does not provide an export named '(?<name>[^']+)'|cannot import name '(?<py>[^']+)' from '(?<from>[^']+)'",
);
/// A type called like a function, as V8 and `JavaScriptCore` say it.
static WITHOUT_NEW: Pattern = Pattern::new(
    r"[Cc]lass constructor (?<name>\w+) cannot be invoked without 'new'|[Cc]annot call a class constructor (?<other>\w+) without",
);
/// What can only be said of what stands on the line itself: of CPython, V8, javac and the compilers
/// of C#.
static OF_THE_LINE: Pattern = Pattern::new(
    r"no suitable method found to override|method does not override or implement|is invalid encoding|unknown encoding: ",
);
static USING: Pattern =
    Pattern::new(r"missing [`'](?<name>[\w.]+)' using directive|you missing an? using directive");

fn look(query: &Query<'_>, seen: &mut Seen) {
    comments(query, seen);
    data(query, seen);
    exports(query, seen);
    returns(query, seen);
    using(query, seen);
    of_the_line(query, seen);
}

/// A sentence that is true of the line whatever the rest of the program does.
fn of_the_line(query: &Query<'_>, seen: &mut Seen) {
    let Some(path) = query.path().filter(|_| query.entry.place.is_some()) else { return };
    if let Some(found) = WITHOUT_NEW.captures(&query.said) {
        let name = found.name("name").or(found.name("other")).map_or("", |m| m.as_str());
        let mut calls = query.on_line().filter(|n| n.is(Kind::Call));
        if let Some(call) = calls.find(|n| n.last_name() == Some(name)) {
            seen.suspect(path, call.line(), Strength::Plain, say!(NEW_MISSING, name));
        }
    } else if OF_THE_LINE.is_match(&query.said) && names_the_line(query) {
        seen.suspect(path, query.line, Strength::Plain, say!(REFUSED_HERE));
    }
}

/// Whether something that the sentence quotes stands on the line, without what it belongs to.
fn names_the_line(query: &Query<'_>) -> bool {
    let line = query.file.and_then(|f| f.line(query.line)).unwrap_or("");
    let last = |m: &str| {
        let name = m.split('(').next().unwrap_or(m);
        name.rsplit(['.', ':']).next().unwrap_or(name).to_owned()
    };
    let received = query.said.rsplit("Received ").next().unwrap_or("").trim_matches(['\'', '"']);
    query
        .mentioned
        .iter()
        .map(|m| last(m))
        .chain([received.to_owned()])
        .any(|m| m.len() > 1 && line.contains(m.as_str()))
}

/// A comment or text without an end: told with the line where it begins, or found.
fn comments(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Family::DoesNotParse) = (query.file, query.family()) else { return };
    let unfinished = [
        "unfinished",
        "unterminated",
        "*/",
        "end-of-file",
        "End-of-file",
        "reached end of file",
        "unclosed comment",
        "<eof>",
    ]
    .iter()
    .any(|w| query.said.contains(w));
    if !unfinished {
        return;
    }
    let told = STARTING.captures(&query.said).filter(|_| query.said.contains("comment"));
    let told = told.and_then(|c| c.name("line")?.as_str().parse::<u32>().ok());
    // What stands there has to begin one.
    let signs = &file.language.signs;
    let begins = |line: &u32| {
        file.line(*line).is_some_and(|text| {
            signs.block_comments.iter().any(|(open, _)| text.contains(open.as_str()))
                || signs.long_brackets && text.contains('[')
        })
    };
    if let Some(line) = told.filter(begins) {
        seen.suspect(&file.path, line, Strength::Plain, say!(COMMENT_TOLD));
        return;
    }
    for (open, close) in &file.language.signs.block_comments {
        if let Some(at) = left_open(&file.text, open, close) {
            seen.suspect(&file.path, file.line_of(at), Strength::Plain, say!(COMMENT_OPEN));
        }
    }
}

/// The byte at which a comment begins that nothing ends; texts in quotes hold no comments.
fn left_open(text: &str, open: &str, close: &str) -> Option<usize> {
    let mut at = 0;
    while let Some(found) = text[at..].find(open).map(|n| n + at) {
        let line = &text[text[..found].rfind('\n').map_or(0, |n| n + 1)..found];
        // One in a text or behind a line comment is none.
        if line.matches('"').count() % 2 == 1 || line.contains("//") {
            at = found + open.len();
            continue;
        }
        match text[found + open.len()..].find(close) {
            Some(end) => at = found + open.len() + end + close.len(),
            None => return Some(found),
        }
    }
    None
}

/// Data that cannot be read, where the script that reads it is well.
fn data(query: &Query<'_>, seen: &mut Seen) {
    if !IN_DATA.is_match(&query.said) {
        return;
    }
    let broken: Vec<&FileFacts> =
        query.index.data().filter(|f| f.broken || !f.faults.is_empty()).collect();
    let named = broken.iter().find(|f| query.said.contains(f.name()));
    let chosen: Vec<&FileFacts> = match named {
        Some(named) => vec![named],
        None => broken,
    };
    let alone = chosen.len() == 1;
    for file in chosen {
        let strength = if alone { Strength::Plain } else { Strength::Fair };
        let (line, reason) = match file.faults.first() {
            Some(fault) => (fault.line, say!(DATA_BROKEN, file = file.name(), fault = fault.what)),
            None => (line_told(query, file), say!(DATA_HERE, file = file.name())),
        };
        let suspect = seen.suspect(&file.path, line, strength, reason);
        if let Some(fault) = file.faults.first() {
            suspect.to(fault.to_line.max(line));
        }
        if let Some(path) = query.path() {
            suspect.saw(path, query.line, say!(READS_IT));
        }
    }
}

/// The line of a file of data that the sentence tells, by line or by character.
fn line_told(query: &Query<'_>, file: &FileFacts) -> u32 {
    let number = |pattern: &Pattern, names: &[&str]| {
        let found = pattern.captures(&query.said)?;
        names.iter().find_map(|n| found.name(n)?.as_str().parse::<usize>().ok())
    };
    if let Some(at) = number(&POSITION, &["at", "char"]) {
        let byte = file.text.char_indices().nth(at).map_or(file.text.len(), |(b, _)| b);
        return file.line_of(byte);
    }
    number(&LINE, &["line"]).map_or(1, |line| line as u32)
}

/// A name is brought in that the other script makes and does not hand out.
fn exports(query: &Query<'_>, seen: &mut Seen) {
    let Some(found) = EXPORT.captures(&query.said) else { return };
    let text = |name: &str| found.name(name).map(|m| m.as_str());
    let (Some(module), Some(name)) = (text("module").or(text("from")), text("name").or(text("py")))
    else {
        return;
    };
    let files = query.scope.iter().filter(|f| f.language.is_code() && names_file(module, f));
    for file in files {
        let made = file.tree.named(name).find(|n| {
            n.defines().is_some_and(|h| !matches!(h, How::Parameter | How::Key | How::Import))
                && n.function().is_none()
                && n.class().is_none()
                && !n.has(Flag::Export)
                && !n.step().has(Flag::Export)
        });
        if let Some(made) = made {
            let by = query.file.map_or("", FileFacts::name);
            let reason = say!(NOT_EXPORTED, name, file = by);
            let suspect = seen.suspect(&file.path, made.line(), Strength::Plain, reason);
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(ASKS_HERE));
            }
        }
    }
}

/// A compiler misses a return, and the function's one step works out a value.
fn returns(query: &Query<'_>, seen: &mut Seen) {
    if !query.said.contains("return a value") && !query.said.contains("missing return statement") {
        return;
    }
    let Some(file) = query.file else { return };
    let around = file
        .tree
        .all()
        .filter(|n| n.is(Kind::Func) && n.line() <= query.line && n.last_line() + 1 >= query.line);
    let Some(block) = around.last().and_then(|f| f.part(Kind::Block)) else { return };
    let Some(last) = block.children().last() else { return };
    let works_out = last.is(Kind::Call) && block.children().count() == 1
        || matches!(last.kind(), Kind::Bin | Kind::Name | Kind::Field | Kind::New);
    if works_out {
        seen.suspect(&file.path, last.step().line(), Strength::Plain, say!(NOTHING_GIVEN));
    }
}

/// A compiler says what has to be brought in.
fn using(query: &Query<'_>, seen: &mut Seen) {
    let (Some(found), Some(file)) = (USING.captures(&query.said), query.file) else { return };
    let Some(name) = found.name("name").map(|m| m.as_str()) else { return };
    let imports: Vec<At<'_>> = file.tree.all().filter(|n| n.is(Kind::Import)).collect();
    if imports.iter().any(|i| i.is_called(name)) {
        return;
    }
    // In the order of the alphabet, where they stand in it.
    let sorted = imports.windows(2).all(|w| w[0].text() <= w[1].text());
    let before = imports.iter().filter(|i| i.text() <= Some(name)).map(|i| i.line()).max();
    let line = before.filter(|_| sorted).unwrap_or(1);
    let to = imports.iter().map(|i| i.line()).max().unwrap_or(1).max(line);
    seen.suspect(&file.path, line, Strength::Plain, say!(BRING_IN, name)).to(to);
}

#[cfg(test)]
mod tests {
    use super::left_open;

    #[test]
    fn a_comment_without_an_end_is_found_and_one_in_a_text_is_none() {
        assert_eq!(left_open("a /* b */ c\n/* d\ne", "/*", "*/"), Some(12));
        assert_eq!(left_open("a /* b */ \"/*\" // /*", "/*", "*/"), None);
    }
}

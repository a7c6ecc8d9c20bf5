//! What the error asks for: the expression of the reported line that it is about, the names that it
//! mentions, the way that led there; each looked up once for all checks.

use super::raises;
use super::slice_node::SliceNode;
use super::symbols::SymbolIndex;
use izba_model::Entry;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Index, Kind, Role, SyntaxFault};
use izba_model::dialect::Form;
use izba_model::pattern::Pattern;
use std::cell::{OnceCell, RefCell};
use std::collections::{HashMap, HashSet};
use std::rc::Rc;
use std::sync::Arc;

/// An own step of the stack.
#[derive(Debug, Clone, Copy)]
pub struct Step<'a> {
    /// Its file.
    pub file: &'a FileFacts,
    /// Its line, from 1.
    pub line: u32,
    /// The function that the line stands in.
    pub function: Option<At<'a>>,
}

impl<'a> Step<'a> {
    /// The calls on its line: one of them led to the step before.
    pub fn calls(&self) -> Vec<At<'a>> {
        let nodes = self.file.tree.on_line(self.line);
        nodes.filter(|n| matches!(n.kind(), Kind::Call | Kind::New)).collect()
    }
}

/// One error, seen against the code.
pub struct Query<'a> {
    /// The error.
    pub entry: &'a Entry,
    /// All files.
    pub index: &'a Index,
    /// Faults of the script that does not parse.
    pub syntax: &'a [SyntaxFault],
    /// The sentence with its kind and details.
    pub said: String,
    /// File of the place.
    pub file: Option<&'a FileFacts>,
    /// Line of the place, from 1; 0 when none is known.
    pub line: u32,
    /// Own steps, fault first; the place itself is the first.
    pub steps: Vec<Step<'a>>,
    /// Expressions of the line that may be what the error is about, most likely first.
    pub subjects: Vec<At<'a>>,
    /// Names and texts that the sentence mentions in quotes, or that stand for what is missing.
    pub mentioned: Vec<String>,
    /// The name that is not there, where the sentence is about a name.
    pub asked: Option<String>,
    /// Where the subjects come from.
    pub slice: Vec<SliceNode<'a>>,
    /// Files that are worth reading for this error; all of a small project.
    pub scope: Vec<&'a FileFacts>,
    /// All names of the scope and where they occur.
    pub symbols: SymbolIndex<'a>,
    /// The words of the sentence and of its causes; looked up with the first question.
    words: OnceCell<HashSet<String>>,
    /// How much a line of the slice has to do with the error.
    weights: OnceCell<HashMap<(&'a str, u32), f32>>,
    /// How much each file of data has to do with it.
    ties: RefCell<HashMap<Arc<str>, Tie>>,
}

/// How much a file of data can have to do with the error.
#[derive(Clone)]
enum Tie {
    /// So much, whatever the record.
    Whole(f32),
    /// Its records that name a script on the way, in order, and how far off one still counts.
    Naming(Rc<[u32]>, u32),
}

/// Longer sentences are looked at up to here, in bytes.
const SENTENCE: usize = 16 << 10;
/// Names in a sentence that are looked up.
const MENTIONED: usize = 60;

/// Endings of files that programs name.
pub(super) const ENDINGS: &[&str] = &[
    "png",
    "jpg",
    "jpeg",
    "gif",
    "ogg",
    "wav",
    "mp3",
    "json",
    "xml",
    "csv",
    "txt",
    "toml",
    "yaml",
    "yml",
    "ini",
    "properties",
    "ttf",
];

/// A project of at most this many files is looked at as a whole.
const WHOLE: usize = 80;

static QUOTED: Pattern = Pattern::new(
    r#"'([^']{1,80})'|"([^"]{1,80})"|`([^`']{1,80})['`]|‘([^’]{1,80})’|symbol:\s+\w+ ([\w$]+)"#,
);
static FILE_NAME: Pattern = Pattern::new(r"[\w./-]*\w\.\w{2,4}\b");

impl<'a> Query<'a> {
    /// Looks up what an error asks for; where that comes from is followed by [`super::asked`].
    pub fn new(entry: &'a Entry, index: &'a Index, syntax: &'a [SyntaxFault]) -> Query<'a> {
        let place = entry.place.as_ref();
        let (file, line) = match place {
            Some(place) => (index.file(&place.file), place.line.unwrap_or(0)),
            None => said_here(entry, index).map_or((None, 0), |(file, line)| (Some(file), line)),
        };
        let mut said = entry.root_kind.as_deref().map_or(String::new(), |k| format!("{k}: "));
        said.push_str(&entry.root_message);
        for detail in &entry.report.details {
            said.push('\n');
            said.push_str(detail);
        }
        let end = (0..=SENTENCE.min(said.len())).rev().find(|at| said.is_char_boundary(*at));
        said.truncate(end.unwrap_or(0));
        let mut steps = steps(entry, index);
        if let (true, Some(file)) = (steps.is_empty(), file) {
            steps.push(step(file, line));
        }
        let mut mentioned: Vec<String> = Vec::new();
        for key in ["name", "member", "index", "callee", "path", "text", "scope"] {
            let fact = entry.facts.get(key).map(|f| f.trim_matches(['\'', '"', '`']).to_owned());
            mentioned.extend(fact.filter(|f| {
                key != "scope"
                    || f.len() > 2
                        && !matches!(
                            f.as_str(),
                            "local"
                                | "field"
                                | "global"
                                | "method"
                                | "upvalue"
                                | "constant"
                                | "private"
                        )
            }));
        }
        let quoted = QUOTED.captures_iter(&said).filter_map(|c| c.iter().skip(1).flatten().next());
        mentioned.extend(quoted.map(|m| m.as_str().trim_end_matches("()").to_owned()));
        let mut seen = Vec::new();
        mentioned.retain(|m| {
            let room = seen.len() < MENTIONED;
            room && m.chars().any(char::is_alphanumeric) && !seen.contains(m) && {
                seen.push(m.clone());
                true
            }
        });
        let scope = scope(index, &steps, file);
        let symbols = SymbolIndex::of(&scope, index);
        let mut query = Query {
            entry,
            index,
            syntax,
            said,
            file,
            line,
            steps,
            subjects: Vec::new(),
            mentioned,
            asked: None,
            slice: Vec::new(),
            scope,
            symbols,
            words: OnceCell::new(),
            weights: OnceCell::new(),
            ties: RefCell::default(),
        };
        query.subjects = query.find_subjects();
        query.asked = query.find_asked();
        query
    }

    /// The family of the error, which tells what it asks for.
    pub fn family(&self) -> Family {
        self.entry.family
    }

    /// Path of the file that the console names; `None` when that is no own file.
    pub fn path(&self) -> Option<&'a Arc<str>> {
        self.file.map(|f| &f.path)
    }

    /// File names that the sentence holds: with an ending that files of the project, or pictures
    /// and sounds, have.
    pub fn file_names(&self) -> impl Iterator<Item = &str> {
        let known = |name: &str| {
            let ending = name.rsplit('.').next().unwrap_or("");
            ENDINGS.contains(&ending)
                || self
                    .index
                    .on_disk
                    .iter()
                    .any(|p| p.rsplit_once('.').is_some_and(|(_, e)| e == ending))
        };
        FILE_NAME.find_iter(&self.said).map(|m| m.as_str()).filter(move |n| known(n))
    }

    /// Whether a word stands anywhere in what the console said, also in the outer sentences.
    pub fn says(&self, word: &str) -> bool {
        let words = self.words.get_or_init(|| {
            let report = &self.entry.report;
            let parts = |t: &str| -> Vec<String> {
                let between = |c: char| !(c.is_alphanumeric() || matches!(c, '_' | '$' | '-'));
                t.split(between).filter(|w| !w.is_empty()).map(str::to_owned).collect()
            };
            [self.said.as_str(), report.message.as_str()]
                .into_iter()
                .chain(report.causes.iter().map(|c| c.message.as_str()))
                .flat_map(parts)
                .collect()
        });
        words.contains(word)
    }

    /// All nodes of this name or text in the files that are worth reading, each with its file.
    pub(super) fn named(&self, name: &str) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
        self.scope.iter().flat_map(move |f| f.tree.named(name).map(move |n| (*f, n)))
    }

    /// Nodes that begin on the reported line.
    pub fn on_line(&self) -> impl Iterator<Item = At<'a>> {
        let line = self.line;
        self.file.into_iter().flat_map(move |f| f.tree.on_line(line))
    }

    /// How much a place has to do with the error, 0 to 1.
    pub fn relevance(&self, file: &FileFacts, line: u32) -> f32 {
        let weights = self.weights.get_or_init(|| {
            let mut weights: HashMap<(&str, u32), f32> = HashMap::new();
            for m in &self.slice {
                let weight = weights.entry((m.file.path.as_ref(), m.line())).or_default();
                *weight = weight.max(m.weight);
            }
            weights
        });
        let direct = weights.get(&(file.path.as_ref(), line)).copied().unwrap_or(0.0);
        if direct > 0.0 {
            return direct.max(0.2);
        }
        let near = self.steps.iter().any(|s| s.file.path == file.path);
        if near { 0.25 } else { 0.18 }
    }

    /// Names of the subjects: `dome` for `this.dome`.
    pub fn subject_names(&self) -> Vec<&'a str> {
        let mut names: Vec<&str> = self
            .subjects
            .iter()
            .filter_map(|s| s.last_name())
            .filter(|n| !matches!(*n, "self" | "this"))
            .collect();
        names.dedup();
        names
    }

    /// How much a line of data can have to do with the error, 0 to 1: whole where the code of the
    /// error names its file, or its record names a script on the way; little where it belongs to
    /// another part of the project.
    pub fn data_tie(&self, file: &FileFacts, record: u32, text: &str) -> f32 {
        if self.file.is_none() {
            // Nothing ties what has no place to a file but the words that it says.
            return if self.says(text) { 0.5 } else { 0.0 };
        }
        if self.says(text) {
            return 1.0;
        }
        let known = self.ties.borrow().get(file.path.as_ref()).cloned();
        let tie = known.unwrap_or_else(|| {
            let tie = self.tie(file);
            self.ties.borrow_mut().insert(file.path.clone(), tie.clone());
            tie
        });
        match tie {
            Tie::Whole(tie) => tie,
            Tie::Naming(records, reach) => {
                let at = records.partition_point(|r| *r < record.saturating_sub(reach));
                let near = records.get(at).is_some_and(|r| r.abs_diff(record) <= reach);
                if near { 1.0 } else { 0.5 }
            }
        }
    }

    fn tie(&self, file: &FileFacts) -> Tie {
        let name = file.name();
        let names_it = |f: &&&FileFacts| {
            f.tree.all().any(|n| {
                matches!(n.kind(), Kind::Str | Kind::Import)
                    && n.text().is_some_and(|t| {
                        t.rsplit('/').next() == Some(name)
                            || t.trim_start_matches("./") == file.path.as_ref()
                    })
            })
        };
        let on_way = |f: &&&FileFacts| {
            self.steps.iter().any(|s| s.file.path == f.path)
                || self.slice.iter().any(|m| m.path() == &f.path)
        };
        let mut namers =
            self.scope.iter().filter(|f| f.language.is_code()).filter(names_it).peekable();
        if namers.peek().is_some() {
            return Tie::Whole(if namers.any(|f| on_way(&f)) { 1.0 } else { 0.7 });
        }
        let script = |text: &str| {
            self.steps.iter().any(|s| {
                text == s.file.path.as_ref() || text.rsplit('/').next() == Some(s.file.name())
            })
        };
        let naming = file.data.iter().filter(|d| script(&d.text)).map(|d| d.record);
        let mut naming: Vec<u32> = naming.collect();
        if !naming.is_empty() {
            naming.sort_unstable();
            // Elements of XML count one by one, so that what belongs together lies in neighbours.
            return Tie::Naming(naming.into(), u32::from(file.language.data == Some(Form::Xml)));
        }
        // What lists it beside a script on the way ties them.
        let beside = |f: &&FileFacts| {
            let names = |end: &str| {
                f.data
                    .iter()
                    .any(|d| d.role == Role::Value && d.text.rsplit('/').next() == Some(end))
            };
            names(name) && f.data.iter().any(|d| script(&d.text))
        };
        if self.scope.iter().filter(|f| f.language.is_data()).any(beside) {
            return Tie::Whole(0.75);
        }
        let data = self.scope.iter().filter(|f| !f.data.is_empty()).count();
        Tie::Whole(if data <= 3 { 0.9 } else { 0.3 })
    }

    fn find_subjects(&self) -> Vec<At<'a>> {
        let nodes: Vec<At<'a>> = self.on_line().collect();
        let called = |n: &At<'a>| matches!(n.kind(), Kind::Name | Kind::Field);
        let mut found: Vec<At<'a>> = Vec::new();
        let fact = |key: &str| {
            self.entry.facts.get(key).map(String::as_str).filter(|f| !f.is_empty() && *f != "?")
        };
        // What the program itself asked before it raised the error.
        if let Some(file) = self.file.filter(|f| raises::raises(f, self.line)) {
            found.extend(raises::conditions(file, self.line).flat_map(At::whole).filter(|n| {
                matches!(n.kind(), Kind::Name | Kind::Field | Kind::Index)
                    && !n.parent().is_some_and(|p| {
                        p.is(Kind::Field) || p.is(Kind::Call) && p.child(0) == Some(*n)
                    })
            }));
        }
        // What a member is read of.
        if let Some(member) = fact("member") {
            let of_member =
                nodes.iter().filter(|n| n.is(Kind::Field) && n.is_called(member)).copied();
            let missing_of = self.said.contains("has no attribute")
                && !self.said.contains("NoneType")
                || self.said.contains("not a function");
            if missing_of {
                found.extend(of_member);
            } else {
                found.extend(of_member.filter_map(|n| n.child(0)));
                found.extend(nodes.iter().filter(|n| n.is(Kind::Index)).filter_map(|n| n.child(0)));
            }
        }
        if let Some(name) = fact("name") {
            let last = name.rsplit(['.', ':']).next().unwrap_or(name).trim_end_matches("()");
            let last = last.split('[').next().unwrap_or(last);
            found.extend(nodes.iter().filter(|n| called(n) && n.is_called(last)).copied());
        }
        if let Some(callee) = fact("callee") {
            let last = callee.rsplit(['.', ':']).next().unwrap_or(callee).trim_end_matches("()");
            for call in nodes.iter().filter(|n| n.is(Kind::Call) && n.last_name() == Some(last)) {
                let number: Option<usize> = fact("arg").and_then(|n| n.parse().ok());
                match number.and_then(|n| call.arguments().nth(n.max(1) - 1)) {
                    Some(argument) => found.push(argument),
                    None => found.extend(call.child(0)),
                }
            }
        }
        if found.is_empty()
            && (self.said.contains("not a function")
                || self.said.contains("attempt to call")
                || self.said.contains("not callable"))
        {
            found.extend(nodes.iter().filter(|n| n.is(Kind::Call)).filter_map(|n| n.child(0)));
        }
        let operands = [
            "arithmetic",
            "concatenate",
            "compare",
            "operand",
            "divi",
            "modulo",
            "to add",
            "to sub",
            "to mul",
            "to div",
            "to mod",
            "to pow",
            "to idiv",
        ]
        .iter()
        .any(|w| self.said.to_lowercase().contains(w));
        if found.is_empty() && operands {
            // What stands within another one of the line comes with that.
            let on_line: HashSet<_> = nodes.iter().map(|n| n.id()).collect();
            let within = |n: &At<'a>| {
                n.parent().is_some_and(|p| p.is(Kind::Bin) && on_line.contains(&p.id()))
            };
            for bin in nodes.iter().filter(|n| {
                n.is(Kind::Bin) && !within(n)
                    || n.is(Kind::Assign) && n.has(izba_model::code::Flag::Augmented)
            }) {
                found.extend(bin.whole().skip(1).filter(|n| {
                    matches!(n.kind(), Kind::Name | Kind::Field | Kind::Index | Kind::Call)
                        && n.parent().is_some_and(|p| !matches!(p.kind(), Kind::Field))
                }));
            }
        }
        if found.is_empty() && matches!(self.family(), Family::OutOfRange)
            || self.said.contains("KeyError")
            || self.said.contains("KeyNotFound")
        {
            found.extend(nodes.iter().filter(|n| n.is(Kind::Index)).copied());
        }
        if found.is_empty() {
            // Something of the line: what anything is asked of, then what is handed over.
            found.extend(
                nodes
                    .iter()
                    .filter(|n| matches!(n.kind(), Kind::Field | Kind::Index))
                    .filter_map(|n| n.child(0))
                    .filter(|n| !matches!(n.text(), Some("self" | "this"))),
            );
            found.extend(
                nodes
                    .iter()
                    .filter(|n| matches!(n.kind(), Kind::Call | Kind::New))
                    .flat_map(|n| n.arguments()),
            );
        }
        if found.is_empty() {
            found.extend(nodes.iter().filter(|n| called(n) && n.defines().is_none()).copied());
        }
        let mut known = HashSet::new();
        found.retain(|n| known.insert(n.id()));
        found.truncate(24);
        found
    }

    fn find_asked(&self) -> Option<String> {
        let word = |w: &str| {
            w.chars().all(|c| c.is_alphanumeric() || matches!(c, '_' | '$' | '#' | '-'))
                && w.chars().any(char::is_alphabetic)
        };
        // Of `Room.Describe()` and `farm.Report` the last part.
        let last =
            |w: &str| w.rsplit(['.', ':']).next().unwrap_or(w).trim_end_matches("()").to_owned();
        let nil_of = self.said.contains("NoneType")
            || self.said.contains("of undefined")
            || self.said.contains("of null");
        let names_value = matches!(self.family(), Family::ValueNotThere)
            && !self.said.contains("attempt to call")
            && !self.said.contains("KeyError")
            && !self.said.contains("has no attribute");
        if names_value || nil_of {
            return None;
        }
        if let Some(partial) = self
            .entry
            .facts
            .get("member")
            .or(self.entry.facts.get("name"))
            .or(self.entry.facts.get("index"))
        {
            let partial = last(partial.trim_matches(['\'', '"', '`', '‘', '’']));
            if word(&partial) {
                return Some(partial);
            }
        }
        let symbol = self
            .entry
            .report
            .details
            .iter()
            .find_map(|d| d.trim().strip_prefix("symbol:").map(str::to_owned));
        if let Some(symbol) = symbol {
            return symbol
                .split('(')
                .next()
                .and_then(|s| s.split_whitespace().last())
                .map(str::to_owned);
        }
        self.mentioned.iter().map(|m| last(m)).find(|m| word(m) && m.len() > 1)
    }
}

fn steps<'a>(entry: &Entry, index: &'a Index) -> Vec<Step<'a>> {
    let deepest =
        entry.report.causes.iter().rev().find(|c| c.frames.iter().any(|f| f.own.is_some()));
    let mut frames: Vec<(Arc<str>, u32)> = Vec::new();
    frames.extend(entry.place.as_ref().and_then(|p| Some((p.file.clone(), p.line?))));
    for frame in deepest.map_or(&[][..], |c| &c.frames).iter().chain(&entry.report.frames) {
        if let (Some(file), Some(line)) = (&frame.own, frame.line)
            && frames.last() != Some(&(file.clone(), line))
            && frames.len() < 64
        {
            frames.push((file.clone(), line));
        }
    }
    frames.into_iter().filter_map(|(path, line)| Some(step(index.file(&path)?, line))).collect()
}

fn step(file: &FileFacts, line: u32) -> Step<'_> {
    // The innermost function that begins above the line and reaches it; one written on the line
    // itself only where there is no other.
    let around = || {
        file.tree.all().filter(|n| n.is(Kind::Func) && n.line() <= line && n.last_line() >= line)
    };
    let named = around().filter(|n| n.line() == line && n.text().is_some()).last();
    let function = named.or_else(|| around().filter(|n| n.line() < line).last());
    Step { file, line, function }
}

/// A shorter text than this says nothing of where it is said.
const SAID: usize = 10;

/// Of an error without a place: the one line of code that holds a good part of its sentence.
fn said_here<'a>(entry: &Entry, index: &'a Index) -> Option<(&'a FileFacts, u32)> {
    let holds = |f: &'a FileFacts| {
        f.tree.all().filter(|n| n.is(Kind::Str)).filter_map(move |n| {
            let text = n.text()?.trim();
            (text.len() >= SAID && text.contains(' ') && entry.root_message.contains(text))
                .then(|| (f, n.line(), text.len()))
        })
    };
    let mut found: Vec<_> = index.code().flat_map(holds).collect();
    found.sort_by_key(|(.., len)| std::cmp::Reverse(*len));
    match found.as_slice() {
        [(file, line, _)] => Some((file, *line)),
        [(file, line, len), (_, _, next), ..] if len > next => Some((file, *line)),
        _ => None,
    }
}

/// Files that tools of the trade read, and pages without a script: nothing in them wires code.
const TOOLS: [&str; 6] =
    ["package.json", "tsconfig.json", "composer.json", "pom.xml", "build.xml", "pyproject.toml"];

pub(crate) fn is_for_tools(file: &FileFacts) -> bool {
    let name = file.name();
    let page = name.ends_with(".html") || name.ends_with(".htm");
    TOOLS.contains(&name) || page && !file.text.contains("<script")
}

/// Whether a script is a test, by the names that test runners look for: it is no part of a program
/// that runs without it.
pub(super) fn is_test(path: &str) -> bool {
    let (folders, name) = path.rsplit_once('/').unwrap_or(("", path));
    let of_tests = |folder: &str| matches!(folder, "test" | "tests" | "__tests__" | "spec");
    let stem = name.split('.').next().unwrap_or(name);
    folders.split('/').any(of_tests)
        || [".test.", ".spec."].iter().any(|mark| name.contains(mark))
        || stem.starts_with("test_")
        || stem.ends_with("_test")
        || stem.len() > 4 && stem.ends_with("Test")
}

/// What the user told Izba is no part of the program.
const SETTINGS: &[&str] = &["izba.toml", "izba-readers.toml"];

fn scope<'a>(
    index: &'a Index,
    steps: &[Step<'a>],
    file: Option<&'a FileFacts>,
) -> Vec<&'a FileFacts> {
    // Scripts of other languages are another program, though they may lie in the same folder.
    let related = |f: &FileFacts| {
        let told_izba = SETTINGS.contains(&f.path.as_ref());
        f.language.is_data() && !told_izba && !TOOLS.contains(&f.name())
            || file.is_some_and(|own| own.language.shares_names_with(&f.language))
    };
    let parts = index.parts();
    let in_test = steps.is_empty() || steps.iter().any(|s| is_test(&s.file.path));
    let runs = |f: &FileFacts| in_test || !f.language.is_code() || !is_test(&f.path);
    let ours = |f: &FileFacts| {
        steps.is_empty() || steps.iter().any(|s| parts.together(&s.file.path, &f.path))
    };
    let all: Vec<&'a FileFacts> = index
        .files()
        .iter()
        .map(AsRef::as_ref)
        .filter(|f| related(f) && ours(f) && runs(f))
        .collect();
    if all.len() <= WHOLE {
        return all;
    }
    let mut chosen: Vec<&FileFacts> =
        file.into_iter().chain(steps.iter().map(|s| s.file)).collect();
    // What those files bring in or name, then what lies beside them.
    let mut names: Vec<String> = Vec::new();
    for f in &chosen {
        for node in f
            .tree
            .all()
            .filter(|n| matches!(n.kind(), Kind::Import | Kind::Str | Kind::New | Kind::Type))
        {
            let stem =
                node.text().unwrap_or("").rsplit(['/', '.']).find(|p| p.len() > 2).unwrap_or("");
            names.push(stem.to_owned());
            names.push(node.text().unwrap_or("").rsplit('/').next().unwrap_or("").to_owned());
        }
    }
    names.sort();
    names.dedup();
    chosen.extend(all.iter().copied().filter(|f| {
        names.binary_search_by(|n| n.as_str().cmp(f.stem())).is_ok()
            || names.binary_search_by(|n| n.as_str().cmp(f.name())).is_ok()
    }));
    let folder =
        |f: &FileFacts| f.path.rsplit_once('/').map_or(String::new(), |(d, _)| d.to_owned());
    let folders: Vec<String> = steps.iter().map(|s| folder(s.file)).collect();
    chosen.extend(all.iter().copied().filter(|f| folders.contains(&folder(f))));
    let mut known = Vec::new();
    chosen.retain(|f| {
        !known.contains(&f.path.as_ref()) && {
            known.push(f.path.as_ref());
            true
        }
    });
    chosen.truncate(WHOLE);
    chosen
}

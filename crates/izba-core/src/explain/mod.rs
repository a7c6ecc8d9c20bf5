//! What an error means, in plain words with its own names: one file for each family of errors.
//!
//! A family holds patterns of the sentences that belong to it and a function that explains one of
//! them. A new family is one file here and one line in [`FAMILIES`].

mod dependency_ring;
mod does_not_parse;
mod file_not_there;
mod glossary;
mod loose_wiring;
mod name_not_there;
mod not_open;
mod other;
mod out_of_range;
mod sentence;
mod value_not_there;
mod ways;
mod wrong_kind;

pub use glossary::glossary;
pub use other::FAMILY as OTHER;
pub use sentence::{Part, Sentence, Tone};
pub use ways::{Ways, ways};

use crate::excerpt::{find_word, receiver_of};
use crate::model::Entry;
use regex::{Regex, RegexSet, RegexSetBuilder};
use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::sync::LazyLock;

/// All families, by id.
pub static FAMILIES: &[&Family] = &[
    &dependency_ring::FAMILY,
    &does_not_parse::FAMILY,
    &file_not_there::FAMILY,
    &loose_wiring::FAMILY,
    &name_not_there::FAMILY,
    &not_open::FAMILY,
    &other::FAMILY,
    &out_of_range::FAMILY,
    &value_not_there::FAMILY,
    &wrong_kind::FAMILY,
];

/// Errors of one nature, whatever the language.
#[derive(Debug)]
pub struct Family {
    /// The file's name, with `-`; part of the public contract.
    pub id: &'static str,
    /// Half a sentence for headings.
    pub title: &'static str,
    /// Sentences that belong to it; they are looked for in `kind: message` and the details under
    /// it.
    pub patterns: &'static [Pattern],
    /// Explains one error of this family.
    pub explain: fn(&Case<'_>) -> Explanation,
    /// What the family is, for the docs.
    pub docs: &'static str,
    /// A sentence that belongs to it.
    pub sample: &'static str,
}

impl PartialEq for Family {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

/// One sentence that runtimes say, with its changing parts named.
#[derive(Debug)]
pub struct Pattern {
    /// How sure this sentence makes us of the family, 0 to 100.
    pub sure: u8,
    /// The sentence as a regular expression.
    pub regex: &'static str,
}

const fn sure(sure: u8, regex: &'static str) -> Pattern {
    Pattern { sure, regex }
}

/// Names and numbers taken from a sentence, by what they are: `name`, `member`, `index`, `want`,
/// `have` and so on.
pub type Facts = BTreeMap<&'static str, String>;

/// What Izba says of one group.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Explanation {
    /// The sentence on top of the screen: what to fix, and where.
    pub headline: Sentence,
    /// The same for a row of the list, without its place.
    pub short: String,
    /// What stands under the token.
    pub note: String,
    /// What it means here; a paragraph each.
    pub plain: Vec<String>,
    /// Bytes of the line at fault that the note is about, half open.
    pub token: Option<(usize, usize)>,
}

/// One error to explain.
#[derive(Debug, Clone, Copy)]
pub struct Case<'a> {
    /// The placed entry.
    pub entry: &'a Entry,
}

type Compiled = Vec<(&'static Family, u8, Regex, Vec<&'static str>)>;

static PATTERNS: LazyLock<Compiled> = LazyLock::new(|| {
    FAMILIES
        .iter()
        .flat_map(|family| family.patterns.iter().map(move |pattern| (*family, pattern)))
        .filter_map(|(family, pattern)| {
            let regex = Regex::new(pattern.regex).ok()?;
            let names = FACT_NAMES
                .iter()
                .copied()
                .filter(|name| pattern.regex.contains(&format!("?<{name}>")))
                .collect();
            Some((family, pattern.sure, regex, names))
        })
        .collect()
});

/// All of them at once: which ones fit is found in one pass.
static ALL_PATTERNS: LazyLock<RegexSet> = LazyLock::new(|| {
    let all = RegexSetBuilder::new(PATTERNS.iter().map(|(_, _, regex, _)| regex.as_str()))
        .dfa_size_limit(16 << 20)
        .build();
    all.expect("each of them compiles")
});

/// The names that a pattern may give to a part of a sentence.
const FACT_NAMES: &[&str] = &[
    "arg", "callee", "have", "index", "length", "line", "member", "name", "near", "op", "open",
    "other", "path", "scope", "text", "want", "why",
];

/// The family of a sentence and what it holds; the general family when none knows it.
pub fn classify(kind: Option<&str>, message: &str, details: &[String]) -> (&'static Family, Facts) {
    let mut text = kind.map_or(String::new(), |k| format!("{k}: "));
    text.push_str(message);
    for detail in details {
        text.push('\n');
        text.push_str(detail);
    }
    // A flood says the same sentence again and again: what was found for the latest ones is kept.
    // The answer never differs.
    thread_local! {
        static LATEST: RefCell<HashMap<String, (&'static Family, Facts)>> = RefCell::default();
    }
    LATEST.with_borrow_mut(|latest| {
        if let Some(found) = latest.get(&text) {
            return found.clone();
        }
        if latest.len() >= 512 {
            latest.clear();
        }
        let found = family_of(&text);
        latest.insert(text, found.clone());
        found
    })
}

fn family_of(text: &str) -> (&'static Family, Facts) {
    let fitting = ALL_PATTERNS.matches(text);
    // Of equally sure ones the last, as the table has them.
    let best = fitting.iter().filter_map(|at| PATTERNS.get(at)).max_by_key(|(_, sure, ..)| *sure);
    let Some((family, found, names)) =
        best.and_then(|(family, _, regex, names)| Some((family, regex.captures(text)?, names)))
    else {
        return (&other::FAMILY, Facts::new());
    };
    let facts = names
        .iter()
        .filter_map(|name| Some((*name, found.name(name)?.as_str().to_owned())))
        .collect();
    (*family, facts)
}

/// Explains a placed entry.
pub fn explain(entry: &Entry) -> Explanation {
    (entry.family.explain)(&Case { entry })
}

impl<'a> Case<'a> {
    /// A name or number of the sentence.
    pub fn fact(&self, name: &str) -> Option<&'a str> {
        self.entry.facts.get(name).map(String::as_str).filter(|f| !f.is_empty())
    }

    /// The line at fault.
    pub fn line(&self) -> &'a str {
        self.entry.line_text.as_deref().unwrap_or("")
    }

    /// File name (without folders) of the place.
    pub fn file_name(&self) -> Option<&'a str> {
        let file = self.entry.place.as_ref().map(|p| p.file.as_ref())?;
        Some(file.rsplit('/').next().unwrap_or(file))
    }

    /// The language's word for a value that is not there.
    pub fn nothing(&self) -> &'static str {
        match self.language() {
            "lua" | "go" | "ruby" | "swift" => "nil",
            "python" | "rust" => "None",
            "perl" => "undef",
            "javascript" if self.entry.root_message.contains("undefined") => "undefined",
            _ => "null",
        }
    }

    /// Id of the language as far as reader and file ending tell it.
    pub fn language(&self) -> &'static str {
        let ending =
            self.entry.place.as_ref().and_then(|p| p.file.rsplit_once('.')).map_or("", |(_, e)| e);
        match (self.entry.report.reader, ending) {
            ("lua", _) | (_, "lua") => "lua",
            ("python", _) | (_, "py") => "python",
            (_, "js" | "mjs" | "cjs" | "ts") | ("javascript", _) => "javascript",
            (_, "kt" | "kts") => "kotlin",
            (_, "java") | ("jvm", _) => "java",
            (_, "cs") | ("dotnet", _) => "csharp",
            ("go", _) | (_, "go") => "go",
            ("ruby", _) | (_, "rb") => "ruby",
            ("php", _) | (_, "php") => "php",
            ("perl", _) | (_, "pl" | "pm") => "perl",
            (_, "rs") => "rust",
            (_, "swift") => "swift",
            (_, "c" | "h" | "cc" | "cpp" | "cxx" | "hpp") => "cpp",
            _ => "",
        }
    }

    /// People's name for the language.
    pub fn language_name(&self) -> &'static str {
        match self.language() {
            "lua" => "Lua",
            "python" => "Python",
            "javascript" => "JavaScript",
            "java" => "Java",
            "csharp" => "C#",
            "kotlin" => "Kotlin",
            "go" => "Go",
            "ruby" => "Ruby",
            "php" => "PHP",
            "perl" => "Perl",
            "rust" => "Rust",
            "swift" => "Swift",
            "cpp" => "the compiler",
            _ => "the program",
        }
    }

    /// Where `name` stands in the line, near the printed column if there is one.
    pub fn word(&self, name: &str) -> Option<(usize, usize)> {
        let near = self.entry.token.map(|(start, _)| start);
        let last = name.rsplit(['.', ':']).next().unwrap_or(name);
        find_word(self.line(), name, near).or_else(|| find_word(self.line(), last, near))
    }

    /// The name that stands at the printed column.
    pub fn called_at_column(&self) -> Option<&'a str> {
        let (start, _) = self.entry.token?;
        let line = self.line();
        let word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
        let begin = start + line.get(start..)?.find(word)?;
        let end = begin + line[begin..].find(|c| !word(c)).unwrap_or(line.len() - begin);
        (end > begin).then(|| &line[begin..end])
    }

    /// The `number`th argument (from 1) that the line hands to `callee`.
    pub fn argument(&self, callee: &str, number: usize) -> Option<(usize, usize)> {
        let line = self.line();
        let open = line.find(&format!("{callee}("))? + callee.len() + 1;
        let (mut depth, mut from, mut count) = (0usize, open, 1);
        for (at, c) in line[open..].char_indices().map(|(at, c)| (open + at, c)) {
            let ends = depth == 0 && matches!(c, ',' | ')' | ']' | '}');
            if ends && count == number {
                let text = &line[from..at];
                let start = from + (text.len() - text.trim_start().len());
                return (!text.trim().is_empty()).then(|| (start, start + text.trim().len()));
            }
            match c {
                '(' | '[' | '{' => depth += 1,
                ')' | ']' | '}' if depth > 0 => depth -= 1,
                ')' | ']' | '}' => return None,
                ',' if depth == 0 => (count, from) = (count + 1, at + 1),
                _ => {}
            }
        }
        None
    }

    /// The expression that `member` is asked of.
    pub fn receiver(&self, member: &str) -> Option<(usize, usize)> {
        receiver_of(self.line(), member, self.entry.token.map(|(start, _)| start))
    }

    /// “ at line 42 of lantern.lua.” as the end of a headline, or what is known instead.
    pub fn at_place(&self, start: Sentence) -> Sentence {
        let line = self.entry.place.as_ref().and_then(|p| p.line);
        match (self.file_name(), line) {
            (Some(file), Some(line)) => {
                start.text(" at line ").text(&line.to_string()).text(" of ").place(file).text(".")
            }
            (Some(file), None) => start.text(" in ").place(file).text("."),
            _ => match self.entry.may_be.as_slice() {
                // Named, and no file of the project; or nothing is named at all.
                [] if self.entry.report.head.is_some() || !self.entry.report.frames.is_empty() => {
                    start.text(", outside your own files.")
                }
                [] => start.text("; the console names no line."),
                [first, ..] => {
                    let name = first.file.rsplit('/').next().unwrap_or(&first.file);
                    start.text(&format!(
                        ", in one of your {} files called {name}.",
                        self.entry.may_be.len()
                    ))
                }
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_is_sorted_and_each_family_knows_its_own_sentence() {
        assert!(FAMILIES.is_sorted_by_key(|f| f.id));
        let written: usize = FAMILIES.iter().map(|f| f.patterns.len()).sum();
        assert_eq!(PATTERNS.len(), written, "a pattern does not compile");
        for family in FAMILIES {
            assert_eq!(classify(None, family.sample, &[]).0.id, family.id, "{}", family.sample);
        }
    }

    #[test]
    fn sentences_of_five_languages_find_their_family() {
        let of = |kind: &str, message: &str| {
            let (family, facts) = classify((!kind.is_empty()).then_some(kind), message, &[]);
            let facts: Vec<String> = facts.iter().map(|(k, v)| format!("{k}={v}")).collect();
            format!("{} [{}]", family.id, facts.join(" "))
        };
        insta::assert_snapshot!(
            [
                of("", "attempt to index a nil value (local 'wick')"),
                of("", "attempt to call a nil value (global 'lightt')"),
                of("", "attempt to perform arithmetic on a string value (field 'oil')"),
                of("", "'end' expected (to close 'function' at line 3) near <eof>"),
                of("TypeError", "Cannot read properties of undefined (reading 'rows')"),
                of("ReferenceError", "timetable is not defined"),
                of("SyntaxError", "Unexpected token '}'"),
                of("Error", "ENOENT: no such file or directory, open 'tide.json'"),
                of("AttributeError", "'NoneType' object has no attribute 'name'"),
                of("NameError", "name 'tideheigth' is not defined. Did you mean: 'tideheight'?"),
                of("IndexError", "list index out of range"),
                of("TypeError", "can only concatenate str (not \"int\") to str"),
                of(
                    "java.lang.NullPointerException",
                    "Cannot invoke \"String.length()\" because \"this.wick\" is null"
                ),
                of(
                    "java.lang.ArrayIndexOutOfBoundsException",
                    "Index 7 out of bounds for length 6"
                ),
                of("", "incompatible types: String cannot be converted to int"),
                of("", "cannot find symbol"),
                of(
                    "System.NullReferenceException",
                    "Object reference not set to an instance of an object"
                ),
                of("System.IndexOutOfRangeException", "Index was outside the bounds of the array."),
                of("", "The name `oill' does not exist in the current context"),
                of("night.ferry.JettyException", "the jetty is closed"),
            ]
            .join("\n")
        );
    }
}

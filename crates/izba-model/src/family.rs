//! Families: errors of one nature across languages. What a family is called and how runtimes say it
//! is data, one file for each in `families/`; a sentence finds its family here.

use crate::literal;
use aho_corasick::AhoCorasick;
use regex::Regex;
use serde::{Deserialize, Serialize, Serializer};
use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::fmt;
use std::sync::{LazyLock, OnceLock};

macro_rules! families {
    ($($name:ident = $id:literal),* $(,)?) => {
        /// Errors of one nature, whatever the language. The ids are part of the public contract.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub enum Family {
            $(#[doc = concat!("`", $id, "`, told by `families/", $id, ".toml`.")] $name,)*
        }

        impl Family {
            /// All families, sorted by their ids.
            pub const ALL: &[Family] = &[$(Family::$name),*];

            /// The id: the name of its file.
            pub fn id(self) -> &'static str {
                match self { $(Family::$name => $id,)* }
            }
        }

        static FILES: &[&str] = &[$(include_str!(concat!("../families/", $id, ".toml"))),*];
    };
}

families! {
    DependencyRing = "dependency-ring",
    DoesNotParse = "does-not-parse",
    FileNotThere = "file-not-there",
    LooseWiring = "loose-wiring",
    NameNotThere = "name-not-there",
    NotOpen = "not-open",
    NotReached = "not-reached",
    Other = "other",
    OutOfRange = "out-of-range",
    ValueNotThere = "value-not-there",
    WrongKind = "wrong-kind",
}

/// The words of a family, as its file has them.
#[derive(Debug, Deserialize)]
struct Words {
    title: String,
    docs: String,
    sample: String,
    #[serde(default)]
    says: Vec<Says>,
    #[serde(default)]
    ways: BTreeMap<String, BTreeMap<String, String>>,
}

/// One sentence that runtimes say, with its changing parts named.
#[derive(Debug, Deserialize)]
struct Says {
    /// How sure this sentence makes us of the family, 0 to 100.
    sure: u8,
    regex: String,
}

static WORDS: LazyLock<Vec<Words>> = LazyLock::new(|| {
    let read = |text: &&str| toml::from_str(text).expect("a test reads every file of families");
    FILES.iter().map(read).collect()
});

impl Family {
    fn words(self) -> &'static Words {
        &WORDS[self as usize]
    }

    /// Half a sentence for headings.
    pub fn title(self) -> &'static str {
        &self.words().title
    }

    /// What the family is, for the docs.
    pub fn docs(self) -> &'static str {
        &self.words().docs
    }

    /// A sentence that belongs to it.
    pub fn sample(self) -> &'static str {
        &self.words().sample
    }

    /// The family with this id.
    pub fn of_id(id: &str) -> Option<Family> {
        Family::ALL.iter().copied().find(|f| f.id() == id)
    }

    /// Words about what to do, by section: the id of a check, `usual` or `sketch`.
    pub fn ways(self, section: &str) -> Option<&'static BTreeMap<String, String>> {
        self.words().ways.get(section)
    }

    /// The names of the sections that [`Family::ways`] has words for.
    pub fn sections(self) -> impl Iterator<Item = &'static str> {
        self.words().ways.keys().map(String::as_str)
    }
}

impl fmt::Display for Family {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.id())
    }
}

impl Serialize for Family {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.serialize_str(self.id())
    }
}

/// Names and numbers taken from a sentence, by what they are: `name`, `member`, `index`, `want`,
/// `have` and so on.
pub type Facts = BTreeMap<&'static str, String>;

/// The names that a pattern may give to a part of a sentence.
const FACT_NAMES: &[&str] = &[
    "address", "arg", "callee", "have", "index", "length", "line", "member", "name", "near", "op",
    "open", "other", "path", "scope", "status", "text", "want", "why",
];

/// A sentence with its family, compiled when a text first holds one of its literals.
struct Known {
    family: Family,
    sure: u8,
    regex: &'static str,
    compiled: OnceLock<Option<Regex>>,
}

impl Known {
    fn facts(&self, text: &str) -> Option<Facts> {
        let compiled = self.compiled.get_or_init(|| Regex::new(self.regex).ok());
        let found = compiled.as_ref()?.captures(text)?;
        let named = |name: &&'static str| Some((*name, found.name(name)?.as_str().to_owned()));
        Some(FACT_NAMES.iter().filter_map(named).collect())
    }
}

/// All sentences, the surest first; of equally sure ones the last of the table first.
struct Table {
    known: Vec<Known>,
    /// Literals of all of them, and for each the sentence that it belongs to.
    literals: AhoCorasick,
    of: Vec<usize>,
    /// Sentences that have no literal: looked for in every text.
    always: Vec<usize>,
}

static TABLE: LazyLock<Table> = LazyLock::new(|| {
    let mut known: Vec<Known> = Vec::new();
    for family in Family::ALL {
        known.extend(family.words().says.iter().map(|says| Known {
            family: *family,
            sure: says.sure,
            regex: &says.regex,
            compiled: OnceLock::new(),
        }));
    }
    known.reverse();
    known.sort_by_key(|k| std::cmp::Reverse(k.sure));
    let (mut literals, mut of, mut always) = (Vec::new(), Vec::new(), Vec::new());
    for (at, sentence) in known.iter().enumerate() {
        match literal::required(sentence.regex) {
            Some(required) => required.into_iter().for_each(|text| {
                literals.push(text);
                of.push(at);
            }),
            None => always.push(at),
        }
    }
    let literals = AhoCorasick::builder().ascii_case_insensitive(true).build(literals);
    Table { known, literals: literals.expect("few and short"), of, always }
});

/// The family of a sentence and what it holds; [`Family::Other`] when none knows it.
///
/// `details` are what a compiler adds line by line.
pub fn classify(kind: Option<&str>, message: &str, details: &[String]) -> (Family, Facts) {
    let mut text = kind.map_or(String::new(), |k| format!("{k}: "));
    text.push_str(message);
    for detail in details {
        text.push('\n');
        text.push_str(detail);
    }
    // A flood says the same sentence again and again: what was found for the latest ones is kept.
    // The answer never differs.
    thread_local! {
        static LATEST: RefCell<HashMap<String, (Family, Facts)>> = RefCell::default();
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

fn family_of(text: &str) -> (Family, Facts) {
    let table = &*TABLE;
    let mut candidates = table.always.clone();
    let held = table.literals.find_overlapping_iter(text);
    candidates.extend(held.map(|m| table.of[m.pattern().as_usize()]));
    candidates.sort_unstable();
    candidates.dedup();
    let mut fitting = candidates.into_iter().filter_map(|at| {
        let known = &table.known[at];
        Some((known.family, known.facts(text)?))
    });
    fitting.next().unwrap_or((Family::Other, Facts::new()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_file_reads_and_every_sentence_compiles_and_has_a_literal() {
        assert!(Family::ALL.is_sorted_by_key(|f| f.id()));
        for file in std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/families"))
            .expect("it is there")
        {
            let path = file.expect("listed").path();
            let id = path.file_stem().and_then(|s| s.to_str()).expect("a name");
            assert!(Family::of_id(id).is_some(), "{id} is a file and no family");
        }
        for known in &TABLE.known {
            let regex = Regex::new(known.regex).unwrap_or_else(|e| panic!("{}: {e}", known.family));
            for name in regex.capture_names().flatten() {
                assert!(FACT_NAMES.contains(&name), "{name} in {}", known.regex);
            }
            assert!(literal::required(known.regex).is_some(), "no literal: {}", known.regex);
        }
        for family in Family::ALL {
            assert_eq!(classify(None, family.sample(), &[]).0, *family, "{}", family.sample());
            assert!(family.ways("usual").is_some(), "{family} has no usual way");
        }
    }

    /// Every sentence is tried, without a look at literals.
    fn tried_one_by_one(text: &str) -> (Family, Facts) {
        let mut fitting = TABLE.known.iter().filter_map(|k| Some((k.family, k.facts(text)?)));
        fitting.next().unwrap_or((Family::Other, Facts::new()))
    }

    #[test]
    fn sentences_of_five_languages_find_their_family() {
        let of = |kind: &str, message: &str| {
            let (family, facts) = classify((!kind.is_empty()).then_some(kind), message, &[]);
            let text =
                if kind.is_empty() { message.to_owned() } else { format!("{kind}: {message}") };
            assert_eq!((family, facts.clone()), tried_one_by_one(&text), "{text}");
            let facts: Vec<String> = facts.iter().map(|(k, v)| format!("{k}={v}")).collect();
            format!("{family} [{}]", facts.join(" "))
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

    proptest::proptest! {
        #[test]
        fn literals_never_hide_a_sentence(words in proptest::collection::vec(0usize..4000, 1..12)) {
            let all: Vec<&str> = TABLE.known.iter().flat_map(|k| k.regex.split(['(', '|', '?', ')'])).collect();
            let text: Vec<&str> = words.iter().map(|w| all[w % all.len()]).collect();
            let text = text.join(" 7 ").replace('\\', "");
            proptest::prop_assert_eq!(family_of(&text), tried_one_by_one(&text));
        }
    }
}

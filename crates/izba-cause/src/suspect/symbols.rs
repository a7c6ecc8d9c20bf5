//! All words of the files in question: how often each stands there, whether anything makes it, and
//! which other is near it.

use izba_model::code::{
    At, Datum, Families, FileFacts, How, Index, Kind, NameEdit, NearIndex, Role, letters_of,
    may_be_edit, name_edit,
};
use std::cell::{Cell, OnceCell};
use std::collections::HashMap;

/// One occurrence of a word.
#[derive(Debug, Clone, Copy)]
pub struct Occurrence<'a> {
    /// Its file.
    pub file: &'a FileFacts,
    /// Its line, from 1.
    pub line: u32,
    /// As what.
    pub as_what: As,
    /// The node, in code.
    pub node: Option<At<'a>>,
    /// The key or value, in data.
    pub datum: Option<&'a Datum>,
}

/// As what a word stands somewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum As {
    /// It is made there.
    Made(How),
    /// It is read or called.
    Used,
    /// A text of code.
    Text,
    /// A key of data.
    DataKey,
    /// A value of data.
    DataValue,
    /// A file of this name lies there.
    File,
}

/// All words with where they stand.
///
/// Of a large project only few words are ever asked for: where one stands is looked up then.
#[derive(Default)]
pub struct SymbolIndex<'a> {
    all: HashMap<&'a str, Word<'a>>,
    /// All of them in order, so that the same project gives the same answer each time.
    order: Vec<&'a str>,
    /// The letters of each, in the same order; worked out with the first question for a near one.
    letters: OnceCell<Vec<u64>>,
    /// How often a near one was asked for, and with many questions what answers them faster.
    asked: Cell<usize>,
    most: usize,
    near: OnceCell<NearIndex>,
    families: OnceCell<Families>,
}

#[derive(Default)]
struct Word<'a> {
    homes: Vec<Home<'a>>,
    occurrences: OnceCell<Vec<Occurrence<'a>>>,
    /// As what it stands anywhere, each once, and how often it stands but as a file's name.
    kinds: OnceCell<(Vec<As>, usize)>,
}

#[derive(Clone, Copy)]
enum Home<'a> {
    Code(&'a FileFacts),
    Data(&'a FileFacts, &'a Datum),
    Name(&'a FileFacts),
}

impl<'a> Word<'a> {
    fn occurrences(&self, word: &str) -> &[Occurrence<'a>] {
        self.occurrences
            .get_or_init(|| self.homes.iter().flat_map(|h| h.occurrences(word)).collect())
    }

    fn kinds(&self, word: &str) -> &(Vec<As>, usize) {
        self.kinds.get_or_init(|| {
            let (mut kinds, mut count) = (Vec::new(), 0);
            for occurrence in self.occurrences(word) {
                count += usize::from(occurrence.as_what != As::File);
                if !kinds.contains(&occurrence.as_what) {
                    kinds.push(occurrence.as_what);
                }
            }
            (kinds, count)
        })
    }
}

impl<'a> Home<'a> {
    fn occurrences(self, word: &str) -> Vec<Occurrence<'a>> {
        match self {
            Home::Code(file) => {
                let occurrence = |node: At<'a>| {
                    let as_what = match node.kind() {
                        Kind::Str if !is_name(word) => return None,
                        Kind::Str => As::Text,
                        Kind::Bin
                        | Kind::Un
                        | Kind::Num
                        | Kind::Bool
                        | Kind::Nil
                        | Kind::Other
                        | Kind::Import => return None,
                        _ => node.defines().map_or(As::Used, As::Made),
                    };
                    let (line, node) = (node.line(), Some(node));
                    Some(Occurrence { file, line, as_what, node, datum: None })
                };
                file.tree.named(word).filter_map(occurrence).collect()
            }
            Home::Data(file, datum) => {
                let as_what = if datum.role == Role::Key { As::DataKey } else { As::DataValue };
                vec![Occurrence { file, line: datum.line, as_what, node: None, datum: Some(datum) }]
            }
            Home::Name(file) => {
                vec![Occurrence { file, line: 0, as_what: As::File, node: None, datum: None }]
            }
        }
    }
}

/// Names that the runtime itself calls, so that they stand once in a healthy program.
pub const BEGINNINGS: &[&str] = &[
    "main",
    "Main",
    "toString",
    "ToString",
    "self",
    "this",
    "__init__",
    "__main__",
    "__name__",
    "constructor",
];

/// Whether one name is the plural of the other: both are names of their own.
pub fn plural(a: &str, b: &str) -> bool {
    let (short, long) = if a.len() < b.len() { (a, b) } else { (b, a) };
    long.strip_suffix('s').is_some_and(|l| l == short)
}

/// Whether one of several values of one nature only begins with a capital where another name does
/// not, as all of them do: they are words for people.
pub fn capital_of_words<'a>(
    value: &str,
    other: &str,
    mut all: impl Iterator<Item = &'a str>,
) -> bool {
    value.get(1..) == other.get(1..)
        && value.eq_ignore_ascii_case(other)
        && all.all(|v| v.starts_with(char::is_uppercase))
}

/// Whether a text is written like a name: no spaces, some letter.
pub fn is_name(text: &str) -> bool {
    (2..=40).contains(&text.len())
        && text.chars().all(|c| c.is_alphanumeric() || matches!(c, '_' | '$' | '-' | '#'))
        && text.chars().any(char::is_alphabetic)
}

/// With so few words, or questions for near ones, all words are gone through.
const FEW_WORDS: usize = 400;
const FEW_QUESTIONS: usize = 50;
/// So many names of a project are compared with all others when one error is asked about, and when
/// the whole is checked. Real programs of 300 files ask 30 and 2,200 times.
const QUESTIONS: usize = 500;
const QUESTIONS_OF_CHECKS: usize = 4_000;

impl<'a> SymbolIndex<'a> {
    /// The words of these files, and the names of all files.
    pub fn of(files: &[&'a FileFacts], index: &'a Index) -> SymbolIndex<'a> {
        let mut all: HashMap<&'a str, Word<'a>> = HashMap::new();
        for file in files {
            for word in file.tree.words() {
                all.entry(word).or_default().homes.push(Home::Code(file));
            }
            for datum in file.data.iter().filter(|d| is_name(&d.text)) {
                all.entry(&datum.text).or_default().homes.push(Home::Data(file, datum));
            }
        }
        for path in index.on_disk.iter() {
            let name = path.rsplit('/').next().unwrap_or(path);
            let stem = name.split_once('.').map_or(name, |(s, _)| s);
            if let Some(file) = index.file(path) {
                all.entry(stem).or_default().homes.push(Home::Name(file));
            }
        }
        let mut order: Vec<&'a str> = all.keys().copied().collect();
        order.sort_unstable();
        SymbolIndex { all, order, most: QUESTIONS, ..SymbolIndex::default() }
    }

    /// The same, for going through all names of a project instead of those of one error.
    pub fn for_checks(files: &[&'a FileFacts], index: &'a Index) -> SymbolIndex<'a> {
        SymbolIndex { most: QUESTIONS_OF_CHECKS, ..SymbolIndex::of(files, index) }
    }

    /// Whether more near names were asked for than are looked for, so that some were not found.
    pub fn gave_up(&self) -> bool {
        self.asked.get() > self.most
    }

    /// Where a word stands in all files, in the order of files and lines.
    pub fn occurrences(&self, word: &str) -> &[Occurrence<'a>] {
        self.all.get(word).map_or(&[], |w| w.occurrences(word))
    }

    /// How often a word stands in code and data; the names of files do not count.
    pub fn count(&self, word: &str) -> usize {
        self.all.get(word).map_or(0, |w| w.kinds(word).1)
    }

    /// As what a word stands in all files, each once, in the order in which they come.
    pub fn kinds(&self, word: &str) -> &[As] {
        self.all.get(word).map_or(&[], |w| &w.kinds(word).0)
    }

    /// Whether anything in code makes a word: a function, type, variable, field, key.
    pub fn is_made(&self, word: &str) -> bool {
        self.kinds(word).iter().any(|s| matches!(s, As::Made(_)))
    }

    /// Whether a word is made where a name alone reaches it from other functions: as a function, a
    /// type, an import or a variable outside of functions.
    pub fn is_made_alone(&self, word: &str) -> bool {
        self.occurrences(word).iter().filter_map(|s| s.node).any(|n| match n.defines() {
            Some(How::Function) => n.class().is_none() && n.part(Kind::Owner).is_none(),
            Some(How::Class | How::Import) => true,
            Some(How::Assigned) => n.is(Kind::Name) && n.function().is_none(),
            _ => false,
        })
    }

    /// All words with where they stand, in alphabetical order.
    pub fn iter(&self) -> impl Iterator<Item = (&'a str, &[Occurrence<'a>])> {
        self.order
            .iter()
            .map(|word| (*word, self.occurrences(word)))
            .filter(|(_, occurrences)| !occurrences.is_empty())
    }

    /// The words that may be near one: a few questions are answered by going through all words,
    /// more by an index.
    fn may_be_near(&self, word: &str) -> Box<dyn Iterator<Item = &'a str> + '_> {
        let families = self.families.get_or_init(|| Families::of(&self.order));
        let asked = self.asked.get();
        if self.order.len() > FEW_WORDS && (asked > FEW_QUESTIONS || self.near.get().is_some()) {
            let index = self.near.get_or_init(|| NearIndex::of(&self.order, families));
            let found = index.candidates(word, &self.order, families);
            return Box::new(found.into_iter().map(|at| self.order[at as usize]));
        }
        let (letters, bytes) = (letters_of(word), word.len());
        let of_all =
            self.letters.get_or_init(|| self.order.iter().map(|other| letters_of(other)).collect());
        let may = move |other: &str, of_other: u64| {
            other.len().abs_diff(bytes) <= 6 && may_be_edit(letters, of_other)
        };
        let all = self.order.iter().zip(of_all);
        let all = all.filter(move |(other, letters)| may(other, **letters));
        let all = all.map(|(other, _)| *other);
        if !families.has(word) {
            return Box::new(all);
        }
        let word = word.to_owned();
        Box::new(all.filter(move |other| !families.all_alike(&word, other)))
    }

    /// The words nearest to one of many that fit, best first; none once too many were asked for, and
    /// [`gave_up`](SymbolIndex::gave_up) tells so.
    pub fn near_of_many(
        &self,
        word: &str,
        fits: impl Fn(&str, &[Occurrence<'a>]) -> bool,
    ) -> Vec<(&'a str, NameEdit)> {
        self.asked.set(self.asked.get() + 1);
        if self.gave_up() { Vec::new() } else { self.near(word, fits) }
    }

    /// The words nearest to this one that fit, best first: for names that an error or a person tells,
    /// which are few.
    pub fn near(
        &self,
        word: &str,
        fits: impl Fn(&str, &[Occurrence<'a>]) -> bool,
    ) -> Vec<(&'a str, NameEdit)> {
        let mut found: Vec<(&'a str, NameEdit)> = Vec::new();
        // An ending or a selector is no name that somebody could have meant.
        let sign = |w: &str| w.starts_with(['.', '/', '#']);
        let may = |other: &&str| !BEGINNINGS.contains(other) && (!sign(other) || sign(word));
        for other in self.may_be_near(word).filter(may) {
            let Some(slip) = name_edit(word, other) else { continue };
            let occurrences = self.occurrences(other);
            if !occurrences.is_empty() && fits(other, occurrences) {
                found.push((other, slip));
            }
        }
        found.sort_by(|a, b| {
            b.1.weight()
                .total_cmp(&a.1.weight())
                .then_with(|| self.count(b.0).cmp(&self.count(a.0)))
                .then(a.0.cmp(b.0))
        });
        found
    }
}

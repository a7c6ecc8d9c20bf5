//! What of a sighting counts for its order: numbers from -1 to 1, each with a name. None of them
//! names a program, a file or a word.

use super::surprise::Surprise;
use crate::suspect::brought::names_file;
use crate::suspect::check::{Sighting, Strength};
use crate::suspect::query::Query;
use izba_model::Family;
use izba_model::claim::About;
use izba_model::code::{FileFacts, Kind, NodeId};
use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::LazyLock;

/// What counts besides what became of others like it, and how strongly it was seen.
const OTHERS: [&str; 22] = [
    "loose",
    "way",
    "slice",
    "reported-line",
    "reported-file",
    "step",
    "same-function",
    "imported",
    "far-file",
    "data",
    "below",
    "lines-off",
    "crowd",
    "evidence",
    "subject-asked",
    "subject-said",
    "subject-rare",
    "surprise",
    "rivals",
    "compiled-line",
    "name-line",
    "kind-line",
];

/// The names of all features, in the order of their numbers: what became of others like it, how
/// strongly, and others.
pub static NAMES: LazyLock<Vec<String>> = LazyLock::new(|| {
    let strengths = Strength::ALL.iter().map(|s| format!("strength.{}", s.word()));
    ["record".to_owned()].into_iter().chain(strengths).chain(OTHERS.map(str::to_owned)).collect()
});

/// The number of the feature that tells what became of others like it; it is worked out from what
/// was counted.
pub const RECORD: u16 = 0;

/// The features that are not 0, by their number, but for [`RECORD`].
pub type Features = Vec<(u16, f32)>;

/// The features of all sightings of one error.
pub(super) fn of(query: &Query<'_>, all: &[Sighting]) -> Vec<Features> {
    let view = View::of(query, all);
    all.iter().map(|one| view.features(one)).collect()
}

/// One error with what all its sightings share.
struct View<'q, 'a> {
    query: &'q Query<'a>,
    surprise: Surprise<'q>,
    /// How many sightings a check has of one strength.
    crowds: HashMap<(&'static str, Strength), usize>,
    /// How many there are of each strength.
    strengths: HashMap<Strength, usize>,
    /// The function in which the line stands that the console names.
    function: Option<NodeId>,
    /// Whether the script that the console names brings in another one, by that one's path: asked of
    /// every sighting, looked up once.
    imported: RefCell<HashMap<&'a str, bool>>,
}

impl<'q, 'a> View<'q, 'a> {
    fn of(query: &'q Query<'a>, all: &[Sighting]) -> View<'q, 'a> {
        let (mut crowds, mut strengths) = (HashMap::new(), HashMap::new());
        for one in all {
            *crowds.entry((one.suspect.claim.check(), one.strength)).or_default() += 1;
            *strengths.entry(one.strength).or_default() += 1;
        }
        let surprise = Surprise::of(&query.scope);
        let function = query.file.and_then(|f| function_at(f, query.line));
        View { query, surprise, crowds, strengths, function, imported: RefCell::default() }
    }

    fn features(&self, one: &Sighting) -> Features {
        let base = 1 + Strength::ALL.len();
        let others = self.others(one).into_iter().enumerate();
        let others = others.map(|(at, value)| (base + at, value));
        let all = [(1 + one.strength as usize, 1.0)].into_iter().chain(others);
        all.filter(|(_, value)| *value != 0.0).map(|(at, value)| (at as u16, value)).collect()
    }

    fn is_imported(&self, file: &'a FileFacts) -> bool {
        let look = || self.query.file.is_some_and(|by| imports(by, file));
        *self.imported.borrow_mut().entry(&file.path).or_insert_with(look)
    }

    fn others(&self, one: &Sighting) -> [f32; OTHERS.len()] {
        let (query, suspect) = (self.query, &one.suspect);
        let Some(file) = query.index.file(&suspect.file) else { return [0.0; OTHERS.len()] };
        let flag = |holds: bool| f32::from(u8::from(holds));
        let (line, code) = (suspect.line, file.language.is_code());
        let here = query.path().is_some_and(|p| *p == suspect.file);
        let covers = |at: u32| (line..=suspect.to_line.max(line)).contains(&at);
        let way = suspect.claim.about() == About::Reported;
        let subject = suspect.claim.subject();
        // How little it hangs on what the error asks for, where that can be told.
        let tied = || match code {
            true => one.tie,
            false => one.tie.or_else(|| Some(query.data_tie(file, 0, subject.unwrap_or_default()))),
        };
        let loose = if way { 0.0 } else { tied().map_or(0.0, |tie| 1.0 - tie) };
        let along = if way { one.tie.unwrap_or_else(|| query.relevance(file, line)) } else { 0.0 };
        let in_slice = query.slice.iter().any(|m| m.path() == &suspect.file && covers(m.line()));
        let step = query.steps.iter().position(|s| s.file.path == suspect.file && covers(s.line));
        let on_stack = query.steps.iter().any(|s| s.file.path == suspect.file);
        let same = || function_at(file, line).is_some_and(|f| self.function == Some(f));
        let imported = !on_stack && code && self.is_imported(file);
        let crowd = self.crowds[&(suspect.claim.check(), one.strength)];
        let stronger: usize =
            self.strengths.iter().filter(|(s, _)| **s > one.strength).map(|(_, n)| n).sum();
        let log = |n: usize| ((n as f32).ln_1p() / 4.0).min(1.0);
        let asked = subject.is_some() && subject == query.asked.as_deref();
        let rare = subject.map_or(0.0, |s| 1.0 / (1.0 + query.symbols.count(s) as f32).sqrt());
        let named = way && here && covers(query.line);
        [
            loose,
            along,
            flag(in_slice),
            flag(here && covers(query.line)),
            flag(here),
            step.map_or(0.0, |nth| 1.0 / (1.0 + nth as f32)),
            flag(here && same()),
            flag(imported),
            flag(!here && !on_stack && !imported && code),
            flag(!code),
            flag(here && line > query.line),
            if here { log(line.abs_diff(query.line) as usize).min(1.0) } else { 0.0 },
            log(crowd - 1),
            (suspect.claim.evidence.len().min(3) as f32) / 3.0,
            flag(asked),
            flag(subject.is_some_and(|s| query.says(s))),
            rare,
            self.surprise.line(file, line),
            log(stronger),
            flag(named && query.file.is_some_and(|f| f.language.checked)),
            flag(named && query.family() == Family::NameNotThere),
            flag(named && query.family() == Family::WrongKind),
        ]
    }
}

/// The function in which a line of a script stands.
fn function_at(file: &FileFacts, line: u32) -> Option<NodeId> {
    file.tree.on_line(line).find_map(|n| n.function()).map(|f| f.id())
}

/// Whether a script brings in another one.
fn imports(by: &FileFacts, file: &FileFacts) -> bool {
    let named = |text: &str| names_file(text, file);
    by.tree.all().any(|n| n.is(Kind::Import) && n.text().is_some_and(named))
}

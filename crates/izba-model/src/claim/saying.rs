//! What Izba says, as a value: a kind, and the names and numbers of this case. Its words stand in a
//! file of data and are put in at the end, here and nowhere else, so that nothing ever has to read
//! a name back out of a sentence.

use crate::sentence::{Sentence, Tone};
use serde::{Serialize, Serializer};
use std::collections::BTreeMap;
use std::fmt;
use std::sync::{Arc, OnceLock};

/// The sentences of one file of words: a table of `key = "sentence with {slots}"`.
pub struct Words {
    id: &'static str,
    about: About,
    file: &'static str,
    read: OnceLock<BTreeMap<String, String>>,
}

impl Words {
    /// The words of a file, which is read when one of them is first needed.
    pub const fn new(id: &'static str, about: About, file: &'static str) -> Words {
        Words { id, about, file, read: OnceLock::new() }
    }

    /// The keys of all its sentences.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.sentences().keys().map(String::as_str)
    }

    fn sentences(&self) -> &BTreeMap<String, String> {
        self.read.get_or_init(|| toml::from_str(self.file).expect("a test reads every file"))
    }
}

/// What a claim is about, so that other parts may hold what they see against it without reading
/// its words.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum About {
    /// Nothing that anybody else asks for.
    Any,
    /// The line that the console names, or a step on the way there.
    Reported,
    /// An index that its list does not reach.
    Range,
    /// A value that was taken away, or never was there.
    Absence,
    /// A name that leads nowhere.
    Name,
    /// A thing that others hide.
    Hidden,
    /// A text that does not parse.
    Syntax,
    /// A print that was forgotten.
    Print,
}

/// A kind of saying: one sentence of a file of words.
pub struct Kind {
    /// Its file of words.
    pub words: &'static Words,
    /// Its key there.
    pub key: &'static str,
}

impl Kind {
    /// Who says it: the id of a check.
    pub fn of(&self) -> &'static str {
        self.words.id
    }

    /// What the claim is about, so that others may hold what they see against it.
    pub fn about(&self) -> About {
        self.words.about
    }

    /// The sentence with its slots still open.
    pub fn template(&self) -> Option<&str> {
        self.words.sentences().get(self.key).map(String::as_str)
    }
}

impl PartialEq for Kind {
    fn eq(&self, other: &Kind) -> bool {
        std::ptr::eq(self, other)
    }
}

impl Eq for Kind {}

impl fmt::Debug for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}.{}", self.words.id, self.key)
    }
}

impl Serialize for Kind {
    /// `check.key`, which stays the same when the words get better.
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.collect_str(&format_args!("{self:?}"))
    }
}

/// What is wrong between the kinds of a file of words and the file: kinds without words, words
/// without a kind, sentences that cannot be joined to others. For the tests of those who say them.
pub fn misworded(kinds: &[&'static Kind]) -> Vec<String> {
    let mut found = Vec::new();
    for kind in kinds {
        match kind.template() {
            None => found.push(format!("{kind:?} has no words")),
            Some(words) => {
                let whole = words.matches('{').count() == words.matches('}').count();
                if !whole || words.ends_with('.') || words.trim() != words {
                    found.push(format!("{kind:?} does not read well: {words}"));
                }
            }
        }
    }
    for key in kinds.first().into_iter().flat_map(|k| k.words.keys()) {
        if !kinds.iter().any(|k| k.key == key) {
            found.push(format!("nobody says {key}"));
        }
    }
    found
}

/// What fills a slot of a sentence.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Slot {
    /// A name of the project or of a runtime, or what the project's text says.
    Name(Arc<str>),
    /// Several of them.
    Names(Vec<Arc<str>>),
    /// A file or folder of the project.
    Place(Arc<str>),
    /// A number.
    Number(i64),
    /// Words that were made elsewhere, such as what a runtime says.
    Words(Arc<str>),
    /// Another saying.
    Saying(Box<Saying>),
    /// A sentence that was made elsewhere, its names told apart.
    Sentence(Sentence),
}

/// What can fill a slot.
pub trait Fill {
    /// As a filling.
    fn fill(&self) -> Slot;
}

macro_rules! fills {
    ($($of:ty, $value:ident => $into:expr;)*) => {
        $(impl Fill for $of {
            fn fill(&self) -> Slot {
                let $value = self;
                $into
            }
        })*
    };
}

fills! {
    str, v => Slot::Name(v.into());
    String, v => Slot::Name(v.as_str().into());
    Box<str>, v => Slot::Name(v.as_ref().into());
    Arc<str>, v => Slot::Name(v.clone());
    u32, v => Slot::Number((*v).into());
    i64, v => Slot::Number(*v);
    u64, v => Slot::Number(i64::try_from(*v).unwrap_or(i64::MAX));
    usize, v => Slot::Number(i64::try_from(*v).unwrap_or(i64::MAX));
    Saying, v => Slot::Saying(Box::new(v.clone()));
    Slot, v => v.clone();
}

impl<T: Fill + ?Sized> Fill for &T {
    fn fill(&self) -> Slot {
        (**self).fill()
    }
}

impl<T: AsRef<str>> Fill for [T] {
    fn fill(&self) -> Slot {
        Slot::Names(self.iter().map(|name| Arc::from(name.as_ref())).collect())
    }
}

impl<T: AsRef<str>> Fill for Vec<T> {
    fn fill(&self) -> Slot {
        self.as_slice().fill()
    }
}

impl Slot {
    /// A slot that is filled by a file or folder of the project.
    pub fn place(path: &str) -> Slot {
        Slot::Place(path.into())
    }

    /// Words that were made elsewhere.
    pub fn words(words: impl Into<Arc<str>>) -> Slot {
        Slot::Words(words.into())
    }
}

/// A sentence of Izba, before it is put in words.
#[derive(Clone, PartialEq, Eq)]
pub struct Saying {
    /// Which sentence.
    pub kind: &'static Kind,
    /// What fills its slots, by their names.
    pub slots: Vec<(&'static str, Slot)>,
}

static QUOTES: Words = Words::new("text", About::Any, "quoted = \"{text}\"");
/// What stands somewhere, word for word.
static QUOTED: Kind = Kind { words: &QUOTES, key: "quoted" };

impl Saying {
    /// A saying of a kind, its slots still open. [`say!`](crate::say) fills them.
    pub fn new(kind: &'static Kind) -> Saying {
        Saying { kind, slots: Vec::new() }
    }

    /// What stands in the project or in a console, word for word.
    pub fn quote(text: impl Into<Arc<str>>) -> Saying {
        Saying::new(&QUOTED).with("text", &Slot::Words(text.into()))
    }

    /// Fills a slot of the sentence, by its name.
    pub fn with(mut self, slot: &'static str, what: &(impl Fill + ?Sized)) -> Saying {
        self.slots.push((slot, what.fill()));
        self
    }

    /// What it is about: what fills the slot `name`, here or in the first saying within.
    pub fn subject(&self) -> Option<&str> {
        match self.slot("name") {
            Some(Slot::Name(name) | Slot::Place(name)) => Some(name),
            Some(_) => None,
            None => self.slots.iter().find_map(|(_, slot)| match slot {
                Slot::Saying(within) => within.subject(),
                _ => None,
            }),
        }
    }

    /// What fills a slot of a sentence.
    pub fn slot(&self, name: &str) -> Option<&Slot> {
        self.slots.iter().find(|(slot, _)| *slot == name).map(|(_, what)| what)
    }

    /// Whether one of its slots holds this name.
    pub fn names(&self, name: &str) -> bool {
        self.slots.iter().any(|(_, slot)| match slot {
            Slot::Name(held) | Slot::Place(held) => held.contains(name),
            Slot::Names(held) => held.iter().any(|h| h.contains(name)),
            _ => false,
        })
    }

    /// What it is known by across sessions: its kind and the names in it. It survives better words
    /// and lines that move.
    pub fn identity(&self) -> String {
        let mut identity = format!("{:?}", self.kind);
        self.identify(&mut identity);
        identity
    }

    fn identify(&self, identity: &mut String) {
        for (_, slot) in &self.slots {
            match slot {
                Slot::Name(name) | Slot::Place(name) => {
                    identity.push(' ');
                    identity.push_str(name);
                }
                Slot::Names(names) => {
                    for name in names {
                        identity.push(' ');
                        identity.push_str(name);
                    }
                }
                Slot::Saying(within) => within.identify(identity),
                Slot::Number(_) | Slot::Words(_) | Slot::Sentence(_) => {}
            }
        }
    }

    /// It in words, with its names told apart.
    pub fn sentence(&self) -> Sentence {
        let mut sentence = Sentence::default();
        self.write(&mut sentence);
        sentence
    }

    fn write(&self, to: &mut Sentence) {
        let mut rest = self.kind.template().unwrap_or(self.kind.key);
        while let Some((before, after)) = rest.split_once('{') {
            to.push(before, Tone::Text);
            let (slot, after) = after.split_once('}').unwrap_or((after, ""));
            rest = after;
            match self.slot(slot) {
                Some(Slot::Name(name)) => to.push(name, Tone::Name),
                Some(Slot::Place(name)) => to.push(name, Tone::Place),
                Some(Slot::Number(number)) => to.push(&number.to_string(), Tone::Text),
                Some(Slot::Words(words)) => to.push(words, Tone::Text),
                Some(Slot::Saying(saying)) => saying.write(to),
                Some(Slot::Sentence(within)) => {
                    for part in &within.parts {
                        to.push(&part.text, part.tone);
                    }
                }
                Some(Slot::Names(names)) => {
                    for (at, name) in names.iter().enumerate() {
                        to.push(if at == 0 { "" } else { ", " }, Tone::Text);
                        to.push(name, Tone::Name);
                    }
                }
                None => {
                    debug_assert!(false, "nothing fills {slot} of {:?}", self.kind);
                    to.push("…", Tone::Text);
                }
            }
        }
        to.push(rest, Tone::Text);
    }
}

impl fmt::Display for Saying {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(&self.sentence(), f)
    }
}

impl fmt::Debug for Saying {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?}: {self}", self.kind)
    }
}

impl Serialize for Saying {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.collect_str(self)
    }
}

/// Declares the sentences of a file of words: `sayings!("id", About, "path"; KIND = "key", …)`.
/// `KINDS` lists them all.
#[macro_export]
macro_rules! sayings {
    ($id:literal, $about:ident, $file:literal; $($vis:vis $name:ident = $key:literal),* $(,)?) => {
        static WORDS: $crate::claim::Words = $crate::claim::Words::new(
            $id,
            $crate::claim::About::$about,
            include_str!($file),
        );
        $($vis static $name: $crate::claim::Kind =
            $crate::claim::Kind { words: &WORDS, key: $key };)*
        /// All sentences of this file.
        #[allow(dead_code)]
        pub(crate) static KINDS: &[&$crate::claim::Kind] = &[$(&$name),*];
    };
}

/// A saying with its slots filled: `say!(KIND, name, other = x)`; `name` alone is `name = name`.
#[macro_export]
macro_rules! say {
    ($kind:expr $(, $slot:ident $(= $what:expr)?)* $(,)?) => {
        $crate::claim::Saying::new(&$kind)
            $(.with(stringify!($slot), $crate::say!(@what $slot $($what)?)))*
    };
    (@what $slot:ident) => { &$slot };
    (@what $slot:ident $what:expr) => { &$what };
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    static TOLD: Words = Words::new(
        "told",
        About::Absence,
        r#"
gone = "{name} is gone since line {line}, and {why}"
why = "only {names} are left in {file}"
"#,
    );
    static GONE: Kind = Kind { words: &TOLD, key: "gone" };
    static WHY: Kind = Kind { words: &TOLD, key: "why" };

    #[test]
    fn words_are_made_from_the_value_and_names_stay_told_apart() {
        let why = say!(WHY, names = ["mast", "oar"].as_slice(), file = Slot::place("a.lua"));
        let gone = say!(GONE, name = "wick", line = 7u32, why);
        assert_eq!(
            gone.to_string(),
            "`wick` is gone since line 7, and only `mast`, `oar` are left in a.lua"
        );
        let parts = gone.sentence().parts;
        let of = |tone| parts.iter().filter(|p| p.tone == tone).map(|p| p.text.as_str()).collect();
        let (names, places): (Vec<&str>, Vec<&str>) = (of(Tone::Name), of(Tone::Place));
        assert_eq!((names, places), (vec!["wick", "mast", "oar"], vec!["a.lua"]));
        assert_eq!(gone.subject(), Some("wick"));
        assert_eq!(gone.kind.about(), About::Absence);
        assert_eq!(serde_json::to_string(&GONE).expect("a text"), "\"told.gone\"");
    }

    #[test]
    fn two_are_equal_by_what_they_say_and_not_by_how_it_reads() {
        let (a, b) = (say!(GONE, name = "x", line = 1u32), say!(GONE, name = "x", line = 2u32));
        assert_ne!(a, b);
        assert_eq!(a, a.clone());
        assert_ne!(say!(GONE), say!(WHY));
        assert!(a.names("x") && !a.names("y"));
        // What is known by the user stays known when its line moves, and nothing else is.
        assert_eq!(a.identity(), b.identity());
        assert_ne!(a.identity(), say!(GONE, name = "y", line = 1u32).identity());
        assert_ne!(a.identity(), say!(WHY, name = "x").identity());
    }

    #[test]
    fn what_is_not_worded_is_noticed() {
        assert_eq!(misworded(&[&GONE, &WHY]), Vec::<String>::new());
        static LOST: Kind = Kind { words: &TOLD, key: "lost" };
        assert_eq!(misworded(&[&GONE, &LOST]), ["told.lost has no words", "nobody says why"]);
    }

    proptest! {
        /// What comes from the project is never read as a slot, and nothing of it is lost.
        #[test]
        fn foreign_text_stays_as_it_is(name in ".*", other in "[{}a-z ]*") {
            let gone = say!(GONE, name, line = 3u32, why = Slot::words(other.as_str()));
            let bare = gone.sentence().bare();
            prop_assert_eq!(bare, format!("{name} is gone since line 3, and {other}"));
            prop_assert_eq!(gone.subject(), Some(name.as_str()));
        }
    }
}

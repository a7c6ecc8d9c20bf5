//! What a phrase asks for, word by word.

use crate::state::State;
use izba_model::Level;
use regex::Regex;

/// The reserved words, each with what it means.
pub const WORDS: &[(&str, &str)] = &[
    ("and", "both; the same as words side by side"),
    ("by", "said by an app, process, thread or logger"),
    ("debug", "of this level; debug+ or worse"),
    ("error", "of this level; error+ or worse"),
    ("family", "of a family of errors, such as value-not-there"),
    ("fatal", "of this level"),
    ("fixed", "called fixed by you"),
    ("from", "from a source"),
    (
        "in",
        "in a script, a folder, or a pattern such as scripts/*.lua; a line or lines may \
            follow, such as 40-60",
    ),
    ("info", "of this level; info+ or worse"),
    ("kind", "of the kind that the language names"),
    ("last", "within the last time, such as 30s, 5m or 1h"),
    ("muted", "set aside by you"),
    ("new", "first met in this run"),
    ("back", "called fixed, or silent through a run, and here again"),
    ("not", "what comes next does not hold"),
    ("on", "on an object"),
    ("or", "one of both"),
    ("outside", "not in your own code"),
    ("overlooked", "a line that looks as if it mattered and was not understood"),
    ("own", "in your own code"),
    ("quiet", "met before, not in this run so far"),
    ("run", "met in the run of this number"),
    ("seen", "seen so many times, such as 10+"),
    ("since", "since a time of day, such as 14:02"),
    ("still", "met before, and in this run"),
    ("until", "until a time of day, such as 14:05:30"),
    ("warning", "of this level; warning+ or worse"),
];

/// What has to hold.
#[derive(Debug, Clone)]
pub(crate) enum Term {
    All(Vec<Term>),
    Any(Vec<Term>),
    Not(Box<Term>),
    /// In the text, whatever its case.
    Text(String, Regex),
    /// The regular expression as it was typed.
    Pattern(Regex),
    Level(Level, bool),
    In(Names, Option<(u32, u32)>),
    On(Names),
    By(Names),
    From(Names),
    Kind(Names),
    Family(Names),
    /// At least, and at most where no `+` stands.
    Seen(u64, Option<u64>),
    Last(u64),
    /// Milliseconds since midnight.
    Since(u32),
    /// Milliseconds since midnight.
    Until(u32),
    Run(u32),
    Overlooked,
    Own,
    Outside,
    State(State),
    Fixed,
    Muted,
}

/// A name as it was typed, perhaps with `*` for anything.
#[derive(Debug, Clone)]
pub(crate) struct Names {
    pub(crate) text: String,
    pub(crate) pattern: Regex,
}

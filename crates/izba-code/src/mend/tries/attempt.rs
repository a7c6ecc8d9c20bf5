//! One repair, and the script that it is tried on.

use crate::signs::{Sort, Token};
use izba_model::claim::Saying;
use izba_model::code::Language;
use izba_model::dialect::By;

/// One repair: what is put in or taken out, and what is said of it.
#[derive(Debug, Clone)]
pub struct Try {
    /// Byte of the text where it goes, from 0.
    pub at: usize,
    /// How many bytes it takes out there.
    pub remove: usize,
    /// What it puts in.
    pub insert: String,
    /// The line to show, from 1.
    pub line: u32,
    /// The last line that it may be in.
    pub to_line: u32,
    /// What is wrong, if this repair is right.
    pub what: Saying,
    /// How unusual such a slip is; 0 is the most usual.
    pub cost: f32,
    /// What speaks for it, with lines.
    pub seen: Vec<(u32, Saying)>,
}

impl Try {
    /// The text as it is after the repair.
    pub fn apply(&self, text: &str) -> String {
        let mut out = String::with_capacity(text.len() + self.insert.len());
        out.push_str(&text[..self.at]);
        out.push_str(&self.insert);
        out.push_str(&text[(self.at + self.remove).min(text.len())..]);
        out
    }
}

/// The script that is looked at.
pub struct Look<'a> {
    /// Its language.
    pub language: Language,
    /// Its text.
    pub text: &'a str,
    /// Its tokens.
    pub tokens: &'a [Token<'a>],
    /// Line that the console named.
    pub noticed: Option<u32>,
    /// Line of an opener that the console named.
    pub opener: Option<u32>,
    /// The sign or word that the console says it met.
    pub near: Option<String>,
    /// Line at which the grammar first stumbles.
    pub stumbles: Option<u32>,
}

/// Not more repairs than this of each nature; a file of nothing but brackets is not worth more
/// time.
pub(super) const MOST: usize = 160;
/// So many of one nature are thought of before the best are taken: closers from where it was noticed
/// outwards, texts from the beginning of the file.
pub(super) const THOUGHT_OF: usize = 4000;

impl Look<'_> {
    pub(super) fn hot(&self, line: u32) -> bool {
        [self.noticed, self.stumbles]
            .into_iter()
            .flatten()
            .any(|hot| line <= hot + 1 && line + 3 >= hot)
    }

    pub(super) fn last_of_line(&self, at: usize) -> usize {
        let line = self.tokens[at].line;
        (at + self.tokens[at..].partition_point(|t| t.line <= line)).saturating_sub(1).max(at)
    }

    pub(super) fn first_of_next_line(&self, at: usize) -> Option<usize> {
        let next = self.last_of_line(at) + 1;
        (next < self.tokens.len()).then_some(next)
    }

    pub(super) fn is_closer(&self, at: usize) -> bool {
        self.tokens.get(at).is_some_and(|t| {
            matches!(t.sort, Sort::Sign | Sort::Word) && self.language.closes(t.text)
        })
    }
}

pub(super) fn put(at: usize, insert: impl Into<String>, line: u32, what: Saying, cost: f32) -> Try {
    Try { at, remove: 0, insert: insert.into(), line, to_line: line, what, cost, seen: Vec::new() }
}

pub(super) fn is_operand_end(language: Language, t: &Token<'_>) -> bool {
    match t.sort {
        Sort::Word => !is_keyword(language, t.text),
        Sort::Sign => matches!(t.text, ")" | "]" | "}" | "..."),
        _ => true,
    }
}

/// Whether a word is one of the language's own, and no name. What is a keyword of one language is a
/// name in another.
pub(super) fn is_keyword(language: Language, word: &str) -> bool {
    match language.blocks.by {
        By::Words => OF_WORDS.contains(&word),
        By::Indentation => OF_INDENTATION.contains(&word),
        _ => KEYWORDS.contains(&word),
    }
}

/// Keywords of languages that make their blocks by words.
const OF_WORDS: &[&str] = &[
    "and", "or", "not", "in", "if", "else", "elseif", "elsif", "then", "do", "end", "for", "while",
    "return", "local", "function", "repeat", "until", "break", "goto",
];

/// Keywords of languages that make their blocks by indentation.
const OF_INDENTATION: &[&str] = &[
    "and", "or", "not", "in", "is", "if", "else", "elif", "for", "while", "return", "def", "class",
    "import", "from", "as", "await", "async", "raise", "try", "except", "finally", "with",
    "lambda", "yield", "del", "break", "continue", "global", "nonlocal", "assert", "pass",
];

const KEYWORDS: &[&str] = &[
    "and",
    "or",
    "not",
    "in",
    "is",
    "if",
    "else",
    "elseif",
    "elif",
    "then",
    "do",
    "end",
    "for",
    "while",
    "return",
    "local",
    "function",
    "var",
    "let",
    "const",
    "new",
    "class",
    "public",
    "private",
    "protected",
    "static",
    "void",
    "final",
    "def",
    "import",
    "from",
    "as",
    "await",
    "async",
    "typeof",
    "throw",
    "raise",
    "case",
    "default",
    "repeat",
    "until",
    "instanceof",
    "extends",
    "implements",
    "throws",
    "try",
    "catch",
    "finally",
    "with",
    "lambda",
    "yield",
    "del",
    "using",
    "break",
    "continue",
    "goto",
    "override",
    "abstract",
    "readonly",
    "unsafe",
    "export",
    "package",
    "namespace",
    "enum",
    "interface",
    "struct",
    "of",
    "int",
    "double",
    "String",
    "string",
    "bool",
    "boolean",
    "long",
    "float",
    "char",
    "byte",
    "global",
    "assert",
    "pass",
    "delete",
    "switch",
];

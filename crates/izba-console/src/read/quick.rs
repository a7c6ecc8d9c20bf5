//! The quick reject: most lines of a console can be seen at once to begin no entry, many at a time.

use super::walk::Signs;
use crate::read::Layouts;
use crate::read::Reading;
use regex::bytes::Regex;
use std::sync::LazyLock;

/// What a line may hold at which an entry begins. Ends of lines are written `$` here.
const SIGNS: &str = concat!(
    concat!(
        r"(?i-u)error|\berr|warn|fatal|panic|crit|severe|exception|traceback|unhandled",
        r"|fault|alert|emerg|^lua|python\S*: can|^\S*\.\w+$|"
    ),
    // RFC 5424 says how grave a line is in a number; rulers begin reports.
    r#""\w*(?:level|severity|lvl|prio\w*|sev)\w*" ?: ?(?:[0-4]\b|[4-9]\d|\d{3})|"#,
    concat!(
        r"^\{$|terminat|dumped|Precondition|^[ew]: |[VDIWEFA]/\w|^fail: |^Assertion failed",
        r"|^panic: |panicked|\.go:\d|:in [`']| line \d+\.?$|unterminated|unexpected",
        r"|undefined reference|\):\d+: |: No such file or directory$|: Permission denied$",
        r"|^[WEFC](?:[,\d]| \d)|\d [WEFC] |"
    ),
    r"[=~*#_-]{4}|",
    r#"\[string "|^[\t ]+at |^[\t ]*file |\.\w{1,8}(?::\d|\(\d)"#
);

/// The priorities of syslog, `<PRI>` at the head of a line, whose severity is that of a warning or
/// worse.
fn grave_numbers() -> String {
    let numbers: Vec<String> = (0..=191).filter(|n| n % 8 <= 4).map(|n| n.to_string()).collect();
    format!("^<(?:{})>", numbers.join("|"))
}

/// Whether an entry may begin at this line, which is decoded and has no line end.
pub(crate) fn may_matter(text: &str, reading: Reading<'_>) -> bool {
    is_sign(text) || reading.layouts.may_matter(text)
}

/// Whether an entry may begin at this line whatever its layout.
pub(crate) fn is_sign(text: &str) -> bool {
    static ONE: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(&format!("{SIGNS}|{}", grave_numbers())).expect("the pattern is fixed")
    });
    ONE.is_match(text.as_bytes())
}

/// All signs over many lines, with those that a source's layouts add.
pub(crate) fn many(more: &str) -> Signs {
    // What decoding changes can't be judged yet: escape sequences, redrawn lines.
    let signs = SIGNS.replace('$', r"\r?$");
    let more = if more.is_empty() {
        String::new()
    } else {
        format!("|(?-i:{})", more.replace('$', r"\r?$"))
    };
    let all = format!(r"{signs}|{}|\x1b|\x9b|\r[^\n]{more}", grave_numbers());
    Signs::new(&all).expect("the pattern is fixed, and what is added was compiled before")
}

/// A line of a chunk at which an entry may begin.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Hit {
    /// Line ends in the chunk before it.
    pub line: u32,
    /// Byte of the chunk at which it begins.
    pub at: u32,
}

/// What a first look at a chunk found: the only part of reading that needs no order, so that chunks
/// can be looked at side by side.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Scan {
    /// Line ends in the chunk.
    pub lines: u32,
    /// The lines that stand whole behind a line end and may begin an entry, in order. No other such
    /// line does.
    pub hits: Vec<Hit>,
}

impl Scan {
    /// Looks at a chunk of at most 4 GiB.
    pub fn of(chunk: &[u8], layouts: &Layouts) -> Scan {
        static MANY: LazyLock<Signs> = LazyLock::new(|| many(""));
        let many = layouts.many().unwrap_or(&MANY);
        let mut scan = Scan::default();
        let Some(first) = memchr::memchr(b'\n', chunk) else { return scan };
        let last = memchr::memrchr(b'\n', chunk).unwrap_or(first);
        let text = &chunk[first + 1..=last];
        // Where no table holds the pattern, each line is looked at by itself.
        let found = many.lines(text).unwrap_or_else(|| {
            std::iter::once(0)
                .chain(memchr::memchr_iter(b'\n', text).map(|n| n + 1))
                .filter(|begin| *begin < text.len())
                .collect()
        });
        let mut counted = 0;
        for begin in found {
            let at = first + 1 + begin;
            scan.lines += memchr::memchr_iter(b'\n', &chunk[counted..at]).count() as u32;
            counted = at;
            scan.hits.push(Hit { line: scan.lines, at: at as u32 });
        }
        scan.lines += memchr::memchr_iter(b'\n', &chunk[counted..]).count() as u32;
        scan
    }
}

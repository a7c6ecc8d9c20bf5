//! What a line holds at which an entry may begin, whatever its layout.

use super::walk::Signs;
use regex::bytes::Regex;
use std::sync::LazyLock;

/// What a line may hold at which an entry begins. Ends of lines are written `$` here.
const SIGNS: &str = concat!(
    r"(?i-u)error|\berr|warn|fatal|panic|crit|severe|exception|traceback|unhandled",
    r"|\xe2\x97\x8f|fault|alert|emerg|^lua|python\S*: can|^\S*\.\w+$|",
    // RFC 5424 says how grave a line is in a number; rulers begin reports.
    r#""\w*(?:level|severity|lvl|prio\w*|sev)\w*" ?: ?(?:[0-4]\b|[4-9]\d|\d{3})|"#,
    r"^\{$|terminat|dumped|Precondition|^[ew]: |[VDIWEFA]/\w|^fail: |Assertion failed",
    r"|^panic: |panicked|\.go:\d|:in [`']| line \d+\.?(?: *\xe2|$)|unterminated|unexpected",
    r"|undefined reference|\):\d+: |: No such file or directory$|: Permission denied$",
    r"|^[WEFC](?:[,\d]| \d)|\d [WEFC] |",
    // A trace that was written into one line.
    r": line \d|trace:$|not found$|: \d{1,7}: |: \*\*\* |sh: \d|--- FAIL: |not ok \d|^ +\d+\) |\xe2\x95\xad|\xe2\x94\x8c|Is a directory$|File exists$|[=~*#_-]{4}|\\n(?:\\+t| )|",
    r#"\[string "|", line \d|^[\t ]+at |^[\t ]*file |\.\w{1,8}(?::\d|\(\d)"#
);

/// What a line holds beside them that may matter though no entry begins there.
const GRAVE: &str = r"(?i-u)fail|cannot|can't|could ?n|unable to|crashed";

/// The priorities of syslog, `<PRI>` at the head of a line, whose severity is that of a warning or
/// worse.
fn grave_numbers() -> String {
    let numbers: Vec<String> = (0..=191).filter(|n| n % 8 <= 4).map(|n| n.to_string()).collect();
    format!("^<(?:{})>", numbers.join("|"))
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
    let all = format!(r"{signs}|{}|{GRAVE}|\x1b|\x9b|\r[^\n]{more}", grave_numbers());
    Signs::new(&all).expect("the pattern is fixed, and what is added was compiled before")
}

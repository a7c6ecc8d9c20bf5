//! Lines that belong to no entry and still look as if they mattered: nobody may say “no errors”
//! over them.

use super::printed::printed_step;
use super::records;
use crate::read::{Reading, find_place};
use izba_model::Level;
use izba_model::pattern::Pattern;

/// Words of failing, whole, outside of names of files and of identifiers.
static WORDS: Pattern = Pattern::new(concat!(
    r"(?i-u:errors?|fatal|panicked|panic:|exceptions?|fail(?:ed|ures?)|cannot|can't|could(?: not",
    r"|n't)|unable to|abort(?:ed|ing)|crashed|segmentation fault|traceback(?: \([a-z ]+\))?:)",
    r"|[A-Z]\w*(?:Error|Exception)"
));

/// Lines of tests that went as they should.
static WELL: Pattern =
    Pattern::new(r"^\s*(?:ok|pass|passed|skipped|xfail|✓|✔)\b|\b(?:ok|OK|PASSED|XFAIL|SKIPPED)\b");

/// Lines that only count what others tell, or say that a tool ends because of it.
static SUMS: Pattern = Pattern::new(concat!(
    r"(?i)\b[1-9]\d*\s+(?:\w+ )?(?:errors?|fail(?:ed|ures?)|problems?)\b",
    r"|\b(?:errors?|failures?|failed)\s*(?:[:=]\s*)?\d+\b|\berror\(s\)|^\W*(?:errors?|failures?)\b\W*",
    r"(?:files?)?$|\bFATAL EXCEPTION: \S|\b(?:had|some)(?: \w+)? errors\b|errors occurred|^\W*(?:\w+ )?failed\W*$"
));

/// A place at which a line begins, set in or behind what leads to steps.
static LEADS: Pattern = Pattern::new(
    r#"^\s*(?:(?:at|in|from|file|-->|❯|▸|│|\||\*|-) +)?["'(]?$|^\s+\S|^#?\d+[:.)]? |^\t"#,
);

/// What stands over failures that are told a second time, at the end of all tests.
static RECAP: Pattern = Pattern::new(
    r"(?i)^\W*(?:failing tests|failed tests|failures|summary of (?:all )?failing tests|short test summary(?: info)?)\W*$",
);

/// Whether below this line a tool tells its failures again.
pub fn is_recap(text: &str) -> bool {
    text.len() < 200 && RECAP.is_match(text)
}

/// How grave a line looks that nobody understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Grave {
    /// It tells of something.
    Tells,
    /// It counts what went wrong, or says that a tool ends with it: where errors are told, it says
    /// nothing more.
    Counts,
}

/// Words before one of failing after which nothing failed, in small letters.
const CALM_BEFORE: &[&str] = &[
    "0", "any", "as", "avoid", "catch", "each", "every", "for", "handle", "handles", "if",
    "ignore", "ignored", "ignores", "ignoring", "log", "never", "no", "not", "of", "on", "when",
    "without", "zero",
];

/// What stands behind one of failing where nothing failed.
static CALM_AFTER: Pattern = Pattern::new(concat!(
    r#"^(?:[-_ ](?i-u:boundar|budget|chann|check|code|count|explanation|handl|level|log|messag|mode|page|path|rate|report"#,
    r#"|stream|test|threshold|track|trap)|[a-z]*["']?[ :=]+(?:0|none|None|null|nil|no|yes|on|true|false|off|\[\])\b"#,
    r#"|["']?[ :=]+(?:0|-|\[\]|\{\}|"")$)"#
));

/// Whether and how a line that begins no entry looks as if it mattered: it bears a word of failing,
/// or begins with a line of an own file, and no level says that it is an ordinary one.
pub fn looks_grave(text: &str, reading: Reading<'_>) -> Option<Grave> {
    let named = || {
        find_place(text, 0).is_some_and(|place| {
            let leads = LEADS.is_match(&text[..place.span.0]);
            let file = reading.project.find(place.file).filter(|_| leads);
            file.is_some_and(|f| reading.project.line(&f, place.line).is_some())
        })
    };
    // Nobody tells a line in words who only says what is there.
    let worded = || {
        text.contains("line ").then(|| super::steps::worded_place(text)).flatten().is_some_and(
            |(file, line, _)| {
                let file = reading.project.find(&file);
                file.is_some_and(|f| reading.project.line(&f, line).is_some())
            },
        )
    };
    let (fails, well) = (fails(text), WELL.is_match(text));
    // A step by itself says nothing: it is of a path that was printed on purpose.
    let places = || named() && printed_step(text).is_none() || worded();
    if well || !fails && !places() {
        return None;
    }
    let prefix = reading.layouts.prefix(text);
    let level = prefix.level.or_else(|| records::level_in(&text[prefix.rest_at..]));
    if level.is_some_and(|level| level < Level::Warning) {
        return None;
    }
    Some(if fails && SUMS.is_match(text) { Grave::Counts } else { Grave::Tells })
}

/// Whether a text tells of failing in a word that nothing takes back.
fn fails(text: &str) -> bool {
    WORDS.regex().find_iter(text).any(|word| {
        let (before, after) = (&text[..word.start()], &text[word.end()..]);
        let joined = |c: char| c.is_alphanumeric() || matches!(c, '_' | '.' | '/' | '\\' | '-');
        let in_name = before.chars().next_back().is_some_and(joined)
            || after.starts_with(['_', '/', '\\', '('])
            || after.starts_with(char::is_alphanumeric)
            || after.starts_with(['.', '-']) && after[1..].starts_with(char::is_alphanumeric);
        // An error without words, made only to print where the program is.
        let made = word.as_str() == "Error" && after.trim().is_empty() && !before.is_empty();
        let last = before.trim_end().rsplit(|c: char| !c.is_alphanumeric()).next().unwrap_or("");
        !in_name
            && !made
            && !CALM_BEFORE.contains(&last.to_lowercase().as_str())
            && !CALM_AFTER.regex().is_match(after)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::Layouts;
    use izba_model::{Project, ProjectFile};

    #[test]
    fn what_tells_of_failing_looks_grave_and_what_only_speaks_of_it_does_not() {
        let file = ProjectFile { path: "src/quay.x".into(), text: Some("one\ntwo\n".into()) };
        let project = Project::new("/srv/marsh", vec![file]);
        let layouts = Layouts::default();
        let reading = Reading { project: &project, layouts: &layouts };
        for grave in [
            "could not open the tide table",
            "the winch said: Error, no rope",
            "it failed in quay.x",
            "raised a TideError while mooring",
            "src/quay.x:1: the rope is not set",
            "trouble in src/quay.x, line 2",
            "Can't moor here",
        ] {
            assert_eq!(looks_grave(grave, reading), Some(Grave::Tells), "{grave}");
        }
        for calm in [
            "0 errors, 0 failed",
            "errors: 0",
            "failed = none",
            "no errors found",
            "loaded error-handler.js",
            "see /var/log/error.log",
            "error handling is on",
            "on_error() is bound",
            "2026-11-23 06:00:01 INFO error pages are ready, 2 failed before",
            "    at row (src/quay.x:2)",
            "mooring is set up at src/quay.x:2",
            "trouble in other/pier.x, line 2",
            "[src/quay.x:2] rope = 3",
            "ok 3 - throws a TideError",
            "test ropes::panicked ... ok",
            "the stack traceback is switched on",
            "warnings are treated as errors: yes",
            "listening on dock.example:8080",
            "terror of the tides",
        ] {
            assert_eq!(looks_grave(calm, reading), None, "{calm}");
        }
        for sum in
            ["3 errors in 2 files", "make: *** [Makefile:8: quay] Error 1", "FAILED (failures=1)"]
        {
            assert_eq!(looks_grave(sum, reading), Some(Grave::Counts), "{sum}");
        }
    }
}

//! other: what no family knows, and families without words of their own for a case. Says what is
//! certain, and that the rest is not known.

use super::{Case, Explanation};
use izba_model::claim::{Saying, Slot};
use izba_model::pattern::Pattern;
use izba_model::{Family, Level, say, sayings};

sayings! {
    "explain.other", Any, "../../words/explain/other.toml";
    SAYS = "says",
    TOLD = "told",
    WORDLESS = "wordless",
    NOTE = "note",
    WARNS = "warns",
    UNKNOWN = "unknown",
    BY_ZERO = "by-zero",
    BY_ZERO_ADVICE = "by-zero-advice",
    TOO_DEEP = "too-deep",
    TOO_DEEP_ADVICE = "too-deep-advice",
    RAISED = "raised",
    NOWHERE = "nowhere",
}

/// Words with which programs end themselves.
const RAISES: [&str; 5] = ["throw ", "raise ", "error(", "fatal(", "panic!("];

/// What runtimes say of a division by nothing.
static DIVIDED: Pattern = Pattern::new(
    r"(?i)\b(?:division|divided?|modulo) by zero|/ by zero|DivideByZero|attempt to perform 'n(?://|%%)0'",
);

/// What runtimes say of calls that never come back.
static ENDLESS: Pattern = Pattern::new(
    r"(?i)stack ?overflow|maximum call stack|maximum recursion depth|stack level too deep",
);

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let entry = case.entry;
    let kind = entry.root_kind.as_deref().map(|k| k.rsplit('.').next().unwrap_or(k));
    let message = entry.root_message.lines().next().unwrap_or("").trim();
    let said = Some(message).filter(|m| !m.is_empty()).or(kind);
    let short = said.map_or_else(|| say!(WORDLESS), |m| say!(TOLD, said = Slot::words(m)));
    let headline = match (case.file_name().map(Slot::place), case.line_number(), said) {
        (Some(file), Some(line), Some(said)) => {
            let said = Slot::words(said.trim_end_matches('.'));
            say!(SAYS, file, line, said).sentence().text(".")
        }
        (Some(_), Some(_), None) => case.at_place(&short),
        _ => short.sentence().text(if said.is_some_and(|s| s.ends_with(['.', '!', '?'])) {
            ""
        } else {
            "."
        }),
    };
    let raised = RAISES.iter().any(|word| case.line().contains(word));
    let whole = format!("{}: {message}", entry.root_kind.as_deref().unwrap_or(""));
    let (divided, endless) = (DIVIDED.is_match(&whole), ENDLESS.is_match(&whole));
    let means = match entry.family {
        _ if raised => say!(RAISED),
        _ if divided => say!(BY_ZERO),
        _ if endless => say!(TOO_DEEP),
        Family::Other if entry.report.level == Level::Warning => say!(WARNS),
        Family::Other => say!(UNKNOWN),
        family => Saying::quote(family.docs()),
    };
    let said = Explanation::new(headline.clone(), &short, &say!(NOTE));
    // The console's words stay as they are.
    let explanation = Explanation { headline, ..said }.means(&means).at(entry.token);
    let explanation = match (raised, divided, endless) {
        (false, true, _) => explanation.advises(&say!(BY_ZERO_ADVICE)),
        (false, _, true) => explanation.advises(&say!(TOO_DEEP_ADVICE)),
        _ => explanation,
    };
    match entry.place {
        None => explanation.means(&say!(NOWHERE)),
        Some(_) => explanation,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::{Entry, Project, Report};

    #[test]
    fn a_family_without_an_explanation_of_its_own_says_what_it_is() {
        let project = Project::new("/p", Vec::new());
        let report = Report::new("lua", Level::Error, "the bell is cracked");
        let mut entry = Entry::resolve(report, &project, None);
        let plain = |entry: &Entry| explain(&Case { entry }).plain[0].to_string();
        assert!(plain(&entry).contains("hasn't met this message"));
        entry.family = Family::NotOpen;
        assert_eq!(plain(&entry), Family::NotOpen.docs());
    }
}

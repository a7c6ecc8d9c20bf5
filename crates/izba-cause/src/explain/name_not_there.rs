//! name-not-there: a name is used that nothing in reach has.

use super::{Case, Explanation};
use izba_model::claim::{Kind, Saying};
use izba_model::{say, sayings};

sayings! {
    "explain.name-not-there", Any, "../../words/explain/name-not-there.toml";
    NAMELESS = "nameless",
    NAMELESS_NOTE = "nameless-note",
    NAMELESS_MEANS = "nameless-means",
    NO_FUNCTION = "no-function",
    NO_FUNCTION_OF = "no-function-of",
    NO_FUNCTION_NOTE = "no-function-note",
    NO_FUNCTION_MEANS = "no-function-means",
    NO_FUNCTION_OF_MEANS = "no-function-of-means",
    NO_FUNCTION_ADVICE = "no-function-advice",
    UNKNOWN = "unknown",
    UNKNOWN_HERE = "unknown-here",
    OF = "of",
    UNKNOWN_NOTE = "unknown-note",
    OF_OWNER = "of-owner",
    CALLED = "called",
    MEANS = "means",
    SUGGESTS = "suggests",
    ADVICE = "advice",
    TYPE = "type",
    FUNCTION = "function",
    FIELD = "field",
    NAME = "name",
    PART = "part",
    IT = "it",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    // An engine that gives no name gives the column of what was called.
    let pointed =
        case.fact("op").filter(|op| *op == "function").and_then(|_| case.called_at_column());
    let Some(name) = case.fact("name").or(case.fact("other")).or(pointed) else {
        let short = say!(NAMELESS);
        return Explanation::new(case.at_place(&short), &short, &say!(NAMELESS_NOTE))
            .means(&say!(NAMELESS_MEANS))
            .at(case.entry.token);
    };
    // An entry of a list has no name of its own: `rules[rule.action]`.
    let entry = name.contains('[');
    let word = if entry { name } else { name.rsplit(['.', ':']).next().unwrap_or(name) };
    let called = matches!(case.fact("op"), Some("call" | "function"))
        || case.entry.root_message.contains("is not a function");
    // Asked of something, as a part of it: then that may be another thing than thought.
    let line = case.line();
    let asked_of = called
        && !entry
        && case.fact("have").is_none()
        && izba_model::excerpt::find_word(line, word, None)
            .is_some_and(|(at, _)| line[..at].trim_end().ends_with(['.', ':', '?']));
    if asked_of {
        return no_function(case, word);
    }
    let what = what(case, called);
    let named = Saying::new(what);
    let means = match case.fact("have") {
        Some(owner) if *what == NAME => say!(OF_OWNER, owner, what = say!(PART), name),
        Some(owner) => say!(OF_OWNER, owner, what = named, name),
        None if called => say!(CALLED, name, language = case.in_language()),
        None => say!(MEANS, language = case.in_language(), name),
    };
    let (what, short) = match case.fact("have") {
        Some(owner) => (say!(OF, owner, name), say!(OF, owner, name)),
        None => (say!(UNKNOWN, name), say!(UNKNOWN_HERE, name)),
    };
    let said = Explanation::new(case.at_place(&what), &short, &say!(UNKNOWN_NOTE, what = named))
        .means(&means)
        .at(case.word(name).or(case.entry.token));
    match case.fact("other").filter(|o| *o != name) {
        Some(other) => said.means(&say!(SUGGESTS, language = case.in_language(), other)),
        None => said.advises(&say!(ADVICE, name = word)),
    }
}

/// A function that something is asked for and does not have.
fn no_function(case: &Case<'_>, name: &str) -> Explanation {
    let owner = case.receiver(name).and_then(|(from, to)| case.line().get(from..to));
    let (short, means, advice) = match owner.filter(|o| !matches!(*o, "self" | "this")) {
        Some(owner) => (
            say!(NO_FUNCTION, owner, name),
            say!(NO_FUNCTION_MEANS, name, owner),
            say!(NO_FUNCTION_ADVICE, owner),
        ),
        None => (
            say!(NO_FUNCTION_OF, name),
            say!(NO_FUNCTION_OF_MEANS, name),
            say!(NO_FUNCTION_ADVICE, owner = say!(IT)),
        ),
    };
    Explanation::new(case.at_place(&short), &short, &say!(NO_FUNCTION_NOTE))
        .means(&means)
        .advises(&advice)
        .at(case.word(name).or(case.entry.token))
}

/// What the name would be a name of.
fn what(case: &Case<'_>, called: bool) -> &'static Kind {
    match (case.fact("scope"), called) {
        (Some("class"), _) => &TYPE,
        (Some("method"), _) | (_, true) => &FUNCTION,
        (Some("field"), _) => &FIELD,
        _ => &NAME,
    }
}

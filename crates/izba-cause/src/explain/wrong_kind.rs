//! wrong-kind: a value is there, but of a kind that does not fit what is done with it.

use super::{Case, Explanation};
use izba_model::claim::{Fill, Kind, Saying, Slot};
use izba_model::{say, sayings};

sayings! {
    "explain.wrong-kind", Any, "../../words/explain/wrong-kind.toml";
    NO_NUMBER = "no-number",
    EMPTY_TEXT = "empty-text",
    NO_NUMBER_MEANS = "no-number-means",
    EMPTY_TEXT_MEANS = "empty-text-means",
    POINT = "point",
    WHY = "why",
    WHY_MEANS = "why-means",
    COUNT = "count",
    COUNT_MEANS = "count-means",
    UNFIT = "unfit",
    UNFIT_MEANS = "unfit-means",
    IS_WHERE = "is-where",
    IS_WHERE_MEANS = "is-where-means",
    IS = "is",
    IS_MEANS = "is-means",
    WHERE = "where",
    WHERE_MEANS = "where-means",
    TOGETHER = "together",
    TOGETHER_MEANS = "together-means",
    HAVE = "have",
    HAVE_MEANS = "have-means",
    ANY = "any",
    ANY_MEANS = "any-means",
    NOTE_ANY = "note-any",
    NOTE = "note",
    TEXT_ADVICE = "text-advice",
    EMPTY_ADVICE = "empty-advice",
    ADVICE = "advice",
    NO_TAKING = "no-taking",
    NO_CALLING = "no-calling",
    NO_JOINING = "no-joining",
    NO_LENGTH = "no-length",
    NO_GOING = "no-going",
    NO_COUNTING = "no-counting",
    NO_FITTING = "no-fitting",
    ARGUMENT = "argument",
    A_VALUE = "a-value",
    A_TEXT = "a-text",
    A_NUMBER = "a-number",
    A_LIST = "a-list",
    A_TABLE = "a-table",
    A_DICTIONARY = "a-dictionary",
    A_FUNCTION = "a-function",
    TRUE_OR_FALSE = "true-or-false",
    NOTHING = "nothing",
    A = "a",
    AN = "an",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let have = case.fact("have").map(a);
    let (short, means) = told(case, have.as_ref());
    let note = have.as_ref().map_or_else(|| say!(NOTE_ANY), |have| say!(NOTE, have));
    let kinds = [have, case.fact("want").map(a), case.fact("other").map(a)];
    let holds = |kind: &'static Kind| kinds.iter().flatten().any(|k| *k.kind == *kind);
    let text = case.entry.facts.contains_key("text");
    let advice = if holds(&NOTHING) {
        say!(EMPTY_ADVICE)
    } else if text || holds(&A_TEXT) && holds(&A_NUMBER) {
        say!(TEXT_ADVICE)
    } else {
        say!(ADVICE)
    };
    let said =
        Explanation::new(case.at_place(&short), &short, &note).means(&means).advises(&advice);
    let token = case.fact("name").and_then(|n| case.word(n)).or(case.entry.token);
    match case.fact("text").and_then(pointed) {
        Some(pointed) => said.means(&say!(POINT, pointed)).at(token),
        None => said.at(token),
    }
}

/// What happened, and what it means.
fn told(case: &Case<'_>, have: Option<&Saying>) -> (Saying, Saying) {
    if let Some(text) = case.entry.facts.get("text") {
        return match text.as_str() {
            "" => (say!(EMPTY_TEXT), say!(EMPTY_TEXT_MEANS)),
            text => (say!(NO_NUMBER, text), say!(NO_NUMBER_MEANS, text)),
        };
    }
    let argument = case.fact("arg").and_then(|arg| arg.parse::<u32>().ok());
    let callee = case.fact("callee");
    let subject: Option<Slot> = case.fact("name").map(Fill::fill).or_else(|| {
        argument.map(|number| match callee {
            Some(name) => say!(ARGUMENT, number, name).fill(),
            None => say!(A_VALUE).fill(),
        })
    });
    if let Some(why) = case.fact("why").map(Slot::words) {
        let subject = subject.unwrap_or_else(|| say!(A_VALUE).fill());
        return (say!(WHY, subject, why), say!(WHY_MEANS, subject, why));
    }
    let want = case.fact("want").map(a);
    let other = case.fact("other").map(a);
    let deed = deed(case.fact("op").unwrap_or(""));
    match (&subject, have, want) {
        (None, None, None) if other.is_none() && callee.is_some() => {
            let name = callee.unwrap_or_default();
            let said = Slot::words(case.entry.root_message.trim_end_matches('.'));
            (say!(COUNT, name), say!(COUNT_MEANS, said, name))
        }
        (Some(subject), Some(have), Some(want)) => {
            (say!(IS_WHERE, subject, have, want), say!(IS_WHERE_MEANS, subject, have, want))
        }
        (Some(subject), Some(have), None) => {
            (say!(IS, subject, have), say!(IS_MEANS, subject, have, deed))
        }
        (Some(subject), None, _) => (say!(UNFIT, subject), say!(UNFIT_MEANS, subject, deed)),
        (None, Some(have), Some(want)) => (say!(WHERE, have, want), say!(WHERE_MEANS, have, want)),
        (None, Some(have), None) => match other {
            Some(other) => (say!(TOGETHER, have, other), say!(TOGETHER_MEANS, have, other)),
            None => (say!(HAVE, have), say!(HAVE_MEANS, have, deed)),
        },
        (None, None, Some(want)) => match other {
            Some(other) => {
                (say!(TOGETHER, have = want, other), say!(TOGETHER_MEANS, have = want, other))
            }
            None => (say!(ANY), say!(ANY_MEANS)),
        },
        _ => (say!(ANY), say!(ANY_MEANS)),
    }
}

/// A number that was written with a comma, with its point.
fn pointed(text: &str) -> Option<String> {
    let pointed = text.replace(',', ".");
    (text.matches(',').count() == 1 && pointed.trim().parse::<f64>().is_ok()).then_some(pointed)
}

/// What cannot be done with it, as the second half of a sentence.
fn deed(op: &str) -> Saying {
    Saying::new(match op {
        "index" | "subscriptable" => &NO_TAKING,
        "call" | "callable" => &NO_CALLING,
        "concatenate" => &NO_JOINING,
        "get length of" => &NO_LENGTH,
        "iterable" => &NO_GOING,
        "perform arithmetic on" | "perform bitwise operation on" => &NO_COUNTING,
        _ => &NO_FITTING,
    })
}

/// A kind of value with its article.
fn a(kind: &str) -> Saying {
    let name = kind.rsplit(['.', '$']).next().unwrap_or(kind);
    Saying::new(match name {
        "str" | "string" | "String" => &A_TEXT,
        "int" | "Integer" | "float" | "double" | "number" | "Number" => &A_NUMBER,
        "list" => &A_LIST,
        "table" => &A_TABLE,
        "dict" => &A_DICTIONARY,
        "function" => &A_FUNCTION,
        "bool" | "boolean" | "Boolean" => &TRUE_OR_FALSE,
        "NoneType" | "nil" | "null" | "undefined" | "NilClass" => &NOTHING,
        _ if name.starts_with(['a', 'e', 'i', 'o', 'A', 'E', 'I', 'O']) => {
            return say!(AN, name);
        }
        _ => return say!(A, name),
    })
}

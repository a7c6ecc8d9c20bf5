//! value-not-there: a name, field or slot holds nothing when it is read.

use super::{Case, Explanation};
use izba_model::claim::{Fill, Kind, Slot};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "explain.value-not-there", Any, "../../words/explain/value-not-there.toml";
    EARLY = "early",
    EARLY_NOTE = "early-note",
    EARLY_MEANS = "early-means",
    EARLY_ADVICE = "early-advice",
    KEY = "key",
    KEY_NOTE = "key-note",
    KEY_MEANS = "key-means",
    KEY_ADVICE = "key-advice",
    NAMELESS = "nameless",
    NAMELESS_NOTE = "nameless-note",
    NAMELESS_MEANS = "nameless-means",
    NAMELESS_ONE = "nameless-one",
    NAMELESS_SOME = "nameless-some",
    EMPTY = "empty",
    EMPTY_HERE = "empty-here",
    EMPTY_NOTE = "empty-note",
    MEMBER = "member",
    INDEX = "index",
    COUNTED = "counted",
    JOINED = "joined",
    LENGTH = "length",
    USED = "used",
    FIELD_ADVICE = "field-advice",
    OUTER_ADVICE = "outer-advice",
    ADVICE = "advice",
    ARGUMENT = "argument",
    GIVES = "gives",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let member =
        case.fact("member").map(|m| m.rsplit('.').next().unwrap_or(m).trim_end_matches("()"));
    let (name, token) = empty(case, member);
    let token = token.or(case.entry.token);
    let early = NOT_YET.iter().any(|words| case.entry.root_message.contains(words));
    if let Some(name) = name.as_ref().filter(|_| early) {
        let short = say!(EARLY, name);
        return Explanation::new(case.at_place(&short), &short, &say!(EARLY_NOTE))
            .means(&say!(EARLY_MEANS, name))
            .advises(&say!(EARLY_ADVICE, name))
            .at(token);
    }
    if let Some(key) = key(case) {
        let short = say!(KEY, name = key);
        return Explanation::new(case.at_place(&short), &short, &say!(KEY_NOTE))
            .means(&say!(KEY_MEANS, name = key))
            .advises(&say!(KEY_ADVICE))
            .at(case.word(key).or(token));
    }
    let (nothing, language) = (Slot::words(case.nothing()), case.in_language());
    let Some(name) = name else {
        let short = say!(NAMELESS);
        let said = Explanation::new(case.at_place(&short), &short, &say!(NAMELESS_NOTE, nothing))
            .means(&say!(NAMELESS_MEANS, nothing, language))
            .at(token);
        return match readable_names(case.line()).as_slice() {
            [] => said,
            [name] => said.means(&say!(NAMELESS_ONE, name)),
            names => said.means(&say!(NAMELESS_SOME, names)),
        };
    };
    let means = match member {
        Some(member) => say!(MEMBER, name, language, nothing, member),
        None => say!(*asked(case.fact("op")), name, language, nothing),
    };
    let advice = match case.fact("scope") {
        Some("field") => say!(FIELD_ADVICE, name),
        Some("upvalue") => say!(OUTER_ADVICE, name),
        _ => say!(ADVICE, name),
    };
    let headline = case.read_at(&say!(EMPTY, name));
    Explanation::new(headline, &say!(EMPTY_HERE, name), &say!(EMPTY_NOTE, nothing, name))
        .means(&means)
        .advises(&advice)
        .at(token)
}

/// What holds nothing, and where it stands in the line.
fn empty(case: &Case<'_>, member: Option<&str>) -> (Option<Slot>, Option<(usize, usize)>) {
    let found = case.fact("name").or(case.fact("other"));
    // Compilers number a local whose name they did not keep.
    let told = found.filter(|n| {
        !n.starts_with('<') && !matches!(*n, "undefined" | "null" | "?" | "integer index")
    });
    match told {
        Some(name) if case.fact("scope") == Some("field") => whole_field(case, name),
        Some(name) => (Some(name.trim_start_matches("this.").fill()), case.word(name)),
        None => match member.and_then(|m| case.receiver(m)).or_else(|| operand(case)) {
            Some((start, end)) => (Some(case.line()[start..end].fill()), Some((start, end))),
            None => nameless(case),
        },
    }
}

/// The key that was asked for, where the error is about a key.
fn key<'a>(case: &Case<'a>) -> Option<&'a str> {
    let kind = case.entry.root_kind.as_deref();
    let keyed = kind.is_some_and(|k| k == "KeyError" || k.ends_with("KeyNotFoundException"))
        || case.entry.root_message.starts_with("Undefined array key");
    case.fact("name").or(case.fact("index")).filter(|_| keyed)
}

/// What was to be done with it.
fn asked(op: Option<&str>) -> &'static Kind {
    match op {
        Some("index") => &INDEX,
        Some(op) if op.contains("arithmetic") => &COUNTED,
        Some("concatenate") => &JOINED,
        Some(op) if op.contains("length") => &LENGTH,
        _ => &USED,
    }
}

/// Sentences that say a name is too early, rather than empty.
const NOT_YET: [&str; 7] = [
    "before initialization",
    "is not initialized",
    "has not been initialized",
    "not associated with a value",
    "referenced before",
    "not have been initialized",
    "unassigned",
];

/// What holds nothing, where the sentence gives no name: an argument, what a call gives back, a
/// slot, the only candidate.
fn nameless(case: &Case<'_>) -> (Option<Slot>, Option<(usize, usize)>) {
    let line = case.line();
    let called = |callee: &'_ str| {
        let head = callee.split('(').next().unwrap_or(callee);
        head.rsplit(['.', ':']).next().unwrap_or(head).to_owned()
    };
    let callee = case.fact("callee").map(called);
    let number = case.fact("arg").and_then(|n| n.parse::<usize>().ok());
    if let (Some(name), Some(number)) = (&callee, number) {
        let token = case.argument(name, number);
        let what = token.map_or_else(
            || say!(ARGUMENT, number, name).fill(),
            |(start, end)| line[start..end].fill(),
        );
        return (Some(what), token);
    }
    if let Some(name) = callee {
        return (Some(say!(GIVES, name).fill()), None);
    }
    // A slot that something more is asked of: wicks[9].length
    let slots: Vec<(usize, usize)> =
        SLOT.captures_iter(line).filter_map(|c| c.get(1)).map(|m| (m.start(), m.end())).collect();
    if let ([slot], Some("?" | "integer index")) = (slots.as_slice(), case.fact("name")) {
        return (Some(line[slot.0..slot.1].fill()), Some(*slot));
    }
    // Where a language has no hidden readings, the only thing that can be empty is.
    let hidden = case.language().is_none_or(|l| l.fields_are_bare);
    match readable_names(line).as_slice() {
        [one] if !hidden && case.fact("name").is_none() => (Some(one.fill()), case.word(one)),
        _ => (None, None),
    }
}

static SLOT: Pattern = Pattern::new(r"([A-Za-z_][\w.]*\[[^\[\]]*\])[.:\[(]");

/// A field together with what it is a field of, as the line writes it: `boat.mast`, where the
/// message says only `mast`.
fn whole_field(case: &Case<'_>, name: &str) -> (Option<Slot>, Option<(usize, usize)>) {
    let Some((start, end)) = case.word(name) else { return (Some(name.fill()), None) };
    let start = case
        .receiver(name)
        .filter(|(_, owner_end)| *owner_end < start)
        .map_or(start, |(owner, _)| owner);
    (Some(case.line()[start..end].fill()), Some((start, end)))
}

/// The side of an operator that holds nothing, in the part of the line that the console marked.
fn operand(case: &Case<'_>) -> Option<(usize, usize)> {
    let (start, end) = case.entry.token?;
    let sign = format!(" {} ", case.fact("op")?.split(' ').next()?);
    let expression = case.line().get(start..end)?;
    let at = expression.find(&sign)?;
    if case.fact("have").is_some() {
        return Some((start, start + at));
    }
    case.fact("want").map(|_| (start + at + sign.len(), end))
}

/// Names in a line that something is asked of: those before a dot or a square bracket.
fn readable_names(line: &str) -> Vec<String> {
    let mut names: Vec<String> = Vec::new();
    for (at, c) in line.char_indices().filter(|(_, c)| matches!(c, '.' | '[')) {
        let head = &line[..at];
        let start = head
            .char_indices()
            .rev()
            .take_while(|(_, c)| c.is_alphanumeric() || matches!(c, '_' | '.'))
            .last()
            .map_or(at, |(i, _)| i);
        let name = &head[start..];
        let follows = line[at + c.len_utf8()..]
            .chars()
            .next()
            .is_some_and(|n| n.is_alphanumeric() || n == '_' || c == '[');
        if follows
            && name.starts_with(|c: char| c.is_alphabetic() || c == '_')
            && !matches!(name, "this" | "self" | "Console" | "System")
            && !names.iter().any(|n| n == name)
        {
            names.push(name.to_owned());
        }
    }
    names
}

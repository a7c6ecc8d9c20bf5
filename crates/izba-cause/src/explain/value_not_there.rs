//! value-not-there: a name, field or slot holds nothing when it is read.

use super::{Case, Explanation};
use izba_model::pattern::Pattern;
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let member =
        case.fact("member").map(|m| m.rsplit('.').next().unwrap_or(m).trim_end_matches("()"));
    let found = case.fact("name").or(case.fact("other"));
    // Compilers number a local whose name they did not keep.
    let told = found.filter(|n| {
        !n.starts_with('<') && !matches!(*n, "undefined" | "null" | "?" | "integer index")
    });
    let (name, token) = match told {
        Some(name) if case.fact("scope") == Some("field") => whole_field(case, name),
        Some(name) => (Some(name.trim_start_matches("this.").to_owned()), case.word(name)),
        None => match member.and_then(|m| case.receiver(m)).or_else(|| operand(case)) {
            Some((start, end)) => (Some(case.line()[start..end].to_owned()), Some((start, end))),
            None => nameless(case),
        },
    };
    let token = token.or(case.entry.token);
    if let Some(name) = name
        .as_deref()
        .filter(|_| NOT_YET.iter().any(|words| case.entry.root_message.contains(words)))
    {
        return Explanation {
            headline: case
                .at_place(Sentence::from_name(name).text(" is used before it has a value")),
            short: format!("{name} is used before it has a value"),
            note: "not set yet when this line runs".into(),
            plain: vec![
                format!(
                    "This line runs before the one that gives {name} its first value, or \
                        on a path that never gives it one."
                ),
                format!("Give {name} its value further up, or look why that line is not passed."),
            ],
            token,
        };
    }
    let nothing = case.nothing();
    let language = case.language_name();
    let where_ = |sentence: Sentence| match (
        case.file_name(),
        case.entry.place.as_ref().and_then(|p| p.line),
    ) {
        (Some(file), Some(line)) => sentence
            .text(" when ")
            .place(file)
            .text(" reads it at line ")
            .text(&line.to_string())
            .text("."),
        _ => case.at_place(sentence),
    };
    let keyed = case
        .entry
        .root_kind
        .as_deref()
        .is_some_and(|k| k == "KeyError" || k.ends_with("KeyNotFoundException"))
        || case.entry.root_message.starts_with("Undefined array key");
    if keyed && (case.fact("name").is_some() || case.fact("index").is_some()) {
        let key = case.fact("name").or(case.fact("index")).unwrap_or("the key");
        return Explanation {
            headline: case
                .at_place(Sentence::from_text("nothing is filed under the key ").name(key)),
            short: format!("nothing is filed under the key {key}"),
            note: "this key is not in it".into(),
            plain: vec![
                format!(
                    "A table was asked for what it keeps under {key}, and it keeps nothing \
                    under that key at this moment."
                ),
                "Compare the key with the keys that were put in: one letter or a capital \
                    is enough to miss it. Or it was never put in, or is taken out too early."
                    .into(),
            ],
            token: case.word(key).or(token),
        };
    }
    let Some(name) = name else {
        let candidates = readable_names(case.line());
        let mut plain = vec![format!(
            "Something on this line holds nothing ({nothing}), and {language} does not say \
                which part it is."
        )];
        if !candidates.is_empty() {
            plain.push(format!(
                "The parts that something is asked of are {}. One of them is empty when the \
                line runs.",
                listed(&candidates)
            ));
        }
        return Explanation {
            headline: case.at_place(Sentence::from_text("something has no value")),
            short: "something has no value here".into(),
            note: format!("{nothing}: one part of this line holds nothing"),
            plain,
            token,
        };
    };
    let asked = match (member, case.fact("op")) {
        (Some(member), _) => format!("asking it for {member}"),
        (None, Some("index")) => "taking something out of it".into(),
        (None, Some(op)) if op.contains("arithmetic") => "counting with it".into(),
        (None, Some("concatenate")) => "joining it to a text".into(),
        (None, Some(op)) if op.contains("length") => "asking how long it is".into(),
        _ => "using it".into(),
    };
    let where_from = match case.fact("scope") {
        Some("field") => format!(
            "{name} is a field: look where that field is first given a value, and whether \
                that happens before this line runs. It may also be spelt otherwise there."
        ),
        Some("upvalue") => format!(
            "{name} belongs to an outer function: look whether it is given a value before \
                this one runs."
        ),
        _ => format!(
            "Look where {name} gets its value: never, too late, only on one path, or \
                looked up under a name or number that is not there."
        ),
    };
    Explanation {
        headline: where_(Sentence::from_name(&name).text(" has no value")),
        short: format!("{name} has no value here"),
        note: format!("{nothing}: nothing is in {name}"),
        plain: vec![
            format!(
                "At this moment {name} holds nothing ({language} calls that {nothing}), so \
                    {asked} cannot work."
            ),
            where_from,
        ],
        token,
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
fn nameless(case: &Case<'_>) -> (Option<String>, Option<(usize, usize)>) {
    let line = case.line();
    let called = |callee: &str| {
        callee
            .split('(')
            .next()
            .unwrap_or(callee)
            .rsplit(['.', ':'])
            .next()
            .unwrap_or(callee)
            .to_owned()
    };
    if let (Some(callee), Some(number)) =
        (case.fact("callee").map(called), case.fact("arg").and_then(|n| n.parse().ok()))
    {
        let token = case.argument(&callee, number);
        let name = token.map_or_else(
            || format!("argument {number} of {callee}"),
            |(start, end)| line[start..end].to_owned(),
        );
        return (Some(name), token);
    }
    if let Some(callee) = case.fact("callee").map(called) {
        return (Some(format!("what {callee} gives back")), None);
    }
    // A slot that something more is asked of: wicks[9].length
    let slots: Vec<(usize, usize)> =
        SLOT.captures_iter(line).filter_map(|c| c.get(1)).map(|m| (m.start(), m.end())).collect();
    if let ([slot], Some("?" | "integer index")) = (slots.as_slice(), case.fact("name")) {
        return (Some(line[slot.0..slot.1].to_owned()), Some(*slot));
    }
    // Where a language has no hidden readings, the only thing that can be empty is.
    let hidden = case.language().is_none_or(|l| l.fields_are_bare);
    match readable_names(line).as_slice() {
        [one] if !hidden && case.fact("name").is_none() => (Some(one.clone()), case.word(one)),
        _ => (None, None),
    }
}

static SLOT: Pattern = Pattern::new(r"([A-Za-z_][\w.]*\[[^\[\]]*\])[.:\[(]");

/// A field together with what it is a field of, as the line writes it: `boat.mast`, where the
/// message says only `mast`.
fn whole_field(case: &Case<'_>, name: &str) -> (Option<String>, Option<(usize, usize)>) {
    let Some((start, end)) = case.word(name) else { return (Some(name.to_owned()), None) };
    let start = case
        .receiver(name)
        .filter(|(_, owner_end)| *owner_end < start)
        .map_or(start, |(owner, _)| owner);
    (Some(case.line()[start..end].to_owned()), Some((start, end)))
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

fn listed(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [head @ .., last] => format!("{} and {last}", head.join(", ")),
    }
}

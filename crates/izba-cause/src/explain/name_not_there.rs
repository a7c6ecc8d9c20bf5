//! name-not-there: a name is used that nothing in reach has.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    // An engine that gives no name gives the column of what was called.
    let pointed =
        case.fact("op").filter(|op| *op == "function").and_then(|_| case.called_at_column());
    let Some(name) = case.fact("name").or(case.fact("other")).or(pointed) else {
        return Explanation {
            headline: case.at_place(Sentence::from_text("a name is used that nothing has")),
            short: "a name is used that nothing has".into(),
            note: "a name here is not known".into(),
            plain: vec![
                "A function, field or type is asked for that does not exist where it is looked \
                for."
                    .into(),
            ],
            token: case.entry.token,
        };
    };
    let short_name = name.rsplit(['.', ':']).next().unwrap_or(name);
    let called = matches!(case.fact("op"), Some("call" | "function"))
        || case.entry.root_message.contains("is not a function");
    let what = match (case.fact("scope"), called) {
        (Some("class"), _) => "type",
        (Some("method"), _) | (_, true) => "function",
        (Some("field"), _) => "field",
        _ => "name",
    };
    // Asked of something, as a part of it: then that may be another thing than thought.
    let line = case.line();
    let asked_of = called
        && case.fact("have").is_none()
        && izba_model::excerpt::find_word(line, short_name, None)
            .is_some_and(|(at, _)| line[..at].trim_end().ends_with(['.', ':', '?']));
    if asked_of {
        let owner = case
            .receiver(short_name)
            .and_then(|(from, to)| line.get(from..to))
            .filter(|o| !matches!(*o, "self" | "this"));
        let owner = owner.unwrap_or("what it is asked of").to_owned();
        return Explanation {
            headline: case
                .at_place(Sentence::from_name(&owner).text(" has no function ").text(short_name)),
            short: format!("{owner} has no function {short_name}"),
            note: format!("no function {short_name} here"),
            plain: vec![
                format!(
                    "{short_name} is called as a function of {owner}, and {owner} has none \
                        of that name at this moment."
                ),
                format!(
                    "Either {owner} is another thing here than you think (a text, a \
                        number, another object), or {short_name} is spelt otherwise where it \
                        is made: one letter, one capital."
                ),
            ],
            token: case.word(short_name).or(case.entry.token),
        };
    }
    let mut plain = vec![match case.fact("have") {
        Some(owner) => format!(
            "{name} is asked of {owner}, and {owner} has no {} of that name.",
            if what == "name" { "part" } else { what }
        ),
        None if called => {
            format!(
                "{name} is called, but no function of that name can be seen from here; {} \
                    finds nothing to call.",
                case.language_name()
            )
        }
        None => format!(
            "{name} is looked for, and {} finds nothing of that name in reach of this line.",
            case.language_name()
        ),
    }];
    plain.push(match case.fact("other").filter(|o| *o != name) {
        Some(other) => format!(
            "{} itself suggests {other}. Compare the two, letter by letter.",
            case.language_name()
        ),
        None => format!(
            "Most often it is spelt otherwise where it is made (one letter, one capital), made \
            in another scope, or its file is not brought in. Search for {short_name} in your \
            scripts: if this is the only one, that is it."
        ),
    });
    Explanation {
        headline: case.at_place(Sentence::from_name(name).text(" is not a name that is known")),
        short: format!("{name} is not a name that is known here"),
        note: format!("no {what} called {short_name} is known here"),
        plain,
        token: case.word(name).or(case.entry.token),
    }
}

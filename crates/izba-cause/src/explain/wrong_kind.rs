//! wrong-kind: a value is there, but of a kind that does not fit what is done with it.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let name = case.fact("name");
    let have = case.fact("have");
    let want = case.fact("want");
    let subject = name.map(str::to_owned).or_else(|| {
        case.fact("arg")
            .map(|arg| format!("argument {arg} of {}", case.fact("callee").unwrap_or("the call")))
    });
    let (short, plain) = match (&subject, have, want.or(case.fact("other"))) {
        _ if case.fact("text").is_some() => {
            let text = case.fact("text").unwrap_or_default();
            let pointed = text.replace(',', ".");
            let comma = text.matches(',').count() == 1 && pointed.parse::<f64>().is_ok();
            let hint = if comma {
                format!(" Numbers are written with a point here: {pointed} would be one.")
            } else {
                String::new()
            };
            (
                format!("the text “{text}” is not a number"),
                format!(
                    "The text “{text}” is to be turned into a number here, and it is not one.{hint}"
                ),
            )
        }
        _ if case.fact("why").is_some() => {
            let (subject, why) =
                (subject.as_deref().unwrap_or("an argument"), case.fact("why").unwrap_or_default());
            (
                format!("{subject} does not fit: {why}"),
                format!("{subject} has the right kind but not a fitting value: {why}."),
            )
        }
        (None, None, None) if case.fact("callee").is_some() => {
            let callee = case.fact("callee").unwrap_or_default();
            (
                format!("{callee} is called with the wrong number of arguments"),
                format!(
                    "The console says: {}. Compare the call with the line where {callee} is made.",
                    case.entry.root_message
                ),
            )
        }
        (Some(subject), None, _) => (
            format!("{subject} is not of the kind that fits here"),
            format!("{subject} holds something, and {}.", deed(case.fact("op").unwrap_or(""))),
        ),
        (Some(subject), Some(have), Some(want)) => (
            format!("{subject} is {} where {} belongs", a(have), a(want)),
            format!("{subject} is {} here, and this line can only work with {}.", a(have), a(want)),
        ),
        (Some(subject), Some(have), None) => {
            let deed = deed(case.fact("op").unwrap_or(""));
            (
                format!("{subject} is {}, which does not fit here", a(have)),
                format!("{subject} holds {} at this moment, and {deed}.", a(have)),
            )
        }
        (None, Some(have), Some(want)) => (
            format!("{} where {} belongs", a(have), a(want)),
            format!("This line brings {} and {} together, and they do not fit.", a(have), a(want)),
        ),
        (None, Some(have), None) => {
            let deed = deed(case.fact("op").unwrap_or(""));
            (
                format!("{} does not fit here", a(have)),
                format!("There is {} here, and {deed}.", a(have)),
            )
        }
        _ => (
            "a value of the wrong kind".to_owned(),
            "A value is there, but it is not of the kind that this line can work with.".to_owned(),
        ),
    };
    let token = name.and_then(|n| case.word(n)).or(case.entry.token);
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        note: have.map_or_else(
            || "not of the kind that fits".to_owned(),
            |have| format!("this is {}", a(have)),
        ),
        short,
        plain: vec![
            plain,
            "Look where the value comes from: read from a text or a file it is a text until it \
            is turned into a number; or the arguments stand in another order than thought."
                .into(),
        ],
        token,
    }
}

/// What cannot be done with it, as the second half of a sentence.
fn deed(op: &str) -> &'static str {
    match op {
        "index" | "subscriptable" => "nothing can be taken out of that",
        "call" | "callable" => "that cannot be called like a function",
        "concatenate" => "that cannot be joined to a text",
        "get length of" => "that has no length",
        "iterable" => "that cannot be gone through one by one",
        "perform arithmetic on" | "perform bitwise operation on" => "that cannot be counted with",
        _ => "that does not fit what this line does with it",
    }
}

fn a(kind: &str) -> String {
    let last = kind.rsplit(['.', '$']).next().unwrap_or(kind);
    let word = match last {
        "str" | "string" | "String" => "text",
        "int" | "Integer" | "float" | "double" => "number",
        other => other,
    };
    let article = if word.starts_with(['a', 'e', 'i', 'o', 'u', 'A', 'E', 'I', 'O', 'U']) {
        "an"
    } else {
        "a"
    };
    format!("{article} {word}")
}

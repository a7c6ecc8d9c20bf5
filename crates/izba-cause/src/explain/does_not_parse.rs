//! does-not-parse: the language could not read the script, so none of it runs.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    if case.entry.root_message.contains("JSON")
        || case.entry.root_kind.as_deref().is_some_and(|k| k.contains("JSON"))
    {
        return explain_data(case);
    }
    // Where no line of an opener is told, `open` is what a compiler says it was expecting.
    let expecting = case.fact("open").filter(|_| case.entry.report.reader == "diagnostic");
    let expecting = expecting.map(|e| e.replace(['`', '\''], ""));
    let want = case.fact("want").or(case.fact("other")).or(expecting.as_deref());
    let near = case.fact("near");
    let file = case.file_name().unwrap_or("the script");
    let at_end = near.is_some_and(|n| n.contains("eof") || n.contains("end of"))
        || case.entry.root_message.contains("end of ");
    let line = case.entry.place.as_ref().and_then(|p| p.line);
    let open = case.fact("open").filter(|_| expecting.is_none());
    let unclosed_text = case.entry.root_message.contains("unfinished string")
        || case.entry.root_message.contains("unclosed string");
    let (short, meaning) = match (want, open, case.fact("line")) {
        (Some("<eof>"), ..) => {
            let near = near.unwrap_or("word");
            (
                format!("one {near} too many"),
                format!(
                    "Everything that was opened above is closed already when this {near} \
                        comes, so {} thinks the script should be over here. One {near} above \
                        it closes more than was meant.",
                    case.language_name()
                ),
            )
        }
        _ if unclosed_text => (
            "a text is not closed".to_owned(),
            "A quotation mark opens a text on this line and no second one closes it, so \
                the rest of the line belongs to the text."
                .to_owned(),
        ),
        (Some(want), Some(open), Some(from)) => (
            format!("the {open} opened at line {from} is not closed"),
            format!(
                "The {open} at line {from} opens a block that wants {want} to close it. {} \
                    came {} without meeting one.",
                case.language_name(),
                if at_end { "to the end of the file" } else { "this far" }
            ),
        ),
        (None, Some(open), _) => (
            format!("a {open} is never closed"),
            format!("The {open} here opens something that no closing one ends."),
        ),
        (Some(want), ..) => (
            format!("{} is missing", named(want)),
            match near {
                Some(near) => {
                    let (language, want, near) = (case.language_name(), named(want), named(near));
                    format!(
                        "{language} expected {want} and met {near}: either the one is missing, \
                        or the other stands in its place."
                    )
                }
                None => format!(
                    "{} expected {} here and met something else.",
                    case.language_name(),
                    named(want)
                ),
            },
        ),
        _ if case.fact("scope").is_some() => {
            let name = case.fact("scope").unwrap_or_default();
            (
                format!("{name} is declared twice"),
                format!(
                    "{name} has been declared above already, and JavaScript allows that only \
                    once in the same block."
                ),
            )
        }
        _ => (
            match near {
                Some(near) => format!("{} was not expected", named(near)),
                None => format!("{} cannot read this", case.language_name()),
            },
            format!(
                "{} could read the script up to here and no further. The slip is on this line \
                or above it.",
                case.language_name()
            ),
        ),
    };
    let headline = Sentence::from_text("").place(file).text(" cannot be read");
    // What is known goes into the sentence; that nothing is known does not.
    let headline = if short.ends_with("cannot read this") {
        headline
    } else {
        headline.text(": ").name(&short)
    };
    let headline = match line {
        Some(line) => headline.text(", noticed at line ").text(&line.to_string()).text("."),
        None => headline.text("."),
    };
    let token =
        near.filter(|n| !n.starts_with('<')).and_then(|n| case.word(n)).or(case.entry.token);
    Explanation {
        headline,
        note: match (want, at_end) {
            _ if unclosed_text => "this text has no end".into(),
            (Some("<eof>"), _) => {
                format!("nothing is open any more that this {} could close", near.unwrap_or("word"))
            }
            (Some(want), true) => format!("the end, and still no {want}"),
            (Some(want), false) => format!("{want} was expected by here"),
            _ => "reading stopped here".into(),
        },
        short,
        plain: vec![
            meaning,
            format!(
                "Until it is mended nothing in {file} runs. This is where reading stopped: \
                    the slip itself may stand some lines above, where a bracket, quote, comma \
                    or block word is missing or too many."
            ),
        ],
        token,
    }
}

/// Data that the program read while it ran: the script itself is well.
fn explain_data(case: &Case<'_>) -> Explanation {
    Explanation {
        headline: case
            .at_place(Sentence::from_text("a text that should be ").name("JSON cannot be read")),
        short: "a text that should be JSON cannot be read".into(),
        note: "the text handed over here is not JSON".into(),
        plain: vec![
            "The script is well; what it was given to read is not. JSON wants double \
                quotes round names and texts, no comma before a closing bracket, and no \
                comments."
                .into(),
            "Look at the file or answer that this text came from, at the position that the \
                console names."
                .into(),
        ],
        token: case.entry.token,
    }
}

/// A sign by its name, since a lone sign is easily overlooked in a sentence.
fn named(word: &str) -> String {
    let name = match word.trim() {
        ";" => "a semicolon",
        ":" => "a colon",
        "," => "a comma",
        "." => "a dot",
        "=" => "an equals sign",
        ")" => "a closing )",
        "]" => "a closing ]",
        "}" => "a closing }",
        "(" => "an opening (",
        "[" => "an opening [",
        "{" => "an opening {",
        ", or ;" => "a comma or a semicolon",
        other => return other.to_owned(),
    };
    name.to_owned()
}

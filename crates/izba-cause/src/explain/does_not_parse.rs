//! does-not-parse: the language could not read the script, so none of it runs.

use super::{Case, Explanation};
use izba_model::claim::{About, Fill, LIKELY, Saying, Slot};
use izba_model::sentence::Sentence;
use izba_model::{Suspect, say, sayings};

sayings! {
    "explain.does-not-parse", Any, "../../words/explain/does-not-parse.toml";
    TOO_MANY = "too-many",
    TOO_MANY_NOTE = "too-many-note",
    TOO_MANY_MEANS = "too-many-means",
    TEXT_OPEN = "text-open",
    TEXT_OPEN_NOTE = "text-open-note",
    TEXT_OPEN_MEANS = "text-open-means",
    BLOCK_OPEN = "block-open",
    BLOCK_OPEN_NOTE = "block-open-note",
    BLOCK_OPEN_MEANS = "block-open-means",
    BLOCK_OPEN_END = "block-open-end",
    NEVER_CLOSED = "never-closed",
    NEVER_CLOSED_MEANS = "never-closed-means",
    MISSING = "missing",
    MISSING_NOTE = "missing-note",
    MISSING_END_NOTE = "missing-end-note",
    MISSING_MEANS = "missing-means",
    INSTEAD_MEANS = "instead-means",
    TWICE = "twice",
    TWICE_NOTE = "twice-note",
    TWICE_MEANS = "twice-means",
    UNEXPECTED = "unexpected",
    STOPPED = "stopped",
    STOPPED_NOTE = "stopped-note",
    STOPPED_MEANS = "stopped-means",
    CANNOT = "cannot",
    CANNOT_FOR = "cannot-for",
    NOTICED = "noticed",
    NO_LINE = "no-line",
    NOTHING_RUNS = "nothing-runs",
    ADVICE = "advice",
    FOUND = "found",
    FOUND_SHORT = "found-short",
    FOUND_MEANS = "found-means",
    FOUND_FAR = "found-far",
    FOUND_NOTE = "found-note",
    FOUND_HERE = "found-here",
    THE_SCRIPT = "the-script",
    THE_FILE = "the-file",
    JSON = "json",
    JSON_NOTE = "json-note",
    JSON_MEANS = "json-means",
    JSON_ADVICE = "json-advice",
    SEMICOLON = "semicolon",
    COLON = "colon",
    COMMA = "comma",
    DOT = "dot",
    EQUALS = "equals",
    CLOSING = "closing",
    OPENING = "opening",
    COMMA_OR_SEMICOLON = "comma-or-semicolon",
    ONE_OF = "one-of",
    A_NAME = "a-name",
    BARE = "bare",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    if case.entry.root_message.contains("JSON")
        || case.entry.root_kind.as_deref().is_some_and(|k| k.contains("JSON"))
    {
        return explain_data(case);
    }
    let (short, note, means) = told(case);
    let near = case.fact("near");
    let token =
        near.filter(|n| !n.starts_with('<')).and_then(|n| case.word(n)).or(case.entry.token);
    Explanation::new(headline(case, &short), &short, &note)
        .means(&means)
        .means(&say!(NOTHING_RUNS, file = file(case)))
        .advises(&say!(ADVICE))
        .at(token)
}

/// The same where Izba knows where the slip is: the console's reading of it, which names the place
/// where it was noticed, is often a misreading.
pub(super) fn found(case: &Case<'_>, said: &Explanation, first: &Suspect) -> Option<Explanation> {
    let about = matches!(first.claim.about(), About::Syntax) && first.confidence >= LIKELY;
    let fault = first.claim.says.slot("fault").filter(|_| about && first.line > 0)?;
    // Where no repair was found nothing is known that the console does not say better.
    if matches!(fault, Slot::Saying(what) if what.kind.key == "unmended") {
        return None;
    }
    let place = case.entry.place.as_ref()?;
    let (slip, language) = (first.line, case.in_language());
    let name = first.file.rsplit('/').next().unwrap_or(&first.file);
    let headline =
        say!(FOUND, file = Slot::place(name), line = slip, fault = fault.clone()).sentence();
    let means = if place.file != first.file {
        say!(FOUND_FAR, language, file = file(case), other = Slot::place(name), slip)
    } else {
        match place.line {
            Some(line) if line != slip => say!(FOUND_MEANS, language, line, slip),
            _ => say!(FOUND_HERE, language),
        }
    };
    let short = say!(FOUND_SHORT, fault = fault.clone()).sentence();
    let mut plain = said.plain.clone();
    *plain.first_mut()? = means.sentence().capital();
    let slip = (place.file != first.file || place.line != Some(slip))
        .then(|| (first.file.clone(), first.line));
    let note = if slip.is_some() { say!(FOUND_NOTE).sentence() } else { short.clone() };
    Some(Explanation { headline, short, note, plain, slip, ..said.clone() })
}

fn file(case: &Case<'_>) -> Slot {
    case.file_name().map_or_else(|| say!(THE_SCRIPT).fill(), Slot::place)
}

/// What the console makes of it, in a sentence with its place.
fn headline(case: &Case<'_>, short: &Saying) -> Sentence {
    // What is known goes into the sentence; that nothing is known does not.
    let what = if *short.kind == STOPPED {
        say!(CANNOT, file = file(case))
    } else {
        say!(CANNOT_FOR, file = file(case), short)
    };
    match case.line_number() {
        Some(line) => say!(NOTICED, what, line).sentence(),
        None => say!(NO_LINE, what).sentence(),
    }
}

/// What the console makes of it: in short, under the token, and what that means.
fn told(case: &Case<'_>) -> (Saying, Saying, Saying) {
    let language = case.in_language();
    // Where no line of an opener is told, `open` is what a compiler says it was expecting.
    let expecting = case.fact("open").filter(|_| case.entry.report.reader == "diagnostic");
    let expecting = expecting.map(|e| e.replace(['`', '\''], ""));
    let want = case.fact("want").or(case.fact("other")).or(expecting.as_deref());
    let near = case.fact("near");
    let at_end = near.is_some_and(|n| n.contains("eof") || n.contains("end of"))
        || case.entry.root_message.contains("end of ");
    let open = case.fact("open").filter(|_| expecting.is_none());
    let unclosed_text = case.entry.root_message.contains("unfinished string")
        || case.entry.root_message.contains("unclosed string");
    let from = case.fact("line").and_then(|l| l.parse::<u32>().ok());
    match (want, open, from) {
        (Some("<eof>"), ..) => {
            let name = near.unwrap_or("word");
            let means = say!(TOO_MANY_MEANS, name, language);
            (say!(TOO_MANY, name), say!(TOO_MANY_NOTE, name), means)
        }
        _ if unclosed_text => (say!(TEXT_OPEN), say!(TEXT_OPEN_NOTE), say!(TEXT_OPEN_MEANS)),
        (Some(wanted), Some(name), Some(from)) => {
            let kind = if at_end { &BLOCK_OPEN_END } else { &BLOCK_OPEN_MEANS };
            let means = say!(*kind, language, wanted, name, from);
            (say!(BLOCK_OPEN, name, from, wanted), say!(BLOCK_OPEN_NOTE, wanted), means)
        }
        (None, Some(name), _) => {
            (say!(NEVER_CLOSED, name), say!(STOPPED_NOTE), say!(NEVER_CLOSED_MEANS, name))
        }
        (Some(want), ..) => {
            let want = named(want);
            let means = match near.map(|n| if at_end { say!(THE_FILE) } else { named(n) }) {
                Some(near) if !at_end => say!(INSTEAD_MEANS, language, want, near),
                _ => say!(MISSING_MEANS, language, want),
            };
            let note = if at_end { &MISSING_END_NOTE } else { &MISSING_NOTE };
            (say!(MISSING, want), say!(*note, want), means)
        }
        _ => match (case.fact("scope"), near.map(named)) {
            (Some(name), _) => (say!(TWICE, name), say!(TWICE_NOTE), say!(TWICE_MEANS, name)),
            (None, Some(near)) => {
                (say!(UNEXPECTED, near), say!(STOPPED_NOTE), say!(STOPPED_MEANS, language))
            }
            (None, None) => {
                (say!(STOPPED, language), say!(STOPPED_NOTE), say!(STOPPED_MEANS, language))
            }
        },
    }
}

/// Data that the program read while it ran: the script itself is well.
fn explain_data(case: &Case<'_>) -> Explanation {
    let short = say!(JSON);
    Explanation::new(case.at_place(&short), &short, &say!(JSON_NOTE))
        .means(&say!(JSON_MEANS))
        .advises(&say!(JSON_ADVICE))
        .at(case.entry.token)
}

/// A sign by its name, since a lone sign is easily overlooked in a sentence.
fn named(word: &str) -> Saying {
    match word.trim() {
        ";" => say!(SEMICOLON),
        ":" => say!(COLON),
        "," => say!(COMMA),
        "." => say!(DOT),
        "=" => say!(EQUALS),
        ", or ;" => say!(COMMA_OR_SEMICOLON),
        name @ (")" | "]" | "}") => say!(CLOSING, name),
        name @ ("(" | "[" | "{") => say!(OPENING, name),
        "<identifier>" | "identifier" | "<name>" => say!(A_NAME),
        // What a compiler lists: `), ,, or =`.
        list if list.contains(", ") || list.contains(" or ") => {
            let signs = list.replace(", or ", ", ").replace(" or ", ", ");
            say!(ONE_OF, names = signs.split(", ").collect::<Vec<_>>())
        }
        name => say!(BARE, name),
    }
}

//! kinds: a value of another kin than is needed, found where it is written: in data, or as the text
//! that the console quotes.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::code::{Kind, Role};
use izba_model::{say, sayings};

sayings! {
    "kinds", Any, "../../words/suspects/kinds.toml";
    TEXT_FOR_NUMBER = "text-for-number",
    ELSEWHERE = "elsewhere",
    COUNTED_WITH = "counted-with",
    WRITTEN = "written",
    DOES_NOT_FIT = "does-not-fit",
}

/// The check for this: a value of another kin than is needed, found where it is written: in data,
/// or as the text that the console quotes.
pub static CHECK: Check =
    Check { id: "kinds", kinds: KINDS, applies: |query| query.family() == Family::WrongKind, look };

fn look(query: &Query<'_>, seen: &mut Seen) {
    texts_in_data(query, seen);
    quoted(query, seen);
}

/// A field that is counted with, and whose value in data is a text.
fn texts_in_data(query: &Query<'_>, seen: &mut Seen) {
    if query.entry.facts.get("want").is_some_and(|want| {
        !matches!(want.as_str(), "number" | "int" | "float" | "Integer" | "Double")
    }) {
        return;
    }
    let number =
        |text: &str| text.parse::<f64>().is_ok() || matches!(text, "true" | "false" | "null");
    for name in query.subject_names() {
        // Whatever else gives it a value may be the one.
        let made = query.scope.iter().any(|f| f.tree.named(name).any(|n| n.defines().is_some()));
        for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
            let values = file
                .data
                .iter()
                .filter(|d| d.role == Role::Value && d.path.rsplit('/').next() == Some(name));
            let (numbers, texts): (Vec<_>, Vec<_>) = values.partition(|d| number(&d.text));
            for datum in texts.iter().take(3) {
                let strength = match numbers.len() > texts.len() || numbers.is_empty() {
                    true if !made => Strength::Plain,
                    false if made => Strength::Weak,
                    _ => Strength::Fair,
                };
                let suspect = seen.suspect(
                    &file.path,
                    datum.line,
                    strength,
                    say!(TEXT_FOR_NUMBER, name, text = datum.text),
                );
                suspect.tied(query.data_tie(file, datum.record, ""));
                if let Some(other) = numbers.first() {
                    suspect.saw(&file.path, other.line, say!(ELSEWHERE, value = other.text));
                }
                if let Some(path) = query.path() {
                    suspect.saw(path, query.line, say!(COUNTED_WITH, name));
                }
            }
        }
    }
}

/// The value that the console quotes, where it is written.
fn quoted(query: &Query<'_>, seen: &mut Seen) {
    let told = query.entry.facts.get("text").into_iter().chain(&query.mentioned);
    let mut texts: Vec<&str> = told
        .map(String::as_str)
        .filter(|t| t.chars().any(|c| c.is_ascii_digit() || c == ',') || t.len() >= 3)
        .collect();
    texts.sort_unstable();
    texts.dedup();
    for text in texts {
        for file in &query.scope {
            let lines = file
                .data
                .iter()
                .filter(|d| d.role == Role::Value && d.text.as_ref() == text)
                .map(|d| d.line);
            let code = file.tree.named(text).filter(|n| n.is(Kind::Str)).map(|n| n.line());
            let lines: Vec<u32> = lines.chain(code).take(4).collect();
            for line in &lines {
                let strength = if lines.len() == 1 { Strength::Strong } else { Strength::Weak };
                let suspect = seen.suspect(&file.path, *line, strength, say!(WRITTEN, name = text));
                if let Some(path) = query.path() {
                    suspect.saw(path, query.line, say!(DOES_NOT_FIT));
                }
            }
        }
    }
}

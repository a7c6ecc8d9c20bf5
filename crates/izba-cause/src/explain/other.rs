//! other: what no family knows. Says what is certain and that the rest is not known.

use super::{Case, Explanation, Sentence};
use izba_model::Level;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let entry = case.entry;
    let kind = entry.root_kind.as_deref().map(|k| k.rsplit('.').next().unwrap_or(k));
    let message = entry.root_message.lines().next().unwrap_or("").trim();
    let said = match (message.is_empty(), kind) {
        (false, _) => message.to_owned(),
        (true, Some(kind)) => kind.to_owned(),
        (true, None) => "an error without words".to_owned(),
    };
    let placed = entry.place.is_some();
    let headline = match (case.file_name(), entry.place.as_ref().and_then(|p| p.line)) {
        (Some(file), Some(line)) => Sentence::from_name(&said)
            .text(", says ")
            .place(file)
            .text(" at line ")
            .text(&line.to_string())
            .text("."),
        _ => Sentence::from_name(&said).text("."),
    };
    let what = if entry.report.level == Level::Warning {
        "This is a warning: the program goes on."
    } else {
        "Izba does not know this sentence, so it can only show where it comes from."
    };
    let mut plain = vec![what.to_owned()];
    if ["throw ", "raise ", "error(", "fatal(", "panic!("]
        .iter()
        .any(|word| case.line().contains(word))
    {
        plain = vec![
            "This line raises it on purpose, with words of the program's own. Read the \
            condition that leads here: it was met."
                .into(),
        ];
    }
    if !placed {
        plain.push("It names no line in your own files.".into());
    }
    Explanation {
        headline,
        short: said,
        note: "it happened here".into(),
        plain,
        token: entry.token,
    }
}

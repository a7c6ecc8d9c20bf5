//! loose-wiring: a form, scene or layout names a handler or field that the code does not have.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let name = case.fact("name").unwrap_or("a part");
    let owner = case.fact("have").unwrap_or("the code");
    let what = case.fact("want").unwrap_or("part");
    let short = match case.fact("path") {
        Some(path) => format!(
            "{} names {name}, and {owner} has no {what} of that name",
            path.rsplit('/').next().unwrap_or(path)
        ),
        None => format!("{owner} has no {what} {name}"),
    };
    let mut plain = vec![format!(
        "Something outside the code is tied to the {what} {name} of {owner}. {owner} has \
            none of that name: it was renamed or deleted, or is spelt otherwise on one side."
    )];
    if let Some(path) = case.fact("path") {
        plain.push(format!("Look for {name} in {path}, and tie it to what {owner} calls it now."));
    }
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        note: format!("no {what} {name}"),
        short,
        plain,
        token: case.word(name).or(case.entry.token),
    }
}

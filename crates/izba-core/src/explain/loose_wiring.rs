//! loose-wiring: a form, scene or layout names a handler or field that the code does not have.

use super::{Case, Explanation, Family, Sentence, sure};

/// The family.
pub static FAMILY: Family = Family {
    id: "loose-wiring",
    title: "a wire that leads nowhere",
    patterns: &[
        sure(
            88,
            concat!(
                r"(?<path>[\w./-]+\.\w+) asks (?<have>[\w.]+) for the (?<want>field",
                r"|handler|method|property) (?<name>\w+), which it does not have"
            ),
        ),
        sure(
            78,
            r"NoSuch(?<want>Method|Field)Exception: (?:(?<have>[\w.$]+)\.)?(?<name>[\w$]+)(?:\(|$)",
        ),
        sure(
            78,
            r"MissingMethodException: .*?[Mm]ethod '?(?:[\w.]+ )?(?<have>[\w.+]+)\.(?<name>\w+)\b",
        ),
        sure(
            80,
            concat!(
                r"(?i)could not find (?:a )?(?<want>handler|method|field",
                r"|property) '?(?<name>\w+)'? (?:\([^)]*\) )?(?:in|on) (?<have>[\w.]+)"
            ),
        ),
    ],
    explain,
    docs: "A form, scene or layout file still names a handler or field that the code no longer \
        has, or has under another name.",
    sample: "the form ticket.xml asks Ticket for the field owner, which it does not have",
};

fn explain(case: &Case<'_>) -> Explanation {
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

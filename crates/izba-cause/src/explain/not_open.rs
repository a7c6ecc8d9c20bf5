//! not-open: a member exists, but may not be used from here or in this way.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let message = &case.entry.root_message;
    let whole =
        case.fact("name").or(case.fact("other")).unwrap_or("a member").trim_end_matches("()");
    let (owner, short_name) = whole
        .rsplit_once('.')
        .map_or((case.fact("have"), whole), |(owner, name)| (Some(owner), name));
    let owner = owner.map_or("its type", |o| o.rsplit('.').next().unwrap_or(o));
    let (short, note, plain) = if case.fact("other").is_some() {
        (
            format!("{short_name} belongs to {owner} itself, not to one object"),
            "one object is asked for what belongs to the type".to_owned(),
            vec![
                format!(
                    "{short_name} exists once, for the whole type {owner}; here it is \
                        asked of one object."
                ),
                format!("Write {owner}.{short_name}."),
            ],
        )
    } else if message.contains("non-static") {
        (
            format!("{short_name} belongs to one object of {owner}, not to the type"),
            "the type is asked for what only an object has".to_owned(),
            vec![
                format!(
                    "Every object of {owner} has a {short_name} of its own; the type alone \
                        has none, so it is not clear whose is meant."
                ),
                format!(
                    "Make or take one object of {owner} and ask that. Or, if there should \
                        be only one {short_name} for all, make it static."
                ),
            ],
        )
    } else {
        (
            format!("{short_name} is not open to others"),
            format!("only {owner} itself may use this"),
            vec![
                format!(
                    "{owner} keeps {short_name} to itself (it is private), so other types \
                        may not use it."
                ),
                format!(
                    "Use something that {owner} offers to all, or open {short_name} where \
                        it is made, if others really need it."
                ),
            ],
        )
    };
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        short,
        note,
        plain,
        token: case.word(short_name).or(case.entry.token),
    }
}

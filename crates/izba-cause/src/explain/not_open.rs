//! not-open: a member exists, but may not be used from here or in this way.

use super::{Case, Explanation};
use izba_model::claim::{Fill, Slot};
use izba_model::{say, sayings};

sayings! {
    "explain.not-open", Any, "../../words/explain/not-open.toml";
    OF_TYPE = "of-type",
    OF_TYPE_NOTE = "of-type-note",
    OF_TYPE_MEANS = "of-type-means",
    OF_TYPE_ADVICE = "of-type-advice",
    OF_OBJECT = "of-object",
    OF_OBJECT_NOTE = "of-object-note",
    OF_OBJECT_MEANS = "of-object-means",
    OF_OBJECT_ADVICE = "of-object-advice",
    CLOSED = "closed",
    CLOSED_NOTE = "closed-note",
    CLOSED_MEANS = "closed-means",
    CLOSED_ADVICE = "closed-advice",
    ITS_TYPE = "its-type",
    A_MEMBER = "a-member",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let whole = case.fact("name").or(case.fact("other")).map(|n| n.trim_end_matches("()"));
    let split = whole.and_then(|w| w.rsplit_once('.'));
    let owner = split.map(|(owner, _)| owner).or(case.fact("have"));
    let owner = owner.map(|o| o.rsplit('.').next().unwrap_or(o));
    let word = split.map(|(_, name)| name).or(whole);
    let name: Slot = word.map_or_else(|| say!(A_MEMBER).fill(), Fill::fill);
    let asked = owner.zip(word).map(|(o, n)| format!("{o}.{n}"));
    let owner: Slot = owner.map_or_else(|| say!(ITS_TYPE).fill(), Fill::fill);
    let token = word.and_then(|n| case.word(n)).or(case.entry.token);
    if case.fact("other").is_some() {
        let short = say!(OF_TYPE, name, owner);
        let said = Explanation::new(case.at_place(&short), &short, &say!(OF_TYPE_NOTE))
            .means(&say!(OF_TYPE_MEANS, name, owner))
            .at(token);
        return match asked {
            Some(whole) => said.advises(&say!(OF_TYPE_ADVICE, whole)),
            None => said,
        };
    }
    if case.entry.root_message.contains("non-static") {
        let short = say!(OF_OBJECT, name, owner);
        return Explanation::new(case.at_place(&short), &short, &say!(OF_OBJECT_NOTE))
            .means(&say!(OF_OBJECT_MEANS, owner, name))
            .advises(&say!(OF_OBJECT_ADVICE, owner, name))
            .at(token);
    }
    let short = say!(CLOSED, name);
    Explanation::new(case.at_place(&short), &short, &say!(CLOSED_NOTE, owner))
        .means(&say!(CLOSED_MEANS, owner, name))
        .advises(&say!(CLOSED_ADVICE, owner, name))
        .at(token)
}

//! loose-wiring: a form, scene or layout names a handler or field that the code does not have.

use super::{Case, Explanation};
use izba_model::claim::{Fill, Slot};
use izba_model::{say, sayings};

sayings! {
    "explain.loose-wiring", Any, "../../words/explain/loose-wiring.toml";
    NAMES = "names",
    NO = "no",
    NOTE = "note",
    MEANS = "means",
    ADVICE = "advice",
    THE_CODE = "the-code",
    PART = "part",
    A_PART = "a-part",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let named = case.fact("name");
    let name = named.map_or_else(|| say!(A_PART).fill(), Fill::fill);
    let owner = case.fact("have").map_or_else(|| say!(THE_CODE).fill(), Fill::fill);
    let what = case.fact("want").map_or_else(|| say!(PART).fill(), Slot::words);
    let path = case.fact("path");
    let short = match path.map(|p| p.rsplit('/').next().unwrap_or(p)) {
        Some(file) => say!(NAMES, file = Slot::place(file), name, owner, what),
        None => say!(NO, owner, what, name),
    };
    let said = Explanation::new(case.at_place(&short), &short, &say!(NOTE, what, name))
        .means(&say!(MEANS, what, name, owner))
        .at(named.and_then(|n| case.word(n)).or(case.entry.token));
    match path {
        Some(path) => said.advises(&say!(ADVICE, name, path = Slot::place(path), owner)),
        None => said,
    }
}

//! file-not-there: a file or module is asked for that is not where it is looked for.

use super::{Case, Explanation};
use izba_model::{say, sayings};

sayings! {
    "explain.file-not-there", Any, "../../words/explain/file-not-there.toml";
    MISSING = "missing",
    MISSING_NOTE = "missing-note",
    MISSING_MEANS = "missing-means",
    NAMELESS = "nameless",
    NAMELESS_MEANS = "nameless-means",
    ADVICE = "advice",
    HTML_MEANS = "html-means",
    PAGE_ADVICE = "page-advice",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let path = case.fact("path").or(case.fact("text"));
    let (short, means) = match path {
        Some(path) => (say!(MISSING, path), say!(MISSING_MEANS, path)),
        None => (say!(NAMELESS), say!(NAMELESS_MEANS)),
    };
    let said = &case.entry.root_message;
    let (means, advice) = match (path, said.contains("was not loaded:")) {
        (Some(path), true) if said.contains("a page of HTML") => {
            (say!(HTML_MEANS, path), say!(PAGE_ADVICE))
        }
        (_, true) => (means, say!(PAGE_ADVICE)),
        _ => (means, say!(ADVICE)),
    };
    let name = path.map(|p| p.rsplit(['/', '\\']).next().unwrap_or(p));
    let quoted = name.and_then(|n| case.line().find(n).map(|at| (at, at + n.len())));
    Explanation::new(case.at_place(&short), &short, &say!(MISSING_NOTE))
        .means(&means)
        .advises(&advice)
        .at(quoted.or(case.entry.token))
}

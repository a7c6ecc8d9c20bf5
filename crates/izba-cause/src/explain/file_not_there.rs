//! file-not-there: a file or module is asked for that is not where it is looked for.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let path = case.fact("path").or(case.fact("text")).unwrap_or("a file");
    let name = path.rsplit(['/', '\\']).next().unwrap_or(path);
    let quoted = case.line().find(name).map(|at| (at, at + name.len()));
    Explanation {
        headline: case.at_place(Sentence::from_name(path).text(" is asked for and is not there")),
        short: format!("{path} is not there"),
        note: "no file of this name is there".into(),
        plain: vec![
            format!(
                "{path} is opened or loaded, and nothing of that name is where it is looked for."
            ),
            "Names on disk have to match to the letter, capitals too. A path that does not \
                begin at the root is looked for from the folder in which the program was \
                started, which may not be the script's own."
                .into(),
        ],
        token: quoted.or(case.entry.token),
    }
}

//! unread: a file on the way cannot be read, so that what it should bring is not there.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::code::FileFacts;
use izba_model::{say, sayings};

sayings! {
    "unread", Absence, "../../words/suspects/unread.toml";
    DOES_NOT_PARSE = "does-not-parse",
    NEVER_MADE = "never-made",
    CANNOT_BE_READ = "cannot-be-read",
}

/// The check for this: a file on the way cannot be read, so that what it should bring is not there.
pub static CHECK: Check = Check {
    id: "unread",
    kinds: KINDS,
    applies: |query| query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.broken && Some(&f.path) != query.path()) {
        let (line, fault) =
            file.faults.first().map_or((0, say!(DOES_NOT_PARSE)), |f| (f.line, f.what.clone()));
        let wanted = if file.language.is_code() { brings(query, file) } else { None };
        let tie = match (&wanted, file.language.is_code()) {
            (Some(_), _) => 1.0,
            (None, true) => continue,
            (None, false) => query.data_tie(file, 0, ""),
        };
        if tie < 0.5 {
            continue;
        }
        let reason = match wanted {
            Some(name) => {
                say!(NEVER_MADE, file = file.name(), name, fault)
            }
            None => say!(CANNOT_BE_READ, file = file.name(), fault),
        };
        let suspect = seen.suspect(&file.path, line, Strength::Strong, reason);
        suspect.saw(&file.path, line, fault).tied(tie);
    }
}

/// The name that the error misses and that this script makes, or would make.
fn brings(query: &Query<'_>, file: &FileFacts) -> Option<String> {
    let missing = matches!(
        query.family(),
        Family::NameNotThere
            | Family::ValueNotThere
            | Family::LooseWiring
            | Family::FileNotThere
            | Family::Other
    );
    let mut names: Vec<String> = query.asked.iter().cloned().collect();
    names.extend(query.subject_names().into_iter().map(str::to_owned));
    let makes = |name: &str| {
        file.tree.named(name).any(|n| n.defines().is_some())
            || file.stem().eq_ignore_ascii_case(name)
    };
    let elsewhere = |name: &str| {
        query.scope.iter().any(|f| {
            f.path != file.path && !f.broken && f.tree.named(name).any(|n| n.defines().is_some())
        })
    };
    names.into_iter().find(|n| missing && n.len() > 2 && makes(n) && !elsewhere(n))
}

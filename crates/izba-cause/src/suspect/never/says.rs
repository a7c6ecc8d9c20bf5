//! All that the check says, and what its parts ask alike.

use crate::suspect::query::Query;
use izba_model::code::{At, Kind};
use izba_model::sayings;

sayings! {
    "never", Absence, "../../../words/suspects/never.toml";
    pub(super) NEVER_SET = "never-set",
    pub(super) NEVER_MADE = "never-made",
    pub(super) NEVER_SET_OWN = "never-set-own",
    pub(super) NEVER_SET_IDLE = "never-set-idle",
    pub(super) WRITE_ONLY = "write-only",
    pub(super) FORGOTTEN_LOOKUP = "forgotten-lookup",
    pub(super) NEVER_READ = "never-read",
    pub(super) HIDDEN_BY_LOCAL = "hidden-by-local",
    pub(super) HIDES_OUTER = "hides-outer",
    pub(super) ENTRY_OF_OBJECT = "entry-of-object",
    pub(super) NOTHING_TO_CALL = "nothing-to-call",
    pub(super) NEVER_BEGUN = "never-begun",
    pub(super) SET_ALONE = "set-alone",
    pub(super) HIDDEN_FROM_OTHERS = "hidden-from-others",
    pub(super) NO_SUPER = "no-super",
    pub(super) NO_SUPER_KNOWN = "no-super-known",
    pub(super) NO_RETURN = "no-return",
    pub(super) NO_RETURN_HERE = "no-return-here",
    pub(super) NEEDED_HERE = "needed-here",
    pub(super) OTHER_OVERRIDE = "other-override",
    pub(super) WAITS_HERE = "waits-here",
    pub(super) NOT_CALLED = "not-called",
    pub(super) FILLS_HERE = "fills-here",
    pub(super) READ_HERE = "read-here",
    pub(super) LATE_LOCAL = "late-local",
    pub(super) LOST_LOCAL = "lost-local",
    pub(super) UNREAD_FOR_UNMADE = "unread-for-unmade",
    pub(super) UNUSED_FOR_UNMADE = "unused-for-unmade",
    pub(super) MADE_TWICE = "made-twice",
    pub(super) MADE_BEFORE = "made-before",
}

/// Names that the error may have been looking for: its subjects, and what lies on the way to them.
pub(crate) fn on_the_way<'a>(query: &Query<'a>) -> Vec<&'a str> {
    let mut names: Vec<&'a str> = query.subject_names();
    let near = query.slice.iter().filter(|m| m.weight > 0.3).filter_map(|m| m.node);
    names.extend(near.filter(|n| n.is(Kind::Field) || n.is(Kind::Name)).filter_map(At::text));
    let needed = crate::suspect::need::needs(query);
    names.extend(needed.iter().filter(|(n, _)| n.is(Kind::Field)).filter_map(|(n, _)| n.text()));
    names.sort_unstable();
    names.dedup();
    names
}

/// Whether a name comes from the language or a library.
pub(super) fn is_known_outside(query: &Query<'_>, name: &str) -> bool {
    crate::suspect::is_outside_name(query.index, query.file.map(|f| f.language), name)
}

/// Whether a member is asked of the object itself.
pub(crate) fn own(node: At<'_>) -> bool {
    node.child(0).is_some_and(|o| matches!(o.text(), Some("self" | "this")))
}

//! never: what should have happened and has no place in the program: a field that nobody sets, a
//! beginning that is not handed on to the base, a function that gives nothing back, a method that
//! would fill a list and that nobody calls.

mod back;
pub(super) use back::kept_as;
mod begins;
mod census;
mod fills;
mod hiding;
mod objects;
mod says;
pub(crate) use says::{on_the_way, own};
mod unset;
pub(crate) use unset::counts_on_itself;

use crate::suspect::check::{Check, Seen};
use crate::suspect::query::Query;
use izba_model::Family;
use says::KINDS;

use back::{method_unmade, no_return, other_override};
use begins::{no_base_call, no_super};
use census::{forgotten_lookup, late_locals, write_only};
use fills::not_called;
use hiding::{hidden_fields, hidden_from_others, hidden_outer};
use objects::{entry_of_object, never_begun, nothing_to_call, told_unset};
use unset::never_set;

/// The check for this: what should have happened and has no place in the program.
pub static CHECK: Check = Check {
    id: "never",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    never_set(query, seen);
    no_super(query, seen);
    no_return(query, seen);
    other_override(query, seen);
    method_unmade(query, seen);
    hidden_fields(query, seen);
    hidden_outer(query, seen);
    hidden_from_others(query, seen);
    entry_of_object(query, seen);
    nothing_to_call(query, seen);
    never_begun(query, seen);
    told_unset(query, seen);
    not_called(query, seen);
    late_locals(query, seen);
    write_only(query, seen);
    forgotten_lookup(query, seen);
    no_base_call(query, seen);
}

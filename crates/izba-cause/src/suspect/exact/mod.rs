//! The exact edit of a suspect: where a claim itself says what is wrong to the sign, what would mend it
//! is an edit of this very program, which can be shown before it is made.
//!
//! One kind of claim is one line in [`WAYS`]; what the ways have in common (words of a line, lines, what
//! stands in brackets) is in files of their own. No edit asks for a value that nobody but the user
//! knows.

mod begins;
mod brackets;
mod place;
mod rows;
mod tags;
mod words;

use izba_model::claim::{Fix, Suspect};
use izba_model::code::{Index, SyntaxFault};
use place::Place;

/// How the edit is made of a claim of some kind.
type Way = fn(&Place<'_>) -> Option<Fix>;

/// For each kind of claim that says enough, how its edit is made.
static WAYS: &[(&str, Way)] = &[
    // One word stands for another.
    ("spelling.only-here", words::other_for_name),
    ("spelling.nearly", words::other_for_name),
    ("spelling.taught", words::other_for_name),
    ("spelling.installed", words::other_for_name),
    ("spelling.of-language", words::other_for_name),
    ("spelling.constructor", words::other_for_name),
    ("never.write-only", words::other_for_name),
    ("never.lost-local", words::other_for_name),
    ("never.unread-for-unmade", words::other_for_name),
    ("wiring.nearly", words::other_for_name),
    ("wiring.key-nearly", words::other_for_name),
    ("gaps.listed-nearly", words::other_for_name),
    ("paths.other-on-disk", words::other_for_name),
    ("paths.file-is-called", words::other_for_name),
    ("keeps.like-a-constructor", words::real_for_name),
    ("keeps.nearly-index", |p| words::exchange(p, p.name("name")?, "__index")),
    ("never.other-override", words::other_for_name),
    ("inputs.never-asked", words::other_for_name),
    ("spelling.made-otherwise", words::name_for_other),
    ("inputs.not-read", words::name_for_other),
    ("paths.odd-folder", |p| words::exchange(p, p.name("odd")?, p.name("other")?)),
    ("paths.other-folder", |p| words::exchange(p, p.name("name")?, p.name("folder")?)),
    // A sign or a word beside it.
    ("idioms.not-called", words::called),
    ("idioms.not-called-value", words::called),
    ("inputs.not-called-here", words::called),
    ("inputs.function-itself", words::called),
    ("uncalled.told", words::called),
    ("uncalled.here", words::called),
    ("inputs.is-getter", |p| {
        words::exchange(p, &format!("{}()", p.name("name")?), p.name("name")?)
    }),
    ("idioms.dot-for-colon", |p| words::sign_before(p, ".", ":")),
    ("swapped.dot-called", |p| words::sign_before(p, ".", ":")),
    ("swapped.dot-made", |p| words::sign_before(p, ".", ":")),
    ("swapped.colon-needless", |p| words::sign_before(p, ":", ".")),
    ("idioms.by-name", words::by_what_it_holds),
    ("idioms.not-awaited", |p| words::before_chain(p, "await ")),
    ("unbound.handed-over", words::called_later),
    ("texts.no-entry-near", words::other_for_name),
    ("constant.made-to-stay", |p| words::exchange(p, "const", "let")),
    ("addresses.nearly", |p| words::exchange(p, p.name("path")?, p.name("other")?)),
    ("idioms.keys-of-list", |p| words::exchange(p, "in", "of")),
    ("idioms.exports-alone", |p| words::exchange(p, "exports", "module.exports")),
    ("paths.in-quotes", words::out_of_quotes),
    ("lists.in-quotes", words::out_of_quotes),
    ("access.closed", |p| words::exchange(p, "private", "public")),
    ("swapped.made-static", words::not_static),
    ("swapped.static", words::not_static),
    ("swapped.not-static", words::made_static),
    ("told.not-exported", |p| p.insert(p.indent(), "export ")),
    ("told.nothing-given", words::given_back),
    ("bounds.loop-from-zero", |p| words::exchange_sign(p, "0", "1")),
    ("bounds.loop-to-length", |p| words::exchange_sign(p, "<=", "<")),
    ("bounds.loop-from-length", words::one_less),
    ("bounds.at-its-length", words::one_less),
    ("siblings.filled-twice", words::other_entry),
    ("never.hidden-by-local", words::own_field),
    ("told.comment-open", words::comment_closed),
    ("told.comment-told", words::comment_closed),
    // What a page says.
    ("page.element-nearly", words::other_for_name),
    ("page.page-nearly", words::other_for_name),
    ("page.too-early", tags::deferred),
    ("page.loaded-later", |p| rows::moved_before(p, p.number("line")?)),
    ("page.not-loaded", tags::one_more_script),
    ("page.tag-nearly", words::other_for_name),
    // Whole lines, as another place has them.
    ("never.no-super", begins::as_base),
    ("never.no-super-known", begins::as_base),
    // What stands in brackets.
    ("siblings.crossed", |p| brackets::swap(p, p.name("first")?, p.name("second")?)),
    ("swapped.handed-crossed", brackets::crossed),
    ("swapped.parameters-crossed", brackets::crossed),
    ("swapped.arguments-crossed", |p| brackets::swap_places(p, p.name("name")?, "arg", "at")),
    ("inputs.handed-crosswise", |p| {
        brackets::swap_places(p, p.name("function")?, "number", "other")
    }),
    ("swapped.no-self", |p| brackets::first_parameter(p, "self")),
    ("imports.others-brought-in", brackets::one_more_name),
    ("inputs.not-handed-out", brackets::one_more_name),
    ("access.hands-out-others", brackets::one_more_name),
    // Whole lines.
    ("removed.still-needed", rows::taken_out),
    ("order.after-need", |p| rows::moved_before(p, p.number("line")?)),
    ("order.called-after-need", |p| rows::moved_before(p, p.number("line")?)),
    ("order.put-in-after", |p| rows::moved_before(p, p.number("line")?)),
    ("imports.not-brought-in", rows::brought_in),
    ("told.bring-in", rows::brought_in_whole),
    ("wiring.not-put-in", rows::put_in_like),
    ("missing.handed-not-kept", |p| rows::kept(p, p.name("name")?, p.name("name")?)),
    ("missing.taken-never-read", |p| rows::kept(p, p.name("field")?, p.name("name")?)),
];

/// The edit that mends what a suspect says; `None` where it says no more than where, or where the
/// line leaves open what is meant. `syntax` is what does not parse in its file.
pub(super) fn fix(index: &Index, suspect: &Suspect, syntax: &[SyntaxFault]) -> Option<Fix> {
    let file = index.file(&suspect.file)?;
    let kind = format!("{:?}", suspect.claim.kind());
    if kind.starts_with("syntax.") || kind == "told.data-broken" {
        let faults = if kind.starts_with("syntax.") { syntax } else { &file.faults };
        let fault = faults.iter().find(|f| f.line == suspect.line)?;
        return Fix::new(&file.path, vec![fault.piece.clone()?]);
    }
    let way = WAYS.iter().find(|(of, _)| *of == kind)?.1;
    let fix = way(&Place::of(index, suspect)?)?;
    // What would leave the file as it is mends nothing.
    (fix.apply(&file.text)? != *file.text).then_some(fix)
}

/// The suspect's line as its edit would leave it, where that is one line that is short enough to be
/// read at a glance.
pub(super) fn line(index: &Index, suspect: &Suspect) -> Option<String> {
    let changes = suspect.fix.as_ref()?.changes(&index.file(&suspect.file)?.text);
    let [change] = changes.as_slice() else { return None };
    let [after] = change.after.as_slice() else { return None };
    let after = after.trim();
    (change.before.len() == 1 && after.len() <= LONGEST).then(|| after.to_owned())
}

/// A line that is longer shows nothing at a glance.
const LONGEST: usize = 100;

#[cfg(test)]
mod tests {
    use super::*;

    /// A way for a kind that nothing says is never taken.
    #[test]
    fn every_way_is_one_of_a_kind_that_is_said() {
        let kinds = crate::suspect::CHECKS.iter().flat_map(|check| check.kinds);
        let known: Vec<String> = kinds.map(|kind| format!("{kind:?}")).collect();
        for (kind, _) in WAYS {
            assert!(known.iter().any(|k| k == kind), "nothing says {kind}");
        }
    }
}

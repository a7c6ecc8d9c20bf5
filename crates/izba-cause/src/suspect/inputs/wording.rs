//! Where a value that does not fit is put right, and what is said of it.

use super::says::{
    FUNCTION_ITSELF, GIVES_NOTHING, LACKS, LOOKED_UP, MAY_FIND_NOTHING, NOT_OFFERED, NOTHING_HERE,
    NOTHING_WRITTEN, ODD_VALUE, ONLY_VALUE, STAYS_TEXT,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::need::Need;
use crate::suspect::query::Query;
use crate::suspect::value::{Missed, Val, What};
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Kind, NameEdit, name_edit};
use izba_model::say;

/// What is said of a value that does not fit.
pub(super) fn words(need: &Need, val: &Val<'_>, query: &Query<'_>, fitting: usize) -> Saying {
    if let Some(missed) = &val.missed {
        let name = missed.key.word().unwrap_or_default();
        if missed.key.line != val.line || missed.key.file.path != val.file.path {
            return say!(LACKS, name);
        }
        return say!(GIVES_NOTHING, name, what = owner_word(missed));
    }
    match val.what {
        What::Func(f) => return say!(FUNCTION_ITSELF, name = f.text().unwrap_or("the function")),
        What::Text(_) | What::AnyText
            if place_of(need, val).1 != val.line || place_of(need, val).0.path != val.file.path =>
        {
            return say!(STAYS_TEXT);
        }
        _ => {}
    }
    match val.word().filter(|w| !w.is_empty()) {
        Some(name) if fitting > 0 => say!(ODD_VALUE, name, count = fitting + 1),
        Some(name) => say!(ONLY_VALUE, name),
        None => {
            // In the language's own word, where that stands there.
            let line = val.file.line(val.line).unwrap_or_default();
            let word = val.file.language.nothing.iter().find(|w| line.contains(w.as_str()));
            let given = val
                .file
                .tree
                .on_line(val.line)
                .any(|n| n.is(Kind::Nil) && n.parent().is_some_and(|p| !p.is(Kind::Bin)));
            match word {
                Some(_) if !given && val.first => {
                    say!(MAY_FIND_NOTHING, line = query.line)
                }
                Some(name) => say!(NOTHING_WRITTEN, name, line = query.line),
                None => say!(NOTHING_HERE, line = query.line),
            }
        }
    }
}

/// Where a value that does not fit is to be put right: of what is kept elsewhere where it was handed
/// over, of a text that was read where it was kept without being converted.
pub(super) fn place_of<'a>(need: &Need, val: &Val<'a>) -> (&'a FileFacts, u32) {
    let read = matches!(val.what, What::Text(_)) && !val.file.language.is_code();
    let whole =
        matches!(val.what, What::Table(_) | What::Object(..) | What::Func(_) | What::AnyText);
    val.handed
        .filter(|_| whole || read && matches!(need, Need::NotKind(_)))
        .unwrap_or((val.file, val.line))
}

/// Whether what was looked for is one slip away from something that is offered.
pub(super) fn is_near(missed: &Missed<'_>) -> bool {
    near_offered(missed).is_some()
}

/// What is offered one slip away from what was looked for, with its name.
pub(super) fn near_offered<'m, 'a>(missed: &'m Missed<'a>) -> Option<(&'m Val<'a>, String)> {
    let word = missed.key.word()?;
    missed.offered.iter().find_map(|offered| {
        let name = offered.word()?;
        let slip = name_edit(&word, &name).is_some_and(|e| e <= NameEdit::Letters);
        slip.then_some((offered, name))
    })
}

/// The other way to see it: what is offered lacks an entry.
pub(super) fn not_offered(missed: &Missed<'_>, seen: &mut Seen) {
    let What::Table(table) = missed.owner.what else { return };
    let names = offered_words(missed);
    if names.is_empty() || table.children().next().is_none() {
        return;
    }
    let word = missed.key.word().unwrap_or_default();
    let file = missed.owner.file;
    let reason = say!(NOT_OFFERED, names, name = word);
    let suspect = seen.suspect(&file.path, table.line(), Strength::Strong, reason);
    suspect.to(table.last_line().max(table.line()));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
}

pub(super) fn offered_words(missed: &Missed<'_>) -> Vec<String> {
    let mut names: Vec<String> = missed.offered.iter().filter_map(Val::word).collect();
    names.sort_unstable();
    names.dedup();
    names.truncate(6);
    names
}

/// What was searched, by a name.
pub(super) fn owner_word(missed: &Missed<'_>) -> String {
    let site = missed.site.1;
    let owner = match site.kind() {
        Kind::Call => site.child(0).and_then(|c| c.child(0)),
        _ => site.child(0),
    };
    owner
        .and_then(At::last_name)
        .filter(|n| *n != "self" && *n != "this")
        .map_or_else(|| missed.owner.file.name().to_owned(), str::to_owned)
}

//! What a value is was mistaken: a list for an object with keys, a text for what stands in it, a
//! whole module for one part of it, a field for a function.

use super::says::{
    CALLED_HERE, IS_GETTER, KEYS_GONE_THROUGH, LIST_ASKED, LIST_BY_NAME, LIST_HAS_NOT, LOOKED_UP,
    NO_SUCH_KEY, NOT_CALLED_HERE, NOT_PARSED, NUMBER_FOR_TEXT, OBJECT_IS_NO_LIST, ONE_HANDED_OUT,
    TAKEN_APART, TEXT_FOR_LIST, TEXT_FOR_NUMBER, TEXT_HAS_NOT, TEXT_IS_KEPT, WHOLE_AS_KEY,
    WHOLE_MODULE,
};
use super::wording::{offered_words, owner_word};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::flow::bindings;
use crate::suspect::need::Need;
use crate::suspect::query::Query;
use crate::suspect::value::{
    Eval, Missed, Val, What, Written, is_nearly_of_lists, is_of_lists, is_of_numbers, is_of_texts,
    is_property, written,
};
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, How, Kind, Role};
use izba_model::dialect::HandsOut;
use izba_model::say;

/// Tells of values that are nothing because what was asked is of another kind than was thought.
pub(super) fn told<'a>(query: &Query<'a>, need: &Need, odd: &[Val<'a>], seen: &mut Seen) -> bool {
    let Some(first) = odd.first() else { return false };
    if let (Need::NotList, What::Table(_)) = (need, &first.what) {
        let suspect =
            seen.suspect(&first.file.path, first.line, Strength::Plain, say!(LIST_BY_NAME));
        if let Some(path) = query.path() {
            suspect.saw(path, query.line, say!(LOOKED_UP));
        }
        return true;
    }
    if called_not_here(query, need, first, seen) || keys_gone_through(query, need, odd, seen) {
        return true;
    }
    let Some(missed) = &first.missed else { return false };
    no_such_key(missed, odd, seen)
        || list_asked(query, missed, first, seen)
        || whole_as_key(missed, seen)
        || other_kind(missed, odd, seen)
        || from_one(query, missed, seen)
}

/// A function is read on the very line, and what it gives is needed.
fn called_not_here(query: &Query<'_>, need: &Need, first: &Val<'_>, seen: &mut Seen) -> bool {
    let What::Func(function) = first.what else { return false };
    let (Some(file), Some(name)) = (query.file, function.text()) else { return false };
    let here = query.on_line().any(|n| {
        matches!(n.kind(), Kind::Field | Kind::Name) && n.is_called(name) && !n.is_callee()
    });
    if !here || first.handed.is_some() || *need != Need::NotKind("function".into()) {
        return false;
    }
    seen.suspect(&file.path, query.line, Strength::Plain, say!(NOT_CALLED_HERE, name));
    true
}

/// A whole dictionary is handed over where a list was meant: going through it gives its keys.
fn keys_gone_through(query: &Query<'_>, need: &Need, odd: &[Val<'_>], seen: &mut Seen) -> bool {
    let Some((file, line)) = odd.first().and_then(|v| v.handed) else { return false };
    let keys = odd.iter().all(|v| {
        v.handed.is_some_and(|(f, l)| (&f.path, l) == (&file.path, line))
            && v.word().is_some_and(|w| {
                v.file.data.iter().any(|d| d.role == Role::Key && d.line == v.line && *d.text == *w)
            })
    });
    let asked = query.said.contains("indices must be") && *need == Need::NotKind("text".into());
    if !keys || !asked {
        return false;
    }
    let mut names: Vec<String> = odd.iter().filter_map(Val::word).collect();
    names.truncate(4);
    let suspect = seen.suspect(&file.path, line, Strength::Plain, say!(KEYS_GONE_THROUGH, names));
    if let Some(path) = query.path() {
        suspect.saw(path, query.line, say!(LOOKED_UP));
    }
    true
}

/// Code asks every record of a file for a key that none of them has.
fn no_such_key(missed: &Missed<'_>, odd: &[Val<'_>], seen: &mut Seen) -> bool {
    let (file, site) = missed.site;
    let (What::Doc(doc), Some(name)) = (&missed.owner.what, missed.key.word()) else {
        return false;
    };
    let fixed = missed.key.file.path == file.path && missed.key.line == site.line();
    let names = offered_words(missed);
    let all = doc.records().len() >= 2
        && odd.len() >= doc.records().len()
        && !missed.offered.iter().any(|o| o.word().as_deref() == Some(name.as_str()));
    // What every list has stands in no data: something else than the list itself is asked.
    let of_list = site.is_callee() && is_of_lists(&name);
    if !fixed
        || !all
        || names.is_empty()
        || of_list
        || !site.is(Kind::Field) && !site.is(Kind::Index)
    {
        return false;
    }
    let reason = say!(NO_SUCH_KEY, file = doc.file.name(), name, names);
    let suspect = seen.suspect(&file.path, site.line(), Strength::Plain, reason);
    suspect.saw(&doc.file.path, doc.line(), say!(LOOKED_UP));
    true
}

/// A text is kept where an object belongs: it is asked for a member that no text has.
pub(super) fn text_is_kept(
    query: &Query<'_>,
    need: &Need,
    odd: &[Val<'_>],
    seen: &mut Seen,
) -> bool {
    let asked = query.said.contains("has no attribute") || query.said.contains("not a function");
    let Some((file, line)) = odd.first().and_then(|v| v.kept) else { return false };
    let one_place =
        odd.iter().all(|v| v.kept.is_some_and(|(f, l)| (&f.path, l) == (&file.path, line)));
    let (file, line) = odd.first().and_then(|v| made_before(file, line, v)).unwrap_or((file, line));
    let here = query.path() == Some(&file.path) && query.line == line;
    if !asked || here || !one_place || *need != Need::NotKind("text".into()) {
        return false;
    }
    let Some(name) = query.asked.as_deref() else { return false };
    let suspect = seen.suspect(&file.path, line, Strength::Strong, say!(TEXT_IS_KEPT, name));
    if let Some(path) = query.path() {
        suspect.saw(path, query.line, say!(LOOKED_UP));
    }
    true
}

/// Where a parameter is kept, what it was handed was made before: there it is to be put right.
fn made_before<'a>(file: &'a FileFacts, line: u32, val: &Val<'a>) -> Option<(&'a FileFacts, u32)> {
    let kept = file.tree.on_line(line).find(|n| n.is(Kind::Field) && n.defines().is_some())?;
    let value = kept.assigned_value().filter(|v| v.is(Kind::Name))?;
    let taken = kept.function()?.params().any(|p| p.text() == value.text());
    let (home, handed) = val.handed.filter(|_| taken)?;
    let argument = home.tree.on_line(handed).find(|n| n.is(Kind::Name) && n.text() == value.text());
    let made = argument.and_then(|a| {
        crate::suspect::flow::bindings(home, a, a.text()?)
            .into_iter()
            .find(|m| m.defines() == Some(How::Assigned))
    });
    Some((home, made.map_or(handed, At::line)))
}

/// A list that is filled by number only is asked by a name.
fn list_asked<'a>(
    query: &Query<'a>,
    missed: &Missed<'a>,
    first: &Val<'a>,
    seen: &mut Seen,
) -> bool {
    let (file, site) = missed.site;
    let What::Table(table) = missed.owner.what else { return false };
    let named = site.is(Kind::Field) && file.language.first_index == 1;
    let Some((home, line)) = missed.owner.handed.or(first.handed).filter(|_| named) else {
        return false;
    };
    let by_number = missed.offered.is_empty() && !filled_by_words(query, &missed.owner, table);
    let Some(name) = site.text().filter(|_| by_number) else { return false };
    let suspect = seen.suspect(&home.path, line, Strength::Plain, say!(LIST_ASKED, name));
    suspect.saw(&file.path, site.line(), say!(LOOKED_UP));
    true
}

/// Whether something is put in under a key that may be a word.
fn filled_by_words<'a>(query: &Query<'a>, owner: &Val<'a>, table: At<'a>) -> bool {
    let (puts, _) = Eval::new(query).puts(owner.file, table);
    puts.iter().any(|put| {
        let key = put.key.filter(|_| put.named.is_none());
        key.is_some_and(|k| {
            let counted = k.text().is_some_and(|t| {
                let made = bindings(put.file, k, t);
                made.iter().any(|b| b.defines() == Some(How::Loop))
            });
            k.is(Kind::Name) && !counted
        })
    })
}

/// A whole object is the key.
fn whole_as_key(missed: &Missed<'_>, seen: &mut Seen) -> bool {
    if missed.key.word().is_some() {
        return false;
    }
    let (file, site) = missed.site;
    let key = match site.kind() {
        Kind::Index => site.child(1),
        _ => site.arguments().next(),
    };
    let Some(name) = key.and_then(At::last_name) else { return false };
    let names = offered_words(missed);
    let reason = say!(WHOLE_AS_KEY, name, what = owner_word(missed), names);
    let suspect = seen.suspect(&file.path, site.line(), Strength::Plain, reason);
    suspect.saw(&missed.owner.file.path, missed.owner.line, say!(LOOKED_UP));
    true
}

/// A list, object or text is asked for what others of its kind do not have either.
fn other_kind(missed: &Missed<'_>, odd: &[Val<'_>], seen: &mut Seen) -> bool {
    let (file, site) = missed.site;
    let owner = &missed.owner;
    let Some(name) = site
        .text()
        .filter(|_| site.is(Kind::Field) && file.language.hands_out == Some(HandsOut::Exports))
    else {
        return false;
    };
    match &owner.what {
        What::Lines(data) => {
            let Some((home, call)) = owner.by else { return false };
            let reason = say!(NOT_PARSED, file = data.name(), name);
            let suspect = seen.suspect(&home.path, call.line(), Strength::Plain, reason);
            suspect.saw(&file.path, site.line(), say!(LOOKED_UP));
        }
        What::Table(table) => match written(owner.file, *table) {
            // One of nearly that name was meant, and that is told of the line itself.
            Some(Written::List) if is_nearly_of_lists(name) => return false,
            Some(Written::List) => {
                seen.suspect(&file.path, site.line(), Strength::Plain, say!(LIST_HAS_NOT, name));
            }
            Some(Written::Keyed) if is_of_lists(name) && site.is_callee() => {
                let reason = say!(OBJECT_IS_NO_LIST, name);
                // Handed on by others it may have been meant for somebody else.
                let strength =
                    if owner.handed.is_some() { Strength::Fair } else { Strength::Plain };
                let suspect = seen.suspect(&owner.file.path, table.line(), strength, reason);
                suspect.saw(&file.path, site.line(), say!(LOOKED_UP));
            }
            _ => return false,
        },
        What::Items(_) => {
            seen.suspect(&file.path, site.line(), Strength::Plain, say!(LIST_HAS_NOT, name));
        }
        // The only one of its kind in a file of data is wrong there.
        _ if !owner.file.language.is_code() && one_place(odd) => {
            let (Some(text), Some(saying)) = (owner.word(), wrong_in_data(&owner.what, name))
            else {
                return false;
            };
            let says = Saying::new(saying).with("text", &text).with("name", name);
            let suspect = seen.suspect(&owner.file.path, owner.line, Strength::Plain, says);
            suspect.saw(&file.path, site.line(), say!(LOOKED_UP));
        }
        What::Text(_) | What::AnyText => {
            seen.suspect(&file.path, site.line(), Strength::Strong, say!(TEXT_HAS_NOT, name));
        }
        _ => return false,
    }
    true
}

/// Whether all of what does not fit stands in one line.
fn one_place(odd: &[Val<'_>]) -> bool {
    let place = |v: &Val<'_>| v.missed.as_ref().map(|m| (m.owner.file.path.clone(), m.owner.line));
    odd.windows(2).all(|w| place(&w[0]) == place(&w[1]))
}

/// What is said of a value in a file of data that is asked for what only another kind can do.
fn wrong_in_data(what: &What<'_>, name: &str) -> Option<&'static izba_model::claim::Kind> {
    match what {
        What::Text(_) if is_of_numbers(name) => Some(&TEXT_FOR_NUMBER),
        What::Text(_) if is_of_lists(name) && !is_of_texts(name) => Some(&TEXT_FOR_LIST),
        What::Num(_) if is_of_texts(name) && !is_of_lists(name) => Some(&NUMBER_FOR_TEXT),
        _ => None,
    }
}

/// Names are taken out of a module that hands out one thing.
fn from_one(query: &Query<'_>, missed: &Missed<'_>, seen: &mut Seen) -> bool {
    let (What::Func(one) | What::Class(one), Some(word)) = (&missed.owner.what, missed.key.word())
    else {
        return false;
    };
    let home = missed.owner.file;
    let (file, site) = missed.site;
    let Some(export) = home.tree.named("exports").find(|n| n.assigned_value().is_some()) else {
        return false;
    };
    if home.path == file.path || home.tree.at(one.id()) != Some(*one) {
        return false;
    }
    // Of several names that are taken, the script that hands out is to blame, of one that takes.
    let taken = query
        .scope
        .iter()
        .flat_map(|f| f.tree.all().filter(|n| n.is(Kind::Import)).map(move |n| (*f, n)))
        .filter(|(_, n)| n.text().is_some_and(|t| crate::suspect::brought::names_file(t, home)))
        .map(|(_, n)| n.children().count())
        .max()
        .unwrap_or(1);
    let name = one.text().unwrap_or(&word);
    let (hands_out, takes) = ((home, export.line()), (file, site.line()));
    let (blamed, other) = if taken > 1 { (hands_out, takes) } else { (takes, hands_out) };
    let suspect =
        seen.suspect(&blamed.0.path, blamed.1, Strength::Plain, say!(ONE_HANDED_OUT, name));
    suspect.saw(&other.0.path, other.1, say!(TAKEN_APART));
    true
}

/// What is called is a field that is worked out, or a module of which one part is meant.
pub(super) fn of_callee<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    operand: At<'a>,
    seen: &mut Seen,
) -> bool {
    let called = operand.is_callee();
    if operand.is(Kind::New) || called && operand.is(Kind::Name) {
        return whole_module(query, eval, file, operand, seen);
    }
    if !(called && operand.is(Kind::Field)) {
        return false;
    }
    let Some(name) = operand.text() else { return false };
    let owner = operand.child(0).map(|o| eval.of(file, o)).unwrap_or_default();
    let getter = owner.list.iter().find_map(|v| match v.what {
        What::Object(class, _) => {
            let home = query.scope.iter().find(|f| f.tree.at(class.id()) == Some(class))?;
            let found = home
                .tree
                .named(name)
                .find(|n| n.is(Kind::Func) && n.class() == Some(class) && is_property(home, *n))?;
            Some((*home, found))
        }
        _ => None,
    });
    let Some((home, function)) = getter else { return false };
    let (mut calls, mut reads) = (0, 0);
    for (_, n) in query.named(name).filter(|(_, n)| n.is(Kind::Field) && n.defines().is_none()) {
        match n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n)) {
            true => calls += 1,
            false => reads += 1,
        }
    }
    let (at, line) =
        if reads > 0 && reads >= calls { (file, operand.line()) } else { (home, function.line()) };
    let suspect = seen.suspect(&at.path, line, Strength::Plain, say!(IS_GETTER, name));
    suspect.saw(&file.path, operand.line(), say!(CALLED_HERE));
    true
}

/// A whole module is called or made, and one part of it bears that name.
fn whole_module<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    operand: At<'a>,
    seen: &mut Seen,
) -> bool {
    let Some(name) = operand.text() else { return false };
    let Some(made) = file.tree.named(name).find(|n| n.defines() == Some(How::Import)) else {
        return false;
    };
    if file.language.hands_out != Some(HandsOut::Exports) {
        return false;
    }
    let whole = eval.brought_in(file, made);
    let home = whole.list.iter().find_map(|v| match v.what {
        What::Module(home) => Some(home),
        What::Table(_) => Some(v.file),
        _ => None,
    });
    let Some(home) = home.filter(|h| h.path != file.path) else { return false };
    let part = query
        .named(name)
        .any(|(f, n)| f.path == home.path && matches!(n.kind(), Kind::Class | Kind::Func));
    if !part {
        return false;
    }
    let reason = say!(WHOLE_MODULE, file = home.name(), name);
    let suspect = seen.suspect(&file.path, made.line(), Strength::Plain, reason);
    suspect.saw(&file.path, operand.line(), say!(CALLED_HERE));
    true
}

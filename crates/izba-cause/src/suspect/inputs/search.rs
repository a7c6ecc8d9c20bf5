//! A function of the project that looks for something gave nothing: why its condition never held.

use super::says::{
    ASKED_TOO_EARLY, COMPARED_HERE, ENTRY_MISSING, FINDS_NOTHING, HAS_NO_MEMBER, KEPT_OTHERWISE,
    LOOKED_FOR, MEANT_OTHERWISE, NONE_REACHES, NOT_AMONG, NOT_MADE_ENTRY, NOT_READ,
    OTHER_WAY_ROUND, WHOLE_COMPARED,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::value::{Eval, Val, Vals, What, compare};
use izba_model::code::{At, FileFacts, How, Kind};
use izba_model::say;

/// Two sides of a comparison on which it depends whether something is found.
struct Asked<'a> {
    sign: &'a str,
    left: At<'a>,
    right: At<'a>,
}

/// Tells why a search of the project found nothing; whether it is sure of it.
pub(super) fn found_nothing<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    nothing: &Val<'a>,
    seen: &mut Seen,
) -> bool {
    let file = nothing.file;
    let Some(function) = searching(file, nothing.line) else { return false };
    let asked = conditions(file, function, nothing.line);
    if unread_parameter(file, function, &asked, seen) {
        return true;
    }
    for one in &asked {
        if no_such_member(eval, file, one, seen) || not_among(query, eval, file, one, seen) {
            return true;
        }
    }
    if made_and_put_nowhere(query, eval, file, &asked, seen) {
        return true;
    }
    if let Some(one) = asked.first() {
        seen.suspect(&file.path, one.left.line(), Strength::Weak, say!(FINDS_NOTHING));
    }
    false
}

/// The function that gives nothing from a line: one that looks in a loop, or one that is handed to a
/// search of the language.
fn searching<'a>(file: &'a FileFacts, line: u32) -> Option<At<'a>> {
    let on_line = || file.tree.on_line(line);
    let handed = on_line().find(|n| {
        n.is(Kind::Func)
            && n.parent().is_some_and(|p| {
                p.is(Kind::Call)
                    && matches!(p.last_name(), Some("find" | "filter" | "FirstOrDefault"))
            })
    });
    let around = || {
        // Of a function that ends without giving anything back it is the last line.
        let ends = |n: &At<'a>| n.is(Kind::Func) && file.line_of(n.span().1) >= line;
        let inside = on_line().find_map(At::function);
        inside.or_else(|| {
            let mut all: Vec<At<'a>> =
                file.tree.all().filter(ends).filter(|f| f.line() <= line).collect();
            all.sort_by_key(|f| std::cmp::Reverse(f.line()));
            all.first().copied()
        })
    };
    let loops =
        |f: &At<'a>| f.whole().any(|n| matches!(n.kind(), Kind::For | Kind::ForIn | Kind::While));
    handed.or_else(|| around().filter(loops))
}

/// The comparisons under which the function gives or keeps something.
fn conditions<'a>(file: &'a FileFacts, function: At<'a>, line: u32) -> Vec<Asked<'a>> {
    // What is given back as nothing in the end may be a variable that was never filled.
    let kept = file
        .tree
        .on_line(line)
        .find(|n| n.defines().is_some() && n.is(Kind::Name))
        .and_then(At::text);
    let mut parts: Vec<At<'a>> = function
        .whole()
        .filter(|n| n.is(Kind::If) && n.function() == Some(function))
        .filter(|n| {
            n.child(1).is_some_and(|then| {
                then.whole().any(|s| {
                    s.is(Kind::Return) && s.child(0).is_some_and(|v| !v.is(Kind::Nil))
                        || s.defines().is_some() && kept.is_some_and(|k| s.is_called(k))
                })
            })
        })
        .filter_map(|n| n.child(0))
        .collect();
    if function.parent().is_some_and(|p| p.is(Kind::Call)) && parts.is_empty() {
        parts.extend(function.whole().filter(|n| n.is(Kind::Return)).filter_map(|r| r.child(0)));
    }
    let mut out = Vec::new();
    while let Some(part) = parts.pop() {
        match (part.kind(), part.text(), part.child(0), part.child(1)) {
            (Kind::Bin, Some("and" | "&&"), Some(a), Some(b)) => parts.extend([b, a]),
            (
                Kind::Bin,
                Some(sign @ ("==" | "===" | "<" | "<=" | ">" | ">=")),
                Some(left),
                Some(right),
            ) => out.push(Asked { sign, left, right }),
            (Kind::Call, ..) if matches!(part.last_name(), Some("equals" | "Equals")) => {
                let owner = part.child(0).and_then(|c| c.child(0));
                if let (Some(left), Some(right)) = (owner, part.arguments().next()) {
                    out.push(Asked { sign: "==", left, right });
                }
            }
            _ => {}
        }
    }
    out
}

/// What is looked for is handed over, and the function never reads it.
fn unread_parameter(
    file: &FileFacts,
    function: At<'_>,
    asked: &[Asked<'_>],
    seen: &mut Seen,
) -> bool {
    let mut unread = function.params().filter_map(At::text).filter(|p| {
        !matches!(*p, "self" | "this" | "cls" | "_")
            && !p.starts_with('_')
            && !function.whole().any(|n| n.is(Kind::Name) && n.is_called(p))
    });
    let (Some(name), None, Some(one)) = (unread.next(), unread.next(), asked.first()) else {
        return false;
    };
    // What is compared in its place.
    let other = [one.left, one.right].into_iter().find(|s| s.is(Kind::Name));
    let Some(other) = other.and_then(At::text) else { return false };
    let suspect =
        seen.suspect(&file.path, one.left.line(), Strength::Plain, say!(NOT_READ, name, other));
    suspect.saw(&file.path, function.line(), say!(LOOKED_FOR));
    true
}

/// One side is a member that its type does not have.
fn no_such_member<'a>(
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    one: &Asked<'a>,
    seen: &mut Seen,
) -> bool {
    for side in [one.left, one.right].into_iter().filter(|s| s.is(Kind::Field)) {
        let Some(name) = side.text() else { continue };
        let found = eval.of(file, side);
        let none = !found.lost
            && !found.list.is_empty()
            && found.list.iter().all(|v| v.is_nothing() && v.missed.is_some());
        let Some(missed) = found.list.first().and_then(|v| v.missed.clone()).filter(|_| none)
        else {
            continue;
        };
        let owner = match missed.owner.what {
            What::Object(class, _) => class.text().unwrap_or("what is compared"),
            _ => "what is compared",
        };
        if let What::Object(class, _) = missed.owner.what
            && kept_otherwise(eval, class, name, seen)
        {
            return true;
        }
        let names = super::wording::offered_words(&missed);
        let reason = say!(HAS_NO_MEMBER, owner, name, names);
        let suspect = seen.suspect(&file.path, side.line(), Strength::Plain, reason);
        suspect.saw(&missed.owner.file.path, missed.owner.line, say!(COMPARED_HERE));
        return true;
    }
    false
}

/// The list that is searched holds nothing, and an object of the kind is made and goes nowhere.
fn made_and_put_nowhere<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    asked: &[Asked<'a>],
    seen: &mut Seen,
) -> bool {
    let owner = asked.iter().flat_map(|a| [a.left, a.right]).find_map(|s| {
        let owner = s.child(0).filter(|_| s.is(Kind::Field))?;
        owner.is(Kind::Name).then_some(owner)
    });
    let Some(owner) = owner else { return false };
    // Nothing is known of what is gone through: nothing was put in.
    let empty = eval.of(file, owner).list.is_empty();
    let made = query.scope.iter().filter(|_| empty).flat_map(|f| {
        f.tree
            .all()
            .filter(|n| {
                n.is(Kind::Name)
                    && n.defines() == Some(How::Assigned)
                    && n.function().is_some()
                    && n.assigned_value().is_some_and(|v| v.is(Kind::New))
            })
            .map(move |n| (*f, n))
    });
    let mut unread = made.filter(|(f, n)| {
        let name = n.text().unwrap_or_default();
        f.tree.named(name).filter(|o| o.is(Kind::Name) && o.function() == n.function()).count() == 1
    });
    let (Some((home, one)), None) = (unread.next(), unread.next()) else { return false };
    let kind = one.assigned_value().and_then(At::text).unwrap_or_default();
    let suspect = seen.suspect(&home.path, one.line(), Strength::Plain, say!(NOT_MADE_ENTRY, kind));
    suspect.to(one.line() + 1).saw(&file.path, owner.line(), say!(COMPARED_HERE));
    true
}

/// What is looked for stands elsewhere too, so that what is put in is to blame: one of nearly that
/// name, or its entry is missing.
fn put_in_wrongly<'a>(
    query: &Query<'a>,
    odd: &[&Val<'a>],
    there: &[Val<'a>],
    seen: &mut Seen,
) -> bool {
    let Some(key) = odd.first().filter(|k| odd.iter().all(|o| o.word() == k.word())) else {
        return false;
    };
    let Some(word) = key.word() else { return false };
    if !stands_elsewhere(query, &word, key) {
        return false;
    }
    let near = there.iter().find(|t| {
        t.word().is_some_and(|o| {
            izba_model::code::name_edit(&word, &o)
                .is_some_and(|e| e <= izba_model::code::NameEdit::Letters)
                && !stands_elsewhere(query, &o, t)
        })
    });
    if let Some(near) = near {
        let name = near.word().unwrap_or_default();
        let reason = say!(MEANT_OTHERWISE, name, other = word);
        let suspect = seen.suspect(&near.file.path, near.line, Strength::Plain, reason);
        suspect.saw(&key.file.path, key.line, say!(LOOKED_FOR));
        return true;
    }
    let lines: Vec<u32> = there
        .iter()
        .filter(|t| t.file.path == there[0].file.path && t.file.language.is_code())
        .map(|t| t.line)
        .collect();
    let (Some(from), Some(to)) = (lines.iter().min(), lines.iter().max()) else { return false };
    if there.len() < 2 || lines.len() < there.len() || to - from > there.len() as u32 {
        return false;
    }
    let mut names: Vec<String> = there.iter().filter_map(Val::word).collect();
    names.truncate(6);
    let reason = say!(ENTRY_MISSING, names, name = word);
    let suspect = seen.suspect(&there[0].file.path, *to, Strength::Plain, reason);
    suspect.to(to + 1).saw(&key.file.path, key.line, say!(LOOKED_FOR));
    true
}

/// Whether a word stands in another line of the project than a value of it.
fn stands_elsewhere(query: &Query<'_>, word: &str, val: &Val<'_>) -> bool {
    let bounded = |line: &str, at: usize| {
        let inside = |c: char| c.is_alphanumeric() || c == '_';
        !line[..at].ends_with(inside) && !line[at + word.len()..].starts_with(inside)
    };
    query.scope.iter().any(|f| {
        // In a file of data a value is the whole of it: `rye` stands not in `Rye and butter`.
        if !f.data.is_empty() {
            return f
                .data
                .iter()
                .any(|d| *d.text == *word && !(f.path == val.file.path && d.line == val.line));
        }
        f.text.lines().zip(1u32..).any(|(line, number)| {
            !(f.path == val.file.path && number == val.line)
                && line.match_indices(word).any(|(at, _)| bounded(line, at))
        })
    })
}

/// A whole object or record is compared with words: one part of it was meant.
fn whole_compared<'a>(
    file: &'a FileFacts,
    one: &Asked<'a>,
    keys: &Vals<'a>,
    there: &Vals<'a>,
    seen: &mut Seen,
) -> bool {
    let whole = |v: &Val<'a>| matches!(v.what, What::Doc(_) | What::Object(..) | What::Table(_));
    let words = there.list.iter().filter(|v| v.word().is_some()).count();
    let Some(first) = keys.list.first().filter(|_| keys.list.iter().all(whole) && words > 0) else {
        return false;
    };
    let Some((home, line)) = first.handed else { return false };
    let mut names: Vec<String> = there.list.iter().filter_map(Val::word).collect();
    names.truncate(6);
    let suspect = seen.suspect(&home.path, line, Strength::Plain, say!(WHOLE_COMPARED, names));
    suspect.saw(&file.path, one.left.line(), say!(COMPARED_HERE));
    true
}

/// What is looked for is put in by a later line of the same file of data.
pub(super) fn asked_too_early<'a>(keys: &[&Val<'a>], there: &[Val<'a>], seen: &mut Seen) -> bool {
    for key in keys.iter().filter(|k| !k.file.language.is_code()) {
        let same: Vec<&Val<'a>> = there.iter().filter(|t| t.word() == key.word()).collect();
        let later = same.iter().all(|t| t.file.path == key.file.path && t.line > key.line);
        if same.is_empty() || !later {
            continue;
        }
        let name = key.word().unwrap_or_default();
        let line = same.iter().map(|t| t.line).min().unwrap_or(key.line);
        let reason = say!(ASKED_TOO_EARLY, name, line = line);
        seen.suspect(&key.file.path, key.line, Strength::Plain, reason).to(line);
        return true;
    }
    false
}

/// A type is handed what is asked for, and keeps it under another name.
fn kept_otherwise<'a>(eval: &Eval<'a, '_>, class: At<'a>, name: &str, seen: &mut Seen) -> bool {
    let Some(home) = eval.home_of(class) else { return false };
    let kept = class.whole().find(|n| {
        n.is(Kind::Field)
            && n.defines() == Some(How::Assigned)
            && !n.is_called(name)
            && n.function().is_some_and(|f| f.params().any(|p| p.is_called(name)))
            && n.assigned_value().is_some_and(|v| v.is(Kind::Name) && v.is_called(name))
    });
    let Some(kept) = kept else { return false };
    let other = kept.text().unwrap_or_default();
    let reason = say!(KEPT_OTHERWISE, name, other);
    seen.suspect(&home.path, kept.line(), Strength::Plain, reason);
    true
}

/// What is looked for is none of those that are there.
fn not_among<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    one: &Asked<'a>,
    seen: &mut Seen,
) -> bool {
    let (left, right) = (eval.of(file, one.left), eval.of(file, one.right));
    // Looked for is what comes from outside the loop; what is there is a member of each.
    let member = |n: At<'a>| n.is(Kind::Field) || n.is(Kind::Index);
    let (keys, mut there, turned) = match (member(one.left), member(one.right)) {
        (false, true) => (left, right, false),
        (true, false) => (right, left, true),
        _ => return false,
    };
    there.list.retain(|v| !(v.is_nothing() && v.missed.is_none()));
    let known = |v: &Vals<'a>| !v.list.is_empty() && v.list.iter().all(|v| v.word().is_some());
    if whole_compared(file, one, &keys, &there, seen) {
        return true;
    }
    if !known(&there) {
        return false;
    }
    let words: Vec<&Val<'a>> = keys.list.iter().filter(|k| k.word().is_some()).collect();
    let holds = |key: &Val<'a>, sign: &str| {
        there.list.iter().any(|t| match (key.number(), t.number()) {
            (Some(k), Some(t)) if turned => compare(sign, t, k) == Some(true),
            (Some(k), Some(t)) => compare(sign, k, t) == Some(true),
            _ => sign.starts_with('=') && key.word() == t.word(),
        })
    };
    let odd: Vec<&Val<'a>> = words.iter().copied().filter(|k| !holds(k, one.sign)).collect();
    // Where not all that is there is known, those that are found tell that the way is well.
    if there.lost && (odd.len() == words.len() || !one.sign.starts_with('=')) {
        return false;
    }
    let Some(first) = odd.first() else {
        return one.sign.starts_with('=') && asked_too_early(&words, &there.list, seen);
    };
    let name = first.word().unwrap_or_default();
    let mut names: Vec<String> = there.list.iter().filter_map(Val::word).collect();
    names.dedup();
    names.truncate(6);
    if one.sign.starts_with('=') && put_in_wrongly(query, &odd, &there.list, seen) {
        return true;
    }
    if one.sign.starts_with('=') {
        // Said by the console it is the one.
        let near = odd.iter().copied().find(|v| query.says(&v.word().unwrap_or_default()));
        let val = near.unwrap_or(first);
        let strength =
            if odd.len() == 1 || near.is_some() { Strength::Plain } else { Strength::Strong };
        for val in odd.iter().filter(|v| v.line == val.line || near.is_none()).take(3) {
            let word = val.word().unwrap_or_default();
            let reason = say!(NOT_AMONG, name = word, names = names.as_slice());
            let suspect = seen.suspect(&val.file.path, val.line, strength, reason);
            suspect.saw(&file.path, one.left.line(), say!(COMPARED_HERE));
        }
        return true;
    }
    let turned_sign = match one.sign {
        "<" => ">",
        "<=" => ">=",
        ">" => "<",
        _ => "<=",
    };
    let would = words.iter().all(|k| holds(k, turned_sign));
    if would && words.len() > odd.len() && there.list.len() > 1 {
        seen.suspect(
            &file.path,
            one.left.line(),
            Strength::Fair,
            say!(OTHER_WAY_ROUND, name, names),
        );
    } else {
        // The last of those that are there, or what is looked for.
        let largest = there.list.iter().filter(|t| t.number().is_some()).max_by(|a, b| {
            let (a, b) = (a.number().unwrap_or(0.0), b.number().unwrap_or(0.0));
            if one.sign.starts_with('<') != turned { a.total_cmp(&b) } else { b.total_cmp(&a) }
        });
        if let Some(end) = largest {
            let word = end.word().unwrap_or_default();
            let reason = say!(NONE_REACHES, name = word, other = name.as_str());
            let suspect = seen.suspect(&end.file.path, end.line, Strength::Fair, reason);
            suspect.saw(&file.path, one.left.line(), say!(COMPARED_HERE));
        }
        let reason = say!(NOT_AMONG, name, names);
        let suspect = seen.suspect(&first.file.path, first.line, Strength::Fair, reason);
        suspect.saw(&file.path, one.left.line(), say!(COMPARED_HERE));
    }
    true
}

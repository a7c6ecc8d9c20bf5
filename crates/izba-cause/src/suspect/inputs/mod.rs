//! inputs: what the failing expression may be, each value followed to where it is written; the one
//! that does not fit there, where the others do.

mod instead;
mod library;
mod made;
mod says;
mod search;
mod shape;
mod wording;

use crate::suspect::check::{Check, Seen, Strength};
use crate::suspect::need::{Need, needs};
use crate::suspect::query::Query;
use crate::suspect::value::{Eval, Missed, Val, Vals, What};
use izba_model::Family;
use izba_model::code::{At, Kind};
use izba_model::say;
use says::{
    ARRIVES, KINDS, LOOKED_UP, MADE_WRONGLY, NEVER_ASKED, NOTHING_HERE, NOTHING_WRITTEN,
    OFFERED_HERE, ONLY_VALUE, SPLIT_OTHERWISE,
};

use instead::instead;
use made::{head_line, is_fixed, made_wrongly, never_filled, to_be_converted};
use wording::{is_near, near_offered, not_offered, offered_words, owner_word, place_of, words};

use library::{gives_nothing_back, handed_crosswise, too_small};

/// The check for this: the value that does not fit, where it is written.
pub static CHECK: Check = Check {
    id: "inputs",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

/// Whether a kind only says that a value comes from there.
pub(super) fn is_general(kind: &izba_model::claim::Kind) -> bool {
    [&NOTHING_HERE, &NOTHING_WRITTEN, &ONLY_VALUE].contains(&kind)
}

/// A word that stands so often is one of the program's own.
const EVERYWHERE: usize = 4;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    let mut eval = Eval::new(query);
    handed_crosswise(query, &mut eval, file, seen);
    too_small(query, &mut eval, file, seen);
    for (operand, need) in needs(query) {
        if shape::of_callee(query, &mut eval, file, operand, seen) {
            return;
        }
        let vals = eval.of(file, operand);
        if gives_nothing_back(query, &vals, seen) {
            return;
        }
        if tell(query, &mut eval, &need, vals, seen) {
            return;
        }
    }
}

/// The values that do not fit, and how many do.
struct Parted<'a> {
    odd: Vec<Val<'a>>,
    fitting: usize,
    lost: bool,
}

/// Whether something was looked for and not found, and its name is not known.
fn is_nameless(val: &Val<'_>) -> bool {
    let unknown = |m: &Missed<'_>| matches!(m.key.what, What::AnyText | What::Nothing);
    val.missed.as_deref().is_some_and(unknown)
}

fn parted<'a>(query: &Query<'a>, need: &Need, vals: Vals<'a>) -> Parted<'a> {
    let mut parted = Parted { odd: Vec::new(), fitting: 0, lost: vals.lost };
    let others = vals.list.iter().filter(|v| need.fails(v) == Some(true) && !v.first).count();
    for val in vals.list {
        match need.fails(&val) {
            Some(true) if val.first && others > 0 => {}
            // What was looked for under nobody knows which name is not missing from what was searched.
            Some(true) if is_nameless(&val) => parted.lost = true,
            Some(true) => parted.odd.push(val),
            Some(false) => parted.fitting += 1,
            None => parted.lost |= !matches!(need, Need::NotKind(_)),
        }
    }
    // What the console quotes is the one.
    let said = |v: &Val<'a>| {
        let word = v.missed.as_ref().and_then(|m| m.key.word()).or_else(|| v.word());
        word.is_some_and(|w| {
            w.len() > 1 && query.mentioned.contains(&w) || w.len() > 2 && query.says(&w)
        })
    };
    if parted.odd.iter().any(&said) {
        let (told, rest): (Vec<_>, Vec<_>) = parted.odd.into_iter().partition(said);
        parted.fitting += rest.len();
        parted.odd = told;
    }
    parted
}

/// Whether a record of data lacks a key that others have, or that is a word of the program's own: it
/// stands there more than where it is looked up.
fn is_lacking(query: &Query<'_>, missed: &Missed<'_>) -> bool {
    let (What::Doc(_), Some(word)) = (&missed.owner.what, missed.key.word()) else { return false };
    let others = missed.offered.iter().any(|o| o.word().as_deref() == Some(word.as_str()));
    others || query.symbols.count(&word) >= EVERYWHERE
}

/// Whether what is looked up stands nowhere else, while one of those that are offered is a word that
/// nobody hands over: then it is no entry that was forgotten.
fn is_only_here(query: &Query<'_>, missed: &Missed<'_>) -> bool {
    let handed = |offered: &&Val<'_>| {
        let Some(word) = offered.word() else { return true };
        let mut others = query.named(&word).filter(|(f, n)| {
            matches!(n.kind(), Kind::Str | Kind::Pair)
                && (f.path != offered.file.path || n.line() != offered.line)
        });
        others.next().is_some()
    };
    let alone = missed.key.word().is_some_and(|word| query.symbols.count(&word) == 1);
    alone && missed.offered.iter().filter(|o| !handed(o)).count() == 1
}

fn tell<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    need: &Need,
    vals: Vals<'a>,
    seen: &mut Seen,
) -> bool {
    let Parted { mut odd, fitting, lost } = parted(query, need, vals);
    // Where others that came the same way fit, the way is well.
    let read = |v: &&mut Val<'a>| matches!(v.what, What::Text(_)) && !v.file.language.is_code();
    if fitting > 0 && matches!(need, Need::NotKind(_)) {
        odd.iter_mut().filter(read).for_each(|v| v.handed = None);
    }
    if to_be_converted(query, need, &odd, seen) {
        return true;
    }
    let mut lines: Vec<(&str, u32)> = odd
        .iter()
        .map(|v| place_of(need, v))
        .map(|(file, line)| (file.path.as_ref(), line))
        .collect();
    lines.sort_unstable();
    lines.dedup();
    let Some(first) = odd.first() else { return false };
    if first.is_nothing()
        && first.first
        && first.missed.is_none()
        && search::found_nothing(query, eval, first, seen)
    {
        return true;
    }
    if shape::text_is_kept(query, need, &odd, seen) {
        return true;
    }
    if shape::told(query, need, &odd, seen) {
        return true;
    }
    if let Some(missed) = &first.missed
        && instead(query, eval, missed, &odd, seen)
    {
        return true;
    }
    if let Some(missed) = &first.missed {
        // Code and data differ by a slip: which of the two is right only a word that the program uses
        // everywhere says.
        if matches!(missed.owner.what, What::Doc(_))
            && missed.key.file.language.is_code()
            && fitting == 0
            && let Some((near, name)) = near_offered(missed)
        {
            if !is_lacking(query, missed) {
                return false;
            }
            let other = missed.key.word().unwrap_or_default();
            let says = say!(NEVER_ASKED, name, other);
            let suspect = seen.suspect(&near.file.path, near.line, Strength::Plain, says);
            suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
            return true;
        }
        if missed.offered.is_empty() && never_filled(query, eval, missed, seen) {
            return true;
        }
        // Where nobody knows what was looked for, nothing is known to be missing elsewhere.
        let here = missed.key.line == first.line && missed.key.file.path == first.file.path;
        if !here && missed.key.word().is_none_or(|word| word.is_empty()) {
            return false;
        }
        // What is written in the code as it stands is no value that came in; unless a record lacks what
        // others have, or what the program calls so everywhere.
        if is_fixed(missed) && !is_lacking(query, missed) {
            return false;
        }
        if let Some((file, by)) =
            missed.key.by.or(Some(missed.site).filter(|_| missed.key.by.is_some()))
            && made_wrongly(missed, &odd, fitting)
        {
            let name = missed.key.word().unwrap_or_default();
            let written = missed.key.written.as_deref().unwrap_or_default();
            let sign = by.arguments().next().and_then(At::text).unwrap_or_default();
            let reason = match name == written {
                true => say!(SPLIT_OTHERWISE, sign, text = written),
                false => say!(MADE_WRONGLY, name, written),
            };
            let suspect = seen.suspect(&file.path, by.line(), Strength::Plain, reason);
            suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
            return true;
        }
    }
    // What stands on the reported line itself is told already.
    let on_report = |v: &Val<'_>| {
        let (file, line) = place_of(need, v);
        line == query.line && Some(&file.path) == query.path()
    };
    let several = lines.len();
    if several == 1 && head_line(query, first, seen) {
        return true;
    }
    if several > 3 || several > 1 && fitting == 0 {
        return false;
    }
    let mut strength = match (several, fitting, lost) {
        (1, 1.., false) => Strength::Plain,
        (1, 1.., true) => Strength::Strong,
        (1, 0, false) if first.missed.is_some() => Strength::Plain,
        (1, 0, false) => Strength::Strong,
        // All that is known was kept so in one place.
        (1, 0, true) if odd.len() > 1 && matches!(need, Need::NotKind(_)) => Strength::Fair,
        (1, 0, true) => Strength::Fair,
        (_, _, false) => Strength::Fair,
        _ => Strength::Weak,
    };
    // What only stood there first was given another value that comes too late or not at all.
    if first.first {
        strength = strength.min(Strength::Weak);
    }
    // A word that is like none of those that are offered may be right, and its entry missing.
    if let Some(missed) = first.missed.clone().filter(|m| m.key.line == first.line && !is_near(m)) {
        strength = strength.min(Strength::Strong);
        if !is_only_here(query, &missed) {
            not_offered(&missed, seen);
        }
    }
    // A key that is written where it fails may be the wrong one, where no other record has it.
    let at_report = |m: &Missed<'_>| {
        m.key.line != first.line
            && m.key.line == query.line
            && Some(&m.key.file.path) == query.path()
    };
    if fitting == 0 && first.missed.as_deref().is_some_and(at_report) {
        strength = strength.min(Strength::Strong);
    }
    let mut any = false;
    let mut told: Vec<(&str, u32)> = Vec::new();
    for val in odd.iter().filter(|v| !on_report(v)) {
        let place = place_of(need, val);
        if told.contains(&(place.0.path.as_ref(), place.1)) {
            continue;
        }
        told.push((place.0.path.as_ref(), place.1));
        let (file, line) = place_of(need, val);
        let suspect = seen.suspect(&file.path, line, strength, words(need, val, query, fitting));
        if let Some(missed) = &val.missed {
            suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
            let names = offered_words(missed);
            if !names.is_empty() {
                let what = owner_word(missed);
                let line = missed.owner.line;
                suspect.saw(&missed.owner.file.path, line, say!(OFFERED_HERE, what, names));
            }
        }
        if let Some(path) = query.path() {
            suspect.saw(path, query.line, say!(ARRIVES));
        }
        any = true;
    }
    any && strength >= Strength::Strong
}

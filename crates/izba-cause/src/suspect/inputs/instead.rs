//! A search found nothing, and it is not what was looked for that is wrong, but what is offered.

use super::made::is_fixed;
use super::says::{
    BELONGS_TO_TYPE, LOCAL_ONLY, LOOKED_UP, MADE_HERE, NEVER_ASKED, NEVER_SET, NOT_HANDED_OUT,
    NOT_HANDED_OVER, NOT_REGISTERED,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::value::{Eval, Missed, Val, What};
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, name_edit, stem_words};
use izba_model::dialect::HandsOut;
use izba_model::say;

/// A search found nothing, and it is not what was looked for that is wrong, but what is offered.
pub(super) fn instead<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    odd: &[Val<'a>],
    seen: &mut Seen,
) -> bool {
    let Some(word) = missed.key.word() else { return false };
    belongs_to_type(query, missed, &word, seen)
        || not_registered(query, eval, missed, &word, seen)
        || not_handed_over(missed, &word, odd, seen)
        || never_asked(query, missed, &word, odd, seen)
        || offered_misspelt(query, missed, &word, seen)
        || only_other_put(query, missed, &word, seen)
        || is_fixed(missed)
            && (not_handed_out(missed, &word, seen) || never_set(eval, missed, &word, seen))
}

/// A function takes its argument apart, and a call hands over a table without that part: most often
/// under another name, as an attribute of a component.
fn not_handed_over(missed: &Missed<'_>, word: &str, odd: &[Val<'_>], seen: &mut Seen) -> bool {
    let (home, param) = missed.site;
    let What::Table(table) = missed.owner.what else { return false };
    let file = missed.owner.file;
    let given =
        table.parent().is_some_and(|p| p.is(Kind::Call) && p.arguments().any(|a| a == table));
    // What is spread out may hold it.
    let spread = file.text.get(table.span().0..table.span().1).is_none_or(|t| t.contains("..."));
    let elsewhere =
        odd.iter().any(|v| v.missed.as_ref().is_none_or(|m| m.owner.line != missed.owner.line));
    if !param.is(Kind::Param) || !given || spread || elsewhere {
        return false;
    }
    let asked: Vec<&str> =
        param.parent().into_iter().flat_map(At::children).filter_map(At::text).collect();
    let slip = |name: &str| {
        name_edit(word, name).is_some_and(|edit| edit <= NameEdit::Letters)
            && !asked.contains(&name)
    };
    let pairs = table.children().filter(|p| p.is(Kind::Pair));
    let mut near = pairs.filter(|p| p.text().is_some_and(slip));
    let suspect = match (near.next(), near.next()) {
        (Some(pair), None) => {
            let says = say!(NEVER_ASKED, name = pair.text().unwrap_or_default(), other = word);
            seen.suspect(&file.path, pair.line(), Strength::Plain, says)
        }
        _ => {
            let function = param.function().and_then(At::text).unwrap_or("the function");
            let says = say!(NOT_HANDED_OVER, name = word, function);
            seen.suspect(&file.path, table.line(), Strength::Strong, says)
        }
    };
    suspect.saw(&home.path, param.line(), say!(LOOKED_UP));
    true
}

/// A script makes it and does not hand it out.
pub(super) fn not_handed_out(missed: &Missed<'_>, word: &str, seen: &mut Seen) -> bool {
    let home = match missed.owner.what {
        What::Module(home) => home,
        What::Table(table) if missed.owner.file.path != missed.site.0.path => {
            // A list or table of the script is not what it hands out.
            let home = missed.owner.file;
            let step = table.step();
            let handed = step.is(Kind::Return) || step.whole().any(|n| n.is_called("exports"));
            if home.language.hands_out == Some(HandsOut::Exports) && !handed {
                return false;
            }
            home
        }
        _ => return false,
    };
    let made = home.tree.named(word).find(|n| {
        n.defines().is_some_and(|how| !matches!(how, How::Parameter | How::Key | How::Loop))
            && n.function().is_none()
            && n.class().is_none()
    });
    let Some(made) = made else { return false };
    if home.language.hands_out == Some(HandsOut::Globals) {
        let reason = say!(LOCAL_ONLY, name = word, file = home.name());
        let suspect = seen.suspect(&home.path, made.line(), Strength::Plain, reason);
        suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
        return true;
    }
    let exports: Vec<u32> = home
        .tree
        .named("exports")
        .map(|n| n.step())
        .chain(home.tree.root().and_then(|r| r.children().last()).filter(|n| n.is(Kind::Return)))
        .flat_map(|s| [s.line(), s.last_line()])
        .collect();
    let (Some(from), Some(to)) = (exports.iter().min(), exports.iter().max()) else { return false };
    let reason = say!(NOT_HANDED_OUT, file = home.name(), name = word);
    let suspect = seen.suspect(&home.path, *from, Strength::Plain, reason);
    suspect.to(*to).saw(&home.path, made.line(), say!(MADE_HERE, name = word));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// An object gets its fields in one place, and this one is not among them.
pub(super) fn never_set<'a>(
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    word: &str,
    seen: &mut Seen,
) -> bool {
    let made = match missed.owner.what {
        What::Table(table) | What::Object(_, Some(table)) => table,
        _ => return false,
    };
    let (puts, _) = eval.puts(missed.owner.file, made);
    let function = made.function();
    let lines: Vec<u32> = puts
        .iter()
        .filter(|p| {
            p.named.is_some()
                && p.file.path == missed.owner.file.path
                && p.at.function() == function
        })
        .map(|p| p.at.line())
        .collect();
    let (Some(from), Some(to), Some(function)) = (lines.iter().min(), lines.iter().max(), function)
    else {
        return false;
    };
    // A value for it is handed over, and not kept.
    let parameter = function.params().any(|p| {
        p.is_called(word) && {
            let used = function.whole().filter(|n| n.is(Kind::Name) && n.is_called(word)).count();
            used == 0
        }
    });
    let strength = if parameter { Strength::Plain } else { Strength::Fair };
    let path = &missed.owner.file.path;
    let reason = say!(NEVER_SET, name = word);
    let suspect = seen.suspect(path, from.saturating_sub(1).max(made.line()), strength, reason);
    suspect.to(*to).saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    strength > Strength::Strong
}

/// An object is asked for what its type keeps for itself.
pub(super) fn belongs_to_type(
    query: &Query<'_>,
    missed: &Missed<'_>,
    word: &str,
    seen: &mut Seen,
) -> bool {
    let What::Object(class, _) = missed.owner.what else { return false };
    let fixed = |(_, n): &(&FileFacts, At<'_>)| {
        n.is(Kind::Func) && n.has(Flag::Static) && n.class() == Some(class)
    };
    let mut members = query.named(word);
    let Some((file, member)) = members.find(fixed) else { return false };
    let suspect = seen.suspect(
        &file.path,
        member.line(),
        Strength::Plain,
        say!(BELONGS_TO_TYPE, name = word),
    );
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// A function is made for it, and not put in where its siblings are.
pub(super) fn not_registered<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    word: &str,
    seen: &mut Seen,
) -> bool {
    let (owner, table) = match missed.owner.what {
        What::Table(table) => (&missed.owner, table),
        _ => return false,
    };
    let (puts, _) = eval.puts(owner.file, table);
    let pairs = table
        .children()
        .filter(|c| c.is(Kind::Pair))
        .map(|p| (owner.file, p.line(), p.text(), p.children().last()));
    let entries = puts
        .iter()
        .map(|p| (p.file, p.at.line(), p.named.or_else(|| p.key.and_then(At::text)), p.value));
    // What is handed over by its name, beside the key under which it stands.
    let named: Vec<(&'a FileFacts, u32, &str, &'a str)> = pairs
        .chain(entries)
        .filter_map(|(file, line, key, value)| {
            let value = value.filter(|v| matches!(v.kind(), Kind::Name | Kind::Field))?;
            Some((file, line, key?, value.last_name()?))
        })
        .collect();
    if named.is_empty() {
        return false;
    }
    // How the names of functions are made of keys, told by the siblings.
    let made = |candidate: &str| {
        named
            .iter()
            .any(|(_, _, key, value)| as_sibling(key, value, word).as_deref() == Some(candidate))
    };
    let functions = query
        .scope
        .iter()
        .flat_map(|f| f.tree.all().filter(|n| n.is(Kind::Func)).map(move |n| (*f, n)));
    let mut fitting = functions.filter(|(_, n)| n.text().is_some_and(&made));
    let Some((home, function)) = fitting.next() else { return false };
    let name = function.text().unwrap_or_default();
    if named.iter().any(|(_, _, _, value)| *value == name) {
        return false;
    }
    let file = named[0].0;
    let lines = named.iter().filter(|(f, ..)| f.path == file.path).map(|(_, line, ..)| *line);
    let (from, to) = (lines.clone().min().unwrap_or(1), lines.max().unwrap_or(1));
    let names: Vec<&str> = named.iter().map(|(_, _, _, value)| *value).collect();
    let suspect = seen.suspect(
        &file.path,
        from.saturating_sub(1).max(1),
        Strength::Plain,
        say!(NOT_REGISTERED, names = names.as_slice(), name),
    );
    suspect.to(to + 1).saw(&home.path, function.line(), say!(MADE_HERE, name));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// The name that a function would have for a key, as a sibling's is made of its own.
pub(super) fn as_sibling(key: &str, value: &str, word: &str) -> Option<String> {
    let at = value.to_lowercase().find(&key.to_lowercase()).filter(|_| !key.is_empty())?;
    let (before, inside, after) =
        (&value[..at], value.get(at..at + key.len())?, value.get(at + key.len()..)?);
    let capital = inside.starts_with(char::is_uppercase) && !key.starts_with(char::is_uppercase);
    let word = if capital {
        let mut chars = word.chars();
        chars.next()?.to_uppercase().collect::<String>() + chars.as_str()
    } else {
        word.to_owned()
    };
    Some(format!("{before}{word}{after}"))
}

/// What is offered under nearly that name is made of a word that stands nowhere else, and what is
/// looked up of one that does: `ArrowDwon` beside `ArrowDown`, where `down` stands too.
fn offered_misspelt(query: &Query<'_>, missed: &Missed<'_>, word: &str, seen: &mut Seen) -> bool {
    let slip = |name: &String| {
        name_edit(word, name).is_some_and(|edit| edit <= NameEdit::Letters)
            && query.symbols.count(name) == 1
    };
    let mut near = missed.offered.iter().filter(|v| v.word().as_ref().is_some_and(slip));
    let (Some(val), None) = (near.next(), near.next()) else { return false };
    let name = val.word().unwrap_or_default();
    let (own, other) = (stem_words(&name), stem_words(word));
    let mut unlike = own.iter().zip(&other).filter(|(a, b)| a != b);
    let (Some((odd, right)), None) = (unlike.next(), unlike.next()) else { return false };
    // A name of one word says nothing more than itself.
    if own.len() < 2 || own.len() != other.len() {
        return false;
    }
    let known = |part: &str, but: &str| {
        let texts = query.symbols.iter().map(|(text, _)| text).filter(|t| *t != but);
        texts.into_iter().any(|t| stem_words(t).iter().any(|w| w == part))
    };
    if known(odd, &name) || !known(right, word) {
        return false;
    }
    let says = say!(NEVER_ASKED, name = name.as_str(), other = word);
    let suspect = seen.suspect(&val.file.path, val.line, Strength::Plain, says);
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    suspect.saw(&missed.key.file.path, missed.key.line, say!(LOOKED_UP));
    true
}

/// Something is put in under a name that is handed over, and one that nobody puts in is looked up:
/// where only one name is put in that nobody looks up, the two were meant for each other.
fn only_other_put(query: &Query<'_>, missed: &Missed<'_>, word: &str, seen: &mut Seen) -> bool {
    let What::Table(table) = missed.owner.what else { return false };
    // What is written out whole holds what it should.
    if table.children().next().is_some() || !is_fixed(missed) || query.symbols.count(word) > 1 {
        return false;
    }
    // Of the same one, that is: others have members of that name too.
    let owner = missed.site.1.child(0).and_then(At::last_name);
    let asked = |name: &str| {
        let mut used = query.named(name).filter(|(_, n)| n.is(Kind::Field));
        used.any(|(_, n)| n.child(0).and_then(At::last_name) == owner)
    };
    let handed = |v: &&Val<'_>| v.handed.is_some() && v.word().is_some_and(|w| !asked(&w));
    let mut others = missed.offered.iter().filter(handed);
    let (Some(val), None) = (others.next(), others.next()) else { return false };
    let name = val.word().unwrap_or_default();
    let says = say!(NEVER_ASKED, name = name.as_str(), other = word);
    let suspect = seen.suspect(&val.file.path, val.line, Strength::Strong, says);
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// It is looked up again and again, and what is offered under nearly that name never is.
pub(super) fn never_asked(
    query: &Query<'_>,
    missed: &Missed<'_>,
    word: &str,
    odd: &[Val<'_>],
    seen: &mut Seen,
) -> bool {
    let same = odd
        .iter()
        .filter(|v| v.missed.as_ref().is_some_and(|m| m.key.word().as_deref() == Some(word)));
    let in_code = query.symbols.count(word);
    // Put together in code, the key is right where others that were put together so are.
    let computed = missed.key.written.as_deref().is_some_and(|w| w != word) && odd.len() == 1;
    let often = same.count() >= 2 || in_code >= 2 || computed;
    if !often {
        return false;
    }
    let alone = |name: &str| query.symbols.count(name) == 1;
    let slip = |name: &str| name_edit(word, name).is_some_and(|edit| edit <= NameEdit::Letters);
    let by_slip =
        missed.offered.iter().filter_map(Val::word).filter(|n| alone(n) && slip(n)).count();
    let near = |name: &str| {
        slip(name)
            || by_slip == 0
                && (name.len() >= word.len() + 2 && word.len() > 2 && name.contains(word)
                    || stem_words(word).iter().any(|w| w.len() > 2 && stem_words(name).contains(w)))
    };
    let mut fitting = missed
        .offered
        .iter()
        .filter_map(|v| Some((v, v.word()?)))
        .filter(|(_, name)| alone(name) && near(name));
    let Some((val, name)) = fitting.next() else { return false };
    if fitting.next().is_some() {
        return false;
    }
    let suspect = seen.suspect(
        &val.file.path,
        val.line,
        Strength::Plain,
        say!(NEVER_ASKED, name, other = word),
    );
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

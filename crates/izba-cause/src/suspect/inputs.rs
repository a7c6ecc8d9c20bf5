//! inputs: what the failing expression may be, each value followed to where it is written; the one
//! that does not fit there, where the others do.

use super::check::{Check, Seen};
use super::need::{Need, kind_of, needs, plain};
use super::query::Query;
use crate::value::{Eval, Missed, Val, Vals, What};
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, name_edit, stem_words};
use izba_model::dialect::HandsOut;
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "inputs", Any, "../../words/suspects/inputs.toml";
    GIVES_NOTHING = "gives-nothing",
    NOTHING_HERE = "nothing-here",
    NOTHING_WRITTEN = "nothing-written",
    ODD_VALUE = "odd-value",
    ONLY_VALUE = "only-value",
    OFFERED_HERE = "offered-here",
    NEVER_ASKED = "never-asked",
    NOT_REGISTERED = "not-registered",
    MADE_HERE = "made-here",
    BELONGS_TO_TYPE = "belongs-to-type",
    LOOKED_UP = "looked-up",
    ARRIVES = "arrives",
    LACKS = "lacks",
    ASKS_TOO_FAR = "asks-too-far",
    MADE_WRONGLY = "made-wrongly",
    LOOP_DOES_NOTHING = "loop-does-nothing",
    NOTHING_PUT_IN = "nothing-put-in",
    NOT_HANDED_OUT = "not-handed-out",
    NEVER_SET = "never-set",
    LOCAL_ONLY = "local-only",
    HEAD_LINE = "head-line",
    FUNCTION_ITSELF = "function-itself",
    STAYS_TEXT = "stays-text",
    NOT_OFFERED = "not-offered",
    NOT_CONVERTED = "not-converted",
    HANDED_CROSSWISE = "handed-crosswise",
    TOO_SMALL = "too-small",
    NO_RETURN_AT_END = "no-return-at-end",
}

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

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    let mut eval = Eval::new(query);
    handed_crosswise(query, &mut eval, file, seen);
    too_small(query, &mut eval, file, seen);
    for (operand, need) in needs(query) {
        let vals = eval.of(file, operand);
        if gives_nothing_back(query, &vals, seen) {
            return;
        }
        if tell(query, &mut eval, &need, vals, seen) {
            return;
        }
    }
}

/// A function of the language is handed its arguments in another order: what it wants is there, at
/// another place.
fn handed_crosswise<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    seen: &mut Seen,
) {
    let fact = |key: &str| query.entry.facts.get(key).map(String::as_str);
    let (Some(callee), Some(want), Some(have)) =
        (fact("callee"), fact("want").and_then(plain), fact("have").and_then(plain))
    else {
        return;
    };
    let last = callee.rsplit(['.', ':']).next().unwrap_or(callee);
    let calls = query.on_line().filter(|n| n.is(Kind::Call) && n.last_name() == Some(last));
    for call in calls.collect::<Vec<_>>() {
        let kinds: Vec<Vec<&str>> = call
            .arguments()
            .map(|a| eval.of(file, a).list.iter().filter_map(kind_of).collect())
            .collect();
        let only =
            |kinds: &Vec<&str>, kind: &str| !kinds.is_empty() && kinds.iter().all(|k| *k == kind);
        let got = kinds.iter().position(|k| only(k, have));
        let wanted = kinds.iter().position(|k| only(k, want));
        if let (Some(got), Some(wanted)) = (got, wanted)
            && got < wanted
        {
            let reason =
                say!(HANDED_CROSSWISE, function = last, number = got + 1, other = wanted + 1);
            seen.suspect(&file.path, call.line(), 0.9, reason);
        }
    }
}

static LENGTH: Pattern =
    Pattern::new(r"(?i)(?:for length|out of bounds for length|length is) (?<n>\d+)");

/// A list was made for so many entries, by a number that is written somewhere.
fn too_small<'a>(query: &Query<'a>, eval: &mut Eval<'a, '_>, file: &'a FileFacts, seen: &mut Seen) {
    let told = LENGTH.captures(&query.said).and_then(|c| c.name("n")?.as_str().parse::<f64>().ok());
    let Some(length) = told.filter(|_| query.family() == Family::OutOfRange) else { return };
    let lists: Vec<&str> = query
        .on_line()
        .filter(|n| n.is(Kind::Index))
        .filter_map(|n| n.child(0)?.last_name())
        .collect();
    for list in lists {
        let made: Vec<At<'a>> = file
            .tree
            .named(list)
            .filter_map(At::assigned_value)
            .filter(|v| v.is(Kind::New) && (v.is_called("[]") || v.is_called("Array")))
            .collect();
        for made in made {
            let Some(size) =
                made.whole().skip(1).find(|n| !matches!(n.kind(), Kind::Type | Kind::Other))
            else {
                continue;
            };
            let sizes = eval.of(file, size);
            let [one] = sizes.list.as_slice() else { continue };
            let here = one.line == query.line && one.file.path == file.path;
            if one.number() == Some(length) && !sizes.lost && !here {
                let reason = say!(TOO_SMALL, name = list, count = length.to_string());
                let suspect = seen.suspect(&one.file.path, one.line, 0.82, reason);
                suspect.saw(&file.path, made.line(), say!(MADE_HERE, name = list));
            }
        }
    }
}

/// A script that is brought in gives nothing back, so that those who bring it in get yes.
fn gives_nothing_back(query: &Query<'_>, vals: &Vals<'_>, seen: &mut Seen) -> bool {
    if !query.said.contains("boolean value") {
        return false;
    }
    let home = vals.list.iter().find_map(|v| match v.what {
        What::Module(home) if home.language.hands_out == Some(HandsOut::Globals) => Some(home),
        _ => None,
    });
    let Some(home) = home else { return false };
    let last = home.text.trim_end().lines().count().max(1) as u32;
    let reason = say!(NO_RETURN_AT_END, file = home.name());
    seen.suspect(&home.path, last, 0.94, reason).to(last + 1);
    true
}

/// The values that do not fit, and how many do.
struct Parted<'a> {
    odd: Vec<Val<'a>>,
    fitting: usize,
    lost: bool,
}

fn parted<'a>(query: &Query<'a>, need: &Need, vals: Vals<'a>) -> Parted<'a> {
    let mut parted = Parted { odd: Vec::new(), fitting: 0, lost: vals.lost };
    let others = vals.list.iter().filter(|v| need.fails(v) == Some(true) && !v.first).count();
    for val in vals.list {
        match need.fails(&val) {
            Some(true) if val.first && others > 0 => {}
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

fn tell<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    need: &Need,
    vals: Vals<'a>,
    seen: &mut Seen,
) -> bool {
    let Parted { odd, fitting, lost } = parted(query, need, vals);
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
    if let Some(missed) = &first.missed
        && instead(query, eval, missed, &odd, seen)
    {
        return true;
    }
    if let Some(missed) = &first.missed {
        if missed.offered.is_empty() && never_filled(query, eval, missed, seen) {
            return true;
        }
        // What is written in the code as it stands is no value that came in.
        if is_fixed(missed) {
            return false;
        }
        if let Some((file, by)) =
            missed.key.by.or(Some(missed.site).filter(|_| missed.key.by.is_some()))
            && made_wrongly(missed, &odd, fitting)
        {
            let name = missed.key.word().unwrap_or_default();
            let written = missed.key.written.as_deref().unwrap_or_default();
            let reason = say!(MADE_WRONGLY, name, written);
            let suspect = seen.suspect(&file.path, by.line(), 0.88, reason);
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
    let mut sure: f32 = match (several, fitting, lost) {
        (1, 2.., false) => 0.92,
        (1, 1, false) => 0.88,
        (1, 1.., true) => 0.8,
        (1, 0, false) if first.missed.is_some() => 0.86,
        (1, 0, false) => 0.74,
        // All that is known was kept so in one place.
        (1, 0, true) if odd.len() > 1 && matches!(need, Need::NotKind(_)) => 0.72,
        (1, 0, true) => 0.55,
        (_, _, false) => 0.6,
        _ => 0.5,
    };
    // What only stood there first was given another value that comes too late or not at all.
    if first.first {
        sure = sure.min(if lost { 0.4 } else { 0.52 });
    }
    // A word that is like none of those that are offered may be right, and its entry missing.
    if let Some(missed) = first.missed.clone().filter(|m| m.key.line == first.line && !is_near(m)) {
        sure = sure.min(0.82);
        not_offered(&missed, seen);
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
        let suspect = seen.suspect(&file.path, line, sure, words(need, val, query, fitting));
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
    any && sure >= 0.8
}

/// Whether the name that was looked for is written where it was looked for.
fn is_fixed(missed: &Missed<'_>) -> bool {
    let (file, site) = missed.site;
    missed.key.file.path == file.path
        && missed.key.line == site.line()
        && !matches!(site.kind(), Kind::Index | Kind::Call)
}

/// Whether what was written is well, and what was made of it is not: it stands among what is
/// offered, or everything that was made so is the same.
fn made_wrongly(missed: &Missed<'_>, odd: &[Val<'_>], fitting: usize) -> bool {
    let Some(written) = missed.key.written.as_deref() else { return false };
    let word = missed.key.word().unwrap_or_default();
    if word == written {
        return false;
    }
    let offered = missed.offered.iter().any(|v| v.word().as_deref() == Some(written));
    let keys: Vec<&Val<'_>> =
        odd.iter().filter_map(|v| v.missed.as_ref().map(|m| &m.key)).collect();
    let all_empty =
        fitting == 0 && keys.len() > 1 && keys.iter().all(|k| k.word().as_deref() == Some(""));
    offered || all_empty
}

/// A list or table that nothing is put into: the loop that should have done it, or where it is made.
fn never_filled<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    seen: &mut Seen,
) -> bool {
    let What::Table(table) = missed.owner.what else { return false };
    // What only stands in for what may not be there is empty on purpose.
    let instead = table.parent().is_some_and(|p| p.is(Kind::Bin));
    if instead
        || table.children().next().is_some()
        || !eval.puts(missed.owner.file, table).0.is_empty()
    {
        return false;
    }
    let file = missed.owner.file;
    let name = owner_word(missed);
    let empty = |n: &At<'_>| {
        n.is(Kind::ForIn) && n.part(Kind::Block).is_some_and(|b| b.children().next().is_none())
    };
    let mut loops =
        query.scope.iter().flat_map(|f| f.tree.all().filter(empty).map(move |n| (*f, n)));
    let (home, at, to, reason) = match loops.next() {
        Some((home, at)) => (home, at.line(), at.line() + 1, say!(LOOP_DOES_NOTHING, name)),
        None => (file, table.line(), table.line(), say!(NOTHING_PUT_IN, name)),
    };
    let suspect = seen.suspect(&home.path, at, 0.86, reason);
    suspect.to(to).saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// A number that is counted with elsewhere is put to a text: the conversion is missing here.
fn to_be_converted(query: &Query<'_>, need: &Need, odd: &[Val<'_>], seen: &mut Seen) -> bool {
    let joins = query.said.contains("concatenate") && *need == Need::NotKind("number".into());
    let Some(path) = query.path().filter(|_| joins && !odd.is_empty()) else { return false };
    let converts = query.on_line().any(|n| {
        n.is(Kind::Call) && matches!(n.last_name(), Some("str" | "tostring" | "String" | "format"))
    });
    if converts {
        seen.suspect(path, query.line, 0.87, say!(NOT_CONVERTED));
    }
    converts
}

/// The first line of a table that names its columns is read like the others: the loop begins one
/// too early.
fn head_line(query: &Query<'_>, val: &Val<'_>, seen: &mut Seen) -> bool {
    let plain = |text: &str| !text.is_empty() && text.parse::<f64>().is_err();
    let (Some(word), 1) = (val.word(), val.line) else { return false };
    let data = !val.file.language.is_code();
    let signs = [',', ';', '|', '\t'];
    let head: Vec<&str> =
        val.file.line(1).unwrap_or_default().split(signs).map(str::trim).collect();
    let next: Vec<&str> =
        val.file.line(2).unwrap_or_default().split(signs).map(str::trim).collect();
    let is_head = data
        && head.len() > 1
        && head.iter().all(|h| plain(h))
        && next.iter().any(|n| n.parse::<f64>().is_ok())
        && head.contains(&word.as_str());
    let Some(file) = query.file.filter(|_| is_head) else { return false };
    let mut around = query.on_line().next().into_iter().flat_map(At::ancestors);
    let around =
        around.find(|n| matches!(n.kind(), Kind::For | Kind::ForIn | Kind::While));
    let Some(around) = around else { return false };
    let suspect = seen.suspect(&file.path, around.line(), 0.88, say!(HEAD_LINE, name = word));
    suspect.saw(&val.file.path, 1, Saying::quote(val.file.line(1).unwrap_or_default().trim()));
    true
}

/// What is said of a value that does not fit.
fn words(need: &Need, val: &Val<'_>, query: &Query<'_>, fitting: usize) -> Saying {
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
            match word {
                Some(name) => say!(NOTHING_WRITTEN, name, line = query.line),
                None => say!(NOTHING_HERE, line = query.line),
            }
        }
    }
}

/// Where a value that does not fit is to be put right: of what is kept elsewhere where it was handed
/// over, of a text that was read where it was kept without being converted.
fn place_of<'a>(need: &Need, val: &Val<'a>) -> (&'a FileFacts, u32) {
    let read = matches!(val.what, What::Text(_)) && !val.file.language.is_code();
    let whole =
        matches!(val.what, What::Table(_) | What::Object(..) | What::Func(_) | What::AnyText);
    val.handed
        .filter(|_| whole || read && matches!(need, Need::NotKind(_)))
        .unwrap_or((val.file, val.line))
}

/// Whether what was looked for is one slip away from something that is offered.
fn is_near(missed: &Missed<'_>) -> bool {
    let Some(word) = missed.key.word() else { return false };
    offered_words(missed)
        .iter()
        .any(|o| name_edit(&word, o).is_some_and(|e| e <= NameEdit::Letters))
}

/// The other way to see it: what is offered lacks an entry.
fn not_offered(missed: &Missed<'_>, seen: &mut Seen) {
    let What::Table(table) = missed.owner.what else { return };
    let names = offered_words(missed);
    if names.is_empty() || table.children().next().is_none() {
        return;
    }
    let word = missed.key.word().unwrap_or_default();
    let file = missed.owner.file;
    let reason = say!(NOT_OFFERED, names, name = word);
    let suspect = seen.suspect(&file.path, table.line(), 0.76, reason);
    suspect.to(table.last_line().max(table.line()));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
}

fn offered_words(missed: &Missed<'_>) -> Vec<String> {
    let mut names: Vec<String> = missed.offered.iter().filter_map(Val::word).collect();
    names.sort_unstable();
    names.dedup();
    names.truncate(6);
    names
}

/// What was searched, by a name.
fn owner_word(missed: &Missed<'_>) -> String {
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

/// A search found nothing, and it is not what was looked for that is wrong, but what is offered.
fn instead<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    odd: &[Val<'a>],
    seen: &mut Seen,
) -> bool {
    let Some(word) = missed.key.word() else { return false };
    belongs_to_type(query, missed, &word, seen)
        || not_registered(query, eval, missed, &word, seen)
        || never_asked(query, missed, &word, odd, seen)
        || is_fixed(missed)
            && (not_handed_out(query, missed, &word, seen)
                || never_set(query, eval, missed, &word, seen))
}

/// A script makes it and does not hand it out.
fn not_handed_out(query: &Query<'_>, missed: &Missed<'_>, word: &str, seen: &mut Seen) -> bool {
    let home = match missed.owner.what {
        What::Module(home) => home,
        What::Table(_) if missed.owner.file.path != missed.site.0.path => missed.owner.file,
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
        let suspect = seen.suspect(&home.path, made.line(), 0.9, reason);
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
    let suspect = seen.suspect(&home.path, *from, 0.9, reason);
    suspect.to(*to).saw(&home.path, made.line(), say!(MADE_HERE, name = word));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    let _ = query;
    true
}

/// An object gets its fields in one place, and this one is not among them.
fn never_set<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    word: &str,
    seen: &mut Seen,
) -> bool {
    let made = match missed.owner.what {
        What::Table(table) | What::Object(_, Some(table)) => table,
        _ => return false,
    };
    let (puts, escapes) = eval.puts(missed.owner.file, made);
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
    let sure = if parameter { 0.9 } else { 0.62 };
    let path = &missed.owner.file.path;
    let reason = say!(NEVER_SET, name = word);
    let suspect = seen.suspect(path, from.saturating_sub(1).max(made.line()), sure, reason);
    suspect.to(*to).saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    let _ = (query, escapes);
    sure > 0.8
}

/// An object is asked for what its type keeps for itself.
fn belongs_to_type(query: &Query<'_>, missed: &Missed<'_>, word: &str, seen: &mut Seen) -> bool {
    let What::Object(class, _) = missed.owner.what else { return false };
    let fixed = |(_, n): &(&FileFacts, At<'_>)| {
        n.is(Kind::Func) && n.has(Flag::Static) && n.class() == Some(class)
    };
    let mut members = query.scope.iter().flat_map(|f| f.tree.named(word).map(move |n| (*f, n)));
    let Some((file, member)) = members.find(fixed) else { return false };
    let suspect = seen.suspect(&file.path, member.line(), 0.9, say!(BELONGS_TO_TYPE, name = word));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// A function is made for it, and not put in where its siblings are.
fn not_registered<'a>(
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
        0.9,
        say!(NOT_REGISTERED, names = names.as_slice(), name),
    );
    suspect.to(to + 1).saw(&home.path, function.line(), say!(MADE_HERE, name));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// The name that a function would have for a key, as a sibling's is made of its own.
fn as_sibling(key: &str, value: &str, word: &str) -> Option<String> {
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

/// It is looked up again and again, and what is offered under nearly that name never is.
fn never_asked(
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
    let often = same.count() >= 2 || in_code >= 2;
    if !often {
        return false;
    }
    let alone = |name: &str| query.symbols.count(name) == 1;
    let near = |name: &str| {
        name_edit(word, name).is_some_and(|edit| edit <= NameEdit::Letters)
            || name.len() >= word.len() + 2 && word.len() > 2 && name.contains(word)
            || stem_words(word).iter().any(|w| w.len() > 2 && stem_words(name).contains(w))
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
    let suspect =
        seen.suspect(&val.file.path, val.line, 0.87, say!(NEVER_ASKED, name, other = word));
    suspect.saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

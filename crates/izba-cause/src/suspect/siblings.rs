//! siblings: what is done several times in one way, and once otherwise: names taken apart in another
//! order, arguments that bear each other's names, a twin line with one thing missing.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::suspect::value::{Eval, What};
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{Family, say, sayings};
use std::collections::BTreeMap;

sayings! {
    "siblings", Any, "../../words/suspects/siblings.toml";
    OTHER_ORDER = "other-order",
    ELSEWHERE = "elsewhere",
    CROSSED = "crossed",
    CROSSED_BY_ALL = "crossed-by-all",
    TAKES = "takes",
    TWIN = "twin",
    ITS_TWIN = "its-twin",
    FILLED_TWICE = "filled-twice",
    SHORT_LOOP = "short-loop",
    FEW_PARAMETERS = "few-parameters",
    BESIDE = "beside",
}

/// The check for this: what is done several times in one way, and once otherwise.
pub static CHECK: Check = Check {
    id: "siblings",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let files: Vec<&FileFacts> =
        query.scope.iter().copied().filter(|f| f.language.is_code() && !f.broken).collect();
    for file in &files {
        taken_apart(query, file, seen);
        twins(query, file, seen);
        filled_twice(file, seen);
        short_loops(query, file, seen);
        parameters(query, file, seen);
    }
    crossed(query, seen);
}

/// Whether a line has to do with the error: it lies on the way, or in a function of the stack.
fn is_tied(query: &Query<'_>, file: &FileFacts, at: At<'_>) -> bool {
    let on_way = query
        .slice
        .iter()
        .any(|m| m.path() == &file.path && m.line() == at.line() && m.weight > 0.15);
    on_way
        || query.steps.iter().any(|s| {
            s.file.path == file.path
                && (s.line == at.line() || s.function.is_some() && s.function == at.function())
        })
}

/// Where something is taken apart, and into which names.
type Apart<'a> = (At<'a>, Vec<&'a str>);

/// `y, x = pos` where elsewhere it is `x, y = pos`.
fn taken_apart(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    let mut groups: BTreeMap<(String, Vec<&str>), Vec<Apart<'_>>> = BTreeMap::new();
    for assign in file.tree.all().filter(|n| n.is(Kind::Assign)) {
        let (Some(targets), Some(values)) = (assign.part(Kind::Targets), assign.part(Kind::Values))
        else {
            continue;
        };
        let names: Vec<&str> =
            targets.children().filter(|t| t.is(Kind::Name)).filter_map(At::text).collect();
        let one = values.children().count() == 1;
        let Some(value) = values.child(0).filter(|_| one && names.len() >= 2) else { continue };
        let mut sorted = names.clone();
        sorted.sort_unstable();
        groups.entry((value.sketch(), sorted)).or_default().push((assign, names));
    }
    for group in groups.into_values() {
        let mut orders: BTreeMap<Vec<&str>, Vec<At<'_>>> = BTreeMap::new();
        group.into_iter().for_each(|(at, names)| orders.entry(names).or_default().push(at));
        if orders.len() != 2 {
            continue;
        }
        let mut orders: Vec<(Vec<&str>, Vec<At<'_>>)> = orders.into_iter().collect();
        orders.sort_by_key(|(_, at)| at.len());
        let (odd, usual) = (&orders[0], &orders[1]);
        // One against one, that on the way is the one.
        let on_way = |at: &[At<'_>]| at.iter().any(|a| is_tied(query, file, *a));
        let (odd, usual) = match odd.1.len() == usual.1.len() && !on_way(&odd.1) && on_way(&usual.1)
        {
            true => (usual, odd),
            false => (odd, usual),
        };
        let at = odd.1[0];
        let strength = if on_way(&odd.1) { Strength::Plain } else { Strength::Fair };
        let reason = say!(OTHER_ORDER, here = odd.0, there = usual.0);
        seen.suspect(&file.path, at.line(), strength, reason).saw(
            &file.path,
            usual.1[0].line(),
            say!(ELSEWHERE),
        );
    }
}

/// Two neighbours that are alike up to their names, but for one part that only the one has.
fn twins(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    for block in file.tree.all().filter(|n| n.is(Kind::Block)) {
        let steps: Vec<At<'_>> = block.children().filter(|n| n.is(Kind::Assign)).collect();
        for pair in steps.windows(2) {
            let [one, other] = pair else { continue };
            let close = other.line().saturating_sub(one.line()) <= 2;
            let (a, b) = (leaves(*one), leaves(*other));
            if !close || a.len() < 6 || b.len() < 6 || a.len() == b.len() {
                continue;
            }
            let (short, long, at, twin) =
                if a.len() < b.len() { (&a, &b, one, other) } else { (&b, &a, other, one) };
            // A number that is counted on or off in the one, within the same call.
            let calls = short.iter().any(|(kind, text)| *kind == Kind::Field && !text.is_empty());
            if short.len() < 8 || !calls || !counted_on(short, long) || !is_tied(query, file, *at) {
                continue;
            }
            let text = file.line(twin.line()).unwrap_or_default().trim().to_owned();
            let reason = say!(TWIN, line = twin.line(), text);
            let suspect = seen.suspect(&file.path, at.line(), Strength::Plain, reason);
            suspect.saw(&file.path, twin.line(), say!(ITS_TWIN));
        }
    }
}

/// The parts of a step in their order: kind, and its sign or number.
fn leaves(step: At<'_>) -> Vec<(Kind, String)> {
    step.whole()
        .map(|n| {
            let text = match n.kind() {
                Kind::Bin | Kind::Un | Kind::Num => n.text().unwrap_or_default().to_owned(),
                // The function of a library that is called is the same in both.
                Kind::Field
                    if n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n)) =>
                {
                    n.text().unwrap_or_default().to_owned()
                }
                _ => String::new(),
            };
            (n.kind(), text)
        })
        .collect()
}

/// Whether the longer of two is the shorter with a number counted on or off.
fn counted_on(short: &[(Kind, String)], long: &[(Kind, String)]) -> bool {
    if long.len() != short.len() + 2 {
        return false;
    }
    let mut extra = Vec::new();
    let mut rest = short.iter().peekable();
    for part in long {
        match rest.peek() {
            Some(own) if *own == part => {
                rest.next();
            }
            _ => extra.push(part),
        }
    }
    let sign =
        |(kind, text): &&(Kind, String)| *kind == Kind::Bin && matches!(text.as_str(), "+" | "-");
    rest.peek().is_none()
        && extra.len() == 2
        && extra.iter().any(sign)
        && extra.iter().any(|e| e.0 == Kind::Num)
}

/// `a[1] = …` twice, and one number in between never.
fn filled_twice(file: &FileFacts, seen: &mut Seen) {
    for block in file.tree.all().filter(|n| n.is(Kind::Block) || n.is(Kind::File)) {
        let mut lists: BTreeMap<String, Vec<(i64, At<'_>)>> = BTreeMap::new();
        for assign in block.children().filter(|n| n.is(Kind::Assign)) {
            let Some(target) = assign.part(Kind::Targets).and_then(|t| t.child(0)) else {
                continue;
            };
            let (Some(list), Some(key)) =
                (target.child(0), target.child(1).filter(|k| k.is(Kind::Num)))
            else {
                continue;
            };
            if let Some(number) =
                key.text().and_then(|t| t.parse().ok()).filter(|_| target.is(Kind::Index))
            {
                lists.entry(list.sketch()).or_default().push((number, assign));
            }
        }
        for fills in lists.into_values().filter(|f| f.len() >= 3) {
            let (low, high) = (
                fills.iter().map(|f| f.0).min().unwrap_or(0),
                fills.iter().map(|f| f.0).max().unwrap_or(0),
            );
            let missing: Vec<i64> =
                (low..=high).filter(|n| !fills.iter().any(|f| f.0 == *n)).collect();
            let twice: Vec<&(i64, At<'_>)> = fills
                .iter()
                .enumerate()
                .filter(|(at, f)| fills[..*at].iter().any(|g| g.0 == f.0))
                .map(|(_, f)| f)
                .collect();
            if let ([missing], [(number, at)]) = (missing.as_slice(), twice.as_slice()) {
                seen.suspect(
                    &file.path,
                    at.line(),
                    Strength::Plain,
                    say!(FILLED_TWICE, number, missing),
                );
            }
        }
    }
}

/// A loop that ends one before the last, though nothing in it looks at the next one.
fn short_loops(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    if !matches!(
        query.family(),
        Family::ValueNotThere | Family::OutOfRange | Family::Other | Family::WrongKind
    ) {
        return;
    }
    for node in file.tree.all().filter(|n| n.is(Kind::For)) {
        let Some(name) = node.part(Kind::Targets).and_then(|t| t.child(0)).and_then(At::text)
        else {
            continue;
        };
        let limit =
            node.children().find(|c| c.is(Kind::Bin) && matches!(c.text(), Some("<" | "<=")));
        let bound = match limit {
            Some(limit) if limit.is_called("<") => limit.child(1),
            // Lua counts up to the limit itself.
            None if file.language.first_index == 1 => node.child(2),
            _ => None,
        };
        let Some(bound) = bound.filter(|b| b.is(Kind::Bin) && b.is_called("-")) else { continue };
        let by_one = bound.child(1).is_some_and(|n| n.is(Kind::Num) && n.is_called("1"));
        let length = bound.child(0).is_some_and(|l| {
            matches!(l.last_name(), Some("length" | "Length" | "Count" | "size" | "len"))
                || l.is(Kind::Un) && l.is_called("#")
        });
        if !by_one || !length {
            continue;
        }
        let Some(block) = node.part(Kind::Block) else { continue };
        let counts_on =
            block.whole().any(|n| n.is(Kind::Bin) && n.child(0).is_some_and(|c| c.is_called(name)));
        let indexed = block
            .whole()
            .any(|n| n.is(Kind::Index) && n.child(1).is_some_and(|k| k.is_called(name)));
        let fills = block.whole().any(|n| {
            n.is(Kind::Index)
                && n.parent().is_some_and(|p| p.is(Kind::Targets))
                && n.child(1).is_some_and(|k| k.is_called(name))
        });
        if indexed && fills && !counts_on {
            seen.suspect(&file.path, node.line(), Strength::Plain, say!(SHORT_LOOP));
        }
    }
}

/// Functions side by side in one table, of which one takes fewer than all others, and the console
/// says that it was handed too many.
fn parameters(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    let counted =
        ["positional argument", "were given", "arguments"].iter().any(|w| query.said.contains(w));
    if !counted {
        return;
    }
    for table in file.tree.all().filter(|n| n.is(Kind::Table)) {
        let functions: Vec<At<'_>> = table
            .children()
            .filter_map(|c| if c.is(Kind::Pair) { c.children().last() } else { Some(c) })
            .filter(|c| c.is(Kind::Func))
            .collect();
        let counts: Vec<usize> = functions.iter().map(|f| f.params().count()).collect();
        for (at, count) in counts.iter().enumerate() {
            let others: Vec<usize> =
                counts.iter().enumerate().filter(|(n, _)| *n != at).map(|(_, c)| *c).collect();
            let usual = others.first().copied().unwrap_or(0);
            let told = query.said.contains(&format!("takes {count} "));
            if !others.is_empty() && others.iter().all(|c| *c == usual) && usual != *count && told {
                let reason = say!(FEW_PARAMETERS, count, usual);
                let suspect =
                    seen.suspect(&file.path, functions[at].line(), Strength::Plain, reason);
                let beside = functions.iter().find(|f| **f != functions[at]);
                if let Some(beside) = beside {
                    suspect.saw(&file.path, beside.line(), say!(BESIDE));
                }
            }
        }
    }
}

/// Arguments that bear each other's parameters' names.
fn crossed(query: &Query<'_>, seen: &mut Seen) {
    let mut eval = Eval::new(query);
    // The calls that led there, then those on the way of the value.
    let mut calls: Vec<(&FileFacts, At<'_>)> = Vec::new();
    for step in query.steps.iter().take(8) {
        let on_line = step.file.tree.on_line(step.line);
        calls.extend(
            on_line.filter(|n| matches!(n.kind(), Kind::Call | Kind::New)).map(|n| (step.file, n)),
        );
    }
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        let all = file.tree.all().filter(|n| matches!(n.kind(), Kind::Call | Kind::New));
        calls.extend(all.filter(|n| n.arguments().count() >= 2).map(|n| (*file, n)).take(400));
    }
    let mut known: Vec<(&str, u32)> = Vec::new();
    let mut found: Vec<Crossing<'_>> = Vec::new();
    // How often each function is called with as many as it takes.
    let mut called: Vec<At<'_>> = Vec::new();
    for (file, call) in calls {
        if known.contains(&(file.path.as_ref(), call.id())) {
            continue;
        }
        known.push((file.path.as_ref(), call.id()));
        let names: Vec<Option<&str>> = call.arguments().map(word_of).collect();
        if names.iter().flatten().count() < 2 {
            continue;
        }
        let Some((home, function)) = callee(query, &mut eval, file, call) else { continue };
        let hidden =
            function.params().next().is_some_and(|p| matches!(p.text(), Some("self" | "cls")));
        let params: Vec<&str> =
            function.params().skip(usize::from(hidden)).filter_map(At::text).collect();
        if params.len() != names.len() {
            continue;
        }
        called.push(function);
        if let Some((a, b)) = crossing(&names, &params) {
            let words = (names[a].unwrap_or_default(), names[b].unwrap_or_default());
            found.push(Crossing { file, call, home, function, words, params });
        }
    }
    for Crossing { file, call, home, function, words: (first, second), params } in &found {
        let (call, function) = (*call, *function);
        let of_it = found.iter().filter(|c| c.function == function).count();
        // All who call it agree: it is the definition that stands the other way round.
        let by_all = of_it >= 2 && of_it == called.iter().filter(|c| **c == function).count();
        let on_stack =
            query.steps.iter().any(|s| s.file.path == file.path && s.line == call.line());
        let inside = query.steps.iter().any(|s| s.function == Some(function));
        let in_slice = query
            .slice
            .iter()
            .any(|m| m.weight > 0.15 && m.path() == &file.path && m.line() == call.line());
        let strength =
            if on_stack || inside || in_slice { Strength::Plain } else { Strength::Fair };
        let name = call.last_name().unwrap_or("it");
        let (at, line) = match by_all {
            true => (&home.path, function.line()),
            false => (&file.path, call.line()),
        };
        let says = match by_all {
            true => say!(CROSSED_BY_ALL, first = *first, second = *second, function = name),
            false => say!(CROSSED, first = *first, second = *second, function = name),
        };
        let suspect = seen.suspect(at, line, strength, says);
        suspect.saw(
            &home.path,
            function.line(),
            say!(TAKES, function = name, names = params.as_slice()),
        );
    }
}

/// A call whose arguments are called like each other's parameters.
struct Crossing<'a> {
    file: &'a FileFacts,
    call: At<'a>,
    home: &'a FileFacts,
    function: At<'a>,
    /// The two arguments.
    words: (&'a str, &'a str),
    params: Vec<&'a str>,
}

/// The word that an argument says of itself.
fn word_of(argument: At<'_>) -> Option<&str> {
    match argument.kind() {
        Kind::Name | Kind::Field => argument.text(),
        _ => None,
    }
}

/// Two positions whose arguments are called like each other's parameters; or one whose name is that
/// of another parameter, where the argument that stands there bears no parameter's name.
fn crossing(names: &[Option<&str>], params: &[&str]) -> Option<(usize, usize)> {
    let at = |name: &str| {
        params.iter().position(|p| p.trim_matches('_').eq_ignore_ascii_case(name.trim_matches('_')))
    };
    for (a, name) in names.iter().enumerate() {
        let Some(b) = name.and_then(at).filter(|b| *b != a) else { continue };
        let other = names.get(b).copied().flatten()?;
        let back = at(other);
        if back == Some(a) || back.is_none() && short_of(other, params[a]) {
            return Some((a, b));
        }
    }
    None
}

/// Whether one word is the other's beginning: `m` for `mascota`, `opts` for `options`.
fn short_of(word: &str, param: &str) -> bool {
    let (short, long) = if word.len() < param.len() { (word, param) } else { (param, word) };
    !short.is_empty() && long.to_lowercase().starts_with(&short.to_lowercase())
}

/// The function that a call leads to, where it is one only.
fn callee<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    call: At<'a>,
) -> Option<(&'a FileFacts, At<'a>)> {
    let name = call.last_name()?;
    let functions: Vec<(&'a FileFacts, At<'a>)> = query
        .named(name)
        .filter_map(|(f, n)| match n.kind() {
            Kind::Func => Some((f, n)),
            Kind::Class => {
                let begins = n.children().find(|m| {
                    m.is(Kind::Func)
                        && (m.is_called("__init__")
                            || m.is_called("constructor")
                            || m.text() == n.text())
                })?;
                Some((f, begins))
            }
            _ => n.assigned_value().filter(|v| v.is(Kind::Func)).map(|v| (f, v)),
        })
        .filter(|(_, f)| f.params().count() > 0)
        .collect();
    match functions.as_slice() {
        [one] => Some(*one),
        [] => {
            let called = call.child(0).filter(|c| call.is(Kind::Call) && c.is(Kind::Name))?;
            let found = eval.of(file, called);
            let mut own = found.list.iter().filter_map(|v| match v.what {
                What::Func(f) => Some((v.file, f)),
                _ => None,
            });
            let one = own.next()?;
            own.next().is_none().then_some(one)
        }
        // Of several with the same parameters it does not matter which.
        [first, rest @ ..] => {
            let params = |f: At<'a>| f.params().filter_map(At::text).collect::<Vec<_>>();
            rest.iter().all(|(_, f)| params(*f) == params(first.1)).then_some(*first)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn arguments_cross_when_they_bear_each_others_names() {
        assert_eq!(crossing(&[Some("hero"), Some("game")], &["game", "hero"]), Some((0, 1)));
        assert_eq!(crossing(&[Some("mascota"), Some("diario")], &["diario", "m"]), Some((1, 0)));
        assert_eq!(crossing(&[Some("game"), Some("hero")], &["game", "hero"]), None);
        // What stands in its place says nothing of itself.
        assert_eq!(crossing(&[Some("row"), Some("width")], &["height", "row"]), None);
        assert_eq!(crossing(&[None, Some("a")], &["a", "b"]), None);
    }

    #[test]
    fn a_twin_lacks_a_number_that_is_counted_off() {
        let part = |k: Kind, t: &str| (k, t.to_owned());
        let short = [part(Kind::Call, ""), part(Kind::Name, ""), part(Kind::Field, "rows")];
        let long = [
            part(Kind::Call, ""),
            part(Kind::Name, ""),
            part(Kind::Bin, "-"),
            part(Kind::Field, "rows"),
            part(Kind::Num, "1"),
        ];
        assert!(counted_on(&short, &long));
        let other = [
            part(Kind::Call, ""),
            part(Kind::Name, ""),
            part(Kind::Name, ""),
            part(Kind::Name, ""),
            part(Kind::Field, "rows"),
        ];
        assert!(!counted_on(&short, &other) && !counted_on(&short, &short));
    }
}

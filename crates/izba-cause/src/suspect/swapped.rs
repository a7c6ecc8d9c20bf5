//! swapped: arguments in another order than the parameters, a hidden object left out, a type where
//! one of its objects belongs.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::query::Query;
use izba_model::Family;
use izba_model::claim::{self, Fill, Saying, Slot};
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::{say, sayings};

sayings! {
    "swapped", Any, "../../words/suspects/swapped.toml";
    DOT_MADE = "dot-made",
    COLON_CALLED = "colon-called",
    DOT_CALLED = "dot-called",
    COLON_NEEDLESS = "colon-needless",
    COLON_MADE = "colon-made",
    NO_SELF = "no-self",
    CALLED_ON_TYPE = "called-on-type",
    TYPE_ITSELF = "type-itself",
    STATIC = "static",
    NOT_STATIC = "not-static",
    MADE_STATIC = "made-static",
    CROSSED = "crossed",
    IN_CALLS = "in-calls",
    IN_DEFINITION = "in-definition",
    PARAMETERS_CROSSED = "parameters-crossed",
    HANDED_CROSSED = "handed-crossed",
    LEFT_OUT = "left-out",
    ASKED_HERE = "asked-here",
    ASKED_EVERYWHERE = "asked-everywhere",
    PARAMETERS_ARE = "parameters-are",
    CALLED_HERE = "called-here",
    ARGUMENTS_CROSSED = "arguments-crossed",
    SELF_FIRST = "self-first",
    OTHER_ORDER = "other-order",
    KEPT_OTHERWISE = "kept-otherwise",
    KEPT_AS = "kept-as",
}

/// The check for this: arguments in another order than the parameters, a hidden object left out, a
/// type where one of its objects belongs.
pub static CHECK: Check = Check {
    id: "swapped",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    dots_and_colons(query, seen);
    hidden_object(query, seen);
    types_for_objects(query, seen);
    made_static(query, seen);
    handed_over_crosswise(query, seen);
    kinds_crossed(query, seen);
    self_not_first(query, seen);
    orders(query, seen);
}

/// Where a sign of its own hands the object over: made with a dot and called with a colon, or the
/// other way round.
fn dots_and_colons(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.method_sign.is_some()) {
        for function in
            file.tree.all().filter(|n| n.is(Kind::Func) && n.part(Kind::Owner).is_some())
        {
            let Some(name) = function.text() else { continue };
            let calls: Vec<(&FileFacts, At<'_>)> = query
                .symbols
                .occurrences(name)
                .iter()
                .filter_map(|s| Some((s.file, s.node?)))
                .filter(|(_, n)| {
                    n.is(Kind::Field)
                        && n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(*n))
                })
                .collect();
            let relevant = query.steps.iter().any(|s| s.function == Some(function))
                || query.said.contains("self");
            let colon = function.has(Flag::Method);
            let takes_self = function.params().next().is_some_and(|p| p.is_called("self"));
            let uses_self = function.whole().any(|n| n.is(Kind::Name) && n.is_called("self"));
            if !colon && !takes_self && calls.iter().any(|(_, c)| c.has(Flag::Method)) {
                let strength = if relevant || uses_self { Strength::Plain } else { Strength::Weak };
                let suspect =
                    seen.suspect(&file.path, function.line(), strength, say!(DOT_MADE, name));
                if let Some((f, c)) = calls.iter().find(|(_, c)| c.has(Flag::Method)) {
                    suspect.saw(&f.path, c.line(), say!(COLON_CALLED));
                }
            }
            if colon || takes_self {
                for (f, call) in calls.iter().filter(|(_, c)| !c.has(Flag::Method)) {
                    // `Base.new(self, …)` hands the object over by hand.
                    let by_hand =
                        call.parent().and_then(|p| p.arguments().next()).is_some_and(|a| {
                            a.last_name() == Some("self") || a.last_name() == Some("o")
                        });
                    let on_type = call
                        .child(0)
                        .and_then(At::last_name)
                        .is_some_and(|o| o.starts_with(char::is_uppercase));
                    let owner = function.part(Kind::Owner).and_then(At::last_name);
                    if by_hand || on_type && call.child(0).and_then(At::last_name) != owner {
                        continue;
                    }
                    let on_way =
                        query.steps.iter().any(|s| s.file.path == f.path && s.line == call.line());
                    let strength =
                        if relevant || on_way { Strength::Plain } else { Strength::Weak };
                    // A function that does not read its object, and is handed all it takes, was
                    // meant to have none.
                    let takes = call.parent().map_or(0, |p| p.arguments().count());
                    if colon
                        && !uses_self
                        && function.params().count() > 0
                        && takes == function.params().count()
                        && calls.iter().all(|(_, c)| !c.has(Flag::Method))
                    {
                        let says = say!(COLON_NEEDLESS, name);
                        let suspect = seen.suspect(&file.path, function.line(), strength, says);
                        suspect.saw(&f.path, call.line(), say!(CALLED_HERE));
                        continue;
                    }
                    let suspect =
                        seen.suspect(&f.path, call.line(), strength, say!(DOT_CALLED, name));
                    suspect.saw(&file.path, function.line(), say!(COLON_MADE, name));
                }
            }
        }
    }
}

/// Python: a method without `self`, or called on its class.
fn hidden_object(query: &Query<'_>, seen: &mut Seen) {
    if !(query.said.contains("positional argument") || query.said.contains("takes ")) {
        return;
    }
    let names_it = |f: &FileFacts| f.language.itself_first;
    for mention in &query.mentioned {
        let name = mention.rsplit('.').next().unwrap_or(mention).trim_end_matches("()");
        for occurrence in query.symbols.occurrences(name).iter().filter(|o| names_it(o.file)) {
            let Some(function) =
                occurrence.node.filter(|n| n.is(Kind::Func) && n.has(Flag::Method))
            else {
                continue;
            };
            if !function.params().next().is_some_and(|p| matches!(p.text(), Some("self" | "cls"))) {
                seen.suspect(
                    &occurrence.file.path,
                    function.line(),
                    Strength::Plain,
                    say!(NO_SELF, name),
                );
            }
        }
    }
    let said = query.said.split("Error: ").last().unwrap_or(&query.said);
    let name = said.split('(').next().unwrap_or("").rsplit('.').next().unwrap_or("").trim();
    for occurrence in query.symbols.occurrences(name).iter().filter(|o| names_it(o.file)) {
        let Some(function) = occurrence.node.filter(|n| n.is(Kind::Func) && n.has(Flag::Method))
        else {
            continue;
        };
        if !function.params().next().is_some_and(|p| matches!(p.text(), Some("self" | "cls"))) {
            seen.suspect(
                &occurrence.file.path,
                function.line(),
                Strength::Plain,
                say!(NO_SELF, name),
            );
        } else if said.contains("missing 1 required positional argument: 'self'")
            && let Some(path) = query.path()
        {
            seen.suspect(path, query.line, Strength::Strong, say!(CALLED_ON_TYPE, name));
        }
    }
}

/// A type is handed over or kept where one of its objects belongs; members of the type asked of an
/// object.
fn types_for_objects(query: &Query<'_>, seen: &mut Seen) {
    let class = query.said.split("type object '").nth(1).and_then(|r| r.split('\'').next());
    if let Some(class) = class {
        for occurrence in query.symbols.occurrences(class) {
            let Some(node) = occurrence.node.filter(|n| n.is(Kind::Name) && n.defines().is_none())
            else {
                continue;
            };
            let Some(parent) = node.parent() else { continue };
            let bare = match parent.kind() {
                Kind::Call | Kind::New => parent.child(0) != Some(node),
                Kind::Values | Kind::Table | Kind::Pair | Kind::Return => true,
                _ => false,
            };
            if bare && !node.class().is_some_and(|c| c.is_called(class)) {
                seen.suspect(
                    &occurrence.file.path,
                    node.line(),
                    Strength::Plain,
                    say!(TYPE_ITSELF, name = class),
                );
            }
        }
    }
    // Asked of an object, though it belongs to the type; or the other way round.
    let Some(asked) = query.asked.as_deref() else { return };
    for occurrence in query.symbols.occurrences(asked) {
        let Some(node) = occurrence.node else { continue };
        let (member, fixed) = match node.kind() {
            Kind::Func if node.has(Flag::Member) => (node, node.has(Flag::Static)),
            _ => match node.parent().and_then(At::parent) {
                Some(p) if node.defines() == Some(How::Assigned) && p.has(Flag::Member) => {
                    (node, p.has(Flag::Static))
                }
                _ => continue,
            },
        };
        let class = member.class().and_then(At::text);
        let uses: Vec<(&FileFacts, At<'_>)> = query
            .symbols
            .occurrences(asked)
            .iter()
            .filter_map(|s| Some((s.file, s.node?)))
            .filter(|(_, n)| n.is(Kind::Field) && n.defines().is_none())
            .collect();
        let on_type =
            uses.iter().filter(|(_, n)| n.child(0).and_then(At::last_name) == class).count();
        if fixed && query.said.contains("not a function") && on_type == 0 {
            seen.suspect(
                &occurrence.file.path,
                member.line(),
                Strength::Plain,
                say!(STATIC, name = asked),
            );
        }
        let wants_static =
            query.said.contains("non-static") || query.said.contains("object reference");
        if !fixed && wants_static && on_type > 0 {
            // Someone holds an object of the type under its name in small letters: the call is the
            // slip.
            let object = class.is_some_and(|c| {
                query.file.is_some_and(|f| {
                    f.tree.all().any(|n| {
                        n.defines().is_some()
                            && n.is(Kind::Name)
                            && n.text().is_some_and(|t| t != c && t.eq_ignore_ascii_case(c))
                    })
                })
            });
            let others = member
                .class()
                .into_iter()
                .flat_map(At::children)
                .filter(|m| m.has(Flag::Static))
                .count();
            // Where others ask an object for it, those who ask the type are wrong.
            let of_objects = uses.len() - on_type;
            let strength = match (object || of_objects > 0, others) {
                (true, _) => Strength::Weak,
                (false, 0) => Strength::Fair,
                (false, _) => Strength::Strong,
            };
            let where_asked =
                Saying::new(if of_objects > 0 { &ASKED_HERE } else { &ASKED_EVERYWHERE });
            seen.suspect(
                &occurrence.file.path,
                member.line(),
                strength,
                say!(NOT_STATIC, name = asked, where_asked),
            );
        }
    }
}

/// A method was made static, and uses what only an object has.
fn made_static(query: &Query<'_>, seen: &mut Seen) {
    if (query.said.contains("non-static")
        || query.said.contains("invalid method reference")
        || query.said.contains("static context"))
        && let Some(step) = query.steps.first()
    {
        let functions = step.function.into_iter().map(|f| (step.file, f)).chain(
            query
                .scope
                .iter()
                .flat_map(|f| f.tree.all().filter(|n| n.is(Kind::Func)).map(move |n| (*f, n)))
                .filter(|(_, n)| {
                    query
                        .on_line()
                        .any(|l| l.is(Kind::Field) && l.text().is_some() && l.text() == n.text())
                }),
        );
        for (file, function) in functions.filter(|(_, f)| {
            f.has(Flag::Static) && f.text() != Some("main") && f.text() != Some("Main")
        }) {
            let members: Vec<&str> = function
                .class()
                .into_iter()
                .flat_map(At::whole)
                .filter(|n| {
                    n.defines() == Some(How::Assigned)
                        && n.parent()
                            .and_then(At::parent)
                            .is_some_and(|p| p.has(Flag::Member) && !p.has(Flag::Static))
                })
                .filter_map(At::text)
                .collect();
            let uses = function
                .whole()
                .filter(|n| n.is(Kind::Name) && n.defines().is_none())
                .filter_map(At::text)
                .find(|t| members.contains(t));
            let reported_static = query.said.contains("method reference");
            if uses.is_some() || reported_static {
                let name = function.text().unwrap_or_default();
                seen.suspect(
                    &file.path,
                    function.line(),
                    Strength::Strong,
                    say!(
                        MADE_STATIC,
                        name,
                        what = uses.map_or_else(|| Slot::words("what is"), Fill::fill)
                    ),
                );
            }
        }
    }
}

/// The name of the type of an expression, as far as it is written down: of a literal, of what is
/// made new, of a declared variable.
fn type_of<'a>(file: &'a FileFacts, node: At<'a>) -> Option<&'a str> {
    match node.kind() {
        Kind::Str => Some("string"),
        Kind::Num => Some("number"),
        Kind::Bool => Some("bool"),
        Kind::New => node.text(),
        Kind::Name => bindings(file, node, node.text()?).into_iter().find_map(|made| {
            let declared =
                if made.is(Kind::Param) { Some(made) } else { made.parent().and_then(At::parent) };
            declared
                .and_then(|d| d.part(Kind::Type))
                .and_then(At::text)
                .or_else(|| made.assigned_value().and_then(|v| type_of(file, v)))
        }),
        _ => None,
    }
}

/// Whether a value of one type is taken where the other is written.
fn taken_as(given: &str, wanted: &str) -> bool {
    let plain = |t: &str| match t {
        "String" | "string" | "str" => "string".to_owned(),
        "int" | "long" | "double" | "float" | "Integer" | "Double" | "Long" | "short" | "byte"
        | "decimal" | "Int" | "number" => "number".to_owned(),
        "boolean" | "Boolean" | "bool" => "bool".to_owned(),
        other => other.to_owned(),
    };
    plain(given) == plain(wanted)
}

/// A compiler refuses two arguments that would fit each other's parameters: the call stands the
/// other way round, or the definition, where all calls or the functions beside it speak against
/// that.
fn kinds_crossed(query: &Query<'_>, seen: &mut Seen) {
    let refused = [
        "cannot be converted",
        "cannot convert",
        "invalid arguments",
        "cannot be applied",
        "mismatch",
    ]
    .iter()
    .any(|w| query.said.contains(w));
    let (true, Some(file), Some(path)) =
        (refused, query.file.filter(|f| f.language.checked), query.path())
    else {
        return;
    };
    let crossed_in = |home: &FileFacts, call: At<'_>, function: At<'_>| {
        let wanted: Vec<&str> = function
            .params()
            .map(|p| p.part(Kind::Type).and_then(At::text).unwrap_or(""))
            .collect();
        let given: Vec<&str> = call.arguments().map(|a| type_of(home, a).unwrap_or("")).collect();
        let fits = |a: usize, b: usize| {
            !given[a].is_empty() && !wanted[b].is_empty() && taken_as(given[a], wanted[b])
        };
        let known = given.len() == wanted.len();
        (0..given.len())
            .flat_map(|a| (a + 1..given.len()).map(move |b| (a, b)))
            .find(|(a, b)| known && fits(*a, *b) && fits(*b, *a) && !fits(*a, *a) && !fits(*b, *b))
    };
    for call in query.on_line().filter(|n| matches!(n.kind(), Kind::Call | Kind::New)) {
        let Some(name) = call.last_name() else { continue };
        let made =
            query.scope.iter().flat_map(|f| f.tree.all().map(move |n| (*f, n))).filter(|(_, n)| {
                n.is(Kind::Func)
                    && if call.is(Kind::New) {
                        n.has(Flag::Constructor) && n.class().is_some_and(|c| c.is_called(name))
                    } else {
                        n.is_called(name)
                    }
            });
        for (home, function) in made {
            let Some((a, b)) = crossed_in(file, call, function) else { continue };
            let params: Vec<&str> = function.params().filter_map(At::text).collect();
            let calls = calls_of(query, name, call.is(Kind::New), function);
            let others = calls
                .iter()
                .filter(|(f, c)| c.id() != call.id() && crossed_in(f, *c, function).is_some())
                .count();
            let right = calls
                .iter()
                .filter(|(f, c)| c.id() != call.id() && crossed_in(f, *c, function).is_none())
                .count();
            // Functions beside it that take the same two tell which order is usual; so does the
            // order in which they are kept.
            let place = |ps: &[&str], n: &str| ps.iter().position(|p| *p == n);
            let beside =
                home.tree.all().filter(|n| n.is(Kind::Func) && *n != function).filter_map(|n| {
                    let ps: Vec<&str> = n.params().filter_map(At::text).collect();
                    Some(place(&ps, params[a])? > place(&ps, params[b])?)
                });
            let against = beside.filter(|odd| *odd).count() > 0;
            let kept = kept_order(function, &params);
            let kept = kept.len() == params.len() && swap(&kept, &params).is_some();
            let (at, line, strength) = if right == 0 && (others > 0 || against || kept) {
                (&home.path, function.line(), Strength::Plain)
            } else {
                (path, call.line(), Strength::Fair)
            };
            let reason = say!(
                CROSSED,
                name = params[a],
                other = params[b],
                place = if at == path && line == call.line() { "definition" } else { "calls" }
            );
            seen.suspect(at, line, strength, reason)
                .saw(&home.path, function.line(), say!(PARAMETERS_ARE, names = params))
                .saw(path, call.line(), say!(CALLED_HERE));
        }
    }
}

/// A function of the library wants another kind of value as this argument, and another argument of
/// the same call is of that kind.
fn handed_over_crosswise(query: &Query<'_>, seen: &mut Seen) {
    let fact = |key: &str| query.entry.facts.get(key).map(String::as_str);
    let (Some(callee), Some(arg), Some(want)) =
        (fact("callee"), fact("arg").and_then(|n| n.parse::<usize>().ok()), fact("want"))
    else {
        return;
    };
    let kind = match want {
        "table" | "list" | "dict" => Kind::Table,
        "string" | "str" => Kind::Str,
        "number" | "int" | "float" => Kind::Num,
        "function" => Kind::Func,
        _ => return,
    };
    let (Some(file), Some(path)) = (query.file, query.path()) else { return };
    let given = |n: At<'_>| {
        n.is(kind)
            || n.text().is_some_and(|t| {
                bindings(file, n, t).iter().any(|b| b.assigned_value().is_some_and(|v| v.is(kind)))
            })
    };
    for call in query.on_line().filter(|n| n.is(Kind::Call) && n.last_name() == Some(callee)) {
        let crossed = call
            .arguments()
            .enumerate()
            .find(|(at, n)| at + 1 != arg && given(*n))
            .map(|(at, _)| at + 1);
        if let Some(at) = crossed {
            let reason = say!(ARGUMENTS_CROSSED, name = callee, want, arg = arg, at = at);
            seen.suspect(path, query.line, Strength::Plain, reason);
        }
    }
}

/// Where a method names its object as its first parameter: one in which it does not come first.
fn self_not_first(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.itself_first) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func) && n.has(Flag::Method)) {
            let itself = file.language.known().itself.as_deref().unwrap_or("self");
            if function.params().skip(1).any(|p| p.is_called(itself)) {
                let name = function.text().unwrap_or_default();
                seen.suspect(&file.path, function.line(), Strength::Plain, say!(SELF_FIRST, name));
            }
        }
    }
}

/// Arguments that bear the names of parameters at other places; parameters in another order than
/// they are kept in.
fn orders(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            let params: Vec<&str> = function
                .params()
                .filter_map(At::text)
                .filter(|p| !matches!(*p, "self" | "cls"))
                .collect();
            if params.len() < 2 || function.part(Kind::Block).is_none() {
                continue;
            }
            let constructs =
                function.has(Flag::Constructor) || matches!(function.text(), Some("new" | "init"));
            let name = if function.has(Flag::Constructor) {
                function.class().and_then(At::text)
            } else {
                function.text()
            };
            let Some(name) = name else { continue };
            let calls = calls_of(query, name, constructs, function);
            let relevance = query
                .relevance(file, function.line())
                .max(calls.iter().map(|(f, c)| query.relevance(f, c.line())).fold(0.0, f32::max));
            let on_way =
                query.steps.iter().any(|s| {
                    calls.iter().any(|(f, c)| f.path == s.file.path && c.line() == s.line)
                }) || query.steps.iter().any(|s| s.function == Some(function));
            let tie = if on_way { 1.0 } else { relevance };
            let strength = if on_way { Strength::Plain } else { Strength::Fair };
            // The order in which a constructor keeps what it takes.
            let kept: Vec<&str> =
                if constructs { kept_order(function, &params) } else { Vec::new() };
            let swapped_def =
                kept.len() == params.len() && kept.len() >= 2 && swap(&kept, &params).is_some();
            for (f, call) in &calls {
                let handed: Vec<Option<&str>> =
                    call.arguments().filter(|a| !a.is(Kind::Pair)).map(main_word).collect();
                // Elsewhere a compiler or the call itself tells.
                let silent = !file.language.checked && !file.language.declares_by_assigning;
                if let Some(left_out) = left_out(&handed, &params).filter(|_| silent) {
                    let says = say!(LEFT_OUT, name = params[left_out], function = name);
                    let suspect = seen.suspect(&f.path, call.line(), strength, says);
                    suspect
                        .saw(&file.path, function.line(), say!(PARAMETERS_ARE, names = params))
                        .tied(tie);
                    continue;
                }
                let Some((a, b)) = crossed(&handed, &params) else { continue };
                let reason = |what: &'static claim::Kind| {
                    let place = Saying::new(if swapped_def { &IN_CALLS } else { &IN_DEFINITION });
                    let crossed = say!(CROSSED, name = params[a], other = params[b], place);
                    Saying::new(what).with("crossed", &crossed)
                };
                // Which of the two is wrong? The definition, when other calls or the order of
                // keeping speak against it.
                let others = calls
                    .iter()
                    .filter(|(_, c)| c.id() != call.id())
                    .filter(|(_, c)| {
                        crossed(&c.arguments().map(main_word).collect::<Vec<_>>(), &params)
                            .is_some()
                    })
                    .count();
                // Functions beside it that take the same two tell which order is usual.
                let place = |ps: &[&str], n: &str| ps.iter().position(|p| *p == n);
                let beside =
                    file.tree.all().filter(|n| n.is(Kind::Func) && *n != function).filter_map(
                        |n| {
                            let ps: Vec<&str> = n.params().filter_map(At::text).collect();
                            Some(place(&ps, params[a])? < place(&ps, params[b])?)
                        },
                    );
                let (usual, other) =
                    beside.fold(
                        (0, 0),
                        |(u, o), first| if first == (a < b) { (u + 1, o) } else { (u, o + 1) },
                    );
                let on_report = query.path() == Some(&f.path) && call.line() == query.line;
                // A constructor that keeps what it takes in this very order is well.
                let kept_so = kept.len() >= 2 && kept.len() == params.len() && !swapped_def;
                let def_is_odd =
                    other > usual || usual == other && !on_report && calls.len() == 1 && !kept_so;
                if swapped_def || others > 0 || def_is_odd {
                    let suspect = seen.suspect(
                        &file.path,
                        function.line(),
                        strength,
                        reason(&PARAMETERS_CROSSED),
                    );
                    suspect.saw(&f.path, call.line(), say!(OTHER_ORDER)).tied(tie);
                } else {
                    let suspect =
                        seen.suspect(&f.path, call.line(), strength, reason(&HANDED_CROSSED));
                    suspect
                        .saw(&file.path, function.line(), say!(PARAMETERS_ARE, names = params))
                        .tied(tie);
                }
            }
            if swapped_def
                && !calls.iter().any(|(_, c)| {
                    crossed(&c.arguments().map(main_word).collect::<Vec<_>>(), &params).is_some()
                })
            {
                let about = params.iter().any(|p| {
                    query.asked.as_deref() == Some(p)
                        || query.subject_names().contains(p)
                        || query.says(p)
                });
                let suspect = seen.suspect(
                    &file.path,
                    function.line(),
                    if about { Strength::Fair } else { Strength::Faint },
                    say!(KEPT_OTHERWISE, names = params),
                );
                suspect.saw(&file.path, function.line(), say!(KEPT_AS, names = kept)).tied(tie);
            }
        }
    }
}

pub(super) fn calls_of<'a>(
    query: &Query<'a>,
    name: &str,
    constructs: bool,
    function: At<'_>,
) -> Vec<(&'a FileFacts, At<'a>)> {
    let owner = function.part(Kind::Owner).and_then(At::last_name);
    query
        .symbols
        .occurrences(name)
        .iter()
        .filter_map(|s| Some((s.file, s.node?)))
        .filter_map(|(f, n)| match n.kind() {
            Kind::New => Some((f, n)),
            Kind::Name | Kind::Field => {
                n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n)).map(|p| (f, p))
            }
            _ => None,
        })
        // `new` is the name of many: only that of the same owner counts, or what an object asks of
        // itself.
        .filter(|(_, c)| {
            let asked = c.child(0).and_then(|f| f.child(0)).and_then(At::last_name);
            !constructs || owner.is_none() || asked == owner || asked == Some("self")
        })
        .collect()
}

/// The word that says what an argument is: `dish` of `order.dish` and of `getAttribute("dish")`.
pub(super) fn main_word(argument: At<'_>) -> Option<&str> {
    match argument.kind() {
        Kind::Name | Kind::Field => argument.text(),
        Kind::Index => argument.child(1).filter(|k| k.is(Kind::Str)).and_then(At::text),
        Kind::Call => {
            let texts: Vec<&str> =
                argument.whole().filter(|n| n.is(Kind::Str)).filter_map(At::text).collect();
            match texts.as_slice() {
                [one] => Some(one),
                _ => argument
                    .arguments()
                    .next()
                    .and_then(|a| if a.is(Kind::Call) { main_word(a) } else { None })
                    .or_else(|| argument.last_name()),
            }
        }
        _ => None,
    }
}

/// Two positions whose arguments bear each other's parameter's names; or one that does, where its
/// own position is another's.
/// The parameter that nothing is handed over for, where all others come in their order, each by its
/// name, and one stands a place too far in front.
fn left_out(handed: &[Option<&str>], params: &[&str]) -> Option<usize> {
    if handed.len() + 1 != params.len() || handed.iter().any(Option::is_none) {
        return None;
    }
    let same = |a: &Option<&str>, p: &&str| a.is_some_and(|a| a.eq_ignore_ascii_case(p));
    let at = handed.iter().zip(params).position(|(a, p)| !same(a, p))?;
    handed[at..].iter().zip(&params[at + 1..]).all(|(a, p)| same(a, p)).then_some(at)
}

fn crossed(handed: &[Option<&str>], params: &[&str]) -> Option<(usize, usize)> {
    let same = |a: Option<&str>, p: &str| a.is_some_and(|a| a.eq_ignore_ascii_case(p));
    for a in 0..handed.len().min(params.len()) {
        for b in 0..handed.len().min(params.len()) {
            if a != b
                && same(handed[a], params[b])
                && !same(handed[a], params[a])
                && !same(handed[b], params[b])
                && (same(handed[b], params[a]) || a < b || handed[b].is_none())
            {
                return Some((a, b));
            }
        }
    }
    None
}

/// The parameters in the order in which a constructor keeps them.
fn kept_order<'a>(function: At<'a>, params: &[&'a str]) -> Vec<&'a str> {
    let mut order = Vec::new();
    for node in function.whole().filter(|n| n.is(Kind::Assign)) {
        let Some(value) = node.part(Kind::Values).and_then(|v| v.child(0)) else { continue };
        let name = value
            .whole()
            .filter(|n| n.is(Kind::Name))
            .filter_map(At::text)
            .find(|t| params.contains(t));
        order.extend(name.filter(|n| !order.contains(n)));
    }
    order
}

/// Where two neighbours have changed places and all else is the same.
fn swap(kept: &[&str], params: &[&str]) -> Option<usize> {
    let differ: Vec<usize> = (0..kept.len()).filter(|at| kept[*at] != params[*at]).collect();
    match differ.as_slice() {
        [a, b] if kept[*a] == params[*b] && kept[*b] == params[*a] => Some(*a),
        _ => None,
    }
}

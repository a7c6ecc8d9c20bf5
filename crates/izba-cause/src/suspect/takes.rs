//! takes: what a function takes does not fit what it is given and what it reads: it reads a name
//! that nothing makes, and has no room for all that it is called with; or a parameter that it never
//! reads bears another name than its callers give.

use super::brought::names_file;
use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::never::on_the_way;
use super::query::Query;
use super::spelling::is_outside_name;
use super::swapped::{calls_of, main_word};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, Kind, NameEdit, name_edit};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "takes", Absence, "../../words/suspects/takes.toml";
    NO_ROOM = "no-room",
    GIVEN_HERE = "given-here",
    OTHER_NAME = "other-name",
    LIKE_ITS_NEIGHBOURS = "like-its-neighbours",
    TAKEN_HERE = "taken-here",
    READ_HERE = "read-here",
}

/// The check for this: parameters that are missing, or that are called otherwise than what is read.
pub static CHECK: Check = Check {
    id: "takes",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

/// Functions whose unmade names are looked for.
const FUNCTIONS: usize = 400;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let mut wanted = on_the_way(query);
    wanted.extend(query.asked.as_deref());
    let code = query.scope.iter().filter(|f| f.language.is_code() && !f.broken);
    let functions = code.flat_map(|f| f.tree.all().map(move |n| (*f, n)));
    let functions = functions.filter(|(_, n)| n.is(Kind::Func) && n.part(Kind::Block).is_some());
    for (file, function) in functions.take(FUNCTIONS) {
        let counted = counts_arguments(query, function);
        let asked = |name: &str| counted || wanted.contains(&name);
        let Some(read) = unmade_name(query, file, function, asked) else { continue };
        let Some(name) = read.text() else { continue };
        if !no_room(query, file, function, name, seen)
            && !others_take_it(file, function, name, seen)
        {
            other_name(query, file, function, read, seen);
        }
    }
}

/// How CPython, javac and the compilers of C# count what a function was given.
static COUNTED: Pattern = Pattern::new(
    r"positional argument|[Nn]o overload for method|cannot be applied to given types|takes `\d+' arguments",
);

/// Whether the sentence counts what this function was given.
fn counts_arguments(query: &Query<'_>, function: At<'_>) -> bool {
    let called = name_of(function).map(|(name, _)| name).filter(|n| query.says(n));
    called.is_some() && COUNTED.is_match(&query.said)
}

/// The first name that a function reads alone, that is asked about, and that nothing makes.
fn unmade_name<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    function: At<'a>,
    asked: impl Fn(&str) -> bool,
) -> Option<At<'a>> {
    let mut reads = function.whole().filter(|n| n.is(Kind::Name) && n.defines().is_none());
    reads.find(|node| {
        let Some(name) = node.text().filter(|name| asked(name)) else { return false };
        // Kept as a field of its own name, it was to come in.
        let kept = node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
        let to_itself = kept.and_then(|a| a.part(Kind::Targets)?.child(0)).is_some_and(|t| {
            t.is(Kind::Field)
                && t.is_called(name)
                && t.child(0).is_some_and(|o| o.is_called("this"))
        });
        let lacking = to_itself
            && function.has(Flag::Constructor)
            && !function.params().any(|p| p.is_called(name));
        let known = || {
            matches!(name, "self" | "this" | "super" | "arguments" | "cls" | "_")
                || node.is_callee()
                || is_outside_name(query.index, Some(file.language), name)
                || query.symbols.is_made_alone(name)
                || !bindings(file, *node, name).is_empty()
        };
        lacking || !known()
    })
}

/// The function is called with more than it has room for.
fn no_room(
    query: &Query<'_>,
    file: &FileFacts,
    function: At<'_>,
    name: &str,
    seen: &mut Seen,
) -> bool {
    let Some((called, constructs)) =
        name_of(function).or_else(|| given_back(query, file, function))
    else {
        return false;
    };
    let hidden = |p: &At<'_>| matches!(p.text(), Some("self" | "cls"));
    let room = function.params().filter(|p| !hidden(p)).count();
    // One that takes any number of them has room for all.
    let open = function.params().any(|p| p.text().is_none())
        || file.text.get(function.span().0..function.span().1).is_some_and(|t| {
            let head = t.split([')', '\n']).next().unwrap_or(t);
            head.contains("...") || head.contains('*')
        });
    // The only one of its name is meant whatever it is asked of.
    let only = query.named(called).filter(|(_, n)| n.is(Kind::Func)).count() == 1;
    let calls = calls_of(query, called, constructs && !only, function);
    let more = calls.iter().find(|(_, c)| c.arguments().count() == room + 1);
    let Some((home, call)) = more.filter(|_| !open) else { return false };
    if calls.iter().any(|(_, c)| c.arguments().count() <= room) {
        return false;
    }
    let given = call.arguments().count();
    let says = say!(NO_ROOM, function = called, name, count = room, given);
    let suspect = seen.suspect(&file.path, function.line(), Strength::Plain, says);
    suspect.saw(&home.path, call.line(), say!(GIVEN_HERE)).tied(1.0);
    true
}

/// The functions beside it, which take what this one takes, take the name as well.
fn others_take_it(file: &FileFacts, function: At<'_>, name: &str, seen: &mut Seen) -> bool {
    let params: Vec<&str> = function.params().filter_map(At::text).collect();
    let place = |f: At<'_>| {
        let kept = f.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
        let target = kept.and_then(|a| a.part(Kind::Targets)?.child(0));
        let owner = target.and_then(|t| t.child(0)).or_else(|| f.part(Kind::Owner)?.child(0));
        (f.class().map(At::id), owner.and_then(At::text).map(str::to_owned))
    };
    let own = place(function);
    if params.is_empty() || own == (None, None) {
        return false;
    }
    let takes = |f: &At<'_>| {
        let theirs: Vec<&str> = f.params().filter_map(At::text).collect();
        f.is(Kind::Func)
            && *f != function
            && place(*f) == own
            && theirs.contains(&name)
            && theirs.iter().filter(|p| **p != name).eq(params.iter())
    };
    let Some(other) = file.tree.all().find(takes) else { return false };
    let called = name_of(function).map_or("this function", |(called, _)| called);
    let says = say!(LIKE_ITS_NEIGHBOURS, function = called, name);
    let suspect = seen.suspect(&file.path, function.line(), Strength::Plain, says);
    suspect.saw(&file.path, other.line(), say!(TAKEN_HERE, name)).tied(1.0);
    true
}

/// A parameter is never read, and what is read instead is what the callers hand over there.
fn other_name(
    query: &Query<'_>,
    file: &FileFacts,
    function: At<'_>,
    read: At<'_>,
    seen: &mut Seen,
) {
    let (Some(name), Some((called, constructs))) = (read.text(), name_of(function)) else { return };
    let inside: Vec<&str> =
        function.whole().filter(|n| n.is(Kind::Name)).filter_map(At::text).collect();
    let unread: Vec<(usize, &str)> = function
        .params()
        .filter(|p| !matches!(p.text(), Some("self" | "cls")))
        .enumerate()
        .filter_map(|(nth, p)| Some((nth, p.text()?)))
        .filter(|(_, p)| !p.starts_with('_') && *p != "args" && !inside.contains(p))
        .collect();
    let [(nth, param)] = unread[..] else { return };
    let calls = calls_of(query, called, constructs, function);
    let handed = |word: &str| {
        let fits = |c: &At<'_>| {
            c.arguments().nth(nth).and_then(main_word).is_some_and(|w| w.eq_ignore_ascii_case(word))
        };
        calls.iter().any(|(_, c)| fits(c))
    };
    let uses = inside.iter().filter(|n| **n == name).count();
    let strength = match (handed(name), handed(param)) {
        (_, true) => return,
        (true, false) => Strength::Plain,
        _ if uses > 1 => Strength::Plain,
        _ if name_edit(param, name).is_some_and(|e| e <= NameEdit::Letters) => Strength::Plain,
        _ => Strength::Fair,
    };
    let says = say!(OTHER_NAME, name = param, other = name);
    let suspect = seen.suspect(&file.path, function.line(), strength, says);
    suspect.saw(&file.path, read.line(), say!(READ_HERE, name)).tied(1.0);
}

/// The name that others keep a function under which a script gives back as a whole.
pub(super) fn given_back<'a>(
    query: &Query<'a>,
    file: &FileFacts,
    function: At<'_>,
) -> Option<(&'a str, bool)> {
    let whole =
        function.parent().is_some_and(|p| p.is(Kind::Return)) && function.function().is_none();
    let others = query.scope.iter().filter(|f| whole && f.path != file.path);
    let kept = others.flat_map(|f| f.tree.all()).filter_map(|n| {
        let brings = n.is(Kind::Import) && n.text().is_some_and(|t| names_file(t, file));
        let target = n.parent().filter(|p| brings && p.is(Kind::Values))?.parent()?;
        target.part(Kind::Targets)?.child(0).filter(|t| t.is(Kind::Name))?.text()
    });
    kept.map(|name| (name, false)).next()
}

/// What a function is called by, and whether that makes an object.
pub(super) fn name_of(function: At<'_>) -> Option<(&str, bool)> {
    let makes = function.has(Flag::Constructor)
        || matches!(function.text(), Some("__init__" | "constructor"));
    if makes {
        return Some((function.class().and_then(At::text)?, true));
    }
    let name = function.text().or_else(|| super::never::kept_as(function))?;
    Some((name, matches!(name, "new" | "init")))
}

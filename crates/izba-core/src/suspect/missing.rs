//! missing: what was never brought in, never given a value, or taken away before it was needed.

use super::{Ask, Check, Evidence, Seen, Verdict};
use crate::code::{At, FileFacts, Flag, How, Kind, Language};

/// The check.
pub static CHECK: Check = Check {
    id: "missing",
    applies: |ask| {
        ask.file.is_some()
            && matches!(ask.family(), "name-not-there" | "value-not-there" | "out-of-range" | "wrong-kind" | "other" | "loose-wiring" | "overlap")
    },
    look,
};

fn look(ask: &Ask<'_>, seen: &mut Seen) {
    imports(ask, seen);
    let bare = never_given(ask, seen);
    unused_parameters(ask, seen);
    never_read(ask, seen);
    undeclared(ask, seen);
    let gone = taken_away(ask, seen);
    if ask.family() == "value-not-there"
        && let Some(path) = ask.path()
    {
        let here = |saw: String| vec![Evidence { file: path.clone(), line: ask.line, saw }];
        let names = ask.subject_names().join(", ");
        if !bare && !names.is_empty() {
            seen.reason(
                Verdict::RuledOut,
                format!("{names} is declared and never given a value"),
                here("every declaration of it has a value".into()),
            );
        }
        if !gone && !names.is_empty() {
            seen.reason(
                Verdict::RuledOut,
                format!("{names} was taken away again"),
                here("no line empties it, removes it or sets it to nothing".into()),
            );
        }
    }
}

/// Modules that come with the runtimes, by the names that they are usually known under.
const KNOWN: &[(&str, &str, &str)] = &[
    ("fs", "javascript", "fs"),
    ("path", "javascript", "path"),
    ("os", "javascript", "os"),
    ("EventEmitter", "javascript", "events"),
    ("os", "python", "os"),
    ("sys", "python", "sys"),
    ("json", "python", "json"),
    ("math", "python", "math"),
    ("random", "python", "random"),
    ("re", "python", "re"),
    ("time", "python", "time"),
    ("csv", "python", "csv"),
    ("Enum", "python", "enum"),
    ("Path", "python", "pathlib"),
    ("deque", "python", "collections"),
    ("defaultdict", "python", "collections"),
    ("namedtuple", "python", "collections"),
    ("dataclass", "python", "dataclasses"),
];

/// Types of the standard libraries that have to be brought in.
pub(super) const KNOWN_TYPES: &[&str] = &[
    "List",
    "ArrayList",
    "Map",
    "HashMap",
    "Set",
    "HashSet",
    "Arrays",
    "Scanner",
    "Random",
    "Collections",
    "Iterator",
    "LinkedList",
    "Deque",
    "ArrayDeque",
    "File",
    "Files",
    "Path",
    "Paths",
    "IOException",
    "Properties",
    "BufferedReader",
    "FileReader",
    "Collectors",
    "Stream",
    "Function",
    "Consumer",
    "Supplier",
    "Optional",
    "Dictionary",
    "Queue",
    "Stack",
    "XmlDocument",
    "XmlElement",
    "StringBuilder",
    "Console",
    "Math",
    "Exception",
    "IEnumerable",
    "Action",
    "Func",
    "Stopwatch",
    "Thread",
    "Task",
    "Regex",
    "Encoding",
    "TreeMap",
    "LinkedHashMap",
    "PriorityQueue",
    "UUID",
    "Timer",
    "LocalDate",
    "Instant",
    "Duration",
    "Method",
    "Objects",
    "StandardCharsets",
    "KeyValuePair",
    "SortedDictionary",
];

/// The name is made elsewhere, and this file never brings it in.
fn imports(ask: &Ask<'_>, seen: &mut Seen) {
    let (Some(file), Some(name)) = (ask.file, ask.asked.clone().or_else(|| ask.subject_names().first().map(|n| (*n).to_owned()))) else { return };
    let unknown_name = ask.family() == "name-not-there" || ask.said.contains("nil value");
    if !unknown_name || file.tree.named(&name).any(|n| n.makes() == Some(How::Import)) {
        return;
    }
    // Of a field the file of its owner has to be brought in.
    let of_field = ask.subjects.first().filter(|s| s.is(Kind::Field)).and_then(|s| s.child(0)).and_then(At::last_name);
    // Asked of the module itself, which the file does bring in.
    if of_field.is_some_and(|owner| file.language != Language::Lua && file.tree.named(owner).any(|n| n.makes() == Some(How::Import))) {
        return;
    }
    let wanted = of_field.filter(|_| file.language == Language::Lua).map_or(name.clone(), str::to_owned);
    let makes = |f: &FileFacts, word: &str| {
        f.tree.named(word).any(|n| match n.makes() {
            Some(How::Function | How::Class) => !n.has(Flag::Member) && n.function().is_none() && n.class().is_none(),
            Some(How::Assigned) => n.function().is_none() && n.class().is_none(),
            _ => false,
        })
    };
    let made_here = makes(file, &wanted) || file.tree.named(&wanted).any(|n| n.makes().is_some());
    let homes: Vec<&FileFacts> = ask
        .scope
        .iter()
        .copied()
        .filter(|f| {
            f.path != file.path
                && (f.language.is_code() || matches!(f.language, Language::Json))
                && (makes(f, &wanted) || f.stem().eq_ignore_ascii_case(&wanted))
        })
        .collect();
    let known = KNOWN.iter().any(|(n, l, _)| *n == wanted && l.eq_ignore_ascii_case(file.language.name()));
    let known_type =
        matches!(file.language, Language::Java | Language::CSharp) && (KNOWN_TYPES.contains(&wanted.as_str()) || wanted.ends_with("Exception"));
    if made_here || homes.is_empty() && !known && !known_type {
        return;
    }
    if matches!(file.language, Language::Java | Language::CSharp) && !known_type {
        return;
    }
    let imports: Vec<At<'_>> = file.tree.all().filter(|n| n.is(Kind::Import)).collect();
    // A line that brings in something else of the same file.
    let same = imports.iter().find(|i| homes.iter().any(|h| i.text().is_some_and(|t| names_file(t, h))));
    // Lua's modules put their names there for all.
    if file.language == Language::Lua
        && (same.is_some()
            || ask.scope.iter().any(|f| {
                f.tree.all().any(|n| n.is(Kind::Import) && homes.iter().any(|h| n.text().is_some_and(|t| names_file(t, h)))) && loads(ask, f, file)
            }))
    {
        return;
    }
    let home = homes.first();
    let place = home.map_or_else(|| "the standard library".to_owned(), |h| h.name().to_owned());
    // What a script of this kind needs is usually loaded by the one that begins.
    let begins = home
        .filter(|_| file.language == Language::Lua && imports.is_empty())
        .and_then(|_| ask.steps.last())
        .map(|s| s.file)
        .filter(|f| f.path != file.path);
    let (at, line) = match (same, imports.last(), begins) {
        (Some(same), ..) => (file, same.line()),
        (None, _, Some(main)) => (main, main.tree.all().filter(|n| n.is(Kind::Import)).last().map_or(1, At::line)),
        // What comes with the runtime usually stands before what is one's own.
        (None, Some(_), _) if homes.is_empty() => (file, imports[0].line()),
        // Where they stand in order, in that order.
        (None, Some(last), _) => {
            let own: Vec<At<'_>> = imports.iter().copied().filter(|i| ask.scope.iter().any(|f| i.text().is_some_and(|t| names_file(t, f)))).collect();
            let stem = |i: &At<'_>| i.text().map(|t| t.rsplit(['/', '.']).next().unwrap_or(t).to_lowercase());
            let wanted = homes.first().map(|h| h.stem().to_lowercase());
            let in_order = own.len() >= 2 && own.windows(2).all(|w| stem(&w[0]) <= stem(&w[1]));
            let before = own.iter().rev().find(|i| stem(i) <= wanted).map(|i| i.line());
            match in_order {
                true => (file, before.unwrap_or_else(|| own[0].line().saturating_sub(1).max(1))),
                false => (file, last.line()),
            }
        }
        (None, None, None) => (file, 1),
    };
    let (confidence, reason) = match same {
        Some(_) => (0.84, format!("{wanted} is made in {place}; this line brings in other names from there, and not {wanted}")),
        None => (0.82, format!("{wanted} comes from {place}, and nothing in {} brings it in", at.name())),
    };
    let to = imports.last().map_or(1, |l| l.line());
    let suspect = seen.suspect(&at.path, line, confidence, reason);
    suspect.to(if same.is_some() { line } else { to });
    if let Some(home) = home {
        let made = home.tree.named(&wanted).find(|n| n.makes().is_some()).map_or(1, At::line);
        suspect.saw(&home.path, made, format!("{wanted} is made here"));
    }
}

/// Whether `by` is loaded before or with `file`, as far as one look tells.
fn loads(ask: &Ask<'_>, by: &FileFacts, file: &FileFacts) -> bool {
    by.path == file.path
        || ask.steps.iter().any(|s| s.file.path == by.path)
        || by.tree.all().any(|n| n.is(Kind::Import) && n.text().is_some_and(|t| names_file(t, file)))
}

/// Whether what an import names is this file: `./lib/world`, `lib.world`, `world`.
pub fn names_file(import: &str, file: &FileFacts) -> bool {
    let bare = import.trim_start_matches(['.', '/']);
    let bare = bare.rsplit_once('.').filter(|(_, e)| matches!(*e, "js" | "mjs" | "cjs" | "ts" | "json" | "lua" | "py")).map_or(bare, |(b, _)| b);
    let path = file.path.rsplit_once('.').map_or(file.path.as_ref(), |(p, _)| p);
    // This is asked of every import of every file: nothing is put together for it.
    let ends = |path: &str| {
        let mut parts = path.rsplit('/');
        bare.rsplit(['.', '\\', '/']).all(|part| parts.next() == Some(part))
    };
    !bare.is_empty() && (ends(path) || ["/index", "/__init__"].iter().any(|end| path.strip_suffix(end).is_some_and(ends)))
}

/// Declared, and given nothing.
fn never_given(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    // Where the sentence tells what kind of value was met, there was one.
    let met =
        ask.entry.facts.get("have").is_some_and(|have| !matches!(have.as_str(), "nil" | "null" | "undefined" | "None" | "NoneType" | "no value"));
    if met && ask.family() == "wrong-kind" {
        return false;
    }
    for mark in &ask.trail {
        // Begun with nothing, where every other line counts on from it.
        if let Some(node) =
            mark.node.filter(|n| n.makes() == Some(How::Assigned) && n.is(Kind::Name) && n.assigned_value().is_some_and(|v| v.is(Kind::Nil)))
            && let Some(name) = node.text()
            && mark.file.language != Language::Python
        {
            let mut others = mark
                .file
                .tree
                .named(name)
                .filter(|n| *n != node && n.is(Kind::Name) && n.makes() == Some(How::Assigned) && n.function() == node.function())
                .peekable();
            let counts_on = |n: At<'_>| {
                n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Augmented))
                    || n.assigned_value().is_some_and(|v| v.whole().any(|w| w.is(Kind::Name) && w.is_called(name)))
            };
            if others.peek().is_none() || others.all(counts_on) {
                seen.suspect(
                    &mark.file.path,
                    mark.line(),
                    0.5 + 0.3 * mark.weight,
                    format!("{name} begins with nothing here, and every other line counts on from that"),
                );
                any = true;
            }
        }
        // Python declares the fields of a type so.
        let Some(node) = mark.node.filter(|n| n.is_bare() && mark.file.language != Language::Python) else { continue };
        let Some(name) = node.text() else { continue };
        // Given a value somewhere else, its declaration is well.
        let given = mark.file.tree.named(name).any(|n| n.makes() == Some(How::Assigned) && !n.is_bare() && (n.is(Kind::Name) || n.is(Kind::Field)));
        if !given && !mark.file.language.is_checked() {
            let suspect =
                seen.suspect(&mark.file.path, mark.line(), 0.5 + 0.36 * mark.weight, format!("{name} is declared here and never given a value"));
            suspect.saw(&mark.file.path, mark.line(), "no other line gives it one");
            any = true;
        }
    }
    any
}

/// A constructor takes what should become the missing field, and does nothing with it.
fn unused_parameters(ask: &Ask<'_>, seen: &mut Seen) {
    let mut names: Vec<String> = ask.asked.iter().cloned().collect();
    names.extend(ask.subject_names().into_iter().map(str::to_owned));
    for file in ask.scope.iter().filter(|f| f.language.is_code()) {
        for name in &names {
            for param in file.tree.named(name).filter(|n| n.is(Kind::Param)) {
                let Some(function) = param.ancestors().find(|n| n.is(Kind::Func)) else { continue };
                let constructs = function.has(Flag::Constructor) || matches!(function.text(), Some("new" | "init" | "create"));
                let used = function.whole().any(|n| n.is(Kind::Name) && n.is_called(name));
                // Its neighbours are kept under their own names, and it is not.
                // Kept under an underline it is kept.
                let same = |n: At<'_>, word: &str| n.text().is_some_and(|t| t.trim_matches('_') == word.trim_matches('_'));
                let keeps = |word: &str| function.whole().any(|n| n.is(Kind::Field) && same(n, word) && n.makes().is_some());
                let forgotten = !keeps(name) && function.params().filter(|p| *p != param).filter_map(At::text).filter(|p| keeps(p)).count() >= 1;
                if !constructs || used && !forgotten {
                    continue;
                }
                // It was meant to stand where its neighbours among the parameters are kept.
                let before = function.params().take_while(|p| *p != param).filter_map(At::text).last();
                let kept = |word: &str| function.whole().find(|n| n.is(Kind::Field) && n.is_called(word) && n.makes().is_some()).map(At::line);
                let line = before.and_then(kept).unwrap_or(function.part(Kind::Block).and_then(|b| b.child(0)).map_or(function.line(), At::line));
                let suspect = seen.suspect(
                    &file.path,
                    line,
                    0.84,
                    format!("{name} is handed over here and not kept: no line says that the object's {name} is it"),
                );
                suspect.to(line + 1).saw(&file.path, param.line(), format!("{name} is taken as a parameter"));
            }
        }
    }
}

/// A constructor takes what bears the name of one of its class's fields, never reads it, and nothing else fills that field.
fn never_read(ask: &Ask<'_>, seen: &mut Seen) {
    let same = |a: &str, b: &str| a.trim_matches('_').eq_ignore_ascii_case(b.trim_matches('_'));
    for file in ask.scope.iter().filter(|f| f.language.is_code()) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func) && n.has(Flag::Constructor)) {
            let (Some(class), Some(block)) = (function.class(), function.part(Kind::Block)) else { continue };
            for param in function.params() {
                let Some(name) = param.text().filter(|t| !matches!(*t, "self" | "this")) else { continue };
                let read = function.whole().any(|n| n.is(Kind::Name) && n.is_called(name));
                let member = |n: &At<'_>| {
                    n.makes().is_some() && n.function().is_none() && n.parent().and_then(At::parent).is_some_and(|p| p.has(Flag::Member))
                };
                let Some(field) = class.whole().filter(|n| n.text().is_some_and(|t| same(t, name))).find(member) else { continue };
                let filled = class.whole().any(|n| {
                    n.text().is_some_and(|t| same(t, name))
                        && n.makes() == Some(How::Assigned)
                        && n.assigned_value().is_some()
                        && n.function().is_some()
                });
                if read || filled {
                    continue;
                }
                let kept = |word: &str| block.whole().find(|n| n.makes().is_some() && n.text().is_some_and(|t| same(t, word))).map(At::line);
                let before = function.params().take_while(|p| *p != param).filter_map(At::text).last();
                let line = before.and_then(kept).unwrap_or(block.line());
                let field_name = field.text().unwrap_or(name);
                let about = ask.subject_names().iter().chain(ask.asked.as_deref().iter()).any(|n| same(n, name)) || ask.says(name);
                let confidence = if about { 0.86 } else { 0.52 + 0.2 * ask.relevance(file, function.line()) };
                let reason = format!("{name} is taken here and never read: no line keeps it as {field_name}");
                let suspect = seen.suspect(&file.path, line, confidence, reason);
                suspect.to(line + 1).saw(&file.path, field.line(), format!("{field_name} is declared here, and nothing fills it"));
            }
        }
    }
}

/// A variable that a function reads and writes and that nothing declares: its first line is missing.
fn undeclared(ask: &Ask<'_>, seen: &mut Seen) {
    let (Some(name), Some(step)) = (ask.asked.as_deref(), ask.steps.first()) else { return };
    let unset = ask.family() == "name-not-there" || ask.said.contains("UnboundLocalError") || ask.said.contains("local variable");
    if !unset || !name.starts_with(|c: char| c.is_lowercase()) {
        return;
    }
    // Counting on is no making, and neither is giving a value where a compiler wants a declaration.
    let counts_on =
        |n: At<'_>| n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Augmented) || step.file.language.is_checked() && !a.has(Flag::Local));
    if step
        .file
        .tree
        .named(name)
        .any(|n| n.makes().is_some_and(|how| how != How::Assigned) || n.makes().is_some() && n.is(Kind::Name) && !counts_on(n))
    {
        return;
    }
    let uses: Vec<At<'_>> = step.file.tree.named(name).filter(|n| n.is(Kind::Name) && n.function() == step.function).collect();
    let Some(first) = uses.first().filter(|_| uses.len() >= 2) else { return };
    // The step of the function's own block that reads it first; a loop is begun above it.
    let block = step.function.and_then(|f| f.part(Kind::Block));
    let Some(begin) = first.ancestors().find(|a| a.parent() == block && block.is_some()) else { return };
    let line = begin.line().saturating_sub(1).max(1);
    let reason =
        format!("{name} is read and written in this function, and no line declares it: its first value is missing above line {}", begin.line());
    let suspect = seen.suspect(&step.file.path, line, 0.82, reason);
    suspect.to(begin.line());
    for one in uses.iter().take(3) {
        suspect.saw(&step.file.path, one.line(), name.to_owned());
    }
}

pub(super) const REMOVES: &[&str] = &[
    "remove",
    "removeAt",
    "RemoveAt",
    "Remove",
    "RemoveAll",
    "delete",
    "clear",
    "Clear",
    "pop",
    "popleft",
    "shift",
    "splice",
    "discard",
    "destroy",
    "Destroy",
    "dispose",
    "Dispose",
    "removeFirst",
    "removeLast",
    "poll",
    "Dequeue",
    "removeIf",
    "RemoveRange",
    "truncate",
];

/// An object that takes itself away, though others were asked for by the name of its type and are kept.
fn destroyed(ask: &Ask<'_>, file: &FileFacts, call: At<'_>, seen: &mut Seen) -> bool {
    let takes = call.child(0).and_then(At::last_name).is_some_and(|name| REMOVES.contains(&name));
    let own = |n: At<'_>| matches!(n.text(), Some("self" | "this"));
    let itself = call.arguments().next().is_some_and(own) || call.child(0).and_then(|c| c.child(0)).is_some_and(own);
    let part_of_it = call.child(0).and_then(|c| c.child(0)).is_some_and(|owner| owner.is(Kind::Field));
    if !takes || !itself || part_of_it || ask.path() == Some(&file.path) {
        return false;
    }
    // Whoever reads it got it under the name of its type.
    let called = |n: At<'_>| matches!(n.kind(), Kind::Str | Kind::New | Kind::Type) && n.text().is_some_and(|t| t.eq_ignore_ascii_case(file.stem()));
    let Some(kept) = ask.trail.iter().find(|m| m.node.is_some_and(|n| n.whole().any(called))) else { return false };
    let what = format!("{} is taken away here, and {} still keeps it", file.stem(), kept.file.name());
    let suspect = seen.suspect(&file.path, call.line(), 0.74, what);
    suspect.saw(kept.path(), kept.line(), "it is asked for and kept here");
    if let Some(path) = ask.path() {
        suspect.saw(path, ask.line, "it is needed here");
    }
    true
}

/// Lines that empty, remove or set to nothing what the error reads.
fn taken_away(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let asks_zero = ask.said.to_lowercase().contains("divi") || ask.said.contains("changed size") || ask.family() == "out-of-range";
    if !(ask.family() == "value-not-there"
        || asks_zero
        || ask.said.contains("KeyError")
        || ask.said.contains("KeyNotFound")
        || ask.said.contains("not iterable")
        || ask.said.contains("NoneType")
        || ask.said.contains("nil value"))
    {
        return false;
    }
    let mut names: Vec<&str> = ask.subject_names();
    // The containers that the value was taken out of.
    names.extend(
        ask.trail
            .iter()
            .filter(|m| m.weight > 0.4)
            .filter_map(|m| m.node)
            .filter(|n| matches!(n.kind(), Kind::Field | Kind::Name | Kind::Index))
            .filter_map(At::last_name),
    );
    names.sort_unstable();
    names.dedup();
    for file in ask.scope.iter().filter(|f| f.language.is_code()) {
        for node in file.tree.all() {
            let (name, how, strength) = match node.kind() {
                Kind::Call => {
                    any |= destroyed(ask, file, node, seen);
                    let Some(called) = node.child(0).filter(|c| c.is(Kind::Field)) else { continue };
                    if !called.text().is_some_and(|t| REMOVES.contains(&t)) {
                        continue;
                    }
                    // `table.remove(queue, i)` names the list first; elsewhere the list is asked.
                    let owner = called.child(0).filter(|o| !o.is_called("table")).or_else(|| node.arguments().next());
                    (owner.and_then(At::last_name), "something is removed from", 0.3)
                }
                Kind::Un if matches!(node.text(), Some("delete" | "del")) => {
                    (node.whole().skip(1).find_map(At::last_name), "something is deleted from", 0.3)
                }
                Kind::Nil => {
                    let assigned = node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
                    let target = assigned.and_then(|a| a.part(Kind::Targets)).and_then(|t| t.child(0));
                    // A first value is no removal; one in a constructor neither.
                    let first = assigned.is_some_and(|a| a.has(Flag::Local) || a.has(Flag::Member))
                        || node.function().is_none_or(|f| f.has(Flag::Constructor) || matches!(f.text(), Some("new")));
                    (target.filter(|_| !first).and_then(At::last_name), "nothing is put into", 0.42)
                }
                Kind::Table if node.children().next().is_none() => {
                    let assigned = node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
                    let target = assigned.and_then(|a| a.part(Kind::Targets)).and_then(|t| t.child(0));
                    let first = assigned.is_some_and(|a| a.has(Flag::Local) || a.has(Flag::Member))
                        || node.function().is_none_or(|f| f.has(Flag::Constructor) || matches!(f.text(), Some("new")));
                    // Put in under a key it empties nothing but that entry.
                    (target.filter(|t| !first && !t.is(Kind::Index)).and_then(At::last_name), "an empty list is put into", 0.4)
                }
                _ => continue,
            };
            let Some(name) = name.filter(|n| names.contains(n)) else { continue };
            let weight = ask.trail.iter().filter(|m| m.node.is_some_and(|n| n.last_name() == Some(name))).map(|m| m.weight).fold(0.3, f32::max);
            // Where it is taken away on the way to the error itself, that says more.
            let near = ask.steps.iter().any(|s| s.function.is_some() && s.function == node.function());
            let confidence =
                strength + 0.3 * weight + if near { 0.05 } else { 0.0 } + if asks_zero && ask.family() != "out-of-range" { 0.12 } else { 0.0 };
            let suspect = seen.suspect(&file.path, node.line(), confidence, format!("{how} {name} here, and later it is still needed"));
            if let Some(path) = ask.path() {
                suspect.saw(path, ask.line, format!("{name} is needed here"));
            }
            any = true;
        }
    }
    any
}

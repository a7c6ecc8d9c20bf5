//! messages: what one part of a project sends under one name, and another that it arrives at asks
//! for under another one. Between the two stands a text, so that no other check can follow it.

use super::check::{Check, Seen, Strength};
use super::flow::{bindings, is_in_braces};
use super::query::{Query, is_test};
use super::value::{Eval, What, Written, callable_name, written};
use izba_model::Family;
use izba_model::code::{At, FileFacts, How, Kind, NameEdit, name_edit};
use izba_model::{say, sayings};

sayings! {
    "messages", Absence, "../../words/suspects/messages.toml";
    SENT_AS = "sent-as",
    ASKED_AS = "asked-as",
    SENT_WITHOUT = "sent-without",
    ASKED_HERE = "asked-here",
    SENT_HERE = "sent-here",
}

/// In a project of more scripts nobody knows who talks to whom.
const SCRIPTS: usize = 400;

/// The check for this: a field that is sent under another name than it is asked for.
pub static CHECK: Check = Check {
    id: "messages",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| !f.language.calls.receives.is_empty())
            && query.family() != Family::DoesNotParse
            && query.index.code().nth(SCRIPTS).is_none()
    },
    look,
};

/// How far a value is followed from call to call.
const DEEP: usize = 8;
/// Of a function that is called in more places, so many are looked at.
const CALLS: usize = 12;

/// What arrives somewhere under a name, and the fields that it is asked for there.
struct Arrives<'a> {
    file: &'a FileFacts,
    fields: Vec<(&'a str, At<'a>)>,
}

/// What is sent somewhere, with its keys.
struct Sent<'a> {
    file: &'a FileFacts,
    table: At<'a>,
    keys: Vec<(&'a str, At<'a>)>,
    /// Whether these are all: nothing is spread out in it.
    whole: bool,
}

impl Sent<'_> {
    fn has(&self, name: &str) -> bool {
        self.keys.iter().any(|(key, _)| *key == name)
    }
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    let arriving = arriving(query);
    if arriving.is_empty() {
        return;
    }
    let sent = sent(query, &arriving);
    for one in &arriving {
        if let Some((sent, name, at)) = unlike(one, &sent) {
            tell(one, sent, (name, at), seen);
        }
    }
}

/// What is sent that has most of the fields that are asked for and lacks one; `None` where another
/// has them all, or where two have as many.
fn unlike<'s, 'a>(
    arrives: &Arrives<'a>,
    sent: &'s [Sent<'a>],
) -> Option<(&'s Sent<'a>, &'a str, At<'a>)> {
    let count = |s: &Sent<'_>| arrives.fields.iter().filter(|(name, _)| s.has(name)).count();
    let mut near: Vec<(usize, &Sent<'_>)> = sent
        .iter()
        .filter(|s| s.file.path != arrives.file.path)
        .map(|s| (count(s), s))
        .filter(|(shared, _)| *shared > 0)
        .collect();
    near.sort_by_key(|(shared, _)| std::cmp::Reverse(*shared));
    let first_whole = near.iter().find(|(_, s)| s.whole)?;
    let (most, first) = *first_whole;
    let alone = near.iter().all(|(shared, s)| *shared < most || std::ptr::eq(*s, first));
    let (name, at) = *arrives.fields.iter().find(|(name, _)| !first.has(name))?;
    // Where somebody does send it, it is that one who is heard.
    let by_another = sent.iter().any(|s| s.has(name) && s.file.path != arrives.file.path);
    (alone && !by_another && most + 1 == arrives.fields.len()).then_some((first, name, at))
}

/// Tells of the side that is to blame: the one whose word stands alone.
fn tell(arrives: &Arrives<'_>, sent: &Sent<'_>, (name, at): (&str, At<'_>), seen: &mut Seen) {
    let asked = |key: &str| arrives.fields.iter().any(|(asked, _)| *asked == key);
    let spare: Vec<&(&str, At<'_>)> = sent.keys.iter().filter(|(key, _)| !asked(key)).collect();
    let is_slip = |key: &str| name_edit(name, key).is_some_and(|e| e <= NameEdit::Letters);
    let meant = spare
        .iter()
        .find(|(_, pair)| value(*pair) == Some(name))
        .or_else(|| spare.iter().find(|(key, _)| is_slip(key)))
        // All else is the same on both sides.
        .or_else(|| spare.first().filter(|_| sent.keys.len() == arrives.fields.len()));
    let (line, file) = (at.line(), arrives.file.name());
    let Some((key, pair)) = meant.copied().copied() else {
        // What is sent may be right to have none.
        let reason = say!(SENT_WITHOUT, name, line, file);
        let suspect = seen.suspect(&sent.file.path, sent.table.line(), Strength::Fair, reason);
        suspect.to(sent.table.last_line()).saw(&arrives.file.path, line, say!(ASKED_HERE));
        return;
    };
    // A key that is called as its value is was meant so.
    let by_value = value(pair);
    let (sends, asks) = match by_value {
        Some(value) if value == name => (Strength::Plain, Strength::Fair),
        Some(value) if value == key => (Strength::Fair, Strength::Strong),
        _ if is_slip(key) => (Strength::Strong, Strength::Fair),
        _ => (Strength::Fair, Strength::Fair),
    };
    let suspect =
        seen.suspect(&sent.file.path, pair.line(), sends, say!(SENT_AS, key, name, line, file));
    suspect.saw(&arrives.file.path, line, say!(ASKED_HERE)).tied(1.0);
    let reason = say!(ASKED_AS, name, key, line = pair.line(), file = sent.file.name());
    let suspect = seen.suspect(&arrives.file.path, line, asks, reason);
    suspect.saw(&sent.file.path, pair.line(), say!(SENT_HERE)).tied(1.0);
}

/// What the value of an entry is called.
fn value(entry: At<'_>) -> Option<&str> {
    // `{ berth }` is its own value.
    if entry.is(Kind::Name) {
        entry.text()
    } else {
        entry.children().last().and_then(At::last_name)
    }
}

/// What arrives from elsewhere in the functions that the error came by, where it is asked for two
/// fields or more.
fn arriving<'a>(query: &Query<'a>) -> Vec<Arrives<'a>> {
    let mut out = Vec::new();
    let mut read: Vec<(&str, u32)> = Vec::new();
    let mut eval = Eval::new(query);
    for step in &query.steps {
        let around = step.function.or_else(|| step.file.tree.root());
        let Some(around) = around else { continue };
        if read.contains(&(step.file.path.as_ref(), around.id())) {
            continue;
        }
        read.push((step.file.path.as_ref(), around.id()));
        out.extend(taken_apart(&mut eval, step.file, around));
        let mut names: Vec<&str> = Vec::new();
        for name in around.whole().filter(|n| n.is(Kind::Name)).filter_map(At::text) {
            if names.contains(&name) {
                continue;
            }
            names.push(name);
            let fields = fields_of(around, name);
            let mut from_elsewhere = || {
                let at = around.whole().find(|n| n.is(Kind::Name) && n.is_called(name));
                at.is_some_and(|at| comes_in(&mut eval, step.file, at, DEEP))
            };
            if fields.len() > 1 && from_elsewhere() {
                out.push(Arrives { file: step.file, fields });
            }
        }
    }
    out
}

/// What arrives and is taken apart at once: by a pattern that is given a value, or by a parameter
/// that is one.
fn taken_apart<'a>(
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    around: At<'a>,
) -> Vec<Arrives<'a>> {
    let mut out = Vec::new();
    for node in around.whole() {
        let parts: Vec<At<'a>> = match node.kind() {
            Kind::Targets => node.children().filter(|t| t.is(Kind::Name)).collect(),
            Kind::Param => node.children().filter(|p| p.is(Kind::Param)).collect(),
            _ => continue,
        };
        let Some(first) =
            parts.first().copied().filter(|f| parts.len() > 1 && is_in_braces(file, *f))
        else {
            continue;
        };
        let arrives = match node.kind() {
            Kind::Targets => {
                let values = node.parent().and_then(|assign| assign.part(Kind::Values));
                let value = values.and_then(|v| v.child(0));
                value.is_some_and(|v| comes_in(eval, file, v, DEEP))
            }
            _ => handed(eval.query, first)
                .into_iter()
                .any(|(home, value)| comes_in(eval, home, value, DEEP)),
        };
        if arrives {
            let fields = parts.iter().filter_map(|p| Some((p.text()?, *p))).collect();
            out.push(Arrives { file, fields });
        }
    }
    out
}

/// The fields that a name is asked for in a function, each once; none that it is given or that is
/// called.
fn fields_of<'a>(around: At<'a>, name: &str) -> Vec<(&'a str, At<'a>)> {
    let mut fields: Vec<(&str, At<'_>)> = Vec::new();
    let of_name =
        |n: &At<'_>| n.child(0).is_some_and(|owner| owner.is(Kind::Name) && owner.is_called(name));
    for node in around.whole().filter(of_name) {
        let field = match node.kind() {
            Kind::Field => node.text(),
            Kind::Index => node.child(1).filter(|key| key.is(Kind::Str)).and_then(At::text),
            _ => None,
        };
        let given = node.defines().is_some();
        let Some(field) = field.filter(|_| !node.is_callee() && !given) else { continue };
        if !fields.iter().any(|(known, _)| *known == field) {
            fields.push((field, node));
        }
    }
    fields
}

/// Whether a value was read from a text that came from elsewhere, and from no file of the project.
fn comes_in<'a>(eval: &mut Eval<'a, '_>, file: &'a FileFacts, node: At<'a>, deep: usize) -> bool {
    let Some(deep) = deep.checked_sub(1) else { return false };
    match node.kind() {
        Kind::Call => {
            let Some(name) = node.last_name() else { return false };
            if is_one_of(&file.language.calls.receives, node) {
                let read = |what: &What<'_>| matches!(what, What::Doc(_) | What::Lines(_));
                return !eval.of(file, node).list.iter().any(|v| read(&v.what));
            }
            // What a promise hands over is what is there in the end.
            functions(eval.query, name).any(|(home, function)| {
                let mut given = function
                    .whole()
                    .filter(|n| n.is(Kind::Return) && n.function() == Some(function))
                    .filter_map(|n| n.child(0));
                given.any(|value| comes_in(eval, home, value, deep))
            })
        }
        Kind::Name => {
            let Some(name) = node.text() else { return false };
            bindings(file, node, name).into_iter().any(|made| match made.defines() {
                Some(How::Assigned) => {
                    made.assigned_value().is_some_and(|v| comes_in(eval, file, v, deep))
                }
                Some(How::Loop) => {
                    let list = made.parent().and_then(At::parent).and_then(|l| l.child(1));
                    list.is_some_and(|list| comes_in(eval, file, list, deep))
                }
                // What one is handed who answers an address was asked by somebody.
                Some(How::Parameter) if made.function().is_some_and(answers_an_address) => true,
                Some(How::Parameter) => handed(eval.query, made)
                    .into_iter()
                    .any(|(home, value)| comes_in(eval, home, value, deep)),
                _ => false,
            })
        }
        Kind::Un | Kind::Bin | Kind::If | Kind::Other => {
            node.children().any(|part| comes_in(eval, file, part, deep))
        }
        _ => false,
    }
}

/// What a parameter is handed by the calls of its function.
fn handed<'a>(query: &Query<'a>, param: At<'a>) -> Vec<(&'a FileFacts, At<'a>)> {
    let found = param.function().and_then(|function| {
        // One of several that are taken apart is a part of what is handed over.
        let whole = param.parent().filter(|p| p.is(Kind::Param)).unwrap_or(param);
        let nth = function.params().position(|p| p == whole)?;
        Some((callable_name(function)?, nth))
    });
    let Some((name, nth)) = found else { return Vec::new() };
    calls(query, name).filter_map(|(f, call)| Some((f, call.arguments().nth(nth)?))).collect()
}

fn functions<'a>(
    query: &Query<'a>,
    name: &'a str,
) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
    let made = query.index.named(name).filter(|(_, n)| matches!(n.kind(), Kind::Func | Kind::Name));
    made.filter_map(|(file, n)| Some((file, n.made_function()?)))
}

/// Whether a function is handed over, with an address, to something that calls it when somebody asks
/// there.
fn answers_an_address(function: At<'_>) -> bool {
    let Some(call) = function.parent().filter(|p| p.is(Kind::Call)) else { return false };
    call.arguments().any(|a| a.is(Kind::Str) && a.text().is_some_and(|t| t.starts_with('/')))
}

fn calls<'a>(query: &Query<'a>, name: &'a str) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
    let of_callee = |(file, node): (&'a FileFacts, At<'a>)| {
        Some((file, node.parent().filter(|_| node.is_callee())?))
    };
    query.index.named(name).filter_map(of_callee).take(CALLS)
}

/// Whether a call is one of those, which are told by their name or, where others of that name do
/// something else, with their owner's.
fn is_one_of(names: &[String], call: At<'_>) -> bool {
    let Some(name) = call.last_name() else { return false };
    let owner = call.child(0).and_then(|c| c.child(0)).and_then(At::last_name);
    names.iter().any(|known| match known.split_once('.') {
        Some((of, known)) => known == name && owner == Some(of),
        None => known == name,
    })
}

/// Every table that goes out as a text, or that a function gives back which does so.
fn sent<'a>(query: &Query<'a>, arriving: &[Arrives<'a>]) -> Vec<Sent<'a>> {
    // What it goes out of is another program.
    let tables = query.index.code().filter(|f| !is_test(&f.path)).flat_map(|file| {
        let known = |c: At<'_>| c.is(Kind::Pair) || c.is(Kind::Name);
        let keyed = move |n: &At<'_>| {
            n.is(Kind::Table) && written(file, *n) != Some(Written::List) && n.children().any(known)
        };
        file.tree.all().filter(keyed).map(move |table| (file, table))
    });
    let with_keys = tables.map(|(file, table)| {
        // What is spread out in a table may bring any key.
        let spread = |c: At<'_>| file.text[..c.span().0].ends_with("...");
        let known = |c: &At<'_>| (c.is(Kind::Pair) || c.is(Kind::Name)) && !spread(*c);
        let keys: Vec<(&str, At<'_>)> =
            table.children().filter(known).filter_map(|key| Some((key.text()?, key))).collect();
        let whole = table.children().all(|c| known(&c));
        Sent { file, table, keys, whole }
    });
    // Only what could be what arrives somewhere is followed.
    let concerns =
        |s: &Sent<'_>| arriving.iter().any(|a| a.fields.iter().any(|(name, _)| s.has(name)));
    with_keys.filter(concerns).filter(|s| goes_out(query, s.file, s.table, DEEP)).collect()
}

/// Whether a value goes out as a text.
fn goes_out<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>, deep: usize) -> bool {
    let Some(deep) = deep.checked_sub(1) else { return false };
    let Some(parent) = node.parent() else { return false };
    match parent.kind() {
        Kind::Call if node.is_argument() => {
            is_one_of(&file.language.calls.sends, parent) || is_handed_on(query, parent, node, deep)
        }
        Kind::Un | Kind::Bin | Kind::If | Kind::Other => goes_out(query, file, parent, deep),
        Kind::Return => {
            let Some(function) = parent.function() else { return false };
            let by_name = |name: &'a str| {
                calls(query, name).any(|(home, call)| goes_out(query, home, call, deep))
            };
            answers_an_address(function) || callable_name(function).is_some_and(by_name)
        }
        Kind::Values => {
            let targets = parent.parent().and_then(|assign| assign.part(Kind::Targets));
            let Some(target) = targets.and_then(|t| t.child(0)) else { return false };
            let Some(name) = target.text().filter(|_| target.is(Kind::Name)) else { return false };
            let around = target.function().or_else(|| file.tree.root());
            around.is_some_and(|around| is_used_to_go_out(query, file, around, name, deep))
        }
        _ => false,
    }
}

/// Whether a function that is handed a value lets it go out.
fn is_handed_on<'a>(query: &Query<'a>, call: At<'a>, value: At<'a>, deep: usize) -> bool {
    let nth = call.arguments().position(|a| a == value);
    let (Some(nth), Some(name)) = (nth, call.last_name()) else { return false };
    functions(query, name).take(CALLS).any(|(home, function)| {
        let param = function.params().nth(nth).and_then(At::text);
        param.is_some_and(|param| is_used_to_go_out(query, home, function, param, deep))
    })
}

/// Whether what a name stands for goes out somewhere in a function.
fn is_used_to_go_out<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    around: At<'a>,
    name: &str,
    deep: usize,
) -> bool {
    let used = |n: &At<'_>| n.is(Kind::Name) && n.is_called(name) && n.defines().is_none();
    around.whole().filter(used).any(|n| goes_out(query, file, n, deep))
}

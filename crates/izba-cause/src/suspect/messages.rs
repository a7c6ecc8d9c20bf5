//! messages: what one part of a project sends under one name, and another that it arrives at asks
//! for under another one. Between the two stands a text, so that no other check can follow it.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::query::Query;
use super::value::{Eval, What};
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

/// The check for this: a field that is sent under another name than it is asked for.
pub static CHECK: Check = Check {
    id: "messages",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| !f.language.calls.receives.is_empty())
            && query.family() != Family::DoesNotParse
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
    let sent = sent(query);
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
    let (most, first) = *near.first()?;
    let alone = near.get(1).is_none_or(|(shared, _)| *shared < most);
    let (name, at) = *arrives.fields.iter().find(|(name, _)| !first.has(name))?;
    (alone && most + 1 == arrives.fields.len()).then_some((first, name, at))
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
        .or_else(|| spare.first().filter(|_| spare.len() == 1));
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
fn value(pair: At<'_>) -> Option<&str> {
    pair.children().last().and_then(At::last_name)
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
        let called = node.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(node));
        let given = node.defines().is_some();
        let Some(field) = field.filter(|_| !called && !given) else { continue };
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
        let nth = function.params().position(|p| p == param)?;
        Some((function.text()?, nth))
    });
    let Some((name, nth)) = found else { return Vec::new() };
    calls(query, name).filter_map(|(f, call)| Some((f, call.arguments().nth(nth)?))).collect()
}

fn functions<'a>(
    query: &Query<'a>,
    name: &'a str,
) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
    query.index.named(name).filter(|(_, n)| n.is(Kind::Func))
}

fn calls<'a>(query: &Query<'a>, name: &'a str) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
    let of_callee = |(file, node): (&'a FileFacts, At<'a>)| {
        let call = node.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(node))?;
        Some((file, call))
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
fn sent<'a>(query: &Query<'a>) -> Vec<Sent<'a>> {
    // What it goes out of is another program.
    let tables = query.index.code().flat_map(|file| {
        let keyed = |n: &At<'_>| n.is(Kind::Table) && n.children().any(|c| c.is(Kind::Pair));
        file.tree.all().filter(keyed).map(move |table| (file, table))
    });
    let going_out = tables.filter(|(file, table)| goes_out(query, file, *table, DEEP));
    going_out
        .map(|(file, table)| {
            let pairs = table.children().filter(|c| c.is(Kind::Pair));
            let keys = pairs.filter_map(|pair| Some((pair.text()?, pair))).collect();
            Sent { file, table, keys }
        })
        .collect()
}

/// Whether a value goes out as a text.
fn goes_out<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>, deep: usize) -> bool {
    let Some(deep) = deep.checked_sub(1) else { return false };
    let Some(parent) = node.parent() else { return false };
    match parent.kind() {
        Kind::Call if parent.child(0) != Some(node) => {
            is_one_of(&file.language.calls.sends, parent) || is_handed_on(query, parent, node, deep)
        }
        Kind::Un | Kind::Bin | Kind::If | Kind::Other => goes_out(query, file, parent, deep),
        Kind::Return => {
            let name = parent.function().and_then(At::text);
            name.is_some_and(|name| {
                calls(query, name).any(|(home, call)| goes_out(query, home, call, deep))
            })
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

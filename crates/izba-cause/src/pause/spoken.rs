//! The expressions of a line that are worth their value: names, fields and entries that are read
//! there, and, for a variable, what it was given last. Calls are left out: asking for them would
//! run them.

use super::{Part, Spoken, length_of, nothing_test};
use crate::suspect::bindings;
use izba_model::code::{At, FileFacts, Flag, Kind};

/// At most so many of one line.
const MOST: usize = 14;

/// The expressions of a line, in the order in which they are read, then those that its variables
/// were given.
pub fn spoken(file: &FileFacts, line: u32) -> Vec<Spoken> {
    let mut found = Vec::new();
    for node in file.tree.on_line(line).filter(|n| is_read(*n)) {
        add(file, node, line, &mut found);
    }
    // One step back: where the variables of the line come from.
    let names: Vec<At<'_>> =
        file.tree.on_line(line).filter(|n| n.is(Kind::Name) && is_read(*n)).collect();
    for name in names {
        let Some(word) = name.text() else { continue };
        let before = bindings(file, name, word)
            .into_iter()
            .filter(|b| b.line() < line)
            .max_by_key(|b| b.span().0);
        let Some(value) = before.and_then(At::assigned_value) else { continue };
        for node in value.whole().filter(|n| is_read(*n)) {
            add(file, node, before.map_or(line, At::line), &mut found);
        }
    }
    found.truncate(MOST);
    found.retain(|s| match s.part {
        Part::Value => true,
        Part::Entry { list, index } => list < MOST && index < MOST,
        Part::Length { of } => of < MOST,
    });
    found
}

/// Whether the node is read where it stands: not called, not made.
fn is_read(node: At<'_>) -> bool {
    if !matches!(node.kind(), Kind::Name | Kind::Field | Kind::Index) {
        return false;
    }
    let Some(parent) = node.parent() else { return false };
    match parent.kind() {
        // What is called is a function; a length or a field of it would be one too.
        Kind::Call => parent.child(0) != Some(node),
        Kind::Targets => parent.parent().is_some_and(|p| p.has(Flag::Augmented)),
        Kind::Param
        | Kind::Params
        | Kind::Owner
        | Kind::Import
        | Kind::Type
        | Kind::Bases
        | Kind::Other => false,
        _ => true,
    }
}

fn add(file: &FileFacts, node: At<'_>, line: u32, found: &mut Vec<Spoken>) -> Option<usize> {
    let (from, to) = node.span();
    let text = file.text.get(from..to)?.trim();
    if text.is_empty()
        || text.len() > 80
        || text.contains(['\n', '"'])
        || node.whole().any(|n| matches!(n.kind(), Kind::Call | Kind::New | Kind::Func))
    {
        return None;
    }
    if let Some(at) = found.iter().position(|s| s.text == text) {
        return Some(at);
    }
    let asked = node.parent().is_some_and(|p| {
        let receiver = p.child(0) == Some(node);
        matches!(p.kind(), Kind::Bin | Kind::Un)
            || receiver && matches!(p.kind(), Kind::Field | Kind::Index)
    });
    let mut part = Part::Value;
    if node.is(Kind::Index) {
        let list = node.child(0).and_then(|n| add(file, n, line, found));
        let index = node.child(1).and_then(|n| add(file, n, line, found));
        if let (Some(list), Some(index)) = (list, index) {
            part = Part::Entry { list, index };
            if !found.iter().any(|s| s.part == Part::Length { of: list })
                && let Some(length) = length_of(file.language, &found[list].text)
            {
                found.push(Spoken {
                    text: length,
                    line,
                    part: Part::Length { of: list },
                    asked: false,
                });
            }
        }
    }
    // A number as an index is not worth asking for, yet the entry wants it.
    found.push(Spoken { text: text.to_owned(), line, part, asked });
    Some(found.len() - 1)
}

/// A condition under which the line is about to fail for want of a value: what the error asks
/// something of is nothing. `subject` is the expression that the error is about, where that is
/// known.
pub fn before_fault(file: &FileFacts, line: u32, subject: Option<&str>) -> Option<String> {
    let here = spoken(file, line);
    let read = |text: &str| here.iter().any(|s| s.line == line && s.text == text);
    let expression = subject.filter(|s| read(s)).map(str::to_owned).or_else(|| {
        // One thing alone of which something is asked can be the one.
        let mut asked = here.iter().filter(|s| {
            s.line == line
                && s.asked
                && s.part == Part::Value
                && s.text != "self"
                && s.text != "this"
        });
        let first = asked.next()?;
        asked.next().is_none().then(|| first.text.clone())
    })?;
    nothing_test(file.language, &expression)
}

/// The first line of the body of the function that holds `line`, with the name of its object there,
/// if it has one.
///
/// Functions inside functions count as part of the outermost one: that is what the engine calls.
pub fn first_line_of_handler(file: &FileFacts, line: u32) -> Option<(u32, Option<&'static str>)> {
    let inside = file
        .tree
        .all()
        .filter(|n| n.is(Kind::Func) && n.line() <= line && line <= n.last_line() + 1);
    let outermost = inside.min_by_key(|f| f.span().0)?;
    let block = outermost.part(Kind::Block)?;
    let first = block.children().map(At::line).find(|l| *l >= outermost.line())?;
    let name = file.language.known().itself.as_deref().unwrap_or("this");
    let has = outermost.has(Flag::Method)
        || outermost.params().any(|p| p.is_called(name))
        || outermost.has(Flag::Member) && !outermost.has(Flag::Static);
    let receiver = has.then_some(name);
    Some((first, receiver))
}

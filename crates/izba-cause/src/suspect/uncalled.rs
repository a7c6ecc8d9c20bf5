//! uncalled: a function stands on the console's own line where what it gives is wanted, because the
//! brackets behind its name are missing.
//!
//! Most runtimes and compilers say so in their own terms; where they don't, a method of the project
//! that is nothing but a method, and that the line works with as with a value, is odd enough.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::value::is_property;
use izba_model::Family;
use izba_model::code::{At, Kind};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};
use std::sync::Arc;

sayings! {
    "uncalled", Any, "../../words/suspects/uncalled.toml";
    TOLD = "told",
    HERE = "here",
    MADE = "made",
}

/// The check for this: a function that is named and not called.
pub static CHECK: Check = Check {
    id: "uncalled",
    kinds: KINDS,
    applies: |query| query.file.is_some_and(|f| f.language.is_code()),
    look,
};

/// Sentences that say that a function itself was met: of CPython, the C# compilers, javac and Lua.
/// One that is asked for by `[ ]` may lack other brackets, and is left out.
static FUNCTION: Pattern = Pattern::new(
    r#"['"](?:builtin_function_or_method|method|function|method_descriptor)['"]|\bnot (?:builtin_function_or_method|method|function)\b|\bmethod group\b|\bfunction value\b|\btwo function values\b|compare (?:function with|\w+ with function)|can be used as a statement|\bnot a statement\b"#,
);
static BY_SQUARE: Pattern = Pattern::new(r"is not subscriptable|item assignment");

fn look(query: &Query<'_>, seen: &mut Seen) {
    let told = FUNCTION.is_match(&query.said) && !BY_SQUARE.is_match(&query.said);
    let asked = query.family() == Family::NameNotThere;
    let of_value = matches!(query.family(), Family::WrongKind | Family::ValueNotThere);
    if !told && !asked && !of_value {
        return;
    }
    let named: Vec<At<'_>> = query.on_line().filter(|n| is_named_only(query, *n)).collect();
    let made = |n: &At<'_>| function_of(query, *n).is_some();
    let ours: Vec<At<'_>> = named.iter().copied().filter(made).collect();
    let chosen = match (ours.as_slice(), told) {
        // What is no function of the project may be one of its language.
        ([], true) => only_one(query, named.into_iter().filter(|n| n.is(Kind::Field)).collect()),
        ([one], _) => Some(*one),
        _ => None,
    };
    let Some(node) = chosen else { return };
    let Some(name) = node.text() else { return };
    let (strength, says) = match (told, asked) {
        (true, _) => (Strength::Plain, say!(TOLD, name)),
        // A compiler that does not find a variable of this name.
        (_, true) if query.mentioned.iter().any(|m| m == name) => {
            (Strength::Plain, say!(HERE, name))
        }
        _ if is_worked_with(node) => (Strength::Strong, say!(HERE, name)),
        _ => return,
    };
    let Some(path) = query.path() else { return };
    let suspect = seen.suspect(path, node.line(), strength, says);
    if let Some((file, line)) = function_of(query, node) {
        suspect.saw(file, line, say!(MADE));
    }
}

/// A name that is read on the line and not called.
fn is_named_only(query: &Query<'_>, node: At<'_>) -> bool {
    let text = query.file.map_or("", |f| &*f.text);
    let behind = text.get(node.span().1..).unwrap_or("");
    matches!(node.kind(), Kind::Name | Kind::Field)
        && node.defines().is_none()
        && !behind.trim_start().starts_with(['(', '{', '"', '\'', '`', '['])
        && node.text().is_some_and(|t| text.get(..node.span().1).is_some_and(|b| b.ends_with(t)))
}

/// Where the project makes a function of this name, if that is all that it ever makes of it.
fn function_of<'a>(query: &Query<'a>, node: At<'_>) -> Option<(&'a Arc<str>, u32)> {
    let mut made = query.named(node.text()?).filter(|(_, n)| n.defines().is_some());
    let (file, first) = made.next()?;
    let function = |n: At<'_>| n.is(Kind::Func) || n.part(Kind::Func).is_some();
    // A method of a type is no plain name, and a plain function no member.
    let fits = function(first) && (first.class().is_some() == node.is(Kind::Field));
    let only = fits && made.all(|(f, n)| function(n) && !is_property(f, n));
    (only && !is_property(file, first)).then(|| (&file.path, first.line()))
}

/// The one that is meant: at the column that is told, or the only one that is asked for a part of
/// its own; where no column is told, the only one.
fn only_one<'a>(query: &Query<'_>, found: Vec<At<'a>>) -> Option<At<'a>> {
    let (file, place) = (query.file?, query.entry.place.as_ref()?);
    let at = place.column.and_then(|column| {
        let line = file.line_span(query.line)?;
        Some(line.start + column.to_byte(&file.text[line]))
    });
    // Some compilers point at the name, some at the dot before it.
    let near = |n: &At<'_>| {
        let name = n.span().1.saturating_sub(n.text().map_or(0, str::len));
        at.is_some_and(|at| (name.saturating_sub(1)..n.span().1).contains(&at))
    };
    let asked = |n: &At<'_>| file.text.get(n.span().1..).is_some_and(|b| b.starts_with('.'));
    let one = |fits: &dyn Fn(&At<'a>) -> bool| {
        let mut all = found.iter().copied().filter(fits);
        all.next().filter(|_| all.next().is_none())
    };
    one(&near).or_else(|| one(&asked)).or_else(|| one(&|_| at.is_none()))
}

/// Whether the line works with it as with a value: computes, asks it for a part, goes through it.
/// What is handed over or kept may be meant as a function.
fn is_worked_with(node: At<'_>) -> bool {
    node.parent().is_some_and(|p| match p.kind() {
        Kind::Bin | Kind::Index => true,
        Kind::Field => p.child(0) == Some(node),
        Kind::ForIn => true,
        _ => false,
    })
}

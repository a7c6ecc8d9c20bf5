//! access: the member is there, and not open to those who ask for it.

use super::brought::names_file;
use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::seen::{ASKED_HERE, MADE_HERE};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::HandsOut;
use izba_model::{say, sayings};

sayings! {
    "access", Any, "../../words/suspects/access.toml";
    CLOSED = "closed",
    LOCAL = "local",
    HANDS_OUT_NOTHING = "hands-out-nothing",
    HANDS_OUT_OTHERS = "hands-out-others",
}

/// The check for this: the member is there, and not open to those who ask for it.
pub static CHECK: Check = Check {
    id: "access",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(at) = query.file else { return };
    // A method of the same name stood in for the closed one: the sentence speaks of it without its
    // name.
    let group = query.said.contains("method group");
    let mut names: Vec<&str> = query.asked.as_deref().into_iter().collect();
    names.extend(query.subject_names().into_iter().filter(|_| group));
    names.dedup();
    for asked in names {
        closed_to_others(query, at, asked, seen);
    }
}

fn closed_to_others(query: &Query<'_>, at: &FileFacts, asked: &str, seen: &mut Seen) {
    for occurrence in query.symbols.occurrences(asked) {
        let Some(node) = occurrence.node else { continue };
        let elsewhere = occurrence.file.path != at.path;
        let (closed, method) = match node.kind() {
            Kind::Func => (node.has(Flag::Private), true),
            _ => (
                node.defines() == Some(How::Assigned)
                    && node
                        .parent()
                        .and_then(At::parent)
                        .is_some_and(|p| p.has(Flag::Private) && p.has(Flag::Member)),
                false,
            ),
        };
        if closed
            && elsewhere
            && (query.family() == Family::NotOpen || query.said.contains("method group"))
        {
            // Fields are usually closed on purpose, and have something open that gives them.
            let class = node.class();
            let siblings: Vec<At<'_>> =
                class.into_iter().flat_map(At::children).filter(|m| m.is(Kind::Assign)).collect();
            let open =
                siblings.iter().filter(|m| m.has(Flag::Export) || !m.has(Flag::Private)).count();
            let getter = class.into_iter().flat_map(At::children).any(|m| {
                m.is(Kind::Func)
                    && m.text().is_some_and(|t| {
                        t.to_lowercase().ends_with(&asked.to_lowercase()) && t != asked
                    })
            });
            // In C# what is open begins with a capital, and what begins with a small letter is
            // meant to be closed.
            let names = siblings
                .iter()
                .filter(|m| !m.has(Flag::Private))
                .filter_map(|m| m.whole().find(|n| n.defines() == Some(How::Assigned)));
            let capitals = names.filter_map(At::text).all(|n| n.starts_with(char::is_uppercase));
            let small = occurrence.file.language.small_is_private
                && open > 0
                && capitals
                && asked.starts_with(char::is_lowercase);
            let on_purpose = !method && (getter || small || open == 0 && siblings.len() > 1);
            let uses = query
                .symbols
                .occurrences(asked)
                .iter()
                .filter(|s| s.file.path != occurrence.file.path)
                .count();
            let strength = match (on_purpose, uses) {
                (true, _) => Strength::Weak,
                (false, 0 | 1) => Strength::Strong,
                (false, _) => Strength::Plain,
            };
            let suspect = seen.suspect(
                &occurrence.file.path,
                node.line(),
                strength,
                say!(CLOSED, name = asked, file = at.name()),
            );
            suspect.saw(&at.path, query.line, say!(ASKED_HERE, name = asked));
        }
        // Made in a file, and not offered by it.
        if elsewhere && node.is(Kind::Func) && !closed || node.is(Kind::Class) && elsewhere {
            offered(query, occurrence.file, node, asked, seen);
        }
    }
}

/// A function or type of another file that this file does not hand out.
fn offered(query: &Query<'_>, home: &FileFacts, node: At<'_>, asked: &str, seen: &mut Seen) {
    if node.has(Flag::Member) || node.class().is_some() || node.function().is_some() {
        return;
    }
    match home.language.hands_out {
        Some(HandsOut::Globals) if node.has(Flag::Local) => {
            let handed = home.tree.named(asked).any(|n| {
                n.is(Kind::Name)
                    && n.parent().is_some_and(|p| {
                        matches!(p.kind(), Kind::Values | Kind::Pair | Kind::Return)
                    })
                    || n.is(Kind::Field) && n.defines().is_some()
            });
            if !handed {
                let suspect = seen.suspect(
                    &home.path,
                    node.line(),
                    Strength::Plain,
                    say!(LOCAL, name = asked, file = home.name()),
                );
                if let Some(path) = query.path() {
                    suspect.saw(path, query.line, say!(ASKED_HERE, name = asked));
                }
            }
        }
        Some(HandsOut::Exports) => {
            let is_export = |n: &At<'_>| {
                n.is(Kind::Field) && n.is_called("exports")
                    || n.is(Kind::Name) && n.is_called("exports")
                    || n.has(Flag::Export)
            };
            let exports: Vec<At<'_>> =
                home.tree.all().filter(|n| is_export(n)).map(At::step).collect();
            let handed = exports.iter().any(|e| e.whole().any(|n| n.text() == Some(asked)));
            if handed {
                return;
            }
            if exports.is_empty() {
                let brought = query.file.is_some_and(|f| {
                    f.tree.all().any(|n| {
                        n.is(Kind::Import) && n.text().is_some_and(|t| names_file(t, home))
                    })
                });
                if brought {
                    let end = home.text.lines().count().max(1) as u32;
                    let reason = say!(HANDS_OUT_NOTHING, file = home.name());
                    seen.suspect(&home.path, end, Strength::Plain, reason).saw(
                        &home.path,
                        node.line(),
                        say!(MADE_HERE, name = asked),
                    );
                }
                return;
            }
            // One line for all, or one for each in the order in which they are made.
            let line = match exports.as_slice() {
                [one] => one.line(),
                many => {
                    let functions: Vec<&str> = home
                        .tree
                        .all()
                        .filter(|n| n.is(Kind::Func) && n.function().is_none())
                        .filter_map(At::text)
                        .collect();
                    let nth = functions.iter().position(|f| *f == asked).unwrap_or(0);
                    let before = functions[..nth]
                        .iter()
                        .rev()
                        .find_map(|f| many.iter().find(|e| e.whole().any(|n| n.text() == Some(f))));
                    before.map_or_else(|| many[0].line().saturating_sub(1).max(1), |b| b.line())
                }
            };
            let suspect = seen.suspect(
                &home.path,
                line,
                Strength::Plain,
                say!(HANDS_OUT_OTHERS, file = home.name(), name = asked),
            );
            suspect.to(if exports.len() == 1 { line } else { line + 1 }).saw(
                &home.path,
                node.line(),
                say!(MADE_HERE, name = asked),
            );
        }
        _ => {}
    }
}

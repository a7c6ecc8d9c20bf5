//! Types and functions that begin without the beginning of their base.

use super::says::{NO_SUPER, NO_SUPER_KNOWN, on_the_way, own};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use izba_model::Family;
use izba_model::code::{At, Kind};
use izba_model::dialect::HandsOut;
use izba_model::say;

/// A function that makes objects is told to be of another one's kind, and does not begin as that one
/// does: `Base.call(this, …)` is missing.
pub(super) fn no_base_call(query: &Query<'_>, seen: &mut Seen) {
    // Where a name alone is not known, no field is missing.
    if query.family() == Family::NameNotThere
        && query
            .on_line()
            .any(|n| n.is(Kind::Name) && query.asked.as_deref().is_some_and(|a| n.is_called(a)))
    {
        return;
    }
    for file in query.scope.iter().filter(|f| f.language.hands_out == Some(HandsOut::Exports)) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            let Some(name) = function.text().filter(|n| n.starts_with(char::is_uppercase)) else {
                continue;
            };
            let sets =
                function.whole().any(|n| n.is(Kind::Field) && own(n) && n.defines().is_some());
            let begins_as = |base: &str| {
                function.whole().any(|n| {
                    n.is(Kind::Field)
                        && matches!(n.text(), Some("call" | "apply"))
                        && n.child(0).is_some_and(|o| o.last_name() == Some(base))
                })
            };
            // `inherit(Name, Base)`, `Name.prototype = Object.create(Base.prototype)`.
            let base = file.tree.named(name).filter(|n| n.is(Kind::Name)).find_map(|n| {
                let call = n.parent().filter(|p| p.is(Kind::Call) && p.child(0) != Some(n))?;
                let mut arguments = call.arguments();
                let (one, other) = (arguments.next()?, arguments.next()?);
                let base = other
                    .text()
                    .filter(|t| other.is(Kind::Name) && t.starts_with(char::is_uppercase))?;
                (one == n && arguments.next().is_none()).then_some(base)
            });
            let Some(base) = base.filter(|b| sets && !begins_as(b)) else { continue };
            let fields: Vec<&str> = query
                .symbols
                .occurrences(base)
                .iter()
                .filter_map(|s| s.node.filter(|n| n.is(Kind::Func)))
                .flat_map(At::whole)
                .filter(|n| n.is(Kind::Field) && own(*n) && n.defines().is_some())
                .filter_map(At::text)
                .collect();
            if fields.is_empty() {
                continue;
            }
            let reason = say!(NO_SUPER, name, base, fields = fields.as_slice());
            seen.suspect(&file.path, function.line(), Strength::Plain, reason)
                .to(function.line() + 1);
        }
    }
}

/// A type begins without the beginning of its base.
pub(super) fn no_super(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for class in file.tree.all().filter(|n| n.is(Kind::Class)) {
            let Some(base) = class.part(Kind::Bases).and_then(|b| b.child(0)) else { continue };
            let Some(base_name) = base.last_name().or(base.text()) else { continue };
            let constructor = class
                .children()
                .find(|m| m.is(Kind::Func) && matches!(m.text(), Some("__init__" | "constructor")));
            let Some(constructor) = constructor else { continue };
            let hands_on = constructor
                .whole()
                .any(|n| n.is_called("super") || n.is_called("__init__") && n.is(Kind::Field));
            if hands_on {
                continue;
            }
            let name = class.text().unwrap_or_default();
            let known = query
                .scope
                .iter()
                .find_map(|f| f.tree.named(base_name).find(|n| n.is(Kind::Class)).map(|n| (*f, n)));
            let fields: Vec<&str> = match known {
                Some((_, base)) => {
                    let begins = base.children().find(|m| {
                        m.is(Kind::Func) && matches!(m.text(), Some("__init__" | "constructor"))
                    });
                    let sets = begins.into_iter().flat_map(At::whole);
                    sets.filter(|n| n.is(Kind::Field) && n.defines().is_some() && own(*n))
                        .filter_map(At::text)
                        .collect()
                }
                // Of a base that is not here the language itself asks for it.
                None if file.language.hands_out == Some(HandsOut::Exports) => Vec::new(),
                None => continue,
            };
            if known.is_some() && fields.is_empty() {
                continue;
            }
            let mine: Vec<&str> = constructor
                .whole()
                .filter(|n| n.is(Kind::Field) && n.defines().is_some())
                .filter_map(At::text)
                .collect();
            if !fields.is_empty() && fields.iter().all(|f| mine.contains(f)) {
                continue;
            }
            let asked = fields.iter().any(|f| query.says(f) || on_the_way(query).contains(f));
            // Where a name alone is not known, no field is missing.
            if query.family() == Family::NameNotThere && !asked {
                continue;
            }
            let here = query.path() == Some(&file.path);
            let by_word = query.said.contains("super constructor");
            let strength = if asked || by_word && here { Strength::Plain } else { Strength::Fair };
            let reason = match fields.is_empty() {
                true => say!(NO_SUPER_KNOWN, name, base = base_name),
                false => say!(NO_SUPER, name, base = base_name, fields = fields.as_slice()),
            };
            let suspect = seen.suspect(&file.path, constructor.line(), strength, reason);
            suspect.to(constructor.line() + 1);
        }
    }
}

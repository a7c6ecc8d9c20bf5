//! What lists, plain objects and texts of a language bring along by themselves: asked for anything
//! else, they have nothing.

use super::eval::Eval;
use super::val::{Val, Vals, What};
use izba_model::code::{At, FileFacts, Kind, NameEdit, name_edit};
use izba_model::dialect::HandsOut;

/// Members of lists where objects and lists are two kinds of things.
const OF_LISTS: &[&str] = &[
    "push",
    "pop",
    "shift",
    "unshift",
    "map",
    "forEach",
    "filter",
    "reduce",
    "reduceRight",
    "find",
    "findIndex",
    "findLast",
    "some",
    "every",
    "slice",
    "splice",
    "join",
    "concat",
    "sort",
    "reverse",
    "includes",
    "indexOf",
    "lastIndexOf",
    "fill",
    "flat",
    "flatMap",
    "at",
    "length",
    "entries",
    "keys",
    "values",
    "copyWithin",
    "toSorted",
    "toReversed",
    "with",
];

/// Members of texts there.
const OF_TEXTS: &[&str] = &[
    "length",
    "at",
    "charAt",
    "charCodeAt",
    "codePointAt",
    "concat",
    "endsWith",
    "includes",
    "indexOf",
    "lastIndexOf",
    "localeCompare",
    "match",
    "matchAll",
    "normalize",
    "padEnd",
    "padStart",
    "repeat",
    "replace",
    "replaceAll",
    "search",
    "slice",
    "split",
    "startsWith",
    "substr",
    "substring",
    "toLowerCase",
    "toUpperCase",
    "toString",
    "trim",
    "trimEnd",
    "trimStart",
    "valueOf",
    "toLocaleLowerCase",
    "toLocaleUpperCase",
];

/// Members of everything.
const OF_ALL: &[&str] = &[
    "constructor",
    "hasOwnProperty",
    "toString",
    "valueOf",
    "isPrototypeOf",
    "toLocaleString",
    "propertyIsEnumerable",
];

/// How a table is written: as a list or as an object with keys.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Written {
    List,
    Keyed,
}

/// Whether lists have a member of this name by themselves.
pub(crate) fn is_of_lists(name: &str) -> bool {
    OF_LISTS.contains(&name)
}

/// Whether a name is one slip away from that of a member which lists have.
pub(crate) fn is_nearly_of_lists(name: &str) -> bool {
    OF_LISTS.iter().any(|m| name_edit(name, m).is_some_and(|e| e <= NameEdit::Letters))
}

/// Whether only numbers have a member of this name.
pub(crate) fn is_of_numbers(name: &str) -> bool {
    matches!(name, "toFixed" | "toPrecision" | "toExponential")
}

/// Whether texts have a member of this name by themselves.
pub(crate) fn is_of_texts(name: &str) -> bool {
    OF_TEXTS.contains(&name)
}

/// How a table is written, in languages that write the two differently.
pub(crate) fn written(file: &FileFacts, table: At<'_>) -> Option<Written> {
    if !table.is(Kind::Table) {
        return None;
    }
    match file.text.as_bytes().get(table.span().0) {
        Some(b'[') => Some(Written::List),
        Some(b'{') if file.language.first_index == 0 => Some(Written::Keyed),
        _ => None,
    }
}

impl<'a> Eval<'a, '_> {
    /// Nothing, where a list, a plain object or a text is asked for a member that its kind does not
    /// have; `None` where it may have it.
    pub(super) fn has_not(
        &mut self,
        val: &Val<'a>,
        key: &Val<'a>,
        site: (&'a FileFacts, At<'a>),
    ) -> Option<Vals<'a>> {
        // Only where kinds of things keep to their own members.
        let name = site.1.text()?;
        if site.0.language.hands_out != Some(HandsOut::Exports) || OF_ALL.contains(&name) {
            return None;
        }
        let called =
            site.1.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(site.1));
        let lacks = match &val.what {
            What::Table(table) => match written(val.file, *table)? {
                Written::List => {
                    !OF_LISTS.contains(&name)
                        && self.puts(val.file, *table).0.iter().all(|p| p.named != Some(name))
                }
                Written::Keyed => {
                    let (puts, escapes) = self.puts(val.file, *table);
                    called
                        && OF_LISTS.contains(&name)
                        && !escapes
                        && table.children().all(|c| c.text() != Some(name))
                        && puts.iter().all(|p| p.named != Some(name))
                }
            },
            What::Items(_) => !OF_LISTS.contains(&name),
            What::Text(_) | What::AnyText | What::Lines(_) => !OF_TEXTS.contains(&name),
            What::Num(_) => called && !is_of_numbers(name),
            _ => false,
        };
        if !lacks {
            return None;
        }
        let nothing = self.missed(val, key, Vec::new(), site);
        Some(Vals::one(Val { file: val.file, line: val.line, ..nothing }))
    }
}

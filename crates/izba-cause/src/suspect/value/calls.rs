//! Parameters: what functions are handed, by the real stack first, then call by call.

use super::eval::{Eval, Frame};
use super::val::{Val, Vals, What};
use crate::suspect::flow::bindings;
use izba_model::code::{At, FileFacts, Flag, Kind};

/// Calls of one function that are looked at.
const CALLS: usize = 24;

impl<'a> Eval<'a, '_> {
    pub(super) fn parameter(&mut self, file: &'a FileFacts, param: At<'a>) -> Vals<'a> {
        let Some(function) = param.function() else { return Vals::lost() };
        // One of several that are taken apart.
        let outer = param.parent().filter(|p| p.is(Kind::Param));
        let place = outer.unwrap_or(param);
        let Some(nth) = function.params().position(|p| p == place) else { return Vals::lost() };
        if let Some(outer) = outer {
            let at = outer.children().position(|p| p == param).unwrap_or(0);
            let before = file.text.get(..param.span().0).unwrap_or_default().trim_end();
            let named = before.ends_with('{')
                || before.ends_with(',') && {
                    let list = file.text.get(outer.span().0..param.span().0).unwrap_or_default();
                    list.trim_start().starts_with('{')
                };
            let whole = self.handed(file, function, nth, outer);
            return self.taken_apart(whole, at, param.text().filter(|_| named), (file, param));
        }
        self.handed(file, function, nth, param)
    }

    /// What the `nth` parameter of a function is handed.
    fn handed(
        &mut self,
        file: &'a FileFacts,
        function: At<'a>,
        nth: usize,
        param: At<'a>,
    ) -> Vals<'a> {
        let hidden =
            function.params().next().is_some_and(|p| matches!(p.text(), Some("self" | "cls")));
        if hidden && nth == 0 {
            return match function.class() {
                Some(class) => Vals::one(Val::new(What::Object(class, None), file, class.line())),
                None => Vals::lost(),
            };
        }
        let nth = nth - usize::from(hidden);
        if let Some(at) = self.frames.iter().rposition(|f| f.function == function) {
            let Frame { call, file: home, .. } = self.frames[at];
            let inner = self.frames.split_off(at);
            let found = self.argument(home, call, nth, param);
            self.frames.extend(inner);
            return found.unwrap_or_else(|| self.by_default(file, param, Some((home, call))));
        }
        if let Some((home, call)) = self.called_on_the_way(file, function) {
            let found = self.outside(|eval| eval.argument(home, call, nth, param));
            return found.unwrap_or_else(|| self.by_default(file, param, Some((home, call))));
        }
        let mut calls = self.calls_of(function);
        if calls.is_empty() {
            calls = self.dispatched(file, function);
        }
        if calls.is_empty() {
            return self.handed_by_library(file, function, nth);
        }
        let mut out = Vals { list: Vec::new(), lost: calls.len() >= CALLS };
        for (home, call) in calls {
            let found = self.outside(|eval| eval.argument(home, call, nth, param));
            out.join(found.unwrap_or_else(|| self.by_default(file, param, Some((home, call)))));
        }
        out
    }

    /// What a parameter is where a call hands nothing over for it.
    fn by_default(
        &mut self,
        file: &'a FileFacts,
        param: At<'a>,
        call: Option<(&'a FileFacts, At<'a>)>,
    ) -> Vals<'a> {
        match param.children().find(|c| !matches!(c.kind(), Kind::Type | Kind::Other | Kind::Param))
        {
            Some(value) => self.of(file, value),
            None => match call {
                // Lists that are spread out may hold it.
                Some((home, call))
                    if !home
                        .text
                        .get(call.span().0..call.span().1)
                        .is_some_and(|t| t.contains("..") || t.contains('*')) =>
                {
                    Vals::one(Val::new(What::Nothing, home, call.line()))
                }
                _ => Vals::lost(),
            },
        }
    }

    fn argument(
        &mut self,
        file: &'a FileFacts,
        call: At<'a>,
        nth: usize,
        param: At<'a>,
    ) -> Option<Vals<'a>> {
        let by_name = call
            .arguments()
            .find(|a| a.is(Kind::Pair) && a.text().is_some() && a.text() == param.text());
        let argument = by_name.or_else(|| call.arguments().nth(nth))?;
        let mut found = self.of(file, argument);
        for val in found.list.iter_mut().filter(|v| v.handed.is_none()) {
            val.handed = Some((file, argument.line()));
        }
        Some(found)
    }

    /// The call that led into a function, where the stack tells.
    fn called_on_the_way(
        &self,
        file: &FileFacts,
        function: At<'a>,
    ) -> Option<(&'a FileFacts, At<'a>)> {
        let steps = &self.query.steps;
        let at =
            steps.iter().position(|s| s.function == Some(function) && s.file.path == file.path)?;
        let caller = steps.get(at + 1)?;
        let calls = caller.calls();
        let name = callable_name(function);
        let by_name = || calls.iter().filter(|n| name.is_some() && n.last_name() == name);
        // What is kept in a table or variable is called by another name.
        let kept = || {
            calls.iter().filter(|n| {
                n.child(0).is_some_and(|c| match c.kind() {
                    Kind::Index => true,
                    Kind::Name => c.text().is_some_and(|t| {
                        let made = bindings(caller.file, c, t);
                        !made.is_empty() && made.iter().all(|m| !m.is(Kind::Func))
                    }),
                    _ => false,
                })
            })
        };
        let call = match by_name().count() {
            1 => by_name().next()?,
            0 if kept().count() == 1 => kept().next()?,
            _ => return None,
        };
        Some((caller.file, *call))
    }

    /// All calls of a function by its name.
    pub(super) fn calls_of(&self, function: At<'a>) -> Vec<(&'a FileFacts, At<'a>)> {
        let Some(name) = callable_name(function) else { return Vec::new() };
        let by_super = function.has(Flag::Constructor).then(|| function.class()).flatten();
        let mut found: Vec<(&'a FileFacts, At<'a>)> = Vec::new();
        for f in self.query.scope.iter().filter(|f| f.language.is_code()) {
            let calls = f.tree.named(name).filter_map(|n| match n.kind() {
                Kind::New => Some(n),
                Kind::Name | Kind::Field => {
                    n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n))
                }
                _ => None,
            });
            let calls = calls.filter(|c| !self.is_anothers(function, *c));
            found.extend(calls.map(|c| (*f, c)).take(CALLS));
            // A derived type hands on to its base.
            if let Some(class) = by_super.and_then(At::text) {
                let derived =
                    f.tree.named(class).filter(|n| n.parent().is_some_and(|p| p.is(Kind::Bases)));
                for class in derived.filter_map(At::class) {
                    let hands_on = class.whole().filter(|n| {
                        n.is(Kind::Call)
                            && (n
                                .child(0)
                                .is_some_and(|c| matches!(c.text(), Some("super" | "base")))
                                || n.child(0).is_some_and(|c| {
                                    c.is_called("__init__")
                                        && c.child(0)
                                            .is_some_and(|o| o.last_name() == Some("super"))
                                }))
                    });
                    found.extend(hands_on.map(|c| (*f, c)));
                }
            }
        }
        found.truncate(CALLS);
        found
    }

    /// Calls of a function that is kept in a table and called by what is looked up there.
    fn dispatched(&self, file: &'a FileFacts, function: At<'a>) -> Vec<(&'a FileFacts, At<'a>)> {
        let mut tables: Vec<&'a str> = Vec::new();
        let mut kept_in = |node: At<'a>| {
            let table = node.parent().and_then(|p| match p.kind() {
                Kind::Table => Some(p),
                Kind::Pair => p.parent().filter(|t| t.is(Kind::Table)),
                _ => None,
            });
            let names = table.and_then(super::kept::kept_under).unwrap_or_default();
            tables.extend(names.into_iter().filter_map(At::text));
            let target = node
                .parent()
                .filter(|p| p.is(Kind::Values))
                .and_then(At::parent)
                .and_then(|a| a.part(Kind::Targets)?.child(0))
                .filter(|t| t.is(Kind::Index));
            tables.extend(target.and_then(|t| t.child(0)?.last_name()));
        };
        kept_in(function);
        if let Some(name) = function.text() {
            let uses = file.tree.named(name).filter(|n| n.is(Kind::Name) || n.is(Kind::Field));
            uses.for_each(&mut kept_in);
        }
        let owner = function.part(Kind::Owner).and_then(|o| o.child(0)).and_then(At::text);
        tables.extend(owner);
        tables.sort_unstable();
        tables.dedup();
        let mut found: Vec<(&'a FileFacts, At<'a>)> = Vec::new();
        for f in self.query.scope.iter().filter(|f| f.language.is_code()) {
            let entries = tables
                .iter()
                .flat_map(|t| f.tree.named(t))
                .filter_map(|n| n.parent().filter(|p| p.is(Kind::Index) && p.child(0) == Some(n)));
            for entry in entries {
                let Some(parent) = entry.parent() else { continue };
                if parent.is(Kind::Call) && parent.child(0) == Some(entry) {
                    found.push((*f, parent));
                } else if parent.is(Kind::Values)
                    && let Some(name) = parent
                        .parent()
                        .and_then(|a| a.part(Kind::Targets)?.child(0))
                        .filter(|t| t.is(Kind::Name))
                        .and_then(At::text)
                {
                    let calls = f.tree.named(name).filter_map(|n| {
                        n.parent().filter(|p| {
                            p.is(Kind::Call)
                                && p.child(0) == Some(n)
                                && p.function() == entry.function()
                        })
                    });
                    found.extend(calls.map(|c| (*f, c)));
                }
            }
        }
        found.truncate(CALLS);
        found
    }

    /// Whether a call names the owner of another function of the same name.
    fn is_anothers(&self, function: At<'a>, call: At<'a>) -> bool {
        let of = |f: At<'a>| {
            f.part(Kind::Owner)
                .and_then(|o| o.child(0))
                .and_then(At::text)
                .or_else(|| f.class().filter(|_| f.has(Flag::Static)).and_then(At::text))
        };
        let owner = call.child(0).filter(|c| c.is(Kind::Field)).and_then(|c| c.child(0));
        let owner = owner.filter(|o| o.is(Kind::Name)).and_then(At::text);
        let (Some(owner), Some(name), Some(own)) = (owner, function.text(), of(function)) else {
            return false;
        };
        owner != own
            && !matches!(owner, "self" | "this")
            && self.query.named(name).any(|(_, f)| f.is(Kind::Func) && of(f) == Some(owner))
    }
}

/// The name under which a function is called: a constructor's is that of its type.
/// The name by which a function is called: its own, its type's, or that of what it is kept in.
pub(crate) fn callable_name(function: At<'_>) -> Option<&str> {
    let constructs = function.has(Flag::Constructor)
        || matches!(function.text(), Some("__init__" | "constructor"));
    if constructs { function.class().and_then(At::text) } else { function.text() }.or_else(|| {
        // One that is kept in a variable or field.
        let target = function.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent)?;
        target.part(Kind::Targets)?.child(0)?.last_name()
    })
}

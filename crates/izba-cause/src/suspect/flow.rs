//! Where a value comes from: backwards through assignments, parameters, calls, tables, loops and
//! data, with a weight that grows less with each step.

use super::query::Query;
use super::slice_node::SliceNode;
use izba_model::Entry;
use izba_model::code::{At, FileFacts, Flag, How, Index, Kind, Role, SyntaxFault};
use std::collections::HashSet;

/// Values are not followed further than this.
const MOST: usize = 1500;
const FAINTEST: f32 = 0.12;

struct Walk<'a, 'b> {
    query: &'b Query<'a>,
    slice: Vec<SliceNode<'a>>,
    seen: HashSet<(*const FileFacts, u32)>,
}

/// Looks up what an error asks for, and follows its subjects to where they come from.
pub fn asked<'a>(entry: &'a Entry, index: &'a Index, syntax: &'a [SyntaxFault]) -> Query<'a> {
    let mut query = Query::new(entry, index, syntax);
    query.slice = trace(&query);
    query
}

/// Follows all subjects of an error.
fn trace<'a>(query: &Query<'a>) -> Vec<SliceNode<'a>> {
    let mut walk = Walk { query, slice: Vec::new(), seen: HashSet::new() };
    if let Some(file) = query.file {
        let mut weight = 1.0;
        for subject in &query.subjects {
            walk.expression(file, *subject, weight);
            weight = (weight * 0.92f32).max(0.5);
        }
    }
    walk.slice
}

impl<'a> Walk<'a, '_> {
    fn sliced(&mut self, file: &'a FileFacts, node: At<'a>, weight: f32) {
        if self.slice.len() < MOST {
            self.slice.push(SliceNode { file, node: Some(node), line: node.line(), weight });
        }
    }

    fn expression(&mut self, file: &'a FileFacts, node: At<'a>, weight: f32) {
        if weight < FAINTEST || !self.seen.insert((std::ptr::from_ref(file), node.id())) {
            return;
        }
        self.sliced(file, node, weight);
        match node.kind() {
            Kind::Name => self.name(file, node, weight),
            Kind::Field => {
                if let Some(name) = node.text() {
                    self.member(file, node, name, weight);
                }
                if let Some(owner) =
                    node.child(0).filter(|o| !matches!(o.text(), Some("self" | "this")))
                {
                    self.expression(file, owner, weight * 0.6);
                }
            }
            Kind::Index => {
                for (at, part) in node.children().enumerate() {
                    self.expression(file, part, weight * if at == 0 { 0.75 } else { 0.85 });
                }
            }
            Kind::Call => self.call(file, node, weight),
            Kind::New => {
                for argument in node.arguments() {
                    self.expression(file, argument, weight * 0.5);
                }
            }
            Kind::Table => {
                for part in node.children() {
                    self.expression(file, part, weight * 0.8);
                }
            }
            Kind::Func => {}
            _ => {
                for part in node.children() {
                    self.expression(file, part, weight * 0.9);
                }
            }
        }
    }

    fn name(&mut self, file: &'a FileFacts, node: At<'a>, weight: f32) {
        let Some(name) = node.text() else { return };
        if matches!(name, "self" | "this" | "super" | "base") {
            return;
        }
        let bindings = bindings(file, node, name);
        if bindings.is_empty() {
            let elsewhere: Vec<(&'a FileFacts, At<'a>)> = self
                .query
                .named(name)
                .filter(|(f, n)| {
                    n.defines().is_some_and(|h| h != How::Parameter && h != How::Loop)
                        && (f.path != file.path
                            || n.has(Flag::Member)
                            || n.parent().and_then(At::parent).is_some_and(|p| p.has(Flag::Member))
                            || n.function().is_none())
                })
                .collect();
            for (f, n) in elsewhere {
                self.made(f, n, weight * 0.85);
            }
            return;
        }
        for binding in bindings {
            self.made(file, binding, weight * 0.9);
        }
    }

    /// A place where a name is made.
    fn made(&mut self, file: &'a FileFacts, node: At<'a>, weight: f32) {
        self.sliced(file, node, weight);
        match node.defines() {
            Some(How::Assigned) => {
                let assign = node.parent().and_then(At::parent);
                let value = node
                    .assigned_value()
                    .or_else(|| assign.and_then(|a| a.part(Kind::Values)).and_then(|v| v.child(0)));
                if let Some(value) = value {
                    self.expression(file, value, weight * 0.9);
                }
            }
            Some(How::Key) => {
                for value in node.children() {
                    self.expression(file, value, weight * 0.9);
                }
            }
            Some(How::Loop) => {
                let gone_through = node.parent().and_then(At::parent);
                for part in gone_through
                    .into_iter()
                    .flat_map(At::children)
                    .filter(|c| !matches!(c.kind(), Kind::Targets | Kind::Block | Kind::Type))
                {
                    self.expression(file, part, weight * 0.85);
                }
            }
            Some(How::Parameter) => self.parameter(file, node, weight),
            _ => {}
        }
    }

    fn parameter(&mut self, file: &'a FileFacts, param: At<'a>, weight: f32) {
        let Some(function) = param.ancestors().find(|n| n.is(Kind::Func)) else { return };
        let Some(nth) = function.params().position(|p| p == param) else { return };
        let name = function
            .text()
            .filter(|_| !function.has(Flag::Constructor))
            .or_else(|| function.class().and_then(At::text));
        // Python writes the object among the parameters.
        let hidden = usize::from(
            function.params().next().is_some_and(|p| p.is_called("self") || p.is_called("cls")),
        );
        // The step that called it, where the stack tells.
        let at = self
            .query
            .steps
            .iter()
            .position(|s| s.function == Some(function) && s.file.path == file.path);
        if let Some(caller) = at.and_then(|at| self.query.steps.get(at + 1)) {
            let calls = caller.calls();
            let mut named: Vec<At<'a>> =
                calls.iter().copied().filter(|c| name.is_none() || c.last_name() == name).collect();
            if named.is_empty() {
                named = calls;
            }
            if !named.is_empty() {
                for call in named {
                    if let Some(argument) =
                        nth.checked_sub(hidden).and_then(|n| argument(call, n, param.text()))
                    {
                        self.expression(caller.file, argument, weight * 0.9);
                    }
                }
                return;
            }
        }
        let Some(name) = name else {
            // A function handed over: what it is handed to gives it its arguments.
            if let Some(call) = function.parent().filter(|p| p.is(Kind::Call)) {
                for part in call.children().filter(|c| *c != function) {
                    self.expression(file, part, weight * 0.7);
                }
            }
            return;
        };
        let calls: Vec<(&'a FileFacts, At<'a>)> = self
            .query
            .named(name)
            .filter_map(|(f, n)| match n.kind() {
                Kind::New => Some((f, n)),
                Kind::Name | Kind::Field => {
                    n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n)).map(|p| (f, p))
                }
                _ => None,
            })
            .take(24)
            .collect();
        for (f, call) in calls {
            if let Some(argument) =
                nth.checked_sub(hidden).and_then(|n| argument(call, n, param.text()))
            {
                self.expression(f, argument, weight * 0.75);
            }
        }
    }

    fn member(&mut self, file: &'a FileFacts, node: At<'a>, name: &'a str, weight: f32) {
        let own = matches!(node.child(0).and_then(At::text), Some("self" | "this"));
        let class = node.class();
        let makers: Vec<(&'a FileFacts, At<'a>)> = self
            .query
            .named(name)
            .filter(|(_, n)| match n.defines() {
                Some(How::Assigned) => {
                    n.is(Kind::Field)
                        || n.parent().and_then(At::parent).is_some_and(|p| p.has(Flag::Member))
                        || n.function().is_none()
                }
                Some(How::Function | How::Key | How::Class) => true,
                _ => false,
            })
            .filter(|(f, n)| {
                !own || class.is_none()
                    || f.path == file.path && n.class() == class
                    || n.is(Kind::Field)
                        && !matches!(n.child(0).and_then(At::text), Some("self" | "this"))
                    || n.is(Kind::Pair)
            })
            .take(40)
            .collect();
        let share = if makers.len() > 6 { 0.75 } else { 0.9 };
        for (f, maker) in makers {
            self.made(f, maker, weight * share);
            if maker.is(Kind::Func) && node.parent().is_some_and(|p| p.is(Kind::Call)) {
                self.returns(f, maker, weight * 0.7);
            }
        }
        // What data calls by this name, and what it holds under it.
        for f in self.query.scope.iter().filter(|f| !f.data.is_empty()) {
            for datum in f.data.iter().filter(|d| match d.role {
                Role::Key => d.text.as_ref() == name,
                Role::Value => d.path.rsplit('/').next() == Some(name),
            }) {
                if self.slice.len() < MOST {
                    self.slice.push(SliceNode {
                        file: f,
                        node: None,
                        line: datum.line,
                        weight: weight * 0.75,
                    });
                }
            }
        }
    }

    fn call(&mut self, file: &'a FileFacts, node: At<'a>, weight: f32) {
        let name = node.last_name();
        let functions: Vec<(&'a FileFacts, At<'a>)> = name
            .into_iter()
            .flat_map(|name| self.query.named(name))
            .filter(|(_, n)| n.is(Kind::Func))
            .take(12)
            .collect();
        for (f, function) in &functions {
            self.sliced(f, *function, weight * 0.6);
            self.returns(f, *function, weight * 0.85);
        }
        // What a library gives back depends on what it is given.
        let kept = if functions.is_empty() { 0.7 } else { 0.45 };
        for part in node.arguments() {
            self.expression(file, part, weight * kept);
        }
        if let Some(owner) = node.child(0).filter(|c| c.is(Kind::Field)).and_then(|c| c.child(0)) {
            self.expression(file, owner, weight * kept);
        }
    }

    fn returns(&mut self, file: &'a FileFacts, function: At<'a>, weight: f32) {
        for back in
            function.whole().filter(|n| n.is(Kind::Return) && n.function() == Some(function))
        {
            self.sliced(file, back, weight);
            for value in back.children() {
                self.expression(file, value, weight);
            }
        }
    }
}

/// The `n`th argument of a call, or the one handed over under the parameter's name.
fn argument<'a>(call: At<'a>, n: usize, name: Option<&str>) -> Option<At<'a>> {
    let named = call
        .arguments()
        .find(|a| a.is(Kind::Pair) && a.text().is_some() && a.text() == name)
        .and_then(|a| a.child(0));
    named.or_else(|| call.arguments().nth(n))
}

/// Where a name that is read at `node` is made, in the innermost function or block that makes it;
/// empty when no one in the file does.
pub fn bindings<'a>(file: &'a FileFacts, node: At<'a>, name: &str) -> Vec<At<'a>> {
    let makers: Vec<At<'a>> = file
        .tree
        .named(name)
        .filter(|n| n.defines().is_some() && !n.is(Kind::Field) && !n.is(Kind::Pair))
        .filter(|n| file.language.fields_are_bare || !is_member_function(*n))
        .collect();
    let mut around = node.function();
    loop {
        let here: Vec<At<'a>> = makers.iter().copied().filter(|m| home(*m) == around).collect();
        if !here.is_empty() || around.is_none() {
            return here;
        }
        around = around.and_then(At::function);
    }
}

/// A function that is reached through its type or table only, and not by its name alone.
fn is_member_function(node: At<'_>) -> bool {
    node.is(Kind::Func)
        && (node.part(Kind::Owner).is_some()
            || node.parent().is_some_and(|p| matches!(p.kind(), Kind::Class | Kind::Table)))
}

/// Whether something is the first in braces: of a pattern that takes parts by their names.
pub(super) fn is_in_braces(file: &FileFacts, first: At<'_>) -> bool {
    file.text.get(..first.span().0).unwrap_or_default().trim_end().ends_with('{')
}

/// The function whose variable a made name is.
fn home(made: At<'_>) -> Option<At<'_>> {
    // A function's own name belongs outside it; its parameters inside.
    made.function()
}

//! Where a name is made: functions, variables, fields, types, parameters, keys, imports.

use super::{At, FileFacts, Flag, Index, Kind};

/// How a name is made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum How {
    /// A function or method.
    Function,
    /// A type.
    Class,
    /// A variable or field that gets a value.
    Assigned,
    /// A parameter.
    Parameter,
    /// A key of a table.
    Key,
    /// Brought in from elsewhere.
    Import,
    /// The variable of a loop.
    Loop,
}

/// One place where a name is made.
#[derive(Debug, Clone, Copy)]
pub struct Definition<'a> {
    /// Its file.
    pub file: &'a FileFacts,
    /// The node: function, class, target, parameter, pair or imported name.
    pub at: At<'a>,
    /// How.
    pub how: How,
}

impl<'a> At<'a> {
    /// How this node makes its name, if it does.
    pub fn defines(self) -> Option<How> {
        match self.kind() {
            Kind::Func => Some(How::Function),
            Kind::Class => Some(How::Class),
            Kind::Param => Some(How::Parameter),
            Kind::Pair => Some(How::Key),
            Kind::Name | Kind::Field => {
                let parent = self.parent()?;
                match parent.kind() {
                    Kind::Targets
                        if parent
                            .parent()
                            .is_some_and(|p| p.is(Kind::ForIn) || p.is(Kind::For)) =>
                    {
                        Some(How::Loop)
                    }
                    Kind::Targets if !parent.parent().is_some_and(|p| p.has(Flag::Augmented)) => {
                        Some(How::Assigned)
                    }
                    Kind::Import => Some(How::Import),
                    _ => None,
                }
            }
            _ => None,
        }
    }

    /// Of a target of an assignment: the value that it gets, where each target has one of its own.
    pub fn assigned_value(self) -> Option<At<'a>> {
        let targets = self.parent().filter(|p| p.is(Kind::Targets))?;
        let nth = targets.children().position(|t| t == self)?;
        targets.parent()?.part(Kind::Values)?.child(nth)
    }

    /// Whether it is what a call calls: `moor` of `moor(boat)`, the whole of `quay.moor` of
    /// `quay.moor(boat)`.
    pub fn is_callee(self) -> bool {
        self.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(self))
    }

    /// Whether a call hands it over.
    pub fn is_argument(self) -> bool {
        self.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) != Some(self))
    }

    /// The function that is made here: itself, or the one that a name or field gets.
    pub fn made_function(self) -> Option<At<'a>> {
        if self.is(Kind::Func) {
            return Some(self);
        }
        self.assigned_value().filter(|v| v.is(Kind::Func))
    }

    /// Of a target: whether it gets nothing at all at its declaration.
    pub fn is_bare(self) -> bool {
        let Some(assign) = self.parent().filter(|p| p.is(Kind::Targets)).and_then(At::parent)
        else {
            return false;
        };
        assign.is(Kind::Assign)
            && !assign.has(Flag::Augmented)
            && assign.part(Kind::Values).is_none_or(|v| v.children().next().is_none())
    }
}

impl Index {
    /// All places where `name` is made.
    pub fn definitions<'a>(&'a self, name: &'a str) -> impl Iterator<Item = Definition<'a>> {
        self.named(name).filter_map(|(file, at)| Some(Definition { file, at, how: at.defines()? }))
    }

    /// Places where `name` is read or called: every node of that name that does not make it and is
    /// no text.
    pub fn uses<'a>(&'a self, name: &'a str) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
        self.named(name).filter(|(_, at)| {
            at.defines().is_none()
                && !matches!(at.kind(), Kind::Str | Kind::Other | Kind::Bin | Kind::Un)
        })
    }
}

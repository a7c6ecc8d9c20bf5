//! One tree for all languages: names, fields, calls, texts, tables, assignments, functions, loops.
//! What a language calls them, and how it writes them, is gone; where they stand is kept.

use super::steps;
use std::collections::HashMap;
use std::sync::OnceLock;

/// What a node is. The order of its children is fixed for each kind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[repr(u8)]
pub enum Kind {
    /// The whole file.
    File,
    /// Steps in order.
    Block,
    /// A name by itself.
    Name,
    /// `a.b`: the child is `a`, the text `b`.
    Field,
    /// `a[b]`: the children are `a` and `b`.
    Index,
    /// A call: what is called, then its arguments.
    Call,
    /// A new object: its text is the type; the children are the arguments.
    New,
    /// A text; its text is what stands between the quotes.
    Str,
    /// A number.
    Num,
    /// `true` or `false`.
    Bool,
    /// The language's word for nothing.
    Nil,
    /// A list or table written out.
    Table,
    /// `key = value` in a table, or a named argument: the text is the key when it is a name or a
    /// text; the children are the value, or key and value.
    Pair,
    /// A function; its text is its name, if it has one. Children: [`Kind::Owner`] where one is
    /// written, [`Kind::Params`], [`Kind::Block`].
    Func,
    /// Of `function Kite.new`, `Kite`.
    Owner,
    /// Parameters.
    Params,
    /// One parameter, by name; its default value may be a child.
    Param,
    /// Two operands; the text is the operator.
    Bin,
    /// One operand; the text is the operator.
    Un,
    /// Targets and values.
    Assign,
    /// What is assigned to.
    Targets,
    /// What is assigned.
    Values,
    /// What a function gives back.
    Return,
    /// Condition, then, else.
    If,
    /// A loop with a condition.
    While,
    /// A counting loop: target, start, limit, then the block.
    For,
    /// A loop over a list: [`Kind::Targets`], what is gone through, the block.
    ForIn,
    /// An error raised on purpose.
    Throw,
    /// Something tried, and what catches.
    Try,
    /// A type: its text is its name; [`Kind::Bases`] first where it has any, then its members.
    Class,
    /// What a type is made from.
    Bases,
    /// A file, module or package brought in; the text is what it is called there. Children: the
    /// names that it brings.
    Import,
    /// The name of a type where a variable, parameter or result is declared.
    Type,
    /// Leaves a loop or a function without a value.
    Leave,
    /// Anything else.
    Other,
}

/// What else is known of a node.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[repr(u16)]
pub enum Flag {
    /// Declared here, for this block or function only.
    Local = 1,
    /// Belongs to the type, not to an object.
    Static = 2,
    /// Not open to others.
    Private = 4,
    /// Of functions: its object comes as a hidden parameter; of calls: the object is handed over
    /// (`a:b()`).
    Method = 8,
    /// Computes with the old value (`+=`).
    Augmented = 16,
    /// Makes an object of its type.
    Constructor = 32,
    /// Offered to other files.
    Export = 64,
    /// A member of a type.
    Member = 128,
    /// Written so that nothing there is no error (`?.`).
    Lenient = 256,
    /// The parser did not understand it.
    Broken = 512,
    /// All names of a module are taken.
    Whole = 1024,
}

/// Which node of a tree.
pub type NodeId = u32;

const NONE: u32 = u32::MAX;

#[derive(Debug, Clone, Copy)]
struct Node {
    kind: Kind,
    flags: u16,
    name: u32,
    line: u32,
    start: u32,
    end: u32,
    parent: u32,
    child: u32,
    next: u32,
}

/// The tree of one file. Node 0 is the file.
#[derive(Debug, Clone, Default)]
pub struct Tree {
    nodes: Vec<Node>,
    /// All names and texts, sorted.
    words: Vec<Box<str>>,
    /// Nodes by their word, in the order of `words`, then of the file.
    by_word: Vec<(u32, NodeId)>,
    /// Nodes by their line, in the order of the file; worked out with the first question.
    by_line: OnceLock<Vec<(u32, NodeId)>>,
}

/// Puts a tree together from its root inwards.
#[derive(Debug, Default)]
pub struct Builder {
    nodes: Vec<Node>,
    words: Vec<Box<str>>,
    known: HashMap<Box<str>, u32>,
    open: Vec<(NodeId, Option<NodeId>)>,
}

impl Builder {
    /// Opens a node under the one that is open. `line` counts from 1, `span` are bytes of the file,
    /// half open.
    pub fn open(
        &mut self,
        kind: Kind,
        flags: u16,
        name: Option<&str>,
        line: u32,
        span: (usize, usize),
    ) -> NodeId {
        let id = self.nodes.len() as u32;
        let name = name.map_or(NONE, |n| self.word(n));
        let parent = self.open.last().map_or(NONE, |(p, _)| *p);
        self.nodes.push(Node {
            kind,
            flags,
            name,
            line,
            start: span.0 as u32,
            end: span.1 as u32,
            parent,
            child: NONE,
            next: NONE,
        });
        if let Some((parent, last)) = self.open.last_mut() {
            match last.replace(id) {
                Some(before) => self.nodes[before as usize].next = id,
                None => self.nodes[*parent as usize].child = id,
            }
        }
        self.open.push((id, None));
        id
    }

    /// Closes the node opened last.
    pub fn close(&mut self) {
        self.open.pop();
    }

    /// Gives a node one more flag.
    pub fn mark(&mut self, node: NodeId, flag: Flag) {
        if let Some(node) = self.nodes.get_mut(node as usize) {
            node.flags |= flag as u16;
        }
    }

    fn word(&mut self, text: &str) -> u32 {
        if let Some(id) = self.known.get(text) {
            return *id;
        }
        let id = self.words.len() as u32;
        self.words.push(text.into());
        self.known.insert(text.into(), id);
        id
    }

    /// The tree of all nodes that were written.
    pub fn finish(self) -> Tree {
        let Builder { mut nodes, words, .. } = self;
        let mut order: Vec<u32> = (0..words.len() as u32).collect();
        order.sort_by(|a, b| words[*a as usize].cmp(&words[*b as usize]));
        let mut place = vec![0u32; words.len()];
        for (at, old) in order.iter().enumerate() {
            place[*old as usize] = at as u32;
        }
        let mut by_word = Vec::new();
        for (id, node) in nodes.iter_mut().enumerate() {
            if node.name != NONE {
                node.name = place[node.name as usize];
                by_word.push((node.name, id as u32));
            }
        }
        by_word.sort_unstable();
        let mut words: Vec<Option<Box<str>>> = words.into_iter().map(Some).collect();
        let words = order.iter().filter_map(|old| words[*old as usize].take()).collect();
        nodes.shrink_to_fit();
        by_word.shrink_to_fit();
        Tree { nodes, words, by_word, by_line: OnceLock::new() }
    }
}

impl Tree {
    /// The node of the whole file; `None` in an empty tree.
    pub fn root(&self) -> Option<At<'_>> {
        (!self.nodes.is_empty()).then_some(At { tree: self, id: 0 })
    }

    /// The node with this number, if there is one.
    pub fn at(&self, id: NodeId) -> Option<At<'_>> {
        ((id as usize) < self.nodes.len()).then_some(At { tree: self, id })
    }

    /// All nodes in the order of the file.
    pub fn all(&self) -> impl Iterator<Item = At<'_>> {
        let left = |_: &NodeId| steps::are_left();
        (0..self.nodes.len() as u32).take_while(left).map(|id| At { tree: self, id })
    }

    /// All nodes of this name or text, in the order of the file.
    pub fn named<'a>(&'a self, word: &str) -> impl Iterator<Item = At<'a>> + use<'a> {
        let (from, word) = match self.words.binary_search_by(|w| w.as_ref().cmp(word)) {
            Ok(at) => (self.by_word.partition_point(|(w, _)| (*w as usize) < at), at as u32),
            Err(_) => (self.by_word.len(), 0),
        };
        self.by_word[from..]
            .iter()
            .take_while(move |(w, _)| *w == word && steps::are_left())
            .map(|(_, id)| At { tree: self, id: *id })
    }

    /// All names and texts of the file, sorted.
    pub fn words(&self) -> impl Iterator<Item = &str> {
        self.words.iter().map(AsRef::as_ref)
    }

    /// The nodes that begin on this line, outermost first.
    pub fn on_line(&self, line: u32) -> impl Iterator<Item = At<'_>> {
        let by_line = self.by_line.get_or_init(|| {
            // Kept for all questions, so that none pays for it.
            let lines = self.nodes.iter().map(|n| n.line);
            let mut all: Vec<(u32, NodeId)> = lines.zip(0..).collect();
            all.sort_unstable();
            all
        });
        let from = by_line.partition_point(|(l, _)| *l < line);
        by_line[from..]
            .iter()
            .take_while(move |(l, _)| *l == line)
            .map(|(_, id)| At { tree: self, id: *id })
    }

    /// About how many bytes of memory it takes.
    pub fn memory_usage(&self) -> usize {
        self.nodes.capacity() * size_of::<Node>()
            + self.by_word.capacity() * 8
            + self.words.iter().map(|w| w.len() + 16).sum::<usize>()
    }
}

/// One node of a tree.
#[derive(Clone, Copy)]
pub struct At<'a> {
    tree: &'a Tree,
    id: NodeId,
}

impl PartialEq for At<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id && std::ptr::eq(self.tree, other.tree)
    }
}

impl std::fmt::Debug for At<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{:?}", self.kind())?;
        if let Some(text) = self.text() {
            write!(f, " {text:?}")?;
        }
        write!(f, " {}", self.line())
    }
}

impl<'a> At<'a> {
    fn node(self) -> &'a Node {
        steps::take();
        &self.tree.nodes[self.id as usize]
    }

    /// The number of the node in its tree.
    pub fn id(self) -> NodeId {
        self.id
    }

    /// What the node is, the same in all languages.
    pub fn kind(self) -> Kind {
        self.node().kind
    }

    /// Whether it is of this kind.
    pub fn is(self, kind: Kind) -> bool {
        self.kind() == kind
    }

    /// Whether it has this flag.
    pub fn has(self, flag: Flag) -> bool {
        self.node().flags & flag as u16 != 0
    }

    /// Its name, text, number or operator.
    pub fn text(self) -> Option<&'a str> {
        self.tree.words.get(self.node().name as usize).map(AsRef::as_ref)
    }

    /// Whether this is its name or text.
    pub fn is_called(self, name: &str) -> bool {
        self.text() == Some(name)
    }

    /// Line, from 1: of a field or call that is written over several lines, that of its name.
    pub fn line(self) -> u32 {
        self.node().line
    }

    /// Bytes of the file, half open.
    pub fn span(self) -> (usize, usize) {
        (self.node().start as usize, self.node().end as usize)
    }

    /// The node that stands around it; `None` at the top.
    pub fn parent(self) -> Option<At<'a>> {
        self.tree.at(self.node().parent)
    }

    /// From its parent outwards to the file.
    pub fn ancestors(self) -> impl Iterator<Item = At<'a>> {
        std::iter::successors(self.parent(), |n| n.parent().filter(|_| steps::are_left()))
    }

    /// Its children in the order in which they stand.
    pub fn children(self) -> impl Iterator<Item = At<'a>> {
        let next = |n: &At<'a>| n.tree.at(n.node().next).filter(|_| steps::are_left());
        std::iter::successors(self.tree.at(self.node().child), next)
    }

    /// Its `n`th child, from 0.
    pub fn child(self, n: usize) -> Option<At<'a>> {
        self.children().nth(n)
    }

    /// Its first child of a kind.
    pub fn part(self, kind: Kind) -> Option<At<'a>> {
        self.children().find(|c| c.is(kind))
    }

    /// The one that follows it under the same parent.
    pub fn next(self) -> Option<At<'a>> {
        self.tree.at(self.node().next)
    }

    /// It and everything in it, in the order of the file.
    pub fn whole(self) -> impl Iterator<Item = At<'a>> {
        // Children are numbered after their parent and before its next sibling.
        let end = std::iter::once(self)
            .chain(self.ancestors())
            .find_map(At::next)
            .map_or(self.tree.nodes.len() as u32, |n| n.id);
        (self.id..end).map(|id| At { tree: self.tree, id })
    }

    /// The function that it stands in.
    pub fn function(self) -> Option<At<'a>> {
        self.ancestors().find(|n| n.is(Kind::Func))
    }

    /// The type that it stands in.
    pub fn class(self) -> Option<At<'a>> {
        self.ancestors().find(|n| n.is(Kind::Class))
    }

    /// The step of a block that it belongs to.
    pub fn step(self) -> At<'a> {
        let mut at = self;
        while let Some(up) = at.parent() {
            if matches!(up.kind(), Kind::Block | Kind::File | Kind::Class) {
                break;
            }
            at = up;
        }
        at
    }

    /// Of a call or a new object: its arguments.
    pub fn arguments(self) -> impl Iterator<Item = At<'a>> {
        self.children().skip(usize::from(self.is(Kind::Call)))
    }

    /// Of a function: its parameters.
    pub fn params(self) -> impl Iterator<Item = At<'a>> {
        self.part(Kind::Params).into_iter().flat_map(At::children).filter(|p| p.is(Kind::Param))
    }

    /// The last name of an expression: of `a.b` and `a.b()` it is `b`.
    pub fn last_name(self) -> Option<&'a str> {
        match self.kind() {
            Kind::Name
            | Kind::Field
            | Kind::Func
            | Kind::Class
            | Kind::Param
            | Kind::New
            | Kind::Pair
            | Kind::Import => self.text(),
            Kind::Call => self.child(0)?.last_name(),
            Kind::Index => self.child(0)?.last_name(),
            Kind::Owner => self.child(0)?.last_name(),
            _ => None,
        }
    }

    /// The last line that any of it begins on.
    pub fn last_line(self) -> u32 {
        self.whole().map(At::line).max().unwrap_or(self.line())
    }

    /// Drawn as nested brackets, for tests.
    pub fn sketch(self) -> String {
        let text = self.text().map_or(String::new(), |t| format!(" {t}"));
        let inside: Vec<String> = self.children().map(At::sketch).collect();
        let inside =
            if inside.is_empty() { String::new() } else { format!(" {}", inside.join(" ")) };
        format!("({:?}{text}{inside})", self.kind())
    }
}

//! What one language of code brings: its grammar, how the nodes of it are written in the one tree
//! of all languages, and what it calls the places at which something can be left out.

use izba_model::code::{Builder, Flag, Kind, NodeId, Tree};
use std::sync::OnceLock;
use tree_sitter::Node;

/// One language: its grammar, and what its kinds of nodes mean to Izba.
pub struct Grammar {
    /// The id of its dialect.
    pub id: &'static str,
    /// Its grammar.
    pub load: fn() -> tree_sitter::Language,
    /// How its kinds of nodes are written; all others as [`Writer::other`] does.
    pub nodes: &'static [Row],
    /// The same by the numbers that the grammar gives its kinds, once it is loaded.
    pub table: OnceLock<Vec<Option<Rule>>>,
    /// What its grammar calls its places.
    pub places: Places,
}

/// What a language's grammar calls the places at which something can be left out.
pub struct Places {
    /// Nodes whose named children are statements or members.
    pub blocks: &'static [&'static str],
    /// Nodes whose named children are entries, with commas between.
    pub lists: &'static [&'static str],
    /// Nodes that may be left out of what holds them: branches.
    pub branches: &'static [&'static str],
    /// What an empty block needs.
    pub if_empty: Option<&'static str>,
}

/// Kinds of nodes that are written alike.
pub type Row = (&'static [&'static str], Rule);

/// How one kind of node is written in the one tree. Parts are fields of the grammar.
#[derive(Clone, Copy)]
pub enum Rule {
    /// A name.
    Name,
    /// A text; what stands in nodes of these kinds is put into it in between.
    Text(&'static [&'static str]),
    /// A leaf that is called by its own text.
    Word(Kind),
    /// A leaf that is called by its kind.
    Called(Kind),
    /// A leaf without a name.
    Leaf(Kind),
    /// `a.b`.
    Field {
        /// The part of which something is asked.
        owner: &'static str,
        /// What is asked.
        name: &'static str,
    },
    /// A node with all its children.
    All(Kind),
    /// The same, under a name.
    Named(Kind, &'static str),
    /// A node with these parts.
    Parts(Kind, &'static [&'static str]),
    /// A loop with what it asks, and its body.
    Loop(&'static [&'static str], &'static str),
    /// Two operands with their operator.
    Binary,
    /// Another type for a value.
    Cast,
    /// Condition, then, and another condition or what is done else.
    If,
    /// One operand with its operator.
    Unary(&'static str),
    /// An assignment with these flags: its targets and its values.
    Assign(u16, &'static str, &'static str),
    /// An assignment that adds to what is there, unless its sign is `=`.
    AssignBySign,
    /// A block.
    Block,
    /// Nothing of its own: its children stand for it.
    Through,
    /// Not written at all.
    Nothing,
    /// As this function does.
    By(fn(&mut Writer<'_>, Node<'_>)),
}

impl Grammar {
    /// How a node is written.
    pub fn rule(&self, node: Node<'_>) -> Option<Rule> {
        let table = self.table.get_or_init(|| {
            let language = (self.load)();
            let of = |name: &str| self.nodes.iter().find(|(kinds, _)| kinds.contains(&name));
            let kinds = 0..u16::try_from(language.node_kind_count()).unwrap_or(u16::MAX);
            let rules = kinds.map(|id| of(language.node_kind_for_id(id)?).map(|(_, rule)| *rule));
            rules.collect()
        });
        table.get(usize::from(node.kind_id())).copied().flatten()
    }
}

/// Deeper code than this is left out of the tree: nobody writes it, and each level costs stack.
const DEEPEST: usize = 400;

/// Writes the tree of one file.
pub struct Writer<'t> {
    text: &'t str,
    out: Builder,
    grammar: &'static Grammar,
    depth: usize,
}

/// The tree of all languages, from the grammar's own.
pub fn tree(grammar: &'static Grammar, text: &str, parsed: &tree_sitter::Tree) -> Tree {
    let mut writer = Writer { text, out: Builder::default(), grammar, depth: 0 };
    let root = parsed.root_node();
    writer.with(Kind::File, 0, None, root, |w| w.each(root));
    writer.out.finish()
}

impl<'t> Writer<'t> {
    /// The text of a node.
    pub fn text(&self, node: Node<'_>) -> &'t str {
        self.text.get(node.byte_range()).unwrap_or("")
    }

    /// Writes a node of the grammar as its language does.
    pub fn node(&mut self, node: Node<'_>) {
        if self.depth >= DEEPEST || node.is_extra() && !node.is_error() {
            return;
        }
        self.depth += 1;
        if node.is_error() {
            self.with(Kind::Other, Flag::Broken as u16, None, node, |w| w.each(node));
        } else if node.is_missing() {
            self.leaf(Kind::Other, Flag::Broken as u16, None, node);
        } else {
            match self.grammar.rule(node) {
                Some(rule) => self.by_rule(rule, node),
                None => self.other(node),
            }
        }
        self.depth -= 1;
    }

    fn by_rule(&mut self, rule: Rule, node: Node<'_>) {
        let sign = |w: &Self| node.child_by_field_name("operator").map_or("", |o| w.text(o));
        match rule {
            Rule::Name => self.name(node),
            Rule::Text(inserted) => self.string(node, inserted),
            Rule::Word(kind) => {
                let text = self.text(node);
                self.leaf(kind, 0, Some(text), node);
            }
            Rule::Called(kind) => self.leaf(kind, 0, Some(node.kind()), node),
            Rule::Leaf(kind) => self.leaf(kind, 0, None, node),
            Rule::Field { owner, name } => {
                if let Some(name) = node.child_by_field_name(name) {
                    self.field(node, node.child_by_field_name(owner), name, 0);
                }
            }
            Rule::All(kind) => {
                self.with(kind, 0, None, node, |w| w.each(node));
            }
            Rule::Named(kind, name) => {
                self.with(kind, 0, Some(name), node, |w| w.each(node));
            }
            Rule::Parts(kind, parts) => {
                self.with(kind, 0, None, node, |w| parts.iter().for_each(|p| w.part(node, p)));
            }
            Rule::Loop(asks, body) => {
                self.with(Kind::While, 0, None, node, |w| {
                    asks.iter().for_each(|p| w.part(node, p));
                    w.body(node.child_by_field_name(body));
                });
            }
            Rule::Binary => self.binary(node),
            Rule::Cast => {
                self.with(Kind::Un, 0, Some("cast"), node, |w| w.part(node, "value"));
            }
            Rule::If => {
                let part = |field| node.child_by_field_name(field);
                self.with(Kind::If, 0, None, node, |w| {
                    w.part(node, "condition");
                    w.body(part("consequence"));
                    match part("alternative") {
                        Some(other) if other.kind() == node.kind() => w.node(other),
                        other => w.body(other),
                    }
                });
            }
            Rule::Unary(operand) => {
                let sign = sign(self);
                self.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, operand));
            }
            Rule::Assign(flags, targets, values) => self.given(node, flags, targets, values),
            Rule::AssignBySign => {
                let flags = if matches!(sign(self), "" | "=") { 0 } else { Flag::Augmented as u16 };
                self.given(node, flags, "left", "right");
            }
            Rule::Block => self.block(node),
            Rule::Through => self.each(node),
            Rule::Nothing => {}
            Rule::By(write) => write(self, node),
        }
    }

    /// Writes an assignment whose targets and values are one part each.
    fn given(&mut self, node: Node<'_>, flags: u16, targets: &str, values: &str) {
        let part = |field: &str| node.child_by_field_name(field);
        let (targets, values) = (part(targets), part(values));
        self.assign(node, flags, targets.as_slice(), values.as_slice());
    }

    /// Writes the part of a node that a field names, if it has one.
    pub fn part(&mut self, node: Node<'_>, field: &str) {
        if let Some(part) = node.child_by_field_name(field) {
            self.node(part);
        }
    }

    /// Writes all named children of a node, in their order.
    pub fn each(&mut self, node: Node<'_>) {
        let mut cursor = node.walk();
        for child in node.named_children(&mut cursor) {
            self.node(child);
        }
    }

    /// Writes all named children but those at these fields.
    pub fn each_but(&mut self, node: Node<'_>, fields: &[&str]) {
        let skipped: Vec<usize> =
            fields.iter().filter_map(|f| node.child_by_field_name(f)).map(|n| n.id()).collect();
        let mut cursor = node.walk();
        for child in node.named_children(&mut cursor).filter(|c| !skipped.contains(&c.id())) {
            self.node(child);
        }
    }

    /// Writes a node with what `inside` writes in it.
    pub fn with(
        &mut self,
        kind: Kind,
        flags: u16,
        name: Option<&str>,
        node: Node<'_>,
        inside: impl FnOnce(&mut Self),
    ) -> NodeId {
        self.with_line(kind, flags, name, node, node.start_position().row as u32 + 1, inside)
    }

    /// The same, on another line than the one on which the node begins.
    pub fn with_line(
        &mut self,
        kind: Kind,
        flags: u16,
        name: Option<&str>,
        node: Node<'_>,
        line: u32,
        inside: impl FnOnce(&mut Self),
    ) -> NodeId {
        let range = node.byte_range();
        let id = self.out.open(kind, flags, name, line, (range.start, range.end));
        inside(self);
        self.out.close();
        id
    }

    /// Marks a node that was written.
    pub fn mark(&mut self, node: NodeId, flag: Flag) {
        self.out.mark(node, flag);
    }

    /// Writes a node without anything in it.
    pub fn leaf(&mut self, kind: Kind, flags: u16, name: Option<&str>, node: Node<'_>) {
        self.with(kind, flags, name, node, |_| {});
    }

    /// Writes the name that a node stands for.
    pub fn name(&mut self, node: Node<'_>) {
        let text = self.text(node);
        self.leaf(Kind::Name, 0, Some(text), node);
    }

    /// Writes a text without its quotes; what is put into it in between stands below.
    pub fn string(&mut self, node: Node<'_>, inserted: &[&str]) {
        let whole = self.text(node);
        let bare = unquoted(whole);
        let bare = if bare.len() > 400 { "" } else { bare };
        self.with(Kind::Str, 0, Some(bare), node, |w| {
            let mut cursor = node.walk();
            for child in node.named_children(&mut cursor).filter(|c| inserted.contains(&c.kind())) {
                w.each(child);
            }
        });
    }

    /// Writes `a.b`: the line is that of `b`.
    pub fn field(&mut self, node: Node<'_>, owner: Option<Node<'_>>, name: Node<'_>, flags: u16) {
        let text = self.text(name);
        self.with_line(
            Kind::Field,
            flags,
            Some(text),
            node,
            name.start_position().row as u32 + 1,
            |w| {
                if let Some(owner) = owner {
                    w.node(owner);
                }
            },
        );
    }

    /// Writes an assignment: its targets, then the values that they get.
    pub fn assign(
        &mut self,
        node: Node<'_>,
        flags: u16,
        targets: &[Node<'_>],
        values: &[Node<'_>],
    ) {
        self.with(Kind::Assign, flags, None, node, |w| {
            w.list(Kind::Targets, node, targets);
            w.list(Kind::Values, node, values);
        });
    }

    /// Writes a node of `kind` that holds these.
    pub fn list(&mut self, kind: Kind, around: Node<'_>, parts: &[Node<'_>]) {
        let at = parts.first().copied().unwrap_or(around);
        self.with(kind, 0, None, at, |w| parts.iter().for_each(|p| w.node(*p)));
    }

    /// Writes two operands with their operator.
    pub fn binary(&mut self, node: Node<'_>) {
        let sign = node.child_by_field_name("operator").map_or("", |o| self.text(o));
        self.with(Kind::Bin, 0, Some(sign), node, |w| {
            w.part(node, "left");
            w.part(node, "right");
        });
    }

    /// Writes anything else: a single child stands for the whole.
    pub fn other(&mut self, node: Node<'_>) {
        if node.named_child_count() == 1 {
            self.each(node);
        } else if node.named_child_count() > 1 {
            self.with(Kind::Other, 0, None, node, |w| w.each(node));
        }
    }

    /// Writes a block with all its statements.
    pub fn block(&mut self, node: Node<'_>) {
        self.with(Kind::Block, 0, None, node, |w| w.each(node));
    }

    /// Writes the body of a function: its block, or the one value that it gives back.
    pub fn function_body(&mut self, body: Option<Node<'_>>) {
        match body {
            Some(body) if matches!(body.kind(), "block" | "statement_block") => self.block(body),
            Some(body) => {
                self.with(Kind::Block, 0, None, body, |w| {
                    w.with(Kind::Return, 0, None, body, |w| w.node(body));
                });
            }
            None => {}
        }
    }

    /// Writes a part as a block, also where a single step stands without brackets.
    pub fn body(&mut self, node: Option<Node<'_>>) {
        let Some(node) = node else { return };
        if matches!(node.kind(), "block" | "statement_block" | "constructor_body" | "function_body")
        {
            self.block(node);
        } else {
            self.with(Kind::Block, 0, None, node, |w| w.node(node));
        }
    }
}

/// A text without the quotes and marks around it.
pub fn unquoted(whole: &str) -> &str {
    let bare =
        whole.trim_start_matches(|c: char| c.is_ascii_alphabetic() || matches!(c, '@' | '$'));
    if let Some(inside) = bare.strip_prefix("[[").and_then(|b| b.strip_suffix("]]")) {
        return inside;
    }
    for quote in ["\"\"\"", "'''", "\"", "'", "`"] {
        if let Some(inside) = bare.strip_prefix(quote).and_then(|b| b.strip_suffix(quote)) {
            return inside;
        }
    }
    if bare.is_empty() { whole } else { bare }
}

/// All named children of a node, in their order, without comments.
pub fn children(node: Node<'_>) -> Vec<Node<'_>> {
    let mut cursor = node.walk();
    node.named_children(&mut cursor).filter(|c| !c.is_extra() || c.is_error()).collect()
}

/// The first child of a kind.
pub fn child<'n>(node: Node<'n>, kind: &str) -> Option<Node<'n>> {
    children(node).into_iter().find(|c| c.kind() == kind)
}

/// Whether a sign or word of the grammar stands directly in a node.
pub fn has(node: Node<'_>, sign: &str) -> bool {
    let mut cursor = node.walk();
    node.children(&mut cursor).any(|c| c.kind() == sign)
}

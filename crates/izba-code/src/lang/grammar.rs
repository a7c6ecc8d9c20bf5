//! What one language of code brings: its grammar, how its nodes are written in the one tree of all
//! languages, and what it calls the places at which something can be left out.

use super::writer::Writer;
use izba_model::code::Kind;
use std::sync::OnceLock;
use tree_sitter::Node;

/// One language.
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

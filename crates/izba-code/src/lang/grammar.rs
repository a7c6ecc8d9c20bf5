//! What one language of code brings: its grammar, how its nodes are written in the one tree of all
//! languages, and what it calls the places at which something can be left out.

use super::writer::Writer;
use tree_sitter::Node;

/// One language.
pub struct Grammar {
    /// The id of its dialect.
    pub id: &'static str,
    /// Its grammar.
    pub load: fn() -> tree_sitter::Language,
    /// Writes one node, and all below it.
    pub write: fn(&mut Writer<'_>, Node<'_>),
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

//! TypeScript with tags, written as JavaScript is.

use super::{Grammar, javascript};
use std::sync::OnceLock;

pub static GRAMMAR: Grammar = Grammar {
    id: "tsx",
    load: || tree_sitter_typescript::LANGUAGE_TSX.into(),
    nodes: javascript::NODES,
    table: OnceLock::new(),
    places: javascript::PLACES,
};

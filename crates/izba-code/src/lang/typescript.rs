//! TypeScript, written as JavaScript is.

use super::{Grammar, javascript};
use std::sync::OnceLock;

pub static GRAMMAR: Grammar = Grammar {
    id: "typescript",
    load: || tree_sitter_typescript::LANGUAGE_TYPESCRIPT.into(),
    nodes: javascript::NODES,
    table: OnceLock::new(),
    places: javascript::PLACES,
};

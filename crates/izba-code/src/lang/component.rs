//! The scripts of components in one file: TypeScript, which JavaScript is too.

use super::{Grammar, javascript};
use std::sync::OnceLock;

pub static GRAMMAR: Grammar = Grammar {
    id: "component",
    load: || tree_sitter_typescript::LANGUAGE_TYPESCRIPT.into(),
    nodes: javascript::NODES,
    table: OnceLock::new(),
    places: javascript::PLACES,
};

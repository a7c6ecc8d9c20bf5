//! The scripts of pages, written as JavaScript is.

use super::{Grammar, javascript};
use std::sync::OnceLock;

pub static GRAMMAR: Grammar = Grammar {
    id: "html",
    load: || tree_sitter_javascript::LANGUAGE.into(),
    nodes: javascript::NODES,
    table: OnceLock::new(),
    places: javascript::PLACES,
};

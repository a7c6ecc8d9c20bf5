//! TypeScript, written as JavaScript is.

use super::{Grammar, javascript};

pub static GRAMMAR: Grammar = Grammar {
    id: "typescript",
    load: || tree_sitter_typescript::LANGUAGE_TYPESCRIPT.into(),
    write: javascript::write,
    places: javascript::PLACES,
};

//! The developer's code and data as facts: a tree of the same few kinds for every language, and an
//! index of all files.
//!
//! The facts are made elsewhere (the grammars live in a crate of their own); everything that is
//! found out by reading code reads them here, and so holds for all languages at once.

mod datum;
mod file;
mod holes;
mod index;
mod names;
mod near;
mod page;
mod parts;
mod pieces;
mod steps;
mod tree;
mod walk;

pub use crate::dialect::Language;
pub use datum::{Datum, Role};
pub use file::{Clash, FileFacts, Rung, SyntaxFault};
pub use holes::HoledName;
pub use index::Index;
pub use names::{NameEdit, distance, letters_of, may_be_edit, name_edit, stem_words};
pub use near::{Families, NearIndex};
pub use page::{Element, Script, Style};
pub use parts::Parts;
pub use pieces::{Group, Piece, Pieces};
pub use steps::within;
pub use tree::{At, Builder, Flag, Kind, NodeId, Tree};
pub use walk::{Definition, How};

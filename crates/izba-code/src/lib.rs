//! Text in, facts out: what a script or data file names, calls, assigns and opens, whatever its language.
//!
//! The grammars of the languages live here and nowhere else. No file is opened here. What must work on broken text (blocks,
//! brackets, quotes, indentation) is our own: [`mend`] says what does not parse and which repair lets the rest be read.

mod data;
mod lang;
pub mod mend;
mod signs;

pub use signs::ladder;

use izba_core::code::{FileFacts, Index, Language, Tree};
use rayon::prelude::*;
use std::sync::Arc;

/// Larger files are left out: nobody wrote them.
pub const LARGEST: usize = 1 << 20;

/// The facts of one file; `None` when it is neither code nor data that is known, or too large.
pub fn read(path: &Arc<str>, text: &Arc<str>) -> Option<FileFacts> {
    let language = Language::of(path).filter(|_| text.len() <= LARGEST)?;
    let mut facts = FileFacts { path: path.clone(), language, text: text.clone(), tree: Tree::default(), data: Vec::new(), faults: Vec::new() };
    if language.is_code() {
        let broken = lang::with_parser(language, |parser| {
            let parsed = parser.parse(text, None)?;
            facts.tree = lang::tree(language, text, &parsed);
            Some(parsed.root_node().has_error())
        });
        if broken.flatten() == Some(true) {
            facts.faults = mend::faults(language, text, None);
        }
    } else {
        facts.data = data::read(language, text);
        facts.faults = data::faults(language, text);
    }
    Some(facts)
}

/// The facts of many files, on all cores.
pub fn index<'a>(files: impl IntoIterator<Item = (&'a Arc<str>, Option<&'a Arc<str>>)>) -> Index {
    let files: Vec<_> = files.into_iter().collect();
    let on_disk: Vec<Arc<str>> = files.iter().map(|(path, _)| (*path).clone()).collect();
    let facts = files.par_iter().filter_map(|(path, text)| read(path, (*text)?).map(Arc::new)).collect();
    Index::new(facts, on_disk.into())
}

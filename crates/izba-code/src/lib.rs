//! Text in, facts out: what a script or data file names, calls, assigns and opens, whatever its
//! language.
//!
//! The grammars of the languages live here and nowhere else. No file is opened here. What must work
//! on broken text (blocks, brackets, quotes, indentation) is our own: [`mend`] says what does not
//! parse and which repair lets the rest be read.

mod data;
mod dataedit;
mod lang;
pub mod mend;
mod pieces;
mod rough;
mod signs;
mod styles;
mod tags;
mod wellformed;
mod within;
mod work;

pub use pieces::pieces;
pub use signs::{ladder, reindented};
pub use within::code_of;

use izba_model::code::{Datum, FileFacts, Index, Language, Role, Tree};
use izba_model::dialect::By;
use izba_model::text::base_name;
use rayon::prelude::*;
use std::sync::Arc;

/// Larger files are left out: nobody wrote them.
pub const LARGEST: usize = 1 << 20;

/// The facts of one file; `None` when it is neither code nor data that is known, too large, a
/// [tangle of signs](work::is_tangle), or such that its grammar would take more than its
/// [share of work](work::Work).
pub fn read(path: &Arc<str>, text: &Arc<str>) -> Option<FileFacts> {
    let language = Language::of(path).filter(|_| text.len() <= LARGEST)?;
    // Without a grammar there is no tree, but block words make a ladder all the same; what has
    // neither is only read in consoles.
    let by_words = !language.blocks.pairs.is_empty();
    let rough = rough::is_rough(language);
    if language.is_code() && !lang::has_grammar(language) && !by_words && !rough {
        return None;
    }
    if language.is_code() && work::is_tangle(text) {
        return None;
    }
    let mut facts = FileFacts {
        path: path.clone(),
        language,
        text: text.clone(),
        tree: Tree::default(),
        data: Vec::new(),
        elements: within::elements_of(language, text),
        styles: styles::styles_of(language, text),
        broken: false,
        faults: Vec::new(),
        slanted: Vec::new(),
        lines: Default::default(),
    };
    if language.is_code() {
        let code = code_of(language, text);
        let work = work::Work::reading(code.len());
        let broken = lang::with_parser(language, |parser| {
            let parsed = parser.parse(&code, None, &work)?;
            facts.tree = lang::tree(language, &code, &parsed);
            Some(parsed.root_node().has_error())
        });
        // What the grammar cannot get through is left out, like what is too large.
        if lang::has_grammar(language) && broken.flatten().is_none() {
            return None;
        }
        facts.broken = broken.flatten() == Some(true);
        if rough {
            facts.tree = rough::tree(language, text);
        }
        if language.blocks.by != By::Indentation && !rough {
            facts.slanted = ladder(language, &code);
            facts.slanted.retain(|r| r.clash != izba_model::code::Clash::None);
        }
    }
    if language.is_data() {
        facts.data = data::read(language, text);
        // The names of a page's elements and attributes are the standard's, not the project's.
        // Its texts are words for people; only what leads to a file is looked at.
        let path = |d: &Datum| d.role == Role::Value && d.text.contains(['.', '/']);
        facts.data.retain(|d| !language.within || path(d));
    }
    if !language.is_code() {
        facts.faults = wellformed::faults(path, language, text);
        facts.broken = !facts.faults.is_empty();
    }
    Some(facts)
}

/// How many files of an index are looked into: those that are read only roughly are not counted.
pub fn looked_into(index: &Index) -> usize {
    index.files().iter().filter(|f| f.language.rough.is_none()).count()
}

/// Scripts that are known by their endings and are not looked into, by the name of their language,
/// most first: those that have no grammar here, and those that are too large.
pub fn not_looked_into(index: &Index) -> Vec<(String, usize)> {
    let mut left: Vec<(String, usize)> = Vec::new();
    for path in index.on_disk.iter() {
        let Some(language) = Language::of(path).filter(|l| l.is_code()) else { continue };
        if lang::has_grammar(language) && index.file(path).is_some() {
            continue;
        }
        let called = language.files_called.as_ref().unwrap_or(&language.name);
        match left.iter_mut().find(|(name, _)| name == called) {
            Some((_, count)) => *count += 1,
            None => left.push((called.clone(), 1)),
        }
    }
    left.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    left
}

/// A file that does not parse, with the repairs that let it be read; `None` when there is nothing
/// to be found out.
///
/// Trying repairs takes a thousand times as long as reading, so that it is done apart, when someone
/// asks.
pub fn repaired(file: &FileFacts, accepts: &mend::Accepts<'_>) -> Option<FileFacts> {
    (file.broken && file.faults.is_empty()).then(|| {
        let faults = mend::faults(file.language, &file.text, None, accepts);
        // Without any it is the grammar here that does not know all of the language.
        FileFacts { broken: !faults.is_empty(), faults, ..file.clone() }
    })
}

/// The index with the repairs of all files that do not parse, on all cores.
pub fn all_repaired(index: &Index, accepts: &mend::Accepts<'_>) -> Index {
    let repaired: Vec<Arc<FileFacts>> =
        index.files().par_iter().filter_map(|f| repaired(f, accepts).map(Arc::new)).collect();
    if repaired.is_empty() {
        index.clone()
    } else {
        index.with(repaired, &[], index.on_disk.clone())
    }
}

/// Files in which tools write down what they chose: nobody's mistake stands in them, and their words
/// are nobody's.
const OF_TOOLS: &[&str] = &[
    "Cargo.lock",
    "Gemfile.lock",
    "bun.lock",
    "composer.lock",
    "deno.lock",
    "npm-shrinkwrap.json",
    "package-lock.json",
    "packages.lock.json",
    "pnpm-lock.yaml",
    "poetry.lock",
    "uv.lock",
    "yarn.lock",
];

/// A file with its text, where it is worth reading.
fn to_be_read<'a>(
    (path, text): (&'a Arc<str>, Option<&'a Arc<str>>),
) -> (&'a Arc<str>, Option<&'a Arc<str>>) {
    (path, text.filter(|_| OF_TOOLS.binary_search(&base_name(path)).is_err()))
}

/// The index of these files, made from an earlier one: only what differs is read anew.
pub fn updated<'a>(
    before: &Index,
    files: impl IntoIterator<Item = (&'a Arc<str>, Option<&'a Arc<str>>)>,
) -> Index {
    let files: Vec<_> = files.into_iter().map(to_be_read).collect();
    let same = |path: &str, text: &Arc<str>| {
        before.file(path).is_some_and(|f| Arc::ptr_eq(&f.text, text) || f.text == *text)
    };
    let anew: Vec<_> =
        files.iter().filter(|(path, text)| text.is_some_and(|t| !same(path, t))).collect();
    let mut paths: Vec<&str> = files.iter().map(|(path, _)| path.as_ref()).collect();
    paths.sort_unstable();
    let gone: Vec<Arc<str>> = before
        .files()
        .iter()
        .filter(|f| paths.binary_search(&f.path.as_ref()).is_err())
        .map(|f| f.path.clone())
        .collect();
    if anew.is_empty() && gone.is_empty() && before.on_disk.len() == paths.len() {
        return before.clone();
    }
    let facts =
        anew.par_iter().filter_map(|(path, text)| read(path, (*text)?).map(Arc::new)).collect();
    let on_disk: Vec<Arc<str>> = files.iter().map(|(path, _)| (*path).clone()).collect();
    before.with(facts, &gone, on_disk.into())
}

/// The facts of many files, on all cores.
pub fn index<'a>(files: impl IntoIterator<Item = (&'a Arc<str>, Option<&'a Arc<str>>)>) -> Index {
    let files: Vec<_> = files.into_iter().map(to_be_read).collect();
    let on_disk: Vec<Arc<str>> = files.iter().map(|(path, _)| (*path).clone()).collect();
    let facts =
        files.par_iter().filter_map(|(path, text)| read(path, (*text)?).map(Arc::new)).collect();
    Index::new(facts, on_disk.into())
}

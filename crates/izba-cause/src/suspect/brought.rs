//! How scripts are brought in: by the name that another one says, and by the tags of a page.

use izba_model::code::{Element, FileFacts, Index, Script};
use izba_model::dialect::Rings;

/// Whether a script that is brought in by one bare name may be this one: it lies at the top, or
/// beside the one that brings it in where that folder is no package. Elsewhere it only bears the
/// name of one of the language's own.
pub fn is_near(index: &Index, by: &FileFacts, file: &FileFacts, import: &str) -> bool {
    if import.contains(['.', '/', '\\', ':']) || by.language.rings != Rings::Unfinished {
        return true;
    }
    let folder = |path: &str| path.rsplit_once('/').map_or(String::new(), |(f, _)| f.to_owned());
    let home = folder(&file.path);
    let home = if file.stem() == "__init__" { folder(&home) } else { home };
    let packed = || index.file(&format!("{home}/__init__.py")).is_some();
    home.is_empty() || home == folder(&by.path) && !packed()
}

/// Whether what an import names is this file: `./lib/world`, `lib.world`, `world`.
pub fn names_file(import: &str, file: &FileFacts) -> bool {
    let bare = import.trim_start_matches(['.', '/']);
    let bare = bare
        .rsplit_once('.')
        .filter(|(_, e)| {
            matches!(*e, "js" | "mjs" | "cjs" | "jsx" | "ts" | "tsx" | "json" | "lua" | "py")
        })
        .map_or(bare, |(b, _)| b);
    let path = file.path.rsplit_once('.').map_or(file.path.as_ref(), |(p, _)| p);
    // This is asked of every import of every file: nothing is put together for it.
    let ends = |path: &str| {
        let mut parts = path.rsplit('/');
        bare.rsplit(['.', '\\', '/']).all(|part| parts.next() == Some(part))
    };
    !bare.is_empty()
        && (ends(path)
            || ["/index", "/__init__"].iter().any(|end| path.strip_suffix(end).is_some_and(ends)))
}

/// A script as a page brings it in.
pub(crate) struct Loaded<'a> {
    /// The page.
    pub(crate) page: &'a FileFacts,
    /// Its tag.
    pub(crate) tag: &'a Element,
    /// How it is run.
    pub(crate) script: &'a Script,
}

/// The pages that run a script, with its tags there; those in the page itself too.
pub(crate) fn loaded<'a>(index: &'a Index, file: &'a FileFacts) -> Vec<Loaded<'a>> {
    let pages =
        index.files().iter().map(AsRef::as_ref).filter(|f: &&FileFacts| !f.elements.is_empty());
    let tags = pages.flat_map(|page| page.elements.iter().map(move |tag| (page, tag)));
    tags.filter_map(|(page, tag)| {
        let script = tag.script.as_ref()?;
        let ours = match &script.from {
            Some(from) => names_file(from.split(['?', '#']).next()?, file),
            None => page.path == file.path,
        };
        ours.then_some(Loaded { page, tag, script })
    })
    .collect()
}

/// Whether a script knows all that others of its page make, without bringing anything in.
pub(super) fn shares_names(index: &Index, file: &FileFacts) -> bool {
    loaded(index, file).iter().any(|l| !l.script.module)
}

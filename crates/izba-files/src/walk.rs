//! One walk through the folders of a project: sorted, without following links, within bounds, and
//! without what `.gitignore` leaves out where that is asked for.

use crate::ordinary;
use ignore::gitignore::{Gitignore, GitignoreBuilder};
use std::ffi::OsStr;
use std::ops::ControlFlow;
use std::path::Path;

/// Entries that are looked at in all; beyond them a folder is no project.
const ENTRIES_CAP: usize = 200_000;
/// Folders that lie deeper than this are not entered.
const DEPTH_CAP: usize = 40;
/// A list of what to leave out that is longer than this is not read, in bytes.
const LIST_CAP: u64 = 64 << 10;
/// Lines of it that are taken: each becomes a part of one pattern.
const LINES_CAP: usize = 1_000;
/// Lists that are taken in all.
const LISTS_CAP: usize = 500;

/// What is walked.
pub(crate) struct Walk<'w> {
    /// Whether a folder of this name is entered.
    pub enters: &'w dyn Fn(&OsStr) -> bool,
    /// Whether lists of what to leave out hold, and hidden files are left out.
    pub lists: bool,
    /// How deep; files of the root lie at 1.
    pub depth: usize,
}

impl Walk<'_> {
    /// Tells `each` of the ordinary files below `root`, folder by folder in the order of their
    /// names, until it says that it has enough. Nothing is told of what cannot be read.
    pub fn files(&self, root: &Path, each: &mut dyn FnMut(&Path) -> ControlFlow<()>) {
        let mut going = Going { walk: self, lists: Vec::new(), entries: 0, taken: 0 };
        if self.lists {
            going.above(root);
        }
        let _ = going.folder(root, 1, each);
    }
}

struct Going<'w> {
    walk: &'w Walk<'w>,
    /// The lists that hold here, the nearest last.
    lists: Vec<Gitignore>,
    entries: usize,
    taken: usize,
}

impl Going<'_> {
    /// The lists of the folders above, up to the one that version control begins in.
    fn above(&mut self, root: &Path) {
        let Some(top) = root.ancestors().find(|f| f.join(".git").exists()) else { return };
        let between: Vec<&Path> =
            root.ancestors().skip(1).take_while(|f| f.starts_with(top)).collect();
        self.lists.extend(list(top, ".git/info/exclude"));
        for folder in between.into_iter().rev() {
            self.lists_of(folder);
        }
    }

    fn lists_of(&mut self, folder: &Path) {
        for name in [".gitignore", ".ignore"] {
            if self.taken < LISTS_CAP
                && let Some(list) = list(folder, name)
            {
                self.taken += 1;
                self.lists.push(list);
            }
        }
    }

    fn folder(
        &mut self,
        folder: &Path,
        depth: usize,
        each: &mut dyn FnMut(&Path) -> ControlFlow<()>,
    ) -> ControlFlow<()> {
        let held = self.lists.len();
        if self.walk.lists {
            self.lists_of(folder);
        }
        let mut here: Vec<_> = std::fs::read_dir(folder)
            .into_iter()
            .flatten()
            .flatten()
            .take(ENTRIES_CAP.saturating_sub(self.entries))
            .collect();
        self.entries += here.len();
        here.sort_by_key(std::fs::DirEntry::file_name);
        for entry in here {
            let (name, path) = (entry.file_name(), entry.path());
            let Ok(kind) = entry.file_type() else { continue };
            if self.walk.lists && self.left_out(&name, &path, kind.is_dir()) {
                continue;
            }
            if kind.is_file() {
                each(&path)?;
            } else if kind.is_dir()
                && depth < self.walk.depth.min(DEPTH_CAP)
                && (self.walk.enters)(&name)
            {
                self.folder(&path, depth + 1, each)?;
            }
        }
        self.lists.truncate(held);
        if self.entries < ENTRIES_CAP { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
    }

    fn left_out(&self, name: &OsStr, path: &Path, is_folder: bool) -> bool {
        let said = self.lists.iter().rev().find_map(|list| {
            let said = list.matched(path, is_folder);
            (!said.is_none()).then(|| said.is_ignore())
        });
        said.unwrap_or_else(|| name.as_encoded_bytes().starts_with(b"."))
    }
}

/// The list `name` in `folder`; lines that are no patterns are passed over.
fn list(folder: &Path, name: &str) -> Option<Gitignore> {
    let bytes = ordinary::read(&folder.join(name), LIST_CAP).ok()?;
    let mut builder = GitignoreBuilder::new(folder);
    let text = String::from_utf8_lossy(&bytes);
    // A sign of taking back that says of what is none.
    for line in text.lines().take(LINES_CAP).filter(|line| line.trim() != "!") {
        let _ = builder.add_line(None, line);
    }
    builder.build().ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::fs;

    fn found(root: &Path) -> Vec<String> {
        let mut all = Vec::new();
        let walk = Walk { enters: &|name| name != "node_modules", lists: true, depth: 8 };
        walk.files(root, &mut |path| {
            let path = path.strip_prefix(root).expect("it lies below");
            all.push(path.to_string_lossy().into_owned());
            ControlFlow::Continue(())
        });
        all
    }

    fn lay(root: &Path, files: &[(&str, &str)]) {
        for (path, text) in files {
            let path = root.join(path);
            fs::create_dir_all(path.parent().expect("a folder")).expect("room");
            fs::write(path, text).expect("room");
        }
    }

    #[test]
    fn lists_hold_below_them_and_nearer_ones_win() {
        let folder = tempfile::tempdir().expect("a folder");
        let (top, root) = (folder.path(), folder.path().join("game"));
        fs::create_dir_all(top.join(".git/info")).expect("room");
        lay(
            top,
            &[
                (".git/info/exclude", "secret.lua\n"),
                (".gitignore", "/game/old/\n*.tmp\n"),
                ("game/.gitignore", "saves/\n# none\n!keep.tmp\n[\n"),
                ("game/main.lua", ""),
                ("game/a.tmp", ""),
                ("game/keep.tmp", ""),
                ("game/secret.lua", ""),
                ("game/.hidden", ""),
                ("game/old/main.lua", ""),
                ("game/saves/one.lua", ""),
                ("game/marsh/.gitignore", "*.lua\n!bell.lua\n"),
                ("game/marsh/bell.lua", ""),
                ("game/marsh/reed.lua", ""),
                ("game/node_modules/x.js", ""),
                ("game/reed.lua", ""),
            ],
        );
        std::os::unix::fs::symlink(top, root.join("loop")).expect("a link");
        assert_eq!(found(&root), ["keep.tmp", "main.lua", "marsh/bell.lua", "reed.lua"]);
    }

    #[test]
    fn a_pipe_or_a_file_without_end_in_place_of_a_list_is_no_list() {
        let folder = tempfile::tempdir().expect("a folder");
        let root = folder.path();
        lay(root, &[("main.lua", ""), ("marsh/bell.lua", ""), ("quay/boat.lua", "")]);
        let mode = nix::sys::stat::Mode::S_IRWXU;
        nix::unistd::mkfifo(&root.join(".gitignore"), mode).expect("a pipe");
        nix::unistd::mkfifo(&root.join("marsh/reed.lua"), mode).expect("a pipe");
        std::os::unix::fs::symlink("/dev/zero", root.join("marsh/.gitignore")).expect("a link");
        fs::write(root.join("quay/.gitignore"), "*\n".repeat(LIST_CAP as usize)).expect("room");
        assert_eq!(found(root), ["main.lua", "marsh/bell.lua", "quay/boat.lua"]);
    }

    #[test]
    fn what_lies_too_deep_is_not_entered() {
        let folder = tempfile::tempdir().expect("a folder");
        let deep = format!("{}bell.lua", "reeds/".repeat(8));
        lay(folder.path(), &[("main.lua", ""), (&deep, "")]);
        assert_eq!(found(folder.path()), ["main.lua"]);
    }

    proptest! {
        #[test]
        fn any_list_is_taken(text in "([\\[\\]!*?/\\\\{},a-c#. \n]|\\PC){0,60}") {
            let folder = tempfile::tempdir().expect("a folder");
            fs::write(folder.path().join(".gitignore"), text).expect("room");
            fs::write(folder.path().join("main.lua"), "").expect("room");
            // What takes all back, `!*`, brings the list itself to light too.
            prop_assert!(found(folder.path()).len() <= 2);
        }
    }
}

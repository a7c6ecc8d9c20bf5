//! resources: files that code or data names and that are not there.

use super::check::{Check, Look, Remark, remark};
use crate::seen::{LIES_HERE, NEARLY_THIS_NAME};
use izba_model::code::{FileFacts, Kind, Role, name_edit};
use izba_model::{say, sayings};

sayings! {
    "resources", Name, "../../words/checks/resources.toml";
    OTHER_FOLDER = "other-folder",
    OTHER_ON_DISK = "other-on-disk",
    NOT_IN_PROJECT = "not-in-project",
}

/// The check for this: files that code or data names and that are not there.
pub static CHECK: Check =
    Check { id: "resources", kinds: KINDS, title: "Files that aren't there", look };

/// Endings of what programs load.
const LOADED: &[&str] = &[
    "png",
    "jpg",
    "jpeg",
    "gif",
    "webp",
    "bmp",
    "ogg",
    "wav",
    "mp3",
    "flac",
    "ttf",
    "otf",
    "json",
    "xml",
    "csv",
    "ini",
    "toml",
    "yaml",
    "yml",
    "txt",
    "properties",
    "tmx",
    "lua",
    "svg",
];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.files() {
        if file.language.is_code() {
            for node in file.tree.all().filter(|n| n.is(Kind::Str)) {
                // What is written is not loaded.
                let written = node.ancestors().take(3).any(|a| {
                    a.is(Kind::Call)
                        && a.last_name().is_some_and(|n| {
                            let n = n.to_lowercase();
                            ["write", "save", "append", "create", "mkdir", "print", "log"]
                                .iter()
                                .any(|w| n.contains(w))
                        })
                });
                if !written {
                    found.extend(named(look, file, node.text().unwrap_or(""), node.line()));
                }
            }
        }
        if file.language.is_data() {
            for datum in file.data.iter().filter(|d| d.role == Role::Value) {
                found.extend(named(look, file, &datum.text, datum.line));
            }
        }
    }
    found
}

fn named(look: &Look<'_>, file: &FileFacts, text: &str, line: u32) -> Option<Remark> {
    let name = text.rsplit(['/', '\\']).next()?;
    let (stem, ending) = name.rsplit_once('.')?;
    let plain =
        !stem.is_empty() && !text.contains([' ', '*', '%', '{', '<', '$', ':']) && text.len() < 120;
    // Files of tools begin with a dot, and are mostly not there.
    if !plain || name.starts_with('.') || !LOADED.contains(&ending) {
        return None;
    }
    let base = |p: &str| p.rsplit('/').next().unwrap_or(p).to_owned();
    let there = look.index.on_disk.iter().any(|p| base(p) == name);
    let near = look.index.on_disk.iter().find(|p| name_edit(&base(p), name).is_some());
    // Without any file of its kind the folder is elsewhere, or the file is made while running.
    let kind = look.index.on_disk.iter().any(|p| p.ends_with(&format!(".{ending}")));
    match (there, near) {
        (true, _) => {
            // The same name in another folder only.
            let folders = text.contains('/') && !text.starts_with(['/', '.']);
            let fits = !folders || look.index.on_disk.iter().any(|p| p.ends_with(text));
            let other = look.index.on_disk.iter().find(|p| base(p) == name)?;
            (!fits && text.matches('/').count() == 1).then(|| {
                remark(file, line, 0.7, say!(OTHER_FOLDER, name = text, file = name, other)).saw(
                    other,
                    0,
                    say!(LIES_HERE),
                )
            })
        }
        (false, Some(near)) => {
            Some(remark(file, line, 0.9, say!(OTHER_ON_DISK, name, other = base(near))).saw(
                near,
                0,
                say!(NEARLY_THIS_NAME),
            ))
        }
        (false, None) if kind && in_a_folder_of_ours(look, text) => {
            Some(remark(file, line, 0.6, say!(NOT_IN_PROJECT, name)))
        }
        _ => None,
    }
}

/// Whether a path leads through a folder that is there, and where files of its kind lie: only then
/// it is the project's own file that is missing, and not one of another program, or of none.
fn in_a_folder_of_ours(look: &Look<'_>, text: &str) -> bool {
    let Some((folder, name)) = text.trim_start_matches("./").rsplit_once('/') else { return false };
    let ending = name.rsplit_once('.').map_or(name, |(_, e)| e);
    !folder.is_empty()
        && !folder.contains("..")
        && look.index.on_disk.iter().any(|p| {
            p.rsplit_once('/').is_some_and(|(there, n)| {
                let inner = there == folder || there.ends_with(&format!("/{folder}"));
                inner && n.ends_with(&format!(".{ending}"))
            })
        })
}

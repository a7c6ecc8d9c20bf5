//! The files of the demo project.

use std::io;
use std::path::Path;

/// Path below the project's folder, and text.
pub static FILES: &[(&str, &str)] = &[
    ("README.md", include_str!("../../../demo/night-ferry/README.md")),
    ("scene.json", include_str!("../../../demo/night-ferry/scene.json")),
    ("scripts/bell.lua", include_str!("../../../demo/night-ferry/scripts/bell.lua")),
    ("scripts/ferry.lua", include_str!("../../../demo/night-ferry/scripts/ferry.lua")),
    ("scripts/fog.lua", include_str!("../../../demo/night-ferry/scripts/fog.lua")),
    ("scripts/jetty.lua", include_str!("../../../demo/night-ferry/scripts/jetty.lua")),
    ("scripts/lantern.lua", include_str!("../../../demo/night-ferry/scripts/lantern.lua")),
    ("scripts/tide.lua", include_str!("../../../demo/night-ferry/scripts/tide.lua")),
];

/// The file that marks a folder as the demo project, so that nothing of the user's is written over.
pub const MARK: &str = "izba.toml";

const MARK_TEXT: &str = "# The demo project Night Ferry, laid out by `izba demo`.\n";

/// Lays the project out in `folder`. Files that are there already are left as they are, so that mended scripts stay mended.
///
/// # Errors
///
/// When the folder holds something else (kind [`io::ErrorKind::AlreadyExists`]), or cannot be written.
pub fn lay_out(folder: &Path) -> io::Result<()> {
    let ours = folder.join(MARK).exists();
    let empty = !folder.exists() || std::fs::read_dir(folder)?.next().is_none();
    if !ours && !empty {
        return Err(io::Error::new(io::ErrorKind::AlreadyExists, "the folder holds something else"));
    }
    for (path, text) in FILES.iter().copied().chain([(MARK, MARK_TEXT)]) {
        let path = folder.join(path);
        if let Some(parent) = path.parent() {
            std::fs::create_dir_all(parent)?;
        }
        if !path.exists() {
            std::fs::write(&path, text)?;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn laying_out_twice_keeps_what_was_mended_and_a_strange_folder_is_left_alone() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        lay_out(folder.path()).expect("an empty folder");
        std::fs::write(folder.path().join("scripts/fog.lua"), "mended").expect("it can be written");
        lay_out(folder.path()).expect("our own folder");
        assert_eq!(std::fs::read_to_string(folder.path().join("scripts/fog.lua")).expect("it is there"), "mended");
        let strange = tempfile::tempdir().expect("a temporary folder");
        std::fs::write(strange.path().join("letter.txt"), "dear").expect("it can be written");
        assert!(lay_out(strange.path()).is_err());
    }
}

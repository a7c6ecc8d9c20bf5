//! The files of a package as they lie under a prefix such as `/usr`: the binary, its manual and
//! completions (made by the binary itself), an entry for the desktop's menu, licences.

use super::tools::output;
use crate::{Outcome, run};
use std::fs;
use std::os::unix::fs::PermissionsExt;
use std::path::Path;
use std::process::Command;

/// What each shell calls its completions, under `share`.
const COMPLETIONS: [(&str, &str); 3] = [
    ("bash", "bash-completion/completions/izba"),
    ("zsh", "zsh/vendor-completions/_izba"),
    ("fish", "fish/vendor_completions.d/izba.fish"),
];

/// Files of the repository, and where they go under the prefix.
const FILES: [(&str, &str); 7] = [
    ("xtask/package/izba.desktop", "share/applications/izba.desktop"),
    ("xtask/package/izba.svg", "share/icons/hicolor/scalable/apps/izba.svg"),
    ("LICENSE-MIT", "share/doc/izba/LICENSE-MIT"),
    ("LICENSE-APACHE", "share/doc/izba/LICENSE-APACHE"),
    ("README.md", "share/doc/izba/README.md"),
    ("docs/ROOMS.md", "share/doc/izba/ROOMS.md"),
    ("docs/SECURITY.md", "share/doc/izba/SECURITY.md"),
];

/// Lays out all files of the package under `prefix`.
pub fn lay_out(source: &Path, binary: &Path, prefix: &Path) -> Outcome {
    let izba = prefix.join("bin/izba");
    put(&izba, &fs::read(binary).map_err(|e| format!("{}: {e}", binary.display()))?, 0o755)?;
    for (from, to) in FILES {
        let bytes = fs::read(source.join(from)).map_err(|e| format!("{from}: {e}"))?;
        put(&prefix.join(to), &bytes, 0o644)?;
    }
    for (shell, to) in COMPLETIONS {
        let words = output(Command::new(&izba).args(["completions", shell]))?;
        put(&prefix.join("share").join(to), words.as_bytes(), 0o644)?;
    }
    let pages = prefix.join("share/man/man1");
    run(Command::new(&izba).args(["manual", "--into"]).arg(&pages), "izba manual")?;
    each_file(&pages, &mut |page| fs::set_permissions(page, fs::Permissions::from_mode(0o644)))
}

/// Writes a file and the folders above it, with the given mode.
pub fn put(path: &Path, bytes: &[u8], mode: u32) -> Outcome {
    let failed = |e: std::io::Error| format!("{}: {e}", path.display());
    let folder = path.parent().unwrap_or(Path::new("/"));
    fs::create_dir_all(folder).map_err(failed)?;
    fs::write(path, bytes).map_err(failed)?;
    fs::set_permissions(path, fs::Permissions::from_mode(mode)).map_err(failed)
}

/// Does something with each file under a folder, in the order of their names.
pub fn each_file(folder: &Path, does: &mut impl FnMut(&Path) -> std::io::Result<()>) -> Outcome {
    let failed = |e: std::io::Error| format!("{}: {e}", folder.display());
    let listed: Result<Vec<_>, _> = fs::read_dir(folder).map_err(failed)?.collect();
    let mut paths: Vec<_> = listed.map_err(failed)?.iter().map(fs::DirEntry::path).collect();
    paths.sort();
    for path in paths {
        if path.is_dir() && !path.is_symlink() {
            each_file(&path, does)?;
        } else {
            does(&path).map_err(failed)?;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::root;

    #[test]
    fn what_a_package_takes_from_the_repository_is_there() {
        for (from, _) in FILES {
            assert!(root().join(from).is_file(), "{from}");
        }
    }

    #[test]
    fn files_are_walked_in_the_order_of_their_names() {
        let folder = tempfile::tempdir().expect("room");
        for name in ["b/two", "a", "b/one"] {
            put(&folder.path().join(name), b"", 0o600).expect("written");
        }
        let mut seen = Vec::new();
        let walked = each_file(folder.path(), &mut |path| {
            seen.push(path.strip_prefix(folder.path()).expect("below").display().to_string());
            Ok(())
        });
        assert_eq!(walked, Ok(()));
        assert_eq!(seen, ["a", "b/one", "b/two"]);
    }
}

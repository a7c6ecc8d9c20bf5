//! An exact edit made in the user's file, and taken back: only in the text that was looked at, whole or
//! not at all, and nowhere outside the project.

use izba_model::claim::Fix;
use izba_sources::plain_io;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// An edit that was made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Made {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// What it did, in words.
    pub says: String,
    /// The file's bytes before it.
    was: Vec<u8>,
    /// The file's bytes behind it.
    now: Vec<u8>,
}

/// What a UTF-8 file may begin with and its text does not hold.
const BOM: &[u8] = b"\xef\xbb\xbf";

/// Makes an edit in the file of the project at `root` that was looked at as `text`.
///
/// # Errors
///
/// A sentence, and nothing is changed: where the file is no longer what was looked at, is not plain
/// UTF-8, lies outside the project, or cannot be written.
pub fn make(root: &Path, fix: &Fix, text: &str) -> Result<Made, String> {
    let path = within(root, &fix.file)?;
    let was = std::fs::read(&path)
        .map_err(|e| format!("{} can't be read: {}", fix.file, plain_io(&e)))?;
    let (bom, body) = match was.strip_prefix(BOM) {
        Some(body) => (BOM, body),
        None => (&[][..], was.as_slice()),
    };
    let new = fix.apply(text).filter(|_| body == text.as_bytes()).ok_or_else(|| {
        format!(
            "{} is another one now than when Izba looked at it, so nothing was changed; e opens it",
            fix.file
        )
    })?;
    let now = [bom, new.as_bytes()].concat();
    write(&path, &now).map_err(|e| format!("{} can't be written: {e}", fix.file))?;
    Ok(Made { file: fix.file.clone(), says: fix.says(text), was, now })
}

/// Takes an edit back, so that the file is byte for byte what it was.
///
/// # Errors
///
/// A sentence, and nothing is changed: where the file was changed since, or cannot be written.
pub fn take_back(root: &Path, made: &Made) -> Result<(), String> {
    let path = within(root, &made.file)?;
    let there = std::fs::read(&path)
        .map_err(|e| format!("{} can't be read: {}", made.file, plain_io(&e)))?;
    if there != made.now {
        return Err(format!("{} was changed since, so the edit stays; e opens it", made.file));
    }
    write(&path, &made.was).map_err(|e| format!("{} can't be written: {e}", made.file))
}

/// The file itself, which has to lie in the project whatever links lead there.
fn within(root: &Path, file: &str) -> Result<PathBuf, String> {
    let there = |e: &std::io::Error| format!("{file} can't be found: {}", plain_io(e));
    let path = root.join(file).canonicalize().map_err(|e| there(&e))?;
    let root = root.canonicalize().map_err(|e| there(&e))?;
    if path.starts_with(&root) {
        return Ok(path);
    }
    Err(format!("{file} leads out of the project, so Izba changes nothing in it; e opens it"))
}

/// Writes a file whole: what reads it meanwhile sees the old one or the new one.
fn write(path: &Path, bytes: &[u8]) -> Result<(), String> {
    let folder = path.parent().ok_or("it has no folder")?;
    let plain = |e: std::io::Error| plain_io(&e).to_string();
    let permissions = std::fs::metadata(path).map_err(plain)?.permissions();
    let name = path.file_name().unwrap_or_default().to_string_lossy();
    let half = folder.join(format!(".{name}.izba-{}", std::process::id()));
    let written = || -> std::io::Result<()> {
        // Whatever lies there under this name, a link perhaps, is nothing of ours.
        let mut file = std::fs::File::create_new(&half)?;
        file.write_all(bytes)?;
        file.sync_data()?;
        std::fs::set_permissions(&half, permissions)?;
        std::fs::rename(&half, path)
    };
    written().map_err(|e| {
        if e.kind() != std::io::ErrorKind::AlreadyExists {
            let _ = std::fs::remove_file(&half);
        }
        plain(e)
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    const TEXT: &str = "local tide = 1\nreturn tyde\n";

    fn place(bytes: &[u8]) -> (tempfile::TempDir, PathBuf) {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("tide.lua");
        std::fs::write(&path, bytes).expect("room");
        (folder, path)
    }

    fn fix() -> Fix {
        let at = TEXT.find("tyde").expect("it stands there");
        Fix::one(&"tide.lua".into(), at..at + 4, "tide").expect("a fix")
    }

    #[test]
    fn an_edit_is_made_and_taken_back_byte_for_byte() {
        for begin in [&[][..], BOM] {
            let bytes = [begin, TEXT.as_bytes()].concat();
            let (folder, path) = place(&bytes);
            let made = make(folder.path(), &fix(), TEXT).expect("it is made");
            assert_eq!(made.says, "line 2 becomes `return tide`");
            let now = std::fs::read(&path).expect("there");
            assert_eq!(now, [begin, &b"local tide = 1\nreturn tide\n"[..]].concat());
            take_back(folder.path(), &made).expect("nobody changed it");
            assert_eq!(std::fs::read(&path).expect("there"), bytes);
            assert_eq!(std::fs::read_dir(folder.path()).expect("a folder").count(), 1);
        }
    }

    #[test]
    fn what_was_changed_since_is_left_alone_both_ways() {
        let (folder, path) = place(b"local tide = 2\nreturn tyde\n");
        let refused = make(folder.path(), &fix(), TEXT).expect_err("another text");
        assert!(refused.contains("another one now"), "{refused}");
        assert_eq!(std::fs::read(&path).expect("there"), b"local tide = 2\nreturn tyde\n");
        std::fs::write(&path, TEXT).expect("room");
        let made = make(folder.path(), &fix(), TEXT).expect("it is made");
        std::fs::write(&path, "-- mine\n").expect("room");
        let refused = take_back(folder.path(), &made).expect_err("changed since");
        assert!(refused.contains("changed since"), "{refused}");
        assert_eq!(std::fs::read(&path).expect("there"), b"-- mine\n");
    }

    #[test]
    #[cfg(unix)]
    fn nothing_outside_the_project_is_written_and_who_may_run_it_stays() {
        use std::os::unix::fs::{PermissionsExt, symlink};
        let (elsewhere, outside) = place(TEXT.as_bytes());
        let folder = tempfile::tempdir().expect("a temporary folder");
        symlink(&outside, folder.path().join("tide.lua")).expect("a link");
        let refused = make(folder.path(), &fix(), TEXT).expect_err("it leads out");
        assert!(refused.contains("leads out of the project"), "{refused}");
        assert_eq!(std::fs::read(&outside).expect("there"), TEXT.as_bytes());
        // Nor by a link that lies where the new text is written first.
        let (folder, path) = place(TEXT.as_bytes());
        let trap = folder.path().join(format!(".tide.lua.izba-{}", std::process::id()));
        symlink(&outside, &trap).expect("a link");
        make(folder.path(), &fix(), TEXT).expect_err("something lies there");
        assert_eq!(std::fs::read(&outside).expect("there"), TEXT.as_bytes());
        assert_eq!(std::fs::read(&path).expect("there"), TEXT.as_bytes());
        assert!(trap.is_symlink(), "it is not ours to take away");
        drop(elsewhere);
        let (folder, path) = place(TEXT.as_bytes());
        let mode = std::fs::Permissions::from_mode(0o750);
        std::fs::set_permissions(&path, mode).expect("mine");
        make(folder.path(), &fix(), TEXT).expect("it is made");
        let after = std::fs::metadata(&path).expect("there").permissions().mode();
        assert_eq!(after & 0o777, 0o750);
    }
}

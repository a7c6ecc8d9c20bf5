//! Who may have written what lies in a folder: whether it is the user's own.

use nix::unistd::{Uid, geteuid};
use std::os::unix::fs::{MetadataExt, PermissionsExt};
use std::path::Path;

/// The sticky bit: in such a folder nobody moves what is another's (`/tmp`).
const STICKY: u32 = 0o1000;
/// Everybody may write.
const ALL_WRITE: u32 = 0o002;

/// Why others than the user (or root) may have written the file at `path`, as the end of a sentence
/// that begins with what it is; `None` where only the user may. A file that is not there is nobody's.
pub fn others_wrote(path: &Path) -> Option<String> {
    let meta = std::fs::metadata(path).ok()?;
    if !is_trusted(meta.uid()) {
        return Some(format!("belongs to another user ({})", name_of(meta.uid())));
    }
    if meta.permissions().mode() & ALL_WRITE != 0 {
        return Some("can be written by everybody on this machine".into());
    }
    let folder = path.canonicalize().ok()?.parent()?.metadata().ok()?;
    if !is_trusted(folder.uid()) {
        return Some(format!(
            "lies in a folder that belongs to another user ({})",
            name_of(folder.uid())
        ));
    }
    let open = folder.permissions().mode() & (ALL_WRITE | STICKY) == ALL_WRITE;
    open.then(|| "lies in a folder in which everybody on this machine can write".into())
}

/// Whether a folder above where the user works may lead: not where everybody may lay down marks.
pub(crate) fn leads(folder: &Path) -> bool {
    folder
        .metadata()
        .is_ok_and(|meta| is_trusted(meta.uid()) && meta.permissions().mode() & ALL_WRITE == 0)
}

fn is_trusted(owner: u32) -> bool {
    owner == geteuid().as_raw() || owner == 0
}

fn name_of(owner: u32) -> String {
    match nix::unistd::User::from_uid(Uid::from_raw(owner)) {
        Ok(Some(user)) => user.name,
        _ => format!("number {owner}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::fs::{Permissions, create_dir, set_permissions, write};

    #[test]
    fn what_others_may_have_written_is_told_by_who_and_why() {
        let folder = tempfile::tempdir().expect("a folder");
        let open = folder.path().join("open");
        create_dir(&open).expect("room");
        let (mine, loose) = (folder.path().join("mine.toml"), open.join("loose.toml"));
        write(&mine, "").and_then(|()| write(&loose, "")).expect("room");
        let mode = |path: &Path, mode| {
            set_permissions(path, Permissions::from_mode(mode)).expect("it is ours");
        };
        assert_eq!(others_wrote(&mine), None);
        assert_eq!(others_wrote(&folder.path().join("gone.toml")), None);
        mode(&mine, 0o666);
        let told = others_wrote(&mine).expect("everybody may write");
        assert_eq!(told, "can be written by everybody on this machine");
        assert!(leads(&open));
        mode(&open, 0o777);
        assert!(!leads(&open));
        let told = others_wrote(&loose).expect("everybody may write beside it");
        assert!(told.contains("folder in which everybody"), "{told}");
        // In a folder such as /tmp others can't touch what is mine, but may lay down what leads.
        mode(&open, 0o1777);
        assert!(others_wrote(&loose).is_none() && !leads(&open));
        if geteuid().is_root() {
            std::os::unix::fs::chown(&loose, Some(4_711), None).expect("root may");
            let told = others_wrote(&loose).expect("it is another's");
            assert_eq!(told, "belongs to another user (number 4711)");
        }
    }
}

//! The one way to open and read a file of a project: only ordinary files, never longer than was
//! asked for, and never waiting for somebody to write.

use nix::fcntl::OFlag;
use std::fs::{File, Metadata, OpenOptions};
use std::io::{Error, ErrorKind, Read, Result};
use std::os::unix::fs::{FileTypeExt, OpenOptionsExt};
use std::path::Path;

/// Settings, readers and notes that are longer than this are not read, in bytes.
pub const SETTINGS_CAP: u64 = 1 << 20;

/// Opens an ordinary file to be read.
///
/// It is looked at before and after it is opened, and opened without waiting: opening a pipe would
/// wait for a writer, and opening some devices does something.
///
/// # Errors
///
/// When it cannot be opened, or is no ordinary file ([`ErrorKind::InvalidInput`]).
pub fn open(path: &Path) -> Result<File> {
    ordinary(&std::fs::metadata(path)?)?;
    let file = OpenOptions::new()
        .read(true)
        .custom_flags((OFlag::O_NONBLOCK | OFlag::O_NOCTTY | OFlag::O_CLOEXEC).bits())
        .open(path)?;
    ordinary(&file.metadata()?)?;
    Ok(file)
}

fn ordinary(meta: &Metadata) -> Result<()> {
    if meta.is_file() {
        return Ok(());
    }
    let kind = meta.file_type();
    let it_is = match () {
        () if kind.is_dir() => "a folder",
        () if kind.is_fifo() => "a pipe",
        () if kind.is_socket() => "a socket",
        () => "a device",
    };
    Err(Error::new(ErrorKind::InvalidInput, format!("it is {it_is}, not a file")))
}

/// The bytes of an ordinary file, where they are at most `cap`.
///
/// # Errors
///
/// As [`open`]; and when the file is longer ([`ErrorKind::FileTooLarge`]), also when it grows while
/// it is read or says a shorter length than it has.
pub fn read(path: &Path, cap: u64) -> Result<Vec<u8>> {
    let too_long = || {
        let kib = cap.div_ceil(1024);
        Error::new(ErrorKind::FileTooLarge, format!("it is longer than {kib} KiB"))
    };
    let file = open(path)?;
    let len = file.metadata()?.len();
    if len > cap {
        return Err(too_long());
    }
    let mut bytes = Vec::with_capacity(usize::try_from(len).unwrap_or(0));
    file.take(cap + 1).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > cap { Err(too_long()) } else { Ok(bytes) }
}

/// The text of an ordinary file, where it has at most `cap` bytes.
///
/// # Errors
///
/// As [`read`]; and when it is no UTF-8 ([`ErrorKind::InvalidData`]).
pub fn read_text(path: &Path, cap: u64) -> Result<String> {
    String::from_utf8(read(path, cap)?)
        .map_err(|_| Error::new(ErrorKind::InvalidData, "it holds bytes that are no text (UTF-8)"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_ordinary_files_are_read_and_nothing_is_waited_for() {
        let folder = tempfile::tempdir().expect("a folder");
        let at = |name: &str| folder.path().join(name);
        std::fs::write(at("tide.txt"), "high\n").expect("room");
        nix::unistd::mkfifo(&at("pipe"), nix::sys::stat::Mode::S_IRWXU).expect("a pipe");
        std::os::unix::fs::symlink("/dev/zero", at("zeros")).expect("a link");
        std::os::unix::fs::symlink("tide.txt", at("link")).expect("a link");
        let _socket = std::os::unix::net::UnixListener::bind(at("socket")).expect("a socket");
        let told = |name: &str, cap| match read_text(&at(name), cap) {
            Ok(text) => text,
            Err(e) => e.to_string(),
        };
        assert_eq!(told("tide.txt", 5), "high\n");
        assert_eq!(told("link", 5), "high\n");
        assert_eq!(told("tide.txt", 4), "it is longer than 1 KiB");
        assert_eq!(told("pipe", 5), "it is a pipe, not a file");
        assert_eq!(told("zeros", 5), "it is a device, not a file");
        assert_eq!(told("socket", 5), "it is a socket, not a file");
        assert_eq!(told(".", 5), "it is a folder, not a file");
        std::fs::write(at("bell"), b"\xff").expect("room");
        assert_eq!(told("bell", 5), "it holds bytes that are no text (UTF-8)");
        // What says that it is empty and is not is read no further than the bound.
        assert!(read(Path::new("/proc/self/status"), 16).is_err());
        assert!(!read(Path::new("/proc/self/status"), 1 << 20).expect("it is short").is_empty());
    }
}

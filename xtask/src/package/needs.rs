//! What a binary asks of the system that it runs on: its libraries, and the oldest glibc.

use super::tools::output;
use std::path::Path;
use std::process::Command;

/// What a binary needs.
#[derive(Debug, PartialEq, Eq)]
pub struct Needs {
    /// The newest version of glibc that one of its symbols names, such as `2.34`.
    pub glibc: String,
    /// The libraries that are loaded with it, in order of their names.
    pub libraries: Vec<String>,
}

/// What a binary needs, as readelf tells it.
pub fn of(binary: &Path) -> Result<Needs, String> {
    let asked = |what: &str| output(Command::new("readelf").arg(what).arg("-W").arg(binary));
    read(&asked("-d")?, &asked("-V")?)
}

/// Reads the dynamic section and the version needs, as `readelf -W` prints them.
fn read(dynamic: &str, versions: &str) -> Result<Needs, String> {
    let mut libraries: Vec<String> = dynamic
        .lines()
        .filter(|line| line.contains("(NEEDED)"))
        .filter_map(|line| Some(line.split_once('[')?.1.split_once(']')?.0.to_owned()))
        .collect();
    libraries.sort();
    let newest = versions
        .split("GLIBC_")
        .skip(1)
        .filter_map(|behind| {
            let end = behind.find(|c: char| !c.is_ascii_digit() && c != '.');
            let numbers = &behind[..end.unwrap_or(behind.len())];
            numbers.split('.').map(|n| n.parse::<u32>().ok()).collect::<Option<Vec<_>>>()
        })
        .max()
        .ok_or("readelf names no version of glibc: is this a binary for Linux with glibc?")?;
    let glibc = newest.iter().map(u32::to_string).collect::<Vec<_>>().join(".");
    Ok(Needs { glibc, libraries })
}

#[cfg(test)]
mod tests {
    use super::*;

    const DYNAMIC: &str = "\
Dynamic section at offset 0x2 contains 3 entries:
 0x0000000000000001 (NEEDED)             Shared library: [libm.so.6]
 0x0000000000000001 (NEEDED)             Shared library: [libc.so.6]
 0x000000000000000c (INIT)               0x4000";

    #[test]
    fn the_newest_version_is_by_numbers_and_not_by_letters() {
        let versions = "  0x0010:   Name: GLIBC_2.9  Flags: none  Version: 7\n  0x0020:   Name: \
            GLIBC_2.34  Flags: none\n  0x0030:   Name: GCC_3.0\n  0x0040:   Name: GLIBC_2.2.5";
        let needs = read(DYNAMIC, versions).expect("all is there");
        assert_eq!(needs.glibc, "2.34");
        assert_eq!(needs.libraries, ["libc.so.6", "libm.so.6"]);
    }

    #[test]
    fn a_binary_without_glibc_is_told() {
        assert!(read(DYNAMIC, "No version information found").is_err());
    }
}

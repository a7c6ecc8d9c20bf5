//! Puts in place what tests and pictures need: Debian packages, by apt-get where we may, else named
//! for the user.

use crate::{Outcome, say};
use std::path::Path;
use std::process::{Command, Stdio};

/// A program that has to be there, and the Debian package that brings it.
struct Need {
    program: &'static str,
    package: &'static str,
}

const TESTS: &[Need] = &[
    Need { program: "lua5.4", package: "lua5.4" },
    Need { program: "node", package: "nodejs" },
    Need { program: "python3", package: "python3" },
    Need { program: "javac", package: "openjdk-17-jdk-headless" },
    Need { program: "mcs", package: "mono-mcs" },
    Need { program: "mono", package: "mono-runtime" },
    Need { program: "tmux", package: "tmux" },
    Need { program: "pdftotext", package: "poppler-utils" },
    Need { program: "chromium", package: "chromium" },
    Need { program: "chromedriver", package: "chromium-driver" },
];

const SHOTS: &[Need] = &[
    Need { program: "Xvfb", package: "xvfb" },
    Need { program: "kitty", package: "kitty" },
    Need { program: "tmux", package: "tmux" },
    Need { program: "import", package: "imagemagick" },
    Need { program: "fc-list", package: "fontconfig" },
];

const FRESH_ROOT: &[Need] = &[Need { program: "debootstrap", package: "debootstrap" }];

/// What the tests use without a program of its own, told by a file: a debug adapter that nobody
/// here wrote.
const TEST_FILES: &[(&str, &str)] =
    &[("/usr/lib/python3/dist-packages/debugpy", "python3-debugpy")];

/// Fonts and drivers without a program of their own, told by a file.
const SHOT_FILES: &[(&str, &str)] = &[
    ("/usr/share/fonts/truetype/jetbrains-mono", "fonts-jetbrains-mono"),
    ("/usr/share/fonts/truetype/dejavu", "fonts-dejavu-core"),
    ("/usr/share/doc/libgl1-mesa-dri", "libgl1-mesa-dri"),
];

/// What the tests run: five languages, a terminal and a browser.
pub fn for_tests() -> Outcome {
    let mut packages = missing(TESTS);
    packages.extend(missing_files(TEST_FILES));
    install(packages)
}

/// What makes a root in which nothing is installed yet.
pub fn for_fresh_root() -> Outcome {
    install(missing(FRESH_ROOT))
}

/// What the pictures need: a screen without a screen.
pub fn for_shots() -> Outcome {
    let mut packages = missing(SHOTS);
    packages.extend(missing_files(SHOT_FILES));
    install(packages)
}

fn missing_files(
    files: &'static [(&'static str, &'static str)],
) -> impl Iterator<Item = &'static str> {
    files.iter().filter(|(file, _)| !Path::new(file).exists()).map(|(_, package)| *package)
}

fn missing(needs: &[Need]) -> Vec<&'static str> {
    let path = std::env::var_os("PATH").unwrap_or_default();
    let there =
        |program: &str| std::env::split_paths(&path).any(|folder| folder.join(program).is_file());
    needs.iter().filter(|n| !there(n.program)).map(|n| n.package).collect()
}

fn install(packages: Vec<&'static str>) -> Outcome {
    if packages.is_empty() {
        return Ok(());
    }
    let named = packages.join(" ");
    let root = Command::new("id").arg("-u").output().is_ok_and(|o| o.stdout.starts_with(b"0\n"));
    if !root || !Path::new("/usr/bin/apt-get").exists() {
        return Err(format!("please install these first: apt-get install {named}"));
    }
    say(&format!("installing {named}"));
    let apt = |words: &[&str]| {
        let mut command = Command::new("apt-get");
        command
            .args(["-qq", "-o", "DPkg::Lock::Timeout=300"])
            .args(words)
            .env("DEBIAN_FRONTEND", "noninteractive")
            .stdin(Stdio::null())
            .stdout(Stdio::null());
        crate::run(&mut command, "apt-get")
    };
    apt(&["update"])?;
    let mut words = vec!["install", "-y", "--no-install-recommends"];
    words.extend(&packages);
    apt(&words)
}

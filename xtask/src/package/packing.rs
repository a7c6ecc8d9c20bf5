//! What is packed: where it comes from, where it goes and when, its binary and its archive.

use super::tools::{output, read};
use crate::{Outcome, run};
use std::path::{Path, PathBuf};
use std::process::Command;

/// What is packed: where it came from, where it goes, and when.
pub struct Packing {
    /// The repository's folder.
    pub source: PathBuf,
    /// Where the files are laid out and the packages are written.
    pub into: PathBuf,
    /// The version of the workspace.
    pub version: String,
    /// Seconds since 1970 that every file in a package bears: the time of the last commit.
    pub when: String,
}

impl Packing {
    /// What the repository at `source` is packed as, into a folder.
    pub fn of(source: &Path, into: &Path) -> Result<Packing, String> {
        let git = |words: &[&str]| output(Command::new("git").args(words).current_dir(source));
        let manifest = read(&source.join("Cargo.toml"))?;
        let manifest: toml::Table = manifest.parse().map_err(|e| format!("Cargo.toml: {e}"))?;
        let version = manifest["workspace"]["package"]["version"].as_str();
        Ok(Packing {
            source: source.to_owned(),
            into: into.to_owned(),
            version: version.ok_or("Cargo.toml names no version")?.to_owned(),
            when: git(&["log", "-1", "--format=%ct"])?.trim().to_owned(),
        })
    }

    /// The path of the Debian package.
    pub fn deb(&self) -> PathBuf {
        self.into.join(format!("izba_{}_{}.deb", self.version, architecture()))
    }

    /// The binary, with no name of this machine's folders in it.
    pub fn build(&self) -> Result<PathBuf, String> {
        let home = std::env::var("CARGO_HOME")
            .or_else(|_| std::env::var("HOME").map(|home| format!("{home}/.cargo")))
            .map_err(|_| "neither CARGO_HOME nor HOME is set")?;
        let source = self.source.display();
        let flags = [
            format!("--remap-path-prefix={source}=/izba"),
            format!("--remap-path-prefix={home}=/cargo"),
            // Functions that came out the same are kept once, where nobody asks for their address.
            "-Clink-arg=-Wl,--icf=safe".to_owned(),
        ];
        let target = self.source.join("target");
        let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".into());
        run(
            Command::new(cargo)
                .args(["build", "--locked", "--profile", "small", "-p", "izba-app"])
                .env("CARGO_ENCODED_RUSTFLAGS", flags.join("\u{1f}"))
                .env(
                    "CFLAGS",
                    format!("-ffile-prefix-map={source}=/izba -ffile-prefix-map={home}=/cargo"),
                )
                .env("CARGO_TARGET_DIR", &target)
                .env("SOURCE_DATE_EPOCH", &self.when)
                .current_dir(&self.source),
            "cargo build",
        )?;
        Ok(target.join("small/izba"))
    }

    /// Packs the laid out files, each with the same time and nobody's name.
    pub fn tar(&self, named: &str, into: &str) -> Outcome {
        run(
            Command::new("tar")
                .args(["--sort=name", "--owner=0", "--group=0", "--numeric-owner"])
                .args(["--format=gnu", "--use-compress-program=zstd -19 -T1 -q"])
                .arg(format!("--mtime=@{}", self.when))
                .args(["-cf", into, named])
                .current_dir(&self.into),
            "tar (Debian: tar, zstd)",
        )
    }
}

/// What Debian calls this machine.
pub fn architecture() -> &'static str {
    match std::env::consts::ARCH {
        "x86_64" => "amd64",
        "aarch64" => "arm64",
        other => other,
    }
}

//! `cargo xtask package`: what is handed out. A `.deb` and a `tar.zst` with the same files, the list
//! of what is built into the binary (CycloneDX), and the sums of all three. The same source gives the
//! same bytes, whatever folder it lies in: `--twice` builds it all once more from a clone elsewhere and
//! compares. `--fresh` installs and removes the package in a root that debootstrap makes.

mod deb;
mod fresh;
mod needs;
mod sbom;
mod staged;

use crate::{Outcome, root, run, say};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;

const USAGE: &str = "package [--twice] [--fresh]";

/// The largest binary that is handed out, in bytes.
const LARGEST: u64 = 25_000_000;

/// What is packed: where it came from, where it goes, and when.
struct Packing {
    /// The repository's folder.
    source: PathBuf,
    /// Where the files are laid out and the packages are written.
    into: PathBuf,
    /// The version of the workspace.
    version: String,
    /// Seconds since 1970 that every file in a package bears: the time of the last commit.
    when: String,
}

pub fn run_on(words: &[String]) -> Outcome {
    if let Some(odd) = words.iter().find(|w| !["--twice", "--fresh"].contains(&w.as_str())) {
        return Err(format!("“{odd}” is nothing that package knows; write it so: {USAGE}"));
    }
    let asked = |word: &str| words.iter().any(|w| w == word);
    // What takes a quarter of an hour is not begun in vain.
    if asked("--twice")
        && !output(Command::new("git").args(["status", "--porcelain"]).current_dir(root()))?
            .is_empty()
    {
        return Err("a clone would be another source: commit what was changed first".into());
    }
    let packing = Packing::of(&root(), &root().join("target/packages"))?;
    let sums = packing.make()?;
    say(&sums);
    if asked("--twice") {
        again(&sums)?;
    }
    if asked("--fresh") {
        fresh::run(&packing.deb())?;
    }
    Ok(())
}

/// Packs a clone of the last commit that lies elsewhere: the sums have to be the same.
fn again(sums: &str) -> Outcome {
    let elsewhere = tempfile::tempdir().map_err(|e| format!("no room: {e}"))?;
    let clone = elsewhere.path().join("clone");
    run(Command::new("git").args(["clone", "-q"]).arg(root()).arg(&clone), "git clone")?;
    let second = Packing::of(&clone, &clone.join("target/packages"))?.make()?;
    if second == sums {
        say("packed once more from a clone elsewhere: the same bytes");
        return Ok(());
    }
    Err(format!("packed once more from a clone elsewhere, and it differs:\n{second}"))
}

impl Packing {
    fn of(source: &Path, into: &Path) -> Result<Packing, String> {
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

    fn deb(&self) -> PathBuf {
        self.into.join(format!("izba_{}_{}.deb", self.version, deb::architecture()))
    }

    /// Builds and packs; the sums of what was made, a line each.
    fn make(&self) -> Result<String, String> {
        let binary = self.build()?;
        let size = fs::metadata(&binary).map_err(|e| e.to_string())?.len();
        let needs = needs::of(&binary)?;
        say(&format!(
            "the binary has {:.1} MB and needs glibc {} and {}",
            size as f64 / 1e6,
            needs.glibc,
            needs.libraries.join(", ")
        ));
        if size > LARGEST {
            say(&format!("it was to have {} MB at most", LARGEST / 1_000_000));
        }
        if self.into.exists() {
            fs::remove_dir_all(&self.into).map_err(|e| format!("target/packages: {e}"))?;
        }
        let named = format!("izba-{}-{}-linux", self.version, std::env::consts::ARCH);
        let tree = self.into.join(&named);
        staged::lay_out(&self.source, &binary, &tree)?;
        let made = [
            format!("{named}.tar.zst"),
            format!("{named}.cdx.json"),
            self.deb().file_name().unwrap_or_default().to_string_lossy().into_owned(),
        ];
        self.tar(&named, &made[0])?;
        fs::write(self.into.join(&made[1]), sbom::of(&self.source, &self.version)?)
            .map_err(|e| format!("{}: {e}", made[1]))?;
        deb::pack(self, &tree, &needs)?;
        fs::remove_dir_all(&tree).map_err(|e| e.to_string())?;
        let sums = output(Command::new("sha256sum").args(&made).current_dir(&self.into))?;
        fs::write(self.into.join("SHA256SUMS"), &sums).map_err(|e| e.to_string())?;
        Ok(sums)
    }

    /// The binary, with no name of this machine's folders in it.
    fn build(&self) -> Result<PathBuf, String> {
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
    fn tar(&self, named: &str, into: &str) -> Outcome {
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

/// What a program printed; why it did not, with its own words.
fn output(command: &mut Command) -> Result<String, String> {
    let name = command.get_program().to_string_lossy().into_owned();
    let done = command.output().map_err(|e| format!("{name} could not be started: {e}"))?;
    if !done.status.success() {
        return Err(format!("{name} failed: {}", String::from_utf8_lossy(&done.stderr)));
    }
    String::from_utf8(done.stdout).map_err(|_| format!("{name} printed what is no text"))
}

fn read(path: &Path) -> Result<String, String> {
    fs::read_to_string(path).map_err(|e| format!("{}: {e}", path.display()))
}

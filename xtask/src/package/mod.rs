//! `cargo xtask package`: what is handed out. A `.deb` and a `tar.zst` with the same files, the list
//! of what is built into the binary (CycloneDX), and the sums of all three. The same source gives the
//! same bytes, whatever folder it lies in: `--twice` builds it all once more from a clone elsewhere and
//! compares. `--fresh` installs and removes the package in a root that debootstrap makes; `package try
//! FILE.deb` does that with one that is there.

mod deb;
mod fresh;
mod needs;
mod packing;
mod sbom;
mod staged;
mod tools;

use crate::{Outcome, root, run, say};
use packing::Packing;
use std::fs;
use std::path::Path;
use std::process::Command;
use tools::output;

const USAGE: &str = "package [--twice] [--fresh], or package try FILE.deb";

/// The largest binary that is handed out, in bytes.
const LARGEST: u64 = 25_000_000;

pub fn run_on(words: &[String]) -> Outcome {
    if let [what, deb] = words
        && what == "try"
    {
        return fresh::run(Path::new(deb));
    }
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
    let sums = make(&packing)?;
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
    let second = make(&Packing::of(&clone, &clone.join("target/packages"))?)?;
    if second == sums {
        say("packed once more from a clone elsewhere: the same bytes");
        return Ok(());
    }
    Err(format!("packed once more from a clone elsewhere, and it differs:\n{second}"))
}

/// Builds and packs; the sums of what was made, a line each.
fn make(packing: &Packing) -> Result<String, String> {
    let binary = packing.build()?;
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
    if packing.into.exists() {
        fs::remove_dir_all(&packing.into).map_err(|e| format!("target/packages: {e}"))?;
    }
    let named = format!("izba-{}-{}-linux", packing.version, std::env::consts::ARCH);
    let tree = packing.into.join(&named);
    staged::lay_out(&packing.source, &binary, &tree)?;
    let made = [
        format!("{named}.tar.zst"),
        format!("{named}.cdx.json"),
        packing.deb().file_name().unwrap_or_default().to_string_lossy().into_owned(),
    ];
    packing.tar(&named, &made[0])?;
    fs::write(packing.into.join(&made[1]), sbom::of(&packing.source, &packing.version)?)
        .map_err(|e| format!("{}: {e}", made[1]))?;
    deb::pack(packing, &tree, &needs)?;
    fs::remove_dir_all(&tree).map_err(|e| e.to_string())?;
    let sums = output(Command::new("sha256sum").args(&made).current_dir(&packing.into))?;
    fs::write(packing.into.join("SHA256SUMS"), &sums).map_err(|e| e.to_string())?;
    Ok(sums)
}

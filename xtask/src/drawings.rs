//! Remakes every drawing in docs/drawings from the demo: its engine runs a few times, mended a
//! little between, and `izba draw` draws it.

use crate::{Outcome, cargo, root, run, say};
use std::path::Path;
use std::process::{Command, Stdio};

/// What is mended before each run, and how many seconds it goes on.
const RUNS: &[(&[&str], &str)] = &[
    (&[], "12"),
    (&["tide-name"], "12"),
    (&["fog-end", "buoy-comma"], "12"),
    (&["bell-capital"], "12"),
    (&["lantern-level"], "75"),
];

/// The words of each drawing.
const DRAWINGS: &[(&str, &[&str])] = &[
    ("when", &["when"]),
    ("runs", &["runs"]),
    ("values", &["values", "tide", "--of", "in gauge.lua"]),
    ("path", &["path", "--of", "in chart.lua"]),
    ("ladder", &["ladder", "scripts/heron.lua"]),
    ("ring", &["ring"]),
];

pub fn drawings() -> Outcome {
    cargo(&["build", "--release", "--package", "izba-app"])?;
    let izba = root().join("target/release/izba");
    let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
    let (ferry, store) = (folder.path().join("night-ferry"), folder.path().join("store"));
    let izba_in = |words: &[&str], at: &Path| {
        let mut command = Command::new(&izba);
        command
            .arg("--store")
            .arg(&store)
            .args(words)
            .current_dir(at)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .env("TZ", "UTC");
        command
    };
    let dir = ferry.to_string_lossy().into_owned();
    let _ = izba_in(&["demo", "--reset", "--dir", &dir], folder.path())
        .status()
        .map_err(|e| e.to_string())?;
    // One name for all runs, however long they are.
    let game = format!(
        "#!/bin/sh\nexec '{}' stand-in engine --play play/evening.json --seconds \"$LONG\"\n",
        izba.display()
    );
    std::fs::write(ferry.join("ferry-game"), game).map_err(|e| e.to_string())?;
    for (mended, seconds) in RUNS {
        for fault in *mended {
            let _ = izba_in(&["demo", "--fix", fault, "--dir", &dir], folder.path())
                .status()
                .map_err(|e| e.to_string())?;
        }
        say(&format!("a run of {seconds} s"));
        // It ends with 1 as there are errors; that is what is drawn.
        let _ = izba_in(&["run", "--", "sh", "ferry-game"], &ferry)
            .env("LONG", seconds)
            .status()
            .map_err(|e| e.to_string())?;
    }
    let out = root().join("docs/drawings");
    std::fs::create_dir_all(&out).map_err(|e| e.to_string())?;
    for (name, words) in DRAWINGS {
        let file = out.join(format!("{name}.svg")).to_string_lossy().into_owned();
        run(
            izba_in(&[&["draw"], *words, &["-o", &file]].concat(), &ferry).stderr(Stdio::inherit()),
            "izba draw",
        )?;
        say(&format!("docs/drawings/{name}.svg"));
    }
    Ok(())
}

//! Runs every sample program again and keeps what it printed.

use crate::{Outcome, root, say};
use std::path::Path;
use std::process::Command;

/// Where samples run, so that the paths in their traces are the same on every machine.
const PLACE: &str = "/tmp/night-ferry";

pub fn run() -> Outcome {
    let failed = |e: std::io::Error| e.to_string();
    for language in folders(&root().join("cases/consoles"))? {
        for sample in folders(&language)? {
            let _ = std::fs::remove_dir_all(PLACE);
            std::fs::create_dir_all(PLACE).map_err(failed)?;
            for file in std::fs::read_dir(&sample).map_err(failed)?.flatten() {
                if file.file_name() != "console.txt" {
                    std::fs::copy(file.path(), Path::new(PLACE).join(file.file_name()))
                        .map_err(failed)?;
                }
            }
            let command = std::fs::read_to_string(sample.join("command")).map_err(failed)?;
            let printed = Command::new("sh")
                .args(["-c", &format!("exec 2>&1; {}", command.trim())])
                .current_dir(PLACE)
                .env_remove("PYTHONUNBUFFERED")
                .output()
                .map_err(failed)?;
            std::fs::write(sample.join("console.txt"), &printed.stdout).map_err(failed)?;
            say(&format!("{:>6} bytes  {}", printed.stdout.len(), sample.display()));
        }
    }
    Ok(())
}

fn folders(of: &Path) -> Result<Vec<std::path::PathBuf>, String> {
    let mut found: Vec<_> = std::fs::read_dir(of)
        .map_err(|e| format!("{}: {e}", of.display()))?
        .flatten()
        .map(|e| e.path())
        .filter(|p| p.is_dir())
        .collect();
    found.sort();
    Ok(found)
}

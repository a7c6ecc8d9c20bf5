//! Slips written by hand (`cases/faults/by-hand.toml`), as somebody new to a program makes them.

use super::change::{Change, Files, folder};
use std::fs;

#[derive(serde::Deserialize)]
struct Kept {
    slip: Vec<Slip>,
}

#[derive(serde::Deserialize)]
struct Slip {
    project: String,
    file: String,
    from: String,
    to: String,
    cause: String,
}

/// The slips written for `project`; an error names one that does not fit its file any more.
pub fn changes(project: &str, files: &Files) -> Result<Vec<Change>, String> {
    let text = fs::read_to_string(folder().join("by-hand.toml")).map_err(|e| e.to_string())?;
    let kept: Kept = toml::from_str(&text).map_err(|e| e.to_string())?;
    let mut out = Vec::new();
    for slip in kept.slip.into_iter().filter(|s| s.project == project) {
        let before = files.get(&slip.file).map(String::as_str).unwrap_or_default();
        if before.matches(&slip.from).count() != 1 {
            return Err(format!(
                "by-hand.toml: this does not stand once in {project}/{}: {}",
                slip.file, slip.from
            ));
        }
        let after = before.replacen(&slip.from, &slip.to, 1);
        out.extend(Change::between("by-hand", &slip.file, before, &after, slip.cause));
    }
    Ok(out)
}

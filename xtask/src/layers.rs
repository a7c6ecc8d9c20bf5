//! Who may depend on whom: compares cargo's own picture of the workspace with the rule in
//! ARCHITECTURE.md.

use crate::{Outcome, root};
use std::process::Command;

/// Each crate with those of ours that it may use.
const RULE: &[(&str, &[&str])] = &[
    (
        "izba-app",
        &[
            "izba-code",
            "izba-core",
            "izba-dap",
            "izba-draw",
            "izba-sources",
            "izba-standins",
            "izba-store",
        ],
    ),
    ("izba-code", &["izba-core"]),
    ("izba-core", &[]),
    ("izba-dap", &["izba-core"]),
    ("izba-draw", &["izba-core"]),
    ("izba-sources", &["izba-core", "izba-dap"]),
    ("izba-standins", &[]),
    ("izba-store", &["izba-core"]),
    ("xtask", &[]),
];

pub fn run() -> Outcome {
    let out = Command::new("cargo")
        .args(["metadata", "--no-deps", "--format-version", "1"])
        .current_dir(root())
        .output()
        .map_err(|e| format!("cargo metadata could not be started: {e}"))?;
    let told: serde_json::Value = serde_json::from_slice(&out.stdout)
        .map_err(|e| format!("cargo metadata said no JSON: {e}"))?;
    let packages = told["packages"].as_array().ok_or("cargo metadata named no packages")?;
    for package in packages {
        let name = package["name"].as_str().unwrap_or("");
        let Some((_, allowed)) = RULE.iter().find(|(n, _)| *n == name) else {
            return Err(format!("the crate {name} is not in the rule of layers"));
        };
        for used in package["dependencies"]
            .as_array()
            .into_iter()
            .flatten()
            .filter_map(|d| d["name"].as_str())
        {
            let ours = RULE.iter().any(|(n, _)| *n == used);
            if ours && !allowed.contains(&used) {
                return Err(format!("{name} may not use {used}"));
            }
        }
    }
    Ok(())
}

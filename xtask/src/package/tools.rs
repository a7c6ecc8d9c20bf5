//! What all parts of a package share: asking a program, reading a file.

use std::path::Path;
use std::process::Command;

/// What a program printed; why it did not, with its own words.
pub fn output(command: &mut Command) -> Result<String, String> {
    let name = command.get_program().to_string_lossy().into_owned();
    let done = command.output().map_err(|e| format!("{name} could not be started: {e}"))?;
    if !done.status.success() {
        return Err(format!("{name} failed: {}", String::from_utf8_lossy(&done.stderr)));
    }
    String::from_utf8(done.stdout).map_err(|_| format!("{name} printed what is no text"))
}

/// The text of a file; why it has none, with its name.
pub fn read(path: &Path) -> Result<String, String> {
    std::fs::read_to_string(path).map_err(|e| format!("{}: {e}", path.display()))
}

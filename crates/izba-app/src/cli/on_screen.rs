//! Watching with a screen, for all commands that open one.

use super::say::print;
use super::shared::Outcome;
use izba_watch::Setup;

/// Opens the screen, and tells what is left to know when it is gone.
pub fn on_screen(setup: Setup) -> Outcome {
    let (code, summary) = crate::shell::open(setup)?;
    print(&summary.iter().map(|line| format!("{line}\n")).collect::<String>());
    Ok(code)
}

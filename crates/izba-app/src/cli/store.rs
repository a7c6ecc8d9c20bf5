//! `izba store`: where what was watched is kept, how much it is, and deleting it.

use super::{Outcome, Shared, print};
use crate::command_error::{CommandError, exit};
use izba_core::answer::counted;
use izba_sources::Store;
use std::fmt::Write;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba store\n  izba store --delete")]
pub struct Args {
    /// Delete everything that is kept
    #[arg(long)]
    delete: bool,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let store = Store::open(shared.store.clone())?;
    let sessions = store.sessions();
    let bytes: u64 = sessions.iter().map(|(_, size)| size).sum();
    let mut out = String::new();
    let kept = format!("{}, {}", counted(sessions.len() as u64, "session", "sessions"), size(bytes));
    if args.delete {
        for (path, _) in &sessions {
            std::fs::remove_dir_all(path).map_err(|e| CommandError::input(format!("cannot delete {}: {e}", path.display())))?;
        }
        let _ = writeln!(out, "Deleted {kept} in {}.", store.folder().display());
    } else {
        let _ = writeln!(
            out,
            "{}\n{kept}; the oldest go once there are more than {}. Delete all with: izba store --delete",
            store.folder().display(),
            size(izba_sources::STORE_BUDGET)
        );
    }
    print(&out);
    Ok(exit::WELL)
}

fn size(bytes: u64) -> String {
    match bytes {
        0..1_000 => counted(bytes, "byte", "bytes"),
        1_000..1_000_000 => format!("{:.1} kB", bytes as f64 / 1e3),
        1_000_000..1_000_000_000 => format!("{:.1} MB", bytes as f64 / 1e6),
        _ => format!("{:.1} GB", bytes as f64 / 1e9),
    }
}

//! `izba store`: where what was watched is kept, how much it is, and deleting it.

use super::say::print;
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_model::text::counted;
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
    let runs = store.segments().len() as u64;
    let beside = ["ledger.db", "ledger.db-wal", "decided.jsonl"]
        .iter()
        .filter_map(|f| store.folder().join(f).metadata().ok())
        .map(|m| m.len())
        .sum::<u64>();
    let kept = format!(
        "{}, {} of output and {} of ledger",
        counted(runs, "run", "runs"),
        size(bytes),
        size(beside)
    );
    if args.delete {
        for rest in ["ledger.db", "ledger.db-wal", "ledger.db-shm"] {
            let _ = std::fs::remove_file(store.folder().join(rest));
        }
        let _ = std::fs::remove_dir_all(store.folder().join("files"));
        for (path, _) in &sessions {
            std::fs::remove_dir_all(path).map_err(|e| {
                CommandError::input(format!("cannot delete {}: {e}", path.display()))
            })?;
        }
        let _ = writeln!(
            out,
            "Deleted {kept} in {}. What you decided about groups stays, in decided.jsonl.",
            store.folder().display()
        );
    } else {
        let _ = writeln!(
            out,
            "{}\n{kept}; the oldest runs go once their output is more than {}, and after a \
                year. Delete all with: izba store --delete",
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

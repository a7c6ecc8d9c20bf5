//! `izba store`: where what was watched is kept, how much it is, and deleting it.

use super::say::{print, say_progress};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_model::text::counted;
use izba_sources::Store;
use std::fmt::Write;
use std::io::IsTerminal;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba store\n  izba store --delete")]
pub struct Args {
    /// Delete everything that is kept; asks first
    #[arg(long)]
    delete: bool,
    /// Delete without asking
    #[arg(long, requires = "delete")]
    yes: bool,
}

/// Whether somebody at the terminal says yes; where nobody can be asked, it has to be said with
/// the command.
fn is_agreed(what: &str) -> Result<bool, CommandError> {
    let stdin = std::io::stdin();
    if !stdin.is_terminal() {
        return Err(CommandError::wrong_use(
            "deleting everything that is kept asks first, and there is no terminal to ask at",
            "izba store --delete --yes deletes without asking",
        ));
    }
    say_progress(&format!("Delete {what}? It cannot be had back. [y/N] "));
    let mut answer = String::new();
    let _ = stdin.read_line(&mut answer);
    Ok(matches!(answer.trim(), "y" | "Y" | "yes"))
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
    if args.delete && !args.yes && !is_agreed(&kept)? {
        out += "Nothing is deleted.\n";
    } else if args.delete {
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
            size(crate::settings::read(crate::settings::file().as_deref()).0.budget())
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

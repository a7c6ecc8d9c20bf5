//! `izba trust`: the folders whose `izba.toml` the user allowed to act, and taking that back.

use super::say::print;
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_model::SafeText;
use izba_model::text::counted;
use izba_sources::Store;
use izba_store::Trust;
use std::fmt::Write;
use std::path::PathBuf;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba trust\n  izba trust --take-back ~/ferry\n  izba \
        --trust                  do what izba.toml here names, without asking\n  izba \
        --trust=/var/log/tide    and this, which lies outside the folder")]
pub struct Args {
    /// Ask again before anything in the izba.toml of this folder is done
    #[arg(long, value_name = "DIR")]
    take_back: Option<PathBuf>,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let trust = Trust::of(Store::look(shared.store.clone())?.folder());
    if let Some(folder) = &args.take_back {
        let whole = folder.canonicalize().unwrap_or_else(|_| folder.clone());
        let told = SafeText::new(&whole.to_string_lossy());
        let had = trust.take_back(&whole).map_err(|e| CommandError::input(e.to_string()))?;
        if !had {
            return Err(CommandError::input(format!("nothing was allowed in {told}"))
                .hint("izba trust lists the folders"));
        }
        print(&format!("Taken back: izba.toml in {told} is asked about again.\n"));
        return Ok(exit::WELL);
    }
    let all = trust.all();
    let mut out = match all.len() as u64 {
        0 => "No izba.toml was allowed anything yet.\n".to_owned(),
        n => format!("You allowed what izba.toml names in {}:\n", counted(n, "folder", "folders")),
    };
    for trusted in all {
        let _ = writeln!(out, "  {}", SafeText::new(&trusted.folder.to_string_lossy()));
        for name in &trusted.named {
            let _ = writeln!(out, "    also {}", SafeText::new(name));
        }
    }
    print(&out);
    Ok(exit::WELL)
}

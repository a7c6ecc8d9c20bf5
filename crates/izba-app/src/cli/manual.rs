//! `izba completions SHELL` and `izba manual`: what a shell completes, and the pages that `man`
//! shows, made of the same words as `--help`.

use super::say::print;
use super::shared::Outcome;
use crate::command_error::{CommandError, exit};
use std::path::PathBuf;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba completions bash > ~/.local/share/bash-completion/completions/izba\n  \
        izba completions zsh > ~/.zfunc/_izba\n  \
        izba completions fish > ~/.config/fish/completions/izba.fish"
)]
pub struct CompletionsArgs {
    /// Which shell
    shell: clap_complete::Shell,
}

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba manual > izba.1 && man ./izba.1\n  \
        izba manual --into ~/.local/share/man/man1   a page for each command too")]
pub struct ManualArgs {
    /// Write a page for each command into this folder, instead of the first page to the screen
    #[arg(long, value_name = "DIR")]
    into: Option<PathBuf>,
}

/// Prints what a shell needs to complete the commands of `izba`.
pub fn completions(args: &CompletionsArgs, mut izba: clap::Command) -> Outcome {
    let mut script = Vec::new();
    clap_complete::generate(args.shell, &mut izba, "izba", &mut script);
    print(&String::from_utf8_lossy(&script));
    Ok(exit::WELL)
}

/// Prints the manual page of `izba`, or writes those of all its commands.
pub fn manual(args: &ManualArgs, command: clap::Command) -> Outcome {
    let failed = |e: std::io::Error| {
        CommandError::input(format!("the manual cannot be written: {}", izba_sources::plain_io(&e)))
    };
    if let Some(folder) = &args.into {
        std::fs::create_dir_all(folder).map_err(failed)?;
        clap_mangen::generate_to(command, folder).map_err(failed)?;
        return Ok(exit::WELL);
    }
    let mut page = Vec::new();
    clap_mangen::Man::new(command).render(&mut page).map_err(failed)?;
    print(&String::from_utf8_lossy(&page));
    Ok(exit::WELL)
}

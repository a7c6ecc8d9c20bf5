//! `izba notes`: what was written about errors, found by words, read, added from a log, offered for
//! one, shared with a project.

use super::say::{print, say};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_core::notes::{Note, PARTS, offered};
use izba_core::{Engine, answer};
use izba_model::SafeText;
use izba_sources::Store;
use izba_store::{KeptNote, Notes};
use std::fmt::Write;
use std::path::PathBuf;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba notes                          all of them, the newest first\n  \
        izba notes find wick nil            those that hold both words\n  izba notes show \
        wick-has-no-value-here\n  izba notes add console.log --of \"in lantern.lua\" \
        --meant \"the list has seven wicks\" --fixed \"the level is 7 now\" --tag lists\n  \
        izba notes for console.log          those that fit the errors of a log\n  izba notes \
        share wick-has-no-value-here   move it to izba-notes of this project"
)]
pub struct Args {
    #[command(subcommand)]
    what: Option<What>,
}

#[derive(clap::Subcommand, Debug)]
enum What {
    /// Those that hold all these words: of the sentence, the code, the family, the tags or the text
    #[command(after_help = "Example: izba notes find wick nil")]
    Find {
        /// Words
        #[arg(required = true)]
        words: Vec<String>,
    },
    /// One of them, whole
    #[command(after_help = "Example: izba notes show wick-has-no-value-here")]
    Show {
        /// Its name, as the list tells it
        name: String,
    },
    /// Write one about an error of a log
    #[command(
        after_help = "Example: izba notes add console.log --of \"in lantern.lua\" --meant \"seven wicks\""
    )]
    Add {
        /// The log
        log: PathBuf,
        /// Which error, where there are several: a filter phrase
        #[arg(long, value_name = "PHRASE")]
        of: Option<String>,
        /// What it meant
        #[arg(long, value_name = "TEXT", default_value = "")]
        meant: String,
        /// What fixed it
        #[arg(long, value_name = "TEXT", default_value = "")]
        fixed: String,
        /// How to make it happen
        #[arg(long, value_name = "TEXT", default_value = "")]
        how: String,
        /// A word of your own; more than once for several
        #[arg(long = "tag", value_name = "WORD")]
        tags: Vec<String>,
    },
    /// Those that fit the errors of logs
    #[command(after_help = "Example: izba notes for console.log")]
    For {
        /// Logs
        #[arg(required = true)]
        logs: Vec<PathBuf>,
    },
    /// Move one to the folder izba-notes of this project, which others can read
    #[command(after_help = "Example: izba notes share wick-has-no-value-here")]
    Share {
        /// Its name, as the list tells it
        name: String,
    },
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let store = Store::look(shared.store.clone())?;
    let notes = Notes::of(&shared.root(), &Store::notes_of(store.folder()));
    let (all, troubles) = notes.read();
    for trouble in troubles {
        say(&trouble);
    }
    match args.what {
        None => print(&list(&all, notes.home())),
        Some(What::Find { words }) => {
            let words: Vec<String> = words.iter().map(|w| w.to_lowercase()).collect();
            let found: Vec<KeptNote> = all.into_iter().filter(|k| k.note.holds(&words)).collect();
            if found.is_empty() {
                print(&format!("No note holds {}.\n", words.join(" and ")));
                return Ok(exit::FOUND);
            }
            print(&list(&found, notes.home()));
        }
        Some(What::Show { name }) => {
            print(&format!("{}\n", safe_lines(&named(&all, &name)?.note.write())))
        }
        Some(What::Share { name }) => {
            let path =
                notes.share(named(&all, &name)?).map_err(|e| CommandError::input(e.to_string()))?;
            print(&format!("{}\n", path.display()));
        }
        Some(What::Add { log, of, meant, fixed, how, tags }) => {
            let engine = read(shared, &[log])?;
            let phrase = super::logs::phrase_of(of.as_deref())?;
            let utc_offset = jiff::Zoned::now().offset().seconds();
            let choice = answer::Choice {
                finder: None,
                phrase: phrase.as_ref(),
                compared: false,
                now: Some(izba_sources::now()),
                utc_offset,
            };
            let groups = answer::chosen(&engine, &choice);
            let group = groups
                .iter()
                .find(|g| !g.muted)
                .ok_or_else(|| CommandError::input("there is no such error in this log"))?;
            let mut note =
                Note::about(group, engine.project(), izba_sources::now(), None, None, None);
            note.head.tags = tags;
            note.body = [meant, fixed, how]
                .iter()
                .zip(PARTS)
                .map(|(text, part)| format!("## {part}\n\n{text}\n"))
                .collect::<Vec<_>>()
                .join("\n");
            let path = notes.keep(&note, None).map_err(|e| CommandError::input(e.to_string()))?;
            print(&format!("{}\n", path.display()));
        }
        Some(What::For { logs }) => {
            let engine = read(shared, &logs)?;
            let mut out = String::new();
            for group in engine.groups() {
                for found in offered(all.iter().map(|k| &k.note), &group) {
                    let kept = &all[found.note];
                    let head = &kept.note.head;
                    let _ = writeln!(
                        out,
                        "{}\n  you met this on {} in {}: {}\n  {}\n  {}",
                        SafeText::new(&group.explanation.short.to_string()),
                        SafeText::new(&head.met),
                        SafeText::new(&head.project),
                        found.likely.why(),
                        SafeText::new(kept.note.meant()),
                        kept.path.display()
                    );
                }
            }
            let any = !out.is_empty();
            print(if any { &out } else { "No note fits an error of this log.\n" });
            return Ok(if any { exit::WELL } else { exit::FOUND });
        }
    }
    Ok(exit::WELL)
}

fn name_of(kept: &KeptNote) -> String {
    kept.path.file_stem().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default()
}

fn named<'a>(all: &'a [KeptNote], name: &str) -> Result<&'a KeptNote, CommandError> {
    let name = name.strip_suffix(".md").unwrap_or(name);
    all.iter().find(|k| name_of(k) == name).ok_or_else(|| {
        CommandError::input(format!("there is no note {name}")).hint("izba notes lists them")
    })
}

fn list(all: &[KeptNote], home: &std::path::Path) -> String {
    if all.is_empty() {
        return format!(
            "No note was written yet; new ones are kept in {}.\nOn the screen w writes one \
                about the chosen error.\n",
            home.display()
        );
    }
    let mut out = String::new();
    for kept in all {
        let head = &kept.note.head;
        let place = if kept.shared { ", shared" } else { "" };
        let _ = writeln!(
            out,
            "{}  {}  ({}{place})",
            SafeText::new(&head.met),
            SafeText::new(&head.title),
            SafeText::new(&head.project)
        );
        let meant = kept.note.meant();
        let _ = writeln!(
            out,
            "            {}{}{}",
            name_of(kept),
            if meant.is_empty() { "" } else { ": " },
            SafeText::new(meant)
        );
    }
    out
}

fn safe_lines(text: &str) -> String {
    text.lines().map(|l| SafeText::new(l).as_str().to_owned()).collect::<Vec<_>>().join("\n")
}

fn read(shared: &Shared, logs: &[PathBuf]) -> Result<Engine, CommandError> {
    super::logs::logs(shared, &Arc::new(izba_files::scan(&shared.root())), logs)
}

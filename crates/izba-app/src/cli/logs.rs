//! What commands do that read logs: how they answer, which groups are told, what the user decided.

use super::shared::Shared;
use crate::command_error::{CommandError, exit};
use izba_core::{Engine, Phrase, answer};
use izba_watch::{readers, side_by_side};
use std::fs::File;
use std::path::PathBuf;
use std::sync::Arc;

/// How the answer is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Form {
    /// Sentences for people
    Text,
    /// One JSON object for each mistake, most important first
    Jsonl,
    /// SARIF 2.1.0, for editors and trackers that read it
    Sarif,
    /// A request for help for the first mistake, or for the first ones that a filter lets through
    Markdown,
}

/// Understands a phrase of the command line.
///
/// # Errors
///
/// Wrong use, with the mistake underlined.
pub fn phrase_of(text: Option<&str>) -> Result<Option<Phrase>, CommandError> {
    let Some(text) = text else { return Ok(None) };
    Phrase::parse(text).map(Some).map_err(|problem| {
        let before = text.get(..problem.at.start).map_or(0, |t| t.chars().count());
        let wrong = text.get(problem.at.clone()).map_or(1, |t| t.chars().count()).max(1);
        CommandError::wrong_use(
            format!("this filter cannot be understood: {problem}"),
            format!("{text}\n      {}{}", " ".repeat(before), "^".repeat(wrong)),
        )
    })
}

/// Follows what the user decided about this project's groups.
///
/// # Errors
///
/// When the store cannot be opened.
pub fn follow_wishes(shared: &Shared, engine: &mut Engine) -> Result<(), CommandError> {
    let store = izba_sources::Store::look(shared.store.clone())?;
    let root = shared.root();
    let project = root.canonicalize().unwrap_or(root).to_string_lossy().into_owned();
    for wish in izba_watch::decided(store.folder(), &project) {
        engine.wish(&wish);
    }
    Ok(())
}

/// Reads whole logs as `izba read` does: with what the user decided, and as the project's readers
/// were taught.
///
/// # Errors
///
/// When a log, the readers or the store cannot be read.
pub fn logs(
    shared: &Shared,
    project: &Arc<izba_model::Project>,
    files: &[PathBuf],
) -> Result<Engine, CommandError> {
    let taught =
        readers::read_file(&shared.root().join(readers::FILE)).map_err(CommandError::input)?;
    let mut engine = Engine::new(project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    follow_wishes(shared, &mut engine)?;
    for path in files {
        let source = engine.add_source(path.to_string_lossy());
        engine.start_run(source, None, project.clone());
        let plain = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
        engine.set_taught(source, readers::of_source(&taught, &plain, None));
        let failed = |e: std::io::Error| {
            CommandError::input(format!(
                "cannot read {}: {}",
                path.display(),
                izba_sources::plain_io(&e)
            ))
        };
        let mut input = File::open(path).map_err(failed)?;
        side_by_side::feed_all(&mut engine, source, &mut input).map_err(failed)?;
    }
    engine.finish();
    Ok(engine)
}

/// The exit code that tells whether an error was found.
pub fn verdict(engine: &Engine, choice: &answer::Choice<'_>) -> u8 {
    if answer::has_error(engine, choice) { exit::FOUND } else { exit::WELL }
}

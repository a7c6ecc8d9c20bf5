//! Asks a language's own parser whether it would take a script, without running any of it.

use izba_model::code::Language;
use std::collections::BTreeMap;
use std::path::Path;
use std::process::{Command, Stdio};
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// A parser that needs longer is not waited for.
const PATIENCE: Duration = Duration::from_secs(3);
/// A longer text is not shown to it, in bytes: nobody wrote it, and parsers differ in what they make
/// of it.
const LONGEST: usize = 64 << 10;
/// How often it is looked whether the parser has ended.
const PACE: Duration = Duration::from_millis(2);

/// Whether the language's own parser takes `text`; `None` where it is not installed, knows another
/// dialect of the language, or takes too long.
///
/// The text is written to a folder of its own, and the program is started there: nothing of the
/// project is read or run by it.
pub fn accepts(language: Language, text: &str) -> Option<bool> {
    accepts_within(language, text, PATIENCE)
}

fn accepts_within(language: Language, text: &str, patience: Duration) -> Option<bool> {
    let (program, words) = language.parse_only.split_first()?;
    if text.len() > LONGEST {
        return None;
    }
    // A program that lies in the folder one happens to be in is the project's, and would be run.
    let program = super::interpreter::on_path(program).filter(|p| p.is_absolute())?;
    let folder = tempfile::tempdir().ok()?;
    let name = format!("script.{}", ending(language, text)?);
    std::fs::write(folder.path().join(&name), text).ok()?;
    let words = words.iter().map(|w| if w == "{}" { &name } else { w });
    let taken = ended_well(Command::new(program).args(words), folder.path(), patience)?;
    // It has to show that it can take anything at all.
    (taken || is_sound(language, folder.path(), patience)).then_some(taken)
}

/// What was found of each language's parser, by the language's id.
static SOUND: Mutex<BTreeMap<String, bool>> = Mutex::new(BTreeMap::new());

/// Whether the parser takes anything at all; tried once for each language.
fn is_sound(language: Language, folder: &Path, patience: Duration) -> bool {
    let mut known = SOUND.lock().unwrap_or_else(PoisonError::into_inner);
    *known.entry(language.id.clone()).or_insert_with(|| can_take(language, folder, patience))
}

/// Whether the parser takes an empty script: a broken installation refuses everything.
fn can_take(language: Language, folder: &Path, patience: Duration) -> bool {
    let Some((program, words)) = language.parse_only.split_first() else { return false };
    let Some(ending) = language.endings.first() else { return false };
    let name = format!("nothing.{ending}");
    let words = words.iter().map(|w| if w == "{}" { &name } else { w });
    std::fs::write(folder.join(&name), "\n").is_ok()
        && ended_well(Command::new(program).args(words), folder, patience) == Some(true)
}

/// The ending under which the parser takes a text. Modules say so by their first words, and are
/// another kind of script for some parsers.
fn ending(language: Language, text: &str) -> Option<String> {
    let of_modules = |l: &str| l.starts_with("import ") || l.starts_with("export ");
    let modules = language.module_ending.as_ref().filter(|_| text.lines().any(of_modules));
    modules.or_else(|| language.endings.first()).cloned()
}

fn ended_well(command: &mut Command, folder: &Path, patience: Duration) -> Option<bool> {
    command.current_dir(folder).stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    crate::command::apart(command, nix::sys::signal::Signal::SIGKILL);
    let mut running = command.spawn().ok()?;
    let begun = Instant::now();
    loop {
        match running.try_wait() {
            Ok(Some(status)) => return status.code().map(|code| code == 0),
            Ok(None) if begun.elapsed() < patience => std::thread::sleep(PACE),
            _ => {
                // It may have ended in between; there is nothing to be told about it then.
                let _ = running.kill();
                let _ = running.wait();
                return None;
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// What a parser says is asked here, not how fast it says it on a busy machine.
    const LONG: Duration = Duration::from_secs(120);

    #[test]
    fn the_languages_own_parsers_tell_good_scripts_from_broken_ones() {
        for (id, good, broken) in [
            ("python", "async def tie(rope):\n    await rope\n", "def tie(rope)\n    pass\n"),
            ("javascript", "import a from 'a';\nawait a;\n", "const a = [1, 2;\n"),
            ("javascript", "const a = require('a');\n", "function a( {\n"),
            ("lua", "local a <const> = 1\n", "if a then\n"),
            (
                "java",
                "public class Moor { record Rope(int length) {} }\n",
                "class Moor { int a }\n",
            ),
        ] {
            let language = Language::of_id(id).expect("it ships");
            assert_eq!(accepts_within(language, good, LONG), Some(true), "{id}: {good}");
            assert_eq!(accepts_within(language, broken, LONG), Some(false), "{id}: {broken}");
        }
    }

    #[test]
    fn a_parser_that_is_not_there_says_nothing() {
        let language = Language::of_id("kotlin").expect("it ships");
        assert_eq!(accepts(language, "fun main() {}"), None);
    }
}

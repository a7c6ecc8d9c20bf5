//! `izba help [TOPIC]`: the help of a command, or a page about what several commands share.

use super::say::print;
use super::shared::Outcome;
use crate::command_error::{CommandError, exit};
use crate::keymap::{Binding, Scope, bindings};
use crate::rooms::ROOMS;
use std::fmt::Write;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba help begin\n  izba help read\n  izba help notes add")]
pub struct Args {
    /// A command, or one of: begin, keys, filter, files, exit-codes
    topic: Vec<String>,
}

/// One page.
struct Topic {
    name: &'static str,
    says: &'static str,
    text: fn() -> String,
}

static TOPICS: &[Topic] = &[
    Topic {
        name: "begin",
        says: "how to watch your own program, of whatever kind",
        text: || include_str!("../../words/help/begin.txt").into(),
    },
    Topic { name: "keys", says: "every key, room by room", text: keys },
    Topic { name: "filter", says: "how to say which errors or lines are shown", text: filter },
    Topic {
        name: "files",
        says: "what Izba reads, and where it keeps what it watched",
        text: || include_str!("../../words/help/files.txt").into(),
    },
    Topic {
        name: "exit-codes",
        says: "how a script knows what came out",
        text: || include_str!("../../words/help/exit-codes.txt").into(),
    },
];

/// Prints the help of a command of `izba`, or a page.
pub fn run(args: &Args, izba: clap::Command) -> Outcome {
    print(&page(&args.topic, izba)?);
    Ok(exit::WELL)
}

pub(super) fn page(words: &[String], mut command: clap::Command) -> Result<String, CommandError> {
    if words.is_empty() {
        let mut text = command.render_long_help().to_string();
        text += "\nPages:\n";
        for topic in TOPICS {
            let _ = writeln!(text, "  izba help {:<11} {}", topic.name, topic.says);
        }
        return Ok(text);
    }
    if let ([word], Some(topic)) = (words, TOPICS.iter().find(|t| words[0] == t.name)) {
        debug_assert_eq!(word, topic.name);
        return Ok((topic.text)());
    }
    // Names of commands are set before their usage is written.
    command.build();
    let mut found = &mut command;
    for word in words {
        let known: Vec<String> = found.get_subcommands().map(|c| c.get_name().into()).collect();
        found = found.find_subcommand_mut(word).ok_or_else(|| {
            let near = known
                .iter()
                .map(String::as_str)
                .chain(TOPICS.iter().map(|t| t.name))
                .min_by_key(|name| izba_model::code::distance(name, word))
                .filter(|name| izba_model::code::distance(name, word) <= 2);
            let hint = match near {
                Some(near) => format!("did you mean izba help {near}?"),
                None => "izba help lists the commands and the pages".into(),
            };
            CommandError::wrong_use(format!("there is no command or page {word}"), hint)
        })?;
    }
    Ok(found.render_long_help().to_string())
}

/// Every key, those of everywhere first.
fn keys() -> String {
    let mut out = String::from("Keys\n");
    let mut group = |title: &str, scope: Scope| {
        let of: Vec<&Binding> = bindings().iter().filter(|b| b.scope == scope).collect();
        if !of.is_empty() {
            let _ = writeln!(out, "\n{title}");
        }
        for binding in of {
            let _ = writeln!(out, "  {:<10} {}", binding.keys.join(" "), binding.help);
        }
    };
    group("Everywhere", Scope::Everywhere);
    for kind in ROOMS {
        group(&format!("In room {}", kind.name), Scope::In(kind.room));
    }
    group("In the demo", Scope::Demo);
    out
}

/// How a filter is written, with all words that mean something in it.
fn filter() -> String {
    let mut out = include_str!("../../words/help/filter.txt").to_owned();
    for (word, means) in izba_core::filter::WORDS {
        let lines = izba_model::text::wrap(means, 64);
        for (at, line) in lines.iter().enumerate() {
            let _ = writeln!(out, "  {:<11} {line}", if at == 0 { word } else { "" });
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(words: &[&str]) -> Result<String, CommandError> {
        page(&words.iter().map(|w| (*w).to_owned()).collect::<Vec<_>>(), clap::Command::new("izba"))
    }

    #[test]
    fn every_page_is_told_of_and_fits_a_terminal() {
        let list = of(&[]).expect("the list");
        for topic in TOPICS {
            assert!(list.contains(&format!("izba help {}", topic.name)), "{}", topic.name);
            let text = of(&[topic.name]).expect("a page");
            let long = text.lines().find(|l| l.chars().count() > 100);
            assert_eq!(long, None, "{}", topic.name);
        }
        assert!(of(&["keys"]).expect("a page").contains("In room Lines"));
        assert!(of(&["filter"]).expect("a page").contains("overlooked"));
    }
}

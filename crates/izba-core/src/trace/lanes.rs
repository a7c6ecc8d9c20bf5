//! Several programs in one stream, each line with the name of its program before a bar, as tools print that run them
//! together: each program's lines are put together on their own.

use super::{Assembled, Assembler};
use crate::model::Millis;
use crate::project::Project;

/// More programs than this in one stream are read together.
const LANES: usize = 32;
/// A name is at most so long, in bytes.
const NAME: usize = 32;

/// One stream's lines on their way into entries, a lane for each program that names itself.
#[derive(Debug, Default)]
pub struct Lanes {
    plain: Assembler,
    named: Vec<(String, Assembler)>,
}

impl Lanes {
    /// Looks at the next line and hands entries that are now complete to `out`.
    pub fn line(&mut self, number: u64, time: Option<Millis>, text: &str, project: &Project, out: &mut impl FnMut(Assembled)) {
        let Some((name, rest)) = named(text) else { return self.plain.line(number, time, text, project, out) };
        let at = match self.named.iter().position(|(n, _)| n == name) {
            Some(at) => at,
            None if self.named.len() < LANES => {
                self.named.push((name.to_owned(), Assembler::default()));
                self.named.len() - 1
            }
            None => return self.plain.line(number, time, text, project, out),
        };
        self.named[at].1.line(number, time, rest, project, out);
    }

    /// Ends the stream: what is open is complete.
    pub fn finish(&mut self, project: &Project, out: &mut impl FnMut(Assembled)) {
        self.plain.finish(project, out);
        self.named.iter_mut().for_each(|(_, lane)| lane.finish(project, out));
    }

    /// When this stream's newest line arrived.
    pub fn newest(&self) -> Option<Millis> {
        self.all().filter_map(Assembler::newest).max()
    }

    /// The open entries as they would be if nothing followed.
    pub fn peek(&self) -> impl Iterator<Item = Assembled> {
        self.all().filter_map(Assembler::peek)
    }

    fn all(&self) -> impl Iterator<Item = &Assembler> {
        std::iter::once(&self.plain).chain(self.named.iter().map(|(_, lane)| lane))
    }
}

/// The name before the bar, and what stands behind it with its indentation.
fn named(text: &str) -> Option<(&str, &str)> {
    let bar = text.bytes().take(NAME + 4).position(|b| b == b'|')?;
    let name = text[..bar].trim_end();
    let word = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-' | '.');
    let plain = name.starts_with(|c: char| c.is_ascii_alphabetic()) && name.chars().all(word) && name.len() <= NAME;
    // A bar without a space before it, or a level as a name, is something else.
    if !plain || bar == name.len() || crate::model::Level::from_word(name).is_some() {
        return None;
    }
    let rest = &text[bar + 1..];
    Some((name, rest.strip_prefix(' ').unwrap_or(rest)))
}

#[cfg(test)]
mod tests {
    use super::named;

    #[test]
    fn names_before_bars_are_lanes_and_columns_are_not() {
        assert_eq!(named("bake  |   File \"x\""), Some(("bake", "  File \"x\"")));
        assert_eq!(named("lock-2  | "), Some(("lock-2", "")));
        for other in ["   0.940 | error | x", "error | x", "2026-11-23 06:00 | x", "a|b", "3 | code", "one two | three", "| x"] {
            assert_eq!(named(other), None, "{other}");
        }
    }
}

//! Several programs in one stream, each line with the name of its program before a bar, as tools
//! print that run them together: each program's lines are put together on their own. So are those
//! of threads whose traces are printed at the same time, while each line names its thread.

use super::{Assembled, Assembler};
use crate::dress::Fit;
use crate::read::Reading;
use crate::read::{may_matter, split_prefix};
use izba_model::Millis;

/// More programs than this in one stream are read together.
const LANES: usize = 32;
/// Lines of other threads between two of one exception.
const APART: u64 = 24;
/// A name is at most so long, in bytes.
const NAME: usize = 32;

/// One stream's lines on their way into entries, a lane for each program that names itself.
#[derive(Debug, Default)]
pub struct Lanes {
    plain: Assembler,
    /// The thread whose exception is open in `plain`, while its lines name it.
    thread: Option<String>,
    /// Exceptions of other threads that came meanwhile.
    threads: Vec<(String, Assembler)>,
    named: Vec<(String, Assembler)>,
    /// Whether the last of `threads` spoke last.
    aside: bool,
}

impl Lanes {
    /// Looks at the next line and hands entries that are now complete to `out`.
    pub fn line(
        &mut self,
        number: u64,
        time: Option<Millis>,
        text: &str,
        reading: Reading<'_>,
        out: &mut impl FnMut(Assembled),
    ) {
        let Some((name, rest)) = named(text) else {
            return self.threaded(number, time, text, reading, out);
        };
        let at = match self.named.iter().position(|(n, _)| n == name) {
            Some(at) => at,
            // A lane begins with the first line that may begin an entry: lines before it were
            // passed over, perhaps unseen.
            None if self.named.len() < LANES && may_matter(text, reading) => {
                self.named.push((name.to_owned(), Assembler::default()));
                self.named.len() - 1
            }
            None => return self.threaded(number, time, text, reading, out),
        };
        self.named[at].1.line(number, time, rest, reading, out);
    }

    /// A line of no named program: of the thread that is open, of another one, or of none.
    fn threaded(
        &mut self,
        number: u64,
        time: Option<Millis>,
        text: &str,
        reading: Reading<'_>,
        out: &mut impl FnMut(Assembled),
    ) {
        // What has waited for its next line too long is complete.
        let old = |lane: &Assembler| lane.last_line().is_some_and(|last| number > last + APART);
        let spoken = self.thread.is_some() || self.plain.fits("").is_some();
        if spoken && old(&self.plain) {
            self.plain.finish(reading, out);
            self.thread = None;
        }
        self.threads.retain_mut(|(_, lane)| {
            let over = old(lane) || lane.is_idle();
            if over {
                lane.finish(reading, out);
            }
            !over
        });
        let worn = |lane: &Assembler| lane.fits(text) == Some(Fit::Same(""));
        if let Some(at) = self.threads.iter().position(|(_, lane)| worn(lane)) {
            // The one who spoke last stands last.
            let mut lane = self.threads.swap_remove(at);
            lane.1.line(number, time, text, reading, out);
            self.threads.push(lane);
            self.aside = true;
            return;
        }
        match self.plain.fits(text) {
            Some(Fit::Other) => {
                return self.beside(String::new(), number, time, text, reading, out);
            }
            // What wears nothing is of the one who spoke last.
            Some(Fit::Not) => {
                if let Some((_, lane)) = self.threads.last_mut().filter(|_| self.aside) {
                    return lane.line(number, time, text, reading, out);
                }
            }
            Some(Fit::Same(_)) | None => {}
        }
        // What is set in bears no column.
        let columned =
            !text.starts_with([' ', '\t']) && (self.thread.is_some() || !self.threads.is_empty());
        let speaks = if columned { split_prefix(text).thread } else { None };
        if let Some(speaks) = &speaks
            && let Some((_, lane)) = self.threads.iter_mut().find(|(thread, _)| thread == speaks)
        {
            return lane.line(number, time, text, reading, out);
        }
        if let (Some(open), Some(speaks)) = (&self.thread, &speaks)
            && open != speaks
            && !self.plain.is_idle()
        {
            return self.beside(speaks.clone(), number, time, text, reading, out);
        }
        self.aside = false;
        let idle = self.plain.is_idle();
        self.plain.line(number, time, text, reading, out);
        // A step without the name of its thread shows that the trace stands in one piece.
        let begun = idle
            || self.plain.last_line() == Some(number) && self.plain.first_line() == Some(number);
        self.thread = self.plain.thread().filter(|_| begun || speaks.is_some()).map(str::to_owned);
    }

    /// A line of somebody who speaks while another one's entry is open.
    fn beside(
        &mut self,
        speaks: String,
        number: u64,
        time: Option<Millis>,
        text: &str,
        reading: Reading<'_>,
        out: &mut impl FnMut(Assembled),
    ) {
        let mut lane = Assembler::default();
        lane.line(number, time, text, reading, out);
        self.aside = !lane.is_idle() && self.threads.len() < LANES;
        if self.aside {
            self.threads.push((speaks, lane));
        } else {
            lane.finish(reading, out);
        }
    }

    /// Whether lines that may begin no entry can be passed over.
    pub fn is_idle(&self) -> bool {
        self.named.is_empty() && self.threads.is_empty() && self.plain.is_idle()
    }

    /// Notes the last of some lines that were passed over.
    pub fn pass(&mut self, number: u64, time: Option<Millis>, text: &str) {
        self.plain.pass(number, time, text);
    }

    /// Moves all numbers of lines down by `lines`.
    pub fn shift(&mut self, lines: u64) {
        self.plain.shift(lines);
        self.threads.iter_mut().for_each(|(_, lane)| lane.shift(lines));
        self.named.iter_mut().for_each(|(_, lane)| lane.shift(lines));
    }

    /// Ends the stream: what is open is complete.
    pub fn finish(&mut self, reading: Reading<'_>, out: &mut impl FnMut(Assembled)) {
        self.plain.finish(reading, out);
        self.thread = None;
        self.threads.drain(..).for_each(|(_, mut lane)| lane.finish(reading, out));
        self.named.iter_mut().for_each(|(_, lane)| lane.finish(reading, out));
    }

    /// When this stream's newest line arrived.
    pub fn newest(&self) -> Option<Millis> {
        self.all().filter_map(Assembler::newest).max()
    }

    /// Whether the line of this number was taken by an entry that is more than a ruler.
    pub fn took(&self, number: u64) -> bool {
        self.all().any(|lane| lane.took(number))
    }

    /// The open entries as they would be if nothing followed.
    pub fn peek(&self) -> impl Iterator<Item = Assembled> {
        self.all().filter_map(Assembler::peek)
    }

    fn all(&self) -> impl Iterator<Item = &Assembler> {
        std::iter::once(&self.plain)
            .chain(self.threads.iter().chain(&self.named).map(|(_, lane)| lane))
    }
}

/// The name before the bar, and what stands behind it with its indentation.
fn named(text: &str) -> Option<(&str, &str)> {
    let bar = text.bytes().take(NAME + 4).position(|b| b == b'|')?;
    let name = text[..bar].trim_end();
    let word = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-' | '.');
    let plain = name.starts_with(|c: char| c.is_ascii_alphabetic())
        && name.chars().all(word)
        && name.len() <= NAME;
    // A bar without a space before it, or a level as a name, is something else.
    if !plain || bar == name.len() || izba_model::Level::from_word(name).is_some() {
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
        for other in [
            "   0.940 | error | x",
            "error | x",
            "2026-11-23 06:00 | x",
            "a|b",
            "3 | code",
            "one two | three",
            "| x",
        ] {
            assert_eq!(named(other), None, "{other}");
        }
    }
}

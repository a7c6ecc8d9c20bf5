//! When the layouts of a source are looked for: at fixed lines, whatever the chunks, so that any
//! cut gives the same groups.

use izba_model::Millis;
use izba_model::Stream;

/// Lines of the first window after which layouts are looked for.
const FIRST: [u64; 3] = [16, 64, 256];
/// Lines of a later window, which begins at each power of four from 1,024 on: a source may change
/// its mind.
const LATER: u64 = 128;
/// Bytes of a line that are kept.
const KEPT: usize = 512;

/// A line kept to be read again.
#[derive(Debug, Clone)]
pub struct KeptLine {
    /// Its number in the source.
    pub number: u64,
    /// When it arrived, in milliseconds since 1970 (UTC).
    pub time: Option<Millis>,
    /// By which stream.
    pub stream: Stream,
    /// Its text, decoded, perhaps only the head of it.
    pub text: String,
}

/// The lines of one source that its layouts are found from.
#[derive(Debug, Default)]
pub struct Learner {
    /// Lines at hand, oldest first.
    pub kept: Vec<KeptLine>,
    /// Lines that were kept when layouts were looked for last.
    looked: usize,
    run_from: u64,
}

impl Learner {
    /// Begins anew with the line of this number.
    pub fn restart(&mut self, line: u64) {
        *self = Learner { run_from: line, ..Learner::default() };
    }

    /// Whether the line of this number is kept.
    pub fn keeps(&self, line: u64) -> bool {
        let at = line - self.run_from.min(line);
        at < FIRST[2] || later(at).is_some_and(|from| at < from + LATER)
    }

    /// How many lines there are before the next one at which something changes.
    pub fn until_change(&self, line: u64) -> u64 {
        let at = line - self.run_from.min(line);
        let next = FIRST
            .into_iter()
            .find(|n| *n > at)
            .or_else(|| later(at).map(|from| from + LATER).filter(|end| *end > at));
        let next = next.unwrap_or_else(|| {
            (5..).map(|power| 4u64.pow(power)).find(|n| *n > at).unwrap_or(u64::MAX)
        });
        next - at
    }

    /// Keeps a line until layouts are looked for, or cut to its first bytes.
    pub fn keep(&mut self, number: u64, time: Option<Millis>, stream: Stream, text: &str) {
        let at = number - self.run_from.min(number);
        if later(at) == Some(at) {
            self.kept.clear();
            self.looked = 0;
        }
        let end =
            (0..=text.len().min(KEPT)).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
        self.kept.push(KeptLine { number, time, stream, text: text[..end].to_owned() });
    }

    /// Whether the window at which layouts are looked for ends right before the line of this
    /// number.
    pub fn is_due(&self, line: u64) -> bool {
        let at = line - self.run_from.min(line);
        FIRST.contains(&at)
            || at > FIRST[2]
                && at >= LATER
                && later(at - LATER) == Some(at - LATER)
                && self.kept.len() as u64 == LATER
    }

    /// Whether lines were kept since layouts were looked for last; they are looked for now.
    pub fn look(&mut self) -> bool {
        std::mem::replace(&mut self.looked, self.kept.len()) < self.kept.len()
    }

    /// Whether the kept lines are the first ones, from which all layouts are found anew.
    pub fn is_first(&self) -> bool {
        self.kept.first().is_some_and(|k| k.number - self.run_from.min(k.number) < FIRST[2])
    }
}

/// The beginning of the later window that is the last one at or before line `at`.
fn later(at: u64) -> Option<u64> {
    (5..).map(|power| 4u64.pow(power)).take_while(|n| *n <= at).last()
}

//! Notices in a file that goes on growing that the program which writes it was started anew: the
//! lines with which the file began come again.

/// Lines that have to come again, one right after the other.
const LINES: usize = 2;
/// Lines that a run has at least; what comes again sooner is what the program says all the time.
const LEAST: u64 = 5;
/// Bytes of a line that are compared.
const HEAD: usize = 160;

/// What a file began with, and how far it goes since.
#[derive(Debug, Default)]
pub(crate) struct Starts {
    first: Vec<Vec<u8>>,
    since: u64,
    /// They came again too soon: they are no start.
    ordinary: bool,
    /// What comes next is the rest of a line whose beginning was taken already.
    middle: bool,
}

impl Starts {
    /// Looks at what came; where in `text` runs begin, and how much of it can be taken: a last line
    /// that may be a beginning waits for the next, and half a line for its end.
    pub(crate) fn look(&mut self, text: &[u8]) -> (Vec<usize>, usize) {
        let (mut found, mut at) = (Vec::new(), 0);
        while let Some(end) = memchr::memchr(b'\n', &text[at..]).map(|n| at + n + 1) {
            let line = masked(&text[at..end]);
            if std::mem::take(&mut self.middle) {
                at = end;
                continue;
            }
            if self.first.len() < LINES {
                self.first.push(line);
            } else if !self.ordinary && line == self.first[0] {
                let Some(next) = memchr::memchr(b'\n', &text[end..]).map(|n| end + n + 1) else {
                    return (found, at);
                };
                if masked(&text[end..next]) == self.first[1] {
                    if self.since < LEAST {
                        self.ordinary = true;
                    } else {
                        found.push(at);
                        self.since = 0;
                    }
                }
            }
            self.since += 1;
            at = end;
        }
        if at == 0 && !text.is_empty() {
            // There is nothing but half a line: a question, perhaps.
            self.middle = true;
            at = text.len();
        }
        (found, at)
    }

    /// The line that waited is taken as it stands.
    pub(crate) fn give_up(&mut self) {
        self.since += 1;
    }
}

/// A line with its numbers taken out: a start bears another time and process.
fn masked(line: &[u8]) -> Vec<u8> {
    let head = &line[..line.len().min(HEAD)];
    let mut out: Vec<u8> = Vec::with_capacity(head.len());
    for byte in head.iter().copied().filter(|b| *b != b'\r') {
        match byte {
            b'0'..=b'9' if out.last() == Some(&b'0') => {}
            b'0'..=b'9' => out.push(b'0'),
            other => out.push(other),
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::Starts;

    #[test]
    fn a_start_is_noticed_when_the_first_lines_come_again_and_not_what_is_said_all_the_time() {
        let run = |pid: u32| {
            format!(
                "20:00:0{} marsh engine 1.4 as {pid}\n20:00:01 loads scene\n{}",
                pid % 10,
                "tick\n".repeat(9)
            )
        };
        let mut starts = Starts::default();
        let both = format!("{}{}", run(412), run(977));
        assert_eq!(starts.look(both.as_bytes()), (vec![run(412).len()], both.len()));
        // The first line of a third run alone may be anything; it waits.
        let third = run(12);
        let (head, rest) = third.split_at(third.find('\n').expect("lines") + 1);
        assert_eq!(starts.look(head.as_bytes()), (vec![], 0));
        assert_eq!(starts.look(format!("{head}{rest}").as_bytes()), (vec![0], third.len()));
        let mut ticks = Starts::default();
        let text = "tick 1\ntock 2\n".repeat(50);
        assert_eq!(ticks.look(text.as_bytes()), (vec![], text.len()));
    }
}

//! The pieces of one file, and the text without some of them.

use std::sync::Arc;

/// A statement, a member of a type, a branch, or an entry of a list or table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Piece {
    /// The piece that it stands in.
    pub parent: Option<usize>,
    /// Bytes of the file, half open.
    pub span: (usize, usize),
    /// First and last line, from 1.
    pub lines: (u32, u32),
}

/// Pieces that stand beside one another.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Group {
    /// Which pieces.
    pub items: Vec<usize>,
    /// Bytes at which a comma stands, each behind the item of the same number; the last may be
    /// missing.
    pub commas: Vec<usize>,
    /// What has to stand there when none of them is left.
    pub if_empty: Option<&'static str>,
}

/// One file in pieces. Parents come before their parts.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Pieces {
    /// Path relative to the project.
    pub path: Arc<str>,
    /// The whole text.
    pub text: Arc<str>,
    /// The pieces.
    pub pieces: Vec<Piece>,
    /// Which of them stand beside one another.
    pub groups: Vec<Group>,
}

impl Pieces {
    /// The innermost piece that holds a byte of the file.
    pub fn at(&self, byte: usize) -> Option<usize> {
        // Parts stand behind what holds them.
        self.pieces.iter().rposition(|p| p.span.0 <= byte && byte < p.span.1)
    }

    /// The smallest piece that holds a line, from 1.
    pub fn on_line(&self, line: u32) -> Option<usize> {
        let holding =
            self.pieces.iter().enumerate().filter(|(_, p)| p.lines.0 <= line && line <= p.lines.1);
        holding.min_by_key(|(_, p)| p.span.1 - p.span.0).map(|(at, _)| at)
    }

    /// Whether a piece lies in another one.
    pub fn is_within(&self, piece: usize, other: usize) -> bool {
        std::iter::successors(self.pieces[piece].parent, |p| self.pieces[*p].parent)
            .any(|p| p == other)
    }

    /// The text without the pieces that are `gone`: blanks in their place, so that all that is left
    /// keeps its line and column.
    pub fn without(&self, gone: &[bool]) -> String {
        let mut bytes = self.text.as_bytes().to_vec();
        for (at, piece) in self.pieces.iter().enumerate() {
            if gone.get(at).copied().unwrap_or(false) {
                blank(&mut bytes, piece.span);
            }
        }
        let is_gone = |item: &usize| gone.get(*item).copied().unwrap_or(false);
        for group in &self.groups {
            let kept: Vec<bool> = group.items.iter().map(|i| !is_gone(i)).collect();
            for (at, comma) in group.commas.iter().enumerate() {
                let before = kept.iter().take(at + 1).any(|k| *k);
                // Between two a comma has to stand, behind the last one it need not.
                let needed = before && kept.get(at + 1).copied().unwrap_or(false);
                if !needed && bytes.get(*comma) == Some(&b',') {
                    bytes[*comma] = b' ';
                }
            }
            let owner_gone = group
                .items
                .first()
                .and_then(|i| self.pieces[*i].parent)
                .is_some_and(|p| is_gone(&p));
            if let (Some(word), Some(first), false) =
                (group.if_empty, group.items.first(), owner_gone)
                && !kept.iter().any(|k| *k)
            {
                let (from, to) = self.pieces[*first].span;
                // A statement shorter than the word leaves room behind it, or keeps what it was.
                let end = from + word.len();
                if end <= to || bytes.get(to..end).is_some_and(|b| b.iter().all(|c| *c == b' ')) {
                    bytes[from..end].copy_from_slice(word.as_bytes());
                } else {
                    bytes[from..to].copy_from_slice(&self.text.as_bytes()[from..to]);
                }
            }
        }
        // Blanks stand for whole characters, and only for bytes of ours.
        String::from_utf8(bytes)
            .unwrap_or_else(|e| String::from_utf8_lossy(e.as_bytes()).into_owned())
    }

    /// A line of what is left, as people read it: what was left out within it is a gap of one
    /// blank. `was` is the whole line.
    pub fn shown(line: &str, was: &str) -> String {
        if line.trim_end() == was.trim_end() {
            return line.trim_end().to_owned();
        }
        let code = line.trim_start();
        let indent = &line[..line.len() - code.len()];
        let mut shown = String::from(indent);
        for part in code.split("  ").map(str::trim).filter(|p| !p.is_empty()) {
            if shown.len() > indent.len() && !part.starts_with([',', ';', ')']) {
                shown.push(' ');
            }
            shown.push_str(part);
        }
        shown
    }

    /// Lines, from 1, that still say something: not empty, and not only a comment or what was put
    /// in place of a piece.
    pub fn telling(&self, text: &str) -> Vec<u32> {
        let comment = ["--", "//", "#", "/*", "*"];
        let says = |line: &str| {
            let line = line.trim();
            !line.is_empty()
                && line != ","
                && line != ";"
                && !comment.iter().any(|c| line.starts_with(c))
                && line != "pass"
        };
        text.lines().zip(1..).filter(|(line, _)| says(line)).map(|(_, number)| number).collect()
    }
}

fn blank(bytes: &mut [u8], (from, to): (usize, usize)) {
    let to = to.min(bytes.len());
    for byte in bytes.get_mut(from..to).unwrap_or_default() {
        if *byte != b'\n' && *byte != b'\r' {
            *byte = b' ';
        }
    }
}

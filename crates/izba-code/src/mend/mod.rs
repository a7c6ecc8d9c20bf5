//! What does not parse, and which repair of one sign or word lets the rest be read.
//!
//! Repairs are tried wherever brackets, block words, quotes and indentation disagree and round the
//! place where the parser gave up. Each is judged twice: cheaply by how well blocks and indentation
//! agree afterwards ([`crate::signs::unrest`]), and, for the best of them, by the grammar. The
//! model of the mark is a sum of costs; the lowest wins: what the grammar still refuses, unrest
//! that is left, how unusual such a slip is, how far it lies from the place noticed.

mod tries;

use crate::lang::with_parser;
use crate::signs::{Token, tokens, unrest};
use crate::work::Work;
use izba_model::claim::Piece;
use izba_model::code::{Language, SyntaxFault};
use izba_model::{say, sayings};
use tree_sitter::Node;
use tries::Try;

sayings! {
    "mod", Syntax, "../../words/mend.toml";
    UNMENDED = "unmended",
}

/// At most this many repairs are held against the indentation.
const WEIGHED: usize = 700;
/// At most this many repairs are given to the grammar for one fault.
const PARSED: usize = 48;
/// In a file of fewer lines than this, its end is near all of them.
const SHORT: u32 = 30;
/// A repair that costs this much more than one that works is not looked at.
const CLOSE: f32 = 0.5;
/// At most this many faults of one file are told.
const FAULTS: usize = 8;

/// A place that the console named.
#[derive(Debug, Clone, Default)]
pub struct Noticed {
    /// Line, from 1.
    pub line: u32,
    /// Line of the opener that it says is not closed.
    pub opener: Option<u32>,
    /// The sign or word that it says it met.
    pub near: Option<String>,
}

/// The language's own parser: whether it takes a script; `None` where that cannot be told.
pub type Accepts<'p> = dyn Fn(Language, &str) -> Option<bool> + Sync + 'p;

/// Where no parser but the grammar here is asked.
pub fn by_grammar(_: Language, _: &str) -> Option<bool> {
    None
}

/// All faults of a script, first one first; after the best repair of each, reading goes on. A
/// script that its language's own parser takes has none, and no repair is offered that it refuses.
///
/// `noticed` is where a compiler or runtime gave up; it weighs for the first fault only.
pub fn faults(
    language: Language,
    text: &str,
    noticed: Option<Noticed>,
    accepts: &Accepts<'_>,
) -> Vec<SyntaxFault> {
    // Where the console told of it, the parser has been asked already.
    if !language.is_code() || noticed.is_none() && accepts(language, text) == Some(true) {
        return Vec::new();
    }
    let mut text = crate::code_of(language, text).into_owned();
    let mut found: Vec<SyntaxFault> = Vec::new();
    let work = Work::mending();
    // Lines that repairs put in: behind which line, and how many. What is found later is told by
    // the lines of the file as it is.
    let mut put_in: Vec<(u32, u32)> = Vec::new();
    let mut done: Vec<Piece> = Vec::new();
    for round in 0..FAULTS {
        let noticed = noticed.as_ref().filter(|_| round == 0);
        if work.is_done() {
            break;
        }
        let Some(parsed) = Parsed::new(language, &text, &work) else { break };
        let Trouble { first, weight } = parsed.trouble();
        if weight == 0 && noticed.is_none() {
            break;
        }
        let Some((mut fault, mended)) =
            best(&parsed, &text, noticed, (first, weight), (accepts, &work))
        else {
            if weight > 0 {
                let mut fault = unmended(&text, noticed.map_or(first, |n| n.line));
                as_written(&mut fault, &put_in);
                found.push(fault);
            }
            break;
        };
        let more = mended.matches('\n').count().saturating_sub(text.matches('\n').count()) as u32;
        let behind =
            text.as_bytes().iter().take(fault.at).filter(|b| **b == b'\n').count() as u32 + 1;
        as_written(&mut fault, &put_in);
        let made = fault.piece.take();
        fault.piece = made.clone().and_then(|piece| as_in_file(piece, &done));
        done.extend(made);
        if more > 0 {
            put_in.push((behind, more));
        }
        found.push(fault);
        if mended == text {
            break;
        }
        text = mended;
    }
    found
}

/// Takes the lines that repairs put in out of the places of a fault.
fn as_written(fault: &mut SyntaxFault, put_in: &[(u32, u32)]) {
    let back = |line: &mut u32| {
        for (behind, more) in put_in.iter().rev() {
            *line -= line.saturating_sub(*behind).min(*more);
        }
    };
    [&mut fault.line, &mut fault.to_line, &mut fault.noticed].into_iter().for_each(back);
    fault.seen.iter_mut().for_each(|(line, _)| back(line));
    fault.others.iter_mut().for_each(|(line, ..)| back(line));
}

/// A piece of a text in which others were done before it, in order, as a piece of the file as it is;
/// `None` where it touches what they put in.
fn as_in_file(mut piece: Piece, done: &[Piece]) -> Option<Piece> {
    for before in done.iter().rev() {
        let end = before.at + before.insert.len();
        if piece.at >= end {
            piece.at = piece.at - before.insert.len() + before.remove;
        } else if piece.at + piece.remove > before.at || piece.at > before.at {
            return None;
        }
    }
    Some(piece)
}

fn unmended(text: &str, line: u32) -> SyntaxFault {
    let at = text.lines().take(line.saturating_sub(1) as usize).map(|l| l.len() + 1).sum();
    SyntaxFault {
        line,
        to_line: line,
        at,
        piece: None,
        what: say!(UNMENDED),
        seen: Vec::new(),
        confidence: 0.2,
        mended: None,
        others: Vec::new(),
        noticed: line,
    }
}

/// Where the grammar first stumbles, and how much of the text it does not understand.
struct Trouble {
    first: u32,
    weight: usize,
}

/// A text with the grammar's tree of it, from which the trees of texts nearly the same are made.
struct Parsed {
    language: Language,
    tree: tree_sitter::Tree,
}

impl Parsed {
    fn new(language: Language, text: &str, work: &Work) -> Option<Parsed> {
        let tree = with_parser(language, |parser| parser.parse(text, None, work))??;
        Some(Parsed { language, tree })
    }

    fn trouble(&self) -> Trouble {
        measure(self.tree.root_node())
    }

    /// What is left after one repair of `text`, of which this is the tree.
    fn trouble_after(&self, text: &str, attempt: &Try, work: &Work) -> Trouble {
        let mended = attempt.apply(text);
        let point = |text: &str, at: usize| {
            let row = text.as_bytes()[..at].iter().filter(|b| **b == b'\n').count();
            tree_sitter::Point::new(row, at - text[..at].rfind('\n').map_or(0, |n| n + 1))
        };
        let (old_end, new_end) = (attempt.at + attempt.remove, attempt.at + attempt.insert.len());
        let mut tree = self.tree.clone();
        tree.edit(&tree_sitter::InputEdit {
            start_byte: attempt.at,
            old_end_byte: old_end,
            new_end_byte: new_end,
            start_position: point(text, attempt.at),
            old_end_position: point(text, old_end),
            new_end_position: point(&mended, new_end),
        });
        let parsed =
            with_parser(self.language, |parser| parser.parse(&mended, Some(&tree), work)).flatten();
        parsed.map_or(Trouble { first: 1, weight: usize::MAX }, |t| measure(t.root_node()))
    }
}

fn measure(root: Node<'_>) -> Trouble {
    let mut trouble = Trouble { first: u32::MAX, weight: 0 };
    if !root.has_error() {
        return trouble;
    }
    let mut open = vec![root];
    while let Some(node) = open.pop() {
        if node.is_error() || node.is_missing() {
            trouble.first = trouble.first.min(node.start_position().row as u32 + 1);
            // What is skipped weighs by its length, so that a small remainder is better than half
            // the file.
            trouble.weight += 4 + node.byte_range().len().min(4000) / 20;
            if node.is_missing() {
                continue;
            }
        }
        if node.has_error() {
            let mut cursor = node.walk();
            open.extend(
                node.children(&mut cursor)
                    .filter(|c| c.has_error() || c.is_error() || c.is_missing()),
            );
        }
    }
    // The grammar may say that something is wrong and show no place for it.
    if trouble.weight == 0 {
        trouble = Trouble { first: 1, weight: 1 };
    }
    trouble
}

/// The unrest of the text after a repair: only the lines that it touches are read anew, unless it
/// is about quotes or brackets that may begin a long text.
fn unrest_after(language: Language, text: &str, read: &[Token<'_>], attempt: &Try) -> f32 {
    let plain = !attempt.insert.contains(['"', '\'', '`', '[', ']', '/', '*', '-', '#'])
        && !text[attempt.at..].starts_with(['[', ']']);
    let from = text[..attempt.at].rfind('\n').map_or(0, |n| n + 1);
    let to = text[attempt.at + attempt.remove..]
        .find('\n')
        .map_or(text.len(), |n| attempt.at + attempt.remove + n);
    let (head, tail) =
        (read.partition_point(|t| t.start < from), read.partition_point(|t| t.start < to));
    // A text over several lines may be cut by the borders.
    let crosses = |at: usize| at > 0 && read[at - 1].text.contains('\n');
    // So may a comment: what stands on the lines has to be tokens of theirs.
    let bare = tail == head && attempt.remove == 0;
    if !plain || crosses(head) || crosses(tail) || bare {
        let mended = attempt.apply(text);
        return unrest(language, &tokens(language, &mended));
    }
    let lines = Try { at: attempt.at - from, ..attempt.clone() }.apply(&text[from..to]);
    let before = read[head].line - 1;
    let more = lines.matches('\n').count() as u32;
    let mut all: Vec<Token<'_>> = Vec::with_capacity(read.len() + 4);
    all.extend_from_slice(&read[..head]);
    let blank = text[from..read[head].start].matches('\n').count() as u32;
    all.extend(
        tokens(language, &lines).into_iter().map(|t| Token { line: t.line + before - blank, ..t }),
    );
    all.extend(read[tail..].iter().map(|t| Token { line: t.line + more, ..*t }));
    unrest(language, &all)
}

/// At most this many repairs are shown to the language's own parser.
const ASKED: usize = 4;

/// Leaves out the likeliest repairs that the language's own parser refuses, up to the first that it
/// takes. Where it takes none of them, it may know another dialect, and all stay; that is told.
fn leave_out_refused(
    judged: &mut Vec<(f32, usize, Try)>,
    language: Language,
    text: &str,
    accepts: &Accepts<'_>,
) -> bool {
    let whole = judged.iter().take(ASKED).take_while(|(_, left, _)| *left == 0).count();
    for at in 0..whole {
        match accepts(language, &judged[at].2.apply(text)) {
            Some(true) => {
                judged.drain(..at);
                return true;
            }
            Some(false) => {}
            None => return true,
        }
    }
    whole == 0
}

fn best(
    parsed: &Parsed,
    text: &str,
    noticed: Option<&Noticed>,
    (first, weight): (u32, usize),
    (accepts, work): (&Accepts<'_>, &Work),
) -> Option<(SyntaxFault, String)> {
    let language = parsed.language;
    let read = tokens(language, text);
    let before = unrest(language, &read);
    let look = tries::Look {
        language,
        text,
        tokens: &read,
        noticed: noticed.map(|n| n.line),
        opener: noticed.and_then(|n| n.opener),
        near: noticed.and_then(|n| n.near.clone()),
        stumbles: (first != u32::MAX).then_some(first),
    };
    // Where the text ends before it should, the place says nothing.
    let last = read.last().map_or(1, |t| t.line);
    let near: Vec<u32> = noticed
        .map(|n| n.line)
        .into_iter()
        .chain(look.stumbles)
        .filter(|line| *line < last || last < SHORT)
        .collect();
    let far = |line: u32| near.iter().map(|n| n.abs_diff(line)).min().unwrap_or(0);
    // What lies near and is usual comes first; what is neither is not worth the time where there is
    // much of it.
    let mut all = tries::all(&look);
    all.sort_by(|a, b| {
        (a.cost + far(a.line).min(100) as f32 * 0.002)
            .total_cmp(&(b.cost + far(b.line).min(100) as f32 * 0.002))
    });
    all.truncate(WEIGHED);
    let mut marked: Vec<(f32, Try)> = all
        .into_iter()
        .take_while(|_| !work.is_done())
        .map(|t| {
            let after = unrest_after(language, text, &read, &t);
            let mark = (after - before) * 1.0 + t.cost + (far(t.line) as f32).min(200.0) * 0.006;
            (mark, t)
        })
        .collect();
    marked.sort_by(|a, b| a.0.total_cmp(&b.0));
    marked
        .dedup_by(|a, b| a.1.at == b.1.at && a.1.insert == b.1.insert && a.1.remove == b.1.remove);
    marked.truncate(PARSED);
    let mut judged: Vec<(f32, usize, Try)> = Vec::new();
    // Once one lets all be read, only what is nearly as likely is worth a look.
    let mut enough = f32::MAX;
    for (mark, attempt) in marked {
        if mark > enough || work.is_done() {
            break;
        }
        let left = parsed.trouble_after(text, &attempt, work).weight;
        // What the console refused and the grammar never did cannot be told by the grammar.
        if left < weight || weight == 0 {
            if left == 0 {
                enough = enough.min(mark + CLOSE);
            }
            judged.push((mark + (left.min(4000) as f32) * 0.25, left, attempt));
        }
    }
    judged.sort_by(|a, b| a.0.total_cmp(&b.0));
    let taken = leave_out_refused(&mut judged, language, text, accepts);
    let (mark, left, winner) = judged.first().cloned()?;
    let rivals: Vec<&(f32, usize, Try)> =
        judged.iter().skip(1).filter(|(_, _, t)| t.line != winner.line).collect();
    // Of two closers in neighbouring lines either is right.
    let gap = rivals
        .iter()
        .find(|(_, _, t)| t.line.abs_diff(winner.line) > 1)
        .map_or(3.0, |r| (r.0 - mark).clamp(0.0, 3.0));
    let confidence = if left == 0 { 0.45 + 0.17 * gap } else { 0.25 + 0.08 * gap };
    let mended = winner.apply(text);
    // What goes on a line of its own is told by itself.
    let line_after = match winner.insert.strip_prefix('\n') {
        Some(own) => Some(own.to_owned()),
        None => mended
            .lines()
            .nth(winner.line as usize - 1)
            .map(str::to_owned)
            .filter(|l| !l.trim().is_empty()),
    };
    let fault = SyntaxFault {
        line: winner.line,
        to_line: winner.to_line,
        at: winner.at,
        // What the language's own parser refuses is told, and not offered to be done.
        piece: taken.then(|| Piece {
            at: winner.at,
            remove: winner.remove.min(text.len() - winner.at.min(text.len())),
            insert: winner.insert.clone(),
        }),
        what: winner.what.clone(),
        seen: winner.seen.clone(),
        confidence: confidence.min(0.95),
        mended: line_after,
        others: rivals
            .iter()
            .take(6)
            .map(|r| {
                (r.2.line, r.2.what.clone(), (confidence - 0.1 * (r.0 - mark)).clamp(0.05, 0.9))
            })
            .collect(),
        noticed: noticed.map_or(if first == u32::MAX { winner.line } else { first }, |n| n.line),
    };
    Some((fault, mended))
}

#[cfg(test)]
mod tests;

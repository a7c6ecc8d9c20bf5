//! Finds the columns that the lines of a source have, from the lines alone: what stands in every
//! line at the same spot is a sign between columns, what changes is a column, and what a column is
//! its values tell. No format is known by name.

use super::words::{is_time, levels, role};
use super::{Layout, Origin, Part, Piece, Template};
use izba_model::Level;
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// Fewer lines of a kind say nothing.
const FEWEST: usize = 6;
/// Of so many lines one may differ.
const ONE_IN: usize = 10;
/// Columns before the sentence.
const COLUMNS: usize = 12;
/// Bytes of a line that are looked at for columns.
const HEAD: usize = 240;

/// The layouts of these lines, the most frequent first. Lines of other kinds between them do no
/// harm.
pub fn infer(lines: &[&str]) -> Vec<Layout> {
    let mut kinds: HashMap<String, Vec<&str>> = HashMap::new();
    // Seconds may be set in so that they end at the same column; words that are set in are steps.
    let flush = |l: &&'_ str| -> bool {
        !l.is_empty()
            && (!l.starts_with([' ', '\t', '{'])
                || l.trim_start().starts_with(|c: char| c.is_ascii_digit()))
    };
    for line in lines.iter().filter(|l| flush(l)).map(|l| l.trim_start()) {
        kinds.entry(kind(line)).or_default().push(line);
    }
    let mut kinds: Vec<(String, Vec<&str>)> =
        kinds.into_iter().filter(|(_, lines)| lines.len() >= FEWEST).collect();
    kinds.sort_by(|a, b| b.1.len().cmp(&a.1.len()).then(a.0.cmp(&b.0)));
    kinds
        .iter()
        .filter(|(_, of)| of.len() * 12 >= lines.len())
        .filter_map(|(_, lines)| layout_of(lines))
        .collect()
}

/// What lines of one layout begin with alike: the shape of the first word.
fn kind(line: &str) -> String {
    let mut shape = String::new();
    for c in line.chars().take(48) {
        let sign = match c {
            c if c.is_whitespace() => break,
            c if c.is_ascii_digit() => '0',
            c if c.is_alphabetic() => 'a',
            c => c,
        };
        // A name may be of one word or several.
        if shape.ends_with('a') && matches!(sign, '.' | '_' | '-' | '/') {
            continue;
        }
        if !shape.ends_with(sign) || !sign.is_alphanumeric() {
            shape.push(sign);
        }
        if matches!(sign, '|' | ';') || shape.len() > 24 {
            break;
        }
    }
    // A line that begins with a word or a level in brackets may begin with any word.
    if shape.chars().all(|c| matches!(c, 'a' | ':' | '[' | ']' | '(' | ')' | '<' | '>')) {
        shape.trim_end_matches(':').to_owned()
    } else {
        shape
    }
}

fn layout_of(lines: &[&str]) -> Option<Layout> {
    let rest: Vec<&str> = lines.iter().map(|l| head(l)).collect();
    let mut found = Found {
        pieces: Vec::new(),
        levels: BTreeMap::new(),
        used: BTreeSet::new(),
        whole: lines,
        weak_time: false,
        weak_level: false,
    };
    let kept: Vec<usize> = (0..lines.len()).collect();
    found.columns(rest, kept);
    // Numbers that only may be levels, or seconds, are so beside a column that is surely one.
    let (timed, levelled) = (found.used.contains(&Part::Time), found.used.contains(&Part::Level));
    if (found.weak_time || !timed) && (found.weak_level || !levelled) {
        return None;
    }
    found.pieces.push(Piece::Part(Part::Message));
    let template = Template { pieces: joined(found.pieces) };
    let layout =
        Layout::new(template, found.levels, None, Origin::Inferred { lines: lines.len() }).ok()?;
    let fitting = lines.iter().filter(|l| layout.prefix(l).is_some()).count();
    (fitting * ONE_IN >= lines.len() * (ONE_IN - 2)).then_some(layout)
}

fn head(line: &str) -> &str {
    let end = (0..=line.len().min(HEAD)).rev().find(|at| line.is_char_boundary(*at)).unwrap_or(0);
    &line[..end]
}

/// Stretches of text that came to stand side by side are one, with single spaces; two parts that
/// did have one between them.
fn joined(pieces: Vec<Piece>) -> Vec<Piece> {
    let single = |piece: Piece| match piece {
        Piece::Text(text) => {
            let mut out = String::new();
            for c in text.chars() {
                match c {
                    '\t' => {
                        out.truncate(out.trim_end().len());
                        out.push('\t');
                    }
                    ' ' if out.ends_with([' ', '\t']) => {}
                    c => out.push(c),
                }
            }
            Piece::Text(out)
        }
        part => part,
    };
    let mut pieces: Vec<Piece> = merged(pieces).into_iter().map(single).collect();
    // White space before the first column says nothing.
    if let Some(Piece::Text(first)) = pieces.first_mut() {
        *first = first.trim_start().to_owned();
        if first.is_empty() {
            pieces.remove(0);
        }
    }
    pieces
}

fn merged(pieces: Vec<Piece>) -> Vec<Piece> {
    let mut out: Vec<Piece> = Vec::new();
    for piece in pieces {
        match (out.last_mut(), piece) {
            (Some(Piece::Text(before)), Piece::Text(text)) => before.push_str(&text),
            (Some(Piece::Part(_)), Piece::Part(part)) => {
                out.push(Piece::Text(" ".into()));
                out.push(Piece::Part(part));
            }
            (_, piece) => out.push(piece),
        }
    }
    out
}

struct Found<'a> {
    pieces: Vec<Piece>,
    levels: BTreeMap<String, Level>,
    used: BTreeSet<Part>,
    whole: &'a [&'a str],
    /// Whether the time is a lone number.
    weak_time: bool,
    /// Whether the level is told by no word.
    weak_level: bool,
}

/// One column of all lines that go on: what stands before it, its values, what stands behind it,
/// and the rest of each line.
struct Step<'a> {
    before: String,
    values: Vec<&'a str>,
    after: String,
    rest: Vec<&'a str>,
    kept: Vec<usize>,
    /// Whether signs on both sides or behind it make it a column, whatever it holds.
    set_off: bool,
}

impl<'a> Found<'a> {
    /// Takes columns off the front of the lines until what is left are sentences.
    fn columns(&mut self, mut rest: Vec<&'a str>, mut kept: Vec<usize>) {
        // What was taken since the last column that is surely one: it may be the beginning of the
        // sentence after all.
        let mut pending: Vec<Piece> = Vec::new();
        let mut unsure = 0;
        for _ in 0..COLUMNS {
            let Some(step) = next_column(&rest, &kept)
                .filter(|s| s.kept.len() * ONE_IN >= self.whole.len() * (ONE_IN - 1))
            else {
                break;
            };
            let sentences: Vec<&str> = step.kept.iter().map(|at| self.whole[*at]).collect();
            let before = self.pieces.len();
            let sure = self.take(&step, &sentences);
            let taken = self.pieces.split_off(before);
            (rest, kept) = (step.rest, step.kept);
            match sure {
                Some(true) => {
                    self.pieces.append(&mut pending);
                    self.pieces.extend(taken);
                    unsure = 0;
                }
                Some(false) if unsure < 2 => {
                    pending.extend(taken);
                    unsure += 1;
                }
                _ => break,
            }
        }
    }

    /// Names one column; whether it is surely one, or `None` when it is part of a sentence.
    fn take(&mut self, step: &Step<'_>, sentences: &[&str]) -> Option<bool> {
        let (front, back) = shared(&step.values);
        let inner: Vec<&str> =
            step.values.iter().map(|v| &v[front.len()..v.len() - back.len()]).collect();
        let constant = step.values.iter().all(|v| *v == step.values[0]);
        let text = |pieces: &mut Vec<Piece>, words: &str| {
            if !words.is_empty() {
                pieces.push(Piece::Text(words.to_owned()));
            }
        };
        let timed = self.used.contains(&Part::Time);
        let clock_follows = matches!(self.pieces.last(), Some(Piece::Text(t)) if t.trim().is_empty())
            && matches!(self.pieces.iter().rev().nth(1), Some(Piece::Part(Part::Time)));
        if (!timed || clock_follows && step.before.trim().is_empty())
            && is_time(&step.values)
            && step.values.iter().any(|v| v.bytes().any(|b| b.is_ascii_digit()))
        {
            if clock_follows {
                // Date and time of day are one moment, which the part takes as a whole.
                self.pieces.truncate(self.pieces.len() - 2);
            } else {
                text(&mut self.pieces, &step.before);
            }
            self.pieces.push(Piece::Part(Part::Time));
            text(&mut self.pieces, &step.after);
            self.used.insert(Part::Time);
            self.weak_time = step.values.iter().all(|v| v.bytes().all(|b| b.is_ascii_digit()));
            return Some(true);
        }
        let found = if self.used.contains(&Part::Level) { None } else { levels(&inner, sentences) };
        // The first words of plain sentences are no column, whatever they come with.
        let blank = |text: &str| text.chars().all(|c| c.is_whitespace() || c.is_alphanumeric());
        let worded = |piece: &Piece| match piece {
            Piece::Text(text) => blank(text),
            Piece::Part(part) => matches!(part, Part::Name | Part::Other),
        };
        let bare = self.pieces.iter().all(worded)
            && [&*step.before, &*step.after, front, back].into_iter().all(blank);
        let plain = |levels: &BTreeMap<String, Level>| {
            bare && 2 * levels.keys().filter(|w| Level::from_word(w).is_some()).count()
                <= levels.len()
        };
        if let Some(levels) = found.filter(|levels| !plain(levels)) {
            text(&mut self.pieces, &step.before);
            text(&mut self.pieces, front);
            self.pieces.push(Piece::Part(Part::Level));
            text(&mut self.pieces, back);
            text(&mut self.pieces, &step.after);
            self.weak_level = !levels.keys().any(|w| w.chars().all(char::is_alphabetic));
            self.levels = levels;
            self.used.insert(Part::Level);
            return Some(true);
        }
        if constant
            && !step.set_off
            && !step.values[0].bytes().any(|b| b.is_ascii_digit())
            && step.values[0].len() < 24
        {
            // The same word in each line stands for itself, or begins the same sentence.
            text(&mut self.pieces, &format!("{}{}{}", step.before, step.values[0], step.after));
            return Some(false);
        }
        let part = role(&step.values)?;
        let part = if self.used.insert(part) { part } else { Part::Other };
        text(&mut self.pieces, &step.before);
        self.pieces.push(Piece::Part(part));
        text(&mut self.pieces, &step.after);
        // The same number in all lines, or one of a few, begins no sentence.
        let few = step.values.iter().collect::<BTreeSet<_>>().len() * 8 <= step.values.len();
        Some(step.set_off || few && matches!(part, Part::Process | Part::Thread | Part::Object))
    }
}

/// What all values begin and end with alike, up to a sign.
fn shared<'a>(values: &[&'a str]) -> (&'a str, &'a str) {
    let first = values[0];
    let sign = |c: char| !c.is_alphanumeric() && !c.is_whitespace();
    let alike = |n: usize| {
        values.iter().all(|v| v.len() >= n && v.is_char_boundary(n) && v[..n] == first[..n])
    };
    let front = first
        .char_indices()
        .filter(|(_, c)| sign(*c))
        .map(|(at, c)| at + c.len_utf8())
        .take_while(|n| alike(*n))
        .last()
        .unwrap_or(0);
    let alike = |n: usize| {
        values.iter().all(|v| {
            v.len() >= n + front
                && v.is_char_boundary(v.len() - n)
                && v[v.len() - n..] == first[first.len() - n..]
        })
    };
    let back = first
        .char_indices()
        .rev()
        .filter(|(_, c)| sign(*c))
        .map(|(at, _)| first.len() - at)
        .take_while(|n| *n + front <= first.len() && alike(*n))
        .last()
        .unwrap_or(0);
    (&first[..front], &first[first.len() - back..])
}

/// What never divides columns by itself.
const NO_SIGNS: &str = "[](){}<\"'`.,!?…";

const PAIRS: [(char, char); 4] = [('[', ']'), ('(', ')'), ('<', '>'), ('{', '}')];

/// The next column of the lines, if most of them go on alike.
fn next_column<'a>(rest: &[&'a str], kept: &[usize]) -> Option<Step<'a>> {
    let enough = |n: usize| n * ONE_IN >= rest.len() * (ONE_IN - 1) && n > 0;
    // In brackets.
    for (open, close) in PAIRS {
        let found: Vec<(usize, &str, usize, &str)> = rest
            .iter()
            .zip(kept)
            .filter_map(|(line, at)| {
                let inner = line.trim_start().strip_prefix(open)?;
                let (value, after) = inner
                    .split_once(close)
                    .filter(|(v, _)| v.len() <= 60 && !v.trim().is_empty())?;
                Some((*at, value, line.len() - line.trim_start().len(), after))
            })
            .collect();
        if enough(found.len()) {
            let values: Vec<&str> = found.iter().map(|(_, v, ..)| v.trim()).collect();
            let padded = found.iter().any(|(_, v, ..)| v.trim() != *v);
            let space = if found.iter().any(|(.., spaces, _)| *spaces > 0) { " " } else { "" };
            let (colon, rest) = behind(&found.iter().map(|(.., r)| *r).collect::<Vec<_>>());
            let pad = if padded { " " } else { "" };
            return Some(Step {
                before: format!("{space}{open}"),
                values,
                after: if padded {
                    format!("{pad}{close}{colon}")
                } else {
                    format!("{close}{colon}")
                },
                rest,
                kept: found.iter().map(|(at, ..)| *at).collect(),
                set_off: true,
            });
        }
    }
    // Before a sign that stands in all lines.
    if let Some(sign) = separator(rest) {
        let found: Vec<(usize, &str, &str)> = rest
            .iter()
            .zip(kept)
            .filter_map(|(line, at)| {
                let (value, after) = line.split_once(sign.as_str())?;
                (value.len() <= 60 && !value.trim().is_empty()).then_some((*at, value, after))
            })
            .collect();
        // A column of several words, such as a date and a level, is taken a word at a time.
        let words: Vec<&str> = found.iter().map(|(_, v, _)| v.trim()).collect();
        let back = if found.iter().all(|(.., r)| r.starts_with(' ')) { " " } else { "" };
        let single = words.iter().all(|w| !w.contains(char::is_whitespace));
        let first: Vec<&str> = words.iter().filter_map(|w| w.split_whitespace().next()).collect();
        let columns_inside =
            !single && (levels(&first, &first).is_some() || is_time(&first) && !is_time(&words));
        if enough(found.len())
            && !columns_inside
            && (single
                || is_time(&words)
                || role(&words).is_some()
                    && !words
                        .iter()
                        .any(|w| w.contains(|c: char| c.is_ascii_digit() && w.contains(':'))))
        {
            return Some(Step {
                before: String::new(),
                values: words,
                after: format!("{sign}{back}"),
                rest: found.iter().map(|(.., r)| r.trim_start()).collect(),
                kept: found.iter().map(|(at, ..)| *at).collect(),
                set_off: true,
            });
        }
    }
    // A word.
    let found: Vec<(usize, &str, &str)> = rest
        .iter()
        .zip(kept)
        .filter_map(|(line, at)| {
            let line = line.trim_start();
            let end = line.find([' ', '\t']).unwrap_or(line.len());
            (end > 0 && end < line.len()).then(|| (*at, &line[..end], &line[end..]))
        })
        .collect();
    if !enough(found.len()) {
        return None;
    }
    let colon =
        if found.iter().all(|(_, v, _)| v.len() > 1 && v.ends_with(':')) { ":" } else { "" };
    Some(Step {
        before: String::new(),
        values: found
            .iter()
            .map(|(_, v, _)| v.trim_end_matches(if colon.is_empty() { '\0' } else { ':' }))
            .collect(),
        after: format!("{colon} "),
        rest: found.iter().map(|(.., r)| r.trim_start()).collect(),
        kept: found.iter().map(|(at, ..)| *at).collect(),
        set_off: !colon.is_empty(),
    })
}

/// A sign right behind a bracket in nearly all lines, and what follows it.
fn behind<'a>(rest: &[&'a str]) -> (String, Vec<&'a str>) {
    let sign_of = |r: &'a str| {
        let line = r.trim_start();
        let end = line.find([' ', '\t']).unwrap_or(line.len());
        let sign = &line[..end];
        let is_sign = !sign.is_empty()
            && end < line.len()
            && sign.chars().all(|c| !c.is_alphanumeric() && !NO_SIGNS.contains(c));
        is_sign.then_some((&r[..r.len() - line.len() + end], &line[end..]))
    };
    let found: Vec<_> = rest.iter().filter_map(|r| sign_of(r)).collect();
    if found.len() == rest.len() && found.iter().all(|(sign, _)| sign.trim() == found[0].0.trim()) {
        return (format!("{} ", found[0].0), found.iter().map(|(_, r)| r.trim_start()).collect());
    }
    let glued = |r: &'a str| {
        r.chars()
            .next()
            .filter(|c| !c.is_alphanumeric() && !c.is_whitespace() && !NO_SIGNS.contains(*c))
    };
    if let Some(sign) = rest
        .first()
        .and_then(|r| glued(r))
        .filter(|sign| rest.iter().all(|r| glued(r) == Some(*sign)))
    {
        return (
            sign.to_string(),
            rest.iter().map(|r| r[sign.len_utf8()..].trim_start()).collect(),
        );
    }
    let spaced = rest.iter().all(|r| r.starts_with([' ', '\t']));
    (if spaced { " " } else { "" }.to_owned(), rest.iter().map(|r| r.trim_start()).collect())
}

/// The sign between columns: white space or letters on both sides, the same in nearly all lines,
/// early in each.
fn separator(rest: &[&str]) -> Option<String> {
    let mut counted: BTreeMap<String, (usize, usize)> = BTreeMap::new();
    for line in rest {
        let mut seen = BTreeSet::new();
        let mut words = 0;
        let mut at = 0;
        for word in line.split_inclusive([' ', '\t', '|', ';']) {
            let start = at;
            at += word.len();
            let bare = word.trim();
            let glued =
                bare.chars().next_back().filter(|c| matches!(c, '|' | ';') && bare.len() > 1);
            let tab = word.ends_with('\t');
            let is_sign = !bare.is_empty()
                && bare.chars().all(|c| !c.is_alphanumeric() && !NO_SIGNS.contains(c));
            // A sign that stands alone has white space on both sides; only few divide columns
            // without.
            let sign = if is_sign
                && line[..start].ends_with(' ')
                && (word.ends_with(' ') || line[at..].starts_with(' '))
            {
                Some(format!(" {bare} "))
            } else if is_sign && matches!(bare, "|" | ";") && start > 0 {
                Some(bare.to_owned())
            } else {
                glued.map(String::from).or(tab.then(|| "\t".to_owned()))
            };
            if let Some(sign) = sign.filter(|sign| seen.insert(sign.clone())) {
                let slot = counted.entry(sign).or_insert((0, 0));
                slot.0 += 1;
                slot.1 += words;
            }
            words += 1;
            if words > 12 {
                break;
            }
        }
    }
    counted
        .into_iter()
        .filter(|(_, (lines, _))| lines * ONE_IN >= rest.len() * (ONE_IN - 1))
        .min_by_key(|(_, (lines, words))| words * 100 / lines)
        .map(|(sign, _)| sign)
}

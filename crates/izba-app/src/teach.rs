//! Teaching Izba to read a line: its words, what each of them is, and the template that comes of
//! it. Values only.

use izba_console::read::layout::{
    Layout, Origin, PARTS, Part, Parts, Piece, Template, guess_parts,
};
use izba_console::read::{find_place, split_prefix};
use izba_console::trace::place_in;
use izba_model::Level;
use izba_watch::teaching::Tried;
use std::collections::BTreeMap;

/// One line whose parts are being named.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Line {
    /// Its pieces: what stands there, and what it is; `None` is text that stays.
    pub pieces: Vec<(String, Option<Part>)>,
    /// The chosen piece, from 0 in `pieces`.
    pub at: usize,
}

/// A line, or several that are one, whose parts are being named.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Teach {
    /// Source of the line, by index and name.
    pub source: (usize, String),
    /// The line, and those below that belong to it.
    pub lines: Vec<Line>,
    /// Which of them is chosen.
    pub row: usize,
    /// The level of lines like it.
    pub level: Level,
    /// Lines that stand below it.
    pub next: Vec<String>,
    /// Where its division comes from, in words.
    pub from: String,
    /// Number of the request whose answer is awaited or at hand.
    pub asked: u64,
    /// What keeping it would change.
    pub tried: Option<Tried>,
}

/// Lines that are one at most.
const LINES: usize = 8;

/// What Up and Down go through.
const CHOICES: [Option<Part>; 16] = [
    None,
    Some(Part::Message),
    Some(Part::Level),
    Some(Part::Script),
    Some(Part::Line),
    Some(Part::Object),
    Some(Part::Handler),
    Some(Part::Time),
    Some(Part::Name),
    Some(Part::Thread),
    Some(Part::Process),
    Some(Part::Column),
    Some(Part::Function),
    Some(Part::Kind),
    Some(Part::Code),
    Some(Part::Other),
];

impl Teach {
    /// A line with what is known of it: the parts of its layout, if it has one.
    pub fn new(
        source: (usize, String),
        text: &str,
        known: Option<&Layout>,
        next: Vec<String>,
    ) -> Teach {
        let mut pieces = guess_parts(text);
        let mut from = "its parts are not known yet".to_owned();
        let mut level = Level::Error;
        let found = known.and_then(|l| Some((l, l.parts(text)?))).map(|(layout, parts)| {
            from = match &layout.origin {
                Origin::Inferred { lines } => format!("found from {lines} lines"),
                Origin::Taught { name } => format!("taught as “{name}”"),
            };
            // What is known and names no level is harmless until somebody says otherwise.
            level = layout.level_of(&parts).unwrap_or(Level::Info);
            parts
        });
        let found = found.or_else(|| {
            let (parts, of) = by_shape(text)?;
            (from, level) = ("read by its shape".into(), of);
            Some(parts)
        });
        // A place is told by its form.
        if let Some(parts) = found.or_else(|| place_parts(text)) {
            name_pieces(&mut pieces, &parts);
        }
        let lines = vec![Line::new(pieces)];
        Teach { source, lines, row: 0, level, next, from, asked: 0, tried: None }
    }

    /// The chosen line.
    pub fn line(&mut self) -> &mut Line {
        let row = self.row.min(self.lines.len() - 1);
        &mut self.lines[row]
    }

    /// Takes the next line below in; whether there is one.
    pub fn more(&mut self) -> bool {
        let Some(text) = self.next.get(self.lines.len() - 1).filter(|t| !t.trim().is_empty())
        else {
            return false;
        };
        if self.lines.len() == LINES {
            return false;
        }
        let said = self.lines.iter().any(|l| l.pieces.iter().any(|p| p.1 == Some(Part::Message)));
        self.lines.push(Line::below(text, said));
        self.row = self.lines.len() - 1;
        true
    }

    /// Leaves the last line out again.
    pub fn less(&mut self) {
        if self.lines.len() > 1 {
            self.lines.pop();
            self.row = self.row.min(self.lines.len() - 1);
        }
    }

    /// Chooses the next of the lines, or the one before.
    pub fn turn_row(&mut self, back: bool) {
        let count = self.lines.len();
        self.row = (self.row + if back { count - 1 } else { 1 }) % count;
    }

    /// Makes the chosen piece of the chosen line another part; whoever shows what a level is, shows
    /// it on a line that matters.
    pub fn set(&mut self, part: Option<Part>) {
        if part == Some(Part::Level) && self.level < Level::Warning {
            self.level = Level::Error;
        }
        self.line().set(part);
    }

    /// The next level for lines like it.
    pub fn next_level(&mut self) {
        self.level = match self.level {
            Level::Error => Level::Warning,
            Level::Warning => Level::Info,
            Level::Info | Level::Debug => Level::Fatal,
            Level::Fatal => Level::Error,
        };
    }

    /// What comes of it: the form of lines like the first one.
    pub fn template(&self) -> Template {
        self.lines[0].template()
    }

    /// The layout that would be kept.
    ///
    /// # Errors
    ///
    /// A sentence that says what is missing.
    pub fn layout(&self) -> Result<Layout, String> {
        let parse = |line: &Line| {
            Template::parse_part(&line.template().to_string()).map_err(|e| e.sentence)
        };
        let template = parse(&self.lines[0])?;
        let below = self.lines[1..].iter().map(parse).collect::<Result<Vec<_>, _>>()?;
        let pieces = &self.lines[0].pieces;
        let word: String = pieces
            .iter()
            .filter(|(_, p)| *p == Some(Part::Level))
            .map(|(t, _)| t.as_str())
            .collect();
        let mut levels = BTreeMap::new();
        if !word.is_empty() {
            levels.insert(word, self.level);
        }
        let name = format!("{} lines", self.source.1);
        let level = levels.is_empty().then_some(self.level);
        Layout::new(template, levels, level, Origin::Taught { name })
            .and_then(|layout| layout.with_below(below))
            .map_err(|e| e.sentence)
    }
}

impl Line {
    fn new(pieces: Vec<(String, Option<Part>)>) -> Line {
        let at = pieces.iter().position(|(p, _)| !p.trim().is_empty()).unwrap_or(0);
        Line { pieces, at }
    }

    /// A line that stands below the first one: a step, more of the sentence, or anything.
    fn below(text: &str, said: bool) -> Line {
        let mut pieces = guess_parts(text);
        let parts = step_parts(text).unwrap_or_else(|| {
            let start = text.len() - text.trim_start().len();
            vec![(if said { Part::Other } else { Part::Message }, text.trim(), start)]
        });
        name_pieces(&mut pieces, &parts);
        Line::new(pieces)
    }

    /// Goes to the next word or sign, or back.
    pub fn step(&mut self, back: bool) {
        let word = |(piece, _): &(String, Option<Part>)| !piece.trim().is_empty();
        let next = if back {
            self.pieces[..self.at].iter().rposition(word)
        } else {
            self.pieces.iter().skip(self.at + 1).position(word).map(|n| self.at + 1 + n)
        };
        self.at = next.unwrap_or(self.at);
    }

    /// What Up and Down make of the chosen piece.
    pub fn turned(&self, back: bool) -> Option<Part> {
        let now = self.pieces[self.at].1;
        let at = CHOICES.iter().position(|c| *c == now).unwrap_or(0);
        CHOICES[(at + if back { CHOICES.len() - 1 } else { 1 }) % CHOICES.len()]
    }

    /// Names the chosen piece; a part stands once, so that it leaves any other piece that does not
    /// touch this one.
    pub fn set(&mut self, part: Option<Part>) {
        let at = self.at;
        if part == Some(Part::Message) {
            for (_, p) in &mut self.pieces[at..] {
                *p = part;
            }
        } else {
            if self.pieces[at].1 == Some(Part::Message) {
                // The sentence begins behind it.
                let next = self
                    .pieces
                    .iter()
                    .skip(at + 1)
                    .position(|(p, _)| !p.trim().is_empty())
                    .map_or(self.pieces.len(), |n| at + 1 + n);
                for (_, p) in &mut self.pieces[at..next] {
                    *p = None;
                }
            }
            self.pieces[at].1 = part;
        }
        if let Some(part) = part.filter(|p| *p != Part::Other) {
            let touches = |line: &Line, other: usize| {
                let (from, to) = (other.min(at), other.max(at));
                line.pieces[from..=to].iter().all(|(piece, p)| {
                    *p == Some(part) || piece.trim().is_empty() && from != to && p.is_none()
                })
            };
            for other in 0..self.pieces.len() {
                if other != at && self.pieces[other].1 == Some(part) && !touches(self, other) {
                    self.pieces[other].1 = None;
                }
            }
        }
    }

    /// What comes of it: the form of lines like this one.
    pub fn template(&self) -> Template {
        let mut pieces: Vec<Piece> = Vec::new();
        for (at, (text, part)) in self.pieces.iter().enumerate() {
            // White space between two pieces of one part belongs to it.
            let around = |a: Option<&(String, Option<Part>)>| a.and_then(|(_, p)| *p);
            let between = text.trim().is_empty() && part.is_none() && at > 0;
            let part = if between
                && around(self.pieces.get(at - 1)).is_some()
                && around(self.pieces.get(at - 1)) == around(self.pieces.get(at + 1))
            {
                around(self.pieces.get(at - 1))
            } else {
                *part
            };
            // A number that stays text changes from line to line.
            let changes =
                part.is_none() && text.len() > 1 && text.bytes().any(|b| b.is_ascii_digit());
            match (part.or(changes.then_some(Part::Other)), pieces.last_mut()) {
                (Some(part), Some(Piece::Part(last))) if *last == part => {}
                (Some(part), Some(Piece::Part(_))) => {
                    pieces.extend([Piece::Text(" ".into()), Piece::Part(part)])
                }
                (Some(part), _) => pieces.push(Piece::Part(part)),
                (None, Some(Piece::Text(last))) => last.push_str(text),
                (None, _) => pieces.push(Piece::Text(text.clone())),
            }
        }
        Template { pieces }
    }
}

/// Names the pieces that lie in these parts.
fn name_pieces(pieces: &mut [(String, Option<Part>)], parts: &Parts<'_>) {
    let mut at = 0;
    for (piece, part) in pieces {
        let of = |(_, text, from): &&(Part, &str, usize)| (*from..from + text.len()).contains(&at);
        *part = parts.iter().find(of).map(|(part, ..)| *part);
        at += piece.len();
    }
}

/// The place that a line names.
fn place_parts(text: &str) -> Option<Parts<'_>> {
    let place = place_in(text)?;
    let (file, line) = (place.file?, place.line?.to_string());
    let from = text.find(&file)?;
    let behind = from + file.len();
    let number = behind + text[behind..].find(&line)?;
    Some(vec![
        (Part::Script, &text[from..behind], from),
        (Part::Line, &text[number..number + line.len()], number),
    ])
}

/// The parts of a step: its place, and the word before it as its function.
fn step_parts(text: &str) -> Option<Parts<'_>> {
    let mut parts = place_parts(text)?;
    let from = parts[0].2;
    let mut words = text[..from].split(|c: char| c.is_whitespace() || "()[]".contains(c));
    let leads = ["at", "in", "from", "by", "to", "on", "called", "via", "file", "line"];
    let named = words.rfind(|w| !w.is_empty() && !leads.contains(&w.to_lowercase().as_str()));
    if let Some(word) = named.filter(|w| w.starts_with(|c: char| c.is_alphabetic() || c == '_')) {
        let at = word.as_ptr() as usize - text.as_ptr() as usize;
        parts.push((Part::Function, word, at));
    }
    Some(parts)
}

/// The parts of a line that its shape tells, and its level.
fn by_shape(text: &str) -> Option<(Parts<'_>, Level)> {
    let prefix = split_prefix(text);
    let level = prefix.level?;
    let mut parts: Parts<'_> =
        prefix.time.map(|(from, to)| (Part::Time, &text[from..to], from)).into_iter().collect();
    let head = &text[..prefix.rest_at];
    let words = head.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty());
    let at = |word: &str| word.as_ptr() as usize - text.as_ptr() as usize;
    parts.extend(
        words.clone().find(|w| Level::from_word(w) == Some(level)).map(|w| (Part::Level, w, at(w))),
    );
    for (part, name) in [
        (Part::Object, &prefix.object),
        (Part::Handler, &prefix.handler),
        (Part::Name, &prefix.name),
    ] {
        parts.extend(name.as_ref().and_then(|n| {
            Some((part, &text[head.find(n.as_str())?..][..n.len()], head.find(n.as_str())?))
        }));
    }
    let mut rest = prefix.rest_at;
    if let Some(place) = find_place(text, rest).filter(|p| p.span.0 == rest && p.column.is_none()) {
        let line = place.line.to_string();
        let number = rest + text[rest..place.span.1].rfind(&line)?;
        parts.push((Part::Script, place.file, rest));
        parts.push((Part::Line, &text[number..number + line.len()], number));
        rest = place.span.1
            + (text[place.span.1..].len()
                - text[place.span.1..].trim_start_matches([':', ' ', ')']).len());
    }
    parts.push((Part::Message, &text[rest..], rest));
    Some((parts, level))
}

/// What a part is called where a person chooses it.
pub fn part_word(part: Option<Part>) -> &'static str {
    match part {
        None => "text that stays",
        Some(Part::Other) => "changes",
        Some(Part::Level) => "level",
        Some(part) => PARTS.iter().find(|(p, _)| *p == part).map_or("", |(_, word)| word),
    }
}

//! Teaching Izba to read a line: its words, what each of them is, and the template that comes of
//! it. Values only.

use izba_console::read::layout::{
    Layout, Origin, PARTS, Part, Parts, Piece, Template, guess_parts,
};
use izba_console::read::{find_place, split_prefix};
use izba_model::Level;
use std::collections::BTreeMap;

/// A line whose parts are being named.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Teach {
    /// Source of the line, by index and name.
    pub source: (usize, String),
    /// Its pieces: what stands there, and what it is; `None` is text that stays.
    pub pieces: Vec<(String, Option<Part>)>,
    /// The chosen piece, from 0 in `pieces`.
    pub at: usize,
    /// The level of lines like it.
    pub level: Level,
    /// Lines around it, to show what would be read.
    pub others: Vec<String>,
    /// Where its division comes from, in words.
    pub from: String,
}

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
        others: Vec<String>,
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
        if let Some(parts) = found {
            let mut at = 0;
            for (piece, part) in &mut pieces {
                *part = parts
                    .iter()
                    .find(|(_, text, from)| (*from..from + text.len()).contains(&at))
                    .map(|(part, ..)| *part);
                at += piece.len();
            }
        }
        let mut teach = Teach { source, pieces, at: 0, level, others, from };
        teach.at = teach.pieces.iter().position(|(p, _)| !p.trim().is_empty()).unwrap_or(0);
        teach
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

    /// Makes the chosen piece something else. The sentence reaches to the end of the line.
    pub fn turn(&mut self, back: bool) {
        let now = self.pieces[self.at].1;
        let at = CHOICES.iter().position(|c| *c == now).unwrap_or(0);
        let next = CHOICES[(at + if back { CHOICES.len() - 1 } else { 1 }) % CHOICES.len()];
        self.set(next);
    }

    /// Names the chosen piece; a part stands once, so that it leaves any other piece that does not
    /// touch this one.
    pub fn set(&mut self, part: Option<Part>) {
        let at = self.at;
        if part == Some(Part::Level) && self.level < Level::Warning {
            // Whoever shows what a level is, shows it on a line that matters.
            self.level = Level::Error;
        }
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
            let touches = |teach: &Teach, other: usize| {
                let (from, to) = (other.min(at), other.max(at));
                teach.pieces[from..=to].iter().all(|(piece, p)| {
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

    /// The next level for lines like it.
    pub fn next_level(&mut self) {
        self.level = match self.level {
            Level::Error => Level::Warning,
            Level::Warning => Level::Info,
            Level::Info | Level::Debug => Level::Fatal,
            Level::Fatal => Level::Error,
        };
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

    /// The layout that would be kept.
    ///
    /// # Errors
    ///
    /// A sentence that says what is missing.
    pub fn layout(&self) -> Result<Layout, String> {
        let template = Template::parse(&self.template().to_string()).map_err(|e| e.sentence)?;
        let word: String = self
            .pieces
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
        let mut layout = Layout::new(template, levels, level, Origin::Taught { name })
            .map_err(|e| e.sentence)?;
        layout.source = Some(self.source.1.clone());
        Ok(layout)
    }

    /// How many of the lines around it would be read as it is.
    pub fn read_by(&self, layout: &Layout) -> Vec<&str> {
        self.others.iter().map(String::as_str).filter(|t| layout.parts(t).is_some()).collect()
    }
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

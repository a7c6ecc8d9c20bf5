//! From what was typed to what has to hold; a mistake is told with its place and what was expected.

use super::term::{Names, Term, WORDS};
use crate::state::State;
use izba_model::Level;
use regex::RegexBuilder;
use std::ops::Range;

/// A mistake in a phrase.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// The bytes that are wrong; empty at the end when something is missing there.
    pub at: Range<usize>,
    /// What was expected, as half a sentence.
    pub expected: String,
}

impl std::fmt::Display for Problem {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.expected)
    }
}

/// Brackets and `not`s within each other that are followed.
const DEPTH: usize = 64;
/// A longer phrase is not a phrase.
const LENGTH: usize = 2_000;

/// One word of a phrase.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Token {
    pub(crate) at: Range<usize>,
    pub(crate) what: What,
}

#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum What {
    Word(String),
    Quoted(String),
    Pattern(String),
    Open,
    Close,
}

/// Cuts a phrase into its words.
pub(crate) fn tokens(text: &str) -> Result<Vec<Token>, Problem> {
    let mut out = Vec::new();
    let mut chars = text.char_indices().peekable();
    while let Some((from, c)) = chars.next() {
        match c {
            c if c.is_whitespace() => {}
            '(' => out.push(Token { at: from..from + 1, what: What::Open }),
            ')' => out.push(Token { at: from..from + 1, what: What::Close }),
            '"' | '“' | '/' => {
                let close = if c == '“' { '”' } else { c };
                let (mut inner, mut end) = (String::new(), None);
                while let Some((at, c)) = chars.next() {
                    if c == close {
                        end = Some(at + c.len_utf8());
                        break;
                    }
                    if c == '\\' && chars.peek().is_some_and(|(_, next)| *next == close) {
                        inner.extend(chars.next().map(|(_, c)| c));
                    } else {
                        inner.push(c);
                    }
                }
                let Some(end) = end else {
                    let what = if c == '/' {
                        "a / that ends the regular expression"
                    } else {
                        "a quote that ends the text"
                    };
                    return Err(Problem {
                        at: from..text.len(),
                        expected: format!("{what} is missing"),
                    });
                };
                if inner.is_empty() {
                    return Err(Problem {
                        at: from..end,
                        expected: "something to look for is missing between these".into(),
                    });
                }
                out.push(Token {
                    at: from..end,
                    what: if c == '/' { What::Pattern(inner) } else { What::Quoted(inner) },
                });
            }
            _ => {
                let mut end = from + c.len_utf8();
                while let Some((at, c)) =
                    chars.next_if(|(_, c)| !c.is_whitespace() && !matches!(c, '(' | ')' | '"'))
                {
                    end = at + c.len_utf8();
                }
                out.push(Token { at: from..end, what: What::Word(text[from..end].to_owned()) });
            }
        }
    }
    Ok(out)
}

pub(crate) fn parse(text: &str) -> Result<Term, Problem> {
    if text.len() > LENGTH {
        return Err(Problem { at: LENGTH..text.len(), expected: "this phrase is too long".into() });
    }
    let tokens = tokens(text)?;
    let mut parser = Parser { tokens: &tokens, at: 0, end: text.len(), depth: 0 };
    if tokens.is_empty() {
        return Ok(Term::All(Vec::new()));
    }
    let term = parser.any()?;
    match parser.peek() {
        None => Ok(term),
        Some(token) => {
            Err(Problem { at: token.at.clone(), expected: "this bracket was never opened".into() })
        }
    }
}

struct Parser<'a> {
    tokens: &'a [Token],
    at: usize,
    end: usize,
    depth: usize,
}

impl<'a> Parser<'a> {
    fn peek(&self) -> Option<&'a Token> {
        self.tokens.get(self.at)
    }

    fn word(&self) -> Option<&'a str> {
        match &self.peek()?.what {
            What::Word(word) => Some(word),
            _ => None,
        }
    }

    fn any(&mut self) -> Result<Term, Problem> {
        let mut all = vec![self.all()?];
        while self.word() == Some("or") {
            self.at += 1;
            all.push(self.all()?);
        }
        Ok(if all.len() == 1 { all.remove(0) } else { Term::Any(all) })
    }

    fn all(&mut self) -> Result<Term, Problem> {
        let mut all = vec![self.one()?];
        while let Some(token) = self.peek() {
            if token.what == What::Close || self.word() == Some("or") {
                break;
            }
            if self.word() == Some("and") {
                self.at += 1;
            }
            all.push(self.one()?);
        }
        Ok(if all.len() == 1 { all.remove(0) } else { Term::All(all) })
    }

    fn one(&mut self) -> Result<Term, Problem> {
        let Some(token) = self.peek() else {
            let before =
                self.tokens.last().map_or("", |t| if let What::Word(w) = &t.what { w } else { "" });
            return Err(Problem {
                at: self.end..self.end,
                expected: format!("something to look for is missing after “{before}”"),
            });
        };
        self.at += 1;
        self.depth += 1;
        if self.depth > DEPTH {
            return Err(Problem {
                at: token.at.clone(),
                expected: "there are too many brackets within each other".into(),
            });
        }
        let term = match &token.what {
            What::Open => {
                let inner = self.any()?;
                if self.peek().is_none_or(|t| t.what != What::Close) {
                    return Err(Problem {
                        at: token.at.clone(),
                        expected: "this bracket is never closed".into(),
                    });
                }
                self.at += 1;
                inner
            }
            What::Close => {
                return Err(Problem {
                    at: token.at.clone(),
                    expected: "something to look for is missing before this bracket".into(),
                });
            }
            What::Quoted(text) => looked_for(text),
            What::Pattern(text) => match RegexBuilder::new(text).size_limit(1 << 20).build() {
                Ok(regex) => Term::Pattern(regex),
                Err(why) => {
                    return Err(Problem {
                        at: token.at.clone(),
                        expected: format!("this regular expression does not hold: {}", short(&why)),
                    });
                }
            },
            What::Word(word) => self.reserved(word, token)?,
        };
        self.depth -= 1;
        Ok(term)
    }

    fn reserved(&mut self, word: &str, token: &Token) -> Result<Term, Problem> {
        if let Some((level, worse)) = level_of(word) {
            return Ok(Term::Level(level, worse));
        }
        Ok(match word {
            "or" | "and" => {
                return Err(Problem {
                    at: token.at.clone(),
                    expected: format!(
                        "something to look for is missing before “{word}”; in quotes it is \
                            looked for itself"
                    ),
                });
            }
            "not" => Term::Not(Box::new(self.one()?)),
            "in" => {
                let names =
                    self.names(token, "a script, a folder or a pattern such as scripts/*.lua")?;
                let range = self.word().and_then(lines_of);
                self.at += usize::from(range.is_some());
                Term::In(names, range)
            }
            "on" => Term::On(self.names(token, "the name of an object")?),
            "by" => Term::By(self.names(token, "an app, process, thread or logger")?),
            "from" => Term::From(self.names(token, "the name of a source")?),
            "kind" => Term::Kind(self.names(token, "a kind of error, such as TypeError")?),
            "family" => Term::Family(self.names(token, "a family, such as value-not-there")?),
            "seen" => {
                let typed = self.value(token, "a number, such as 10+")?;
                let (number, more) =
                    typed.1.strip_suffix('+').map_or((typed.1, false), |n| (n, true));
                let count: u64 = number.parse().map_err(|_| Problem {
                    at: typed.0.clone(),
                    expected: "a number was expected here, such as 10+ for ten times or more"
                        .into(),
                })?;
                Term::Seen(count, (!more).then_some(count))
            }
            "last" => {
                let typed = self.value(token, "a time, such as 30s, 5m or 1h")?;
                Term::Last(span_of(typed.1).ok_or_else(|| Problem {
                    at: typed.0.clone(),
                    expected: "a time was expected here, such as 30s, 5m or 1h".into(),
                })?)
            }
            "since" => Term::Since(self.time_of_day(token)?),
            "until" => Term::Until(self.time_of_day(token)?),
            "run" => {
                let typed = self.value(token, "the number of a run, such as 3")?;
                Term::Run(typed.1.parse().map_err(|_| Problem {
                    at: typed.0.clone(),
                    expected: "the number of a run was expected here, such as 3".into(),
                })?)
            }
            "overlooked" => Term::Overlooked,
            "own" => Term::Own,
            "outside" => Term::Outside,
            "new" => Term::State(State::New),
            "still" => Term::State(State::Still),
            "back" => Term::State(State::Back),
            "quiet" => Term::State(State::Quiet),
            "fixed" => Term::Fixed,
            "muted" => Term::Muted,
            plain => looked_for(plain),
        })
    }

    /// A time of day, in milliseconds since midnight.
    fn time_of_day(&mut self, after: &Token) -> Result<u32, Problem> {
        let typed = self.value(after, "a time of day, such as 14:02")?;
        clock_of(typed.1).ok_or_else(|| Problem {
            at: typed.0.clone(),
            expected: "a time of day was expected here, such as 14:02".into(),
        })
    }

    fn value(&mut self, after: &Token, what: &str) -> Result<(Range<usize>, &'a str), Problem> {
        match self.peek() {
            Some(Token { at, what: What::Word(text) | What::Quoted(text) }) => {
                self.at += 1;
                Ok((at.clone(), text))
            }
            Some(token) => {
                Err(Problem { at: token.at.clone(), expected: format!("{what} was expected here") })
            }
            None => Err(Problem {
                at: after.at.clone(),
                expected: format!("{what} is missing after this"),
            }),
        }
    }

    fn names(&mut self, after: &Token, what: &str) -> Result<Names, Problem> {
        let (at, text) = self.value(after, what)?;
        let escaped: String = text.split('*').map(regex::escape).collect::<Vec<_>>().join(".*");
        let pattern = RegexBuilder::new(&format!("(?i)^{escaped}$")).size_limit(1 << 20).build();
        Ok(Names {
            text: text.to_lowercase(),
            pattern: pattern
                .map_err(|_| Problem { at, expected: "this name is too long".into() })?,
        })
    }
}

fn short(why: &regex::Error) -> String {
    let text = why.to_string();
    text.lines().last().unwrap_or("").trim_start_matches("error: ").to_owned()
}

fn looked_for(text: &str) -> Term {
    let regex =
        RegexBuilder::new(&regex::escape(text)).case_insensitive(true).size_limit(1 << 20).build();
    // Any text that was typed within the limit compiles; what does not cannot be met either.
    regex.map_or_else(|_| Term::Any(Vec::new()), |regex| Term::Text(text.to_lowercase(), regex))
}

/// A level by its word, and whether worse ones are meant too.
pub(crate) fn level_of(word: &str) -> Option<(Level, bool)> {
    let (word, worse) = word.strip_suffix('+').map_or((word, false), |w| (w, true));
    let level = [Level::Fatal, Level::Error, Level::Warning, Level::Info, Level::Debug]
        .into_iter()
        .find(|l| l.word() == word)?;
    Some((level, worse))
}

fn lines_of(word: &str) -> Option<(u32, u32)> {
    match word.split_once('-') {
        Some((from, to)) => Some((from.parse().ok()?, to.parse().ok()?)),
        None => word.parse().ok().map(|line| (line, line)),
    }
}

fn span_of(word: &str) -> Option<u64> {
    let at = word.find(|c: char| !c.is_ascii_digit() && c != '.')?;
    let number: f64 = word[..at].parse().ok()?;
    let unit = match &word[at..] {
        "ms" => 1.0,
        "s" | "sec" => 1e3,
        "m" | "min" => 6e4,
        "h" => 3.6e6,
        "d" => 8.64e7,
        _ => return None,
    };
    Some((number * unit).clamp(0.0, 1e15) as u64)
}

fn clock_of(word: &str) -> Option<u32> {
    let (clock, part) = word.split_once('.').unwrap_or((word, "0"));
    let mut parts = clock.split(':').map(|p| p.parse::<u32>().ok());
    let (h, m, s) = (parts.next()??, parts.next()??, parts.next().unwrap_or(Some(0))?);
    let digits = part.len() <= 3 && part.bytes().all(|b| b.is_ascii_digit());
    let ms: u32 = format!("{part:0<3}").parse().ok().filter(|_| digits)?;
    let whole =
        (h < 24 && m < 60 && s < 60 && parts.next().is_none()).then_some(h * 3600 + m * 60 + s)?;
    Some(whole * 1000 + ms)
}

/// Whether a word means something by itself.
pub(crate) fn is_reserved(word: &str) -> bool {
    level_of(word).is_some() || WORDS.iter().any(|(w, _)| *w == word)
}

impl Names {
    /// Whether a name fits whole, whatever its case.
    pub(crate) fn fits(&self, name: &str) -> bool {
        self.pattern.is_match(name)
    }

    /// Whether a path is meant: by its name, by its end, or as something in a folder.
    pub(crate) fn fits_path(&self, path: &str) -> bool {
        let lower = path.to_lowercase();
        let ends = lower
            .strip_suffix(self.text.as_str())
            .is_some_and(|head| head.is_empty() || head.ends_with('/'));
        let folder = self.text.trim_end_matches('/');
        let inside = lower.strip_prefix(folder).is_some_and(|rest| rest.starts_with('/'))
            || lower.contains(&format!("/{folder}/"));
        ends || inside
            || self.pattern.is_match(path)
            || path.rsplit('/').next().is_some_and(|name| self.pattern.is_match(name))
    }

    /// Whether a longer name is meant by a part of it.
    pub(crate) fn fits_part(&self, name: &str) -> bool {
        self.fits(name) || name.to_lowercase().contains(&self.text)
    }
}

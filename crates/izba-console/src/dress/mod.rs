//! What the lines of one block wear before their body: time, level, thread, label, box,
//! indentation. Known by its shape alone: the first line of the block shows it, the others wear
//! the same.

mod cuts;
mod escapes;

pub(crate) use cuts::{Cut, cuts};
pub(crate) use escapes::lines_within;

use izba_model::Level;

/// Signs that make the sides of a box.
const SIDES: [char; 6] = ['│', '┃', '║', '┆', '┊', '▏'];

/// A stretch of what a line wears.
#[derive(Debug, Clone, PartialEq, Eq)]
enum Piece {
    /// White space, and its width in characters.
    Space(usize),
    /// A sign, which has to be the same.
    Sign(char),
    /// A number, which may be another one.
    Number,
    /// A level, which may be another one, and its width in characters.
    Level(usize),
    /// A word. With another word in its place, somebody else speaks.
    Word(String),
}

/// What a line wears, as a form that other lines may fit.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct Dress {
    pieces: Vec<Piece>,
    /// The sign at the other side of a box.
    side: Option<char>,
}

/// How a line fits a dress.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Fit<'a> {
    /// It wears the same: its body.
    Same(&'a str),
    /// It wears the same form with other words: somebody else speaks.
    Other,
    /// It wears something else.
    Not,
}

impl Dress {
    /// What stands before byte `cut` of a line.
    pub(crate) fn of(text: &str, cut: usize) -> Dress {
        Dress { pieces: pieces(&text[..cut]), side: side(text, cut) }
    }

    /// Whether it is nothing at all.
    fn is_bare(&self) -> bool {
        self.pieces.is_empty() && self.side.is_none()
    }

    /// Whether it names who speaks.
    fn names_somebody(&self) -> bool {
        self.pieces.iter().any(|p| matches!(p, Piece::Word(_)))
    }

    /// Takes it off a line.
    pub(crate) fn strip<'a>(&self, text: &'a str) -> Fit<'a> {
        let text = match self.side {
            Some(sign) => {
                let Some(inner) = text.trim_end().strip_suffix(sign) else { return Fit::Not };
                inner.trim_end()
            }
            None => text,
        };
        let mut rest = text;
        let mut same = true;
        let mut wider = 0isize;
        for (at, piece) in self.pieces.iter().enumerate() {
            let last = at + 1 == self.pieces.len();
            match piece {
                Piece::Space(width) => {
                    let found = rest.len() - rest.trim_start_matches([' ', '\t']).len();
                    if last && at == 0 && found > 0 {
                        // Set in less than the first line is still set in.
                        rest = &rest[(*width).min(found)..];
                    } else if last {
                        let wanted = usize::try_from(*width as isize + wider).unwrap_or(1).max(1);
                        if found < wanted && rest.len() > found && (at == 0 || found == 0) {
                            return Fit::Not;
                        }
                        rest = &rest[wanted.min(found)..];
                    } else if found == 0 && at > 0 {
                        return Fit::Not;
                    } else {
                        rest = &rest[found..];
                    }
                }
                Piece::Sign(sign) => match rest.strip_prefix(*sign) {
                    Some(after) => rest = after,
                    None => return Fit::Not,
                },
                Piece::Number | Piece::Level(_) | Piece::Word(_) => {
                    let word = word_of(rest);
                    rest = &rest[word.len()..];
                    match (piece, kind_of(word)) {
                        (_, None) => return Fit::Not,
                        (Piece::Number, Some(Piece::Number)) => {}
                        (Piece::Level(was), Some(Piece::Level(is))) => {
                            wider = *was as isize - is as isize;
                        }
                        (Piece::Word(was), Some(Piece::Word(is))) => same &= *was == is,
                        _ => return Fit::Not,
                    }
                }
            }
        }
        if same { Fit::Same(rest) } else { Fit::Other }
    }
}

/// What the lines of an entry may wear: what stands before the body of its first line, or more or
/// less of it, until the next lines tell.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct Worn {
    /// The longest first, each with whether its words are no part of the first line's body: then
    /// other words are somebody else's.
    options: Vec<(Dress, bool)>,
}

impl Worn {
    /// What the first line wears, whose body begins at byte `cut` at the latest.
    pub(crate) fn of(text: &str, cut: usize) -> Worn {
        let columns = cuts(text).into_iter().filter(|c| c.columns).map(|c| c.at);
        let mut at: Vec<usize> = columns.chain([cut]).filter(|at| *at > 0).collect();
        at.sort_unstable_by(|a, b| b.cmp(a));
        at.dedup();
        // What only aligns a column is none by itself.
        let indent = text.len() - text.trim_start_matches([' ', '\t']).len();
        if at.len() > 1 && text[indent..].starts_with(|c: char| c.is_ascii_digit()) {
            at.retain(|at| *at > indent);
        }
        Worn { options: at.into_iter().map(|at| (Dress::of(text, at), at <= cut)).collect() }
    }

    /// Whether it is nothing at all.
    pub(crate) fn is_bare(&self) -> bool {
        self.options.iter().all(|(dress, _)| dress.is_bare())
    }

    /// What a line fits first.
    fn first<'a>(&self, text: &'a str) -> Option<(usize, Fit<'a>)> {
        let fits = self.options.iter().map(|(dress, outside)| (dress.strip(text), outside));
        let tells = |(_, (fit, outside)): &(usize, (Fit<'_>, &bool))| match fit {
            Fit::Same(_) => true,
            Fit::Other => **outside,
            Fit::Not => false,
        };
        fits.enumerate().find(tells).map(|(at, (fit, _))| (at, fit))
    }

    /// Takes it off a line.
    pub(crate) fn strip<'a>(&self, text: &'a str) -> Fit<'a> {
        self.first(text).map_or(Fit::Not, |(_, fit)| fit)
    }

    /// As [`Worn::strip`], only to tell who speaks, when it names somebody.
    pub(crate) fn speaker(&self, text: &str) -> Option<Fit<'static>> {
        let named = self.options.iter().any(|(dress, outside)| *outside && dress.names_somebody());
        named.then(|| match self.first(text) {
            Some((_, Fit::Same(_))) => Fit::Same(""),
            Some((at, Fit::Other)) if self.options[at].0.names_somebody() => Fit::Other,
            Some(_) | None => Fit::Not,
        })
    }

    /// A line that is surely of the entry tells which of them it is.
    pub(crate) fn settle(&mut self, text: &str) {
        if self.options.len() > 1
            && let Some((at, Fit::Same(_))) = self.first(text)
        {
            let (dress, _) = self.options.swap_remove(at);
            self.options = vec![(dress, true)];
        }
    }
}

/// The word that a text begins with; the number of a name belongs to it, as in `web-1`.
fn word_of(text: &str) -> &str {
    let plain = |c: char| c.is_alphanumeric() || c == '_';
    let mut end = text.find(|c| !plain(c)).unwrap_or(text.len());
    while text.starts_with(char::is_alphabetic)
        && text[end..].starts_with(['-', '#'])
        && text[end + 1..].starts_with(plain)
    {
        end += 1;
        end += text[end..].find(|c| !plain(c)).unwrap_or(text.len() - end);
    }
    &text[..end]
}

fn kind_of(word: &str) -> Option<Piece> {
    let first = word.chars().next()?;
    // A letter alone, or glued to a date, is a level.
    let letter = matches!(first, 'V' | 'D' | 'I' | 'W' | 'E' | 'F' | 'T')
        && word[1..].bytes().all(|b| b.is_ascii_digit())
        && (word.len() == 1 || word.len() == 5);
    Some(if first.is_ascii_digit() {
        Piece::Number
    } else if letter || Level::from_word(word).is_some() {
        Piece::Level(word.len())
    } else {
        Piece::Word(word.to_owned())
    })
}

fn pieces(mut text: &str) -> Vec<Piece> {
    let mut pieces = Vec::new();
    while let Some(first) = text.chars().next() {
        let space = text.len() - text.trim_start_matches([' ', '\t']).len();
        let word = word_of(text);
        let taken = if space > 0 {
            pieces.push(Piece::Space(space));
            space
        } else if let Some(piece) = kind_of(word) {
            pieces.push(piece);
            word.len()
        } else {
            pieces.push(Piece::Sign(first));
            first.len_utf8()
        };
        text = &text[taken..];
    }
    pieces
}

/// Where the inside of a box begins, for a line between its sides.
pub(crate) fn inside_box(text: &str) -> Option<usize> {
    let indent = text.len() - text.trim_start().len();
    let sign = text[indent..].chars().next().filter(|c| SIDES.contains(c))?;
    let at = indent + sign.len_utf8();
    side(text, at)?;
    Some(at + usize::from(text[at..].starts_with(' ')))
}

/// The other side of a box, when the line has both.
fn side(text: &str, cut: usize) -> Option<char> {
    let sign = text[..cut].trim_start().chars().next().filter(|c| SIDES.contains(c))?;
    text[cut..].trim_end().ends_with(sign).then_some(sign)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_first_line_shows_what_the_others_wear() {
        let head = "2026-11-29 09:23:05.120 ERROR [web-1] Traceback";
        let dress = Dress::of(head, head.find("Trace").expect("it stands there"));
        assert_eq!(
            dress.strip("2026-11-29 09:23:05.121 ERROR [web-1]   File"),
            Fit::Same("  File")
        );
        // A level of another width is filled up with blanks.
        assert_eq!(dress.strip("2026-11-29 09:23:05.121 INFO  [web-1] x"), Fit::Same("x"));
        assert_eq!(dress.strip("2026-11-29 09:23:05.121 ERROR [web-1]"), Fit::Same(""));
        assert_eq!(dress.strip("2026-11-29 09:23:05.121 ERROR [store-1] x"), Fit::Other);
        // The number of a name tells who it is.
        assert_eq!(dress.strip("2026-11-29 09:23:05.121 ERROR [web-2] x"), Fit::Other);
        assert_eq!(dress.strip("  File"), Fit::Not);
        assert_eq!(dress.strip("09:23:05 ERROR [web-1] x"), Fit::Not);
    }

    #[test]
    fn what_is_set_in_deeper_stays_so_and_a_box_has_two_sides() {
        let dress = Dress::of("   Traceback", 3);
        assert_eq!(dress.strip("     File"), Fit::Same("  File"));
        assert_eq!(dress.strip("  File"), Fit::Same("File"));
        assert_eq!(dress.strip("File"), Fit::Not);
        assert_eq!(dress.strip(""), Fit::Same(""));
        let head = "│ Traceback   │";
        let dress = Dress::of(head, head.find('T').expect("it stands there"));
        assert_eq!(dress.strip("│   File x    │"), Fit::Same("  File x"));
        assert_eq!(dress.strip("╰─────────────╯"), Fit::Not);
    }

    proptest! {
        #[test]
        fn any_line_fits_its_own_dress_and_no_line_is_too_strange(
            worn in "([ -~│]{0,6} ?){0,4}", body in "[a-z!-~][ -~]{0,12}", other in ".{0,40}",
        ) {
            let text = format!("{worn}{body}");
            let dress = Dress::of(&text, worn.len());
            let glued = worn.ends_with(char::is_alphanumeric);
            if dress.side.is_none() && !glued && kind_of(word_of(&body)).is_none() {
                prop_assert_eq!(dress.strip(&text), Fit::Same(body.as_str()));
            }
            let _ = dress.strip(&other);
        }
    }
}

//! The shape of a message: what changes from one time to the next taken out, and kept beside it.
//!
//! What a program names stays: a word that stands in the source around the line. What it was given
//! goes: numbers, addresses, ids, durations, quoted texts that no line of the program holds, and
//! what a message says beyond the text that its own source holds.

use crate::pattern::Pattern;
use std::borrow::Cow;

/// A message with its changing parts taken out.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Masked {
    /// The message with a sign for each changing part.
    pub shape: String,
    /// What stood there, in order.
    pub taken: Vec<String>,
}

/// The sign for a number, id, address or time.
pub const NUMBER: &str = "‹n›";
/// The sign for a path.
pub const PATH: &str = "‹path›";
/// The sign for words that were given.
pub const TEXT: &str = "‹text›";

/// Characters of a message that are looked at.
const HEAD: usize = 400;

// Without groups and with boundaries of plain letters, so that it runs through a message in one
// pass; what was found is told by how it begins.
static CHANGING: Pattern = Pattern::new(concat!(
    r"(?-u:\b)[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}(?-u:\b)|(?-u:\b)0x[0-9a-fA-F]+|",
    r"(?-u:\b)[0-9]{4}-[0-9]{2}-[0-9]{2}(?:[T",
    r" ][0-9]{2}:[0-9]{2}(?::[0-9]{2}(?:[.,][0-9]+)?)?(?:Z",
    r"|[+-][0-9]{2}:?[0-9]{2})?)?",
    r"|(?-u:\b)[0-9]{2}:[0-9]{2}:[0-9]{2}(?:[.,][0-9]+)?|",
    r#"(?:[A-Za-z]:\\|/|\./|\.\./)[^\s'"`,:;()]*[/\\][^\s'"`,:;()]*|"#,
    r#""[^"]*"|`[^`]*`|'[^']*'|"#,
    r"(?-u:\b)(?:[0-9a-f]*[0-9][0-9a-f]*[a-f][0-9a-f]*",
    r"|[0-9a-f]*[a-f][0-9a-f]*[0-9][0-9a-f]*)(?-u:\b)|",
    r"-?[0-9]+(?:[.,][0-9]+)*"
));

static WORD: Pattern = Pattern::new(r"[\p{L}][\p{L}\p{N}_]*");

/// Takes what changes out of the first line of `message`. `around` is the source around the line
/// that failed, empty when it is not known.
pub fn mask(message: &str, around: &str) -> Masked {
    let first = message.lines().next().unwrap_or("");
    let end = first.char_indices().nth(HEAD).map_or(first.len(), |(at, _)| at);
    let first = &first[..end];
    let own = own_stretches(first, around);
    let mut masked = Masked::default();
    let mut at = 0;
    for whole in CHANGING.find_iter(first) {
        words(&first[at..whole.start()], at, own.as_deref(), &mut masked);
        at = whole.end();
        let found = whole.as_str();
        let letters = found.bytes().all(|b| b.is_ascii_hexdigit())
            && found.bytes().any(|b| b.is_ascii_alphabetic());
        if found.starts_with(['"', '`', '\'']) {
            match kept_quote(found, around) {
                Some(kept) => masked.shape.push_str(&kept),
                None => masked.take(TEXT, found),
            }
        } else if found.contains(['/', '\\']) {
            masked.take(PATH, found);
        } else if letters && found.len() < 6 {
            // Too short for an id: a word such as “b2” has its number taken out.
            masked.digits(found);
        } else {
            masked.take(NUMBER, found);
        }
    }
    words(&first[at..], at, own.as_deref(), &mut masked);
    masked
}

impl Masked {
    fn take(&mut self, sign: &str, what: &str) {
        // Given words beside each other are one.
        if sign == TEXT && self.shape.strip_suffix(' ').is_some_and(|s| s.ends_with(TEXT)) {
            self.shape.pop();
            if let Some(last) = self.taken.last_mut() {
                last.push(' ');
                last.push_str(what);
            }
            return;
        }
        self.shape.push_str(sign);
        self.taken.push(what.to_owned());
    }

    fn digits(&mut self, word: &str) {
        let mut rest = word;
        while let Some(from) = rest.find(|c: char| c.is_ascii_digit()) {
            let to =
                rest[from..].find(|c: char| !c.is_ascii_digit()).map_or(rest.len(), |n| from + n);
            self.shape.push_str(&rest[..from]);
            self.take(NUMBER, &rest[from..to]);
            rest = &rest[to..];
        }
        self.shape.push_str(rest);
    }

    /// The shape as people read it: what was the same every time stands as it was. `same` says so
    /// for each changing part.
    pub fn shown(&self, same: &[bool]) -> String {
        let mut out = String::with_capacity(self.shape.len());
        let (mut rest, mut taken) = (self.shape.as_str(), self.taken.iter().enumerate());
        while let Some((at, sign)) =
            [NUMBER, PATH, TEXT].iter().filter_map(|sign| Some((rest.find(sign)?, *sign))).min()
        {
            let Some((index, what)) = taken.next() else { break };
            out.push_str(&rest[..at]);
            out.push_str(if same.get(index).copied().unwrap_or(false) { what } else { sign });
            rest = &rest[at + sign.len()..];
        }
        out.push_str(rest);
        out
    }
}

/// What of a quoted text stays: the name of something of the program whole, the name of a file
/// without its numbers.
fn kept_quote(quoted: &str, around: &str) -> Option<String> {
    let inner = &quoted[1..quoted.len() - 1];
    if inner.is_empty() {
        return Some(quoted.to_owned());
    }
    if !around.is_empty() && holds_word(around, inner) {
        return Some(quoted.to_owned());
    }
    let name = inner.rsplit(['/', '\\']).next().unwrap_or(inner);
    let is_file = name.rsplit_once('.').is_some_and(|(stem, ending)| {
        !stem.is_empty()
            && (1..=5).contains(&ending.len())
            && ending.chars().all(|c| c.is_ascii_alphanumeric())
            && ending.chars().any(|c| c.is_ascii_alphabetic())
    });
    if is_file && !name.contains(' ') {
        let mut kept = Masked::default();
        kept.digits(name);
        return Some(format!("'{}'", kept.shape));
    }
    // Where the program's own words are not at hand, what looks like a name tells mistakes apart.
    let plain = inner.chars().all(|c| {
        c.is_alphabetic()
            || matches!(
                c,
                '_' | '.'
                    | ':'
                    | ';'
                    | '('
                    | ')'
                    | '{'
                    | '}'
                    | '['
                    | ']'
                    | '='
                    | '<'
                    | '>'
                    | ','
                    | '+'
                    | '-'
                    | '*'
            )
    });
    (plain
        && (around.is_empty()
            || !inner.chars().any(char::is_alphabetic)
            || inner.contains(['(', ')', '{', '}', '<', '>', '='])))
    .then(|| quoted.to_owned())
}

/// The stretches of `message` that stand in its own source as text: what else it says was given to
/// it. `None` when the source around does not hold enough of it to tell.
fn own_stretches(message: &str, around: &str) -> Option<Vec<(usize, usize)>> {
    let (mut found, mut at): (Vec<(usize, usize)>, usize) = (Vec::new(), 0);
    for piece in literals(around) {
        if let Some(from) = message[at..].find(&piece) {
            found.push((at + from, at + from + piece.len()));
            at += from + piece.len();
        }
    }
    let letters = |text: &str| text.chars().filter(|c| c.is_alphabetic()).count();
    let held: usize = found.iter().map(|(from, to)| letters(&message[*from..*to])).sum();
    // It begins as the source has it, or most of it stands there.
    let begins = found.first().is_some_and(|(from, to)| {
        *from == 0 && (letters(&message[..*to]) >= 6 || message[..*to].trim().contains(' '))
    });
    (held >= 4 && (begins || held * 2 >= letters(message))).then_some(found)
}

/// The texts in quotes in a stretch of source, cut where something is put in; too short ones are
/// left out.
fn literals(source: &str) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    let mut chars = source.chars().peekable();
    while let Some(open) = chars.next() {
        if !matches!(open, '"' | '\'' | '`') {
            continue;
        }
        let mut piece = String::new();
        let (mut inside, mut closed) = (Vec::new(), false);
        while let Some(c) = chars.next() {
            match c {
                '\\' => {
                    chars.next();
                    inside.push(std::mem::take(&mut piece));
                }
                c if c == open => {
                    closed = true;
                    break;
                }
                '\n' if open != '`' => break,
                '{' => {
                    inside.push(std::mem::take(&mut piece).trim_end_matches(['$', '#']).to_owned());
                    // Over what is put in, up to its end.
                    while chars.peek().is_some_and(|c| *c != open && *c != '\n')
                        && chars.next() != Some('}')
                    {}
                }
                '$' if chars.peek().is_some_and(|c| c.is_alphabetic()) => {
                    inside.push(std::mem::take(&mut piece));
                    while chars.peek().is_some_and(|c| c.is_alphanumeric() || *c == '_') {
                        chars.next();
                    }
                }
                '%' => {
                    inside.push(std::mem::take(&mut piece));
                    while chars.peek().is_some_and(|c| c.is_ascii_digit() || matches!(c, '.' | '-'))
                    {
                        chars.next();
                    }
                    chars.next();
                }
                c => piece.push(c),
            }
        }
        inside.push(piece);
        if closed {
            all.extend(
                inside.into_iter().filter(|p| p.chars().filter(|c| c.is_alphabetic()).count() >= 2),
            );
        }
    }
    all
}

fn holds_word(text: &str, word: &str) -> bool {
    let part = |c: char| c.is_alphanumeric() || c == '_';
    text.match_indices(word).any(|(at, _)| {
        !text[..at].chars().next_back().is_some_and(part)
            && !text[at + word.len()..].chars().next().is_some_and(part)
    })
}

/// Puts a stretch of the message that begins at `from` into the shape: words that were given are
/// taken out.
fn words(text: &str, from: usize, own: Option<&[(usize, usize)]>, masked: &mut Masked) {
    let Some(own) = own else {
        masked.shape.push_str(text);
        return;
    };
    let mut at = 0;
    for word in WORD.find_iter(text) {
        masked.shape.push_str(&text[at..word.start()]);
        let (begins, ends) = (from + word.start(), from + word.end());
        let is_own = own.iter().any(|(a, b)| *a <= begins && ends <= *b);
        if is_own {
            masked.shape.push_str(word.as_str())
        } else {
            masked.take(TEXT, word.as_str())
        }
        at = word.end();
    }
    masked.shape.push_str(&text[at..]);
}

/// The name of a function without what an edit changes: lines and running numbers of nameless ones.
pub fn function_name(name: &str) -> Cow<'_, str> {
    // A nameless function is called by its place, which moves.
    static PLACES: Pattern = Pattern::new(r"[\w.~-]*[/\\][\w./\\~-]*[/\\]|[\w.~-]+[/\\]");
    if !name.contains(['<', '$', ':', '#'])
        && !name.contains("__")
        && !name.contains("ambda")
        && !name.contains("anonymous")
    {
        return Cow::Borrowed(name);
    }
    static DIGITS: Pattern = Pattern::new(r"\d+");
    let name =
        if name.contains(['/', '\\']) { PLACES.replace_all(name, "") } else { Cow::Borrowed(name) };
    Cow::Owned(DIGITS.replace_all(&name, NUMBER).into_owned())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_changes_is_taken_out_and_what_the_program_names_stays() {
        let shapes = [
            ("index 7 of a list of 6", ""),
            ("attempt to index a nil value (local 'wick')", "wick.level = 2"),
            ("cannot open '/home/me/ferry/tide 3.json'", ""),
            ("cannot open 'packs/fog/jetty_nigth2.png'", "load(name)"),
            ("no route to \"pier 9\"", ""),
            ("KeyError: 'rope'", "return self.parts[name]"),
            ("name 'tideheigth' is not defined", "if tideheigth > 3:"),
            (
                "Passenger Mira Olm missed the ferry at 21:04:07",
                r#"warn("Passenger " .. name .. " missed the ferry at " .. clock())"#,
            ),
            ("object at 0x7ffe12 took 3.25 s in request 9f3ac01b", ""),
            ("cabin b2 is full", ""),
            ("'end' expected near <eof>", ""),
        ]
        .map(|(message, around)| mask(message, around).shape)
        .join("\n");
        insta::assert_snapshot!(shapes, @r"
        index ‹n› of a list of ‹n›
        attempt to index a nil value (local 'wick')
        cannot open ‹text›
        cannot open 'jetty_nigth‹n›.png'
        no route to ‹text›
        KeyError: ‹text›
        name 'tideheigth' is not defined
        Passenger ‹text› missed the ferry at ‹n›
        object at ‹n› took ‹n› s in request ‹n›
        cabin b‹n› is full
        'end' expected near <eof>
        ");
    }

    proptest! {
        #[test]
        fn any_message_has_a_shape_that_shows_it_again(message in "\\PC{0,80}", around in "\\PC{0,60}") {
            let masked = mask(&message, &around);
            let all = vec![true; masked.taken.len()];
            let first = message.lines().next().unwrap_or("");
            // Signs of ours in the message itself are the one thing that cannot be told apart; and
            // a file's name is kept alone.
            if !first.contains('‹') && !first.contains('.') {
                prop_assert_eq!(masked.shown(&all), first);
            }
        }
    }
}

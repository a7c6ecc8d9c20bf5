//! A line written with its parts named in curly brackets, `{time} | {level} | {message}`: the one
//! form in which layouts are kept, shown and taught. What stands between the parts has to stand in
//! the line; white space is as wide as it likes.

/// What a part of a line is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Part {
    /// When.
    Time,
    /// How grave.
    Level,
    /// Which thread.
    Thread,
    /// Number or name of the process.
    Process,
    /// Which part of the program speaks: a logger, a tag, an app.
    Name,
    /// The object at fault.
    Object,
    /// The handler that ran.
    Handler,
    /// A script.
    Script,
    /// A line of the script.
    Line,
    /// A column of that line.
    Column,
    /// A function.
    Function,
    /// The name that the language gives the error.
    Kind,
    /// A code that can be searched for.
    Code,
    /// The sentence.
    Message,
    /// Something that changes and means nothing here.
    Other,
}

/// All parts with the words that name them in a template.
pub const PARTS: &[(Part, &str)] = &[
    (Part::Time, "time"),
    (Part::Level, "level"),
    (Part::Thread, "thread"),
    (Part::Process, "process"),
    (Part::Name, "name"),
    (Part::Object, "object"),
    (Part::Handler, "handler"),
    (Part::Script, "script"),
    (Part::Line, "line"),
    (Part::Column, "column"),
    (Part::Function, "function"),
    (Part::Kind, "kind"),
    (Part::Code, "code"),
    (Part::Message, "message"),
    (Part::Other, "*"),
];

impl Part {
    /// The word that names it.
    pub fn word(self) -> &'static str {
        PARTS.iter().find(|(part, _)| *part == self).map_or("*", |(_, word)| word)
    }

    /// The part that a word names.
    pub fn from_word(word: &str) -> Option<Part> {
        PARTS.iter().find(|(_, name)| *name == word).map(|(part, _)| *part)
    }
}

/// A stretch of a template.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Piece {
    /// What has to stand there.
    Text(String),
    /// What may change.
    Part(Part),
}

/// A line with its parts named.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Template {
    /// Its stretches in order; two parts never stand side by side.
    pub pieces: Vec<Piece>,
}

/// What is wrong with a template without a sentence.
pub(super) const NO_MESSAGE: &str = "it names no {message}, the sentence that tells what happened";

/// Why a template cannot be used.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TemplateError {
    /// Byte of the template at which it goes wrong.
    pub at: usize,
    /// One sentence: what is wrong and what to do.
    pub sentence: String,
}

impl TemplateError {
    fn new(at: usize, sentence: impl Into<String>) -> TemplateError {
        TemplateError { at, sentence: sentence.into() }
    }
}

impl Template {
    /// Reads a template. `{{` and `}}` stand for curly brackets themselves.
    ///
    /// # Errors
    ///
    /// When a bracket is not closed, a part is not known or named twice, two parts touch, or
    /// no sentence is named.
    pub fn parse(text: &str) -> Result<Template, TemplateError> {
        let template = Template::parse_part(text)?;
        if !template.has(Part::Message) {
            return Err(TemplateError::new(text.len(), NO_MESSAGE));
        }
        Ok(template)
    }

    /// Reads the template of one line of several, which may name nothing.
    ///
    /// # Errors
    ///
    /// As [`Template::parse`], but for the sentence.
    pub fn parse_part(text: &str) -> Result<Template, TemplateError> {
        let mut pieces = Vec::new();
        let mut literal = String::new();
        let mut at = 0;
        while let Some(c) = text[at..].chars().next() {
            let doubled = text[at..].starts_with("{{") || text[at..].starts_with("}}");
            match c {
                '{' | '}' if doubled => {
                    literal.push(c);
                    at += 2;
                }
                '{' => {
                    let end = text[at..]
                        .find('}')
                        .ok_or_else(|| TemplateError::new(at, "this { is not closed by a }"))?;
                    let word = &text[at + 1..at + end];
                    let known = || PARTS.iter().map(|(_, w)| *w).collect::<Vec<_>>().join(", ");
                    let part = Part::from_word(word).ok_or_else(|| {
                        TemplateError::new(
                            at + 1,
                            format!("“{word}” is no part of a line; the parts are {}", known()),
                        )
                    })?;
                    if part != Part::Other && pieces.contains(&Piece::Part(part)) {
                        return Err(TemplateError::new(
                            at,
                            format!(
                                "{{{word}}} stands here a second time; {{*}} may stand as \
                                    often as needed"
                            ),
                        ));
                    }
                    if !literal.is_empty() {
                        pieces.push(Piece::Text(std::mem::take(&mut literal)));
                    } else if let Some(Piece::Part(before)) = pieces.last() {
                        let before = before.word();
                        return Err(TemplateError::new(
                            at,
                            format!("something has to stand between {{{before}}} and {{{word}}}"),
                        ));
                    }
                    pieces.push(Piece::Part(part));
                    at += end + 1;
                }
                '}' => {
                    return Err(TemplateError::new(
                        at,
                        "this } closes nothing; write }} for the sign itself",
                    ));
                }
                _ => {
                    literal.push(c);
                    at += c.len_utf8();
                }
            }
        }
        if !literal.is_empty() {
            pieces.push(Piece::Text(literal));
        }
        Ok(Template { pieces })
    }

    /// How much a line has to say to have this form: signs that have to stand there.
    pub(crate) fn says(&self) -> usize {
        let signs = |piece: &Piece| match piece {
            Piece::Text(text) => text.chars().filter(|c| !c.is_whitespace()).count(),
            Piece::Part(_) => 0,
        };
        self.pieces.iter().map(signs).sum()
    }

    /// Whether its lines are set in.
    pub fn is_set_in(&self) -> bool {
        matches!(self.pieces.first(), Some(Piece::Text(text)) if text.starts_with([' ', '\t']))
    }

    /// Whether it names a part.
    pub fn has(&self, part: Part) -> bool {
        self.pieces.contains(&Piece::Part(part))
    }

    /// Whether the sentence is the last of it.
    pub fn ends_with_message(&self) -> bool {
        self.pieces.last() == Some(&Piece::Part(Part::Message))
    }

    /// The pattern of lines that have this form; a level is one of `levels`, when there are any,
    /// or, when `open`, another word.
    pub(super) fn pattern(&self, levels: &[&str], open: bool) -> String {
        let mut pattern = String::from(r"^\s*");
        for (at, piece) in self.pieces.iter().enumerate() {
            match piece {
                Piece::Text(text) => pattern.push_str(&literal(text, at == 0)),
                Piece::Part(part) => {
                    let next = match self.pieces.get(at + 1) {
                        Some(Piece::Text(next)) => next.as_str(),
                        _ => "",
                    };
                    // White space alone ends a word; a sign ends anything.
                    let by_space = next.trim().is_empty() && !next.contains('\t');
                    let inner = match part {
                        Part::Line | Part::Column => r"\d+".to_owned(),
                        Part::Level if !levels.is_empty() => {
                            let known = levels
                                .iter()
                                .map(|l| regex::escape(l))
                                .collect::<Vec<_>>()
                                .join("|");
                            // A word that was not met yet may be a level as well.
                            if open { format!(r"{known}|\S{{1,12}}?") } else { known }
                        }
                        Part::Message => ".*?".to_owned(),
                        Part::Time if by_space => TIME.to_owned(),
                        _ if by_space => r"\S+".to_owned(),
                        _ => r"\S.*?".to_owned(),
                    };
                    match part {
                        Part::Other => pattern.push_str(&format!("(?:{inner})")),
                        _ => pattern.push_str(&format!("(?P<{}>{inner})", part.word())),
                    }
                }
            }
        }
        pattern.push_str(r"\s*$");
        pattern
    }

    /// The pattern of the part before the level, and of a level that is one of `levels`; `None`
    /// without a level.
    pub(super) fn up_to_level(&self, levels: &[&str]) -> Option<String> {
        let at = self.pieces.iter().position(|p| *p == Piece::Part(Part::Level))?;
        let next = self.pieces.get(at + 1..at + 2).unwrap_or_default();
        let head = Template { pieces: self.pieces[..=at].iter().chain(next).cloned().collect() };
        Some(within_line(head.pattern(levels, false).strip_suffix(r"\s*$")?))
    }

    /// The pattern of whole lines that have this form, for many lines at once.
    pub(super) fn whole(&self) -> String {
        within_line(&self.pattern(&[], false))
    }
}

/// A pattern that names nothing and does not reach over the end of a line.
fn within_line(pattern: &str) -> String {
    let parts = PARTS.iter().map(|(_, word)| format!("?P<{word}>"));
    let plain = parts.fold(pattern.to_owned(), |plain, name| plain.replace(&name, "?:"));
    plain.replace(r"\S.*?", ".*?").replace(".*?", r"[^\n]*?").replace(r"\s", r"[\t\r ]")
}

/// A moment of one word or several: names of days and months, a date, a time of day.
const TIME: &str = concat!(
    r"(?:[A-Za-z]{3,9},?(?:\s+[A-Za-z]{3,9})?\s+\d{1,3},?(?:\s+\d{4},?)?",
    r"|\S+)(?:\s+\d{1,2}[:.h]\d\S*)?(?:\s+[AP]M)?"
);

/// What stands between parts; white space is as wide as it likes, and before the first part need
/// not be there.
fn literal(text: &str, first: bool) -> String {
    let mut pattern = String::new();
    let mut rest = text;
    if first {
        rest = rest.trim_start();
    }
    let mut spaced = false;
    for c in rest.chars() {
        if c == '\t' {
            // A tab divides columns that may hold spaces.
            pattern.push_str(r"\t\s*");
            spaced = true;
        } else if c.is_whitespace() {
            if !spaced {
                pattern.push_str(r"\s+");
            }
            spaced = true;
        } else {
            pattern.push_str(&regex::escape(c.encode_utf8(&mut [0; 4])));
            spaced = false;
        }
    }
    pattern
}

impl std::fmt::Display for Template {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        for piece in &self.pieces {
            match piece {
                Piece::Text(text) => f.write_str(&text.replace('{', "{{").replace('}', "}}"))?,
                Piece::Part(part) => write!(f, "{{{}}}", part.word())?,
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn mistakes_in_a_template_are_told_with_their_place() {
        let told = |text: &str| {
            Template::parse(text)
                .map_or_else(|e| format!("{}: {}", e.at, e.sentence), |t| t.to_string())
        };
        insta::assert_snapshot!(
            ["{time} {level", "{time} {who}", "{time}{message}", "a } b", "{time} x", "{line}:{line} {message}", "{{{time}}} {*} {*} {message}"].map(told).join("\n"),
            @"
        7: this { is not closed by a }
        8: “who” is no part of a line; the parts are time, level, thread, process, name, object, handler, script, line, column, function, kind, code, message, *
        6: something has to stand between {time} and {message}
        2: this } closes nothing; write }} for the sign itself
        8: it names no {message}, the sentence that tells what happened
        7: {line} stands here a second time; {*} may stand as often as needed
        {{{time}}} {*} {*} {message}
        "
        );
    }

    proptest! {
        #[test]
        fn any_text_is_a_template_or_a_sentence_and_what_is_written_is_read_again(text in "([ -~]|\\{(time|level|message|\\*)\\}| ){0,12}") {
            if let Ok(template) = Template::parse(&text) {
                prop_assert!(regex::Regex::new(&template.pattern(&["x"], true)).is_ok());
                prop_assert_eq!(Template::parse(&template.to_string()), Ok(template));
            }
        }
    }
}

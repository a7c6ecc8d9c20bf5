//! From text to tokens.

use super::{Language, Problem, Spot};

/// One token of a source, without its place.
#[derive(Debug, Clone, PartialEq)]
pub enum Token {
    /// A name or a keyword.
    Word(String),
    /// A whole number.
    Int(i64),
    /// A number with a point.
    Float(f64),
    /// A text in quotation marks.
    Text(String),
    /// A sign.
    Sign(&'static str),
    /// The end of the file.
    End,
}

/// A token with its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// The token.
    pub token: Token,
    /// Where it begins.
    pub at: Spot,
    /// The last character of it.
    pub end: Spot,
}

/// Longer ones first.
const SIGNS: &[&str] = &[
    "?.", "?:", "!!", "->", "=>", "==", "!=", "<=", ">=", "&&", "||", "++", "--", "+=", "-=", "{",
    "}", "(", ")", "[", "]", "<", ">", ";", ",", ".", "=", "+", "-", "*", "/", "%", "!", ":", "?",
    "@",
];

/// Splits a source into tokens; the last one is [`Token::End`].
pub fn tokens(file: &str, text: &str, language: Language) -> Result<Vec<Placed>, Problem> {
    let mut found: Vec<Placed> = Vec::new();
    for (index, line) in lines_without_comments(text).into_iter().enumerate() {
        let chars: Vec<char> = line.chars().collect();
        let mut at = 0;
        while at < chars.len() {
            let spot = Spot { line: index + 1, column: at + 1 };
            let begun = at;
            let c = chars[at];
            let token = if c.is_whitespace() {
                at += 1;
                continue;
            } else if c.is_alphabetic() || c == '_' {
                while at < chars.len() && (chars[at].is_alphanumeric() || chars[at] == '_') {
                    at += 1;
                }
                Token::Word(chars[begun..at].iter().collect())
            } else if c.is_ascii_digit() {
                while at < chars.len()
                    && (chars[at].is_ascii_digit()
                        || (chars[at] == '.'
                            && chars.get(at + 1).is_some_and(char::is_ascii_digit)))
                {
                    at += 1;
                }
                let number: String = chars[begun..at].iter().collect();
                number
                    .parse()
                    .map(Token::Int)
                    .or_else(|_| number.parse().map(Token::Float))
                    .unwrap_or(Token::Int(0))
            } else if c == '"' {
                at += 1;
                let mut text = String::new();
                loop {
                    match chars.get(at) {
                        None => return Err(unclosed(file, spot, language)),
                        Some('"') => break,
                        Some('\\') => {
                            at += 1;
                            text.push(match chars.get(at) {
                                Some('n') => '\n',
                                Some('t') => '\t',
                                Some(other) => *other,
                                None => return Err(unclosed(file, spot, language)),
                            });
                        }
                        Some(other) => text.push(*other),
                    }
                    at += 1;
                }
                at += 1;
                Token::Text(text)
            } else if let Some(sign) = SIGNS
                .iter()
                .find(|s| s.chars().enumerate().all(|(i, c)| chars.get(at + i) == Some(&c)))
            {
                at += sign.chars().count();
                Token::Sign(sign)
            } else {
                let (code, message) = match language {
                    Language::Java => ("", format!("illegal character: '{c}'")),
                    Language::CSharp => ("CS1056", format!("Unexpected character `{c}'")),
                    Language::Kotlin => ("", format!("Unexpected character '{c}'")),
                };
                return Err(spot.problem(file, code, message));
            };
            found.push(Placed { token, at: spot, end: Spot { line: index + 1, column: at } });
        }
    }
    let end = found.last().map_or(Spot { line: 1, column: 1 }, |t| t.end);
    found.push(Placed { token: Token::End, at: end, end });
    Ok(found)
}

fn unclosed(file: &str, at: Spot, language: Language) -> Problem {
    match language {
        Language::Java => at.problem(file, "", "unclosed string literal".into()),
        Language::CSharp => at.problem(file, "CS1010", "Newline in constant".into()),
        Language::Kotlin => at.problem(file, "", "Expecting '\"'".into()),
    }
}

/// The lines with blanks where comments stand, so that columns stay.
fn lines_without_comments(text: &str) -> Vec<String> {
    let mut inside = false;
    let clean = |line: &str| {
        let chars: Vec<char> = line.chars().collect();
        let (mut kept, mut at, mut quoted) = (String::new(), 0, false);
        while at < chars.len() {
            let pair = (chars[at], chars.get(at + 1).copied());
            if inside {
                let over = pair == ('*', Some('/'));
                inside = !over;
                kept.push_str(if over { "  " } else { " " });
                at += if over { 2 } else { 1 };
            } else if !quoted && pair == ('/', Some('/')) {
                break;
            } else if !quoted && pair == ('/', Some('*')) {
                inside = true;
                kept.push_str("  ");
                at += 2;
            } else if quoted && pair.0 == '\\' {
                kept.extend(&chars[at..(at + 2).min(chars.len())]);
                at += 2;
            } else {
                quoted ^= pair.0 == '"';
                kept.push(pair.0);
                at += 1;
            }
        }
        kept
    };
    text.lines().map(clean).collect()
}

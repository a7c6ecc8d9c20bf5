//! What stands behind a name that says that it is a secret, in the forms in which languages, formats,
//! command lines and people put a value behind a name.

use super::checks::is_made;
use std::ops::Range;

/// Names of which any value is a secret.
const WORDS: &[&str] = &[
    "password",
    "passwd",
    "passwort",
    "pwd",
    "pass",
    "passphrase",
    "passcode",
    "kennwort",
    "psk",
    "contraseña",
    "contrasena",
    "senha",
    "wachtwoord",
    "pin",
    "otp",
];
/// Names whose value is one when it looks made up.
const KEYS: &[&str] = &[
    "secret",
    "secrets",
    "token",
    "tokens",
    "apikey",
    "credential",
    "credentials",
    "csrf",
    "xsrf",
    "jwt",
    "sid",
    "sessionid",
    "session",
    "phpsessid",
    "jsessionid",
    "auth",
    "authorization",
    "bearer",
    "signature",
    "sig",
    "cookie",
    "mnemonic",
];
/// Two words that make such a name: a kind, and what it is of.
const PAIRS: &[(&str, &str)] = &[
    ("api", "key"),
    ("access", "key"),
    ("private", "key"),
    ("secret", "key"),
    ("account", "key"),
    ("shared", "key"),
    ("encryption", "key"),
    ("signing", "key"),
    ("auth", "key"),
    ("license", "key"),
    ("licence", "key"),
    ("recovery", "key"),
    ("master", "key"),
    ("storage", "key"),
    ("deploy", "key"),
    ("ssh", "key"),
    ("key", "data"),
    ("seed", "phrase"),
    ("time", "code"),
    ("verification", "code"),
    ("reset", "code"),
    ("backup", "code"),
    ("login", "code"),
    ("x", "key"),
    ("subscription", "key"),
    ("webhook", "key"),
];
/// Words that may follow in the same name.
const BEHIND: &[&str] = &[
    "base", "value", "val", "str", "string", "text", "raw", "hash", "enc", "plain", "old", "new",
    "1", "2", "id",
];
/// Values that tell nothing.
const NOTHING: &[&str] = &[
    "nil",
    "null",
    "none",
    "undefined",
    "true",
    "false",
    "required",
    "missing",
    "invalid",
    "wrong",
    "incorrect",
    "expired",
    "empty",
    "unset",
    "redacted",
    "hidden",
    "string",
    "str",
    "int",
    "number",
    "bool",
    "boolean",
    "bytes",
    "any",
    "object",
    "function",
    "not",
    "too",
    "the",
    "a",
    "an",
    "in",
    "is",
    "was",
    "must",
    "should",
    "may",
    "cannot",
    "can",
    "does",
    "has",
    "for",
    "of",
    "and",
    "or",
    "to",
    "from",
    "with",
    "at",
    "on",
    "unexpected",
    "input",
    "self",
    "this",
    "still",
    "now",
    "set",
    "given",
    "unknown",
    "void",
    "var",
    "let",
    "const",
    "new",
    "return",
    "optional",
];

/// How a value has to look to be a secret.
#[derive(Clone, Copy, PartialEq)]
enum Kind {
    /// As it likes.
    Word,
    /// Made up.
    Key,
}

/// One run of letters and digits of a line, cut where its cases change.
struct Part {
    at: Range<usize>,
    text: String,
}

/// Spans of `text` that are secrets by their names, with what they are.
pub(super) fn secrets(text: &str) -> Vec<(Range<usize>, &'static str)> {
    let mut found = Vec::new();
    let mut from = 0;
    for line in text.split_inclusive('\n') {
        let whole = line.len();
        let line = line.trim_end_matches(['\n', '\r']);
        let parts = parts(line);
        for at in 0..parts.len() {
            let Some((kind, end)) = name_at(line, &parts, at) else { continue };
            let name = parts[at].at.start..end;
            if let Some(value) = value(text, from, line, &name, kind) {
                let what = if kind == Kind::Word { "password" } else { "secret" };
                found.push((value, what));
            }
        }
        from += whole;
    }
    found
}

fn parts(line: &str) -> Vec<Part> {
    let mut parts: Vec<Part> = Vec::new();
    let mut open: Option<usize> = None;
    let mut before = ' ';
    let mut push = |from: usize, to: usize| {
        parts.push(Part { at: from..to, text: line[from..to].to_lowercase() });
    };
    for (at, ch) in line.char_indices() {
        let inside = ch.is_alphanumeric();
        let cut = inside && ch.is_uppercase() && before.is_lowercase();
        if let Some(from) = open.filter(|_| !inside || cut) {
            push(from, at);
            open = None;
        }
        if inside && open.is_none() {
            open = Some(at);
        }
        before = ch;
    }
    if let Some(from) = open {
        push(from, line.len());
    }
    parts
}

/// Whether a name that says so begins with this part, and where it ends.
fn name_at(line: &str, parts: &[Part], at: usize) -> Option<(Kind, usize)> {
    let part = &parts[at];
    let joined = |one: &Part, two: &Part| {
        matches!(&line[one.at.end..two.at.start], "" | "_" | "-" | " " | ".")
    };
    let next = parts.get(at + 1).filter(|next| joined(part, next));
    let ends = |word: &str| part.text.len() > word.len() && part.text.ends_with(word);
    let (kind, mut last) = if WORDS.contains(&part.text.as_str())
        || ["password", "passwd", "passphrase"].iter().any(|w| ends(w))
    {
        (Kind::Word, at)
    } else if KEYS.contains(&part.text.as_str())
        || ["secret", "apikey", "token", "secretkey"].iter().any(|w| ends(w))
    {
        // `token_secret`, `secret key`: the last word of the name tells.
        (Kind::Key, at)
    } else if let Some(next) = next
        && PAIRS.contains(&(part.text.as_str(), next.text.as_str()))
    {
        (Kind::Key, at + 1)
    } else if part.text == "mot"
        && parts.get(at + 1).is_some_and(|p| p.text == "de")
        && parts.get(at + 2).is_some_and(|p| p.text == "passe")
    {
        (Kind::Word, at + 2)
    } else {
        return None;
    };
    while let Some(more) = parts.get(last + 1) {
        let sign = &line[parts[last].at.end..more.at.start];
        let tight = matches!(sign, "" | "_" | "-");
        if tight && (BEHIND.contains(&more.text.as_str()) || is_name(&more.text)) {
            last += 1;
        } else if tight && !sign.is_empty() || sign.is_empty() {
            // `token_count`, `passwordLength`: it names something else.
            return None;
        } else {
            break;
        }
    }
    Some((kind, parts[last].at.end))
}

fn is_name(word: &str) -> bool {
    WORDS.contains(&word) || KEYS.contains(&word) || word == "key"
}

/// The value behind a name, as a span of the text.
fn value(
    text: &str,
    from: usize,
    line: &str,
    name: &Range<usize>,
    kind: Kind,
) -> Option<Range<usize>> {
    let (ahead, behind) = (&line[..name.start], from + name.end);
    let mut rest = Rest { text, at: behind };
    let way = rest.way(ahead)?;
    rest.wrapping();
    let (span, quoted) = rest.value(way, kind, line, name)?;
    let value = text.get(span.clone())?;
    let after = text[span.end..].lines().next().unwrap_or_default();
    let named = &line[name.clone()];
    is_secret(value, kind, quoted, way, named, after).then_some(span)
}

/// How a value stands behind its name.
#[derive(Clone, Copy, PartialEq)]
enum Way {
    /// `name = value`, `name: value`, `name => value`.
    Sign,
    /// `name 'value'`, `name is value`: prose, or a language of queries.
    Prose,
    /// `--name value`.
    Flag,
    /// `<name>value</name>`.
    Element,
}

struct Rest<'t> {
    text: &'t str,
    at: usize,
}

impl Rest<'_> {
    fn rest(&self) -> &str {
        &self.text[self.at..]
    }

    fn eat(&mut self, sign: &str) -> bool {
        let found = self.rest().starts_with(sign);
        self.at += if found { sign.len() } else { 0 };
        found
    }

    fn eat_any(&mut self, signs: &[&str]) -> bool {
        signs.iter().any(|sign| self.eat(sign))
    }

    fn spaces(&mut self, lines: bool) -> usize {
        let begun = self.at;
        while let Some(ch) = self.rest().chars().next()
            && (matches!(ch, ' ' | '\t' | '\u{a0}') || lines && matches!(ch, '\n' | '\r'))
        {
            self.at += ch.len_utf8();
        }
        self.at - begun
    }

    /// Goes to where the value begins.
    fn way(&mut self, ahead: &str) -> Option<Way> {
        let was_quoted = self.eat_any(&["\\\"", "\\'", "\"", "'", "`"]);
        let in_brackets = self.eat("]");
        if self.eat(">") {
            self.eat("<![CDATA[");
            return Some(Way::Element);
        }
        if self.eat("</") {
            self.at += self.rest().find('>')? + 1;
            self.spaces(true);
            self.eat("<").then_some(())?;
            self.at += self.rest().find('>')? + 1;
            return Some(Way::Element);
        }
        let begun = self.at;
        let gap = self.spaces(false);
        if was_quoted && gap > 0 && self.eat_any(&["value=", "Value="]) {
            return Some(Way::Sign);
        }
        if (was_quoted || in_brackets) && self.eat(",") {
            self.spaces(false);
            return self.rest().starts_with(['\'', '"', '`']).then_some(Way::Sign);
        }
        // A comparison asks for it and does not tell it, unless with a text.
        if self.eat_any(&["===", "==", "!="]) {
            self.spaces(false);
            return self.rest().starts_with(['\'', '"']).then_some(Way::Sign);
        }
        if self.eat_any(&["=>", ":=", "->", "=", "：", "::"]) || self.eat(":") {
            self.spaces(false);
            let block = self.rest().starts_with("|\n") || self.rest().starts_with(">\n");
            self.at += usize::from(block);
            self.spaces(true);
            return Some(Way::Sign);
        }
        if gap > 0 && self.eat("| ") {
            self.spaces(false);
            return Some(Way::Sign);
        }
        if gap > 0 && self.eat_any(&["is ", "was ", "of ", "lautet ", "est "]) {
            return Some(Way::Prose);
        }
        if gap > 0 && self.rest().starts_with(['\'', '"', '`', '“', '‘', '«']) {
            return Some(Way::Prose);
        }
        let dashes = ahead.trim_end_matches(|c: char| c.is_alphanumeric() || c == '-');
        let flag = ahead.len() > dashes.len() && ahead[dashes.len()..].starts_with('-')
            || ahead.trim_start().starts_with("set -x ");
        if flag && gap > 0 && !self.rest().starts_with('-') {
            return Some(Way::Flag);
        }
        self.at = begun;
        None
    }

    /// Passes over what stands around a value: kinds of texts, lists, `Some(`, schemes, types.
    fn wrapping(&mut self) {
        if self.rest().starts_with("string(") {
            let close = self.rest().find(") ");
            self.at += close.map_or(0, |at| at + 2);
        }
        for _ in 0..3 {
            if !self.eat_any(&["Some(", "[", "(", "&"]) {
                break;
            }
        }
        // `: String = "…"`.
        let kind = self.rest().find(|c: char| !c.is_alphanumeric() && c != '_').unwrap_or(0);
        let behind = &self.rest()[kind..];
        if kind > 0 && (behind.starts_with(" = \"") || behind.starts_with(" = '")) {
            self.at += kind + 3;
        }
        for mark in ["b", "@", "f", "r", "u", "$", "L"] {
            let behind = self.rest().strip_prefix(mark);
            if behind.is_some_and(|b| b.starts_with(['"', '\''])) {
                self.at += mark.len();
                break;
            }
        }
    }

    /// The span of the value, and whether it stands in quotes.
    fn value(
        &mut self,
        way: Way,
        kind: Kind,
        line: &str,
        name: &Range<usize>,
    ) -> Option<(Range<usize>, bool)> {
        const QUOTES: &[(&str, &str)] = &[
            ("\\\"", "\\\""),
            ("\\'", "\\'"),
            ("\"", "\""),
            ("'", "'"),
            ("`", "`"),
            ("“", "”"),
            ("‘", "’"),
            ("«", "»"),
        ];
        if way == Way::Element {
            let end = self.rest().find(['<', '\n', ']']).unwrap_or(self.rest().len());
            return Some((self.at..self.at + end, true));
        }
        let quote = QUOTES.iter().find(|(open, _)| self.eat(open));
        self.schemes();
        let rest = self.rest();
        if let Some((_, close)) = quote {
            let same = &rest[..rest.find('\n').unwrap_or(rest.len())];
            let end = same.find(close).unwrap_or(same.len()).min(4_000);
            let end = (0..=end).rev().find(|e| rest.is_char_boundary(*e)).unwrap_or(0);
            return Some((self.at..self.at + end, true));
        }
        let ends = |c: char| {
            c.is_whitespace()
                || matches!(c, ',' | ';' | '&' | ')' | '}' | ']' | '"' | '\'' | '<' | '>' | '|')
        };
        let end = rest.find(ends).unwrap_or(rest.len());
        // A phrase of several words, where the line says nothing else.
        let phrase = ["passphrase", "mnemonic", "phrase"]
            .iter()
            .any(|w| line[name.clone()].to_lowercase().ends_with(w));
        if phrase && kind == Kind::Word && way == Way::Sign {
            let same = rest[..rest.find('\n').unwrap_or(rest.len())].trim_end();
            if same.split(' ').count() >= 2 && !same.contains(['(', '"', ':']) {
                return Some((self.at..self.at + same.len(), true));
            }
        }
        (end > 0).then_some((self.at..self.at + end, false))
    }

    /// Passes over how somebody is authorised: `Bearer …`.
    fn schemes(&mut self) {
        let schemes = ["Bearer ", "bearer ", "Basic ", "basic ", "Token ", "token ", "Digest "];
        if self.eat_any(&schemes) {
            self.spaces(false);
        }
    }
}

/// Whether a value is a secret, or tells nothing.
fn is_secret(value: &str, kind: Kind, quoted: bool, way: Way, name: &str, after: &str) -> bool {
    let value = value.trim();
    let lower = value.to_lowercase();
    let bare = lower.trim_end_matches(['.', '!', ':', ';']);
    let one_sign = value.chars().skip(1).all(|c| value.starts_with(c));
    if value.chars().count() < 3
        || one_sign
        || NOTHING.contains(&bare)
        || value.starts_with(['‹', '<', '{', '*'])
        || ["${", "$(", "%(", "{{", "&lt;", "process.env", "os.environ", "env["]
            .iter()
            .any(|b| lower.starts_with(b))
    {
        return false;
    }
    if !quoted {
        let variable =
            value.starts_with('$') && value[1..].chars().all(|c| c.is_alphanumeric() || c == '_');
        // `password = ask(user)`, `token = tokens[at]`, `password=self.password`.
        let code = value.contains('(')
            || after.starts_with(['(', '['])
            || after.starts_with(" (")
            || lower.ends_with(&name.to_lowercase())
                && (value.contains('.') || lower == name.to_lowercase());
        if variable || code {
            return false;
        }
    }
    let digits = value.chars().filter(char::is_ascii_digit).count();
    if matches!(name.to_lowercase().as_str(), "pin" | "otp") {
        return digits >= 4 && digits == value.chars().count();
    }
    if kind == Kind::Key {
        let code = name.to_lowercase().ends_with("code") && digits >= 4;
        let short = quoted && !value.contains(' ') && value.chars().count() >= 8 && digits > 0;
        return !value.contains(' ') && (is_made(value) || short) || code;
    }
    // “password: must be longer” is a sentence, “the password is wrong” too.
    let word = value.chars().all(|c| c.is_lowercase());
    let goes_on = after.strip_prefix(' ').is_some_and(|a| a.starts_with(char::is_lowercase));
    let sentence = !quoted && word && goes_on && way != Way::Flag;
    let prose = way == Way::Prose && !quoted && word;
    !sentence && !prose
}

#[cfg(test)]
mod tests {
    use super::*;

    fn found(text: &str) -> Vec<&str> {
        secrets(text).into_iter().map(|(span, _)| &text[span]).collect()
    }

    #[test]
    fn values_are_found_behind_names_in_any_form() {
        for text in [
            "DB_PASS=hunter",
            "  \"userPassword\" : \"hunter\",",
            "\\\"password\\\":\\\"hunter\\\"",
            "<db:password>hunter</db:password>",
            "tool --db-password hunter -q",
            "IDENTIFIED with password 'hunter'",
            "[password] => hunter",
            "[\"password\"]=>\n  string(6) \"hunter\"",
            "password:\n  hunter\n",
            "let pwd: String = \"hunter\"",
            "user.passwd := 'hunter'",
        ] {
            assert_eq!(found(text), ["hunter"], "{text}");
        }
        assert_eq!(found("apiToken: Some(\"a1b2c3d4\")"), ["a1b2c3d4"]);
        assert_eq!(found("Authorization: Bearer a1b2c3d4"), ["a1b2c3d4"]);
    }

    #[test]
    fn what_only_speaks_of_secrets_stays() {
        for text in [
            "password: must be longer than 8 letters",
            "the password is wrong",
            "unexpected token: ')' near end",
            "SyntaxError: Unexpected token '<', \"<!DOCTYPE \"... is not valid JSON",
            "password = ask_for(user)",
            "token = tokens[at]",
            "self.password = password",
            "tokens: 512, passed: 3",
            "passwordLength = 12",
            "compass: north",
            "token: string",
            "password: ${DB_PASS}",
            "password=‹password›",
            "secret: null",
            "session: started",
        ] {
            assert_eq!(found(text), [""; 0], "{text}");
        }
    }
}

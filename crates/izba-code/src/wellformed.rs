//! Whether a data file is what its format wants: asked of the standard reader of each format, told
//! with the line to mend.

use izba_model::claim::Saying;
use izba_model::code::{Language, SyntaxFault};
use izba_model::dialect::Form;
use izba_model::{say, sayings};

sayings! {
    "wellformed", Syntax, "../words/wellformed.toml";
    COMMA = "comma",
    COMMA_TOO_MANY = "comma-too-many",
    NEVER_CLOSED = "never-closed",
    NAME_QUOTES = "name-quotes",
    VALUE = "value",
    ELEMENT_OPEN = "element-open",
    ELEMENT_ENDS_AS = "element-ends-as",
    ELEMENT_NOT_OPEN = "element-not-open",
    ROOT_OPEN = "root-open",
    AMPERSAND = "ampersand",
    TWICE_IN_ELEMENT = "twice-in-element",
    ATTRIBUTE_QUOTES = "attribute-quotes",
    LESS_IN_ATTRIBUTE = "less-in-attribute",
    ENDS_IN_ELEMENT = "ends-in-element",
    NO_XML = "no-xml",
    TWICE = "twice",
    QUOTE_CLOSING = "quote-closing",
    BRACKET_CLOSING = "bracket-closing",
    EQUALS_AND_VALUE = "equals-and-value",
    TAB = "tab",
    COLON_AND_SPACE = "colon-and-space",
    NOT_AS_DEEP = "not-as-deep",
}

/// The first thing that is not as the format wants it; empty for formats without rules, and for
/// empty files.
pub fn faults(path: &str, language: Language, text: &str) -> Vec<SyntaxFault> {
    if text.trim().is_empty() {
        return Vec::new();
    }
    let fault = match language.data {
        Some(Form::Json) => json(text),
        // Pages are read by browsers, which forgive all.
        Some(Form::Xml) if path.ends_with(".html") || path.ends_with(".htm") => None,
        Some(Form::Xml) => xml(text),
        Some(Form::Toml) => toml(text),
        Some(Form::Yaml) => yaml(text),
        _ => None,
    };
    let reads = |tried: &str| match language.data {
        Some(Form::Json) => json(tried).is_none(),
        Some(Form::Xml) => xml(tried).is_none(),
        _ => false,
    };
    let with_piece = |mut fault: SyntaxFault| {
        let lines =
            fault.line.min(fault.noticed) as usize..fault.to_line.max(fault.noticed) as usize;
        fault.piece = crate::dataedit::piece(text, lines, reads);
        fault
    };
    fault.map(with_piece).into_iter().collect()
}

fn fault(text: &str, line: u32, noticed: u32, what: Saying) -> SyntaxFault {
    let lines = text.lines().count().max(1) as u32;
    let (line, noticed) = (line.clamp(1, lines), noticed.clamp(1, lines));
    let at = text.split_inclusive('\n').take(line as usize - 1).map(str::len).sum();
    SyntaxFault {
        line,
        to_line: noticed.max(line),
        at,
        piece: None,
        what,
        seen: Vec::new(),
        confidence: 0.8,
        mended: None,
        others: Vec::new(),
        noticed,
    }
}

fn json(text: &str) -> Option<SyntaxFault> {
    let error = serde_json::from_str::<serde_json::Value>(text).err()?;
    let line = (error.line() as u32).max(1);
    let told = error.to_string();
    let told = told.split(" at line ").next().unwrap_or("");
    // A comma or bracket that is missed here is missing on the line above.
    let above = told.contains("expected `,`") || told.contains("expected `:`");
    let row = text.lines().nth(line as usize - 1).unwrap_or("");
    let begins = row.len() - row.trim_start().len() + 1 >= error.column();
    let above = above || told.contains("trailing comma");
    let shown = if above && begins && line > 1 { line - 1 } else { line };
    let what = match told {
        t if t.contains("expected `,`") => say!(COMMA),
        t if t.contains("trailing comma") => {
            say!(COMMA_TOO_MANY)
        }
        t if t.contains("EOF") => say!(NEVER_CLOSED),
        t if t.contains("key must be a string") => {
            say!(NAME_QUOTES)
        }
        t if t.contains("expected value") => say!(VALUE),
        t => Saying::quote(t),
    };
    Some(fault(text, shown, line, what))
}

fn xml(text: &str) -> Option<SyntaxFault> {
    use roxmltree::Error;
    let options = roxmltree::ParsingOptions { allow_dtd: true, ..Default::default() };
    let error = roxmltree::Document::parse_with_options(text, options).err()?;
    // Names may be declared in a file elsewhere that is not read here (XML 1.0, “Entity Declared”).
    let declared_elsewhere = text.split_once("<!DOCTYPE").is_some_and(|(_, rest)| {
        let own = rest.split_once('[').map_or("", |(_, own)| own.split("]>").next().unwrap_or(own));
        let head = rest.split(['[', '>']).next().unwrap_or("");
        [head, own].iter().any(|part| part.contains("SYSTEM") || part.contains("PUBLIC"))
    });
    if declared_elsewhere && matches!(error, Error::UnknownEntityReference(..)) {
        return None;
    }
    let line = error.pos().row;
    let opened = |name: &str| {
        let opener = format!("<{name}");
        text.lines()
            .take(line as usize)
            .enumerate()
            .filter(|(_, l)| {
                l.contains(&opener) && !l.contains("/>") && !l.contains(&format!("</{name}"))
            })
            .last()
            .map(|(at, _)| at as u32 + 1)
    };
    let (shown, what) = match &error {
        Error::UnexpectedCloseTag(expected, actual, _) => {
            let near = izba_model::code::name_edit(expected, actual).is_some();
            match opened(actual) {
                // Nothing is called so: the name of the end is mistyped.
                None if near => (line, say!(ELEMENT_ENDS_AS, name = expected, other = actual)),
                // All that are called so are closed: the beginning of this one is gone.
                _ if closes_too_many(text, line, actual) => {
                    let before = ended(text, line, actual).or(opened(expected)).unwrap_or(line);
                    (before, say!(ELEMENT_NOT_OPEN, name = actual))
                }
                _ => {
                    let from = opened(expected).unwrap_or(line);
                    (from, say!(ELEMENT_OPEN, name = expected, other = actual))
                }
            }
        }
        Error::UnclosedRootNode => (1, say!(ROOT_OPEN)),
        Error::UnexpectedEntityCloseTag(_)
        | Error::UnknownEntityReference(..)
        | Error::MalformedEntityReference(_) => (line, say!(AMPERSAND)),
        Error::DuplicatedAttribute(name, _) => (line, say!(TWICE_IN_ELEMENT, name)),
        Error::InvalidChar2(expected, ..) if *expected == "a quote" => {
            (line, say!(ATTRIBUTE_QUOTES))
        }
        Error::InvalidAttributeValue(_) => (line, say!(LESS_IN_ATTRIBUTE)),
        Error::UnexpectedEndOfStream => (line, say!(ENDS_IN_ELEMENT)),
        _ => (line, say!(NO_XML)),
    };
    Some(fault(text, shown, line, what))
}

/// Whether up to a line more elements of a name end than begin.
fn closes_too_many(text: &str, line: u32, name: &str) -> bool {
    let (opener, closer) = (format!("<{name}"), format!("</{name}"));
    let whole = |rest: &str| !rest.starts_with(|c: char| c.is_alphanumeric() || "-_.:".contains(c));
    let (mut begins, mut ends) = (0, 0);
    for l in text.lines().take(line as usize) {
        let opened = l.match_indices(&opener).filter(|(at, o)| whole(&l[at + o.len()..]));
        begins += opened
            .filter(|(at, _)| !l[*at..].split('>').next().is_some_and(|tag| tag.ends_with('/')))
            .count();
        ends += l.match_indices(&closer).filter(|(at, c)| whole(&l[at + c.len()..])).count();
    }
    ends > begins
}

/// The last line before another at which an element of a name ends.
fn ended(text: &str, line: u32, name: &str) -> Option<u32> {
    let closer = format!("</{name}>");
    let before = text.lines().take(line.saturating_sub(1) as usize).enumerate();
    before.filter(|(_, l)| l.contains(&closer)).last().map(|(at, _)| at as u32 + 1)
}

fn toml(text: &str) -> Option<SyntaxFault> {
    let error = toml::from_str::<toml::Table>(text).err()?;
    let line = error.span().map_or(1, |span| {
        text.as_bytes()[..span.start.min(text.len())].iter().filter(|b| **b == b'\n').count() as u32
            + 1
    });
    let told = error.message().lines().next().unwrap_or_default();
    let what = match told {
        t if t.contains("duplicate key") => say!(TWICE),
        t if t.contains("string") && t.contains("invalid") || t.contains("quote") => {
            say!(QUOTE_CLOSING)
        }
        t if t.contains("unclosed") || t.contains("expected `]`") => {
            say!(BRACKET_CLOSING)
        }
        t if t.contains("expected `=`") || t.contains("key with no value") => {
            say!(EQUALS_AND_VALUE)
        }
        t => Saying::quote(t),
    };
    Some(fault(text, line, line, what))
}

fn yaml(text: &str) -> Option<SyntaxFault> {
    let error = saphyr_parser::Parser::new_from_str(text).find_map(Result::err)?;
    let line = (error.marker().line() as u32).max(1);
    let tab = text
        .lines()
        .enumerate()
        .find(|(_, l)| l.trim_start_matches(' ').starts_with('\t') && !l.trim().is_empty());
    let (line, what) = match (tab, error.info()) {
        (Some((at, _)), _) => (at as u32 + 1, say!(TAB)),
        (None, t) if t.contains("simple key") || t.contains("':'") => (line, say!(COLON_AND_SPACE)),
        (None, t)
            if t.contains("indent")
                || t.contains("did not find expected")
                || t.contains("block") =>
        {
            (line, say!(NOT_AS_DEEP))
        }
        (None, t) if t.contains("quoted") || t.contains("scalar") => (line, say!(QUOTE_CLOSING)),
        (None, t) => (line, Saying::quote(t)),
    };
    Some(fault(text, line, line, what))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(text: &str) -> Option<(u32, String)> {
        let language = Language::of_id("xml").expect("a language");
        let fault = faults("quay.xml", language, text).into_iter().next()?;
        Some((fault.line, fault.what.to_string()))
    }

    #[test]
    fn an_element_whose_end_does_not_fit_is_told_by_what_lacks() {
        let sound = "<quay>\n <boat>\n  <rope/>\n </boat>\n <boat>\n  <rope/>\n </boat>\n</quay>\n";
        assert_eq!(told(sound), None);
        let at = |from: &str, to: &str, nth: usize| {
            let (at, _) = sound.match_indices(from).nth(nth).expect("it is there");
            told(&format!("{}{to}{}", &sound[..at], &sound[at + from.len()..]))
        };
        // Its end is mistyped: told there.
        let (line, says) = at("</boat>", "</baot>", 0).expect("a fault");
        assert_eq!((line, says.contains("is written </`baot`>")), (4, true), "{says}");
        // Its beginning is gone: told behind the one before.
        let (line, says) = at(" <boat>\n", "", 1).expect("a fault");
        assert_eq!((line, says.contains("is missing")), (4, true), "{says}");
        // Its end is gone: told where it begins.
        let (line, says) = at(" </boat>\n", "", 1).expect("a fault");
        assert_eq!((line, says.contains("opened here")), (5, true), "{says}");
    }

    #[test]
    fn names_that_begin_alike_are_counted_apart() {
        let text = "<a>\n<ab/>\n<ab x='1'></ab>\n</a>\n";
        assert!(!closes_too_many(text, 4, "a"));
        assert!(!closes_too_many(text, 4, "ab"));
        assert!(closes_too_many("<ab/>\n</ab>\n", 2, "ab"));
    }
}

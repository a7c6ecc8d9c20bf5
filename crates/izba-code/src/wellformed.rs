//! Whether a data file is what its format wants: asked of the standard reader of each format, told
//! with the line to mend.

use izba_model::code::{Language, SyntaxFault};
use izba_model::dialect::Form;

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
    fault.into_iter().collect()
}

fn fault(text: &str, line: u32, noticed: u32, what: String) -> SyntaxFault {
    let lines = text.lines().count().max(1) as u32;
    let (line, noticed) = (line.clamp(1, lines), noticed.clamp(1, lines));
    let at = text.split_inclusive('\n').take(line as usize - 1).map(str::len).sum();
    SyntaxFault {
        line,
        to_line: noticed.max(line),
        at,
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
        t if t.contains("expected `,`") => "a comma is missing here".to_owned(),
        t if t.contains("trailing comma") => {
            "there is a comma too many before the closing bracket".to_owned()
        }
        t if t.contains("EOF") => "something that was opened is never closed".to_owned(),
        t if t.contains("key must be a string") => {
            "a name has to stand in double quotes".to_owned()
        }
        t if t.contains("expected value") => "a value is missing here, or has no quotes".to_owned(),
        t => t.to_owned(),
    };
    Some(fault(text, shown, line, what))
}

fn xml(text: &str) -> Option<SyntaxFault> {
    use roxmltree::Error;
    let options = roxmltree::ParsingOptions { allow_dtd: true, ..Default::default() };
    let error = roxmltree::Document::parse_with_options(text, options).err()?;
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
            let from = opened(expected).unwrap_or(line);
            (from, format!("<{expected}> is opened here and not closed before </{actual}>"))
        }
        Error::UnclosedRootNode => (1, "the first element is never closed".to_owned()),
        Error::UnexpectedEntityCloseTag(_)
        | Error::UnknownEntityReference(..)
        | Error::MalformedEntityReference(_) => {
            (line, "an & has to be written &amp; here".to_owned())
        }
        Error::DuplicatedAttribute(name, _) => {
            (line, format!("{name} stands twice in one element"))
        }
        Error::InvalidChar2(expected, ..) if *expected == "a quote" => {
            (line, "the value of an attribute has to stand in quotes".to_owned())
        }
        Error::InvalidAttributeValue(_) => (
            line,
            "a < stands in the value of an attribute: is its closing quote missing?".to_owned(),
        ),
        Error::UnexpectedEndOfStream => {
            (line, "the file ends in the middle of an element".to_owned())
        }
        _ => (line, "the element is not written as XML wants it".to_owned()),
    };
    Some(fault(text, shown, line, what))
}

fn toml(text: &str) -> Option<SyntaxFault> {
    let error = toml::from_str::<toml::Table>(text).err()?;
    let line = error.span().map_or(1, |span| {
        text.as_bytes()[..span.start.min(text.len())].iter().filter(|b| **b == b'\n').count() as u32
            + 1
    });
    let told = error.message().lines().next().unwrap_or_default();
    let what = match told {
        t if t.contains("duplicate key") => "this name stands twice".to_owned(),
        t if t.contains("string") && t.contains("invalid") || t.contains("quote") => {
            "the closing quotation mark is missing".to_owned()
        }
        t if t.contains("unclosed") || t.contains("expected `]`") => {
            "the closing bracket is missing".to_owned()
        }
        t if t.contains("expected `=`") || t.contains("key with no value") => {
            "a name has to be followed by = and a value".to_owned()
        }
        t => t.to_owned(),
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
        (Some((at, _)), _) => {
            (at as u32 + 1, "lines are set in with spaces here, never with a tab".to_owned())
        }
        (None, t) if t.contains("simple key") || t.contains("':'") => {
            (line, "a name has to be followed by : and a space".to_owned())
        }
        (None, t)
            if t.contains("indent")
                || t.contains("did not find expected")
                || t.contains("block") =>
        {
            (line, "this line is not set in as deep as its neighbours".to_owned())
        }
        (None, t) if t.contains("quoted") || t.contains("scalar") => {
            (line, "the closing quotation mark is missing".to_owned())
        }
        (None, t) => (line, t.to_owned()),
    };
    Some(fault(text, line, line, what))
}

//! The classes that a style sheet knows (CSS Syntax Level 3), read without any grammar: what stands
//! behind a `.` before a block. What stands in it, rules within rules too, is looked through alike.

use crate::within::each_tag;
use izba_model::code::{Language, Style};

/// Classes of a sheet that are kept at most.
const STYLES: usize = 20_000;

/// The classes that a style sheet, or what a page says of style, has rules for; none of other texts.
pub fn styles_of(language: Language, text: &str) -> Vec<Style> {
    let mut found = Vec::new();
    if language.styles {
        read(text, 1, &mut found);
    } else if language.within {
        let (mut line, mut counted) = (1, 0);
        each_tag(text, |tag, inner| {
            line +=
                memchr::memchr_iter(b'\n', &text.as_bytes()[counted..inner.start]).count() as u32;
            counted = inner.start;
            if tag.is("style") {
                read(&text[inner], line, &mut found);
            }
            found.len() < STYLES
        });
    }
    found
}

/// Reads the rules of a sheet that begins on a line.
fn read(text: &str, begins: u32, found: &mut Vec<Style>) {
    let mut at = 0;
    let mut line = begins;
    // What may be a selector: classes since the last block or declaration.
    let mut before: Vec<Style> = Vec::new();
    while let Some(c) = text[at..].chars().next() {
        let rest = &text[at..];
        let len = match c {
            '/' if rest.starts_with("/*") => rest.find("*/").map_or(rest.len(), |n| n + 2),
            '"' | '\'' => quoted(rest, c),
            '{' => {
                found.append(&mut before);
                1
            }
            '}' | ';' => {
                before.clear();
                1
            }
            '.' => {
                let part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-');
                let name = rest[1..].split(|c| !part(c)).next().unwrap_or("");
                if name.starts_with(|c: char| c.is_alphabetic() || matches!(c, '_' | '-')) {
                    before.push(Style { class: name.into(), line });
                }
                1 + name.len()
            }
            _ => c.len_utf8(),
        };
        line += memchr::memchr_iter(b'\n', &rest.as_bytes()[..len]).count() as u32;
        at += len;
        if found.len() >= STYLES {
            return;
        }
    }
}

/// The length of a text in quotes; one that is not closed ends with its line.
fn quoted(rest: &str, quote: char) -> usize {
    let end = rest[1..].find([quote, '\n']).map_or(rest.len(), |n| n + 2);
    end.min(rest.len())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn told(file: &str, text: &str) -> Vec<String> {
        let styles = styles_of(Language::of(file).expect("known"), text);
        styles.iter().map(|s| format!("{} {}", s.line, s.class)).collect()
    }

    #[test]
    fn classes_before_a_block_are_told_and_no_numbers_files_or_comments() {
        let sheet = "/* .old { } */\n.full, li.late:hover > .seat { margin: .5em; background: url(a.png) }\n\
            @media (width > 4.5em) {\n  .hint { content: '.x {' }\n}\n.lone;\n";
        assert_eq!(told("a.css", sheet), ["2 full", "2 late", "2 seat", "4 hint"]);
        let page =
            "<p class=\"no\">.no {</p>\n<style>\n.low { }\n</style><script>a.b; {}</script>\n";
        assert_eq!(told("a.html", page), ["3 low"]);
        assert_eq!(told("a.js", sheet), Vec::<String>::new());
    }

    proptest! {
        #[test]
        fn any_sheet_can_be_read(text in "[.{};/*'\"a-c\né ]{0,80}") {
            for style in styles_of(Language::of("a.css").expect("known"), &text) {
                let line = text.split('\n').nth(style.line as usize - 1);
                prop_assert!(line.is_some_and(|l| l.contains(&*style.class)));
            }
        }
    }
}

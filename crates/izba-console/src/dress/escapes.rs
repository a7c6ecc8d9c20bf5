//! Texts of several lines that were written into one: `\n` and `\t` in a quoted text, once or in
//! several layers, `#012` in a system's log.

/// Layers that are taken off.
const LAYERS: usize = 4;
/// Longer texts are not looked into, in bytes.
const LONGEST: usize = 256 * 1024;

/// The lines of a text that was written into this one; the most likely reading first: what stands
/// in quotes around it, then everything.
pub(crate) fn lines_within(text: &str) -> Vec<String> {
    if text.len() > LONGEST {
        return Vec::new();
    }
    let mut found: Vec<String> = Vec::new();
    for text in quoted(text).into_iter().chain([text]) {
        if let Some(lines) = opened(text)
            && !found.contains(&lines)
        {
            found.push(lines);
        }
    }
    found
}

/// Takes layers off until there are lines.
fn opened(text: &str) -> Option<String> {
    let mut text = std::borrow::Cow::Borrowed(text);
    for _ in 0..LAYERS {
        if text.contains('\n') {
            return Some(text.into_owned());
        }
        if text.contains("#012") {
            return Some(text.replace("#012", "\n").replace("#011", "\t"));
        }
        if !text.contains("\\n") && !text.contains("\\u000a") {
            return None;
        }
        text = unescaped(&text).into();
    }
    text.contains('\n').then(|| text.into_owned())
}

/// One layer less.
fn unescaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    let mut chars = text.chars();
    while let Some(c) = chars.next() {
        if c != '\\' {
            out.push(c);
            continue;
        }
        match chars.next() {
            Some('n') => out.push('\n'),
            Some('t') => out.push('\t'),
            Some('r') => {}
            Some('u') => {
                let digits: String = chars.clone().take(4).collect();
                match u32::from_str_radix(&digits, 16).ok().filter(|_| digits.len() == 4) {
                    Some(code) => {
                        out.push(char::from_u32(code).unwrap_or('\u{FFFD}'));
                        chars.nth(3);
                    }
                    None => out.push_str("\\u"),
                }
            }
            Some(c @ ('"' | '\'' | '\\' | '/' | '`')) => out.push(c),
            Some(other) => {
                out.push('\\');
                out.push(other);
            }
            None => out.push('\\'),
        }
    }
    out
}

/// What stands in quotes around the first line end that is written out: in the innermost ones, and
/// in the outermost.
fn quoted(text: &str) -> Vec<&str> {
    let Some(end_of_line) = text.find("\\n") else { return Vec::new() };
    let bytes = text.as_bytes();
    let layers_at = |at: usize| bytes[..at].iter().rev().take_while(|b| **b == b'\\').count();
    let is_quote = |b: u8| matches!(b, b'"' | b'\'' | b'`');
    // One behind a letter closes or is an apostrophe, unless the letter tells a kind of text.
    let opens = |at: usize| {
        let before = &text[..at - layers_at(at)];
        let word = before.len() - before.trim_end_matches(|c: char| c.is_alphanumeric()).len();
        let kind = before.ends_with(['b', 'r', 'f', 'u']) && word == 1;
        let alone = before[..before.len() - word].chars().next_back();
        word == 0 || kind && alone.is_none_or(|c| c.is_whitespace() || "([{=,:".contains(c))
    };
    let around = |at: &usize| {
        let (quote, layers) = (bytes[*at], layers_at(*at));
        let same = |other: usize| bytes[other] == quote && layers_at(other) == layers;
        is_quote(quote) && opens(*at) && !(at + 1..end_of_line).any(same)
    };
    let within = |at: usize| {
        let layers = layers_at(at);
        let closes = (end_of_line..bytes.len()).find(|other| {
            bytes[*other] == bytes[at]
                && layers_at(*other) == layers
                && !bytes.get(other + 1).is_some_and(u8::is_ascii_alphanumeric)
        });
        text.get(at + 1..closes.map_or(text.len(), |end| end - layers))
    };
    let all: Vec<usize> = (0..end_of_line).filter(around).collect();
    let ends = [all.last(), all.first()];
    ends.into_iter().flatten().filter_map(|at| within(*at)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn layers_come_off_until_there_are_lines() {
        let first = |text: &str| lines_within(text).into_iter().next();
        assert_eq!(first(r#"failed with "a \"b\"\n\tc" at 3"#).as_deref(), Some("a \"b\"\n\tc"));
        assert_eq!(first(r#"x={"m":"{\"e\":\"a\\nb\"}"}"#).as_deref(), Some("a\nb"));
        assert_eq!(first("b\"it's\\ngone\"").as_deref(), Some("it's\ngone"));
        assert_eq!(first("cron: a#012b").as_deref(), Some("cron: a\nb"));
        assert_eq!(first("C:\\x\\y"), None);
    }

    proptest! {
        #[test]
        fn what_was_written_in_layers_comes_out_again(
            lines in prop::collection::vec("[a-z \"']{0,12}", 2..5), layers in 1usize..4,
        ) {
            let text = lines.join("\n");
            let mut written = text.clone();
            for _ in 0..layers {
                let quoted = serde_json::to_string(&written).expect("a text");
                written = quoted[1..quoted.len() - 1].to_owned();
            }
            prop_assert_eq!(lines_within(&written).pop(), Some(text));
        }

        #[test]
        fn any_text_is_answered(text in "([a-c\"'`\\\\n]|\\\\n|\\\\u000a|\\\\u00e9|#012){0,30}") {
            let _ = lines_within(&text);
        }
    }
}

//! The tags of elements that are written into a script (JSX), read without any grammar, so that it
//! works on broken text too; and which of them are opened and not closed.

use crate::signs::{self, Sort, Token};
use izba_model::code::Language;

/// One tag as it is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tag<'t> {
    /// What it does.
    pub does: Does,
    /// The element's name; nothing in `<>` and `</>`.
    pub name: &'t str,
    /// Byte of the text where its `<` stands, from 0.
    pub start: usize,
    /// The first byte behind its `>`.
    pub end: usize,
}

/// What a tag does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Does {
    /// Opens an element.
    Opens,
    /// Closes one.
    Closes,
    /// Is a whole element.
    Both,
}

/// What does not go together in the tags of a text.
#[derive(Debug, PartialEq, Eq)]
pub enum Odd<'t> {
    /// Nothing closes this one; the other is the closing tag of what it stands in.
    Unclosed(Tag<'t>, Option<Tag<'t>>),
    /// This one closes nothing; the other is what is open there.
    Unopened(Tag<'t>, Option<Tag<'t>>),
}

/// What the reader is in.
enum Within<'t> {
    /// Code, so many braces deep.
    Code(usize),
    /// An element that this tag opened.
    Element(Tag<'t>),
}

/// Bytes that may be gone through for tags that turn out to be none, for each byte of the text: what is
/// nothing but their beginnings is looked through no further.
const IN_VAIN: usize = 4;

/// Nobody writes elements so deep in one another.
const DEEP: usize = 1000;

/// All tags of a script, and what does not go together in them; none where too much only looks like
/// tags.
pub fn read<'t>(language: Language, text: &'t str) -> (Vec<Tag<'t>>, Vec<Odd<'t>>) {
    let (mut tags, mut odd) = (Vec::new(), Vec::new());
    let mut within = vec![Within::Code(0)];
    let mut before: Option<Token<'t>> = None;
    let mut at = 0;
    let mut left = text.len().saturating_mul(IN_VAIN);
    while let Some(c) = text[at..].chars().next() {
        if left == 0 || within.len() > DEEP {
            return (Vec::new(), Vec::new());
        }
        if c == '<'
            && may_begin(within.last(), before.as_ref(), &text[..at])
            && let Some(tag) = tag_at(language, text, at, &mut left)
        {
            take(tag, &mut within, &mut odd);
            tags.push(tag);
            (at, before) = (tag.end, None);
            continue;
        }
        let Some(Within::Code(depth)) = within.last_mut() else {
            if c == '{' {
                within.push(Within::Code(0));
                before = None;
            }
            at += c.len_utf8();
            continue;
        };
        match c {
            '{' => *depth += 1,
            '}' if *depth > 0 => *depth -= 1,
            // Back to what the element holds.
            '}' if within.len() > 1 => {
                within.pop();
                at += 1;
                continue;
            }
            _ => {}
        }
        at += step(language, &text[at..], at, &mut before);
    }
    odd.extend(within.into_iter().rev().filter_map(|w| match w {
        Within::Element(tag) => Some(Odd::Unclosed(tag, None)),
        Within::Code(_) => None,
    }));
    (tags, odd)
}

/// The length of the next token, comment or blank of code; a token is kept as the one before.
fn step<'t>(
    language: Language,
    rest: &'t str,
    start: usize,
    before: &mut Option<Token<'t>>,
) -> usize {
    let blank = rest.len() - rest.trim_start().len();
    if blank > 0 {
        return blank;
    }
    if let Some(len) = signs::comment(language, rest) {
        return len.max(1);
    }
    let (sort, len) = signs::next(language, rest, before.as_ref());
    let len = len.max(1);
    let text = &rest[..len];
    *before = Some(Token { sort, text, start, line: 0, first: false, indent: 0, of_block: false });
    len
}

/// Whether a `<` begins a tag: in an element always, in code only where no value stands before it.
fn may_begin(within: Option<&Within<'_>>, before: Option<&Token<'_>>, text: &str) -> bool {
    if let Some(Within::Element(_)) = within {
        return true;
    }
    match before {
        None => true,
        Some(t) if t.sort == Sort::Word => BEFORE_A_VALUE.contains(&t.text) && t.end() < text.len(),
        Some(t) => t.sort == Sort::Sign && !matches!(t.text, ")" | "]" | "}"),
    }
}

const BEFORE_A_VALUE: &[&str] = &["return", "default", "yield", "await", "case"];

/// The tag that begins here; `None` where something else does.
fn tag_at<'t>(
    language: Language,
    text: &'t str,
    start: usize,
    left: &mut usize,
) -> Option<Tag<'t>> {
    let closes = text[start + 1..].starts_with('/');
    let from = start + 1 + usize::from(closes);
    let is_name = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$' | '.' | ':' | '-');
    let len = text[from..].find(|c| !is_name(c)).unwrap_or(text.len() - from);
    let name = &text[from..from + len];
    if !name.is_empty() && !name.starts_with(|c: char| c.is_alphabetic() || c == '_' || c == '$') {
        return None;
    }
    let end = end_of(language, text, from + len, closes || name.is_empty(), left);
    let (end, both) = end?;
    let does = match (closes, both) {
        (true, _) => Does::Closes,
        (false, true) => Does::Both,
        (false, false) => Does::Opens,
    };
    Some(Tag { does, name, start, end })
}

/// The byte behind the `>` of a tag, and whether a `/` stands before it.
fn end_of(
    language: Language,
    text: &str,
    from: usize,
    bare: bool,
    left: &mut usize,
) -> Option<(usize, bool)> {
    let mut at = from;
    loop {
        *left = left.checked_sub(1)?;
        at += text[at..].len() - text[at..].trim_start().len();
        let rest = &text[at..];
        match rest.chars().next()? {
            '>' => return Some((at + 1, false)),
            _ if bare => return None,
            '/' if rest.starts_with("/>") => return Some((at + 2, true)),
            quote @ ('"' | '\'') => {
                let length = rest[1..].find(quote);
                *left = left.saturating_sub(length.unwrap_or(rest.len()));
                at += 2 + length?;
            }
            '{' => at += braces(language, rest, left)?,
            c if c.is_alphanumeric() || matches!(c, '_' | '$' | '-' | ':' | '.' | '=') => {
                at += c.len_utf8();
            }
            _ => return None,
        }
    }
}

/// The length of what stands in braces, with them.
fn braces(language: Language, text: &str, left: &mut usize) -> Option<usize> {
    let (mut at, mut depth, mut before) = (0, 0usize, None);
    while let Some(c) = text[at..].chars().next() {
        *left = left.checked_sub(1)?;
        match c {
            '{' => depth += 1,
            '}' if depth == 1 => return Some(at + 1),
            '}' => depth -= 1,
            _ => {}
        }
        at += step(language, &text[at..], at, &mut before);
    }
    None
}

/// Opens or closes an element, and tells what does not go together.
fn take<'t>(tag: Tag<'t>, within: &mut Vec<Within<'t>>, odd: &mut Vec<Odd<'t>>) {
    match tag.does {
        Does::Both => {}
        Does::Opens => within.push(Within::Element(tag)),
        Does::Closes => {
            let opened = |w: &Within<'_>| matches!(w, Within::Element(t) if t.name == tag.name);
            let Some(from) = within.iter().rposition(opened) else {
                let open = within.iter().rev().find_map(|w| match w {
                    Within::Element(open) => Some(*open),
                    Within::Code(_) => None,
                });
                odd.push(Odd::Unopened(tag, open));
                return;
            };
            let left = within.drain(from..).skip(1).filter_map(|w| match w {
                Within::Element(open) => Some(Odd::Unclosed(open, Some(tag))),
                Within::Code(_) => None,
            });
            odd.extend(left);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn read_tsx(text: &str) -> (Vec<Tag<'_>>, Vec<Odd<'_>>) {
        read(Language::of_id("tsx").expect("tsx"), text)
    }

    fn names(text: &str) -> Vec<(Does, &str)> {
        read_tsx(text).0.into_iter().map(|t| (t.does, t.name)).collect()
    }

    #[test]
    fn tags_are_told_from_comparisons_types_and_texts() {
        use Does::{Both, Closes, Opens};
        assert_eq!(
            names("return <ol a=\"x>y\" b={() => c > 2}>{d < e && <Pier.Rope />}don't</ol>;"),
            [(Opens, "ol"), (Both, "Pier.Rope"), (Closes, "ol")]
        );
        assert_eq!(names("const a = (<><p>{`<b>`}</p></>);").len(), 4);
        for code in [
            "const [a] = useState<Order[]>([]);",
            "for (let i = 0; i < planks; i++) { f(i<n, m>2); }",
            "const a: Array<Boat> = '<p>'; // <p>",
            "if (a <b && c> d) { }",
        ] {
            assert_eq!(names(code), [], "{code}");
        }
    }

    #[test]
    fn what_is_not_closed_is_told_with_what_it_stands_in() {
        let text = "f(<form><p>{a}<b>x</b></form>); g(<i>y</i>);";
        let (_, odd) = read_tsx(text);
        let [Odd::Unclosed(p, Some(form))] = odd[..] else { panic!("{odd:?}") };
        assert_eq!((p.name, &text[form.start..form.end]), ("p", "</form>"));
        let (_, odd) = read_tsx("f(<p>a</b></p>)");
        let [Odd::Unopened(b, Some(p))] = odd[..] else { panic!("{odd:?}") };
        assert_eq!((b.name, p.name), ("b", "p"));
        assert_eq!(read_tsx("f(<Pier>").1.len(), 1);
    }

    /// What looks like the beginning of a tag again and again is not looked through each time.
    #[test]
    fn however_much_begins_like_a_tag_little_is_looked_through() {
        for text in ["<a {".repeat(20_000), "<a b=\"'".repeat(12_000), "<a <".repeat(30_000)] {
            let text = format!("f({text}");
            let mut left = text.len() * IN_VAIN;
            let mut tried = 0;
            for at in text.match_indices('<').map(|(at, _)| at) {
                tried += usize::from(left > 0);
                tag_at(Language::of_id("tsx").expect("tsx"), &text, at, &mut left);
            }
            assert!(left > 0 || tried < 1_000, "{} {tried}", &text[..8]);
            assert!(read_tsx(&text).1.len() <= text.len());
        }
        let deep = format!("f({}{}", "<a>".repeat(100_000), "</b>".repeat(100_000));
        assert_eq!(read_tsx(&deep), (Vec::new(), Vec::new()));
    }

    proptest! {
        #[test]
        fn anything_can_be_read_and_tags_stand_in_order(
            text in "[<>/{}\"'`ap=. \n(é-]{0,80}",
        ) {
            let (tags, odd) = read_tsx(&text);
            prop_assert!(odd.len() <= tags.len());
            for tag in &tags {
                prop_assert!(text[tag.start..tag.end].starts_with('<'));
                prop_assert!(text[tag.start..tag.end].ends_with('>'));
            }
            prop_assert!(tags.windows(2).all(|w| w[0].end <= w[1].start));
        }
    }
}

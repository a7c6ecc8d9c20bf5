//! Code that stands within other text: the scripts of a page, and of a component in one file.
//!
//! Everything else becomes white space, so that each byte and each line stays where it is.

use izba_model::code::{Element, Language, Script};
use memchr::memmem;
use std::borrow::Cow;
use std::ops::Range;

/// The code of a text, as long as the text itself; of a language that has nothing around it, the text.
pub fn code_of(language: Language, text: &str) -> Cow<'_, str> {
    if !language.within {
        return Cow::Borrowed(text);
    }
    let bytes = text.as_bytes();
    let mut code: Vec<u8> =
        bytes.iter().map(|b| if matches!(b, b'\n' | b'\r') { *b } else { b' ' }).collect();
    each_tag(text, |tag, inner| {
        if language.data.is_some() {
            handlers(tag, bytes, &mut code);
        }
        if tag.is("script") && tag.holds_code() {
            code[inner.clone()].copy_from_slice(&bytes[inner.clone()]);
            // One script ends where it ends, whatever stands on its last line.
            if inner.end < bytes.len() {
                code[inner.end] = b';';
            }
        }
        true
    });
    // Whole parts were taken over between signs of one byte each.
    Cow::Owned(String::from_utf8(code).unwrap_or_default())
}

/// Elements of a page that are kept at most.
const ELEMENTS: usize = 20_000;

/// The elements of a page that scripts can ask for, and its scripts; none of any other text.
pub fn elements_of(language: Language, text: &str) -> Vec<Element> {
    let mut found = Vec::new();
    if !language.within || language.data.is_none() {
        return found;
    }
    let bytes = text.as_bytes();
    let (mut line, mut counted) = (1, 0);
    each_tag(text, |tag, _| {
        line += memchr::memchr_iter(b'\n', &bytes[counted..tag.begin]).count() as u32;
        counted = tag.begin;
        let element = tag.element(line);
        let first = !found.iter().any(|e: &Element| e.tag == element.tag);
        if first || element.id.is_some() || element.script.is_some() || !element.classes.is_empty()
        {
            found.push(element);
        }
        found.len() < ELEMENTS
    });
    found
}

/// Tells of every tag outside of comments, in their order, with what stands in it where that is no
/// page (of scripts and styles), until it is enough.
pub(crate) fn each_tag<'t>(text: &'t str, mut goes_on: impl FnMut(&Tag<'t>, Range<usize>) -> bool) {
    let bytes = text.as_bytes();
    let mut at = 0;
    while let Some(open) = memchr::memchr(b'<', &bytes[at..]).map(|n| at + n) {
        if bytes[open..].starts_with(b"<!--") {
            at = memmem::find(&bytes[open..], b"-->").map_or(bytes.len(), |n| open + n + 3);
            continue;
        }
        let Some(tag) = Tag::at(text, open) else {
            at = open + 1;
            continue;
        };
        at = tag.end;
        if tag.is("script") || tag.is("style") {
            let close = format!("</{}", tag.name.to_ascii_lowercase());
            at = find_ignoring_case(bytes, at, close.as_bytes()).unwrap_or(bytes.len());
        }
        if !goes_on(&tag, tag.end..at) {
            return;
        }
    }
}

/// A tag that opens something.
pub(crate) struct Tag<'t> {
    /// The byte at which it begins.
    begin: usize,
    name: &'t str,
    /// Names of its attributes, each with the bytes of its value.
    attributes: Vec<(&'t str, Range<usize>)>,
    text: &'t str,
    /// The byte behind it.
    end: usize,
}

impl<'t> Tag<'t> {
    fn at(text: &'t str, open: usize) -> Option<Tag<'t>> {
        let bytes = text.as_bytes();
        let part = |b: &u8| !b.is_ascii_whitespace() && !matches!(b, b'>' | b'/' | b'=');
        let run = |from: usize| from + bytes[from..].iter().take_while(|b| part(b)).count();
        let name = open + 1..run(open + 1);
        if !bytes.get(name.start).is_some_and(u8::is_ascii_alphabetic) {
            return None;
        }
        let mut tag = Tag {
            begin: open,
            name: text.get(name.clone())?,
            attributes: Vec::new(),
            text,
            end: name.end,
        };
        loop {
            let space = |b: &&u8| b.is_ascii_whitespace() || matches!(b, b'/' | b'=');
            tag.end += bytes[tag.end..].iter().take_while(space).count();
            match bytes.get(tag.end)? {
                b'>' => {
                    tag.end += 1;
                    return Some(tag);
                }
                _ => tag.end = tag.attribute(bytes, run)?,
            }
        }
    }

    /// Reads one attribute; gives the byte behind it.
    fn attribute(&mut self, bytes: &[u8], run: impl Fn(usize) -> usize) -> Option<usize> {
        let from = self.end;
        let behind = run(from);
        if behind == from {
            return Some(from + 1);
        }
        let name = self.text.get(from..behind)?;
        if bytes.get(behind) != Some(&b'=') {
            self.attributes.push((name, behind..behind));
            return Some(behind);
        }
        let value = match bytes.get(behind + 1)? {
            quote @ (b'"' | b'\'') => {
                let length = memchr::memchr(*quote, &bytes[behind + 2..])?;
                behind + 2..behind + 2 + length
            }
            _ => behind + 1..run(behind + 1).max(behind + 1),
        };
        let quoted = usize::from(matches!(bytes[behind + 1], b'"' | b'\''));
        self.attributes.push((name, value.clone()));
        Some(value.end + quoted)
    }

    /// Whether it is one of this name.
    pub(crate) fn is(&self, name: &str) -> bool {
        self.name.eq_ignore_ascii_case(name)
    }

    /// The value of an attribute, empty where it has none; `None` where it is not there.
    fn value(&self, name: &str) -> Option<&'t str> {
        let mut all = self.attributes.iter();
        let (_, value) = all.find(|(named, _)| named.eq_ignore_ascii_case(name))?;
        Some(self.text.get(value.clone()).unwrap_or_default().trim())
    }

    /// What scripts know it by, and the script that it is.
    fn element(&self, line: u32) -> Element {
        let filled = |name: &str| self.value(name).filter(|v| !v.is_empty());
        let classes = filled("class").into_iter().flat_map(str::split_whitespace).map(Box::from);
        let module = self.value("type") == Some("module");
        // Without an address there is nothing that could come later.
        let later = self.value("defer").or(self.value("async")).is_some();
        let script = (self.is("script") && self.holds_code()).then(|| Script {
            from: filled("src").map(Box::from),
            module,
            deferred: module || later && filled("src").is_some(),
        });
        Element {
            line,
            tag: self.name.to_ascii_lowercase().into(),
            id: filled("id").map(Box::from),
            name: filled("name").map(Box::from),
            classes: classes.collect(),
            script,
        }
    }

    /// Whether a script holds code, and no data or template.
    fn holds_code(&self) -> bool {
        let Some(kind) = self.value("type").map(str::to_ascii_lowercase) else { return true };
        kind.is_empty() || kind == "module" || kind.ends_with("javascript") || kind == "text/babel"
    }
}

/// What attributes do when something happens: `onclick="load()"` is code of its own.
fn handlers(tag: &Tag<'_>, bytes: &[u8], code: &mut [u8]) {
    for (name, value) in &tag.attributes {
        let handles = name.len() > 2 && name.get(..2).is_some_and(|n| n.eq_ignore_ascii_case("on"));
        let quoted = bytes.get(value.start.wrapping_sub(1)).is_some_and(|b| *b != b'=');
        if handles && quoted && !value.is_empty() {
            code[value.clone()].copy_from_slice(&bytes[value.clone()]);
            (code[value.start - 1], code[value.end]) = (b';', b';');
        }
    }
}

fn find_ignoring_case(bytes: &[u8], from: usize, what: &[u8]) -> Option<usize> {
    let mut at = from;
    while let Some(found) = memchr::memchr(b'<', bytes.get(at..)?).map(|n| at + n) {
        if bytes.get(found..found + what.len()).is_some_and(|b| b.eq_ignore_ascii_case(what)) {
            return Some(found);
        }
        at = found + 1;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn code(path: &str, text: &str) -> String {
        code_of(Language::of(path).expect("it is known"), text).into_owned()
    }

    #[test]
    fn scripts_and_handlers_of_a_page_stay_and_all_else_is_white_space() {
        let page = "<!-- <script>a()</script> --><p title=\"x > y\">é</p>\n<script src=\"b.js\"></script>\
            <SCRIPT type=module>\nlet c = '<b>';\n</SCRIPT><script type=\"application/json\">{}</script>\n\
            <button onclick=\"load('d')\" disabled>if (e) {</button><style>f > g {}</style>\n";
        let code = code("quay.html", page);
        assert_eq!(code.len(), page.len());
        let lines: Vec<String> =
            code.lines().map(|l| l.split_whitespace().collect::<Vec<_>>().join(" ")).collect();
        assert_eq!(lines, ["", ";", "let c = '<b>';", ";", ";load('d');"]);
    }

    #[test]
    fn of_a_component_only_its_script_is_code() {
        let component = "<template><p @click=\"a()\" onclick=\"b()\">{{ c }}</p></template>\n<script setup \
            lang=\"ts\">\nconst d: number = 1\n</script>\n";
        let lines: Vec<String> =
            code("Quay.vue", component).lines().map(|l| l.trim().to_owned()).collect();
        assert_eq!(lines, ["", "", "const d: number = 1", ";"]);
        assert_eq!(code("quay.js", "<script>"), "<script>", "all of it is code");
    }

    #[test]
    fn a_page_tells_its_names_and_its_scripts_in_their_order() {
        let page = "<!-- <p id=x> -->\n<script src=\"a.js\" defer></script>\n<p id=\"fare\" class=\"big  \
            red\">\n</p><script>let p = '<p id=no>'</script>\n<script type=module src=b.js></script>\n\
            <script type=\"application/json\" id=data>{}</script>\n";
        let told: Vec<String> = elements_of(Language::of("a.html").expect("known"), page)
            .iter()
            .map(|e| {
                let script = e.script.as_ref().map(|s| (s.from.as_deref(), s.module, s.deferred));
                format!("{} {} {:?} {:?} {script:?}", e.line, e.tag, e.id, e.classes)
            })
            .collect();
        assert_eq!(
            told,
            [
                "2 script None [] Some((Some(\"a.js\"), false, true))",
                "3 p Some(\"fare\") [\"big\", \"red\"] None",
                "4 script None [] Some((None, false, false))",
                "5 script None [] Some((Some(\"b.js\"), true, true))",
                "6 script Some(\"data\") [] None",
            ]
        );
        assert!(elements_of(Language::of("a.vue").expect("known"), page).is_empty());
    }

    proptest! {
        /// Whatever a page holds, what stays stands where it stood.
        #[test]
        fn bytes_and_lines_stay_where_they_are(text in "(<script|</script>|<!--|-->|<p |on[a-z]=|\"|'|>|<|\\n|é|[a-z(){} ]){0,60}") {
            let code = code("a.html", &text);
            let _ = elements_of(Language::of("a.html").expect("known"), &text);
            prop_assert_eq!(code.len(), text.len());
            for (was, is) in text.bytes().zip(code.bytes()) {
                prop_assert!(is == was || is == b' ' || is == b';');
                prop_assert_eq!(was == b'\n', is == b'\n');
            }
        }
    }
}

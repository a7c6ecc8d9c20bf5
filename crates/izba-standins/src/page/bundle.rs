//! The stand-in bundler: joins the modules that one needs into a single script, takes out comments
//! and blanks, and writes the source map beside it (ECMA-426).

use super::map::MapWriter;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

/// What a bundle became, and what is to be warned of.
#[derive(Debug)]
pub struct Bundle {
    /// The script.
    pub script: String,
    /// Its map, as JSON.
    pub map: String,
    /// Rings of modules that need one another, each from the module at which it was noticed back to
    /// itself.
    pub rings: Vec<Vec<String>>,
}

/// Joins `entry` and what it imports; paths are below `folder`, and the map names them from
/// `map_from`.
///
/// # Errors
///
/// A sentence when a module is not there or cannot be told apart into tokens.
pub fn bundle(folder: &Path, entry: &str, name: &str) -> Result<Bundle, String> {
    let mut joined =
        Joined { folder, order: Vec::new(), sources: BTreeMap::new(), rings: Vec::new() };
    joined.visit(entry, &mut Vec::new())?;
    let up = "../".repeat(name.matches('/').count());
    let file = name.rsplit('/').next().unwrap_or(name);
    let mut builder = MapWriter::new(file);
    let (mut script, mut line, mut column) = (String::new(), 0u32, 0u32);
    let mut last = None::<Token>;
    for module in &joined.order {
        let text = &joined.sources[module];
        let source = builder.source(format!("{up}{module}"), text);
        for token in
            without_modules(tokens(text).map_err(|(line, why)| format!("{module}:{line}: {why}"))?)
        {
            match last.as_ref().map_or(Gap::None, |last| gap(last, &token)) {
                Gap::None => {}
                Gap::Blank => {
                    script.push(' ');
                    column += 1;
                }
                Gap::Line => {
                    script.push('\n');
                    (line, column) = (line + 1, 0);
                }
            }
            builder.mapping((line, column), source, (token.line, token.column));
            script.push_str(&token.text);
            // Columns of source maps count UTF-16 units.
            match token.text.rsplit_once('\n') {
                Some((before, tail)) => {
                    line += before.matches('\n').count() as u32 + 1;
                    column = tail.encode_utf16().count() as u32;
                }
                None => column += token.text.encode_utf16().count() as u32,
            }
            last = Some(token);
        }
    }
    script += &format!("\n//# sourceMappingURL={file}.map\n");
    Ok(Bundle { script, map: builder.written(), rings: joined.rings })
}

struct Joined<'a> {
    folder: &'a Path,
    order: Vec<String>,
    sources: BTreeMap<String, String>,
    rings: Vec<Vec<String>>,
}

impl Joined<'_> {
    fn visit(&mut self, module: &str, way: &mut Vec<String>) -> Result<(), String> {
        if let Some(at) = way.iter().position(|m| m == module) {
            let mut ring = way[at..].to_vec();
            ring.push(module.to_owned());
            self.rings.push(ring);
            return Ok(());
        }
        if self.order.iter().any(|m| m == module) {
            return Ok(());
        }
        let text = std::fs::read_to_string(self.folder.join(module)).map_err(|_| {
            format!("{}: there is no module {module}", way.last().map_or("bundle", String::as_str))
        })?;
        way.push(module.to_owned());
        for wanted in
            imports(&tokens(&text).map_err(|(line, why)| format!("{module}:{line}: {why}"))?)
        {
            let mut tidy = PathBuf::new();
            for part in
                Path::new(module).parent().unwrap_or(Path::new("")).join(&wanted).components()
            {
                match part {
                    std::path::Component::CurDir => {}
                    std::path::Component::ParentDir => drop(tidy.pop()),
                    other => tidy.push(other),
                }
            }
            self.visit(&tidy.to_string_lossy(), way)?;
        }
        way.pop();
        self.sources.insert(module.to_owned(), text);
        self.order.push(module.to_owned());
        Ok(())
    }
}

#[derive(Debug, Clone)]
struct Token {
    text: String,
    /// Line from 0.
    line: u32,
    /// Column from 0, in UTF-16 units.
    column: u32,
    /// Whether a line ends between the one before and this one.
    after_line: bool,
}

enum Gap {
    None,
    Blank,
    Line,
}

/// What has to stand between two tokens.
fn gap(a: &Token, b: &Token) -> Gap {
    let word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    let ends = a.text.chars().last().is_some_and(|c| word(c) || ")]}\"'`".contains(c));
    let begins = b.text.chars().next().is_some_and(|c| word(c) || "\"'`([{/+-".contains(c));
    let (last, first) =
        (a.text.chars().last().unwrap_or(' '), b.text.chars().next().unwrap_or(' '));
    if b.after_line && ends && begins && !(last == '}' || last == '{') {
        // A line's end may stand for a semicolon.
        Gap::Line
    } else if (word(last) && word(first)) || (last == first && "+-".contains(last)) {
        Gap::Blank
    } else {
        Gap::None
    }
}

/// Splits a script into tokens without comments and blanks.
fn tokens(text: &str) -> Result<Vec<Token>, (usize, &'static str)> {
    const LONG: &[&str] = &[
        "===", "!==", "...", "=>", "==", "!=", "<=", ">=", "&&", "||", "??", "?.", "++", "--",
        "+=", "-=", "*=", "/=", "**",
    ];
    let chars: Vec<char> = text.chars().collect();
    let (mut found, mut at, mut line, mut column, mut after_line) =
        (Vec::<Token>::new(), 0, 0u32, 0u32, true);
    while at < chars.len() {
        let begun = at;
        let c = chars[at];
        let starts =
            |sign: &str| sign.chars().enumerate().all(|(i, s)| chars.get(at + i) == Some(&s));
        let word = |c: &char| c.is_alphanumeric() || *c == '_' || *c == '$';
        let mut kept = true;
        if c.is_whitespace() {
            at += 1;
            kept = false;
        } else if starts("//") {
            at += chars[at..].iter().take_while(|c| **c != '\n').count();
            kept = false;
        } else if starts("/*") {
            at += 2;
            while at < chars.len() && !(chars[at] == '*' && chars.get(at + 1) == Some(&'/')) {
                at += 1;
            }
            at = (at + 2).min(chars.len());
            kept = false;
        } else if "\"'`".contains(c) {
            at += 1;
            while chars.get(at).is_some_and(|d| *d != c && (c == '`' || *d != '\n')) {
                at += if chars[at] == '\\' { 2 } else { 1 };
            }
            if chars.get(at) != Some(&c) {
                return Err((line as usize + 1, "a text is not closed"));
            }
            at += 1;
        } else if word(&c) {
            at += chars[at..]
                .iter()
                .take_while(|c| word(c) || (**c == '.' && chars[begun].is_ascii_digit()))
                .count();
        } else if c == '/'
            && found.last().is_none_or(|t| "(,=:[!&|?{};".contains(&t.text) || t.text == "return")
        {
            at += 1;
            while chars.get(at).is_some_and(|d| *d != '/' && *d != '\n') {
                at += if chars[at] == '\\' { 2 } else { 1 };
            }
            at += 1 + chars
                .get(at + 1..)
                .map_or(0, |rest| rest.iter().take_while(|c| c.is_alphabetic()).count());
            at = at.min(chars.len());
        } else {
            at += LONG.iter().find(|s| starts(s)).map_or(1, |s| s.len());
        }
        let text: String = chars[begun..at].iter().collect();
        let lines = text.matches('\n').count() as u32;
        let width = |s: &str| s.encode_utf16().count() as u32;
        let here = (line, column);
        (line, column) = match text.rsplit_once('\n') {
            Some((_, tail)) => (line + lines, width(tail)),
            None => (line, column + width(&text)),
        };
        if kept {
            found.push(Token { text, line: here.0, column: here.1, after_line });
            after_line = false;
        } else {
            after_line |= lines > 0;
        }
    }
    Ok(found)
}

/// The modules that a script imports, as it names them.
fn imports(tokens: &[Token]) -> Vec<String> {
    let mut wanted = Vec::new();
    for (at, token) in tokens.iter().enumerate().filter(|(_, t)| t.text == "import") {
        let named = tokens[at..]
            .iter()
            .take_while(|t| t.text != ";")
            .find(|t| t.text.starts_with(['"', '\'']));
        if token.after_line || at == 0 {
            wanted.extend(named.map(|t| t.text.trim_matches(['"', '\'']).to_owned()));
        }
    }
    wanted
}

/// Takes out imports, and the word `export`: all modules share one scope.
fn without_modules(tokens: Vec<Token>) -> Vec<Token> {
    let mut kept = Vec::new();
    let mut skipping = false;
    for token in tokens {
        skipping |= token.text == "import" && (token.after_line || kept.is_empty());
        if !skipping && token.text != "export" {
            kept.push(token);
        } else if token.text == ";" {
            skipping = false;
        }
    }
    kept
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Tokens are pieces of the text in their order, and what is left between them is blank or
        /// a comment.
        #[test]
        fn any_text_is_taken_apart_in_order(text in "[a-z0-9 \n\"'`/*(){};=+.$\\\\é]{0,60}") {
            if let Ok(found) = tokens(&text) {
                let mut rest = text.as_str();
                for token in &found {
                    let at = rest.find(&token.text);
                    prop_assert!(at.is_some(), "{token:?} in {text:?}");
                    rest = &rest[at.unwrap_or(0) + token.text.len()..];
                }
            }
        }
    }

    #[test]
    fn a_bundle_is_short_and_its_map_leads_back() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        std::fs::write(
            folder.path().join("a.js"),
            "// first\nimport { b } from \"./b.js\";\n\nconst w = b + 1; /* w */\nlet x = \
                w\nlet y = `é\n${x}` + /a b/.source;\nuse(y);\n",
        )
        .expect("room");
        std::fs::write(
            folder.path().join("b.js"),
            "import { c } from './c.js';\nexport const b = c - -1;\n",
        )
        .expect("room");
        std::fs::write(
            folder.path().join("c.js"),
            "import { b } from './b.js';\nexport const c = 2;\n",
        )
        .expect("room");
        let made = bundle(folder.path(), "a.js", "dist/a.min.js").expect("it can be bundled");
        assert_eq!(
            made.script,
            "const c=2;const b=c- -1;const w=b+1;let x=w\nlet y=`é\n${x}`+/a \
                b/.source;use(y);\n//# sourceMappingURL=a.min.js.map\n"
        );
        assert_eq!(made.rings, [["b.js", "c.js", "b.js"]]);
        let map = sourcemap::SourceMap::from_slice(made.map.as_bytes()).expect("a map");
        for (text, source, line) in
            [("w=b", "../a.js", 3), ("b=c", "../b.js", 1), ("use(", "../a.js", 7)]
        {
            let before = &made.script[..made.script.find(text).expect("it is there")];
            let (row, col) = (
                before.matches('\n').count() as u32,
                before.rsplit('\n').next().unwrap_or("").encode_utf16().count() as u32,
            );
            let token = map.lookup_token(row, col).expect("a place");
            assert_eq!((token.get_source(), token.get_src_line()), (Some(source), line), "{text}");
        }
    }
}

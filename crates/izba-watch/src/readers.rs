//! The reader file, `izba-readers.toml`: how to read lines that Izba does not understand by itself.
//! Written by the screen, by hand, or by somebody else who uses the same console. Its form is told
//! in docs/READERS.md.

use izba_console::read::layout::{Layout, Origin, Template};
use izba_model::Level;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::path::Path;
use std::sync::Arc;

/// The file in the project's folder.
pub const FILE: &str = "izba-readers.toml";

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct ReaderFile {
    #[serde(default)]
    reader: Vec<toml::Spanned<Reader>>,
}

#[derive(Deserialize, Serialize)]
#[serde(deny_unknown_fields)]
struct Reader {
    name: String,
    line: String,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    below: Vec<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    source: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    kind: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    level: Option<String>,
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    levels: BTreeMap<String, String>,
}

/// Reads the text of a reader file.
///
/// # Errors
///
/// One sentence with the line: what is wrong there and what to do.
pub fn parse(text: &str) -> Result<Vec<Arc<Layout>>, String> {
    let line_at = |at: usize| 1 + text.get(..at).unwrap_or(text).matches('\n').count();
    let file: ReaderFile = toml::from_str(text).map_err(|e| {
        let at = e.span().map_or(1, |span| line_at(span.start));
        format!("line {at}: {}", e.message().lines().next().unwrap_or_default())
    })?;
    file.reader
        .into_iter()
        .map(|spanned| {
            let at = line_at(spanned.span().start);
            layout(spanned.into_inner())
                .map_err(|why| format!("the reader in line {at}: {why}"))
                .map(Arc::new)
        })
        .collect()
}

fn layout(reader: Reader) -> Result<Layout, String> {
    let Reader { name, line, below, source, kind, level, levels } = reader;
    let level_of = |word: &str| {
        Level::from_word(word).ok_or_else(|| {
            format!("“{word}” is no level; the levels are fatal, error, warning, info, debug")
        })
    };
    let part = |line: &str, which: &str| {
        Template::parse_part(line).map_err(|e| {
            let at = line[..e.at.min(line.len())].chars().count() + 1;
            format!("at character {at} of {which}: {}", e.sentence)
        })
    };
    let template = part(&line, "its line")?;
    let forms = below.iter().map(|b| part(b, "a line below it")).collect::<Result<_, String>>()?;
    let levels = levels
        .into_iter()
        .map(|(word, level)| Ok((word, level_of(&level)?)))
        .collect::<Result<_, String>>()?;
    let level = level.as_deref().map(level_of).transpose()?;
    let mut layout =
        Layout::new(template, levels, level, Origin::Taught { name }).map_err(|e| e.sentence)?;
    layout = layout.with_below(forms).map_err(|e| e.sentence)?;
    (layout.source, layout.kind) = (source, kind);
    Ok(layout)
}

/// The project's readers; none when it has no file.
///
/// # Errors
///
/// One sentence with file and line.
pub fn read_file(path: &Path) -> Result<Vec<Arc<Layout>>, String> {
    match izba_files::read_text(path, izba_files::SETTINGS_CAP) {
        Ok(text) => parse(&text).map_err(|why| {
            format!(
                "{}, {why}",
                path.file_name().map_or_else(|| FILE.into(), |n| n.to_string_lossy().into_owned())
            )
        }),
        Err(e) if e.kind() == std::io::ErrorKind::NotFound => Ok(Vec::new()),
        Err(e) => Err(format!("{} cannot be read: {}", path.display(), izba_sources::plain_io(&e))),
    }
}

/// Those that are for a source of this name, and of the kind of this word where it is known: of
/// what was kept in a file it is not.
pub fn of_source(all: &[Arc<Layout>], name: &str, kind: Option<&str>) -> Vec<Arc<Layout>> {
    let named = |l: &Layout| l.source.as_deref().is_none_or(|s| s == name);
    let fits = |l: &Layout| kind.is_none_or(|kind| l.kind.as_deref().is_none_or(|k| k == kind));
    all.iter().filter(|l| named(l) && fits(l)).cloned().collect()
}

/// Adds a reader to the project's file; one with the same name and line is replaced.
///
/// # Errors
///
/// A sentence, when the file cannot be read or written; it is left as it was then.
pub fn keep(root: &Path, layout: &Layout) -> Result<(), String> {
    let path = root.join(FILE);
    let mut text = match izba_files::read_text(&path, izba_files::SETTINGS_CAP) {
        Err(e) if e.kind() != std::io::ErrorKind::NotFound => {
            return Err(format!("{FILE} cannot be read: {}", izba_sources::plain_io(&e)));
        }
        read => read.unwrap_or_default(),
    };
    parse(&text).map_err(|why| format!("{FILE}, {why}"))?;
    if !text.is_empty() && !text.ends_with("\n\n") {
        text.push_str(if text.ends_with('\n') { "\n" } else { "\n\n" });
    }
    text += &written(layout)?;
    std::fs::write(&path, text)
        .map_err(|e| format!("{FILE} cannot be written: {}", izba_sources::plain_io(&e)))
}

/// A layout as the file has it.
///
/// # Errors
///
/// A sentence, when it cannot be written as TOML.
pub fn written(layout: &Layout) -> Result<String, String> {
    let name = match &layout.origin {
        Origin::Taught { name } => name.clone(),
        Origin::Inferred { lines } => format!("found from {lines} lines"),
    };
    let word = |level: Level| level.word().to_owned();
    let reader = Reader {
        name,
        line: layout.template.to_string(),
        below: layout.below().iter().map(|b| b.template.to_string()).collect(),
        source: layout.source.clone(),
        kind: layout.kind.clone(),
        level: layout.level.map(word),
        levels: layout.levels.iter().map(|(w, l)| (w.clone(), word(*l))).collect(),
    };
    let table =
        toml::to_string(&reader).map_err(|e| format!("the reader cannot be written: {e}"))?;
    Ok(format!(
        "[[reader]]\n{}",
        table.replace("\n[levels]", "\n[reader.levels]").replace("[levels]\n", "[reader.levels]\n")
    ))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn mistakes_are_told_with_their_line_and_what_is_written_is_read_again() {
        let told = |text: &str| {
            parse(text).map_or_else(
                |why| why,
                |all| all.iter().map(|l| written(l).expect("it can be")).collect(),
            )
        };
        let good = "[[reader]]\nname = \"gauge\"\nline = \"{level} {script} line {line} > \
            {message}\"\nlevels = { \"!!\" = \"error\", \".\" = \"info\" }\n";
        insta::assert_snapshot!(
            [
                told(good),
                told(&told(good)),
                told("[[reader]]\nname = \"x\"\nline = \"{who} {message}\""),
                told("\n\n[[reader]]\nname = \"x\"\nline = \"{message}\"\nlevel = \"awful\""),
                told("[[reader]]\nname = \"x\"\nline = \"!! {script} {line}\"\nbelow = [\"  {message}\", \"  at {script}\"]\n\
                      kind = \"run\"\nlevel = \"error\""),
                told("[[reader]]\nname = \"x\"\nline = \"!! {script}\"\nbelow = [\"  at {line\"]"),
                told("[[reader]]\nname = \"x\"\nline = \"!! {script}\"\nbelow = [\"  at {line}\"]"),
                told("[[reader]]\nname = \"x\""),
                told("reader = 4"),
            ]
            .join("\n--\n"),
            @r#"
            [[reader]]
            name = "gauge"
            line = "{level} {script} line {line} > {message}"

            [reader.levels]
            "!!" = "error"
            "." = "info"

            --
            [[reader]]
            name = "gauge"
            line = "{level} {script} line {line} > {message}"

            [reader.levels]
            "!!" = "error"
            "." = "info"

            --
            the reader in line 1: at character 2 of its line: “who” is no part of a line; the parts are time, level, thread, process, name, object, handler, script, line, column, function, kind, code, message, *
            --
            the reader in line 3: “awful” is no level; the levels are fatal, error, warning, info, debug
            --
            [[reader]]
            name = "x"
            line = "!! {script} {line}"
            below = ["  {message}", "  at {script}"]
            kind = "run"
            level = "error"

            --
            the reader in line 1: at character 6 of a line below it: this { is not closed by a }
            --
            the reader in line 1: it names no {message}, the sentence that tells what happened
            --
            line 1: missing field `line`
            --
            line 1: invalid type: integer `4`, expected a sequence
            "#
        );
    }

    #[test]
    fn a_lesson_holds_for_the_source_and_the_kind_that_it_names() {
        let of = |more: &str| {
            let text = format!("[[reader]]\nname = \"x\"\nline = \"{{message}}\"\n{more}");
            parse(&text).expect("it can be used")
        };
        let holds = |more: &str, name: &str, kind: Option<&str>| {
            !of_source(&of(more), name, kind).is_empty()
        };
        assert!(holds("", "gauge.log", Some("follow")) && holds("", "boat", None));
        assert!(holds("kind = \"run\"", "boat", Some("run")));
        assert!(!holds("kind = \"run\"", "boat", Some("follow")));
        // Of what was kept in a file nobody knows the kind.
        assert!(holds("kind = \"run\"", "boat", None));
        assert!(!holds("source = \"boat\"", "gauge.log", None));
    }

    proptest! {
        #[test]
        fn any_file_is_answered(text in "(\\[\\[reader\\]\\]\n|name = |line = |\"|\\{level\\}|\\{message\\}|level|s|=|\n|[ \
            -~]){0,20}") {
            let _ = parse(&text);
        }
    }
}

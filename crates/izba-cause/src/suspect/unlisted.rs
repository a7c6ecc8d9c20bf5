//! unlisted: a program reads lines of words into a table and looks something up there, and no line
//! begins with it: it is written otherwise there, or its line is missing.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::spelling::is_outside_name;
use super::symbols::is_name;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, How, Kind, NameEdit, name_edit};
use izba_model::dialect::Form;
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "unlisted", Absence, "../../words/suspects/unlisted.toml";
    WRITTEN_OTHERWISE = "written-otherwise",
    LINE_MISSING = "line-missing",
    LOOKED_UP = "looked-up",
}

/// The check for this: a key that no line of a file of words begins with.
pub static CHECK: Check = Check {
    id: "unlisted",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::ValueNotThere | Family::Other | Family::OutOfRange | Family::NameNotThere
            )
    },
    look,
};

/// Keys that were looked up and are not there, as CPython and the runtimes of C# and Java tell them.
static KEY: Pattern = Pattern::new(
    r"KeyError: '(?<py>[^']{2,40})'|given key '(?<cs>[^']{2,40})' was not present|NoSuchElement\w*: (?<java>[\w-]{2,40})",
);

/// Lines of one file that are looked at.
const LINES: usize = 4000;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let told = KEY.captures(&query.said).and_then(|c| c.iter().skip(1).flatten().next());
    let keys: Vec<&str> = match told {
        Some(key) => vec![key.as_str()],
        None => asked_of_filled(query),
    };
    for key in keys {
        let beside = looked_up_beside(query, key);
        for file in query.scope.iter().filter(|f| holds_lines(f)) {
            in_lines(query, file, key, &beside, seen);
        }
    }
}

fn holds_lines(file: &FileFacts) -> bool {
    matches!(file.language.data, Some(Form::Table | Form::Ini))
}

/// Members that the line asks of a table which code fills under names that it reads.
fn asked_of_filled<'a>(query: &Query<'a>) -> Vec<&'a str> {
    let filled = |name: &str| {
        query.named(name).any(|(_, n)| {
            let index = n.parent().filter(|p| p.is(Kind::Index) && p.child(0) == Some(n));
            index.is_some_and(|p| {
                p.parent().is_some_and(|t| t.is(Kind::Targets))
                    && p.child(1).is_some_and(|k| !matches!(k.kind(), Kind::Str | Kind::Num))
            })
        })
    };
    let asked = query.on_line().filter(|n| n.is(Kind::Field) && n.defines().is_none());
    let asked = asked.filter(|n| n.child(0).and_then(At::last_name).is_some_and(filled));
    let made = |word: &&str| {
        query.named(word).any(|(_, n)| {
            n.defines() == Some(How::Key) || n.is(Kind::Field) && n.defines().is_some()
        })
    };
    // What is called, or comes with the language, is no key.
    let outside = |word: &str| {
        matches!(word, "self" | "this")
            || is_outside_name(query.index, query.file.map(|f| f.language), word)
    };
    asked
        .filter(|n| !n.is_callee())
        .filter_map(At::text)
        .filter(|w| !made(w) && !outside(w))
        .collect()
}

/// What else is looked up like a key, the nearest before it first: texts of the same list, other
/// members of the same owner, what data names in the same column.
fn looked_up_beside<'a>(query: &Query<'a>, key: &str) -> Vec<&'a str> {
    let mut found: Vec<&str> = Vec::new();
    for (file, node) in query.named(key) {
        match node.kind() {
            Kind::Str => {
                let list = node.ancestors().take(2).find(|a| a.is(Kind::Table));
                let texts = list.into_iter().flat_map(At::whole).filter(|n| n.is(Kind::Str));
                found.extend(texts.filter_map(At::text));
            }
            Kind::Field => {
                let owner = node.child(0).and_then(At::last_name);
                let fields = file.tree.all().filter(|n| n.is(Kind::Field) && owner.is_some());
                found.extend(
                    fields
                        .filter(|n| n.child(0).and_then(At::last_name) == owner)
                        .filter_map(At::text),
                );
            }
            _ => {}
        }
    }
    // What data names in the same column.
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        if let Some(datum) = file.data.iter().find(|d| d.text.as_ref() == key) {
            found.extend(super::gaps::beside(file, datum));
        }
    }
    found.retain(|w| is_name(w));
    // Those that stand right before it come first.
    if let Some(at) = found.iter().position(|w| *w == key) {
        found[..at].reverse();
    }
    found.retain(|w| *w != key);
    let mut once: Vec<&str> = Vec::new();
    found.into_iter().for_each(|w| {
        if !once.contains(&w) {
            once.push(w);
        }
    });
    once
}

/// The first word of each line.
fn first_words(text: &str) -> Vec<(u32, &str)> {
    let ends = |c: char| matches!(c, ':' | '=' | ';' | ',' | '|' | '\t' | ']') || c.is_whitespace();
    let lines = text.lines().take(LINES).enumerate();
    lines
        .map(|(at, line)| (at as u32 + 1, line.trim().trim_start_matches('[')))
        .map(|(at, line)| (at, line.split(ends).next().unwrap_or("").trim_matches(['"', '\''])))
        .filter(|(_, word)| !word.is_empty() && !word.starts_with(['#', ';', '/', '-']))
        .collect()
}

fn in_lines(query: &Query<'_>, file: &FileFacts, key: &str, beside: &[&str], seen: &mut Seen) {
    let words = first_words(&file.text);
    if words.iter().any(|(_, w)| *w == key) {
        return;
    }
    let told = |says: Saying, line: u32, strength: Strength, seen: &mut Seen| {
        let suspect = seen.suspect(&file.path, line, strength, says);
        if let Some(path) = query.path() {
            suspect.saw(path, query.line, say!(LOOKED_UP, name = key));
        }
        suspect.tied(1.0);
    };
    let listed: Vec<&&str> = beside.iter().filter(|b| words.iter().any(|(_, w)| w == *b)).collect();
    let near = words.iter().find_map(|(line, word)| {
        let edit = name_edit(key, word).filter(|e| *e <= NameEdit::Letter && word.len() > 2)?;
        // What is looked up itself is spelt as it should be, and so is what begins several lines.
        let once = words.iter().filter(|(_, w)| w == word).count() == 1;
        (once && !beside.contains(word)).then_some((*line, *word, edit))
    });
    if let Some((line, word, edit)) = near {
        let says = say!(WRITTEN_OTHERWISE, name = word, other = key, edit = edit.says(key, word));
        told(says, line, Strength::Plain, seen);
    } else if listed.len() >= 2 || listed.len() == 1 && beside.len() == 1 {
        // Where what is looked up just before it stands, as the others do.
        let names: Vec<&str> = listed.iter().take(3).map(|w| **w).collect();
        let line_of = |word: &str| words.iter().find(|(_, w)| *w == word).map(|(line, _)| *line);
        let line = listed.iter().find_map(|w| line_of(w)).unwrap_or(1);
        told(say!(LINE_MISSING, names, name = key), line, Strength::Strong, seen);
    }
}

#[cfg(test)]
mod tests {
    use super::first_words;

    #[test]
    fn lines_begin_with_a_word_whatever_parts_them() {
        let text = "# boats\nheron|8|sail\n[gulls]\n start : 2,3\n\n\"tern\";5\n- x\n";
        let words: Vec<&str> = first_words(text).into_iter().map(|(_, word)| word).collect();
        assert_eq!(words, ["heron", "gulls", "start", "tern"]);
        assert_eq!(first_words(text)[3].0, 6);
    }
}

//! paths: a file is asked for that is not there; who names it, and what lies there instead.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::seen::{LIES_HERE, NEARLY_THIS_NAME};
use izba_model::Family;
use izba_model::Language;
use izba_model::claim::{Evidence, Saying, Verdict};
use izba_model::code::{Kind, NameEdit, Role, name_edit};
use izba_model::{say, sayings};

sayings! {
    "paths", Any, "../../words/suspects/paths.toml";
    OTHER_FOLDER = "other-folder",
    ODD_FOLDER = "odd-folder",
    OTHER_ON_DISK = "other-on-disk",
    FILE_IS_CALLED = "file-is-called",
    NOT_IN_PROJECT = "not-in-project",
    IN_QUOTES = "in-quotes",
    PUT_TOGETHER = "put-together",
}

/// The check for this: a file is asked for that is not there.
pub static CHECK: Check = Check { id: "paths", kinds: KINDS, applies, look };

fn applies(query: &Query<'_>) -> bool {
    query.file.is_some()
        || query.family() == Family::FileNotThere
        || query.file_names().next().is_some()
}

/// Said to be not there, and yet it lies in a folder: texts that are one slip away from the
/// folder's name.
fn misnamed_folders(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let lost = ["not found", "cannot open", "could not", "missing", "no such", "can't"]
        .iter()
        .any(|w| query.said.to_lowercase().contains(w));
    let names: Vec<String> = query
        .file_names()
        .map(|n| n.rsplit('/').next().unwrap_or(n).to_owned())
        .filter(|_| lost)
        .collect();
    let folders = || query.index.on_disk.iter().flat_map(|p| p.split('/').rev().skip(1));
    for file in
        query.index.on_disk.iter().filter(|p| names.iter().any(|n| p.rsplit('/').next() == Some(n)))
    {
        let Some(folder) = file.rsplit('/').nth(1) else { continue };
        for home in query.scope.iter().filter(|f| f.language.is_code()) {
            for node in home.tree.all().filter(|n| n.is(Kind::Str)) {
                let near = |part: &&str| {
                    !folders().any(|f| f == *part)
                        && matches!(
                            name_edit(part, folder),
                            Some(NameEdit::Letter | NameEdit::Case)
                        )
                };
                let Some(part) = node.text().unwrap_or("").split('/').find(near) else { continue };
                let reason = say!(
                    OTHER_FOLDER,
                    name = part,
                    file = file.rsplit('/').next().unwrap_or(file),
                    folder
                );
                seen.suspect(&home.path, node.line(), Strength::Plain, reason).saw(
                    file,
                    0,
                    say!(LIES_HERE),
                );
                any = true;
            }
        }
    }
    any
}

fn wanted<'b>(query: &'b Query<'_>) -> impl Iterator<Item = &'b str> {
    // Names of the project's own scripts in the sentence are places, not what is asked for.
    query
        .file_names()
        .filter(|n| {
            !Language::of(n).is_some_and(|l| l.is_code()) || query.family() == Family::FileNotThere
        })
        .filter(|n| !query.index.on_disk.iter().any(|p| lies_there(p, n)))
}

/// Whether a path that the console names is this file: either may begin further out than the other.
fn lies_there(file: &str, named: &str) -> bool {
    let ends = |long: &str, short: &str| {
        long.strip_suffix(short).is_some_and(|rest| rest.is_empty() || rest.ends_with('/'))
    };
    ends(file, named) || ends(named, file)
}

/// A text that names a file which is not there, nearly as one that is, whatever the error says:
/// some ways to open a file give nothing and say nothing.
fn opened_in_silence(query: &Query<'_>, seen: &mut Seen) {
    let disk = &query.index.on_disk;
    let base = |p: &str| p.rsplit('/').next().unwrap_or(p).to_owned();
    let like_file = |t: &str| {
        t.len() < 80
            && t.rsplit_once('.').is_some_and(|(stem, ending)| {
                !stem.is_empty() && super::query::ENDINGS.contains(&ending)
            })
            && !t.contains([' ', '*', '%', '{', '$'])
    };
    let mut named: Vec<(&izba_model::code::FileFacts, u32, &str)> = Vec::new();
    for file in &query.scope {
        let texts =
            file.tree.all().filter(|n| n.is(Kind::Str)).filter_map(|n| Some((n.line(), n.text()?)));
        let data =
            file.data.iter().filter(|d| d.role == Role::Value).map(|d| (d.line, d.text.as_ref()));
        named.extend(
            texts.chain(data).filter(|(_, t)| like_file(t)).map(|(line, t)| (*file, line, t)),
        );
    }
    for (file, line, text) in &named {
        let name = base(text);
        if disk.iter().any(|p| base(p) == name) {
            continue;
        }
        // Nearly the name of one that is there, and that nothing names.
        let near = disk.iter().find(|p| {
            let other = base(p);
            name_edit(&name, &other).is_some_and(|e| e <= NameEdit::Letter)
                && !named.iter().any(|(_, _, t)| base(t) == other)
        });
        if let Some(near) = near {
            let reason = say!(OTHER_ON_DISK, name, other = base(near));
            seen.suspect(&file.path, *line, Strength::Plain, reason).saw(
                near,
                0,
                say!(NEARLY_THIS_NAME),
            );
        }
    }
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    let mut asked: Vec<String> = wanted(query).map(str::to_owned).collect();
    if query.family() == Family::FileNotThere {
        asked.extend(
            query
                .mentioned
                .iter()
                .filter(|m| !m.contains(' ') && m.len() > 2)
                .filter(|m| !query.index.on_disk.iter().any(|p| lies_there(p, m)))
                .cloned(),
        );
    }
    if query.family() != Family::DoesNotParse {
        opened_in_silence(query, seen);
    }
    asked.sort_by_key(|a| std::cmp::Reverse(a.len()));
    asked.dedup();
    let mut found = misnamed_folders(query, seen);
    for path in &asked {
        let name = path.rsplit(['/', '\\']).next().unwrap_or(path);
        // An address without an ending is what a server answers to, and no file.
        if !name.contains('.') && query.said.contains("was not loaded: the server") {
            continue;
        }
        let stem = name.split_once('.').map_or(name, |(s, _)| s);
        let disk: Vec<&str> = query.index.on_disk.iter().map(AsRef::as_ref).collect();
        let base = |p: &str| p.rsplit('/').next().unwrap_or(p).to_owned();
        // The same name in another folder: a folder is misspelt.
        let same: Vec<&&str> = disk.iter().filter(|p| base(p) == name).collect();
        let edit = |p: &str| {
            let b = base(p);
            let of_stem = || name_edit(b.split_once('.').map_or(&b, |(s, _)| s), stem);
            name_edit(&b, name).or_else(of_stem)
        };
        let mut near: Vec<&&str> = disk.iter().filter(|p| edit(p).is_some()).collect();
        // One of the same kind was meant sooner than one of another.
        let ending = |p: &str| p.rsplit('.').next() != name.rsplit('.').next();
        near.sort_by_key(|p| (ending(p), edit(p)));
        let mut named = Vec::new();
        for file in &query.scope {
            for node in file.tree.all().filter(|n| matches!(n.kind(), Kind::Str | Kind::Import)) {
                let text = node.text().unwrap_or("");
                let holds = text.rsplit('/').next() == Some(name)
                    || text == stem && stem.len() > 3
                    || text.trim_start_matches("./") == path;
                if holds {
                    named.push((&file.path, node.line(), text == stem && text != name));
                }
            }
            for datum in file.data.iter().filter(|d| {
                d.role == Role::Value
                    && (d.text.rsplit('/').next() == Some(name)
                        || d.text.as_ref() == stem && stem.len() > 2)
            }) {
                named.push((&file.path, datum.line, datum.text.as_ref() == stem && stem != name));
            }
        }
        let parts: Vec<&str> = path.split(['/', '\\']).collect();
        for (nth, other) in same.iter().enumerate().take(2) {
            // Which folder of the way is the odd one?
            let folders: Vec<&str> = other.split('/').rev().skip(1).collect();
            let asked_folders: Vec<&str> = parts.iter().rev().skip(1).copied().collect();
            let odd = asked_folders
                .iter()
                .zip(&folders)
                .find(|(a, b)| a != b)
                .map(|(a, _)| *a)
                .or_else(|| asked_folders.first().copied())
                .unwrap_or("");
            for file in query.scope.iter().filter(|f| f.language.is_code()) {
                for node in file.tree.all().filter(|n| {
                    n.is(Kind::Str)
                        && !odd.is_empty()
                        && n.text().is_some_and(|t| t.split('/').any(|p| p == odd))
                }) {
                    let suspect = seen.suspect(
                        &file.path,
                        node.line(),
                        Strength::Plain.with(-(nth as i32)),
                        say!(ODD_FOLDER, odd, name, other),
                    );
                    suspect.saw(
                        &query
                            .index
                            .on_disk
                            .iter()
                            .find(|p| p.as_ref() == **other)
                            .cloned()
                            .unwrap_or_else(|| file.path.clone()),
                        0,
                        say!(LIES_HERE),
                    );
                    found = true;
                }
            }
        }
        if let Some(other) = near.iter().find(|p| base(p) != name) {
            let other_name = base(other);
            for (nth, (file, line, bare)) in named.iter().enumerate() {
                let suspect = seen.suspect(
                    file,
                    *line,
                    Strength::Plain.with(-i32::from(nth > 0) - i32::from(*bare)),
                    say!(OTHER_ON_DISK, name, other = other_name),
                );
                if let Some(path) = query.index.on_disk.iter().find(|p| p.as_ref() == **other) {
                    suspect.saw(path, 0, say!(NEARLY_THIS_NAME));
                }
                found = true;
            }
            if let Some(path) = query.index.on_disk.iter().find(|p| p.as_ref() == **other) {
                seen.suspect(
                    path,
                    0,
                    Strength::Fair,
                    say!(FILE_IS_CALLED, other = other_name, name),
                );
            }
        } else if same.is_empty() {
            for (file, line, bare) in &named {
                let strength = if *bare { Strength::Weak } else { Strength::Fair };
                seen.suspect(file, *line, strength, say!(NOT_IN_PROJECT, name));
                found = true;
            }
            // A word in quotes where the variable of that name was meant.
            if let Some(node) =
                query.on_line().find(|n| n.is(Kind::Str) && n.text() == Some(path.as_str()))
            {
                let variable =
                    query.file.is_some_and(|f| f.tree.named(path).any(|n| n.defines().is_some()));
                if variable {
                    seen.suspect(
                        query.path().expect("the line has a file"),
                        node.line(),
                        Strength::Plain,
                        say!(IN_QUOTES, name = path),
                    );
                    found = true;
                }
            }
        }
    }
    if let (false, false, Some(path)) = (found, asked.is_empty(), query.path()) {
        let evidence = vec![Evidence {
            file: path.clone(),
            line: query.line,
            saw: Saying::quote(asked.join(", ")),
        }];
        seen.reason(Verdict::CantTell, say!(PUT_TOGETHER), evidence);
    }
}

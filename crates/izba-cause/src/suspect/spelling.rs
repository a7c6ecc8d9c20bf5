//! spelling: a name that stands nowhere else, one slip away from one that does.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::symbols::{As, BEGINNINGS, is_name, plural};
use crate::seen::{ASKED_HERE, MADE_HERE, STANDS_HERE};
use izba_model::Family;
use izba_model::claim::{Evidence, Saying, Verdict};
use izba_model::code::{
    At, FileFacts, How, Index, Kind, Language, NameEdit, Role, name_edit, stem_words,
};
use izba_model::{say, sayings};
use std::collections::HashSet;
use std::sync::LazyLock;

sayings! {
    "spelling", Any, "../../words/suspects/spelling.toml";
    NOTHING_NEAR = "nothing-near",
    ONLY_HERE = "only-here",
    MADE_OTHERWISE = "made-otherwise",
    NEARLY = "nearly",
    TAUGHT = "taught",
    INSTALLED = "installed",
    OF_LANGUAGE = "of-language",
    CONSTRUCTOR = "constructor",
}

/// The check for this: a name that stands nowhere else, one slip away from one that does.
pub static CHECK: Check = Check {
    id: "spelling",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    // Of a value of the wrong kind the name is right.
    let mut asked: Vec<String> =
        query.asked.iter().filter(|_| query.family() != Family::WrongKind).cloned().collect();
    // The parts of a path are no names; what lies under nearly the same path is looked for elsewhere.
    let path = matches!(query.family(), Family::FileNotThere | Family::NotReached);
    asked.extend(
        query
            .mentioned
            .iter()
            .filter(|m| !path || !m.contains('/'))
            .map(|m| m.rsplit(['.', ':', '/']).next().unwrap_or(m).to_owned())
            .filter(|m| is_name(m)),
    );
    asked.extend(query.subject_names().into_iter().map(str::to_owned));
    asked.dedup();
    let mut found = 0;
    for (nth, name) in asked.iter().enumerate() {
        found += of_asked(query, name, nth == 0 && query.asked.as_ref() == Some(name), seen);
    }
    lone(query, &asked, seen);
    found += of_language(query, seen);
    found += of_constructor(query, seen);
    if found == 0
        && let Some(name) = query.asked.as_ref().filter(|_| query.family() != Family::WrongKind)
    {
        let evidence = query
            .path()
            .map(|path| Evidence {
                file: path.clone(),
                line: query.line,
                saw: Saying::quote(name.as_str()),
            })
            .into_iter()
            .collect();
        seen.reason(Verdict::RuledOut, say!(NOTHING_NEAR, name), evidence);
    }
}

/// The name that the error asks for: misspelt where it is used, or where it is made.
fn of_asked(query: &Query<'_>, name: &str, first: bool, seen: &mut Seen) -> usize {
    // What is asked of nothing is innocent: it would be there if its owner were.
    let of_nothing = |verb: &str| {
        query.said.contains(&format!("({verb} '{name}')"))
            && query.family() == Family::ValueNotThere
    };
    if of_nothing("reading") || of_nothing("setting") {
        return 0;
    }
    let uses = query.symbols.count(name);
    // What stands in code of an outside library is no slip of the project.
    if query.symbols.is_made(name)
        && first
        && query
            .symbols
            .occurrences(name)
            .iter()
            .any(|s| matches!(s.as_what, As::Made(How::Function | How::Class)))
    {
        return 0;
    }
    // So is what bears the name of a script that nothing brings in.
    let script = |f: &&izba_model::code::FileFacts| {
        f.language.is_code() && f.stem().eq_ignore_ascii_case(name) && query.path() != Some(&f.path)
    };
    let brought = |f: &izba_model::code::FileFacts| {
        query.file.is_some_and(|own| {
            own.tree.all().any(|n| {
                n.is(Kind::Import) && n.text().is_some_and(|t| super::brought::names_file(t, f))
            })
        })
    };
    let unread = query.scope.iter().copied().find(script).is_some_and(|f| !brought(f));
    // A constant is often called like what it is of, in capitals.
    let shouted =
        |w: &str| w.chars().any(char::is_alphabetic) && !w.chars().any(char::is_lowercase);
    let mut near = query.symbols.near(name, |w, occurrences| {
        w != name
            && !(w.eq_ignore_ascii_case(name) && shouted(w) != shouted(name))
            && !(unread && w.eq_ignore_ascii_case(name))
            && occurrences.iter().any(|s| {
                matches!(s.as_what, As::Made(_) | As::DataKey | As::File | As::Text | As::DataValue)
            })
    });
    // What the language itself has is spelt right, and asked of the wrong thing; unless what was
    // made here for it lies unused under a name that is one slip away.
    if first
        && !query.symbols.is_made(name)
        && is_outside_name(query.index, query.file.map(|f| f.language), name)
    {
        let unused = |s: &super::symbols::Occurrence<'_>| {
            matches!(s.as_what, As::Made(How::Function | How::Class))
        };
        near.retain(|(other, slip)| {
            *slip <= NameEdit::Letter && query.symbols.occurrences(other).iter().all(unused)
        });
    }
    let mut found = 0;
    // A variable is often called like its type, in small letters: that is no slip.
    let called = query
        .symbols
        .occurrences(name)
        .iter()
        .filter_map(|s| s.node)
        .any(|n| n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n)));
    let of_type =
        |other: &str| {
            !called
                && other.eq_ignore_ascii_case(name)
                && other.get(1..) == name.get(1..)
                && query.symbols.occurrences(other).iter().any(|s| {
                    matches!(s.as_what, As::Made(How::Class | How::Function | How::Import))
                })
        };
    // What is made beside it by one statement is another thing.
    let beside = |other: &str| {
        let own = query.symbols.occurrences(name);
        query.symbols.occurrences(other).iter().any(|o| {
            let made = |s: &&super::symbols::Occurrence<'_>| matches!(s.as_what, As::Made(_));
            made(&o)
                && own.iter().filter(made).any(|s| (&s.file.path, s.line) == (&o.file.path, o.line))
        })
    };
    for (other, slip) in near.into_iter().filter(|(o, _)| !of_type(o) && !beside(o)).take(4) {
        let occurrences = query.symbols.occurrences(other);
        let count = query.symbols.count(other);
        // Where both are made, or could be, a plural is a name of its own.
        let unmade = first
            && query.family() == Family::NameNotThere
            && uses <= 1
            && !query.symbols.is_made(name)
            && !query.symbols.kinds(name).contains(&As::File);
        // One of this very file, or a function that is brought in.
        let at_hand = || {
            occurrences.iter().any(|s| match s.as_what {
                As::Made(How::Function | How::Class) => true,
                As::Made(_) => query.path() == Some(&s.file.path),
                _ => false,
            })
        };
        if plural(name, other)
            && !(unmade && at_hand())
            && query.file.is_some_and(|f| f.stem() != name)
            && count > 1
        {
            continue;
        }
        let makers: Vec<_> =
            occurrences.iter().filter(|s| matches!(s.as_what, As::Made(_) | As::DataKey)).collect();
        let of = |strength: Strength| strength.of_slip(slip).with(-i32::from(!first));
        // Used once, the near one often: the use is wrong. The near one made once and used nowhere:
        // where it is made is wrong.
        if uses <= 1 && count >= 2 {
            let occurrence = query.symbols.occurrences(name).first();
            let (file, line) = match occurrence {
                Some(occurrence) if occurrence.line > 0 => (&occurrence.file.path, occurrence.line),
                _ => continue,
            };
            // Without its asker a slip of an ordinary word proves little.
            let reported = query.path() == Some(file) && line == query.line;
            if !first && !reported && slip > NameEdit::Letter {
                continue;
            }
            let suspect = seen.suspect(
                file,
                line,
                of(Strength::Plain),
                say!(ONLY_HERE, name, other, edit = slip.says(name, other)),
            );
            if let Some(maker) = makers.first() {
                suspect.saw(&maker.file.path, maker.line, say!(MADE_HERE, name = other));
            }
            found += 1;
        } else if count <= makers.len().max(1) && !makers.is_empty() && makers.len() == 1 {
            let maker = makers[0];
            // Both once and in one function: it is as likely the use that is wrong, and the console
            // names that.
            let capital = |w: &str| w.starts_with(char::is_uppercase);
            let functions = query
                .symbols
                .iter()
                .filter(|(_, s)| s.iter().any(|s| s.as_what == As::Made(How::Function)));
            let (upper, all) =
                functions.fold((0, 0), |(u, n), (w, _)| (u + usize::from(capital(w)), n + 1));
            // Where only the first letter differs, the one that is unlike the project's other names
            // is wrong.
            let odd_use = slip == NameEdit::Case
                && uses <= 1
                && capital(name) != capital(other)
                && capital(name) != (upper * 2 > all);
            // A capital inside a name is put there on purpose, and forgotten by a slip.
            let inside = |w: &str| w.chars().skip(1).filter(|c| c.is_uppercase()).count();
            let odd_use =
                odd_use || slip == NameEdit::Case && uses <= 1 && inside(name) < inside(other);
            // Where one of the two is made of words that stand elsewhere, that one is spelt right.
            let spelt = (uses <= 1).then(|| better_spelt(query, name, other)).flatten();
            if spelt == Some(other)
                && let Some(path) = query.path()
            {
                let edit = slip.says(name, other);
                let says = say!(ONLY_HERE, name, other, edit);
                let suspect = seen.suspect(path, query.line, of(Strength::Plain), says);
                suspect.saw(&maker.file.path, maker.line, say!(MADE_HERE, name = other));
                found += 1;
                continue;
            }
            let local = odd_use
                || uses <= 1
                    && query.path() == Some(&maker.file.path)
                    && maker.node.is_some_and(|n| {
                        n.function().is_some()
                            && matches!(
                                n.defines(),
                                Some(How::Assigned | How::Parameter | How::Loop)
                            )
                    });
            if let (true, Some(path)) = (
                local
                    || uses <= 1
                        && query.path() == Some(&maker.file.path)
                        && matches!(maker.as_what, As::Made(How::Assigned))
                        && maker.node.is_some_and(|n| n.is(Kind::Name)),
                query.path(),
            ) {
                let suspect = seen.suspect(
                    path,
                    query.line,
                    of(Strength::Plain),
                    say!(ONLY_HERE, name, other, edit = slip.says(name, other)),
                );
                suspect.saw(&maker.file.path, maker.line, say!(MADE_HERE, name = other));
                found += 1;
                continue;
            }
            // A type is used where it only stands as the type of something.
            if matches!(maker.as_what, As::Made(How::Class)) && stands_again(maker.file, other) {
                continue;
            }
            let suspect = seen.suspect(
                &maker.file.path,
                maker.line,
                of(Strength::Plain),
                say!(MADE_OTHERWISE, other, name, edit = slip.says(name, other)),
            );
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(ASKED_HERE, name));
            }
            found += 1;
        } else if first
            && uses <= 2
            && !makers.is_empty()
            && let Some(path) = query.path()
        {
            let reported = query
                .symbols
                .occurrences(name)
                .iter()
                .any(|s| s.line == query.line && &s.file.path == path);
            if reported {
                seen.suspect(
                    path,
                    query.line,
                    Strength::Fair.of_slip(slip),
                    say!(NEARLY, name, other, edit = slip.says(name, other)),
                );
                found += 1;
            }
        }
    }
    found
}

/// Whether a name is asked of what the system hands to each program: `process.env.PORT`.
fn is_of_environment(node: Option<At<'_>>) -> bool {
    let owner = node.and_then(|n| n.child(0).filter(|_| n.is(Kind::Field)));
    owner.and_then(At::last_name).is_some_and(|name| matches!(name, "env" | "environ"))
}

/// The words that names of all languages are made of.
fn words_of_languages() -> &'static HashSet<String> {
    static WORDS: LazyLock<HashSet<String>> = LazyLock::new(|| {
        let all = Language::all();
        all.iter().flat_map(|l| l.known().names()).flat_map(stem_words).collect()
    });
    &WORDS
}

/// Which of two names is spelt right: the one whose word, where they differ, stands elsewhere in the
/// project or among the names of a language, when the other one's does not.
fn better_spelt<'n>(query: &Query<'_>, name: &'n str, other: &'n str) -> Option<&'n str> {
    let (ours, theirs) = (stem_words(name), stem_words(other));
    if ours.len() != theirs.len() {
        return None;
    }
    let (mine, its) = ours.iter().zip(&theirs).find(|(a, b)| a != b)?;
    // A letter more or less in a short word is no word of its own.
    if mine.len().min(its.len()) < SHORT {
        return None;
    }
    let stands = |word: &str| {
        let holds = |n: &str| n != name && n != other && stem_words(n).iter().any(|w| w == word);
        query.symbols.iter().any(|(n, _)| holds(n)) || words_of_languages().contains(word)
    };
    match (stands(mine), stands(its)) {
        (true, false) => Some(name),
        (false, true) => Some(other),
        _ => None,
    }
}

/// A name of fewer letters is near too many of a language's own.
const SHORT: usize = 4;

/// The name that comes from elsewhere and is nearest to the one that is asked for: of libraries and
/// engines, also of those that the user taught under `names` in `izba.toml`; and of the language,
/// where it fits the way in which it is asked for, and a single slip made the one of the other.
fn nearest_outside<'b>(
    query: &'b Query<'_>,
    file: &'b FileFacts,
    name: &str,
) -> Option<(&'b str, NameEdit)> {
    let capital = |w: &str| w.starts_with(char::is_uppercase);
    let member = file.tree.named(name).any(|n| n.line() == query.line && n.is(Kind::Field));
    let own = file
        .language
        .known()
        .meant(member)
        .filter(|n| name.len() >= SHORT && !plural(n, name))
        .filter_map(|n| Some((n, name_edit(name, n).filter(|s| *s <= NameEdit::Letter)?)))
        .filter(|(n, slip)| *slip == NameEdit::Case || capital(name) == capital(n));
    let brought = taught(query.index)
        .chain(query.index.library.iter().map(AsRef::as_ref))
        .filter_map(|n| Some((n, name_edit(name, n).filter(|s| *s <= NameEdit::Letters)?)));
    own.chain(brought).min_by_key(|(_, slip)| *slip)
}

/// Whether a language, what the user taught, or an installed library has a name.
pub fn is_outside_name(index: &Index, language: Option<Language>, name: &str) -> bool {
    language.is_some_and(|l| l.has_name(name))
        || taught(index).any(|n| n == name)
        || index.library.binary_search_by(|n| n.as_ref().cmp(name)).is_ok()
}

/// The names of libraries and engines that the user taught, under `names` in `izba.toml`.
pub fn taught(index: &Index) -> impl Iterator<Item = &str> {
    let settings = index.file("izba.toml");
    let named = settings
        .into_iter()
        .flat_map(|f| &f.data)
        .filter(|d| d.role == Role::Value && d.path.as_ref() == "names");
    named.map(|d| d.text.as_ref())
}

/// The name that the error asks for is one slip away from one that comes with the language, a
/// library or the engine.
fn of_language(query: &Query<'_>, seen: &mut Seen) -> usize {
    let (Some(name), Some(path), Some(file)) = (&query.asked, query.path(), query.file) else {
        return 0;
    };
    // What stands in several lines is a name of its own, whose making is missing; and some types
    // only have to be brought in.
    let own = file.tree.named(name).count() > 1 || file.language.imports.has_type(name);
    if query.family() != Family::NameNotThere
        || own
        || query.symbols.is_made(name)
        || is_outside_name(query.index, query.file.map(|f| f.language), name)
    {
        return 0;
    }
    let Some((other, slip)) = nearest_outside(query, file, name) else { return 0 };
    let reason = if taught(query.index).any(|n| n == other) {
        say!(TAUGHT, name, other, edit = slip.says(name, other))
    } else if query.index.library.iter().any(|n| n.as_ref() == other) {
        say!(INSTALLED, name, other, edit = slip.says(name, other))
    } else {
        say!(
            OF_LANGUAGE,
            name,
            language = file.language.said(),
            other,
            edit = slip.says(name, other)
        )
    };
    seen.suspect(path, query.line, Strength::Plain.of_slip(slip), reason).saw(
        path,
        query.line,
        Saying::quote(name.as_str()),
    );
    1
}

/// A method without a type that is nearly called like its class was meant as the class's
/// constructor.
fn of_constructor(query: &Query<'_>, seen: &mut Seen) -> usize {
    let (Some(file), Some(path)) = (query.file, query.path()) else { return 0 };
    if !query.said.contains("return type") {
        return 0;
    }
    let Some(class) = file
        .tree
        .all()
        .filter(|n| n.is(Kind::Class) && n.line() <= query.line && n.last_line() >= query.line)
        .last()
    else {
        return 0;
    };
    let Some(name) = class.text() else { return 0 };
    let Some(line) = file.line(query.line) else { return 0 };
    let written =
        line.split('(').next().unwrap_or(line).split_whitespace().next_back().unwrap_or("");
    let Some(slip) = name_edit(name, written) else { return 0 };
    // The others say which of the two is right, and so does the name of the file.
    let right = |word: &str| query.symbols.count(word) + usize::from(file.stem() == word);
    let (at, wrong, other) = if right(written) > right(name) {
        (class.line(), name, written)
    } else {
        (query.line, written, name)
    };
    let reason = say!(CONSTRUCTOR, name = wrong, other, edit = slip.says(wrong, other));
    let suspect = seen.suspect(path, at, Strength::Plain, reason);
    suspect.saw(
        path,
        if at == class.line() { query.line } else { class.line() },
        Saying::quote(other),
    );
    1
}

/// Whether a word stands in two places of a file, types and comments among them.
fn stands_again(file: &FileFacts, word: &str) -> bool {
    let part = |c: char| c.is_alphanumeric() || c == '_';
    let whole = |at: &usize| {
        !file.text[..*at].ends_with(part) && !file.text[at + word.len()..].starts_with(part)
    };
    file.text.match_indices(word).map(|(at, _)| at).filter(whole).nth(1).is_some()
}

/// Names that stand once and near another, on the way that the value took.
fn lone(query: &Query<'_>, asked: &[String], seen: &mut Seen) {
    let mut lines: Vec<(&str, &super::symbols::Occurrence<'_>)> = Vec::new();
    // Pages and styles know names of their own.
    let known_to_pages: HashSet<&str> = query
        .index
        .files()
        .iter()
        .flat_map(|f| {
            let styles = f.styles.iter().map(|s| s.class.as_ref());
            let ids = f.elements.iter().filter_map(|e| e.id.as_deref());
            let classes = f.elements.iter().flat_map(|e| e.classes.iter().map(AsRef::as_ref));
            styles.chain(ids).chain(classes)
        })
        .collect();
    for (word, occurrences) in query.symbols.iter() {
        let real: Vec<_> = occurrences.iter().filter(|s| s.as_what != As::File).collect();
        if let [only] = real.as_slice()
            && word.len() >= 3
            && !BEGINNINGS.contains(&word)
            && !matches!(only.as_what, As::Made(How::Import) | As::DataValue)
            && !asked.iter().any(|a| a == word)
            && !known_to_pages.contains(word)
            && !is_outside_name(query.index, Some(only.file.language), word)
        {
            lines.push((word, only));
        }
    }
    for (word, only) in lines {
        let relevance = query.relevance(only.file, only.line);
        if relevance < 0.2 {
            continue;
        }
        let near = query.symbols.near_of_many(word, |w, occurrences| {
            let nature = occurrences.iter().any(|s| match only.as_what {
                As::Made(_) | As::Used => matches!(s.as_what, As::Made(_) | As::Used | As::Text),
                As::Text => {
                    matches!(s.as_what, As::Text | As::Made(_) | As::DataKey | As::DataValue)
                }
                _ => true,
            });
            nature
                && !occurrences.iter().any(|s| s.line == only.line && s.file.path == only.file.path)
                && w.len() >= 3
        });
        let Some((other, slip)) = near.into_iter().find(|(_, s)| *s <= NameEdit::Letters) else {
            continue;
        };
        // A plural is a name of its own. So is a type, where what is of it is called like it, or where
        // it stands again as the type of something.
        let is_type = matches!(only.as_what, As::Made(How::Class));
        let made = matches!(only.as_what, As::Made(_) | As::Used);
        if plural(word, other)
            || is_type && other.get(1..) == word.get(1..)
            || made && stands_again(only.file, word)
        {
            continue;
        }
        let about = asked.iter().any(|a| a == other);
        // What the surroundings of the program hold is made by nobody here; and a member is near to a
        // text in quotes by chance.
        let texts = query.symbols.occurrences(other).iter().all(|s| s.as_what == As::Text);
        let used = only.as_what == As::Used && (texts || is_of_environment(only.node));
        if used && !about || about && better_spelt(query, other, word) == Some(word) {
            continue;
        }
        // One is made and never used, the other used and never made: that is how a slip looks.
        let fits = match only.as_what {
            // What the language itself has need not be made; a value under a name near it is no
            // slip.
            As::Made(How::Assigned) => {
                !query.symbols.is_made(other) && !only.file.language.has_name(other)
            }
            As::Made(_) => !query.symbols.is_made(other),
            As::Used => {
                !query.symbols.is_made(word) && query.symbols.is_made(other) && word.len() >= 4
            }
            // A text names what is made here only where nothing else does.
            As::Text => {
                let said = query.symbols.kinds(other);
                !said.iter().all(|s| matches!(s, As::Made(_) | As::Used))
                    || query.symbols.count(other) == 1
            }
            _ => true,
        };
        let strength = if about { Strength::Strong } else { Strength::Fair }.of_slip(slip);
        let strength = strength.with(-i32::from(!fits));
        let suspect = seen.suspect(
            &only.file.path,
            only.line,
            strength,
            say!(ONLY_HERE, name = word, other, edit = slip.says(word, other)),
        );
        if let Some(occurrence) = query.symbols.occurrences(other).first() {
            suspect.saw(&occurrence.file.path, occurrence.line, say!(STANDS_HERE, name = other));
        }
    }
}

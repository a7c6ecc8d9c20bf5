//! loops: files that need one another in a ring, and functions that call themselves without end.

use super::brought::{is_near, names_file};
use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, FileFacts, Index, Kind};
use izba_model::{say, sayings};
use serde::Serialize;
use std::collections::{HashMap, HashSet};
use std::sync::Arc;

sayings! {
    "loops", Any, "../../words/suspects/loops.toml";
    CLOSES = "closes",
    BRINGS_IN = "brings-in",
    RING = "ring",
    NO_RING = "no-ring",
    CALLS_ITSELF = "calls-itself",
    CALLS_IN_RING = "calls-in-ring",
}

/// The check for this: files that need one another in a ring, and functions that call themselves
/// without end.
pub static CHECK: Check = Check {
    id: "loops",
    kinds: KINDS,
    applies: |query| query.family() != Family::DoesNotParse || query.said.contains("loading"),
    look,
};

/// One arrow of the ring: `from` brings in `to` at `line`.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Arrow {
    /// The file that brings in.
    pub from: Arc<str>,
    /// Line at which it brings the other one in, from 1.
    pub line: u32,
    /// What it brings in.
    pub to: Arc<str>,
}

/// Files by the last two parts of their paths: only a file whose name is the last part of what is
/// brought in can be meant, or one that stands for its folder.
fn called<'i>(files: &[&'i FileFacts]) -> HashMap<&'i str, Vec<usize>> {
    let mut called: HashMap<&str, Vec<usize>> = HashMap::new();
    for (at, file) in files.iter().enumerate() {
        for part in file.path.rsplit(['/', '.']).skip(1).take(2) {
            called.entry(part).or_default().push(at);
        }
    }
    called
}

/// The files that `by` may mean by what it brings in.
fn meant<'m>(
    index: &'m Index,
    files: &'m [&FileFacts],
    called: &'m HashMap<&str, Vec<usize>>,
    by: &'m FileFacts,
    text: &'m str,
) -> impl Iterator<Item = usize> + 'm {
    let parts = text.rsplit(['/', '.', '\\']).filter_map(|part| called.get(part)).flatten();
    parts.copied().filter(move |at| {
        let file = files[*at];
        file.path != by.path && names_file(text, file) && is_near(index, by, file, text)
    })
}

/// Whether an import stands where no program comes by that loads its script: it is only for those
/// who check types, or for when the script is started by itself.
fn for_others_only(import: At<'_>) -> bool {
    let asks = |n: At<'_>| {
        n.child(0).is_some_and(|condition| {
            condition
                .whole()
                .filter_map(At::text)
                .any(|word| matches!(word, "TYPE_CHECKING" | "__name__"))
        })
    };
    import.ancestors().any(|n| n.is(Kind::If) && asks(n))
}

/// Every ring of files, each once, as its arrows in order; the last one closes it: met when its
/// target is still being loaded.
pub fn rings(index: &Index, begin: Option<&str>) -> Vec<Vec<Arrow>> {
    let files: Vec<&FileFacts> = index.code().filter(|f| !f.language.loaded_whole).collect();
    let called = called(&files);
    let meant = |by: &FileFacts, text: &str| meant(index, &files, &called, by, text).min();
    let arrows: Vec<Vec<(u32, usize)>> = files
        .iter()
        .map(|f| {
            let imports = f
                .tree
                .all()
                .filter(|n| n.is(Kind::Import) && n.function().is_none() && !for_others_only(*n));
            imports.filter_map(|n| Some((n.line(), meant(f, n.text()?)?))).collect()
        })
        .collect();
    let mut state = vec![0u8; files.len()];
    let mut found = Vec::new();
    let first = begin.and_then(|b| files.iter().position(|f| f.path.as_ref() == b));
    // Where nothing is known, loading begins at a file that no other brings in.
    let brought: HashSet<usize> = arrows.iter().flatten().map(|(_, to)| *to).collect();
    let starts = first
        .into_iter()
        .chain((0..files.len()).filter(|at| !brought.contains(at)))
        .chain(0..files.len());
    for start in starts.collect::<Vec<_>>() {
        // Depth first without recursion: each entry is a file with the next of its arrows to
        // follow.
        let mut way: Vec<(usize, usize)> = Vec::new();
        if state[start] == 0 {
            state[start] = 1;
            way.push((start, 0));
        }
        while let Some((file, next)) = way.last_mut() {
            let Some((line, to)) = arrows[*file].get(*next).copied() else {
                state[*file] = 2;
                way.pop();
                continue;
            };
            *next += 1;
            let from = *file;
            if state[to] == 1 {
                let begins = way.iter().position(|(f, _)| *f == to).unwrap_or(0);
                let mut ring: Vec<Arrow> = way[begins..]
                    .windows(2)
                    .map(|pair| {
                        let (a, removed) = pair[0];
                        let (line, _) = arrows[a][removed - 1];
                        Arrow {
                            from: files[a].path.clone(),
                            line,
                            to: files[pair[1].0].path.clone(),
                        }
                    })
                    .collect();
                ring.push(Arrow {
                    from: files[from].path.clone(),
                    line,
                    to: files[to].path.clone(),
                });
                found.push(ring);
            } else if state[to] == 0 {
                state[to] = 1;
                way.push((to, 0));
            }
        }
    }
    found
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    files(query, seen);
    calls(query, seen);
}

fn files(query: &Query<'_>, seen: &mut Seen) {
    let begin = query.steps.last().map(|s| s.file.path.as_ref());
    let mut rings = rings(query.index, begin);
    // A ring of another program says nothing of this one.
    rings.retain(|ring| match query.file {
        Some(_) => ring.iter().any(|a| query.scope.iter().any(|f| f.path == a.from)),
        None => ring.iter().any(|a| {
            query.says(
                a.from.rsplit('/').next().and_then(|n| n.split('.').next()).unwrap_or(&a.from),
            )
        }),
    });
    let about = query.family() == Family::DependencyRing
        || query.said.contains("partially initialized")
        || query.said.contains("loop or previous error")
        || query.said.contains("error loading module")
        || query.said.contains("stack overflow");
    let leaning = if rings.is_empty() { None } else { Some(Leaning::of(query.index)) };
    for ring in &rings {
        let unused = ring.iter().find(|a| brings_unused(query.index, a));
        // What is used while its script is loaded: usually the line that the console names.
        let loading = query.file.zip(query.steps.first()).and_then(|(file, step)| {
            let by = ring.iter().find(|a| a.from == file.path)?;
            (step.function.is_none() && about_loading(query)).then_some((by, query.line))
        });
        if let (Some((arrow, line)), None) = (loading, unused) {
            let names: Vec<&str> =
                ring.iter().map(|a| a.from.rsplit('/').next().unwrap_or(&a.from)).collect();
            let suspect = seen.suspect(
                &arrow.from,
                arrow.line,
                Strength::Strong,
                say!(CLOSES, ring = names.join(" → ")),
            );
            suspect.to(line.max(arrow.line));
        }
        let Some(last) = unused.or_else(|| odd_arrow(leaning.as_ref()?, ring, begin)) else {
            continue;
        };
        let touched = query
            .steps
            .iter()
            .any(|s| ring.iter().any(|a| a.from == s.file.path || a.to == s.file.path));
        if query.file.is_none() && !about {
            continue;
        }
        let strength = if about {
            Strength::Plain
        } else if touched
            && matches!(
                query.family(),
                Family::NameNotThere | Family::ValueNotThere | Family::Other | Family::WrongKind
            )
        {
            Strength::Strong
        } else {
            Strength::Weak
        };
        let strength = if unused.is_some() { strength.max(Strength::Plain) } else { strength };
        let strength =
            if loading.is_some() && unused.is_none() { Strength::Weak } else { strength };
        let names: Vec<&str> = ring
            .iter()
            .map(|a| a.from.rsplit('/').next().unwrap_or(&a.from))
            .chain(ring.last().map(|a| a.to.rsplit('/').next().unwrap_or(&a.to)))
            .collect();
        let suspect =
            seen.suspect(&last.from, last.line, strength, say!(CLOSES, ring = names.join(" → ")));
        for arrow in ring {
            suspect.saw(&arrow.from, arrow.line, say!(BRINGS_IN, other = arrow.to));
        }
    }
    if rings.is_empty()
        && query.family() == Family::DependencyRing
        && let Some(path) = query.path()
    {
        seen.reason(
            Verdict::RuledOut,
            say!(RING),
            vec![Evidence { file: path.clone(), line: query.line, saw: say!(NO_RING) }],
        );
    }
}

/// Whether nothing that an arrow brings in is read in its script.
fn brings_unused(index: &Index, arrow: &Arrow) -> bool {
    let Some(file) = index.file(&arrow.from) else { return false };
    let imports = file.tree.all().filter(|n| n.is(Kind::Import) && n.line() == arrow.line);
    let names: Vec<&str> = imports.flat_map(At::children).filter_map(At::text).collect();
    let bound = names.iter().copied().chain(
        file.tree.on_line(arrow.line).filter(|n| n.defines().is_some()).filter_map(At::text),
    );
    let mut bound = bound.peekable();
    bound.peek().is_some()
        && bound
            .all(|name| !file.tree.named(name).any(|n| n.line() != arrow.line && n.is(Kind::Name)))
}

/// Whether the sentence says that something was used before its script was loaded.
fn about_loading(query: &Query<'_>) -> bool {
    ["before initialization", "partially initialized", "circular import"]
        .iter()
        .any(|w| query.said.contains(w))
}

/// How much the files of a project lean on one another, counted once for all its rings.
#[derive(Debug)]
pub struct Leaning {
    /// For each file that is brought in anywhere: by which files.
    by: HashMap<Arc<str>, Vec<Arc<str>>>,
    /// For each file: how many things it brings in.
    on: HashMap<Arc<str>, usize>,
}

impl Leaning {
    /// Counts what each file brings in.
    pub fn of(index: &Index) -> Leaning {
        let files: Vec<&FileFacts> = index.code().collect();
        let called = called(&files);
        let mut leaning = Leaning { by: HashMap::new(), on: HashMap::new() };
        for file in &files {
            let imports: Vec<&str> = file
                .tree
                .all()
                .filter(|n| n.is(Kind::Import))
                .map(|n| n.text().unwrap_or_default())
                .collect();
            leaning.on.insert(file.path.clone(), imports.len());
            let named: HashSet<usize> =
                imports.iter().flat_map(|text| meant(index, &files, &called, file, text)).collect();
            for at in named {
                leaning.by.entry(files[at].path.clone()).or_default().push(file.path.clone());
            }
        }
        leaning
    }

    fn by(&self, path: &str) -> usize {
        self.by.get(path).map_or(0, Vec::len)
    }

    /// Whether a file other than these brings `path` in.
    pub fn from_outside<'p>(&self, path: &str, within: impl Iterator<Item = &'p str>) -> bool {
        let within: Vec<&str> = within.collect();
        self.by.get(path).is_some_and(|by| by.iter().any(|f| !within.contains(&f.as_ref())))
    }
}

/// The arrow of a ring that is most likely one too many: one that leads back to where the program
/// begins, or out of a file that many others lean on.
pub fn odd_arrow<'r>(
    leaning: &Leaning,
    ring: &'r [Arrow],
    begin: Option<&str>,
) -> Option<&'r Arrow> {
    let leans = |path: &str| leaning.on.get(path).copied().unwrap_or(0);
    let inside = |path: &str| ring.iter().filter(|a| a.to.as_ref() == path).count();
    let entered = ring.iter().any(|a| leaning.by(&a.to) > inside(&a.to));
    ring.iter().max_by_key(|arrow| {
        // Where files outside the ring come in, the arrow that leads back there closes it.
        let comes_in = if entered {
            leaning.by(&arrow.to) > inside(&arrow.to)
        } else {
            leaning.by(&arrow.to) <= inside(&arrow.to)
        };
        let to_begin = begin == Some(arrow.to.as_ref())
            || begin.is_none() && comes_in
            || begin.is_some() && leaning.by(&arrow.to) <= inside(&arrow.to);
        (to_begin, leaning.by(&arrow.from) as i64 - leans(&arrow.from) as i64)
    })
}

/// The steps repeat: the call that goes round.
fn calls(query: &Query<'_>, seen: &mut Seen) {
    let deep = [
        "StackOverflow",
        "stack overflow",
        "Maximum call stack",
        "maximum recursion",
        "recursion depth",
    ]
    .iter()
    .any(|w| query.said.contains(w));
    if !deep {
        return;
    }
    let mut counts: Vec<((&Arc<str>, u32), usize)> = Vec::new();
    for frame in &query.entry.report.frames {
        if let (Some(file), Some(line)) = (&frame.own, frame.line) {
            match counts.iter_mut().find(|(k, _)| *k == (file, line)) {
                Some((_, n)) => *n += 1,
                None => counts.push(((file, line), 1)),
            }
        }
    }
    let most = counts.iter().map(|(_, n)| *n).max().unwrap_or(1);
    let ring: Vec<(&Arc<str>, u32)> =
        counts.iter().filter(|(_, n)| *n * 2 >= most && most > 1).map(|(k, _)| *k).collect();
    let mut lines: Vec<(&Arc<str>, u32)> = if ring.is_empty() {
        query.steps.first().map(|s| (&s.file.path, s.line)).into_iter().collect()
    } else {
        ring
    };
    lines.truncate(8);
    for (path, line) in lines {
        let Some(file) = query.index.file(path) else { continue };
        let function = file
            .tree
            .all()
            .filter(|n| n.is(Kind::Func) && n.line() <= line && n.last_line() >= line)
            .last();
        let name = function.and_then(At::text);
        let itself = file.tree.on_line(line).any(|n| {
            matches!(n.kind(), Kind::Call | Kind::New)
                && n.last_name().is_some()
                && (n.last_name() == name
                    || function.is_some_and(|f| f.class().and_then(At::text) == n.last_name()))
        });
        let strength = if itself { Strength::Strong } else { Strength::Fair };
        seen.suspect(
            path,
            line,
            strength,
            if itself { say!(CALLS_ITSELF) } else { say!(CALLS_IN_RING) },
        );
    }
}

//! Which files belong together: those that name one another, directly or through others, are one
//! program. A folder often holds several (a game, its page, a tool), and what is odd in one of them
//! says nothing of an error in another.

use super::{At, FileFacts, HoledName, Kind, Language, Role};
use std::collections::{HashMap, HashSet};
use std::sync::Arc;

/// For each file of an index the number of the program that it belongs to.
#[derive(Debug, Default)]
pub struct Parts {
    part: HashMap<String, usize>,
    /// Programs that hold code.
    coded: HashSet<usize>,
    /// Of these those that are one script, which nothing brings in: perhaps someone forgot to.
    lone: HashSet<usize>,
}

/// A name that more files have than this ties none of them.
const MANY: usize = 3;

impl Parts {
    /// Finds out which of these files name one another.
    pub fn of(files: &[Arc<FileFacts>]) -> Parts {
        let mut names: HashMap<&str, Vec<usize>> = HashMap::new();
        let mut stems: HashMap<&str, Vec<usize>> = HashMap::new();
        let mut folders: HashMap<&str, Vec<usize>> = HashMap::new();
        let mut made: HashMap<&str, Vec<usize>> = HashMap::new();
        for (at, file) in files.iter().enumerate() {
            names.entry(file.name()).or_default().push(at);
            stems.entry(file.stem()).or_default().push(at);
            let folder = file.path.rsplit_once('/').map_or("", |(f, _)| f);
            folders.entry(folder.rsplit('/').next().unwrap_or(folder)).or_default().push(at);
            let functions: HashSet<&str> = file
                .tree
                .all()
                .filter(|n| matches!(n.kind(), Kind::Func | Kind::Class))
                .filter_map(|n| n.text())
                .collect();
            functions.into_iter().for_each(|name| made.entry(name).or_default().push(at));
        }
        let mut tied: Vec<usize> = (0..files.len()).collect();
        let mut weak: Vec<(usize, usize)> = Vec::new();
        let mut beside: HashMap<(&str, &str), usize> = HashMap::new();
        for (at, file) in files.iter().enumerate() {
            // Scripts of one language in one folder are one program's.
            if file.language.is_code() {
                let folder = file.path.rsplit_once('/').map_or("", |(f, _)| f);
                let first = *beside.entry((folder, &file.language.id)).or_insert(at);
                tie(&mut tied, at, first);
            }
            // Of several that are called so, what lies nearest is meant.
            let known = |map: &HashMap<&str, Vec<usize>>, word: &str| {
                let all = map.get(word).filter(|f| f.len() <= MANY).cloned().unwrap_or_default();
                let near = |to: &usize| shared_folders(&file.path, &files[*to].path);
                let best = all.iter().map(near).max().unwrap_or(0);
                let nearest: Vec<usize> = all.into_iter().filter(|to| near(to) == best).collect();
                if best == 0 && nearest.len() > 1 { Vec::new() } else { nearest }
            };
            let mut ends = |to: Vec<usize>| to.into_iter().for_each(|to| tie(&mut tied, at, to));
            // A word that names a file or folder.
            let place = |word: &str| -> Vec<usize> {
                let (folder, name) = word.rsplit_once(['/', '\\']).unwrap_or(("", word));
                if word.contains(' ') || word.is_empty() {
                    return Vec::new();
                }
                match name.is_empty() {
                    true => folders
                        .get(folder.rsplit('/').next().unwrap_or(folder))
                        .cloned()
                        .unwrap_or_default(),
                    // Of several that are called so, the one whose whole way is named.
                    false => match names.get(name).map(|n| {
                        (
                            n,
                            n.iter()
                                .copied()
                                .filter(|f| files[*f].path.ends_with(word))
                                .collect::<Vec<_>>(),
                        )
                    }) {
                        Some((_, whole)) if !folder.is_empty() && !whole.is_empty() => whole,
                        Some((all, _)) if all.len() <= MANY => all.clone(),
                        _ => Vec::new(),
                    },
                }
            };
            for word in file.tree.words() {
                ends(place(word));
                let capital = word.starts_with(char::is_uppercase);
                ends(
                    known(&stems, word)
                        .into_iter()
                        .filter(|to| capital && alike(file, &files[*to]))
                        .collect(),
                );
            }
            // A name with holes is that of any file that fits, in the folder that it names.
            let whole = |n: &At<'_>| n.parent().is_none_or(|p| !p.is(Kind::Bin));
            for name in file.tree.all().filter(whole).filter_map(|n| HoledName::of(file, n)) {
                let within = name.folder().and_then(|folder| folders.get(folder));
                let fits = |to: &&usize| name.fits(&files[**to].path);
                ends(within.into_iter().flatten().filter(fits).copied().collect());
            }
            for node in file.tree.all().filter(|n| n.is(Kind::Import)) {
                let last = node
                    .text()
                    .unwrap_or("")
                    .rsplit(['/', '.', '\\'])
                    .find(|part| part.len() > 2 && !is_ending_of_code(part))
                    .unwrap_or("");
                ends(
                    known(&stems, last).into_iter().filter(|to| alike(file, &files[*to])).collect(),
                );
            }
            for datum in file.data.iter().filter(|d| d.role == Role::Value) {
                ends(place(&datum.text));
                if datum.text.len() >= 4 {
                    let by_stem = known(&stems, &datum.text)
                        .into_iter()
                        .filter(|to| !files[*to].language.is_code() || is_type(&datum.text));
                    weak.extend(by_stem.chain(known(&made, &datum.text)).map(|to| (at, to)));
                }
            }
        }
        // Mere words tie a file to a program only where nothing better says whose it is: every
        // program has its `open`.
        let mut coded: HashSet<usize> = (0..files.len())
            .filter(|at| files[*at].language.is_code())
            .map(|at| root(&mut tied, at))
            .collect();
        for (a, b) in weak {
            let (from, to) = (root(&mut tied, a), root(&mut tied, b));
            if from != to && !(coded.contains(&from) && coded.contains(&to)) {
                tie(&mut tied, a, b);
                if coded.contains(&from) || coded.contains(&to) {
                    coded.insert(root(&mut tied, a));
                }
            }
        }
        let part: HashMap<String, usize> =
            (0..files.len()).map(|at| (files[at].path.to_string(), root(&mut tied, at))).collect();
        let mut scripts: HashMap<usize, usize> = HashMap::new();
        files
            .iter()
            .filter(|f| f.language.is_code())
            .for_each(|f| *scripts.entry(part[f.path.as_ref()]).or_default() += 1);
        let lone = scripts.iter().filter(|(_, n)| **n == 1).map(|(part, _)| *part).collect();
        let coded = scripts.into_keys().collect();
        Parts { part, coded, lone }
    }

    /// Whether two files are of one program. What is not known belongs to none.
    pub fn together(&self, a: &str, b: &str) -> bool {
        let beside = shared_folders(a, b) > 0;
        let (Some(a), Some(b)) = (self.part.get(a), self.part.get(b)) else { return false };
        if beside && (self.lone.contains(a) || self.lone.contains(b)) {
            return true;
        }
        // Data that no code names may be anybody's, where there is only one program.
        a == b || self.coded.len() == 1 && !(self.coded.contains(a) && self.coded.contains(b))
    }
}

/// How many folders, from the outermost, two files have in common.
fn shared_folders(a: &str, b: &str) -> usize {
    let folders = |p: &str| p.split('/').map(str::to_owned).collect::<Vec<_>>();
    let (a, b) = (folders(a), folders(b));
    a.iter().zip(&b).take(a.len().min(b.len()) - 1).take_while(|(a, b)| a == b).count()
}

fn is_type(word: &str) -> bool {
    word.starts_with(char::is_uppercase)
}

/// Whether this is the ending of a file of code.
fn is_ending_of_code(ending: &str) -> bool {
    Language::of(&format!("x.{ending}")).is_some_and(|l| l.is_code())
}

/// Whether a name of the one may mean the other: both of a kind that knows the other's names.
fn alike(a: &FileFacts, b: &FileFacts) -> bool {
    !b.language.is_code() || a.language.shares_names_with(&b.language)
}

fn root(tied: &mut [usize], at: usize) -> usize {
    let mut at = at;
    while tied[at] != at {
        tied[at] = tied[tied[at]];
        at = tied[at];
    }
    at
}

fn tie(tied: &mut [usize], a: usize, b: usize) {
    let (a, b) = (root(tied, a), root(tied, b));
    tied[a.max(b)] = a.min(b);
}

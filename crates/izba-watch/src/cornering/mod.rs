//! Cornering an error: a copy of the project is run again and again with parts left out, until only
//! what the error needs is left; or with some of the user's edits alone, until only those are left
//! that brought it.

mod bench;
mod edits;
mod edits_tried;
mod mistake;
mod tried;

pub use edits::{Edit, corner_edits};
pub use edits_tried::{Edits, MOST_TRIED};
pub use mistake::{Mistake, Needs, Progress, Start};
pub use tried::{Outcome, Trials, Tried, is_proved, told as told_trials, try_fixes};

use bench::{Bench, LONGEST};
use izba_cause::corner::{Pieces, Search, Unit};
use izba_cause::suspect::Findings;
use izba_core::{Engine, GroupView};
use izba_model::claim::{Claim, Evidence, LIKELY, Reason, Suspect, Verdict};
use izba_model::text::counted;
use izba_model::{Family, Project, ProjectFile, Stream};
use izba_model::{say, sayings};
use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

sayings! {
    "cornered", Any, "../../words/cornering.toml";
    CORNERED = "cornered",
    INNOCENT = "innocent",
    NEEDED = "needed",
    LEFT = "left",
}

/// What is left of one file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Left {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Its lines with their numbers, from 1, as people read them.
    pub lines: Vec<(u32, String)>,
}

impl Left {
    /// Whether a line is left.
    fn has(&self, line: u32) -> bool {
        self.lines.iter().any(|(number, _)| *number == line)
    }
}

/// What came of cornering an error: what is left, and whether that is all.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Cornered {
    /// The error.
    pub headline: String,
    /// The lines that are left, by file.
    pub left: Vec<Left>,
    /// The files with what is left in them; the lines keep their numbers.
    pub texts: Vec<(Arc<str>, String)>,
    /// What was counted.
    pub progress: Progress,
    /// Whether nothing more can be left out; else it was stopped before.
    pub complete: bool,
}

impl Cornered {
    /// Whether a line is among what is left.
    pub fn holds(&self, file: &str, from: u32, to: u32) -> bool {
        self.left
            .iter()
            .any(|left| *left.file == *file && (from..=to.max(from)).any(|line| left.has(line)))
    }

    /// Weighs what was found about the error: what was left out while it still came is innocent;
    /// what is left is needed for it.
    pub fn weigh(&self, findings: &mut Findings, reported: Option<(&str, u32)>) {
        let whole = self.left.iter().map(|left| left.lines.len()).sum::<usize>();
        let runs = self.progress.runs;
        let mut innocent = Vec::new();
        for suspect in findings.suspects.iter_mut().filter(|s| s.line > 0 && !s.is_reported()) {
            let was_tried = self.texts.iter().any(|(f, _)| *f == suspect.file);
            if self.holds(&suspect.file, suspect.line, suspect.to_line) {
                let (file, line) = (suspect.file.clone(), suspect.line);
                suspect.saw(&file, line, say!(CORNERED, runs));
                // The error needs it: so it does much that is well.
                let most = if suspect.confidence >= LIKELY { 0.97 } else { LIKELY - 0.02 };
                suspect.confidence = (suspect.confidence + 0.15).min(most);
                for reason in &mut findings.reasons {
                    if reason.claim.says == suspect.claim.says {
                        reason.claim.evidence.insert(
                            0,
                            Evidence { file: file.clone(), line, saw: say!(CORNERED, runs) },
                        );
                    }
                }
            } else if was_tried {
                suspect.confidence = 0.0;
                innocent.push((suspect.claim.says.clone(), suspect.file.clone(), suspect.line));
            }
        }
        for (says, file, line) in innocent {
            for reason in findings.reasons.iter_mut().filter(|r| r.claim.says == says) {
                reason.verdict = Verdict::RuledOut;
                reason.claim.evidence =
                    vec![Evidence { file: file.clone(), line, saw: say!(INNOCENT, runs) }];
            }
        }
        findings.suspects.retain(|s| s.confidence > 0.0);
        // Where nothing was suspected, what is left is where to look: nearest to the reported line
        // first.
        let none = !findings.suspects.iter().any(|s| s.confidence >= LIKELY && !s.is_reported());
        if none && whole <= FEW {
            let at_report =
                |file: &str, line: u32| reported.is_some_and(|(f, l)| f == file && l == line);
            let near = |file: &str, line: u32| match reported {
                Some((f, l)) if f == file => l.abs_diff(line),
                _ => 10_000,
            };
            let mut places: Vec<(Arc<str>, u32)> = self
                .left
                .iter()
                .flat_map(|left| left.lines.iter().map(|(line, _)| (left.file.clone(), *line)))
                .collect();
            places.retain(|(f, l)| {
                !at_report(f, *l) && !findings.suspects.iter().any(|s| s.file == *f && s.line == *l)
            });
            places.sort_by_key(|(f, l)| near(f, *l));
            for (file, line) in places.into_iter().take(3) {
                let mut claim = Claim::from(say!(NEEDED));
                let of = self.progress.left.1;
                claim.saw(&file, line, say!(LEFT, left = whole, of, runs));
                let reason = Reason { claim: claim.clone(), verdict: Verdict::CantTell };
                findings.reasons.push(reason);
                let to_line = line;
                findings.suspects.push(Suspect {
                    file,
                    line,
                    to_line,
                    claim,
                    confidence: 0.5,
                    fix: None,
                });
            }
        }
        findings.suspects.sort_by(|a, b| b.confidence.total_cmp(&a.confidence));
        findings.reasons.sort_by_key(|r| r.verdict);
    }
}

/// Of so few lines each may be a suspect.
const FEW: usize = 40;
/// The pieces of a project's files, as one list of units.
struct Parts {
    files: Vec<Pieces>,
    units: Vec<Unit>,
    /// The first unit of each file: the file as a whole, then its pieces.
    first: Vec<usize>,
}

impl Parts {
    fn of(project: &Project, needs: Needs) -> Parts {
        let mut parts = Parts { files: Vec::new(), units: Vec::new(), first: Vec::new() };
        for file in project.files() {
            let Some(text) = file.text.as_ref().filter(|t| !t.is_empty()) else { continue };
            let pieces = izba_code::pieces(&file.path, text);
            if pieces.pieces.is_empty() {
                continue;
            }
            let whole = parts.units.len();
            parts.first.push(whole);
            parts.units.push(Unit::new(None, 0));
            for piece in &pieces.pieces {
                let parent = piece.parent.map_or(whole, |p| whole + 1 + p);
                let depth = parts.units[parent].depth + 1;
                parts.units.push(Unit::new(Some(parent), depth));
            }
            parts.files.push(pieces);
        }
        if needs == Needs::Kept {
            let index =
                izba_code::index(project.files().iter().map(|f| (&f.path, f.text.as_ref())));
            let all = izba_cause::corner::needs(&parts.files, &index);
            for (file, pieces) in all.into_iter().enumerate() {
                for (piece, needed) in pieces.into_iter().enumerate() {
                    let unit = |(file, piece): (usize, usize)| parts.first[file] + 1 + piece;
                    let (user, needed) =
                        (unit((file, piece)), needed.into_iter().map(unit).collect());
                    parts.units[user].needs = needed;
                }
            }
        }
        parts
    }

    /// The unit in which a line stands: without it the error would not be told.
    fn at_line(&self, file: &str, line: u32) -> Option<usize> {
        let at = self.files.iter().position(|f| *f.path == *file)?;
        Some(self.first[at] + 1 + self.files[at].on_line(line)?)
    }

    /// The texts of the files in which something is left out.
    fn texts(&self, gone: &[bool]) -> Vec<(Arc<str>, Option<String>)> {
        let mut texts = Vec::new();
        for (pieces, first) in self.files.iter().zip(&self.first) {
            let of = &gone[*first..=*first + pieces.pieces.len()];
            if of[0] {
                let blank: String =
                    pieces.text.chars().map(|c| if c == '\n' { '\n' } else { ' ' }).collect();
                texts.push((pieces.path.clone(), Some(blank)));
            } else if of[1..].contains(&true) {
                texts.push((pieces.path.clone(), Some(pieces.without(&of[1..]))));
            }
        }
        texts
    }

    /// Units as people are told of them.
    fn named(&self, units: &[usize]) -> String {
        let Some(first) = units.first() else { return String::new() };
        let file = self.first.partition_point(|f| f <= first) - 1;
        let pieces = &self.files[file];
        let place = match first
            .checked_sub(self.first[file] + 1)
            .and_then(|piece| pieces.pieces.get(piece))
        {
            None => pieces.path.to_string(),
            Some(piece) if piece.lines.0 == piece.lines.1 => {
                format!("{}:{}", pieces.path, piece.lines.0)
            }
            Some(piece) => format!("{}:{}-{}", pieces.path, piece.lines.0, piece.lines.1),
        };
        match units.len() {
            1 => format!("without {place}"),
            n => format!("without {place} and {} more", n - 1),
        }
    }

    /// The lines that still say something, by file, and what stands in each file.
    fn left(&self, gone: &[bool]) -> Vec<(Arc<str>, Vec<u32>, String)> {
        let changed: BTreeMap<Arc<str>, String> =
            self.texts(gone).into_iter().filter_map(|(p, t)| Some((p, t?))).collect();
        let one = |pieces: &Pieces| {
            let text =
                changed.get(&pieces.path).cloned().unwrap_or_else(|| pieces.text.to_string());
            (pieces.path.clone(), pieces.telling(&text), text)
        };
        self.files.iter().map(one).collect()
    }

    fn lines(&self, gone: &[bool]) -> usize {
        self.left(gone).iter().map(|(_, lines, _)| lines.len()).sum()
    }
}

/// Narrows the project down to what the error needs. `tell` hears how far it is, and `stop` ends
/// it; what is known by then is kept.
///
/// # Errors
///
/// A sentence, when the project cannot be copied or run, or the error does not come in the copy.
pub fn corner(
    start: &Start,
    mistake: &Mistake,
    stop: &AtomicBool,
    tell: &mut dyn FnMut(&Progress),
) -> Result<Cornered, String> {
    let mut bench = Bench::new(start, mistake)?;
    let parts = Parts::of(&start.project, start.needs);
    if parts.units.is_empty() {
        return Err("no file of the project is in a language that Izba can take apart".into());
    }
    let told = mistake.place.as_ref().and_then(|(file, line)| parts.at_line(file, *line));
    let mut search = Search::new(parts.units.clone()).keeping(told.into_iter().collect());
    let total = parts.lines(search.gone());
    let mut lines = total;
    tell(&bench.progress((total, total), false, (0, 0)));
    let Some(seen) = bench.settle(stop)? else {
        return Err("it was stopped before anything was known".into());
    };
    while !bench.is_spent() && !stop.load(Ordering::Acquire) {
        let Some(without) = search.next_try() else { break };
        tell(&Progress {
            trying: parts.named(search.asked()),
            ..bench.progress((lines, total), false, seen)
        });
        bench.put(&parts.texts(&without))?;
        let Some(same) = bench.comes(stop)? else { break };
        search.answer(same);
        if same {
            lines = parts.lines(search.gone());
        }
    }
    let left = parts.left(search.gone());
    let read = |(path, lines, text): &(Arc<str>, Vec<u32>, String)| {
        let one = |(line, n): (&str, u32)| {
            (n, Pieces::shown(line, start.project.line(path, n).unwrap_or("")))
        };
        Left {
            file: path.clone(),
            lines: text.lines().zip(1u32..).filter(|(_, n)| lines.contains(n)).map(one).collect(),
        }
    };
    Ok(Cornered {
        headline: mistake.headline.clone(),
        left: left.iter().filter(|(_, l, _)| !l.is_empty()).map(read).collect(),
        texts: left.into_iter().map(|(p, _, t)| (p, t)).collect(),
        progress: bench.progress((lines, total), false, seen),
        complete: search.is_over(),
    })
}

/// Runs a copy of the project once, and gives what it said went wrong, most important first.
///
/// # Errors
///
/// A sentence, when the project cannot be copied or run.
pub fn look(start: &Start, stop: &AtomicBool) -> Result<Vec<Arc<GroupView>>, String> {
    let nothing = Mistake {
        family: Family::Other,
        kind: None,
        message: String::new(),
        place: None,
        steps: Vec::new(),
        headline: String::new(),
    };
    let bench = Bench::new(start, &nothing)?;
    let project = bench.project();
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("copy");
    engine.start_run(source, None, project);
    let mut offset = 0u64;
    let hear = &mut |stream: Stream, bytes: &[u8]| {
        engine.feed(source, stream, None, offset, bytes);
        offset += bytes.len() as u64;
        false
    };
    bench
        .copied
        .run(&bench.program, start.budget.1.min(LONGEST), stop, hear)
        .map_err(|e| e.sentence())?;
    engine.finish();
    Ok(engine.groups())
}

/// What people do by hand, for comparison: of the reported file's lines one half is switched off,
/// then the other, and what still fails is halved again, until neither half alone does.
///
/// # Errors
///
/// As [`corner`].
pub fn corner_by_halves(
    start: &Start,
    mistake: &Mistake,
    stop: &AtomicBool,
) -> Result<Cornered, String> {
    let mut bench = Bench::new(start, mistake)?;
    let file = mistake
        .place
        .as_ref()
        .and_then(|(f, _)| start.project.file(f))
        .ok_or("the error names no file of the project")?;
    let text = file.text.as_deref().unwrap_or("");
    let Some(seen) = bench.settle(stop)? else {
        return Err("it was stopped before anything was known".into());
    };
    let total = text.lines().count();
    let only = |from: usize, to: usize| -> String {
        text.lines()
            .enumerate()
            .map(|(n, l)| if (from..to).contains(&n) { format!("{l}\n") } else { "\n".to_owned() })
            .collect()
    };
    let (mut from, mut to) = (0, total);
    while to - from > 1 && !bench.is_spent() {
        let middle = from + (to - from) / 2;
        let mut found = None;
        for half in [(middle, to), (from, middle)] {
            bench.put(&[(file.path.clone(), Some(only(half.0, half.1)))])?;
            if bench.comes(stop)? == Some(true) {
                found = Some(half);
                break;
            }
        }
        match found {
            Some(half) => (from, to) = half,
            None => break,
        }
    }
    let whole = |f: &ProjectFile| (f.path.clone(), f.text.as_deref().unwrap_or("").to_owned());
    let mut texts: Vec<(Arc<str>, String)> =
        start.project.files().iter().filter(|f| f.text.is_some()).map(whole).collect();
    texts.iter_mut().filter(|(p, _)| *p == file.path).for_each(|(_, t)| *t = only(from, to));
    let telling = |(path, text): &(Arc<str>, String)| {
        let lines = Pieces::default().telling(text);
        let numbered = text
            .lines()
            .zip(1u32..)
            .filter(|(_, n)| lines.contains(n))
            .map(|(line, n)| (n, line.to_owned()));
        Left { file: path.clone(), lines: numbered.collect() }
    };
    let left: Vec<Left> = texts.iter().map(telling).filter(|l| !l.lines.is_empty()).collect();
    let lines = left.iter().map(|l| l.lines.len()).sum();
    Ok(Cornered {
        headline: mistake.headline.clone(),
        left,
        texts,
        progress: bench.progress((lines, total), false, seen),
        complete: true,
    })
}

/// How it went, in sentences.
pub fn how(p: &Progress, complete: bool) -> String {
    let what = if p.edits {
        counted(p.left.0 as u64, "edit is", "edits are")
    } else {
        counted(p.left.0 as u64, "line is", "lines are")
    };
    let mut said = format!(
        "{what} left of {}, after {} in {:.1} s.",
        p.left.1,
        counted(u64::from(p.runs), "run", "runs"),
        p.took_ms as f64 / 1000.0
    );
    if p.seen.0 < p.seen.1 {
        let _ = write!(
            said,
            " The error does not always come: it was there in {} of {} runs of the whole, \
                so each try was repeated.",
            p.seen.0, p.seen.1
        );
    }
    if !complete {
        said += " It was ended before all was tried; more may be left out.";
    }
    said
}

/// The little program that still shows the error, without the lines that say nothing any more, in a
/// folder of its own.
///
/// # Errors
///
/// A sentence, when the folder cannot be written.
pub fn save(cornered: &Cornered, folder: &Path) -> Result<(), String> {
    let failed = |e: std::io::Error| {
        format!("{} cannot be written: {}", folder.display(), izba_sources::plain_io(&e))
    };
    // A comma by itself says nothing, and yet what is around it may need it.
    let is_sign = |l: &str| matches!(l.trim(), "pass" | "," | ";");
    for left in &cornered.left {
        let Some((_, text)) = cornered.texts.iter().find(|(p, _)| *p == left.file) else {
            continue;
        };
        let target = folder.join(left.file.as_ref());
        if let Some(parent) = target.parent() {
            std::fs::create_dir_all(parent).map_err(failed)?;
        }
        let kept: Vec<&str> = text
            .lines()
            .zip(1u32..)
            .filter(|(l, n)| left.has(*n) || is_sign(l))
            .map(|(l, _)| l.trim_end())
            .collect();
        std::fs::write(&target, kept.join("\n") + "\n").map_err(failed)?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::claim::{About, Kind, Words, misworded};

    static TOLD: Words = Words::new("told", About::Any, "odd = \"{name} is odd\"");
    static ODD: Kind = Kind { words: &TOLD, key: "odd" };

    fn suspect(name: &str, file: &str, line: u32) -> Suspect {
        let claim = Claim::from(say!(ODD, name));
        Suspect { file: file.into(), line, to_line: line, claim, confidence: 0.5, fix: None }
    }

    /// Lines 2 and 5 of one file are left; the other was left out as a whole.
    fn cornered() -> Cornered {
        let line = |n: u32| (n, format!("line {n}"));
        Cornered {
            left: vec![Left { file: "a.lua".into(), lines: vec![line(2), line(5)] }],
            texts: vec![("a.lua".into(), String::new()), ("b.lua".into(), String::new())],
            progress: Progress { runs: 12, left: (2, 40), ..Progress::default() },
            ..Cornered::default()
        }
    }

    #[test]
    fn what_could_be_left_out_is_innocent_and_what_is_left_is_surer() {
        let suspects = vec![
            suspect("mast", "a.lua", 2),
            suspect("oar", "a.lua", 3),
            suspect("rope", "b.lua", 1),
            suspect("tide", "never-tried.json", 1),
        ];
        let reason = |s: &Suspect| Reason { claim: s.claim.clone(), verdict: Verdict::Likely };
        let reasons = suspects.iter().map(reason).collect();
        let mut found = Findings { suspects, reasons, ..Findings::default() };
        cornered().weigh(&mut found, None);
        let told: Vec<_> =
            found.suspects.iter().map(|s| (s.claim.subject(), s.confidence)).collect();
        // What is needed is nearer, and no more than needed.
        assert_eq!(told[..2], [(Some("mast"), LIKELY - 0.02), (Some("tide"), 0.5)]);
        let saw = found.suspects[0].claim.evidence[0].saw.to_string();
        assert_eq!(saw, "left out in a copy, in 12 runs: without this line the error is gone");
        let ruled_out = found.reasons.iter().filter(|r| r.verdict == Verdict::RuledOut);
        let ruled_out: Vec<_> = ruled_out.filter_map(|r| r.claim.subject()).collect();
        assert_eq!(ruled_out, ["oar", "rope"], "what was not tried is not judged");
    }

    #[test]
    fn where_nobody_was_suspected_what_is_left_is_where_to_look() {
        let mut found = Findings::default();
        cornered().weigh(&mut found, Some(("a.lua", 5)));
        let told: Vec<_> = found.suspects.iter().map(|s| (s.line, s.reason())).collect();
        let needed = "the error needs this line: without it the error is gone".to_owned();
        assert_eq!(told, [(2, needed)], "the reported line is known anyway");
        assert_eq!(
            found.suspects[0].claim.evidence[0].saw.to_string(),
            "2 lines of 40 are left, after 12 runs of a copy"
        );
        // A likely one is enough.
        let mut found = Findings::default();
        found.suspects.push(Suspect { confidence: 0.9, ..suspect("mast", "a.lua", 2) });
        cornered().weigh(&mut found, None);
        assert_eq!(found.suspects.len(), 1);
    }

    #[test]
    fn all_that_it_says_is_worded() {
        assert_eq!(misworded(KINDS), Vec::<String>::new());
    }
}

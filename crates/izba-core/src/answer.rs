//! Answers without a screen: the groups as JSON lines (a public contract) and as text for people.

use crate::engine::{Engine, Snapshot};
use crate::filter::{Around, Phrase};
use crate::group::{GroupId, GroupView, State};
use crate::overlooked::overlooked_words;
use izba_cause::explain::Explanation;
use izba_cause::suspect::Findings;
use izba_model::claim::{Change, LIKELY, Piece, Reason, Suspect, WORTH, WORTH_BESIDE};
use izba_model::text::SafeText;
use izba_model::text::{counted, thousands};
use izba_model::{Cause, Entry, Family, Level, Millis, Project, Related, StackFrame};
use serde::Serialize;
use std::collections::HashMap;
use std::fmt::Write;
use std::sync::Arc;

/// Suspects are looked for in this many groups, the most important ones.
const EXPLAINED: usize = 200;

/// A script that cannot be read brings forth one sentence after another; suspects are looked for in
/// so many of them.
const PARSES: u32 = 12;

/// Of which groups suspects are told: the first ones, and of what one script that cannot be read
/// brings forth the first.
#[derive(Debug, Default)]
struct Explained {
    groups: usize,
    parses: HashMap<Arc<str>, u32>,
}

impl Explained {
    /// Whether they are looked for in the next group.
    fn next(&mut self, entry: &Entry) -> bool {
        self.groups += 1;
        let file = entry.place.as_ref().filter(|_| entry.family == Family::DoesNotParse);
        let again = file.is_some_and(|place| {
            let count = self.parses.entry(place.file.clone()).or_default();
            *count += 1;
            *count > PARSES
        });
        self.groups <= EXPLAINED && !again
    }
}

/// Version of the contract; it changes when a field changes its meaning.
pub const VERSION: u32 = 1;

#[derive(Serialize)]
struct FrameOut<'a> {
    file: Option<&'a str>,
    line: Option<u32>,
    column: Option<u32>,
    function: Option<&'a str>,
    own: bool,
}

#[derive(Serialize)]
struct CauseOut<'a> {
    kind: Option<&'a str>,
    message: &'a str,
    file: Option<&'a str>,
    line: Option<u32>,
}

/// Another place that the console names, with what it says of it.
#[derive(Serialize)]
struct RelatedOut<'a> {
    file: Option<&'a str>,
    line: Option<u32>,
    words: &'a str,
}

/// The exact edit of a suspect.
#[derive(Serialize)]
struct EditOut {
    /// Which of the suspects, from 1.
    suspect: usize,
    file: Arc<str>,
    says: String,
    pieces: Vec<Piece>,
    changes: Vec<Change>,
}

/// The edits of suspects that have one.
fn edits_out(project: &Project, suspects: &[Suspect]) -> Vec<EditOut> {
    let of = |(at, suspect): (usize, &Suspect)| {
        let fix = suspect.fix.as_ref()?;
        let text = project.file(&fix.file)?.text.as_ref()?;
        let changes = fix.changes(text);
        (!changes.is_empty()).then(|| EditOut {
            suspect: at + 1,
            file: fix.file.clone(),
            says: fix.says(text),
            pieces: fix.pieces().to_vec(),
            changes,
        })
    };
    suspects.iter().enumerate().filter_map(of).collect()
}

/// One group as `izba read --as jsonl` prints it. What has no meaning yet is null or empty.
#[derive(Serialize)]
struct GroupOut<'a> {
    v: u32,
    rank: usize,
    level: &'a str,
    family: &'a str,
    kind: Option<&'a str>,
    code: Option<&'a str>,
    message: &'a str,
    shape: String,
    file: Option<&'a str>,
    line: Option<u32>,
    column: Option<u32>,
    function: Option<&'a str>,
    object: Option<&'a str>,
    handler: Option<&'a str>,
    frames: Vec<FrameOut<'a>>,
    causes: Vec<CauseOut<'a>>,
    related: Vec<RelatedOut<'a>>,
    count: u64,
    first: Option<String>,
    last: Option<String>,
    state: Option<State>,
    muted: bool,
    follows: Option<usize>,
    source: &'a str,
    suspects: Vec<Suspect>,
    edits: Vec<EditOut>,
    reasons: Vec<Reason>,
    explanation: String,
}

fn frame_out(frame: &StackFrame) -> FrameOut<'_> {
    FrameOut {
        file: frame.own.as_deref().or(frame.file.as_deref()),
        line: frame.line,
        column: frame.column.map(|c| c.number),
        function: frame.function.as_deref(),
        own: frame.own.is_some(),
    }
}

fn cause_out(cause: &Cause) -> CauseOut<'_> {
    let place = cause.frames.iter().find(|f| f.own.is_some()).or(cause.frames.first());
    CauseOut {
        kind: cause.kind.as_deref(),
        message: &cause.message,
        file: place.and_then(|f| f.own.as_deref().or(f.file.as_deref())),
        line: place.and_then(|f| f.line),
    }
}

fn related_out(related: &Related) -> RelatedOut<'_> {
    RelatedOut {
        file: related.frame.own.as_deref().or(related.frame.file.as_deref()),
        line: related.frame.line,
        words: &related.words,
    }
}

/// Finds out who did it; needs the index of the code, which lives elsewhere.
#[derive(Clone, Copy)]
pub struct Finder<'a>(pub &'a dyn Fn(&Entry) -> Findings);

impl std::fmt::Debug for Finder<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("Finder")
    }
}

/// Which groups are told, and how.
#[derive(Debug, Clone, Copy, Default)]
pub struct Choice<'a> {
    /// Who finds suspects; without one none are told.
    pub finder: Option<Finder<'a>>,
    /// Only those that this phrase fits.
    pub phrase: Option<&'a Phrase>,
    /// Whether there is an earlier run to compare with: states have a meaning then.
    pub compared: bool,
    /// The time now, for phrases that speak of it.
    pub now: Option<Millis>,
    /// Offset of local time from UTC in seconds.
    pub utc_offset: i32,
}

/// The groups that are told, most important first.
pub fn chosen(engine: &Engine, choice: &Choice<'_>) -> Vec<Arc<GroupView>> {
    let names: Vec<String> = engine.snapshot().sources.into_iter().map(|s| s.name).collect();
    let around = Around { sources: &names, now: choice.now, utc_offset: choice.utc_offset };
    engine
        .groups()
        .into_iter()
        .filter(|g| choice.phrase.is_none_or(|p| p.fits_group(g, &around)))
        .collect()
}

fn group_out<'a>(
    rank: usize,
    group: &'a GroupView,
    source: &'a str,
    (found, compared): (Findings, bool),
    follows: Option<usize>,
    project: &Project,
) -> GroupOut<'a> {
    let entry = &*group.entry;
    let report = &entry.report;
    let said = group.told(Some(&found));
    GroupOut {
        v: VERSION,
        rank,
        level: report.level.word(),
        family: entry.family.id(),
        kind: report.kind.as_deref(),
        code: report.code.as_deref(),
        message: &report.message,
        shape: group.shape.clone(),
        file: entry.place.as_ref().map(|p| p.file.as_ref()),
        line: entry.place.as_ref().and_then(|p| p.line),
        column: entry.column().map(|c| c.number),
        function: entry.function.as_deref(),
        object: report.object.as_deref(),
        handler: report.handler.as_deref(),
        frames: report.frames.iter().map(frame_out).collect(),
        causes: report.causes.iter().map(cause_out).collect(),
        related: report.related.iter().map(related_out).collect(),
        count: group.count,
        first: group.first.and_then(|t| t.to_rfc3339()),
        last: group.last.and_then(|t| t.to_rfc3339()),
        state: compared.then_some(group.state),
        muted: group.muted,
        follows,
        source,
        edits: edits_out(project, &found.suspects),
        suspects: found.suspects,
        reasons: found.reasons,
        explanation: in_one(&said),
    }
}

/// An explanation in one text.
fn in_one(said: &Explanation) -> String {
    let paragraphs: Vec<String> = said.paragraphs().map(ToString::to_string).collect();
    format!("{} {}", said.headline, paragraphs.join(" "))
}

/// Whether an error that is not set aside is among what is chosen, and struck.
pub fn has_error(engine: &Engine, choice: &Choice<'_>) -> bool {
    let counts = |g: &GroupView| g.level() >= Level::Error && !g.muted && g.state != State::Quiet;
    chosen(engine, choice).iter().any(|g| counts(g))
}

/// The groups as JSON lines, one object each, most important first.
pub fn jsonl(engine: &Engine, choice: &Choice<'_>) -> String {
    let snapshot = engine.snapshot();
    let names: Vec<&str> = snapshot.sources.iter().map(|s| s.name.as_str()).collect();
    let mut out = String::new();
    let mut groups = chosen(engine, choice);
    // What earlier runs left and this one did not show is told only where runs are compared.
    groups.retain(|g| choice.compared || g.state != State::Quiet);
    let mut explained = Explained::default();
    for (at, group) in groups.iter().enumerate() {
        let source = names.get(group.source).copied().unwrap_or_default();
        let finder = choice.finder.filter(|_| explained.next(&group.entry));
        let found = finder.map(|finder| (finder.0)(&group.entry)).unwrap_or_default();
        let follows = followed(&groups, group);
        let found = (found, choice.compared);
        let told = group_out(at + 1, group, source, found, follows, &snapshot.project);
        // A struct of strings and numbers always has a JSON form.
        out.push_str(&serde_json::to_string(&told).unwrap_or_default());
        out.push('\n');
    }
    out
}

/// The rank of the group that this one came of, where it is among them.
fn followed(groups: &[Arc<GroupView>], group: &GroupView) -> Option<usize> {
    let of = group.follows.map(|f| f.of).or(group.later_than)?;
    groups.iter().position(|g| g.id == of || g.holds(of)).map(|at| at + 1)
}

/// A group for who looks on from elsewhere while it is watched: as `izba read --as jsonl` prints it,
/// with its number, the sentence on top, and the run that saw it last.
#[derive(Serialize)]
struct ShownOut<'a> {
    id: GroupId,
    headline: String,
    run: u32,
    #[serde(flatten)]
    group: GroupOut<'a>,
}

/// The groups of a moment as a JSON array, most important first, with what was found out about
/// them by then.
pub fn shown(snapshot: &Snapshot, found: &dyn Fn(&GroupView) -> Findings) -> String {
    let mut out = String::from("[");
    let groups: &[Arc<GroupView>] = &snapshot.groups;
    for (at, group) in groups.iter().take(EXPLAINED).enumerate() {
        let source = snapshot.sources.get(group.source).map_or("", |s| s.name.as_str());
        let found = found(group);
        let headline = group.told(Some(&found)).headline.to_string();
        let follows = followed(groups, group);
        let group_out = group_out(at + 1, group, source, (found, true), follows, &snapshot.project);
        let shown = ShownOut { id: group.id, headline, run: group.last_run, group: group_out };
        out.push_str(if at > 0 { "," } else { "" });
        // A struct of strings and numbers always has a JSON form.
        out.push_str(&serde_json::to_string(&shown).unwrap_or_default());
    }
    out.push(']');
    out
}

/// The groups as text: a sentence on top, then each group with its place and the console's own
/// words.
pub fn text(engine: &Engine, choice: &Choice<'_>) -> String {
    let all = chosen(engine, choice);
    let muted = all.iter().filter(|g| g.muted).count() as u64;
    let groups: Vec<_> = all
        .into_iter()
        .filter(|g| !g.muted && (choice.compared || g.state != State::Quiet))
        .collect();
    let mut out = String::new();
    if let Some(sentence) = engine.unexplained_end() {
        let _ = writeln!(out, "{}", SafeText::new(&sentence));
    }
    let Some(first) = groups.first() else {
        let _ = match choice.phrase {
            Some(phrase) => {
                writeln!(
                    out,
                    "Nothing in {} passes the filter {}.",
                    counted(engine.rows(), "line", "lines"),
                    SafeText::new(phrase.text())
                )
            }
            // A program that failed has an error, whether or not it was understood.
            None if engine.unexplained_end().is_some() => writeln!(
                out,
                "Nothing in {} was understood as an error.",
                counted(engine.rows(), "line", "lines")
            ),
            None if engine.count_overlooked() > 0 => writeln!(
                out,
                "Nothing in {} was understood as an error or a warning.",
                counted(engine.rows(), "line", "lines")
            ),
            None => writeln!(
                out,
                "No errors and no warnings in {}.",
                counted(engine.rows(), "line", "lines")
            ),
        };
        tell_overlooked(&mut out, engine, choice);
        if muted > 0 {
            let _ = writeln!(out, "{} set aside by you.", counted(muted, "group is", "groups are"));
        }
        return out;
    };
    let mut explained = Explained::default();
    let mut look = |group: &GroupView| {
        let finder = choice.finder.filter(|_| explained.next(&group.entry))?;
        Some((finder.0)(&group.entry))
    };
    let mut found = look(first);
    let project = engine.snapshot().project;
    let headline = first.told(found.as_ref()).headline;
    let _ = writeln!(out, "Fix first: {}", SafeText::new(&headline.to_string()));
    let hanging = groups.iter().filter(|g| g.hangs).count();
    let more = match hanging {
        0 => String::new(),
        n => format!(", and {} came of them", counted(n as u64, "more that", "more that")),
    };
    let _ = writeln!(
        out,
        "{} in {}{more}\n",
        counted((groups.len() - hanging) as u64, "mistake", "mistakes"),
        counted(engine.rows(), "line", "lines")
    );
    for (at, group) in groups.iter().enumerate() {
        let entry = &*group.entry;
        // What came of another error is told by that one.
        let found = match at {
            0 => found.take(),
            _ if group.hangs => None,
            _ => look(group),
        };
        let said = group.told(found.as_ref());
        let state =
            if choice.compared { format!("  ({})", group.state.word()) } else { String::new() };
        let _ = writeln!(
            out,
            "{:>8}  {}{:<8} {}{state}",
            format!("{}×", thousands(group.count)),
            if group.hangs { "╰ " } else { "" },
            entry.report.level.word(),
            SafeText::new(&said.short.to_string())
        );
        let mut details: Vec<String> = Vec::new();
        if let Some(place) = &entry.place {
            details.push(
                place.line.map_or(place.file.to_string(), |line| format!("{}:{line}", place.file)),
            );
        }
        details.extend(entry.function.as_ref().map(|f| format!("in {f}")));
        details.extend(entry.report.object.as_ref().map(|o| format!("object {o}")));
        if !details.is_empty() {
            let _ = writeln!(out, "{:19}{}", "", SafeText::new(&details.join("  ")));
        }
        let kind = entry.report.kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
        let _ = writeln!(
            out,
            "{:19}It says: {}",
            "",
            SafeText::new(&format!("{kind}{}", entry.report.message))
        );
        if entry.root_message != entry.report.message {
            let kind = entry.root_kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
            let _ = writeln!(
                out,
                "{:19}because: {}",
                "",
                SafeText::new(&format!("{kind}{}", entry.root_message))
            );
        }
        for related in entry.report.related.iter().filter(|r| r.frame.own.is_some()).take(3) {
            let Some(place) = related.frame.place() else { continue };
            let line = place.line.map_or(String::new(), |line| format!(":{line}"));
            let told = format!("{}{line}  {}", place.file, related.words);
            let _ = writeln!(out, "{:19}see also {}", "", SafeText::new(told.trim_end()));
        }
        if let Some(found) = &found {
            tell_suspects(&mut out, found, entry, &project);
        }
        let paragraphs = said.paragraphs().filter(|_| !group.hangs).map(ToString::to_string);
        for line in paragraphs.flat_map(|p| izba_model::text::wrap(&p, 80)) {
            let _ = writeln!(out, "{:19}{}", "", SafeText::new(&line));
        }
        out.push('\n');
    }
    tell_overlooked(&mut out, engine, choice);
    if muted > 0 {
        let _ = writeln!(out, "{} set aside by you.", counted(muted, "group is", "groups are"));
    }
    if engine.project().files().is_empty() {
        let _ = writeln!(
            out,
            "No source was found in {}, so no line could be told; name your project's \
                folder with --project.",
            SafeText::new(engine.project().root())
        );
    }
    out
}

/// The lines that look as if they mattered and were not understood: so many of them in words.
const OVERLOOKED: usize = 5;

fn tell_overlooked(out: &mut String, engine: &Engine, choice: &Choice<'_>) {
    let count = engine.count_overlooked();
    let Some(words) = overlooked_words(count).filter(|_| choice.phrase.is_none()) else { return };
    let _ = writeln!(out, "{words}:");
    let several = engine.snapshot().sources.len() > 1;
    for (at, words) in engine.overlooked().into_iter().take(OVERLOOKED) {
        let name = engine.snapshot().sources.into_iter().nth(at.source.0).map(|s| s.name);
        let name = name.filter(|_| several).map_or(String::new(), |n| format!("{n} "));
        let number = SafeText::new(&format!("{name}{}", at.line + 1)).to_string();
        let _ = writeln!(out, "{number:>8}  {words}");
    }
    let more = count.saturating_sub(OVERLOOKED as u64);
    if more > 0 {
        let _ = writeln!(out, "{:>8}  and {more} more", "");
    }
}

/// Who may have done it, in a line each, where that is not just the reported line.
fn tell_suspects(out: &mut String, found: &Findings, entry: &Entry, project: &Project) {
    let likely = found.suspects.first().is_some_and(|s| s.confidence >= LIKELY);
    let least = if likely { WORTH_BESIDE } else { WORTH };
    let worth = found.suspects.iter().filter(|s| s.confidence >= least).take(3);
    let here = |s: &Suspect| {
        entry.place.as_ref().is_some_and(|p| p.file == s.file && p.line == Some(s.line))
    };
    let told: Vec<&Suspect> = worth.filter(|s| !s.is_reported()).collect();
    for (at, suspect) in told.iter().enumerate() {
        let head = match (at, suspect.confidence >= LIKELY) {
            (0, true) => "Likely:",
            (0, false) => "Perhaps:",
            _ => "or:",
        };
        let line = if suspect.line == 0 { String::new() } else { format!(":{}", suspect.line) };
        let place = if here(suspect) { String::new() } else { format!("{}{line}  ", suspect.file) };
        let _ = writeln!(
            out,
            "{:19}{head} {}",
            "",
            SafeText::new(&format!("{place}{}", suspect.reason()))
        );
        let fix = suspect.fix.as_ref().filter(|_| at == 0);
        let text = fix.and_then(|f| project.file(&f.file)?.text.clone());
        if let (Some(fix), Some(text)) = (fix, text) {
            let _ = writeln!(out, "{:19}Edit: {}", "", SafeText::new(&fix.says(&text)));
        }
    }
    if let Some(other) = found.alike.first().filter(|_| !told.is_empty()) {
        let more = match found.alike.len() {
            1 => String::new(),
            n => format!(", and in {}", counted(n as u64 - 1, "place more", "places more")),
        };
        let _ = writeln!(
            out,
            "{:19}Done in the same way at {}{more}",
            "",
            SafeText::new(&format!("{}:{}", other.file, other.line))
        );
    }
}

/// Groups of one kind in a comparison of two runs.
#[derive(Debug, Clone)]
pub struct Compared {
    /// How they stand: new, back, quiet or still.
    pub state: State,
    /// What that is called in a heading.
    pub title: &'static str,
    /// The groups with their counts in the earlier and in the later run.
    pub groups: Vec<(Arc<GroupView>, u64, u64)>,
}

/// Two runs of one source side by side, by the counts of its groups; what is new comes first, kinds
/// without a group are left out.
pub fn compare(groups: &[Arc<GroupView>], earlier: u32, later: u32) -> Vec<Compared> {
    let count = |group: &GroupView, run: u32| {
        group.runs.iter().find(|t| t.run == run).map_or(0, |t| t.count)
    };
    let known_before = |group: &GroupView| group.runs.iter().any(|t| t.run < earlier);
    let of = |state: State, title: &'static str, fits: &dyn Fn(u64, u64, bool) -> bool| {
        let mut list: Vec<_> = groups
            .iter()
            .map(|g| (g.clone(), count(g, earlier), count(g, later)))
            .filter(|(g, a, b)| fits(*a, *b, known_before(g)))
            .collect();
        list.sort_by_key(|(g, a, b)| (std::cmp::Reverse(g.level()), std::cmp::Reverse(a + b)));
        Compared { state, title, groups: list }
    };
    let mut parts = vec![
        of(State::New, "new", &|a, b, known| a == 0 && b > 0 && !known),
        of(State::Back, "back: silent in the earlier run, known from before it", &|a, b, known| {
            a == 0 && b > 0 && known
        }),
        of(State::Quiet, "gone quiet", &|a, b, _| a > 0 && b == 0),
        of(State::Still, "in both", &|a, b, _| a > 0 && b > 0),
    ];
    parts.retain(|p| !p.groups.is_empty());
    parts
}

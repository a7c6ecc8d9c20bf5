//! Groups as a screen or a script sees them: rows made from the table by what the user decided,
//! each a value that never changes.

use super::follow::CASES_OF_STRANGERS;
use super::id::GroupId;
use super::order::order;
use super::quiet::{Exposure, Silence};
use super::row::GroupView;
use super::run::RunSpan;
use super::sight::Part;
use super::table::{Group, GroupTable, RATE_SECONDS};
use super::wishes::{GroupBy, Split};
use super::{Follow, Identity};
use crate::state::State;
use izba_model::Family;
use izba_model::{Entry, Level, Millis};
use std::collections::HashMap;
use std::sync::Arc;

/// How a source stands, for the states of its groups.
#[derive(Debug, Clone, Default)]
pub struct SourceNow<'a> {
    /// What it is called.
    pub name: &'a str,
    /// Number of its current run, from 1.
    pub run: u32,
    /// Names under which what is the user's speaks there; empty when all is.
    pub own: &'a [String],
    /// Its runs, oldest first.
    pub runs: &'a [RunSpan],
    /// Whether it tells what the user does.
    pub tells_actions: bool,
}

/// What one group or part of it is on its way into a row.
struct Piece<'a> {
    group: &'a Group,
    part: Option<&'a Part>,
    state: State,
    count: u64,
    fixed: Option<Millis>,
}

/// Numbers of rows that are no group of the table begin here.
const MADE: u32 = 1 << 30;

impl GroupTable {
    /// Every row, most important first. `sources` tells how each source stands, `now` the time for
    /// rates, `mutes` what the user's phrases set aside.
    pub fn views(
        &self,
        sources: &[SourceNow<'_>],
        by: GroupBy,
        now: Option<Millis>,
        mutes: &dyn Fn(&GroupView) -> bool,
    ) -> Vec<Arc<GroupView>> {
        let nobody = SourceNow { run: 1, ..SourceNow::default() };
        let mut rows: Vec<(String, Vec<Piece<'_>>)> = Vec::new();
        let mut at: HashMap<String, usize> = HashMap::new();
        // One without a run was told only in a way that is forgotten.
        for group in self.groups.iter().filter(|g| !g.runs.is_empty()) {
            let source = sources.get(group.source).unwrap_or(&nobody);
            for (key, piece) in self.pieces(group, source, by) {
                let row = *at.entry(key.clone()).or_insert_with(|| {
                    rows.push((key, Vec::new()));
                    rows.len() - 1
                });
                rows[row].1.push(piece);
            }
        }
        let mut views: Vec<GroupView> = rows
            .into_iter()
            .map(|(key, pieces)| self.row(&key, &pieces, sources, by, now))
            .collect();
        for view in &mut views {
            view.muted |= mutes(view);
        }
        order(views)
    }

    /// The rows that a group is counted in, with what is counted there.
    fn pieces<'a>(
        &'a self,
        group: &'a Group,
        source: &SourceNow<'_>,
        by: GroupBy,
    ) -> Vec<(String, Piece<'a>)> {
        let (state, count) = standing(group, source);
        let fixed = self.wishes.fixed(&group.like.identity);
        let came_after = |at: Millis| group.last().is_some_and(|last| last > at);
        let state = if state == State::Still && fixed.is_some_and(came_after) {
            State::Back
        } else {
            state
        };
        let whole = |key: String| vec![(key, Piece { group, part: None, state, count, fixed })];
        let by_part = |split: Split, prefix: &str| {
            let of = |part: &'a Part| {
                let what = match split {
                    Split::Object => part.object.clone().unwrap_or_else(|| "no object told".into()),
                    Split::Caller => {
                        part.caller.clone().unwrap_or_else(|| "called from outside".into())
                    }
                    Split::Words => part.words.join(" "),
                };
                let here = part.run == source.run;
                let part_state = if here { state } else { State::Quiet };
                (
                    format!("{prefix}\u{2}{what}"),
                    Piece { group, part: Some(part), state: part_state, count: part.count, fixed },
                )
            };
            group.parts.iter().map(of).collect::<Vec<_>>()
        };
        let report = &group.entry.report;
        match by {
            GroupBy::Mistake => {
                let identity = self.canon(group);
                // What was recalled and not met again has no parts to be told apart by.
                if let Some(split) =
                    self.wishes.split(&group.like.identity).filter(|_| !group.parts.is_empty())
                {
                    return by_part(split, identity.as_str());
                }
                whole(identity.as_str().to_owned())
            }
            GroupBy::Message => whole(group.like.masked.shape.clone()),
            GroupBy::Place => {
                whole(group.entry.place.as_ref().map_or(group.entry.no_place().into(), |p| {
                    match p.line {
                        Some(line) => format!("{}:{line}", p.file),
                        None => p.file.to_string(),
                    }
                }))
            }
            GroupBy::Object if group.parts.is_empty() => {
                whole(report.object.clone().unwrap_or_else(|| "no object told".into()))
            }
            GroupBy::Object => by_part(Split::Object, ""),
            GroupBy::Kind => whole(report.kind.clone().unwrap_or_else(|| "no kind told".into())),
            GroupBy::Family => whole(group.entry.family.title().to_owned()),
            GroupBy::Source => whole(group.source.to_string()),
        }
    }

    /// Whether other sources tell the same mistake: by its place, or, where none is known, by
    /// telling it at the same moments.
    fn tells_the_same(&self, group: &Group) -> bool {
        let Some(tellers) = self.across.get(&group.like.across).filter(|t| t.len() > 1) else {
            return false;
        };
        let others = tellers
            .iter()
            .filter_map(|id| self.groups.get(id.0 as usize))
            .filter(|g| g.source != group.source && !g.runs.is_empty());
        let mut others = others.peekable();
        others.peek().is_some()
            && (group.entry.place.is_some()
                || group.told_before > 0
                || others.any(|g| g.told_before > 0))
    }

    /// What the row of a group is known by: the group that the user joined it with, or the first
    /// one that tells the same, whichever source that is.
    fn canon(&self, group: &Group) -> Identity {
        let joined = self.wishes.joined(&group.like.identity);
        let group = if joined == &group.like.identity {
            Some(group)
        } else {
            self.groups.iter().map(|g| &**g).find(|g| &g.like.identity == joined)
        };
        let Some(group) = group.filter(|g| self.tells_the_same(g)) else { return joined.clone() };
        let first = self
            .across
            .get(&group.like.across)
            .and_then(|t| t.first())
            .and_then(|id| self.groups.get(id.0 as usize));
        first.map_or_else(|| joined.clone(), |g| self.wishes.joined(&g.like.identity).clone())
    }

    fn row(
        &self,
        key: &str,
        pieces: &[Piece<'_>],
        sources: &[SourceNow<'_>],
        by: GroupBy,
        now: Option<Millis>,
    ) -> GroupView {
        let here = pieces.iter().any(|p| p.state != State::Quiet);
        let live = |p: &&Piece<'_>| !here || p.state != State::Quiet;
        // The one that tells most speaks for the row: steps, then how often.
        let best = pieces.iter().filter(live).max_by_key(|p| {
            (
                p.group.entry.place.is_some(),
                p.group.entry.report.level,
                p.group.entry.report.frames.len().min(1),
                p.count,
                std::cmp::Reverse(p.group.id),
            )
        });
        let Some(best) = best.or(pieces.first()) else {
            unreachable!("a row is made of at least one piece")
        };
        let group = best.group;
        let entry = best.part.map_or(&group.entry, |p| &p.entry).clone();
        let own = sources.get(group.source).map_or(&[][..], |s| s.own);
        let state = pieces.iter().filter(live).map(|p| p.state).max_by_key(|s| match s {
            State::Back => 3,
            State::Still => 2,
            State::New => 1,
            State::Quiet => 0,
        });
        let state = state.unwrap_or(State::Quiet);
        let told_twice: u64 = if by == GroupBy::Mistake {
            pieces
                .iter()
                .filter(live)
                .filter(|p| p.part.is_none())
                .map(|p| p.group.told_before)
                .sum()
        } else {
            0
        };
        let count: u64 = pieces.iter().filter(live).map(|p| p.count).sum();
        let mut members: Vec<GroupId> = pieces.iter().map(|p| p.group.id).collect();
        members.dedup();
        let mut tellers: Vec<usize> = pieces.iter().map(|p| p.group.source).collect();
        tellers.sort_unstable();
        tellers.dedup();
        let parts = || {
            pieces.iter().flat_map(|p| match p.part {
                Some(part) => std::slice::from_ref(part).iter(),
                None => p.group.parts.iter(),
            })
        };
        let tally = |of: fn(&Part) -> Option<&String>| {
            let mut out: Vec<(String, u64)> = Vec::new();
            for part in parts() {
                if let Some(name) = of(part) {
                    match out.iter_mut().find(|(n, _)| n == name) {
                        Some((_, count)) => *count += part.total,
                        None => out.push((name.clone(), part.total)),
                    }
                }
            }
            out.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(&b.0)));
            out
        };
        let (objects, callers) = (tally(|p| p.object.as_ref()), tally(|p| p.caller.as_ref()));
        let mut differs = Vec::new();
        if by == GroupBy::Mistake && best.part.is_none() {
            let words: std::collections::HashSet<&Vec<String>> =
                parts().map(|p| &p.words).collect();
            differs.extend((objects.len() > 1).then_some(Split::Object));
            differs.extend((callers.len() > 1).then_some(Split::Caller));
            differs.extend((words.len() > 1).then_some(Split::Words));
        }
        let identity = match (by, best.part) {
            (GroupBy::Mistake, None) => Identity::from_text(key),
            _ => group.like.identity.clone(),
        };
        let source = sources.get(group.source);
        let run = source.map_or(1, |s| s.run);
        let last_run = group.runs.last().map_or(run, |t| t.run);
        let follows = if by == GroupBy::Mistake {
            self.follows.follow(group.id).filter(|f| !members.contains(&f.of))
        } else {
            None
        };
        let strangers = |f: &Follow| {
            self.groups
                .get(f.of.0 as usize)
                .is_none_or(|before| !share(&before.entry, &group.entry))
        };
        let follows = follows.filter(|f| f.cases >= CASES_OF_STRANGERS || !strangers(f));
        // An error is never put under what only warns, and what cannot be read has its reason in
        // itself.
        let graver = |f: &Follow| {
            self.groups.get(f.of.0 as usize).is_some_and(|before| {
                before.entry.report.level.min(Level::Error) < entry.report.level.min(Level::Error)
            })
        };
        let follows = follows.filter(|f| !graver(f) && entry.family != Family::DoesNotParse);
        let heading = match by {
            GroupBy::Mistake => {
                best.part.and_then(|_| key.rsplit('\u{2}').next()).map(str::to_owned)
            }
            GroupBy::Source => None,
            _ => Some(key.trim_start_matches('\u{2}').to_owned()),
        };
        GroupView {
            identities: {
                let mut all: Vec<Identity> =
                    pieces.iter().map(|p| p.group.like.identity.clone()).collect();
                all.dedup();
                all
            },
            id: if by == GroupBy::Mistake && best.part.is_none() {
                pieces[0].group.id
            } else {
                made_id(key)
            },
            source: group.source,
            tellers,
            shape: group.like.masked.shown(&group.same),
            heading,
            count: count.saturating_sub(told_twice),
            total: pieces
                .iter()
                .map(|p| p.part.map_or(p.group.total, |part| part.total))
                .sum::<u64>()
                .saturating_sub(told_twice),
            rate: pieces.iter().map(|p| rate(p.group, now)).fold(0.0, f64::max),
            first: pieces.iter().filter_map(|p| p.group.first()).min(),
            last: pieces.iter().filter_map(|p| p.group.last()).max(),
            state,
            first_run: group.runs.first().map_or(run, |t| t.run),
            last_run,
            objects,
            callers,
            split: best.part.and_then(|_| self.wishes.split(&group.like.identity)),
            differs,
            first_line: group.first_line,
            last_line: group.last_line,
            // Who is not named is not known to be somebody else; what went through the user's own
            // code is theirs, whoever tells it.
            foreign: !own.is_empty()
                && !entry.report.frames.iter().any(|f| f.own.is_some())
                && entry.report.speaker.as_ref().is_some_and(|s| !own.contains(s)),
            muted: pieces.iter().all(|p| self.wishes.is_muted(&p.group.like.identity)),
            fixed: pieces.iter().find_map(|p| p.fixed),
            stopped: pieces.iter().filter_map(|p| p.group.stopped()).max(),
            stops: pieces.iter().any(|p| {
                p.group
                    .stopped()
                    .is_some_and(|r| sources.get(p.group.source).is_none_or(|s| s.run == r))
            }),
            since_edit: state == State::New && run > 1,
            after_save: group.after_save.clone(),
            follows,
            hangs: false,
            later_than: None,
            reason: String::new(),
            silence: if state == State::Quiet {
                source.and_then(|s| silence(group, s, last_run))
            } else {
                None
            },
            runs: group.runs.clone(),
            explanation: group.explanation.clone(),
            entry,
            members,
            identity,
        }
    }
}

/// Whether two entries have a script, an object or a handler in common.
fn share(a: &Entry, b: &Entry) -> bool {
    let own = |e: &Entry| {
        e.report
            .frames
            .iter()
            .chain(e.report.causes.iter().flat_map(|c| &c.frames))
            .filter_map(|f| f.own.clone())
            .collect::<Vec<_>>()
    };
    let scripts = own(b);
    let same = |a: &Option<String>, b: &Option<String>| a.is_some() && a == b;
    own(a).iter().any(|f| scripts.contains(f))
        || a.place
            .as_ref()
            .map(|p| &p.file)
            .is_some_and(|f| b.place.as_ref().map(|p| &p.file) == Some(f))
        || same(&a.report.object, &b.report.object)
        || same(&a.report.handler, &b.report.handler)
}

/// A number for a row that is no group of the table; the same for the same row.
fn made_id(key: &str) -> GroupId {
    let hash = key
        .bytes()
        .fold(2_166_136_261u32, |hash, byte| (hash ^ u32::from(byte)).wrapping_mul(16_777_619));
    GroupId(MADE | hash >> 2)
}

fn standing(group: &Group, source: &SourceNow<'_>) -> (State, u64) {
    let current = source.run;
    let last = group.runs.last().copied();
    let before = group.runs.iter().rev().map(|t| t.run).find(|r| *r < current);
    // What was read anew since, and did not strike, is as silent as in a run without it.
    let here = last.is_some_and(|t| t.run == current) && read_anew(group, source.runs).is_none();
    // It came, its files were read anew, and it came again.
    let outlived = last.and_then(|t| Some((t.first?, t.last?))).is_some_and(|(first, last)| {
        let anew = source.runs.last().and_then(|r| r.read_anew(first, touches(group)));
        anew.is_some_and(|anew| anew <= last)
    });
    let state = match (here, before) {
        (false, _) => State::Quiet,
        (true, None) if outlived => State::Still,
        (true, None) => State::New,
        (true, Some(before)) if before + 1 < current => State::Back,
        (true, Some(_)) => State::Still,
    };
    (state, last.map_or(0, |t| t.count))
}

fn rate(group: &Group, now: Option<Millis>) -> f64 {
    let Some(now) = now else { return 0.0 };
    let second = now.0.div_euclid(1000);
    let counted: u32 = group
        .seconds
        .iter()
        .filter(|(s, _)| *s < second && *s >= second - RATE_SECONDS as i64)
        .map(|(_, n)| n)
        .sum();
    // Only whole seconds are counted, so only they are divided by.
    let whole = Millis(second * 1000);
    let met_for = group.first().map_or(RATE_SECONDS as f64, |first| {
        (whole.since(first) as f64 / 1000.0).clamp(1.0, RATE_SECONDS as f64)
    });
    f64::from(counted) / met_for
}

/// Whether a file has to do with a group: it is the place or a step of its error.
fn touches(group: &Group) -> impl Fn(&str) -> bool {
    let entry = &group.entry;
    let steps = entry.report.causes.iter().flat_map(|c| &c.frames).chain(&entry.report.frames);
    let mut files: Vec<_> = steps.filter_map(|f| f.own.clone()).collect();
    files.extend(entry.place.as_ref().map(|p| p.file.clone()));
    move |file| files.iter().any(|f| &**f == file)
}

/// When the program read anew what a group's error came from, after it was seen last and in the same
/// run; and how long that run went on from there, in milliseconds.
fn read_anew(group: &Group, runs: &[RunSpan]) -> Option<(Millis, u64)> {
    let last = group.runs.last()?;
    let run = runs.iter().rev().find(|r| r.run == last.run)?;
    let anew = run.read_anew(last.last?, touches(group))?;
    let until = Millis(run.started?.0.saturating_add_unsigned(run.ran_ms));
    Some((anew, until.since(anew)))
}

fn silence(group: &Group, source: &SourceNow<'_>, last_run: u32) -> Option<Silence> {
    let since = || source.runs.iter().filter(|r| r.run > last_run);
    let anew = read_anew(group, source.runs).map(|(_, ran_ms)| ran_ms);
    let runs_ms: Vec<u64> = anew.into_iter().chain(since().map(|r| r.ran_ms)).collect();
    let actions = source.tells_actions.then(|| since().map(|r| r.actions).sum());
    let edited = anew.is_some() || since().any(|r| !r.edits.is_empty());
    let ms = runs_ms.iter().sum();
    Silence::judge(&group.gaps, &Exposure { ms, actions, runs_ms, edited })
}

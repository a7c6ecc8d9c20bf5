//! Whether a phrase holds for a group or a line.

use crate::group::GroupView;
use crate::phrase::{Phrase, Term};
use crate::state::State;
use izba_model::{Level, Millis};

/// What a phrase is judged against, beside the group or line itself.
#[derive(Debug, Clone, Copy, Default)]
pub struct Around<'a> {
    /// Names of the sources.
    pub sources: &'a [String],
    /// The time now, in milliseconds since 1970 (UTC).
    pub now: Option<Millis>,
    /// Offset of local time from UTC in seconds.
    pub utc_offset: i32,
}

/// What is known of one line.
#[derive(Debug, Clone, Copy, Default)]
pub struct LineFacts<'a> {
    /// Its text.
    pub text: &'a str,
    /// How grave it is: as its group, or as it says itself.
    pub level: Option<Level>,
    /// Who speaks.
    pub speaker: Option<&'a str>,
    /// Index of its source in the snapshot.
    pub source: usize,
    /// Whether it is said by what is the user's.
    pub own: bool,
    /// When it came, in milliseconds since 1970 (UTC).
    pub time: Option<Millis>,
    /// Number of its run, from 1.
    pub run: u32,
    /// Whether it looks as if it mattered and was not understood.
    pub overlooked: bool,
    /// The group that it belongs to.
    pub group: Option<&'a GroupView>,
}

/// What a phrase looks at.
enum Subject<'a> {
    Group(&'a GroupView),
    Line(&'a LineFacts<'a>),
}

impl Phrase {
    /// Whether it holds for a group.
    pub fn fits_group(&self, group: &GroupView, around: &Around<'_>) -> bool {
        holds(self.term(), &Subject::Group(group), around)
    }

    /// Whether it holds for a line.
    pub fn fits_line(&self, line: &LineFacts<'_>, around: &Around<'_>) -> bool {
        holds(self.term(), &Subject::Line(line), around)
    }
}

fn holds(term: &Term, subject: &Subject<'_>, around: &Around<'_>) -> bool {
    let group = match subject {
        Subject::Group(group) => Some(*group),
        Subject::Line(line) => line.group,
    };
    let time = || match subject {
        Subject::Group(group) => group.last,
        Subject::Line(line) => line.time,
    };
    let first = || match subject {
        Subject::Group(group) => group.first,
        Subject::Line(line) => line.time,
    };
    let own = || match subject {
        Subject::Group(group) => group.is_own(),
        Subject::Line(line) => line.group.map_or(line.own, GroupView::is_own),
    };
    match term {
        Term::All(all) => all.iter().all(|t| holds(t, subject, around)),
        Term::Any(any) => any.iter().any(|t| holds(t, subject, around)),
        Term::Not(inner) => !holds(inner, subject, around),
        Term::Text(_, regex) | Term::Pattern(regex) => match subject {
            Subject::Line(line) => regex.is_match(line.text),
            Subject::Group(group) => {
                let report = &group.entry.report;
                let causes = report
                    .causes
                    .iter()
                    .flat_map(|c| [Some(c.message.as_str()), c.kind.as_deref()]);
                let own = [
                    Some(report.message.as_str()),
                    report.kind.as_deref(),
                    report.code.as_deref(),
                    group.heading.as_deref(),
                ];
                own.into_iter().chain(causes).flatten().any(|text| regex.is_match(text))
                    || regex.is_match(&group.explanation.short.bare())
            }
        },
        Term::Level(level, worse) => {
            let is = match subject {
                Subject::Group(group) => Some(group.level()),
                Subject::Line(line) => line.level,
            };
            is.is_some_and(|is| if *worse { is >= *level } else { is == *level })
        }
        Term::In(names, range) => {
            let within = |line: Option<u32>| {
                range.is_none_or(|(from, to)| line.is_some_and(|l| (from..=to).contains(&l)))
            };
            let place = group.and_then(|g| g.entry.place.as_ref());
            let by_place = place.is_some_and(|p| names.fits_path(&p.file) && within(p.line));
            // A line that belongs to no group is in a script when it names it.
            let by_text = || match subject {
                Subject::Line(line) if line.group.is_none() => {
                    izba_console::read::find_place(line.text, 0).is_some_and(|place| {
                        names.fits_path(&place.file.replace('\\', "/")) && within(Some(place.line))
                    })
                }
                _ => false,
            };
            by_place || by_text()
        }
        Term::On(names) => group.is_some_and(|g| {
            g.objects
                .iter()
                .map(|(n, _)| n.as_str())
                .chain(g.entry.report.object.as_deref())
                .any(|o| names.fits(o))
        }),
        Term::By(names) => match subject {
            Subject::Group(group) => {
                group.entry.report.speaker.as_deref().is_some_and(|s| names.fits_part(s))
            }
            Subject::Line(line) => line.speaker.is_some_and(|s| names.fits_part(s)),
        },
        Term::From(names) => {
            let name = |at: usize| around.sources.get(at).is_some_and(|s| names.fits_part(s));
            match subject {
                Subject::Group(group) => group.tellers.iter().any(|at| name(*at)),
                Subject::Line(line) => name(line.source),
            }
        }
        Term::Kind(names) => {
            group.is_some_and(|g| {
                let report = &g.entry.report;
                report.kind.iter().chain(report.causes.iter().filter_map(|c| c.kind.as_ref())).any(
                    |k| names.fits(k) || k.rsplit('.').next().is_some_and(|last| names.fits(last)),
                )
            })
        }
        Term::Family(names) => group.is_some_and(|g| names.fits(g.entry.family.id())),
        Term::Seen(least, most) => {
            group.is_some_and(|g| g.count >= *least && most.is_none_or(|most| g.count <= most))
        }
        Term::Last(span) => {
            time().zip(around.now).is_some_and(|(time, now)| now.since(time) <= *span)
        }
        Term::Since(ms) => time()
            .zip(around.now)
            .is_some_and(|(time, now)| time >= since(*ms, now, around.utc_offset)),
        Term::Until(ms) => first()
            .zip(around.now)
            .is_some_and(|(time, now)| time <= until(*ms, now, around.utc_offset)),
        Term::Run(run) => match subject {
            Subject::Group(group) => group.runs.iter().any(|t| t.run == *run),
            Subject::Line(line) => line.run == *run,
        },
        Term::Overlooked => match subject {
            Subject::Group(_) => false,
            Subject::Line(line) => line.overlooked,
        },
        Term::Own => own(),
        Term::Outside => !own(),
        Term::State(state) => {
            group.is_some_and(|g| g.state == *state && (*state == State::Quiet || g.count > 0))
        }
        Term::Fixed => group.is_some_and(|g| g.fixed.is_some()),
        Term::Muted => group.is_some_and(|g| g.muted),
    }
}

/// The latest moment before `now` at which a clock showed this time of day.
fn since(ms: u32, now: Millis, utc_offset: i32) -> Millis {
    let local = now.0 + i64::from(utc_offset) * 1000;
    let midnight = local.div_euclid(86_400_000) * 86_400_000;
    let at = midnight + i64::from(ms);
    Millis((if at > local { at - 86_400_000 } else { at }) - i64::from(utc_offset) * 1000)
}

/// The same, but of a time that is still to come within half a day that one: up to then.
fn until(ms: u32, now: Millis, utc_offset: i32) -> Millis {
    let (before, day) = (since(ms, now, utc_offset), 86_400_000);
    if before.0 + day - now.0 <= day / 2 { Millis(before.0 + day) } else { before }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn until_means_the_time_that_is_nearest() {
        let at = |hours: i64| Millis(hours * 3_600_000);
        let ms = |hours: u32| hours * 3_600_000;
        // At ten in the morning: earlier today, later today, last night.
        let now = at(34);
        assert_eq!(until(ms(9), now, 0), at(33));
        assert_eq!(until(ms(11), now, 0), at(35));
        assert_eq!(until(ms(23), now, 0), at(23));
        assert_eq!(since(ms(11), now, 0), at(11), "what is to come began yesterday");
    }
}

//! How sure a silence makes us that a mistake is gone.
//!
//! The model: while a mistake is still there, the gaps between its sightings (in running time of
//! its source, or in the actions that the source tells) are drawn from one exponential
//! distribution, or, where they are clearly of two kinds, from a mixture of two: short ones within
//! a burst and long ones between bursts. Only the long ones say when the next burst is due. The
//! mean is not known but estimated from `m` gaps; with the usual gamma prior the chance that a
//! mistake which is still there is silent for `t` is `(s / (s + t))^m`, where `s` is the sum of the
//! long gaps. Mistakes that come once in a run, soon after its start, are judged by runs instead:
//! after `k` runs that all had it by then, the chance that none of the next `n` has is the product
//! of `i / (k + 1 + i)`.
//!
//! One silence is one question, asked from the first run after an edit on: what nobody mended is
//! not called gone.

use super::sight::{Gap, Gaps};

/// Below this chance of being still there it is called very likely gone.
const VERY_LIKELY: f64 = 0.02;
/// Below this one, likely gone.
const LIKELY: f64 = 0.2;
/// Gaps that are needed at least.
const FEW: usize = 3;

/// How long a group has been silent.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Exposure {
    /// Running time in milliseconds, over all runs since the one that saw it last.
    pub ms: u64,
    /// Actions that the source told meanwhile; `None` when it tells none.
    pub actions: Option<u32>,
    /// Running time of each of those runs in milliseconds.
    pub runs_ms: Vec<u64>,
    /// Whether own files were changed since.
    pub edited: bool,
}

/// What the silence of a group in a run says of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Verdict {
    /// Not much yet.
    TooEarly,
    /// It would likely have come again.
    Likely,
    /// It would almost surely have come again.
    VeryLikely,
    /// Nothing was changed since: it is only waiting.
    NothingChanged,
}

/// What a silence says, with its numbers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Silence {
    /// Sightings that were to be expected by now, were it still there.
    pub expected: f64,
    /// The range in which that number lies nineteen times in twenty.
    pub range: (f64, f64),
    /// The chance that it is still there and merely silent.
    pub chance: f64,
    /// In words.
    pub verdict: Verdict,
    /// How long it has been silent, in milliseconds of running.
    pub ms: u64,
    /// Actions instead of time were counted: so many.
    pub actions: Option<u32>,
    /// Starts instead of time were counted: it came after so many of them, within so many
    /// milliseconds, and not after so many since.
    pub starts: Option<(u32, u64, u32)>,
}

impl Silence {
    /// Judges a silence of `now` after sightings with these gaps; `None` when there is nothing to
    /// go by.
    pub fn judge(gaps: &Gaps, now: &Exposure) -> Option<Silence> {
        let by_time = judged(&values(gaps, |g| g.ms as f64), now.ms as f64);
        let by_action = now
            .actions
            .and_then(|count| judged(&values(gaps, |g| f64::from(g.actions)), f64::from(count)));
        // Where the source tells what the user does, a silence counts only as far as it was tried.
        let (told, actions) = match (by_action, by_time) {
            (Some(action), _) => (Some(action), now.actions),
            (None, time) => (time, None),
        };
        let (judged, starts) = match (told, by_starts(gaps, &now.runs_ms)) {
            (Some(told), Some((by_starts, starts))) if by_starts.chance < told.chance => {
                (by_starts, Some(starts))
            }
            (Some(told), _) => (told, None),
            (None, Some((by_starts, starts))) => (by_starts, Some(starts)),
            (None, None) => return None,
        };
        let verdict = match judged.chance {
            _ if !now.edited => Verdict::NothingChanged,
            c if c <= VERY_LIKELY => Verdict::VeryLikely,
            c if c <= LIKELY => Verdict::Likely,
            _ => Verdict::TooEarly,
        };
        Some(Silence {
            expected: judged.expected,
            range: judged.range,
            chance: judged.chance,
            verdict,
            ms: now.ms,
            actions: actions.filter(|_| starts.is_none()),
            starts,
        })
    }

    /// The judgement as a sentence without its full stop.
    pub fn sentence(&self) -> String {
        if let (Some((came, within, silent)), true) =
            (self.starts, self.verdict != Verdict::NothingChanged)
        {
            let what = match self.verdict {
                Verdict::VeryLikely => "very likely gone",
                Verdict::Likely => "likely gone",
                _ => "too early to say",
            };
            let before = izba_model::text::counted(u64::from(came), "start", "starts");
            let since = if silent == 1 {
                "not after this one".to_owned()
            } else {
                format!("after none of the {silent} since")
            };
            return format!(
                "it came within {} of {before}, and {since}: {what}",
                lasting(within.max(1_000))
            );
        }
        let what = match self.verdict {
            Verdict::VeryLikely => "it is very likely gone",
            Verdict::Likely => "it is likely gone",
            Verdict::TooEarly => {
                return format!("too early to say: {} expected by now", about(self.expected));
            }
            Verdict::NothingChanged => {
                return "not seen so far, but nothing was changed: it may come again".into();
            }
        };
        let after = match self.actions {
            Some(n) => izba_model::text::counted(u64::from(n), "action", "actions"),
            None => lasting(self.ms),
        };
        format!("in {after} you'd have seen {}; {what}", about(self.expected))
    }
}

fn about(count: f64) -> String {
    match count {
        c if c < 1.0 => "less than 1".into(),
        c if c < 1.5 => "about 1".into(),
        c if c < 100.0 => format!("about {}", c.round() as u64),
        // Two digits are all that is known.
        c => {
            let scale = 10f64.powf(c.log10().floor() - 1.0);
            format!("about {}", izba_model::text::thousands(((c / scale).round() * scale) as u64))
        }
    }
}

pub(crate) fn lasting(ms: u64) -> String {
    match ms / 1000 {
        s @ 0..120 => izba_model::text::counted(s.max(1), "second", "seconds"),
        s @ 120..7200 => izba_model::text::counted(s / 60, "minute", "minutes"),
        s => izba_model::text::counted(s / 3600, "hour", "hours"),
    }
}

struct Judged {
    expected: f64,
    range: (f64, f64),
    chance: f64,
}

fn values(gaps: &Gaps, of: impl Fn(&Gap) -> f64) -> Vec<f64> {
    gaps.list.iter().map(of).collect()
}

fn judged(gaps: &[f64], silent: f64) -> Option<Judged> {
    if gaps.len() < FEW {
        return None;
    }
    // Moments closer than the clock can tell are no gap of zero.
    let gaps: Vec<f64> = gaps.iter().map(|g| g.max(0.5)).collect();
    let n = gaps.len() as f64;
    let mean = gaps.iter().sum::<f64>() / n;
    let (slow, share) = mixture(&gaps).unwrap_or((mean, 1.0));
    let long = (n * share).max(0.5);
    let chance = (long * slow / (long * slow + silent)).powf(long);
    let expected = silent / mean;
    // Bursts come by chance, and so does the estimate of how often.
    let bursts = silent / slow;
    let spread = 1.96 * (bursts + bursts * bursts / long).sqrt() * expected / bursts.max(1e-9);
    Some(Judged { expected, range: ((expected - spread).max(0.0), expected + spread), chance })
}

/// Mean and share of the long gaps, when the gaps are clearly of two kinds (expectation
/// maximisation for two exponentials, taken only when it explains them better by the Bayesian
/// information criterion).
fn mixture(gaps: &[f64]) -> Option<(f64, f64)> {
    let n = gaps.len() as f64;
    let mean = gaps.iter().sum::<f64>() / n;
    let variance = gaps.iter().map(|g| (g - mean).powi(2)).sum::<f64>() / n;
    // What is more regular than chance is of one kind.
    if gaps.len() < 6 || variance <= mean * mean * 1.2 {
        return None;
    }
    let mut sorted = gaps.to_vec();
    sorted.sort_by(f64::total_cmp);
    let (mut fast, mut slow, mut share) =
        (sorted[sorted.len() / 4].max(0.5), sorted[sorted.len() - 1], 0.3);
    for _ in 0..60 {
        let (mut weight, mut weighted, mut rest) = (0.0, 0.0, 0.0);
        for gap in gaps {
            let a = share / slow * (-gap / slow).exp();
            let b = (1.0 - share) / fast * (-gap / fast).exp();
            let w = if a + b > 0.0 { a / (a + b) } else { f64::from(u8::from(*gap > fast)) };
            weight += w;
            weighted += w * gap;
            rest += (1.0 - w) * gap;
        }
        if weight < 1e-6 || n - weight < 1e-6 {
            return None;
        }
        (slow, fast, share) = (weighted / weight, (rest / (n - weight)).max(0.25), weight / n);
    }
    let one = -n * (mean.ln() + 1.0);
    let two: f64 = gaps
        .iter()
        .map(|g| {
            (share / slow * (-g / slow).exp() + (1.0 - share) / fast * (-g / fast).exp())
                .max(1e-300)
                .ln()
        })
        .sum();
    (two - one > n.ln() + 1.0 && slow > 2.0 * fast).then_some((slow, share))
}

/// For what comes once in a run, soon after its start.
///
/// After `k` starts that all had it by then, the chance that none of `n` further ones has is the
/// product of `i / (k + 1 + i)`.
fn by_starts(gaps: &Gaps, runs_ms: &[u64]) -> Option<(Judged, (u32, u64, u32))> {
    let late = *gaps.starts.iter().max()?;
    // It has to be what it does at a start, and a run has to be past that point.
    let silent = runs_ms.iter().filter(|ms| **ms > 2 * late + 1_000).count() as u32;
    if silent == 0 {
        return None;
    }
    let came = gaps.starts.len() as u32;
    let chance = (1..=silent).map(|i| f64::from(i) / f64::from(came + 1 + i)).product();
    Some((
        Judged { expected: f64::from(silent), range: (0.0, f64::from(silent)), chance },
        (came, late, silent),
    ))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_more_is_said_of_a_number_than_is_known() {
        let said: Vec<String> = [0.4, 1.2, 1.6, 42.4, 99.4, 1_234.0, 98_765.0].map(about).into();
        assert_eq!(
            said,
            [
                "less than 1",
                "about 1",
                "about 2",
                "about 42",
                "about 99",
                "about 1 200",
                "about 99 000"
            ]
        );
        let said: Vec<String> = [400, 119_999, 120_000, 7_199_999, 7_200_000].map(lasting).into();
        assert_eq!(said, ["1 second", "119 seconds", "2 minutes", "119 minutes", "2 hours"]);
    }

    fn gaps(list: impl IntoIterator<Item = u64>) -> Gaps {
        Gaps {
            list: list.into_iter().map(|ms| Gap { ms, actions: 0 }).collect(),
            ..Gaps::default()
        }
    }

    #[test]
    fn a_silence_is_told_in_words_with_its_number() {
        let steady = gaps((0..40).map(|i| 15_000 + i * 300));
        let burst = gaps((0..200).map(|i| if i % 20 == 0 { 90_000 } else { 16 }));
        let say = |gaps: &Gaps, seconds: u64, edited: bool| {
            let silence = Silence::judge(
                gaps,
                &Exposure { ms: seconds * 1000, actions: None, runs_ms: Vec::new(), edited },
            );
            silence.map_or("nothing to go by".to_owned(), |s| s.sentence())
        };
        let told = [
            say(&steady, 10, true),
            say(&steady, 60, true),
            say(&steady, 240, true),
            say(&steady, 240, false),
            say(&burst, 60, true),
            say(&burst, 900, true),
            say(&gaps([5, 5]), 900, true),
        ];
        insta::assert_snapshot!(told.join("\n"), @r"
        too early to say: less than 1 expected by now
        in 60 seconds you'd have seen about 3; it is likely gone
        in 4 minutes you'd have seen about 12; it is very likely gone
        not seen so far, but nothing was changed: it may come again
        too early to say: about 13 expected by now
        in 15 minutes you'd have seen about 200; it is very likely gone
        nothing to go by
        ");
    }
}

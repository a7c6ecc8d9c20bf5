//! Trying exact edits: each is made in a copy of the project, which then runs for as long as the error
//! needed and longer, while everything it says is read as always.

use super::bench::{Bench, LONGEST, TOO_MUCH};
use super::edits_tried::{Edits, Texts, Together};
use super::mistake::{Mistake, Start};
use izba_cause::suspect::Findings;
use izba_core::{Engine, GroupView, State};
use izba_model::claim::{Claim, Evidence, Fix, LIKELY, Verdict};
use izba_model::text::counted;
use izba_model::{Family, Level, Millis, Project, Stream};
use izba_model::{say, sayings};
use izba_sources::TryEnd;
use std::collections::VecDeque;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

sayings! {
    "tried", Any, "../../words/trying.toml";
    GONE = "gone",
    HIDDEN = "hidden",
    COMES = "comes",
    OTHER = "other",
    LATER = "later",
}

/// A program that goes on runs for so many times as long as the error needed, and so much longer.
const TIMES: u32 = 3;
const LONGER: Duration = Duration::from_secs(2);
/// How sure a suspect is whose edit held in a trial.
const PROVED: f32 = 0.97;

/// What came of trying one edit.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Outcome {
    /// The error did not come, and none that was not there before.
    Gone,
    /// The error still came.
    Comes,
    /// Another one came instead, by what was edited: what it says.
    Other(String),
    /// It did not come, but another one did, elsewhere: what it says. That may be the next mistake,
    /// and proves nothing either way.
    Later(String),
    /// It was stopped, or there was no time left.
    NotTried,
}

/// One edit that was tried.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tried {
    /// The edit.
    pub fix: Fix,
    /// What it does, in words.
    pub says: String,
    /// What came of it.
    pub outcome: Outcome,
    /// How long the program ran with it, in milliseconds, over all runs.
    pub ran_ms: u64,
    /// How often it ran.
    pub runs: u32,
    /// Whether the program ended by itself.
    pub ended: bool,
    /// How many other errors still came, which came before too.
    pub left: usize,
    /// Whether it only takes lines out of a program that ran: that the error does not come then may
    /// be because nobody asks any more, which is the quick way and no proof.
    pub quick: bool,
    /// Whether it was tried together with the one that holds, as the same elsewhere.
    pub beside: bool,
    /// In how many other places the same edit was made with it; without them another error of the
    /// same kind came.
    pub with: usize,
}

impl Tried {
    /// What came of it, in a sentence without a full stop.
    pub fn sentence(&self) -> String {
        let ran = format!("{:.1} s", self.ran_ms as f64 / 1000.0);
        let how = match (self.ended, self.runs) {
            _ if self.left > 0 => String::new(),
            (true, 1) => format!("the program ran to its end in {ran}, "),
            (true, n) => format!("the program ran to its end {n} times, "),
            (false, _) => format!("the program ran for {ran}, "),
        };
        let left = match self.left {
            0 => String::new(),
            1 => "; one other that was there before still comes".to_owned(),
            n => format!("; {n} others that were there before still come"),
        };
        match &self.outcome {
            Outcome::Gone => {
                let quick = if self.quick {
                    "; but it only takes out what asks for it: the quick way, which may hide the \
                        mistake"
                } else {
                    ""
                };
                if self.beside {
                    return format!(
                        "tried in a copy together with the edit that holds: {how}no new error \
                            comes{left}"
                    );
                }
                let with = match self.with {
                    0 => String::new(),
                    1 => "and the same in one other place ".to_owned(),
                    n => format!("and the same in {n} other places "),
                };
                format!(
                    "tried in a copy: with it {with}{how}this error is gone, and no new one \
                        comes{left}{quick}"
                )
            }
            Outcome::Comes if self.beside => {
                "tried in a copy together with the edit that holds: the error comes again".into()
            }
            Outcome::Comes => "tried in a copy: the error still comes".into(),
            Outcome::Other(said) | Outcome::Later(said) if self.beside => format!(
                "tried in a copy together with the edit that holds: another error comes: {}",
                open(said)
            ),
            Outcome::Other(said) => {
                format!("tried in a copy: another error comes instead: {}", open(said))
            }
            Outcome::Later(said) => format!(
                "tried in a copy: with it this error does not come, but elsewhere another one does, \
                    which proves nothing either way: {}",
                open(said)
            ),
            Outcome::NotTried => "not tried: it was stopped, or there was no time left".into(),
        }
    }

    /// Whether the error is gone with it, and not only hidden.
    pub fn holds(&self) -> bool {
        self.outcome == Outcome::Gone && !self.quick && !self.beside
    }

    /// Whether it can be made together with the one that holds, and nothing new comes.
    pub fn goes_with_it(&self) -> bool {
        self.outcome == Outcome::Gone && self.beside
    }

    /// Weighs what was found about the error: what held goes to the front, what did not is ruled out;
    /// of what may only hide it, that is told.
    pub fn weigh(&self, findings: &mut Findings) {
        let Some(at) = findings.suspects.iter().position(|s| s.fix.as_ref() == Some(&self.fix))
        else {
            return;
        };
        let saw = match &self.outcome {
            Outcome::Gone if self.quick => say!(HIDDEN),
            Outcome::Gone => say!(GONE),
            Outcome::Comes => say!(COMES),
            Outcome::Other(said) => say!(OTHER, said = said.as_str()),
            Outcome::Later(said) => say!(LATER, said = said.as_str()),
            Outcome::NotTried => return,
        };
        let holds = self.holds();
        let suspect = &mut findings.suspects[at];
        let says = suspect.claim.says.clone();
        let evidence = Evidence { file: suspect.file.clone(), line: suspect.line, saw };
        suspect.claim.evidence.insert(0, evidence.clone());
        // What is no proof either way changes nothing in the order.
        if self.outcome == Outcome::Gone && self.quick || matches!(self.outcome, Outcome::Later(_))
        {
            for reason in findings.reasons.iter_mut().filter(|r| r.claim.says == says) {
                reason.claim.evidence.insert(0, evidence.clone());
            }
            return;
        }
        suspect.confidence = PROVED;
        let tried = findings.suspects.remove(at);
        if holds {
            // One mistake has one place: beside what was proved nothing else is likely.
            for other in &mut findings.suspects {
                other.confidence = other.confidence.min(LIKELY - 0.02);
            }
            findings.suspects.insert(0, tried);
        }
        for reason in findings.reasons.iter_mut().filter(|r| r.claim.says == says) {
            reason.claim.evidence.insert(0, evidence.clone());
            reason.verdict = if holds { Verdict::Likely } else { Verdict::RuledOut };
        }
        findings.reasons.sort_by_key(|r| r.verdict);
    }
}

/// Whether an edit for this claim held in a trial.
pub fn is_proved(claim: &Claim) -> bool {
    claim.evidence.iter().any(|e| *e.saw.kind == GONE)
}

/// How far the trials are.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Trials {
    /// How many of the edits were tried.
    pub done: usize,
    /// How many there are.
    pub of: usize,
    /// What is tried just now; empty while the error is waited for in the copy.
    pub trying: String,
    /// How long it takes by now, in milliseconds.
    pub took_ms: u64,
}

/// What a run of the copy said.
struct Heard {
    errors: Vec<Mistake>,
    /// A bad end that no error explains.
    end: Option<String>,
    ended: bool,
    took: Duration,
}

/// Tries edits one by one, in their order, until one holds or the budget is spent; then what it is
/// elsewhere, each together with it.
///
/// # Errors
///
/// A sentence, where the project cannot be copied or run, or the error does not come in the copy: then
/// that it does not come with an edit would prove nothing.
pub fn try_fixes(
    start: &Start,
    mistake: &Mistake,
    edits: &Edits,
    stop: &AtomicBool,
    tell: &mut dyn FnMut(&Trials),
) -> Result<Vec<Tried>, String> {
    let begun = Instant::now();
    let mut far = Trials { of: edits.fixes.len(), ..Trials::default() };
    tell(&far);
    let mut bench = Bench::new(start, mistake)?;
    let Some((seen, of)) = bench.settle(stop)? else {
        return Err("it was stopped before anything was known".into());
    };
    // What does not always come has to stay away more often: less than once in twenty by chance.
    let missed = 1.0 - f64::from(seen) / f64::from(of);
    let runs =
        if seen == of { 1 } else { (0.05_f64.ln() / missed.ln()).ceil().clamp(2.0, 20.0) as u32 };
    let bound = (bench.bound() * TIMES).max(bench.bound() + LONGER).min(LONGEST);
    let before = hear(&bench, bound, stop, &|_| false)?;
    let mut all = Vec::new();
    let mut held: Option<(Fix, Together)> = None;
    let project = &start.project;
    let mut waiting: VecDeque<&Fix> = edits.fixes.iter().collect();
    while let Some(fix) = waiting.pop_front() {
        let made = held.as_ref().map_or_else(Together::default, |(_, made)| made.clone());
        let made = made.and(fix, project);
        let texts = made.and_then(|m| Some((m.texts(project)?, m)));
        let text = project.file(&fix.file).and_then(|f| f.text.clone());
        let (Some((texts, made)), Some(text)) = (texts, text) else { continue };
        let mut tried = Tried {
            fix: fix.clone(),
            says: fix.says(&text),
            outcome: Outcome::NotTried,
            ran_ms: 0,
            runs: 0,
            ended: true,
            left: 0,
            quick: mistake.family != Family::DoesNotParse && fix.only_takes_lines_out(&text),
            beside: held.is_some(),
            with: 0,
        };
        far.trying.clone_from(&tried.says);
        far.took_ms = u64::try_from(begun.elapsed().as_millis()).unwrap_or(u64::MAX);
        tell(&far);
        let spent = begun.elapsed() > start.budget.1 || stop.load(Ordering::Acquire);
        if !spent {
            bench.put(&texts)?;
            judge(&mut tried, &bench, (&before, mistake, &made), (runs, bound), stop)?;
        }
        let like = edits.like(fix);
        let together = (held.is_none() && matches!(tried.outcome, Outcome::Later(_)))
            .then(|| with_all(&made, like, project))
            .flatten();
        if let Some((all, texts)) = together {
            bench.put(&texts)?;
            let mut with = Tried { runs: 0, ran_ms: 0, left: 0, ended: true, ..tried.clone() };
            judge(&mut with, &bench, (&before, mistake, &all), (runs, bound), stop)?;
            if with.outcome == Outcome::Gone {
                tried = Tried { with: like.len(), ..with };
            }
        }
        far.done += 1;
        if tried.holds() && tried.with > 0 {
            // All of it is proved at once.
            all.push(tried);
            break;
        }
        if tried.holds() {
            waiting = edits.like(fix).iter().collect();
            far.of = far.done + waiting.len();
            held = Some((fix.clone(), made));
        } else if tried.goes_with_it() {
            held = held.map(|(fix, _)| (fix, made));
        }
        all.push(tried);
    }
    Ok(all)
}

/// The edit with what it is wherever the same is done.
fn with_all(made: &Together, like: &[Fix], project: &Project) -> Option<(Together, Texts)> {
    let all = like.iter().try_fold(made.clone(), |made, fix| made.and(fix, project))?;
    let texts = all.texts(project).filter(|_| !like.is_empty())?;
    Some((all, texts))
}

/// A sentence without its full stop, so that another one can go on behind it.
fn open(said: &str) -> &str {
    said.trim_end_matches('.')
}

/// Runs the copy with edits in it, and says what came of the last of them.
fn judge(
    tried: &mut Tried,
    bench: &Bench<'_>,
    (before, mistake, made): (&Heard, &Mistake, &Together),
    (runs, bound): (u32, Duration),
    stop: &AtomicBool,
) -> Result<(), String> {
    let at = |file: &str, line: u32| made.moved(file, line);
    let same = |m: &Mistake| mistake.is_again(m, &at);
    for _ in 0..runs {
        let heard = hear(bench, bound, stop, &same)?;
        if stop.load(Ordering::Acquire) {
            tried.outcome = Outcome::NotTried;
            return Ok(());
        }
        tried.runs += 1;
        tried.ran_ms += u64::try_from(heard.took.as_millis()).unwrap_or(0);
        tried.ended &= heard.ended;
        if heard.errors.iter().any(same) {
            tried.outcome = Outcome::Comes;
            return Ok(());
        }
        let known = |m: &Mistake| before.errors.iter().any(|b| b.is_again(m, &at));
        let other = heard.errors.iter().find(|m| !known(m));
        tried.left = tried.left.max(heard.errors.len());
        if let Some(other) = other {
            let said = other.headline.clone();
            tried.outcome = match other.comes_by(|file, line| made.touches(file, line)) {
                true => Outcome::Other(said),
                false => Outcome::Later(said),
            };
            return Ok(());
        }
        if let Some(said) = heard.end.filter(|_| before.end.is_none()) {
            tried.outcome = Outcome::Other(said);
            return Ok(());
        }
    }
    tried.outcome = Outcome::Gone;
    Ok(())
}

/// Runs the copy as it is, to its end or for so long, and hears what it says went wrong; it is enough
/// once `enough` knows one of the errors.
fn hear(
    bench: &Bench<'_>,
    bound: Duration,
    stop: &AtomicBool,
    enough: &dyn Fn(&Mistake) -> bool,
) -> Result<Heard, String> {
    let project = bench.project();
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("copy");
    let begun = Instant::now();
    let now = || Millis(i64::try_from(begun.elapsed().as_millis()).unwrap_or(i64::MAX));
    engine.start_run(source, Some(now()), project);
    let (mut offset, mut quiet) = (0u64, 0u32);
    let errors = |groups: &[Arc<GroupView>]| {
        let grave = |g: &&Arc<GroupView>| g.level() >= Level::Error && g.state != State::Quiet;
        groups.iter().filter(grave).map(|g| Mistake::of(g)).collect::<Vec<_>>()
    };
    let listen = &mut |stream: Stream, bytes: &[u8]| {
        if bytes.is_empty() {
            quiet += 1;
            engine.tick(now());
            let look = quiet == 1 || quiet.is_multiple_of(10);
            return look && errors(&engine.groups()).iter().any(enough);
        }
        quiet = 0;
        engine.feed(source, stream, Some(now()), offset, bytes);
        offset += bytes.len() as u64;
        false
    };
    let end = bench.copied.run(&bench.program, bound, stop, listen).map_err(|e| e.sentence())?;
    engine.finish();
    if end == TryEnd::TooMuch {
        return Err(TOO_MUCH.to_owned());
    }
    let ended = matches!(end, TryEnd::Ended { .. });
    let end = (end == TryEnd::Ended { well: false }).then(|| "the program ended badly".to_owned());
    let errors = errors(&engine.groups());
    Ok(Heard { end: end.filter(|_| errors.is_empty()), errors, ended, took: begun.elapsed() })
}

/// All trials in words, one a line.
pub fn told(all: &[Tried]) -> String {
    let one = |t: &Tried| format!("{}: {}\n  {}.\n", t.fix.file, t.says, t.sentence());
    match all.is_empty() {
        true => "No edit is known to the sign, so there was none to be tried.\n".to_owned(),
        false => {
            let count = counted(all.len() as u64, "edit was", "edits were");
            all.iter().map(one).collect::<String>() + &format!("{count} tried.\n")
        }
    }
}

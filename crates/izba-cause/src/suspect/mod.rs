//! Who did it: for one error an ordered list of places that may be guilty, each with its reason and
//! evidence, and for each reason that was looked into a verdict.
//!
//! The reported line is one suspect among others. What the error asks for ([`Query`]) is followed
//! backwards through assignments, parameters, calls, tables and data ([`flow`]); checks then look
//! for what is odd there. A check is one file here and one line in [`CHECKS`]; every check may be
//! asked by every family, since one sentence can have many origins.

mod access;
mod addresses;
mod alike;
mod anew;
mod bounds;
mod brought;
mod canvas;
mod changing;
mod check;
mod circles;
mod constant;
mod crossed;
pub(crate) mod edited;
mod elements;
mod exact;
mod far;
mod flow;
mod gaps;
pub(crate) mod given_up;
mod idioms;
mod imports;
mod inputs;
mod keeps;
mod kinds;
mod lists;
mod loops;
mod messages;
mod missing;
mod need;
mod never;
mod odd;
mod order;
mod overlap;
mod pages;
mod paths;
mod query;
mod raised;
mod raises;
mod rank;
mod removed;
mod reported;
mod rows;
mod siblings;
mod slice_node;
mod spelling;
mod swapped;
mod symbols;
mod syntax;
mod takes;
mod tested;
mod texts;
mod told;
mod unbound;
mod uncalled;
mod unlisted;
mod unread;
mod value;
mod ways;
mod wiring;

pub use alike::{Alike, alike};
pub(crate) use brought::loaded;
pub use brought::{is_near, names_file};
use check::Sighting;
pub use check::{Check, Findings, Seen, Strength};
pub use circles::{circles, words as circle_words};
pub use edited::{Edits, weigh as weigh_edits};
pub(crate) use elements::{Asked, By, asks_page, is_made_by_script, names, pages};
pub use flow::asked;
pub(crate) use flow::bindings;
pub use loops::{Arrow, Leaning, odd_arrow, rings};
pub use query::Query;
pub(crate) use query::is_for_tools;
pub use rank::{
    Candidate, Features, Learned, NAMES as FEATURES, RECORD, became, chances, record, strongest,
};
pub use spelling::{is_outside_name, taught};
pub use symbols::{As, Occurrence, SymbolIndex, capital_of_words, is_name, plural};
pub use ways::{Ways, ways};

use izba_model::claim::{Claim, Evidence, LIKELY, Reason, Saying, Suspect, WORTH, WORTH_BESIDE};
use izba_model::code::{FileFacts, Index, Kind, SyntaxFault, within};
use izba_model::{Entry, Family, Place};

/// All ways to find who did it, in the order in which they look.
pub static CHECKS: &[&Check] = &[
    &access::CHECK,
    &addresses::CHECK,
    &anew::CHECK,
    &bounds::CHECK,
    &canvas::CHECK,
    &changing::CHECK,
    &circles::CHECK,
    &constant::CHECK,
    &crossed::CHECK,
    &far::CHECK,
    &gaps::CHECK,
    &idioms::CHECK,
    &imports::CHECK,
    &inputs::CHECK,
    &keeps::CHECK,
    &kinds::CHECK,
    &lists::CHECK,
    &loops::CHECK,
    &messages::CHECK,
    &missing::CHECK,
    &never::CHECK,
    &odd::CHECK,
    &order::CHECK,
    &overlap::CHECK,
    &pages::CHECK,
    &paths::CHECK,
    &raised::CHECK,
    &reported::CHECK,
    &rows::CHECK,
    &siblings::CHECK,
    &spelling::CHECK,
    &syntax::CHECK,
    &removed::CHECK,
    &texts::CHECK,
    &swapped::CHECK,
    &takes::CHECK,
    &tested::CHECK,
    &told::CHECK,
    &unbound::CHECK,
    &uncalled::CHECK,
    &unlisted::CHECK,
    &unread::CHECK,
    &wiring::CHECK,
];

/// Steps through the code for what an error asks for, and for each check.
const STEPS: u64 = 12_000_000;
/// Steps for all checks together.
const ALL_STEPS: u64 = 30_000_000;
/// Of one check the surest of this many are weighed: the others say the same of other lines.
const OF_ONE: usize = 200;
/// At most this many suspects are told.
const MOST: usize = 12;
/// What is less sure than this is not told: a newcomer walks down every wrong way that is pointed
/// out.
const TOLD: f32 = 0.02;

/// What the checks saw of one error, and whether they did not come to their end.
fn look(query: &Query<'_>) -> (Vec<Sighting>, Vec<Reason>, bool) {
    let (mut sightings, mut reasons) = (Vec::new(), Vec::new());
    let all = || {
        for check in CHECKS.iter().filter(|c| (c.applies)(query)) {
            let mut seen = Seen::default();
            // What did not come to its end has seen only half, and left half of it to the others.
            within(STEPS, || (check.look)(query, &mut seen))?;
            seen.suspects.sort_by_key(|s| std::cmp::Reverse(s.strength));
            seen.suspects.truncate(OF_ONE);
            sightings.extend(seen.suspects);
            reasons.extend(seen.reasons);
        }
        Some(())
    };
    let unfinished = within(ALL_STEPS, all).flatten().is_none() || query.symbols.gave_up();
    (sightings, reasons, unfinished)
}

/// What the checks saw, as [`find`] weighs it: for learning the order. Empty where looking took too
/// long.
pub fn candidates(entry: &Entry, index: &Index, syntax: &[SyntaxFault]) -> Vec<Candidate> {
    let asked = within(STEPS, || asked(entry, index, syntax));
    asked.map_or(Vec::new(), |query| rank::candidates(&query, look(&query).0))
}

/// Looks for who did it.
///
/// `syntax` are the faults that were found in the script that does not parse, if that is what the
/// error is about.
pub fn find(entry: &Entry, index: &Index, syntax: &[SyntaxFault]) -> Findings {
    let Some(query) = within(STEPS, || asked(entry, index, syntax)) else {
        let mut findings = Findings { version: index.version, ..Findings::default() };
        given_up::say_so(&mut findings);
        return findings;
    };
    let (sightings, mut reasons, unfinished) = look(&query);
    let mut kept = rank::order(&query, sightings);
    check::one_is_likely(&mut kept);
    // Where nothing is worth a look, the line that the console names is the first to look at.
    let named = kept.iter().position(Suspect::is_reported);
    if let Some(at) = named.filter(|_| kept[0].confidence < WORTH) {
        kept[at].confidence = kept[0].confidence;
        kept[..=at].rotate_right(1);
    }
    kept.retain(|s| s.confidence >= TOLD || s.is_reported());
    // A file may have become shorter than it was when the console named a line of it.
    let place = entry.place.as_ref();
    kept.retain(|s| {
        let of_file = || index.file(&s.file).map_or(u32::MAX, FileFacts::line_count);
        place.is_some_and(|p| p.file == s.file) || s.line <= of_file().saturating_add(1)
    });
    kept.truncate(MOST);
    less_sure_of_rough_trees(&mut kept, index, place);
    kept.sort_by(|a, b| b.confidence.total_cmp(&a.confidence));
    // Beside a likely one only what is nearly so: the rest would lead away from it.
    let worth =
        if kept.first().is_some_and(|s| s.confidence >= LIKELY) { WORTH_BESIDE } else { WORTH };
    let worth_telling = |s: &&Suspect| !s.is_reported() && s.confidence >= worth;
    let listed: Vec<&Suspect> = kept.iter().filter(worth_telling).take(4).collect();
    reasons.retain(|r| !listed.iter().any(|s| s.claim.check() == r.claim.check()));
    for suspect in listed {
        let verdict = check::verdict(suspect);
        let mut evidence = vec![Evidence {
            file: suspect.file.clone(),
            line: suspect.line,
            saw: Saying::quote(text_of(index, suspect)),
        }];
        evidence.extend(suspect.claim.evidence.iter().cloned());
        evidence.dedup();
        let claim = Claim { says: suspect.claim.says.clone(), evidence };
        reasons.push(Reason { claim, verdict });
    }
    reasons.sort_by_key(|r| r.verdict);
    let language = query.file.map_or("", |f| f.language.known().base_id());
    let name = query.asked.clone().or_else(|| {
        let subject = query.subjects.first()?;
        let text = query.file?.text.get(subject.span().0..subject.span().1)?;
        (text.len() < 40 && !text.contains('\n')).then(|| text.to_owned())
    });
    // Only what stands in the code is put into an example: a word of the sentence may be a kind's.
    let expression = query
        .subjects
        .first()
        .filter(|s| matches!(s.kind(), Kind::Name | Kind::Field | Kind::Index | Kind::Call))
        .and(name.as_deref())
        .filter(|_| query.asked.is_none());
    let mut ways = ways(query.family(), language, name.as_deref(), expression, kept.first());
    for suspect in &mut kept {
        suspect.fix = exact::fix(index, suspect, query.syntax);
    }
    if let (Some(ways), Some(first)) = (&mut ways, kept.first()) {
        ways.sketch = exact::line(index, first).or(ways.sketch.take());
    }
    let first = kept.first().filter(|_| query.family() != Family::DoesNotParse);
    let alike = first.map(|s| alike_and_edits(&query, s)).unwrap_or_default();
    let mut findings = Findings { suspects: kept, reasons, ways, alike, version: index.version };
    if unfinished {
        given_up::say_so(&mut findings);
    }
    findings
}

/// Where else the same is done as at a suspect, with the edit that it bears there. Beside what is not
/// likely only what bears the same edit is worth a look.
fn alike_and_edits(query: &Query<'_>, first: &Suspect) -> Vec<Alike> {
    let likely = first.confidence >= LIKELY;
    if !likely && first.fix.is_none() {
        return Vec::new();
    }
    let found = within(STEPS, || {
        let mut found = alike::written_again(query, first);
        let shaped = alike(query.index, &first.file, first.line);
        found.extend(shaped);
        found
    });
    let mut found = found.unwrap_or_default();
    for other in &mut found {
        // The same is claimed of it: whether its line bears the same edit shows.
        let (file, line) = (other.file.clone(), other.line);
        let there = Suspect { file, line, to_line: line, fix: None, ..first.clone() };
        other.fix = exact::fix(query.index, &there, &[]);
    }
    found.retain(|a| a.fix.is_some() || likely && !a.again);
    alike::once(found)
}

/// Where a script is read only roughly, nothing is likely; and where a compiler looked at it before,
/// its own line comes first.
fn less_sure_of_rough_trees(kept: &mut [Suspect], index: &Index, place: Option<&Place>) {
    let named = kept.iter().find(|s| s.is_reported()).map_or(0.0, |s| s.confidence);
    for suspect in kept.iter_mut().filter(|s| !s.is_reported()) {
        let language = index.file(&suspect.file).map(|f| f.language);
        if let Some(language) = language.filter(|l| l.rough.is_some()) {
            let here =
                place.is_some_and(|p| p.file == suspect.file && p.line == Some(suspect.line));
            let most = if language.checked && !here { named } else { LIKELY - 0.02 };
            suspect.confidence = suspect.confidence.min(most);
        }
    }
}

fn text_of(index: &Index, suspect: &Suspect) -> String {
    index
        .file(&suspect.file)
        .and_then(|f| f.line(suspect.line))
        .map_or(String::new(), |l| l.trim().to_owned())
}

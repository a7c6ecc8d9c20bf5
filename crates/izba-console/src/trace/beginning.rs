//! Where an entry begins: the reader that is surest of a line, of what is left of it without its
//! columns, or of the sentence that it wraps.

use super::{Begin, Inside, READERS, Start};
use crate::dress::{Cut, Dress, Fit, Worn, cuts, inside_box};
use crate::read::Reading;
use crate::read::{Prefix, split_prefix};
use izba_model::{Level, Report};

/// From this confidence on a line is a header that has no sentence of its own and may stand under
/// any record of an error.
pub(super) const HEADER_ONLY: u8 = 90;

/// What stood above a line, and how a text inside it is read.
#[derive(Debug, Clone, Copy)]
pub(super) struct Context<'a> {
    pub(super) before: Option<&'a str>,
    pub(super) heading: Option<&'a str>,
    pub(super) inside: Inside,
}

impl<'a> Context<'a> {
    /// Without what these lines wear.
    fn without(self, dress: &Dress) -> Context<'a> {
        let before = self.before.and_then(|before| match dress.strip(before) {
            Fit::Same(before) => Some(before),
            Fit::Other | Fit::Not => None,
        });
        Context { before, ..self }
    }
}

/// A reader this sure knows the line by itself.
pub(super) const SURE: u8 = 80;

/// A reader less sure than this would take a sentence of a log for an error.
pub(super) const KNOWN: u8 = 55;

/// Of neighbouring columns so many ends are tried.
const COLUMNS: usize = 3;

/// How headers begin that readers are sure of wherever they stand.
const HEADERS: [&str; 3] = ["Traceback", "thread '", "{"];

/// A body is at least so long, in bytes.
const SHORTEST: usize = 6;

/// Begins an entry with the reader that is surest of this line, of what is left of it without its
/// columns, or of the sentence that it wraps; and what the line wears before that.
pub(super) fn undressed(
    text: &str,
    prefix: &Prefix,
    context: Context<'_>,
    reading: Reading<'_>,
) -> Option<(Begin, Worn)> {
    // What stands in a box is read without its sides.
    if let Some(at) = inside_box(text)
        && let dress = Dress::of(text, at)
        && let Fit::Same(body) = dress.strip(text)
    {
        let context = context.without(&dress);
        let (begin, cut) = body_begins(body, &reading.layouts.prefix(body), context, reading)?;
        return Some((begin, Worn::of(text, at + cut)));
    }
    let (begin, cut) = body_begins(text, prefix, context, reading)?;
    Some((begin, Worn::of(text, cut)))
}

/// As [`undressed`], with the byte at which the body begins.
fn body_begins(
    text: &str,
    prefix: &Prefix,
    context: Context<'_>,
    reading: Reading<'_>,
) -> Option<(Begin, usize)> {
    let mut best = surest(text, prefix, context, reading)
        .map(|begin| (weight(&begin, reading), begin, prefix.rest_at));
    let harmless = prefix.level.is_some_and(|level| level < Level::Warning);
    let cuts = outermost(cuts(text));
    // A reader that is sure of the line left out all its columns already.
    let sure = best.as_ref().is_some_and(|(weight, ..)| *weight >= (SURE, true));
    let further = |cut: &Cut| cut.columns && cut.at > prefix.rest_at;
    let tried: Vec<Cut> = match sure {
        // It read over columns: without them it should read the same.
        true => cuts.into_iter().filter(further).collect(),
        // What is known of its columns is off already; and behind words that end with no sign only
        // a header can be told from more of the sentence.
        false => cuts
            .into_iter()
            .filter(|cut| match cut.columns {
                true => {
                    let known = prefix.level.is_some() && cut.at < prefix.rest_at;
                    !known || begins_with_level(&text[cut.at..])
                }
                false => cut.wrapped || HEADERS.iter().any(|h| text[cut.at..].starts_with(h)),
            })
            .collect(),
    };
    for cut in tried.into_iter().filter(|cut| text.len() - cut.at >= SHORTEST) {
        // The other side of a box comes off with it.
        let dress = Dress::of(text, cut.at);
        let Fit::Same(body) = dress.strip(text) else { continue };
        let own = split_prefix(body);
        let own_level = own.level;
        let inner = Prefix {
            level: own.level.or(prefix.level),
            object: own.object.or_else(|| prefix.object.clone()),
            handler: own.handler.or_else(|| prefix.handler.clone()),
            ..own
        };
        let Some(begin) = surest(body, &inner, context.without(&dress), reading) else {
            continue;
        };
        // A tail of fields, with no sentence of its own.
        let report = begin.draft.report();
        if report.as_ref().is_some_and(|r| r.message.is_empty() && r.kind.is_none()) {
            continue;
        }
        let weight = (begin.confidence, is_placed(report.as_ref(), reading));
        let better = best
            .as_ref()
            .is_none_or(|(known, ..)| weight > *known || cut.columns && weight == *known);
        // A level that only the body has makes it what it would be without its columns.
        let graver = own_level.filter(|_| prefix.level.is_none()) >= Some(Level::Warning);
        let known = match (cut.columns, cut.wrapped) {
            (true, _) if graver => (0, false),
            (true, _) if !harmless => (KNOWN, false),
            (false, false) => (HEADER_ONLY, true),
            _ => (SURE, true),
        };
        if better && weight >= known {
            // What the reader left out as well is worn by the others too.
            best = Some((weight, begin, cut.at + inner.rest_at));
        }
    }
    best.map(|(_, begin, worn)| (begin, worn))
}

/// Whether a body begins with a word for a level, which some readers want to see.
fn begins_with_level(body: &str) -> bool {
    let word = body.split(|c: char| !c.is_alphanumeric()).next().unwrap_or("");
    Level::from_word(word).is_some()
}

/// Of the cuts behind columns only the last ones: what comes off one after another comes off at
/// once.
fn outermost(cuts: Vec<Cut>) -> Vec<Cut> {
    let columns = cuts.iter().take_while(|cut| cut.columns).count();
    cuts.into_iter().skip(columns.saturating_sub(COLUMNS)).collect()
}

/// How much a beginning counts: how sure its reader is, and whether what it names is in the
/// project.
fn weight(begin: &Begin, reading: Reading<'_>) -> (u8, bool) {
    (begin.confidence, is_placed(begin.draft.report().as_ref(), reading))
}

/// Whether an entry stands in the project, or will tell where it stands.
fn is_placed(report: Option<&Report>, reading: Reading<'_>) -> bool {
    report.is_none_or(|report| {
        let mut frames = report.head.iter().chain(&report.frames);
        frames.any(|f| f.file.as_deref().is_some_and(|file| reading.project.find(file).is_some()))
    })
}

/// As [`surest`], for a text that stands inside a line.
pub(super) fn within(text: &str, prefix: &Prefix, start: &Start<'_>) -> Option<Begin> {
    let context = Context { before: None, heading: start.heading, inside: start.inside };
    let reading = Reading { project: start.project, layouts: start.layouts };
    surest(text, prefix, context, reading)
}

/// Begins an entry with the reader that is surest of this line.
pub(super) fn surest(
    text: &str,
    prefix: &Prefix,
    context: Context<'_>,
    reading: Reading<'_>,
) -> Option<Begin> {
    let Context { before, heading, inside } = context;
    let start = Start {
        text,
        prefix,
        before,
        heading,
        project: reading.project,
        layouts: reading.layouts,
        inside,
        within,
    };
    READERS.iter().filter_map(|reader| (reader.begins)(&start)).max_by_key(|begin| begin.confidence)
}

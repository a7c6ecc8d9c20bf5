//! What can be drawn, by name: one line for each drawing. The screen and `izba draw` hand the same
//! things to the same functions.

use crate::{Code, ValuesView};
use izba_cause::suspect::Arrow;
use izba_core::timeline::{Mark, MarkKind};
use izba_core::values::{Differs, Series, before};
use izba_core::{GroupView, Snapshot};
use izba_draw::{Beside, Drawing, Setting};
use izba_model::code::Language;
use std::sync::Arc;

/// What a drawing is made of.
#[derive(Debug)]
pub struct Subject<'a> {
    /// What is known of the consoles.
    pub snapshot: &'a Snapshot,
    /// What is known of the code.
    pub code: &'a Code,
    /// The values that were printed.
    pub values: Option<&'a ValuesView>,
    /// The error that is meant, if one is.
    pub group: Option<&'a Arc<GroupView>>,
    /// The source whose runs are meant.
    pub source: usize,
    /// Names: of values, or of a script.
    pub names: &'a [String],
    /// What all drawings share.
    pub setting: Setting,
}

/// One drawing that can be asked for.
pub struct Known {
    /// By which word.
    pub id: &'static str,
    /// What it shows.
    pub says: &'static str,
    draw: fn(&Subject<'_>) -> Result<Drawing, String>,
}

/// Every drawing there is, with the data it is made from.
pub static DRAWINGS: &[Known] = &[
    Known {
        id: "when",
        says: "the lanes of When: lines and errors of each source over time",
        draw: |s| Ok(izba_draw::when(s.snapshot, &s.setting)),
    },
    Known { id: "runs", says: "mistakes by runs: what is new, quiet and back", draw: runs },
    Known {
        id: "values",
        says: "values that were printed, with the moments of an error",
        draw: values,
    },
    Known { id: "path", says: "the path of an error through objects and scripts", draw: path },
    Known { id: "ladder", says: "the blocks of a script, and where they disagree", draw: ladder },
    Known { id: "ring", says: "files that import one another", draw: ring },
];

impl Known {
    /// The drawing of this word.
    pub fn of(id: &str) -> Option<&'static Known> {
        DRAWINGS.iter().find(|k| k.id == id)
    }

    /// Draws it.
    ///
    /// # Errors
    ///
    /// A sentence, where there is nothing of that kind to draw.
    pub fn draw(&self, subject: &Subject<'_>) -> Result<Drawing, String> {
        (self.draw)(subject)
    }
}

fn runs(subject: &Subject<'_>) -> Result<Drawing, String> {
    let source = subject
        .snapshot
        .sources
        .get(subject.source)
        .ok_or("nothing was watched, so there are no runs to draw")?;
    let groups: Vec<Arc<GroupView>> = subject
        .snapshot
        .groups
        .iter()
        .filter(|g| g.tellers.contains(&subject.source))
        .cloned()
        .collect();
    Ok(izba_draw::runs(&source.name, &source.runs, &groups, &subject.setting))
}

fn values(subject: &Subject<'_>) -> Result<Drawing, String> {
    let view = subject.values.ok_or("no values were looked for yet")?;
    let meant = |s: &&Arc<Series>| {
        subject.names.is_empty()
            || subject.names.iter().any(|n| *n == s.name || *n == format!("{} {}", s.who, s.name))
    };
    let chosen: Vec<Arc<Series>> = view.series.iter().filter(meant).cloned().collect();
    if let Some(missing) = subject
        .names
        .iter()
        .find(|n| !chosen.iter().any(|s| **n == s.name || **n == format!("{} {}", s.who, s.name)))
    {
        let known: Vec<&str> = view.series.iter().map(|s| s.name.as_str()).take(12).collect();
        let known = if known.is_empty() {
            "none is printed at all".to_owned()
        } else {
            format!("there are {}", known.join(", "))
        };
        return Err(format!("no value is printed under the name {missing}; {known}"));
    }
    if chosen.is_empty() {
        return Err("no value was printed under a name".into());
    }
    let times = subject.group.map_or_else(Vec::new, |g| view.errors.of_all(&g.members));
    let short = subject.group.map(|g| g.explanation.short.to_string());
    let error = short.as_deref().map(|s| (s, times.as_slice())).filter(|e| !e.1.is_empty());
    // Looked at over all values, not only those drawn: how sure it is hangs on how many were.
    let found = error.map(|_| before(&view.series, &times)).unwrap_or_default();
    let drawn = |f: &'_ Differs| {
        chosen.iter().position(|s| view.series.get(f.series).is_some_and(|v| Arc::ptr_eq(s, v)))
    };
    let differs: Vec<(usize, &Differs, usize)> =
        found.told().filter_map(|f| Some((drawn(f)?, f, found.moments))).collect();
    let starts: Vec<(usize, i64)> = starts(subject.snapshot);
    let beside = Beside { error, differs: &differs, starts: &starts };
    Ok(izba_draw::values(&chosen, beside, &subject.setting))
}

/// When runs started, with their source, in ascending order.
pub fn starts(snapshot: &Snapshot) -> Vec<(usize, i64)> {
    let start = |mark: &Mark| match mark.what {
        MarkKind::RunStart(source, _) => Some((source, mark.time.0)),
        MarkKind::Saved(_) | MarkKind::Updated(..) => None,
    };
    let mut starts: Vec<(usize, i64)> =
        snapshot.timeline.marks().iter().filter_map(start).collect();
    starts.sort_by_key(|s| s.1);
    starts
}

fn path(subject: &Subject<'_>) -> Result<Drawing, String> {
    let group = subject.group.ok_or("there is no error whose path could be drawn")?;
    let found = subject.code.findings.get(&group.id);
    Ok(izba_draw::path(group, found.map(|f| &**f), &subject.setting))
}

fn ladder(subject: &Subject<'_>) -> Result<Drawing, String> {
    // Named, or the script that does not parse.
    let place = subject.group.and_then(|g| g.entry.place.as_ref()).map(|p| p.file.to_string());
    let broken =
        || subject.code.index.code().find(|f| !f.faults.is_empty()).map(|f| f.path.to_string());
    let wanted = subject
        .names
        .first()
        .cloned()
        .or(place)
        .or_else(broken)
        .ok_or("name the script whose blocks are to be drawn")?;
    let project = &subject.snapshot.project;
    let ends = |path: &str| {
        path == wanted || path.strip_suffix(&wanted).is_some_and(|head| head.ends_with('/'))
    };
    let file = project
        .files()
        .iter()
        .find(|f| ends(&f.path))
        .ok_or_else(|| format!("there is no {wanted} in this project"))?;
    let (Some(text), Some(language)) =
        (&file.text, Language::of(&file.path).filter(|l| l.is_code()))
    else {
        return Err(format!("{wanted} is no script whose blocks are known"));
    };
    Ok(izba_draw::ladder(&file.path, text, &izba_code::ladder(language, text), &subject.setting))
}

fn ring(subject: &Subject<'_>) -> Result<Drawing, String> {
    let rings = izba_cause::suspect::rings(&subject.code.index, None);
    let named = |ring: &&Vec<Arrow>| {
        subject.names.first().is_none_or(|n| ring.iter().any(|a| a.from.ends_with(n.as_str())))
    };
    let ring = rings.iter().find(named).ok_or("no files import one another in a circle")?;
    Ok(izba_draw::ring(ring, &subject.setting))
}

//! Series of values over time, in bounded memory: the newest values as they came, older ones in
//! buckets that keep least and most.

use super::{Told, told};
use crate::group::GroupId;
use izba_console::read::layout::Layouts;
use std::collections::HashMap;
use std::sync::Arc;

/// Buckets of one series; when there are more, each two neighbours become one.
const BUCKETS: usize = 2_048;
/// Series that are kept apart.
pub const SERIES: usize = 1_000;
/// States that one series tells apart.
const STATES: usize = 40;
/// Characters of its newest line that are kept.
const LINE: usize = 200;
/// Sightings of one group that are kept.
const SIGHTINGS: usize = 4_096;

/// Values of a stretch of time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bucket {
    /// First and last moment, in milliseconds.
    pub from: i64,
    /// Last moment in it, in milliseconds.
    pub to: i64,
    /// The least value, and the most.
    pub least: f64,
    /// The greatest value in it.
    pub most: f64,
    /// The value that came last in it.
    pub last: f64,
    /// How many values fell into it.
    pub count: u64,
}

/// What is kept of the values.
#[derive(Debug, Clone, PartialEq)]
pub enum Kept {
    /// Numbers.
    Numbers(Vec<Bucket>),
    /// Words: their names, and since when which of them holds.
    States(Vec<String>, Vec<(i64, u16)>),
}

/// One series of values that are printed under one name.
#[derive(Debug, Clone, PartialEq)]
pub struct Series {
    /// Under which name it is printed.
    pub name: String,
    /// Who prints it: an object, logger or source.
    pub who: String,
    /// Index of the source that told them.
    pub source: usize,
    /// Its unit, where one is printed.
    pub unit: Option<String>,
    /// How many values came in all.
    pub count: u64,
    /// The last value as text.
    pub last: String,
    /// When it was last another one than before.
    pub changed: i64,
    /// When the last one came.
    pub at: i64,
    /// The row of the line that told the last one.
    pub row: u64,
    /// That line, cut to what a print can be told by.
    pub line: Arc<str>,
    /// The values.
    pub kept: Kept,
}

impl Series {
    /// The least and the most; `None` for states.
    pub fn range(&self) -> Option<(f64, f64)> {
        let Kept::Numbers(buckets) = &self.kept else { return None };
        let least = buckets.iter().map(|b| b.least).fold(f64::INFINITY, f64::min);
        let most = buckets.iter().map(|b| b.most).fold(f64::NEG_INFINITY, f64::max);
        (least <= most).then_some((least, most))
    }

    /// First and last moment that are kept.
    pub fn span(&self) -> Option<(i64, i64)> {
        match &self.kept {
            Kept::Numbers(buckets) => Some((buckets.first()?.from, buckets.last()?.to)),
            Kept::States(_, changes) => Some((changes.first()?.0, self.at)),
        }
    }

    /// Whether all its values so far are one, and more than one came.
    pub fn is_constant(&self) -> bool {
        let one = match &self.kept {
            Kept::Numbers(_) => self.range().is_some_and(|(least, most)| least == most),
            Kept::States(names, _) => names.len() == 1,
        };
        one && self.count > 1
    }

    /// Its numbers as lines to be drawn, from one moment to another: a line ends at each of `cuts`
    /// (moments in ascending order, such as starts of runs), since between two runs nothing was
    /// printed. Of a thinned stretch least and most are told, at its ends. Empty for states.
    pub fn strokes(&self, (from, to): (i64, i64), cuts: &[i64]) -> Vec<Vec<(i64, f64)>> {
        let Kept::Numbers(buckets) = &self.kept else { return Vec::new() };
        let run = |b: &Bucket| cuts.partition_point(|cut| *cut <= b.from);
        let inside = |b: &&Bucket| b.to >= from && b.from <= to;
        let all: Vec<&Bucket> = buckets.iter().filter(inside).collect();
        let points = |b: &&Bucket| {
            let ends = [(b.from, b.least), (b.to, b.most), (b.to, b.last)];
            if b.least == b.most { ends[2..].to_vec() } else { ends.to_vec() }
        };
        all.chunk_by(|a, b| run(a) == run(b)).map(|s| s.iter().flat_map(points).collect()).collect()
    }

    fn add(&mut self, time: i64, told: Told) {
        self.count += 1;
        self.at = self.at.max(time);
        match (told, &mut self.kept) {
            (Told::Number(_, value, unit), Kept::Numbers(buckets)) => {
                let text = number(value);
                if text != self.last {
                    self.changed = time;
                }
                self.last = text;
                self.unit = unit.or(self.unit.take());
                // Two values of one moment are one bucket; so the number of buckets is bounded by
                // time and by the cap.
                match buckets.last_mut() {
                    Some(b) if b.to == time => {
                        (b.least, b.most, b.last, b.count) =
                            (b.least.min(value), b.most.max(value), value, b.count + 1);
                    }
                    _ => buckets.push(Bucket {
                        from: time,
                        to: time,
                        least: value,
                        most: value,
                        last: value,
                        count: 1,
                    }),
                }
                if buckets.len() > BUCKETS {
                    thin(buckets);
                }
            }
            (Told::State(_, word), Kept::States(names, changes)) => {
                let id = match names.iter().position(|n| *n == word) {
                    Some(at) => at,
                    None if names.len() < STATES => {
                        names.push(word.clone());
                        names.len() - 1
                    }
                    None => return,
                };
                if word != self.last {
                    self.changed = time;
                    changes.push((time, id as u16));
                    if changes.len() > 2 * BUCKETS {
                        changes.drain(..BUCKETS);
                    }
                }
                self.last = word;
            }
            _ => {}
        }
    }
}

/// The older half becomes half as many buckets: what is new stays sharp.
fn thin(buckets: &mut Vec<Bucket>) {
    let old = buckets.len() / 2;
    let merged: Vec<Bucket> = buckets[..old]
        .chunks(2)
        .map(|pair| {
            pair[1..].iter().fold(pair[0], |a, b| Bucket {
                from: a.from,
                to: b.to,
                least: a.least.min(b.least),
                most: a.most.max(b.most),
                last: b.last,
                count: a.count + b.count,
            })
        })
        .collect();
    buckets.splice(..old, merged);
}

/// What the key of a pinned series begins with.
pub const PIN: &str = "pin ";

/// The key under which it is kept that a series is pinned to room Now.
pub fn pin_key(who: &str, name: &str) -> String {
    format!("{PIN}{who} {name}")
}

/// A number as people write it: without the dust of binary fractions.
pub fn number(value: f64) -> String {
    let text = format!("{value:.6}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    if text == "-0" { "0".into() } else { text.to_owned() }
}

/// When each group was seen.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Errors {
    seen: HashMap<GroupId, Vec<i64>>,
}

impl Errors {
    /// The moments at which a group was seen, oldest first; of very many each other one.
    pub fn of(&self, group: GroupId) -> &[i64] {
        self.seen.get(&group).map_or(&[], Vec::as_slice)
    }

    /// The moments at which any of several groups was seen, in Unix milliseconds, oldest first.
    pub fn of_all(&self, groups: &[GroupId]) -> Vec<i64> {
        let mut all: Vec<i64> = groups.iter().flat_map(|id| self.of(*id)).copied().collect();
        all.sort_unstable();
        all
    }
}

/// All series of a project.
#[derive(Debug, Clone, Default)]
pub struct Store {
    /// Shared with whoever looks, so that a look costs nothing.
    series: Vec<Arc<Series>>,
    /// Which one a name of a speaker of a source is; asked for each value, so nothing is copied for
    /// it.
    by_name: HashMap<usize, HashMap<String, HashMap<String, usize>>>,
    /// Names that were found when there was no room for more.
    pub beyond: u64,
    errors: Arc<Errors>,
}

impl Store {
    /// Takes the values that a line tells, of who speaks in it.
    pub fn read(&mut self, source: usize, layouts: &Layouts, row: u64, time: i64, text: &str) {
        // Most lines hold no digit and no sign of a state.
        if !text.bytes().any(|b| b.is_ascii_digit() || b == b'=' || b == b':') {
            return;
        }
        let prefix = layouts.prefix(text);
        let who = prefix.object.or(prefix.name).unwrap_or_default();
        // A name before a number looks like one who speaks; it is that only where a time or level
        // stands with it.
        let speaks = prefix.timed || prefix.level.is_some();
        // Where the head of a line is a pair itself, it is none.
        let speaks = speaks && !text.get(..prefix.rest_at).unwrap_or("").contains('=');
        let mut values =
            if speaks { told(text.get(prefix.rest_at..).unwrap_or("")) } else { Vec::new() };
        let who = if values.is_empty() { String::new() } else { who };
        // A bare number may look like a time, and its name like one who speaks.
        if values.is_empty() && prefix.level.is_none() {
            values = told(text);
        }
        self.line(source, &who, row, time, text, values);
    }

    /// Takes the values of one line.
    pub fn line(
        &mut self,
        source: usize,
        who: &str,
        row: u64,
        time: i64,
        text: &str,
        values: Vec<Told>,
    ) {
        let line: Option<Arc<str>> = if values.is_empty() {
            None
        } else {
            Some(text.chars().take(LINE).collect::<String>().into())
        };
        let Some(line) = line else { return };
        let beyond = self.series.len() >= SERIES;
        let of_source = self.by_name.entry(source).or_default();
        if !of_source.contains_key(who) {
            of_source.insert(who.to_owned(), HashMap::new());
        }
        let Some(names) = of_source.get_mut(who) else { return };
        for told in values {
            let (Told::Number(name, ..) | Told::State(name, _)) = &told;
            let at = match names.get(name.as_str()) {
                Some(at) => *at,
                None if beyond || self.series.len() >= SERIES => {
                    self.beyond += 1;
                    continue;
                }
                None => {
                    let kept = if matches!(told, Told::Number(..)) {
                        Kept::Numbers(Vec::new())
                    } else {
                        Kept::States(Vec::new(), Vec::new())
                    };
                    let fresh = Series {
                        name: name.clone(),
                        who: who.to_owned(),
                        source,
                        unit: None,
                        count: 0,
                        last: String::new(),
                        changed: time,
                        at: time,
                        row,
                        line: Arc::default(),
                        kept,
                    };
                    names.insert(name.clone(), self.series.len());
                    self.series.push(Arc::new(fresh));
                    self.series.len() - 1
                }
            };
            let series = Arc::make_mut(&mut self.series[at]);
            series.row = row;
            series.line = line.clone();
            series.add(time, told);
        }
    }

    /// Notes that a group was seen.
    pub fn error(&mut self, group: GroupId, time: i64) {
        let seen = Arc::make_mut(&mut self.errors).seen.entry(group).or_default();
        seen.push(time);
        if seen.len() > SIGHTINGS {
            let mut keep = true;
            seen.retain(|_| {
                keep = !keep;
                keep
            });
        }
    }

    /// The series that are worth a row: printed more than once.
    pub fn listed(&self) -> Vec<Arc<Series>> {
        let mut listed: Vec<Arc<Series>> =
            self.series.iter().filter(|s| s.count > 1).cloned().collect();
        listed.sort_by(|a, b| (a.source, &a.who, &a.name).cmp(&(b.source, &b.who, &b.name)));
        listed
    }

    /// When each group was seen, to hold values against.
    pub fn errors(&self) -> Arc<Errors> {
        self.errors.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_line_ends_where_a_run_starts_and_what_never_changes_is_told() {
        let mut store = Store::default();
        for (row, (time, tide)) in [(10, 1.0), (20, 2.0), (50, 1.5), (60, 1.0)].iter().enumerate() {
            let told = vec![
                Told::Number("tide".into(), *tide, None),
                Told::Number("lamps".into(), 7.0, None),
                Told::State("gate".into(), if *tide > 1.0 { "open" } else { "shut" }.into()),
            ];
            store.line(0, "clock", row as u64, *time, "tide", told);
        }
        let listed = store.listed();
        let of = |name: &str| listed.iter().find(|s| s.name == name).expect("it is printed");
        let tide = of("tide");
        let whole = vec![(10, 1.0), (20, 2.0), (50, 1.5), (60, 1.0)];
        assert_eq!(tide.strokes((0, 100), &[]), std::slice::from_ref(&whole));
        assert_eq!(tide.strokes((0, 100), &[5, 40]), [whole[..2].to_vec(), whole[2..].to_vec()]);
        assert_eq!(tide.strokes((15, 50), &[40]), [whole[1..2].to_vec(), whole[2..3].to_vec()]);
        assert_eq!(of("gate").strokes((0, 100), &[]), Vec::<Vec<(i64, f64)>>::new());
        let constant = ["tide", "lamps", "gate"].map(|name| of(name).is_constant());
        assert_eq!(constant, [false, true, false]);
    }

    proptest! {
        #[test]
        fn a_long_series_keeps_its_peaks_and_its_count(values in prop::collection::vec(-1000.0f64..1000.0, 1..9_000)) {
            let mut store = Store::default();
            for (at, value) in values.iter().enumerate() {
                store.line(0, "tide", at as u64, at as i64, "height", vec![Told::Number("height".into(), *value, None)]);
            }
            let series = store.series.first().expect("one name");
            let Kept::Numbers(buckets) = &series.kept else { panic!("it is a number") };
            prop_assert!(buckets.len() <= BUCKETS);
            let (least, most) = series.range().expect("it has values");
            prop_assert_eq!(least, values.iter().copied().fold(f64::INFINITY, f64::min));
            prop_assert_eq!(most, values.iter().copied().fold(f64::NEG_INFINITY, f64::max));
            prop_assert_eq!(buckets.iter().map(|b| b.count).sum::<u64>(), values.len() as u64);
            prop_assert!(buckets.windows(2).all(|w| w[0].to < w[1].from), "in order, none twice");
        }
    }
}

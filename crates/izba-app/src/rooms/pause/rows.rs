//! What room Pause lists: the values of a stop as rows that open, and a list of objects or lists as
//! a table. Plain values of the model; who draws and who takes keys both read them here.

use crate::model::{Model, PauseState};
use izba_cause::pause;
use izba_cause::pause::{Part, Shows};
use izba_dap::{Stop, Value, Variable};
use izba_model::code::Language;
use std::collections::BTreeMap;
use std::sync::Arc;

/// One row of the values.
#[derive(Debug, Clone, PartialEq)]
pub enum Row {
    /// What stands below it.
    Heading(String),
    /// A value.
    Value(ValueRow),
}

/// A value with its name.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ValueRow {
    /// How deep it lies in others.
    pub depth: u16,
    /// Its name.
    pub name: String,
    /// What it is; why it cannot be told; or nothing yet.
    pub value: Option<Result<Value, String>>,
    /// What it was at the stop before.
    pub was: Option<String>,
    /// Where it is found again at the next stop.
    pub path: String,
    /// By which it can be changed: its owner's reference.
    pub owner: i64,
    /// Whether it is open; `None` where there is nothing to open.
    pub open: Option<bool>,
    /// What it says.
    pub remark: Option<String>,
    /// The number of a watched expression.
    pub watch: Option<usize>,
}

impl ValueRow {
    /// By which its parts are asked for.
    pub fn reference(&self) -> i64 {
        self.value.as_ref().and_then(|v| v.as_ref().ok()).map_or(0, |v| v.reference)
    }
}

/// Rows of one value's parts that are listed before “more”.
const PARTS: usize = 200;

struct Lister<'a> {
    state: &'a PauseState,
    stop: &'a Stop,
    rows: Vec<Row>,
}

/// The rows of the values, as they are open now.
pub fn rows(model: &Model) -> Vec<Row> {
    model.live.pause.state.stop.as_ref().map_or_else(Vec::new, |stop| rows_of(stop, &model.pause))
}

/// The rows of the values of a stop.
pub fn rows_of(stop: &Stop, state: &PauseState) -> Vec<Row> {
    let mut lister = Lister { state, stop, rows: Vec::new() };
    lister.line();
    if !stop.watches.is_empty() {
        lister.rows.push(Row::Heading("Watched".into()));
        for (at, (expression, value)) in stop.watches.iter().enumerate() {
            let path = format!("watch/{expression}");
            lister.value(
                0,
                expression.clone(),
                value.clone(),
                &path,
                0,
                Extra { watch: Some(at), ..Extra::default() },
            );
        }
    }
    for (at, scope) in stop.scopes.iter().enumerate() {
        let path = format!("scope/{}", scope.name);
        // What takes long, and what is not of this step, waits until it is asked for.
        let open = if at < 2 && !scope.expensive {
            !state.closed.contains(&path)
        } else {
            state.open.contains(&path)
        };
        let value = Value { reference: scope.reference, ..Value::default() };
        lister.rows.push(Row::Value(ValueRow {
            name: scope.name.clone(),
            value: Some(Ok(value)),
            path: path.clone(),
            open: Some(open),
            remark: Some(String::new()),
            ..ValueRow::default()
        }));
        if open {
            lister.parts(1, scope.reference, &path);
        }
    }
    lister.rows
}

#[derive(Default)]
struct Extra {
    was: Option<String>,
    remark: Option<String>,
    watch: Option<usize>,
}

impl Lister<'_> {
    /// The expressions of the line, what they say, and those that its variables were given before.
    fn line(&mut self) {
        let stop = self.stop;
        let Some(frame) = stop.chosen() else { return };
        let language = frame.own.as_deref().and_then(Language::of);
        let seen = stop.seen();
        let remarks = language.map_or_else(Vec::new, |l| pause::remarks(l, &seen));
        // Of something that is not there nothing more can be told.
        let nothing: Vec<&str> = remarks
            .iter()
            .filter(|r| r.shows == Shows::Nothing)
            .map(|r| seen[r.at].0.text.as_str())
            .collect();
        let idle = |at: usize| {
            let (spoken, told) = &stop.line[at];
            let of_nothing = matches!(told, Some(Err(_)))
                && nothing.iter().any(|n| {
                    spoken.text.strip_prefix(*n).is_some_and(|r| r.starts_with(['.', '[', ':']))
                });
            matches!(spoken.part, Part::Length { .. }) || of_nothing
        };
        // What tells most comes first, whose line it is last.
        let rank =
            |at: usize| match (remarks.iter().any(|r| r.at == at), stop.line[at].0.text.as_str()) {
                (true, _) => 0,
                (false, "self" | "this") => 2,
                _ => 1,
            };
        let mut order: Vec<usize> = (0..stop.line.len()).filter(|at| !idle(*at)).collect();
        order.sort_by_key(|at| {
            (
                stop.line[*at].0.line < frame.line,
                std::cmp::Reverse(stop.line[*at].0.line),
                rank(*at),
            )
        });
        let mut heading = 0;
        for at in order {
            let (spoken, told) = &stop.line[at];
            if heading != spoken.line {
                let words = if heading == 0 && spoken.line >= frame.line {
                    "On this line".to_owned()
                } else {
                    format!("Given before, in line {}", spoken.line)
                };
                self.rows.push(Row::Heading(words));
                heading = spoken.line;
            }
            let remark = remarks.iter().find(|r| r.at == at);
            let extra = Extra { remark: remark.map(|r| r.says.to_string()), ..Extra::default() };
            self.value(
                0,
                spoken.text.clone(),
                told.clone(),
                &format!("line/{}", spoken.text),
                0,
                extra,
            );
            if let Some(remark) = remark.filter(|r| r.shows == Shows::OutOfRange) {
                self.words(1, &remark.says.to_string(), "says");
            }
        }
    }

    fn value(
        &mut self,
        depth: u16,
        name: String,
        value: Option<Result<Value, String>>,
        path: &str,
        owner: i64,
        extra: Extra,
    ) {
        let reference = value.as_ref().and_then(|v| v.as_ref().ok()).map_or(0, |v| v.reference);
        let open = (reference > 0).then(|| self.state.open.contains(path));
        self.rows.push(Row::Value(ValueRow {
            depth,
            name,
            value,
            was: extra.was,
            path: path.to_owned(),
            owner,
            open,
            remark: extra.remark,
            watch: extra.watch,
        }));
        if open == Some(true) {
            self.parts(depth + 1, reference, path);
        }
    }

    fn words(&mut self, depth: u16, text: &str, path: &str) {
        let (name, path) = (text.to_owned(), format!("{path}/…"));
        self.rows.push(Row::Value(ValueRow { depth, name, path, ..ValueRow::default() }));
    }

    fn parts(&mut self, depth: u16, reference: i64, path: &str) {
        if depth > 40 {
            return;
        }
        if let Some(why) = self.stop.refused.get(&reference) {
            return self.words(depth, &format!("not told: {why}"), path);
        }
        let Some(children) = self.stop.children.get(&reference).cloned() else {
            return self.words(depth, "asking …", path);
        };
        if children.is_empty() {
            return self.words(depth, "nothing in it", path);
        }
        let more = format!("{path}/…");
        let shown = if self.state.open.contains(&more) { children.len() } else { PARTS };
        for variable in children.iter().take(shown) {
            let path = format!("{path}/{}", variable.name);
            let extra = Extra { was: variable.was.clone(), ..Extra::default() };
            self.value(
                depth,
                variable.name.clone(),
                Some(Ok(variable.value.clone())),
                &path,
                reference,
                extra,
            );
        }
        if children.len() > shown {
            self.words(depth, &format!("{} more; Enter lists them", children.len() - shown), path);
            if let Some(Row::Value(row)) = self.rows.last_mut() {
                row.open = Some(false);
            }
        }
    }
}

/// References whose parts are open and not known; each is asked for once in a stop.
pub fn wanted(model: &Model) -> Vec<i64> {
    let Some(stop) = &model.live.pause.state.stop else { return Vec::new() };
    let unknown = |reference: i64| {
        reference > 0
            && !stop.children.contains_key(&reference)
            && !stop.refused.contains_key(&reference)
    };
    let mut wanted: Vec<i64> = rows(model)
        .iter()
        .filter_map(|row| match row {
            Row::Value(v) if v.open == Some(true) => Some(v.reference()),
            _ => None,
        })
        .collect();
    if let Some(table) = &model.pause.table
        && let Some(reference) = reference_at(model, &table.path)
    {
        wanted.push(reference);
        let rows = stop.children.get(&reference).map_or(&[][..], |c| c.as_slice());
        wanted.extend(rows.iter().take(ROWS).map(|v| v.value.reference));
    }
    wanted.retain(|r| unknown(*r) && !model.pause.asked.contains(&(stop.number, *r)));
    wanted.dedup();
    wanted
}

/// The reference of what is found at a path, at this stop.
pub fn reference_at(model: &Model, path: &str) -> Option<i64> {
    let stop = model.live.pause.state.stop.as_ref()?;
    let (kind, rest) = path.split_once('/')?;
    let within = |reference: i64, name: &str| {
        Some(stop.children.get(&reference)?.iter().find(|v| v.name == name)?.value.reference)
    };
    match kind {
        "scope" => {
            let mut parts = rest.split('/');
            let name = parts.next()?;
            let first = stop.scopes.iter().find(|s| s.name == name)?.reference;
            parts.try_fold(first, within)
        }
        "line" | "watch" => {
            let told = stop
                .line
                .iter()
                .map(|(s, v)| (s.text.as_str(), v))
                .chain(stop.watches.iter().map(|(e, v)| (e.as_str(), v)));
            // An expression may hold a stroke of its own, as a division does.
            let (expression, value) = told
                .filter(|(e, _)| rest == *e || rest.starts_with(&format!("{e}/")))
                .max_by_key(|(e, _)| e.len())?;
            let first = value.as_ref()?.as_ref().ok()?.reference;
            rest[expression.len()..].split('/').filter(|p| !p.is_empty()).try_fold(first, within)
        }
        _ => None,
    }
}

/// The most rows of a table, and the most columns.
const ROWS: usize = 300;
const COLUMNS: usize = 40;

/// A list as a table.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Table {
    /// The names of the columns; the first is the row's own name.
    pub columns: Vec<String>,
    /// The rows.
    pub rows: Vec<Vec<String>>,
    /// Rows that are left out, since they do not hold the words.
    pub hidden: usize,
    /// Rows whose parts are not told yet.
    pub waiting: usize,
}

/// The table that is open.
pub fn table(model: &Model) -> Option<Table> {
    let state = model.pause.table.as_ref()?;
    let stop = model.live.pause.state.stop.as_ref()?;
    let reference = reference_at(model, &state.path)?;
    let Some(list) = stop.children.get(&reference) else {
        // It is drawn while it is asked for: there is always the column of names.
        return Some(Table { columns: vec![String::new()], waiting: 1, ..Table::default() });
    };
    let words: Vec<String> =
        model.pause.filter.value().split_whitespace().map(str::to_lowercase).collect();
    let mut waiting = 0;
    let mut kept: Vec<(String, Arc<Vec<Variable>>, String)> = Vec::new();
    let mut hidden = 0;
    for variable in list.iter().take(ROWS) {
        let fields = if variable.value.reference == 0 {
            Arc::default()
        } else if let Some(fields) = stop.children.get(&variable.value.reference) {
            fields.clone()
        } else {
            waiting += usize::from(!stop.refused.contains_key(&variable.value.reference));
            Arc::default()
        };
        let text = |v: &Variable| format!("{} {}", v.name, v.value.shown).to_lowercase();
        let all =
            format!("{} {}", text(variable), fields.iter().map(text).collect::<Vec<_>>().join(" "));
        if words.iter().all(|w| all.contains(w.as_str())) {
            kept.push((variable.name.clone(), fields, variable.value.shown.clone()));
        } else {
            hidden += 1;
        }
    }
    // What most of them have comes first; entries of lists in their order.
    let mut often: BTreeMap<&str, (usize, usize)> = BTreeMap::new();
    for (_, fields, _) in &kept {
        for (at, field) in
            fields.iter().filter(|f| !f.value.shown.starts_with("function")).enumerate()
        {
            let entry = often.entry(&field.name).or_insert((0, at));
            entry.0 += 1;
            entry.1 = entry.1.min(at);
        }
    }
    let mut names: Vec<(&str, (usize, usize))> = often.into_iter().collect();
    let number = |name: &str| name.parse::<i64>().ok();
    names.sort_by(|a, b| match (number(a.0), number(b.0)) {
        (Some(x), Some(y)) => x.cmp(&y),
        (Some(_), None) => std::cmp::Ordering::Less,
        (None, Some(_)) => std::cmp::Ordering::Greater,
        (None, None) => b.1.0.cmp(&a.1.0).then(a.1.1.cmp(&b.1.1)).then(a.0.cmp(b.0)),
    });
    names.truncate(COLUMNS);
    let plain = names.is_empty();
    let columns: Vec<String> = std::iter::once(String::new())
        .chain(if plain {
            vec!["value".to_owned()]
        } else {
            names.iter().map(|(n, _)| (*n).to_owned()).collect()
        })
        .collect();
    let mut rows: Vec<Vec<String>> = kept
        .iter()
        .map(|(name, fields, shown)| {
            let cell = |column: &&str| {
                fields
                    .iter()
                    .find(|f| f.name == **column)
                    .map_or(String::new(), |f| f.value.shown.clone())
            };
            let cells: Vec<String> = if plain {
                vec![shown.clone()]
            } else {
                names.iter().map(|(n, _)| cell(n)).collect()
            };
            std::iter::once(name.clone()).chain(cells).collect()
        })
        .collect();
    let by = state.sort;
    if by > 0 && by < columns.len() {
        rows.sort_by(|a, b| match (a[by].parse::<f64>(), b[by].parse::<f64>()) {
            (Ok(x), Ok(y)) => x.total_cmp(&y),
            (Ok(_), Err(_)) => std::cmp::Ordering::Less,
            (Err(_), Ok(_)) => std::cmp::Ordering::Greater,
            // What has no such field comes last.
            _ => a[by].is_empty().cmp(&b[by].is_empty()).then_with(|| a[by].cmp(&b[by])),
        });
    }
    Some(Table { columns, rows, hidden, waiting })
}

/// The place that room Pause shows: own file, and the line.
pub fn place(model: &Model) -> Option<(Arc<str>, u32)> {
    let stop = model.live.pause.state.stop.as_ref()?;
    let frame = stop.chosen()?;
    Some((frame.own.clone()?, model.pause.line.unwrap_or(frame.line)))
}

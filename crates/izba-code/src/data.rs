//! Data files as keys and values with their lines: JSON, XML, TOML, YAML, settings, and columns or
//! lines of words.
//!
//! Written by hand so that a broken file still gives what can be read, and every value its line;
//! whether a file is right is asked of the standard reader of its format.

use izba_model::code::{Datum, Language, Role};
use izba_model::dialect::Form;
use std::collections::HashMap;

/// Longer values are no names; they are kept cut.
const LONGEST: usize = 200;

/// What lies deeper has the way of what lies so deep.
const DEEPEST: usize = 24;
/// Elements that are never closed, and do not keep an outer one from being closed.
const NEVER_CLOSED: usize = 200;

struct Out {
    data: Vec<Datum>,
    record: u32,
}

impl Out {
    fn add(&mut self, role: Role, text: &str, line: u32, path: &str) {
        let text = text.trim();
        if !text.is_empty() && text.len() <= LONGEST {
            self.data.push(Datum {
                role,
                text: text.into(),
                line,
                path: path.into(),
                record: self.record,
            });
        }
    }
}

/// All keys and values of a file of data, with their lines; as far as it can be read.
pub fn read(language: Language, text: &str) -> Vec<Datum> {
    let mut out = Out { data: Vec::new(), record: 0 };
    match language.data {
        Some(Form::Json) => json(text, &mut out),
        Some(Form::Xml) => xml(text, &mut out),
        Some(form @ (Form::Toml | Form::Ini | Form::Yaml)) => settings(form, text, &mut out),
        Some(Form::Table) => table(text, &mut out),
        _ => {}
    }
    out.data
}

fn json(text: &str, out: &mut Out) {
    // What is open: its name, whether it is a list, and the record around it.
    let mut path: Vec<String> = Vec::new();
    let mut open: Vec<bool> = Vec::new();
    let mut around: Vec<u32> = Vec::new();
    let mut newest = 0;
    let mut line = 1;
    let mut key: Option<String> = None;
    let bytes = text.as_bytes();
    let mut at = 0;
    while at < bytes.len() {
        match bytes[at] {
            b'\n' => line += 1,
            b'{' | b'[' => {
                around.push(out.record);
                if open.last() == Some(&true) || open.is_empty() {
                    newest += 1;
                    out.record = newest;
                }
                if let Some(key) = key.take() {
                    path.push(key);
                } else {
                    path.push(String::new());
                }
                open.push(bytes[at] == b'[');
            }
            b'}' | b']' => {
                path.pop();
                open.pop();
                // What follows is of the record that holds this one.
                out.record = around.pop().unwrap_or(out.record);
            }
            b',' => key = None,
            b'"' => {
                let end = end_of_text(bytes, at + 1);
                let inside = &text[at + 1..end.min(text.len())];
                let rest = text[(end + 1).min(text.len())..].trim_start();
                let here = joined(&path);
                if rest.starts_with(':') && open.last() != Some(&true) {
                    out.add(Role::Key, inside, line, &here);
                    key = Some(inside.to_owned());
                } else {
                    let here = key.as_ref().map_or(here.clone(), |k| {
                        if here.is_empty() { k.clone() } else { format!("{here}/{k}") }
                    });
                    out.add(Role::Value, inside, line, &here);
                    key = None;
                }
                line += inside.bytes().filter(|b| *b == b'\n').count() as u32;
                // The end of a line that ends an open text is still to be counted.
                at = if bytes.get(end) == Some(&b'\n') { end - 1 } else { end };
            }
            c if c.is_ascii_alphanumeric() || c == b'-' => {
                let len = text[at..]
                    .find(|c: char| !(c.is_ascii_alphanumeric() || matches!(c, '-' | '+' | '.')))
                    .unwrap_or(text.len() - at);
                let here = joined(&path);
                let here = key.as_ref().map_or(here.clone(), |k| {
                    if here.is_empty() { k.clone() } else { format!("{here}/{k}") }
                });
                out.add(Role::Value, &text[at..at + len], line, &here);
                key = None;
                at += len.max(1) - 1;
            }
            _ => {}
        }
        at += 1;
    }
}

fn joined(path: &[String]) -> String {
    let named = path.iter().take(2 * DEEPEST).filter(|p| !p.is_empty()).take(DEEPEST);
    named.map(String::as_str).collect::<Vec<_>>().join("/")
}

fn way(path: &[String]) -> String {
    path[..path.len().min(DEEPEST)].join("/")
}

fn end_of_text(bytes: &[u8], from: usize) -> usize {
    let mut at = from;
    while at < bytes.len() && bytes[at] != b'"' && bytes[at] != b'\n' {
        at += if bytes[at] == b'\\' { 2 } else { 1 };
    }
    at.min(bytes.len())
}

fn xml(text: &str, out: &mut Out) {
    let mut path: Vec<String> = Vec::new();
    let mut rest = 0;
    let ends: Vec<usize> = text.match_indices('\n').map(|(at, _)| at).collect();
    let line_of = |byte: usize| ends.partition_point(|end| *end < byte) as u32 + 1;
    while let Some(open) = text[rest..].find('<').map(|p| rest + p) {
        let between = text[rest..open].trim();
        if !between.is_empty() {
            let at = rest + text[rest..open].find(between).unwrap_or(0);
            out.add(Role::Value, between, line_of(at), &way(&path));
        }
        if text[open..].starts_with("<!--") {
            rest = text[open..].find("-->").map_or(text.len(), |e| open + e + 3);
            continue;
        }
        let Some(close) = text[open..].find('>').map(|p| open + p) else { break };
        let inside = &text[open + 1..close];
        rest = close + 1;
        if inside.starts_with(['?', '!']) {
            continue;
        }
        if let Some(name) = inside.strip_prefix('/') {
            // Some elements of pages are never closed.
            let back = path.iter().rev().take(NEVER_CLOSED);
            let open = back.enumerate().find(|(_, p)| p.eq_ignore_ascii_case(name.trim()));
            if let Some((nth, _)) = open {
                path.truncate(path.len() - 1 - nth);
            }
            continue;
        }
        let name_len = inside.find(|c: char| c.is_whitespace() || c == '/').unwrap_or(inside.len());
        let name = &inside[..name_len];
        out.record += 1;
        out.add(Role::Key, name, line_of(open), &way(&path));
        path.push(name.to_owned());
        let mut from = name_len;
        while let Some(eq) = inside[from..].find('=').map(|p| from + p) {
            let key = inside[from..eq].trim();
            let key_at = eq - inside[from..eq].trim_start().len();
            let value = inside[eq + 1..].trim_start();
            let quote = value.chars().next().filter(|c| matches!(c, '"' | '\''));
            let start = eq + 1 + (inside.len() - eq - 1 - value.len());
            let (text_at, end) = match quote {
                Some(q) => {
                    (start + 1, inside[start + 1..].find(q).map_or(inside.len(), |p| start + 1 + p))
                }
                None => (
                    start,
                    inside[start..].find(char::is_whitespace).map_or(inside.len(), |p| start + p),
                ),
            };
            let here = way(&path);
            out.add(Role::Key, key, line_of(open + 1 + key_at), &here);
            let value = inside.get(text_at..end).unwrap_or("");
            let begins = open + 1 + text_at + (value.len() - value.trim_start().len());
            out.add(Role::Value, value, line_of(begins), &format!("{here}/{key}"));
            from = (end + 1).min(inside.len());
        }
        if inside.ends_with('/') {
            path.pop();
        } else if matches!(name, "script" | "style") {
            // What stands in it is another language.
            rest = text[rest..].find(&format!("</{name}")).map_or(text.len(), |end| rest + end);
        }
    }
}

fn settings(form: Form, text: &str, out: &mut Out) {
    let mut section = String::new();
    let mut levels: Vec<(usize, String)> = Vec::new();
    for (line, row) in (1u32..).zip(text.lines()) {
        let bare = row.trim();
        if bare.is_empty() || bare.starts_with('#') || bare.starts_with(';') && form == Form::Ini {
            continue;
        }
        if let Some(name) = bare
            .strip_prefix('[')
            .and_then(|b| b.split(']').next())
            .filter(|_| form != Form::Yaml && bare.ends_with(']'))
        {
            section = name.trim_matches(['[', ' ', '"']).to_owned();
            out.record += 1;
            out.add(Role::Key, &section, line, "");
            continue;
        }
        let indent = row.len() - row.trim_start().len();
        let item = bare.strip_prefix("- ");
        if item.is_some() {
            out.record += 1;
        }
        let bare = item.unwrap_or(bare);
        let sign = if form == Form::Yaml { ':' } else { '=' };
        let here = if form == Form::Yaml {
            levels.retain(|(i, _)| *i < indent);
            levels.iter().take(DEEPEST).map(|(_, n)| n.as_str()).collect::<Vec<_>>().join("/")
        } else {
            String::new()
        };
        match bare
            .split_once(sign)
            .or_else(|| if form == Form::Ini { bare.split_once(':') } else { None })
        {
            Some((key, value)) => {
                let (key, value) = (key.trim().trim_matches('"'), value.trim());
                // The sections of settings hold records of the same nature: their names are no part
                // of the way.
                out.add(Role::Key, key, line, &here);
                if let Some((group, last)) = key.rsplit_once('.') {
                    out.add(Role::Key, last, line, group);
                }
                let value_path =
                    if here.is_empty() { key.to_owned() } else { format!("{here}/{key}") };
                let inner = value.trim_start_matches('[').trim_end_matches(']');
                for part in
                    if inner.len() < value.len() { inner.split(',').collect() } else { vec![value] }
                {
                    out.add(Role::Value, part.trim().trim_matches(['"', '\'']), line, &value_path);
                }
                if form == Form::Yaml && value.is_empty() {
                    levels.push((indent, key.to_owned()));
                }
            }
            None => out.add(Role::Value, bare.trim_matches(['"', '\'']), line, &here),
        }
    }
    let _ = section;
}

fn table(text: &str, out: &mut Out) {
    let rows: Vec<&str> = text.lines().collect();
    let count = |c: char| rows.iter().filter(|r| r.contains(c)).count();
    let filled = rows.iter().filter(|r| !r.trim().is_empty()).count();
    let separator =
        [',', ';', '\t', '|'].into_iter().find(|c| filled > 0 && count(*c) * 10 >= filled * 8);
    // The first row names the columns when it holds no numbers and others do.
    let cells = |row: &str| -> Vec<String> {
        match separator {
            Some(c) => row.split(c).map(|p| p.trim().trim_matches('"').to_owned()).collect(),
            None => row.split_whitespace().map(str::to_owned).collect(),
        }
    };
    let number = |cell: &String| cell.parse::<f64>().is_ok();
    let head = rows.first().map(|r| cells(r)).unwrap_or_default();
    let named = separator.is_some()
        && !head.iter().any(number)
        && rows.iter().skip(1).any(|r| cells(r).iter().any(number));
    // What a program printed is no data, though it lies beside it.
    if rows.iter().any(|row| names_place(row)) {
        return;
    }
    // Running text has no columns.
    if separator.is_none() {
        let lengths: Vec<usize> =
            rows.iter().map(|r| r.split_whitespace().count()).filter(|n| *n > 0).collect();
        let mut counts: HashMap<usize, usize> = HashMap::new();
        lengths.iter().for_each(|n| *counts.entry(*n).or_default() += 1);
        let usual = lengths.iter().max_by_key(|n| counts[*n]).copied().unwrap_or(0);
        let fitting = lengths.iter().filter(|n| n.abs_diff(usual) <= 1).count();
        if usual > 6 || fitting * 3 < lengths.len() * 2 || lengths.is_empty() {
            return;
        }
    }
    for (at, row) in rows.iter().enumerate() {
        if row.trim().is_empty() || row.trim_start().starts_with('#') {
            continue;
        }
        out.record += 1;
        for (column, cell) in cells(row).into_iter().enumerate() {
            if named && at == 0 {
                out.add(Role::Key, &cell, 1, "");
            } else {
                let path = if named {
                    head.get(column).cloned().unwrap_or_default()
                } else {
                    column.to_string()
                };
                out.add(Role::Value, &cell, at as u32 + 1, &path);
            }
        }
    }
}

/// Whether a row names a line of code, as consoles do: `main.js:5`, `"main.py", line 5`.
fn names_place(row: &str) -> bool {
    let numbered = |rest: &str| {
        [":", "(", "\", line "]
            .iter()
            .filter_map(|mark| rest.strip_prefix(mark))
            .any(|number| number.starts_with(|c: char| c.is_ascii_digit()))
    };
    row.match_indices('.').any(|(at, _)| {
        let end = row[at + 1..]
            .find(|c: char| !c.is_ascii_alphanumeric())
            .map_or(row.len(), |end| at + 1 + end);
        numbered(&row[end..])
            && Language::of(&format!("a{}", &row[at..end])).is_some_and(|l| l.is_code())
    })
}

#[cfg(test)]
mod tests;

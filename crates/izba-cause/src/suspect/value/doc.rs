//! Files of data as a program sees them once it has read them: parts with keys, lists, leaves.

use super::val::{Doc, Val, Vals, What};
use izba_model::code::{Datum, FileFacts, Role};
use izba_model::dialect::Form;

impl PartialEq for Doc<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.file.path == other.file.path
            && (&self.path, self.record) == (&other.path, other.record)
    }
}

impl<'a> Doc<'a> {
    /// The whole file.
    pub(crate) fn of(file: &'a FileFacts) -> Doc<'a> {
        // The outermost element of XML is the document.
        let root = file.data.first().filter(|_| file.language.data == Some(Form::Xml));
        let path = root.map_or(String::new(), |d| d.text.to_string());
        Doc { file, path, record: None }
    }

    fn inside(&self) -> impl Iterator<Item = &'a Datum> {
        let (path, record) = (self.path.clone(), self.record);
        let reach = self.path.len();
        self.file.data.iter().filter(move |d| {
            d.path.starts_with(path.as_str())
                && (reach == 0 || d.path.len() == reach || d.path.as_bytes()[reach] == b'/')
                && record.is_none_or(|r| d.record == r)
        })
    }

    /// The keys of this part, each once for each time it stands there.
    pub(crate) fn keys(&self) -> Vec<Val<'a>> {
        let keys = self.inside().filter(|d| d.role == Role::Key && d.path.as_ref() == self.path);
        keys.map(|d| Val::text(&d.text, self.file, d.line)).collect()
    }

    /// The first line of it.
    pub(crate) fn line(&self) -> u32 {
        self.inside().map(|d| d.line).min().unwrap_or(1)
    }

    fn leaf(&self, datum: &Datum) -> Val<'a> {
        let text = datum.text.as_ref();
        let line = self.file.line(datum.line).unwrap_or_default();
        let typed = matches!(self.file.language.data, Some(Form::Json | Form::Toml | Form::Yaml));
        let quoted = line.contains(&format!("\"{text}\"")) || line.contains(&format!("'{text}'"));
        let what = match text {
            _ if !typed || quoted => What::Text(text.into()),
            "null" | "~" => What::Nothing,
            "true" => What::Bool(true),
            "false" => What::Bool(false),
            _ => text.parse().map_or_else(|_| What::Text(text.into()), What::Num),
        };
        Val::new(what, self.file, datum.line)
    }

    /// What stands under a key; nothing for each record that lacks it.
    pub(crate) fn at(&self, key: &str) -> Vals<'a> {
        let path =
            if self.path.is_empty() { key.to_owned() } else { format!("{}/{key}", self.path) };
        let deeper = format!("{path}/");
        let mut out = Vals::default();
        let leaves: Vec<&'a Datum> =
            self.inside().filter(|d| d.role == Role::Value && d.path.as_ref() == path).collect();
        for of_record in leaves.chunk_by(|a, b| a.record == b.record) {
            let each = of_record.iter().map(|d| self.leaf(d));
            // A list of plain values is one value.
            match of_record.len() > 1 || self.is_in_list(of_record[0], key) {
                true if self.file.language.data == Some(Form::Json) => {
                    let items: Vec<Val<'a>> = each.collect();
                    out.push(Val::new(What::Items(items.into()), self.file, of_record[0].line));
                }
                _ => each.for_each(|leaf| out.push(leaf)),
            }
        }
        let inner = Doc { file: self.file, path: path.clone(), record: None };
        let any_inner = self
            .inside()
            .any(|d| d.path.starts_with(&deeper) || d.role == Role::Key && d.path.as_ref() == path);
        if any_inner {
            // Where the records count inside, the part is not narrowed.
            out.push(Val::new(What::Doc(inner.clone()), self.file, inner.line()));
        }
        // A table's empty cell is an empty text.
        if self.file.language.data == Some(Form::Table) {
            for record in self.records() {
                let has = |d: &Datum| d.role == Role::Value && d.path.as_ref() == path;
                let own: Vec<&Datum> =
                    self.file.data.iter().filter(|d| d.record == record).collect();
                let head = own.iter().all(|d| d.role == Role::Key);
                if !head && !own.iter().any(|d| has(d)) {
                    let line = own.first().map_or(1, |d| d.line);
                    out.push(Val::text("", self.file, line));
                }
            }
        }
        out
    }

    /// Whether a plain value stands in a list under its key, and not there by itself.
    fn is_in_list(&self, datum: &Datum, key: &str) -> bool {
        let line = self.file.line(datum.line).unwrap_or_default();
        let key = format!("\"{key}\"");
        let after = line.find(&key).map(|at| line[at + key.len()..].trim_start());
        let value = after.and_then(|rest| rest.strip_prefix(':'));
        // A key on an earlier line is that of a list over several.
        value.is_none_or(|rest| rest.trim_start().starts_with('['))
    }

    /// The records of this part whose keys are written one by one.
    pub(crate) fn records(&self) -> Vec<u32> {
        let mut records: Vec<u32> = self.inside().map(|d| d.record).collect();
        records.dedup();
        records.sort_unstable();
        records.dedup();
        records
    }

    /// The line of a record at which a key would stand that it lacks: behind the key that stands
    /// before it in others; else behind those of its own that begin in the same way; else its first.
    fn place_of(&self, own: &[&Datum], key: &str) -> u32 {
        let first = own.first().map_or(1, |d| d.line);
        let at = |text: &str| own.iter().find(|d| d.text.as_ref() == text).map(|d| d.line);
        let keys: Vec<&Datum> = self.inside().filter(|d| d.role == Role::Key).collect();
        let other = keys.iter().position(|d| {
            d.text.as_ref() == key && own.first().is_some_and(|o| o.record != d.record)
        });
        if let Some(other) = other {
            let record = keys[other].record;
            let before = keys[..other].iter().rev().take_while(|d| d.record == record);
            return before.map(|d| d.text.as_ref()).find_map(at).unwrap_or(first);
        }
        let begins = key.rfind(['.', '_', '-']).map(|cut| &key[..=cut]);
        let alike = begins.and_then(|b| own.iter().rev().find(|d| d.text.starts_with(b)));
        alike.map_or(first, |d| d.line)
    }

    /// The records that lack a key which others have, each with the line at which it would stand.
    pub(crate) fn lacking(&self, key: &str) -> Vec<Val<'a>> {
        let keys = |record: u32| {
            self.file.data.iter().filter(move |d| {
                d.role == Role::Key && d.record == record && d.path.as_ref() == self.path
            })
        };
        let mut found = Vec::new();
        for record in self.records() {
            let own: Vec<&Datum> = keys(record).collect();
            if !own.is_empty() && !own.iter().any(|d| d.text.as_ref() == key) {
                let line = self.place_of(&own, key);
                found.push(Val::new(What::Nothing, self.file, line));
            }
        }
        found
    }

    /// What going through it gives: the values of a list, or the part itself for each of a list of
    /// records.
    pub(crate) fn elements(&self) -> Vals<'a> {
        let mut out = Vals::default();
        for datum in self.inside().filter(|d| d.role == Role::Value && d.path.as_ref() == self.path)
        {
            out.push(self.leaf(datum));
        }
        if out.list.is_empty() {
            out.push(Val::new(What::Doc(self.clone()), self.file, self.line()));
        }
        out
    }

    /// The values under all its keys.
    pub(crate) fn values(&self) -> Vals<'a> {
        let mut keys: Vec<String> = self.keys().iter().filter_map(Val::word).collect();
        keys.sort_unstable();
        keys.dedup();
        let mut out = Vals::default();
        for key in keys {
            out.join(self.at(&key));
        }
        if out.list.is_empty() { self.elements() } else { out }
    }

    /// Elements of XML of this name, anywhere below.
    pub(crate) fn named(&self, name: &str) -> Vals<'a> {
        let mut paths: Vec<String> = self
            .inside()
            .filter(|d| d.role == Role::Key && d.text.as_ref() == name)
            .map(|d| format!("{}/{name}", d.path))
            .collect();
        paths.sort_unstable();
        paths.dedup();
        let mut out = Vals::default();
        for path in paths {
            let doc = Doc { file: self.file, path, record: None };
            let line = doc.line();
            out.push(Val::new(What::Doc(doc), self.file, line));
        }
        out
    }
}

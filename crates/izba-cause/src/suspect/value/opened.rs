//! Files that a program opens or reads: by a name that is written out, or by one with parts that are
//! put in as it runs, which may be any file that fits.

use super::eval::Eval;
use super::val::{Val, Vals, What};
use izba_model::code::{At, FileFacts, HoledName, Kind};

/// Objects that open a file when they are made.
const OPENERS: &[&str] = &[
    "FileReader",
    "BufferedReader",
    "InputStreamReader",
    "FileInputStream",
    "StreamReader",
    "Scanner",
    "File",
    "Path",
    "URL",
];

/// What names the file in an object that opens it.
fn opened_by(part: At<'_>) -> At<'_> {
    let mut at = part;
    while let Some(inner) = at
        .arguments()
        .next()
        .filter(|_| at.is(Kind::New) && at.text().is_some_and(|t| OPENERS.contains(&t)))
    {
        at = inner;
    }
    at
}

/// Files that one name with holes may mean, at most.
const FILES: usize = 12;

/// Calls that give what stands in the file, taken apart.
const PARSES: &[&str] = &[
    "load",
    "parse",
    "loads",
    "getroot",
    "DictReader",
    "items",
    "sections",
    "getDocumentElement",
    "decode",
    "Load",
    "json",
];

impl<'a> Eval<'a, '_> {
    /// A file that a call opens or reads, or what was opened before.
    pub(super) fn opened(
        &mut self,
        file: &'a FileFacts,
        owner: Option<At<'a>>,
        first: Option<At<'a>>,
        name: &str,
    ) -> Option<Vals<'a>> {
        let document = PARSES.contains(&name);
        let handles = [first.map(opened_by), owner];
        for part in handles.into_iter().flatten() {
            let found = self.of(file, part);
            let mut out: Option<Vals<'a>> = None;
            for val in &found.list {
                if let Some(read) = self.read_from(val, document, name) {
                    out.get_or_insert_default().join(read);
                }
            }
            if out.is_some() {
                return out;
            }
            let fitting = self.files_like(file, part);
            if !fitting.is_empty() {
                let read = fitting.into_iter().map(|data| match document {
                    true => self.document(data),
                    false => Vals::one(Val::new(What::Lines(data), data, 1)),
                });
                return Some(read.fold(Vals::default(), |mut all, one| {
                    all.join(one);
                    all
                }));
            }
        }
        None
    }

    /// What reading gives of a name, of what was opened, or of what was read before.
    fn read_from(&self, val: &Val<'a>, document: bool, name: &str) -> Option<Vals<'a>> {
        match &val.what {
            What::Text(text) => {
                let data = self.data_named(text)?;
                Some(match document {
                    true => self.document(data),
                    false => Vals::one(Val::new(What::Lines(data), data, 1)),
                })
            }
            What::Lines(data) if document => Some(self.document(data)),
            What::Lines(_) => Some(Vals::one(val.clone())),
            What::Doc(doc) if name == "items" => {
                let pairs = doc.keys().into_iter().filter_map(|key| {
                    let value = doc.at(&key.word()?).list;
                    let value = value.into_iter().find(|v| v.line == key.line)?;
                    Some(Val::new(What::Items([key.clone(), value].into()), key.file, key.line))
                });
                let pairs: Vec<Val<'a>> = pairs.collect();
                Some(Vals::one(val.made(What::Items(pairs.into()))))
            }
            What::Doc(_) => Some(Vals::one(val.clone())),
            _ => None,
        }
    }

    /// The file of data that an expression opens, as a document.
    pub(super) fn opened_file(&mut self, file: &'a FileFacts, at: At<'a>) -> Option<Vals<'a>> {
        let found = self.opened(file, None, Some(at), "load")?;
        found.list.iter().all(|v| matches!(v.what, What::Doc(_))).then_some(found)
    }

    /// The files of data that a name with holes fits: `levels/${n}.json`, `"levels/" + n + ".json"`.
    fn files_like(&self, file: &FileFacts, node: At<'_>) -> Vec<&'a FileFacts> {
        let Some(name) = HoledName::of(file, node) else { return Vec::new() };
        let data = self.query.scope.iter().copied().filter(|f| f.language.is_data());
        data.filter(|f| name.fits(&f.path)).take(FILES).collect()
    }
}

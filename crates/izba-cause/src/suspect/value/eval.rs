//! Expressions: what each may be.

use super::pure;
use super::val::{Missed, Val, Vals, What};
use crate::suspect::query::Query;
use izba_model::code::{At, FileFacts, Flag, Kind};
use std::collections::HashMap;
use std::rc::Rc;

/// Steps that one question may take in all.
const STEPS: usize = 20_000;
/// How far expressions are followed into one another.
const DEEP: usize = 60;

/// A call that is being followed: inside the function its parameters are what it hands over.
#[derive(Debug, Clone, Copy)]
pub(super) struct Frame<'a> {
    pub(super) function: At<'a>,
    pub(super) call: At<'a>,
    pub(super) file: &'a FileFacts,
}

/// Works out what expressions may be.
pub(crate) struct Eval<'a, 'b> {
    pub(crate) query: &'b Query<'a>,
    pub(super) frames: Vec<Frame<'a>>,
    known: HashMap<(*const FileFacts, u32), Vals<'a>>,
    open: Vec<(*const FileFacts, u32)>,
    steps: usize,
}

impl<'a, 'b> Eval<'a, 'b> {
    pub(crate) fn new(query: &'b Query<'a>) -> Eval<'a, 'b> {
        Eval { query, frames: Vec::new(), known: HashMap::new(), open: Vec::new(), steps: STEPS }
    }

    /// All values that an expression may have.
    pub(crate) fn of(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let key = (std::ptr::from_ref(file), node.id());
        if self.frames.is_empty()
            && let Some(known) = self.known.get(&key)
        {
            return known.clone();
        }
        if self.open.contains(&key) {
            // It is made of itself: what it was before is among the others.
            return Vals::default();
        }
        if self.steps == 0 || self.open.len() >= DEEP {
            return Vals::lost();
        }
        self.steps -= 1;
        self.open.push(key);
        let found = self.expression(file, node);
        self.open.pop();
        if self.frames.is_empty() && self.open.is_empty() {
            self.known.insert(key, found.clone());
        }
        found
    }

    /// What an expression of a function is where a call, in a file, reaches it.
    pub(crate) fn where_called(
        &mut self,
        file: &'a FileFacts,
        node: At<'a>,
        function: At<'a>,
        (home, call): (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        self.frames.push(Frame { function, call, file: home });
        let found = self.of(file, node);
        self.frames.pop();
        found
    }

    /// What a component keeps between two drawings: first what it is begun with, then what it is
    /// set to, which nobody sees here.
    pub(super) fn begun_with(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let mut found = match node.arguments().next() {
            Some(first) => self.of(file, first),
            None => Vals::one(Val::new(What::Nothing, file, node.line())),
        };
        found.lost = true;
        found
    }

    /// As if nothing had been called yet.
    pub(super) fn outside<T>(&mut self, of: impl FnOnce(&mut Self) -> T) -> T {
        let frames = std::mem::take(&mut self.frames);
        let found = of(self);
        self.frames = frames;
        found
    }

    fn expression(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let here = |what| Vals::one(Val::new(what, file, node.line()));
        match node.kind() {
            // Given back by a search or chosen by a condition it says that something else is missing.
            Kind::Nil => {
                let weak = node.parent().is_some_and(|p| {
                    matches!(p.kind(), Kind::Return | Kind::If | Kind::Bin | Kind::Block)
                });
                Vals::one(Val { first: weak, ..Val::new(What::Nothing, file, node.line()) })
            }
            Kind::Bool => {
                here(What::Bool(node.text().is_some_and(|t| t.eq_ignore_ascii_case("true"))))
            }
            Kind::Num => match node.text().and_then(|t| t.replace('_', "").parse().ok()) {
                Some(number) => here(What::Num(number)),
                None => Vals::lost(),
            },
            // What is put into a text is not followed.
            Kind::Str if node.child(0).is_some() => Vals::lost(),
            Kind::Str => here(What::Text(node.text().unwrap_or_default().into())),
            Kind::Table => here(What::Table(node)),
            Kind::Func => here(What::Func(node)),
            Kind::Class => here(What::Class(node)),
            Kind::Name => self.name(file, node),
            Kind::Field => self.field(file, node),
            Kind::Index => self.index(file, node),
            Kind::Call => self.call(file, node),
            Kind::New => self.new_object(file, node),
            Kind::Import => self.import(file, node),
            Kind::Bin => self.binary(file, node),
            Kind::Un => self.unary(file, node),
            Kind::If => self.choice(file, node),
            Kind::Pair => match node.children().last() {
                Some(value) => self.of(file, value),
                None => Vals::lost(),
            },
            _ => self.comprehension(file, node),
        }
    }

    /// `[f(x) for x in xs]`: a list of whatever the first part may be.
    fn comprehension(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let goes = node.is(Kind::Other) && node.part(Kind::ForIn).is_some();
        let Some(first) = node.child(0).filter(|_| goes) else { return Vals::lost() };
        let mut list = self.of(file, first);
        let lost = list.lost;
        list.list.iter_mut().for_each(|v| v.first = false);
        let items = Val::new(What::Items(list.list.into()), file, node.line());
        Vals { list: vec![items], lost }
    }

    fn unary(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let Some(inner) = node.child(0) else { return Vals::lost() };
        match node.text().unwrap_or_default() {
            "-" => self.of(file, inner).map(|v| v.number().map(|n| What::Num(-n))),
            "#" => self.of(file, inner).map(|v| length(v).map(What::Num)),
            "cast" | "await" | "(" | "" | "+" | "!" if node.text() != Some("!") => {
                self.of(file, inner)
            }
            _ => Vals::lost(),
        }
    }

    fn binary(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let (Some(left), Some(right)) = (node.child(0), node.child(1)) else {
            return Vals::lost();
        };
        match node.text().unwrap_or_default() {
            "or" | "||" | "??" => {
                let mut found = self.of(file, left);
                found.list.retain(|v| !v.is_nothing());
                found.join(self.of(file, right));
                found
            }
            "and" | "&&" => self.of(file, right),
            ".." if !self.is_known_text(file, left) || !self.is_known_text(file, right) => {
                Vals::one(Val::new(What::AnyText, file, node.line()))
            }
            sign @ ("+" | ".." | "-" | "*" | "/" | "//" | "%" | "**" | "^") => {
                let (a, b) = (self.of(file, left), self.of(file, right));
                // Paths are put together so in some languages: the end names the file.
                let name_of_file = |v: &Val<'_>| match &v.what {
                    What::Text(text) => sign == "/" || sign == "+" && text.starts_with('/'),
                    _ => false,
                };
                if a.list.is_empty() && !b.list.is_empty() && b.list.iter().all(name_of_file) {
                    return Vals { lost: true, ..b };
                }
                if a.list.len() * b.list.len() > 400 {
                    return Vals::lost();
                }
                let lost = a.lost || b.lost;
                let mut out = a.each(|a| {
                    let mut out = Vals::default();
                    for b in &b.list {
                        match put_together(sign, &a, b) {
                            Some(made) => out.push(made),
                            None => out.lost = true,
                        }
                    }
                    out
                });
                out.lost |= lost;
                out
            }
            _ => Vals::lost(),
        }
    }

    /// Whether all that something may be can be put together as texts.
    fn is_known_text(&mut self, file: &'a FileFacts, node: At<'a>) -> bool {
        let found = self.of(file, node);
        !found.lost && found.list.iter().all(|v| v.word().is_some())
    }

    /// One of two, whichever the condition says.
    fn choice(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let parts: Vec<At<'a>> = node.children().collect();
        let [a, b, c] = parts[..] else { return Vals::lost() };
        // Python writes the condition in the middle.
        let between = file.text.get(a.span().1..b.span().0).unwrap_or_default();
        let first = if between.trim() == "if" { a } else { b };
        let mut found = self.of(file, first);
        found.join(self.of(file, c));
        found
    }

    fn index(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let (Some(owner), Some(key)) = (node.child(0), node.child(1)) else {
            return Vals::lost();
        };
        if let Some(searched) = searched(file, owner, key) {
            return self.first_found(file, searched, node.line());
        }
        let owners = self.of(file, owner);
        // A part of a list or text is written with the same brackets.
        let inside = file.text.get(owner.span().1..node.span().1).unwrap_or_default();
        if inside.contains(':') && !matches!(key.kind(), Kind::Str | Kind::Call) {
            return self.part(file, owners, key, inside);
        }
        if let (true, Some(name)) =
            (owners.list.is_empty() && owners.lost && key.is(Kind::Str), key.text())
        {
            let mut found = self.member_anywhere(name);
            found.lost = true;
            return found;
        }
        let passed = passed_over(file, key);
        if passed > 0 && owners.list.iter().all(|o| matches!(o.what, What::Lines(_))) {
            // A loop that begins further on does not see the first lines.
            let mut found = owners.each(|o| self.elements(&o, file));
            found.list.retain(|v| v.line > passed);
            found.lost = true;
            return found;
        }
        let keys = self.of(file, key);
        self.looked_up(owners, &keys, (file, node))
    }

    /// One of a list that is searched, or nothing, told at a line.
    pub(super) fn first_found(
        &mut self,
        file: &'a FileFacts,
        searched: At<'a>,
        line: u32,
    ) -> Vals<'a> {
        let mut found = self.of(file, searched).each(|v| self.elements(&v, file));
        found.lost |= found.list.is_empty();
        found.push(Val { first: true, ..Val::new(What::Nothing, file, line) });
        found
    }

    fn part(
        &mut self,
        file: &'a FileFacts,
        owners: Vals<'a>,
        key: At<'a>,
        inside: &str,
    ) -> Vals<'a> {
        let bounds = inside.trim_matches(['[', ']']).trim();
        let number = self.of(file, key).list.first().and_then(Val::number).map(|n| n as i64);
        let (from, to) = match bounds.split_once(':') {
            Some(("", _)) => (None, number),
            Some((_, "")) => (number, None),
            _ => return owners.each(|v| Vals { list: vec![v], lost: true }),
        };
        let cut = owners.map(|v| match &v.what {
            What::Text(text) => Some(What::Text(pure::slice(text, from, to).into())),
            _ => None,
        });
        cut.by(file, key)
    }

    /// What stands in any of these under any of the keys.
    pub(super) fn looked_up(
        &mut self,
        owners: Vals<'a>,
        keys: &Vals<'a>,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        let mut out = Vals { list: Vec::new(), lost: owners.lost };
        for owner in owners.list.into_iter().filter(|o| !o.is_nothing()) {
            if keys.lost {
                out.join(self.elements(&owner, site.0));
                out.lost = true;
            }
            for key in &keys.list {
                // Under nothing there is nothing, wherever that came from.
                match key.is_nothing() {
                    true if key.first && keys.list.len() > 1 => {}
                    true => out.push(key.clone()),
                    false => out.join(self.at_key(&owner, key, site)),
                }
            }
        }
        out
    }

    /// Nothing, because a search found nothing.
    pub(super) fn missed(
        &mut self,
        owner: &Val<'a>,
        key: &Val<'a>,
        offered: Vec<Val<'a>>,
        site: (&'a FileFacts, At<'a>),
    ) -> Val<'a> {
        let missed = Missed { owner: owner.clone(), key: key.clone(), offered, site };
        Val { missed: Some(Rc::new(missed)), ..key.made(What::Nothing) }
    }

    fn new_object(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let name = node.text().unwrap_or_default();
        if let Some((home, class)) = self.class_named(file, name) {
            return Vals::one(Val::new(What::Object(class, None), home, node.line()).at(file));
        }
        if let Some((home, begins)) = self.maker_named(name) {
            return Vals::one(Val {
                file,
                ..Val::new(What::Object(begins, None), home, node.line())
            });
        }
        if matches!(name, "Array" | "[]")
            && node.arguments().next().is_some_and(|a| a.is(Kind::Table))
        {
            return self.of(file, node.arguments().next().expect("it was just seen"));
        }
        // One of a known size is filled by number.
        if node.arguments().next().is_some_and(|a| !a.is(Kind::Table)) || name == "[]" {
            return Vals::lost();
        }
        // A container of the language, which is filled later.
        Vals::one(Val::new(What::Table(node), file, node.line()))
    }

    /// A function that makes objects when it is called with `new`.
    fn maker_named(&self, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
        self.query.scope.iter().find_map(|f| {
            let found = f.tree.named(name).find(|n| {
                n.is(Kind::Func)
                    && n.whole().any(|s| {
                        s.is(Kind::Field)
                            && s.defines().is_some()
                            && s.child(0).is_some_and(|o| o.is_called("this"))
                    })
            })?;
            Some((*f, found))
        })
    }

    /// The type of this name that can be meant in a file.
    pub(super) fn class_named(
        &self,
        file: &FileFacts,
        name: &str,
    ) -> Option<(&'a FileFacts, At<'a>)> {
        let classes = || {
            self.query.scope.iter().flat_map(move |f| {
                f.tree.named(name).filter(|n| n.is(Kind::Class)).map(move |n| (*f, n))
            })
        };
        classes().find(|(f, _)| f.path == file.path).or_else(|| classes().next())
    }
}

/// The list in which the first is looked for that a condition holds of: `list.filter(…)[0]`.
fn searched<'a>(file: &FileFacts, owner: At<'a>, key: At<'a>) -> Option<At<'a>> {
    let first = key.is(Kind::Num) && key.is_called(&file.language.first_index.to_string());
    (first && is_searching(owner)).then(|| owner.child(0)?.child(0)).flatten()
}

/// Whether a call leaves only those in a list of which a condition holds.
pub(super) fn is_searching(call: At<'_>) -> bool {
    let condition = call.arguments().next().is_some_and(|a| a.is(Kind::Func));
    call.is(Kind::Call) && call.last_name() == Some("filter") && condition
}

/// How many entries of a list a counting loop passes over, whose counter is the key.
fn passed_over(file: &FileFacts, key: At<'_>) -> u32 {
    let counter = key.text().filter(|_| key.is(Kind::Name));
    let begins =
        counter.into_iter().flat_map(|name| crate::suspect::flow::bindings(file, key, name));
    let start = begins
        .filter_map(|b| b.parent()?.parent().filter(|f| f.is(Kind::For))?.child(1))
        .find(|s| s.is(Kind::Num));
    let start: i64 = start.and_then(At::text).and_then(|t| t.parse().ok()).unwrap_or(0);
    u32::try_from(start - file.language.first_index).unwrap_or(0)
}

impl<'a> Val<'a> {
    /// The same, written in another file than its type.
    fn at(self, file: &'a FileFacts) -> Val<'a> {
        Val { file, ..self }
    }
}

/// How many there are in it, where that is known.
pub(super) fn length(val: &Val<'_>) -> Option<f64> {
    match &val.what {
        What::Text(text) => Some(text.chars().count() as f64),
        What::Items(items) => Some(items.len() as f64),
        _ => None,
    }
}

/// Two values put together, written where the one of them was that is no constant of the line.
fn put_together<'a>(sign: &str, a: &Val<'a>, b: &Val<'a>) -> Option<Val<'a>> {
    let what = match (&a.what, &b.what) {
        (What::Num(x), What::Num(y)) => What::Num(pure::count(sign, *x, *y)?),
        (What::Text(x), What::Text(y)) if matches!(sign, "+" | "..") => {
            What::Text(format!("{x}{y}").into())
        }
        (What::Text(x), What::Num(y)) if matches!(sign, "+" | "..") => {
            What::Text(format!("{x}{y}").into())
        }
        (What::Num(x), What::Text(y)) if matches!(sign, "+" | "..") => {
            What::Text(format!("{x}{y}").into())
        }
        // JavaScript counts with what is no number and gets none.
        (What::Text(x), What::Num(_)) | (What::Num(_), What::Text(x))
            if a.file.language.first_index == 0 && matches!(sign, "-" | "*" | "/" | "%") =>
        {
            pure::number(x, false).is_none().then_some(What::Num(f64::NAN))?
        }
        _ => return None,
    };
    // A constant says less of where it comes from than what it is put to.
    let none = |v: &Val<'_>| matches!(v.what, What::Num(n) if n.is_nan());
    if none(a) || none(b) {
        return Some(if none(a) { a.made(what) } else { b.made(what) });
    }
    let from = if matches!(b.what, What::Num(_)) || a.missed.is_some() { a } else { b };
    let from = if a.file.path != b.file.path && matches!(a.what, What::Text(_)) { b } else { from };
    Some(from.made(what))
}

/// Whether a node is handed its object by the way in which it is written.
pub(super) fn is_method(function: At<'_>) -> bool {
    function.has(Flag::Method) || function.class().is_some()
}

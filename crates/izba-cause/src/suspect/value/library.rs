//! Calls: of the project's own functions, and of what every language brings along.

use super::eval::Eval;
use super::eval::{Frame, is_method, is_searching, length};
use super::pure;
use super::val::{Val, Vals, What};
use crate::suspect::flow::bindings;
use izba_model::code::{At, FileFacts, How, Kind};
use izba_model::dialect::Form;

/// The line at which a function ends without giving anything back, where it gives a value on some
/// of its ways and its last step is one that may be passed over.
fn falls_off(file: &FileFacts, function: At<'_>) -> Option<u32> {
    let gives =
        |n: &At<'_>| n.is(Kind::Return) && n.function() == Some(function) && n.child(0).is_some();
    if file.language.checked || !function.whole().any(|n| gives(&n)) {
        return None;
    }
    let last = function.part(Kind::Block)?.children().last()?;
    let passed = match last.kind() {
        Kind::For | Kind::ForIn => true,
        Kind::If => last.child(2).is_none(),
        _ => false,
    };
    (passed && last.whole().any(|n| gives(&n))).then(|| file.line_of(last.span().1))
}

/// A number as it is written, from the front or from the back.
fn is_count(node: At<'_>) -> bool {
    let of_sign = |n: At<'_>| n.is(Kind::Un) && n.child(0).is_some_and(|c| c.is(Kind::Num));
    node.is(Kind::Num) || of_sign(node)
}

/// Own functions of one name that are looked at.
const FUNCTIONS: usize = 8;
/// How deep calls are followed.
const DEEP: usize = 8;

impl<'a> Eval<'a, '_> {
    pub(super) fn call(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let Some(called) = node.child(0) else { return Vals::lost() };
        let name = called.last_name().unwrap_or_default();
        if name == "setmetatable" {
            return self.with_type(file, node);
        }
        let functions = self.functions(file, called, name);
        if !functions.list.is_empty() {
            let lost = functions.lost;
            let mut out = functions.each(|val| match val.what {
                What::Func(function) => {
                    let home = self.home_of(function).unwrap_or(val.file);
                    self.returned(home, function, Some((file, node)))
                }
                What::Class(class) => {
                    Vals::one(Val::new(What::Object(class, None), file, node.line()))
                }
                _ => Vals::lost(),
            });
            out.lost |= lost;
            return out;
        }
        self.library(file, node, called, name)
    }

    /// Own functions and types that may be called here.
    fn functions(&mut self, file: &'a FileFacts, called: At<'a>, name: &str) -> Vals<'a> {
        let callable = |v: &Val<'a>| matches!(v.what, What::Func(_) | What::Class(_));
        match called.kind() {
            Kind::Name => {
                let mut found = self.of(file, called);
                found.list.retain(callable);
                if found.list.is_empty()
                    && let Some((home, class)) = self.class_named(file, name)
                {
                    found.push(Val::new(What::Class(class), home, class.line()));
                }
                found
            }
            Kind::Field => {
                let made = || {
                    self.query.scope.iter().flat_map(|f| {
                        f.tree.named(name).filter(|n| n.is(Kind::Func)).map(move |n| (*f, n))
                    })
                };
                let own: Vec<_> = made().take(FUNCTIONS + 1).collect();
                let outside = called.child(0).is_some_and(|o| self.is_outside(file, o));
                if outside || own.is_empty() && !self.query.symbols.is_made(name) {
                    return Vals::default();
                }
                let mut found = self.of(file, called);
                found.list.retain(callable);
                if found.list.is_empty() {
                    // Whose it is was not found out: any function of this name.
                    let lost = own.len() != 1;
                    for (home, function) in own.into_iter().filter(|(_, f)| is_method(*f)) {
                        found.push(Val::new(What::Func(function), home, function.line()));
                    }
                    found.lost |= lost;
                }
                found
            }
            _ => {
                let mut found = self.of(file, called);
                found.list.retain(callable);
                found
            }
        }
    }

    /// Whether a name means something that is not part of the project: a module that was brought in
    /// from elsewhere, or what the language brings along.
    pub(super) fn is_outside(&mut self, file: &'a FileFacts, owner: At<'a>) -> bool {
        let Some(name) = owner.text().filter(|_| owner.is(Kind::Name)) else { return false };
        if matches!(name, "self" | "this" | "super") {
            return false;
        }
        let made = bindings(file, owner, name);
        if made.is_empty() {
            return !self.query.symbols.is_made(name);
        }
        made.iter().all(|m| {
            m.defines() == Some(How::Import)
                && m.parent().is_some_and(|import| {
                    let found = self.import(file, import);
                    found.list.is_empty()
                })
        })
    }

    /// What a function gives back, called from there.
    pub(super) fn returned(
        &mut self,
        file: &'a FileFacts,
        function: At<'a>,
        from: Option<(&'a FileFacts, At<'a>)>,
    ) -> Vals<'a> {
        if self.frames.len() >= DEEP {
            return Vals::lost();
        }
        if let Some((home, call)) = from {
            self.frames.push(Frame { function, call, file: home });
        }
        let mut out = Vals::default();
        let backs: Vec<At<'a>> = function
            .whole()
            .filter(|n| n.is(Kind::Return) && n.function() == Some(function))
            .collect();
        let reached: Vec<Option<bool>> =
            backs.iter().map(|b| self.reached(file, *b, function)).collect();
        let open = reached.iter().filter(|r| **r != Some(false)).count();
        let sure = open == 1 && backs.len() > 1;
        for (back, reached) in backs.iter().zip(&reached) {
            if *reached == Some(false) {
                continue;
            }
            let values: Vec<At<'a>> = back.children().collect();
            match values.as_slice() {
                [] => {}
                [one] => out.join(self.of(file, *one)),
                several => {
                    let each: Vec<Vals<'a>> = several.iter().map(|v| self.of(file, *v)).collect();
                    let items =
                        each.iter().map(|v| v.list.first().cloned()).collect::<Option<Vec<_>>>();
                    match items.filter(|_| each.iter().all(|v| v.list.len() == 1)) {
                        Some(items) => {
                            out.push(Val::new(What::Items(items.into()), file, back.line()))
                        }
                        None => out.lost = true,
                    }
                }
            }
        }
        if backs.iter().all(|b| b.child(0).is_none()) {
            // One that gives nothing back; where values are sent on otherwise it is not known.
            let text = file.text.get(function.span().0..function.span().1).unwrap_or_default();
            let last = function.part(Kind::Block).and_then(|b| b.children().last());
            if text.contains("yield") {
                out.lost = true;
            } else {
                // Behind a block it is its end that is reached, of a step over several lines its first.
                let around = |l: At<'_>| {
                    matches!(l.kind(), Kind::If | Kind::For | Kind::ForIn | Kind::While)
                };
                let end =
                    last.map_or(function.last_line(), |l| match around(l) || l.is(Kind::Try) {
                        true => file.line_of(l.span().1),
                        false => l.line(),
                    });
                out.push(Val::new(What::Nothing, file, end));
            }
        }
        // One that gives a value only where something was found ends without one else.
        if let Some(end) = falls_off(file, function).filter(|_| !out.list.is_empty() || out.lost) {
            out.push(Val { first: true, ..Val::new(What::Nothing, file, end) });
        }
        if from.is_some() {
            self.frames.pop();
        }
        // Where it is sure which of them is reached, nothing is what this very call gives.
        if let (Some((home, call)), true) = (from, sure) {
            for val in out.list.iter_mut().filter(|v| v.is_nothing() && v.first) {
                (val.file, val.line, val.first) = (home, call.line(), false);
            }
        }
        out
    }

    /// Whether a way out of a function is reached, as far as what it is handed decides that.
    fn reached(&mut self, file: &'a FileFacts, back: At<'a>, function: At<'a>) -> Option<bool> {
        let mut at = back;
        let mut known = None;
        while let Some(up) = at.parent().filter(|up| *up != function) {
            let holds = match up.kind() {
                // The branches of one that asks for several values in turn.
                Kind::Other
                    if up.child(0).is_some_and(|c| c.is(Kind::Str) || c.is(Kind::Num))
                        && up.child(0) != Some(at) =>
                {
                    let asked = up
                        .parent()
                        .and_then(At::parent)
                        .and_then(|s| s.child(0))
                        .filter(|c| *c != up);
                    let case = up.child(0);
                    match (asked, case) {
                        (Some(asked), Some(case)) => self.equal(file, asked, case),
                        _ => None,
                    }
                }
                Kind::If if up.child(1).is_some_and(|then| then == at) => {
                    up.child(0).and_then(|condition| self.holds(file, condition))
                }
                _ => None,
            };
            match holds {
                Some(false) => return Some(false),
                Some(true) => known = Some(true),
                None => {}
            }
            at = up;
        }
        known
    }

    fn holds(&mut self, file: &'a FileFacts, condition: At<'a>) -> Option<bool> {
        let (left, right) = (condition.child(0)?, condition.child(1)?);
        match (condition.kind(), condition.text()) {
            (Kind::Bin, Some("==" | "===")) => self.equal(file, left, right),
            (Kind::Call, _) if matches!(condition.last_name(), Some("equals" | "Equals")) => {
                self.equal(file, left.child(0)?, right)
            }
            _ => None,
        }
    }

    /// Whether two expressions are the same value, where each is one only.
    fn equal(&mut self, file: &'a FileFacts, a: At<'a>, b: At<'a>) -> Option<bool> {
        let (a, b) = (self.of(file, a), self.of(file, b));
        match (a.lost || b.lost, a.list.as_slice(), b.list.as_slice()) {
            (false, [a], [b]) => Some(a.word()? == b.word()?),
            _ => None,
        }
    }

    /// `setmetatable({}, T)`: an object of the type that T is.
    fn with_type(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let mut arguments = node.arguments();
        let (Some(own), Some(meta)) = (arguments.next(), arguments.next()) else {
            return Vals::lost();
        };
        let by_index = meta
            .children()
            .find(|p| p.is(Kind::Pair) && p.is_called("__index"))
            .and_then(|p| p.child(0));
        let types = self.of(file, by_index.unwrap_or(meta));
        let own_table = self.of(file, own).list.into_iter().find_map(|v| match v.what {
            What::Table(table) => Some(table),
            _ => None,
        });
        types
            .map(|v| match v.what {
                What::Table(table) => Some(What::Object(table, own_table)),
                _ => None,
            })
            .each(|v| Vals::one(Val { file, line: node.line(), ..v }))
    }

    /// A parameter of a function that is handed over to something that calls it.
    pub(super) fn handed_by_library(
        &mut self,
        file: &'a FileFacts,
        function: At<'a>,
        nth: usize,
    ) -> Vals<'a> {
        let Some(call) = function.parent().filter(|p| p.is(Kind::Call)) else {
            return Vals::lost();
        };
        let each = call.last_name().is_some_and(|n| {
            matches!(
                n,
                "map"
                    | "forEach"
                    | "filter"
                    | "find"
                    | "some"
                    | "every"
                    | "flatMap"
                    | "findIndex"
                    | "sort"
                    | "Select"
                    | "Where"
                    | "ForEach"
                    | "First"
                    | "Any"
                    | "All"
                    | "removeIf"
                    | "anyMatch"
                    | "mapToInt"
                    | "OrderBy"
                    | "sorted"
                    | "max"
                    | "min"
            )
        });
        let owner = call.child(0).filter(|c| c.is(Kind::Field)).and_then(|c| c.child(0));
        match owner {
            Some(owner) if call.last_name() == Some("then") && nth == 0 => self.of(file, owner),
            Some(owner) if each && nth == 0 => self.gone_through(file, owner, None),
            _ => Vals::lost(),
        }
    }

    /// What going through an expression gives; `nth` of those that are taken apart at once.
    pub(super) fn gone_through(
        &mut self,
        file: &'a FileFacts,
        through: At<'a>,
        nth: Option<usize>,
    ) -> Vals<'a> {
        let name = through.last_name().filter(|_| through.is(Kind::Call)).unwrap_or_default();
        let first = through.arguments().next().filter(|_| through.is(Kind::Call));
        let counted = matches!(name, "ipairs" | "enumerate");
        let by_key = matches!(name, "pairs" | "entries" | "items");
        // `Object.entries(x)` as `pairs(x)`; of `x.entries()` nothing is handed over.
        let handed = name == "pairs" || name == "entries";
        if let (Some(nth), true, Some(list)) = (nth, counted || handed, first) {
            let owners = self.of(file, list);
            return match nth {
                0 if counted => Vals::lost(),
                0 => owners.each(|v| self.keys_of(&v)),
                _ => owners.each(|v| match &v.what {
                    What::Doc(doc) if by_key => doc.values(),
                    _ => self.elements(&v, file),
                }),
            };
        }
        let owners = self.of(file, through);
        let python_dict = |v: &Val<'a>| matches!(&v.what, What::Table(t) if t.children().any(|c| c.is(Kind::Pair)) && file.language.declares_by_assigning);
        let elements = owners.each(|v| match &v.what {
            _ if python_dict(&v) => self.keys_of(&v).handed_as(&v),
            What::Doc(doc) if !doc.keys().is_empty() && file.language.declares_by_assigning => {
                // Keys that stand there once each are those of one dictionary.
                let mut keys: Vec<String> = doc.keys().iter().filter_map(Val::word).collect();
                let all = keys.len();
                keys.sort_unstable();
                keys.dedup();
                let columns = doc.file.language.data == Some(Form::Table);
                let one = if columns { doc.records().len() < 2 } else { keys.len() == all };
                match one {
                    true => self.keys_of(&v).handed_as(&v),
                    false => doc.elements(),
                }
            }
            _ => self.elements(&v, file),
        });
        match nth {
            None => elements,
            Some(nth) => self.taken_apart(elements, nth, None, (file, through)),
        }
    }

    /// What a call of the language's own gives.
    fn library(
        &mut self,
        file: &'a FileFacts,
        node: At<'a>,
        called: At<'a>,
        name: &str,
    ) -> Vals<'a> {
        let owner = called.child(0).filter(|_| called.is(Kind::Field));
        let arguments: Vec<At<'a>> = node.arguments().collect();
        let first = arguments.first().copied();
        let site = (file, node);
        match name {
            // Reading.
            "open" | "readFileSync" | "readFile" | "ReadAllLines" | "ReadAllText" | "lines"
            | "readAllLines" | "readString" | "readlines" | "read" | "iter"
            | "newBufferedReader" | "load" | "parse" | "loads" | "ReadLines" | "reader"
            | "getroot" | "DictReader" | "items" | "sections" | "decode" | "getDocumentElement"
            | "dofile" | "Load" | "fetch" | "json"
                if self.opened(file, owner, first, name).is_some() =>
            {
                let found = self.opened(file, owner, first, name).unwrap_or_default();
                found.by(file, node)
            }
            "join" | "resolve" | "Combine" | "joinpath" | "Path"
                if owner
                    .or(Some(called))
                    .is_some_and(|o| matches!(o.last_name(), Some("path" | "Path"))) =>
            {
                // Of a path it is its end that names the file.
                match arguments.last() {
                    Some(last) => self.of(file, *last),
                    None => Vals::lost(),
                }
            }
            // What waits for several gives each of them, in order.
            "all" if owner.is_some_and(|o| o.is_called("Promise")) => {
                let list = first.filter(|f| f.is(Kind::Table));
                let each: Vec<Vals<'a>> =
                    list.into_iter().flat_map(At::children).map(|c| self.of(file, c)).collect();
                let known = !each.is_empty() && each.iter().all(|v| v.list.len() == 1 && !v.lost);
                match known {
                    true => {
                        let items = each.into_iter().flat_map(|v| v.list).collect();
                        Vals::one(Val::new(What::Items(items), file, node.line()))
                    }
                    false => Vals::lost(),
                }
            }
            "then" if first.is_some_and(|f| f.is(Kind::Func)) && arguments.len() == 1 => {
                first.map_or_else(Vals::lost, |f| self.returned(file, f, None))
            }
            "getElementById" | "querySelector" | "createElement"
                if file.language.base_id() == "javascript" && owner.is_some() =>
            {
                let element = Val::new(What::Element(node), file, node.line());
                Vals { list: vec![element], lost: true }
            }
            "getattr" | "GetMethod" | "getMethod" | "GetProperty" | "getDeclaredMethod" => {
                let (object, key) = match owner.filter(|_| name != "getattr") {
                    Some(owner) => (Some(owner), first),
                    None => (first, arguments.get(1).copied()),
                };
                let (Some(object), Some(key)) = (object, key) else { return Vals::lost() };
                let object = if object.last_name() == Some("typeof") {
                    object.arguments().next().unwrap_or(object)
                } else {
                    object
                };
                let (owners, keys) = (self.of(file, object), self.of(file, key));
                let mut found = self.looked_up(owners, &keys, site);
                if let Some(other) = arguments.get(2) {
                    found.list.retain(|v| v.missed.is_none());
                    found.join(self.of(file, *other));
                }
                found
            }
            _ => match owner {
                Some(owner) => {
                    let owners = self.of(file, owner);
                    let made = matches!(
                        name,
                        "slice"
                            | "substring"
                            | "substr"
                            | "Substring"
                            | "sub"
                            | "lower"
                            | "upper"
                            | "toLowerCase"
                            | "toUpperCase"
                            | "ToLower"
                            | "ToUpper"
                            | "charAt"
                    );
                    let found = self.method(file, node, owners, name, &arguments);
                    if made { found.by(file, node) } else { found }
                }
                None => self.function(file, name, &arguments),
            },
        }
    }

    fn function(&mut self, file: &'a FileFacts, name: &str, arguments: &[At<'a>]) -> Vals<'a> {
        let Some(first) = arguments.first() else { return Vals::lost() };
        let whole = name == "int";
        match name {
            "int" | "float" | "Number" | "parseInt" | "parseFloat" | "tonumber" => {
                let lua = name == "tonumber";
                self.of(file, *first).map(|v| match &v.what {
                    What::Num(n) => Some(What::Num(if whole { n.trunc() } else { *n })),
                    What::AnyText => None,
                    What::Text(text) => Some(match pure::number(text, whole) {
                        Some(n) => What::Num(n),
                        None if lua => What::Nothing,
                        None => What::Num(f64::NAN),
                    }),
                    _ => None,
                })
            }
            "str" | "String" | "tostring" => {
                self.of(file, *first).map(|v| v.word().map(|w| What::Text(w.into())))
            }
            "input" | "prompt" => Vals::one(Val::new(What::AnyText, file, first.line())),
            "len" => self.of(file, *first).map(|v| length(v).map(What::Num)),
            "list" | "tuple" | "sorted" | "set" | "iter" | "reversed" | "await" => {
                self.of(file, *first)
            }
            "next" | "min" | "max" if arguments.len() == 1 => self.gone_through(file, *first, None),
            "round" | "abs" => self.of(file, *first),
            _ => Vals::lost(),
        }
    }

    fn method(
        &mut self,
        file: &'a FileFacts,
        node: At<'a>,
        owners: Vals<'a>,
        name: &str,
        arguments: &[At<'a>],
    ) -> Vals<'a> {
        let numbers: Vec<Option<i64>> = arguments
            .iter()
            .map(|a| self.of(file, *a).list.first().and_then(Val::number).map(|n| n as i64))
            .collect();
        let first = arguments.first().copied();
        match name {
            // What changes a list in its place gives nothing.
            "append" | "extend" | "insert" | "sort" | "reverse" | "clear" | "remove" | "update"
                if file.language.declares_by_assigning
                    && owners.list.iter().any(|v| matches!(v.what, What::Table(_))) =>
            {
                Vals::one(Val::new(What::Nothing, file, node.line()))
            }
            "strip" | "trim" | "Trim" | "rstrip" | "lstrip" | "TrimEnd" => {
                owners.map(|v| match &v.what {
                    What::Text(text) => Some(What::Text(text.trim().into())),
                    What::Nothing => None,
                    other => Some(other.clone()),
                })
            }
            "lower" | "toLowerCase" | "ToLower" => owners.map(|v| match &v.what {
                What::Text(text) => Some(What::Text(text.to_lowercase().into())),
                _ => None,
            }),
            "upper" | "toUpperCase" | "ToUpper" => owners.map(|v| match &v.what {
                What::Text(text) => Some(What::Text(text.to_uppercase().into())),
                _ => None,
            }),
            "split" | "Split" => {
                let sign = first.map(|f| self.of(file, f));
                let sign = sign.and_then(|s| s.list.first().and_then(Val::word));
                if first.is_some() && sign.is_none() {
                    return Vals::lost();
                }
                owners.map(|v| match &v.what {
                    What::Text(text) => {
                        let parts = pure::split(text, sign.as_deref());
                        // Where the sign stands nowhere in it, the call made nothing of it.
                        let by = match &sign {
                            Some(sign) if sign.is_empty() || !text.contains(sign.as_str()) => {
                                Some((file, node))
                            }
                            _ => v.by,
                        };
                        let part = |p: &String| Val { by, ..v.made(What::Text(p.as_str().into())) };
                        let items: Vec<Val<'a>> = parts.iter().map(part).collect();
                        Some(What::Items(items.into()))
                    }
                    What::Lines(data) => {
                        let lines = data.text.lines().enumerate();
                        let items: Vec<Val<'a>> =
                            lines.map(|(n, l)| Val::text(l, data, n as u32 + 1)).collect();
                        Some(What::Items(items.into()))
                    }
                    _ => None,
                })
            }
            "slice" | "substring" | "substr" | "Substring" | "sub" => {
                owners.map(|v| match &v.what {
                    What::Text(text) => {
                        let from = numbers.first().copied().flatten()?;
                        let to = match numbers.get(1) {
                            Some(to) => Some((*to)?),
                            None => None,
                        };
                        let (from, to) = match name {
                            "sub" => (from - i64::from(from > 0), to),
                            "Substring" | "substr" => (from, to.map(|len| from + len)),
                            _ => (from, to),
                        };
                        Some(What::Text(pure::slice(text, Some(from), to).into()))
                    }
                    _ => None,
                })
            }
            "at" if first.is_some_and(is_count) => {
                let call = node.child(0).and_then(|c| c.child(0)).filter(|c| is_searching(*c));
                let mut found = match call.and_then(|c| c.child(0)?.child(0)) {
                    Some(searched) => self.first_found(file, searched, node.line()),
                    None => owners.each(|v| self.elements(&v, file)),
                };
                found.lost = true;
                found
            }
            "get" | "Get" | "getOrDefault" | "at" | "getItem" | "getString" | "getInt"
            | "getAttribute" | "getProperty" | "GetAttribute" | "Attribute" | "charAt" => {
                let Some(key) = first else { return Vals::lost() };
                let keys = self.of(file, key);
                let mut found = self.looked_up(owners, &keys, (file, node));
                if let Some(other) = arguments.get(1) {
                    // What is taken instead stands where the entry is missing.
                    let other = self.of(file, *other);
                    let instead = other.list.first().map(|v| v.what.clone());
                    match instead.filter(|_| other.list.len() == 1) {
                        Some(what) => {
                            found
                                .list
                                .iter_mut()
                                .filter(|v| v.missed.is_some())
                                .for_each(|v| v.what = what.clone());
                        }
                        None => {
                            found.list.retain(|v| v.missed.is_none());
                            found.join(other);
                        }
                    }
                }
                found
            }
            "match" | "nextLine" | "readLine" | "ReadLine" | "readline" | "gsub" | "format"
            | "join" | "toFixed" | "padStart" | "concat"
                if name != "concat" || arguments.len() == 2 =>
            {
                let text = Val::new(What::AnyText, file, node.line());
                Vals { list: vec![text], lost: false }
            }
            "find" | "findall" | "iter" | "getElementsByTagName" | "Element" | "Elements"
                if owners.list.iter().any(|v| matches!(v.what, What::Doc(_)))
                    && first.is_none_or(|f| !f.is(Kind::Func)) =>
            {
                let keys = first.map(|f| self.of(file, f)).unwrap_or_default();
                let word = keys.list.first().and_then(Val::word).unwrap_or_default();
                let key = Val::text(&word, file, node.line());
                owners.each(|v| match &v.what {
                    What::Doc(doc) => {
                        let found = doc.named(&word);
                        if found.list.is_empty() && !keys.lost {
                            let nothing = self.missed(&v, &key, doc.keys(), (file, node));
                            return Vals::one(Val { file: doc.file, line: doc.line(), ..nothing });
                        }
                        found
                    }
                    _ => Vals::lost(),
                })
            }
            "values" | "Values" => {
                // `Object.values(x)` as `x.values()`.
                let of = match first.filter(|_| name == "values") {
                    Some(first) => self.of(file, first),
                    None => owners,
                };
                of.each(|v| match &v.what {
                    What::Doc(doc) => {
                        let mut list = doc.values();
                        let items = Val::new(
                            What::Items(std::mem::take(&mut list.list).into()),
                            doc.file,
                            doc.line(),
                        );
                        Vals::one(items)
                    }
                    _ => {
                        let found = self.elements(&v, file);
                        let lost = found.lost;
                        Vals { list: vec![v.made(What::Items(found.list.into()))], lost }
                    }
                })
            }
            "keys" | "keySet" | "Keys" => {
                let of = match first {
                    Some(first) => self.of(file, first),
                    None => owners,
                };
                of.each(|v| {
                    let found = self.keys_of(&v);
                    let lost = found.lost;
                    Vals { list: vec![v.made(What::Items(found.list.into()))], lost }
                })
            }
            "pop" | "shift" | "peek" | "poll" | "next" | "first" | "First" | "Dequeue"
            | "removeFirst" | "find" | "popleft" | "getFirst" | "FirstOrDefault" | "Pop" => {
                let mut found = owners.each(|v| self.elements(&v, file));
                found.lost |= found.list.is_empty();
                if matches!(name, "find" | "FirstOrDefault")
                    && first.is_some_and(|f| f.is(Kind::Func))
                {
                    let nothing = Val::new(What::Nothing, file, node.line());
                    found.push(Val { first: true, ..nothing });
                }
                found
            }
            "map" | "Select" | "flatMap" => {
                let given = match first {
                    Some(f) if f.is(Kind::Func) => self.returned(file, f, None),
                    Some(f) => self.of(file, f).each(|v| match v.what {
                        What::Func(f) => {
                            let home = self.home_of(f).unwrap_or(file);
                            self.returned(home, f, None)
                        }
                        _ => Vals::lost(),
                    }),
                    None => Vals::lost(),
                };
                let lost = given.lost;
                Vals {
                    list: vec![Val::new(What::Items(given.list.into()), file, node.line())],
                    lost,
                }
            }
            "filter" | "sort" | "reverse" | "ToList" | "Where" | "stream" | "iterator"
            | "toList" | "ToArray" | "copy" | "concat" | "OrderBy" | "sorted" | "collect"
            | "list" | "keys_list" => owners,
            "toString" | "ToString" | "valueOf" => {
                owners.map(|v| v.word().map(|w| What::Text(w.into())))
            }
            "parseInt" | "Parse" | "ToInt32" | "parseDouble" | "parseFloat" | "ToDouble" => {
                let Some(first) = first else { return Vals::lost() };
                self.of(file, first).map(|v| match &v.what {
                    What::Num(n) => Some(What::Num(*n)),
                    What::Text(t) => Some(What::Num(pure::number(t, false).unwrap_or(f64::NAN))),
                    _ => None,
                })
            }
            "floor" | "ceil" | "round" | "abs" | "Floor" | "Abs" | "trunc" => match first {
                Some(first) => self.of(file, first).map(|v| {
                    let n = v.number()?;
                    Some(What::Num(match name {
                        "floor" | "Floor" => n.floor(),
                        "ceil" => n.ceil(),
                        "round" => n.round(),
                        "trunc" => n.trunc(),
                        _ => n.abs(),
                    }))
                }),
                None => Vals::lost(),
            },
            "min" | "max" | "Min" | "Max" if arguments.len() == 2 => {
                let mut both = self.of(file, arguments[0]);
                both.join(self.of(file, arguments[1]));
                both
            }
            _ => Vals::lost(),
        }
    }
}

//! What is kept in lists, tables and objects: what is written there, and what is put in later.

use super::eval::Eval;
use super::names::{is_property, object_of};
use super::val::{Val, Vals, What};
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::HandsOut;

/// Something that is put into a container.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Put<'a> {
    pub(crate) file: &'a FileFacts,
    /// The call or assignment.
    pub(crate) at: At<'a>,
    /// Under which key, where one is written.
    pub(crate) key: Option<At<'a>>,
    /// Under which name, where the key is a field.
    pub(crate) named: Option<&'a str>,
    pub(crate) value: Option<At<'a>>,
}

/// Names of one container that are looked at.
const NAMES: usize = 8;

/// Calls that put their last argument into what they are asked of.
const FILLS: &[&str] = &[
    "push",
    "append",
    "add",
    "insert",
    "put",
    "set",
    "Add",
    "unshift",
    "addLast",
    "addFirst",
    "offer",
    "enqueue",
    "Enqueue",
    "Push",
    "setdefault",
    "appendleft",
    "Insert",
    "putIfAbsent",
    "extend",
    "update",
    "addAll",
    "AddRange",
    "TryAdd",
];

/// Calls that only look at what they are asked of, or take something out.
const LOOKS: &[&str] = &[
    "get",
    "has",
    "find",
    "map",
    "forEach",
    "filter",
    "join",
    "indexOf",
    "includes",
    "length",
    "size",
    "keys",
    "values",
    "items",
    "entries",
    "pop",
    "shift",
    "slice",
    "concat",
    "some",
    "every",
    "remove",
    "delete",
    "contains",
    "containsKey",
    "ContainsKey",
    "TryGetValue",
    "Remove",
    "iterator",
    "stream",
    "keySet",
    "entrySet",
    "isEmpty",
    "index",
    "count",
    "sort",
    "reverse",
    "clear",
    "Contains",
    "Count",
    "getOrDefault",
    "at",
    "first",
    "last",
    "splice",
    "reduce",
];

impl<'a> Eval<'a, '_> {
    /// What stands under one key.
    pub(crate) fn at_key(
        &mut self,
        owner: &Val<'a>,
        key: &Val<'a>,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        let Some(word) = key.word() else { return self.at_whole(owner, key, site) };
        match &owner.what {
            // A function has what was put into it.
            What::Func(one) | What::Class(one)
                if site.1.parent().is_some_and(|p| p.is(Kind::Import))
                    && owner.file.path != site.0.path
                    && owner.file.language.hands_out == Some(HandsOut::Exports)
                    && !self.query.named(&word).any(|(_, n)| {
                        n.is(Kind::Field)
                            && n.defines().is_some()
                            && n.child(0).and_then(At::text) == one.text()
                    }) =>
            {
                Vals::one(self.missed(owner, key, Vec::new(), site))
            }
            What::Nothing
            | What::Bool(_)
            | What::Num(_)
            | What::Func(_)
            | What::AnyText
            | What::Element(_)
            | What::Lines(_) => Vals::lost(),
            What::Text(text) => match key.number() {
                Some(n) if n >= 0.0 => match text.chars().nth(n as usize) {
                    Some(c) => Vals::one(owner.made(What::Text(c.to_string().into()))),
                    None => Vals::one(self.missed(owner, key, Vec::new(), site)),
                },
                _ => Vals::lost(),
            },
            What::Items(items) => {
                let Some(n) = key.number() else { return Vals::lost() };
                let n = if n < 0.0 {
                    n + items.len() as f64
                } else {
                    n - owner.file.language.first_index as f64
                };
                match items.get(n as usize).filter(|_| n >= 0.0) {
                    Some(item) => Vals::one(item.clone()),
                    // A number that is worked out elsewhere may be the one; else it was written
                    // where the whole was.
                    None if key.line != site.1.line() || key.file.path != site.0.path => {
                        Vals::one(self.missed(owner, key, Vec::new(), site))
                    }
                    None => Vals::one(Val {
                        missed: self.missed(owner, key, Vec::new(), site).missed,
                        ..owner.made(What::Nothing)
                    }),
                }
            }
            What::Doc(doc) => {
                if let (Some(_), true) = (key.number(), doc.keys().is_empty()) {
                    return doc.elements();
                }
                // What every list can do stands in none of them.
                if site.1.is_callee() && super::is_of_lists(&word) && doc.at(&word).list.is_empty()
                {
                    return Vals::lost();
                }
                let mut found = doc.at(&word);
                for lacking in doc.lacking(&word) {
                    let missed = self.missed(owner, key, doc.keys(), site).missed;
                    found.push(Val { missed, ..lacking });
                }
                if found.list.is_empty() {
                    let nothing = self.missed(owner, key, doc.keys(), site);
                    found.push(Val { file: doc.file, line: doc.line(), ..nothing });
                }
                found
            }
            What::Module(home) => match self.handed_out(home, &word) {
                Some(found) => found,
                None => Vals::one(self.missed(owner, key, Vec::new(), site)),
            },
            What::Class(class) => {
                let home = self.home_of(*class).unwrap_or(owner.file);
                let fixed = home
                    .tree
                    .named(&word)
                    .find(|n| n.is(Kind::Func) && n.class() == Some(*class) && n.has(Flag::Static));
                match fixed {
                    Some(f) => Vals::one(Val::new(What::Func(f), home, f.line())),
                    None => self.of_type(owner, *class, None, key, &word, site),
                }
            }
            What::Object(class, own) => self.of_type(owner, *class, *own, key, &word, site),
            What::Table(table) => match self.filled_from_file(owner.file, *table) {
                Some(docs) => docs.each(|doc| self.at_key(&doc, key, site)),
                None => self.of_table(owner, *table, key, &word, site),
            },
        }
    }

    /// What stands under a whole object, list or record: nothing, where all keys are words.
    fn at_whole(
        &mut self,
        owner: &Val<'a>,
        key: &Val<'a>,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        let (What::Object(..) | What::Table(_) | What::Doc(_), What::Table(table)) =
            (&key.what, &owner.what)
        else {
            return Vals::lost();
        };
        let mut keys = self.keys_of(owner);
        keys.list.extend(
            table
                .children()
                .filter(|c| c.is(Kind::Func))
                .filter_map(|f| Some(Val::text(f.text()?, owner.file, f.line()))),
        );
        if keys.list.is_empty() || !keys.list.iter().all(|k| k.word().is_some()) {
            return Vals::lost();
        }
        Vals::one(self.missed(owner, key, keys.list, site))
    }

    /// What a container of the language was filled with from a file, where a call does that.
    fn filled_from_file(&mut self, file: &'a FileFacts, made: At<'a>) -> Option<Vals<'a>> {
        if !made.is(Kind::New) || made.arguments().next().is_some() {
            return None;
        }
        let names = kept_under(made)?;
        let scope = self.query.scope.clone();
        for text in names.into_iter().filter_map(At::text) {
            for f in scope.iter().copied().filter(|f| f.language == file.language) {
                let calls = f.tree.named(text).filter_map(|n| {
                    let field = n.parent().filter(|p| {
                        p.is(Kind::Field)
                            && p.child(0) == Some(n)
                            && matches!(p.text(), Some("load" | "read" | "Load"))
                    })?;
                    let call = field.parent().filter(|p| p.child(0) == Some(field))?;
                    call.arguments().next()
                });
                for argument in calls.collect::<Vec<_>>() {
                    let found = self.outside(|eval| eval.opened_file(f, argument));
                    if found.is_some() {
                        return found;
                    }
                }
            }
        }
        None
    }

    fn of_type(
        &mut self,
        owner: &Val<'a>,
        class: At<'a>,
        own: Option<At<'a>>,
        key: &Val<'a>,
        word: &str,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        let home = self.home_of(class).unwrap_or(owner.file);
        if class.is(Kind::Class) {
            return match self.member_of(home, class, word, 0) {
                Some(mut found) => {
                    // What is worked out when it is asked for, as properties are.
                    let getter =
                        |v: &Val<'a>| matches!(v.what, What::Func(f) if is_property(home, f));
                    if found.list.iter().any(getter) {
                        found = found.each(|v| match v.what {
                            What::Func(f) if is_property(home, f) => self.returned(home, f, None),
                            _ => Vals::one(v),
                        });
                    }
                    found
                }
                None => {
                    let offered = self.members_of(home, class, 0);
                    Vals::one(self.missed(owner, key, offered, site))
                }
            };
        }
        if class.is(Kind::Func) {
            return self.of_maker(home, class, word);
        }
        // A table that serves as the type, and the one that the object began as.
        let as_table = Val::new(What::Table(class), home, class.line());
        let mut out = Vals::default();
        if let Some(own) = own {
            let file = self.home_of(own).unwrap_or(home);
            let own = Val::new(What::Table(own), file, own.line());
            let found = self.at_key(&own, key, site);
            out.lost |= found.lost;
            found.list.into_iter().filter(|v| v.missed.is_none()).for_each(|v| out.push(v));
        }
        let mut found = self.at_key(&as_table, key, site);
        if own.is_none() && found.list.iter().all(|v| v.missed.is_some()) {
            // Set on an object before it was given back, in the script of its type.
            let makers: Vec<(&'a FileFacts, At<'a>)> = home
                .tree
                .named(word)
                .filter(|n| n.is(Kind::Field) && n.defines() == Some(How::Assigned))
                .map(|n| (home, n))
                .collect();
            if !makers.is_empty() {
                found = self.outside(|eval| eval.made_by(&makers));
            }
        }
        if out.list.is_empty() || found.list.iter().any(|v| v.missed.is_none()) {
            out.lost |= found.lost;
            let any = !out.list.is_empty();
            found.list.into_iter().filter(|v| !any || v.missed.is_none()).for_each(|v| out.push(v));
        }
        out
    }

    /// A member of an object that a function made: set on `this` there, in a method, or put into its
    /// prototype.
    fn of_maker(&mut self, home: &'a FileFacts, maker: At<'a>, word: &str) -> Vals<'a> {
        let by_name = |n: At<'a>| {
            n.child(0).is_some_and(|o| {
                o.is_called("prototype") && o.child(0).and_then(At::text) == maker.text()
            })
        };
        let method_of = |n: At<'a>| {
            n.function().is_some_and(|f| {
                f == maker
                    || f.parent()
                        .and_then(At::parent)
                        .and_then(|a| a.part(Kind::Targets)?.child(0))
                        .is_some_and(by_name)
            })
        };
        let mut makers: Vec<(&'a FileFacts, At<'a>)> = Vec::new();
        for f in &self.query.scope {
            makers.extend(
                f.tree
                    .named(word)
                    .filter(|n| n.is(Kind::Field) && n.defines() == Some(How::Assigned))
                    .filter(|n| {
                        let itself = n.child(0).is_some_and(|o| o.is_called("this"));
                        by_name(*n)
                            || itself && f.path == home.path && method_of(*n)
                            || !itself && !n.child(0).is_some_and(|o| o.is_called("prototype"))
                    })
                    .map(|n| (*f, n)),
            );
        }
        // What its base has is not looked for.
        if makers.is_empty() { Vals::lost() } else { self.outside(|eval| eval.made_by(&makers)) }
    }

    /// The file in which a node stands.
    pub(crate) fn home_of(&self, node: At<'a>) -> Option<&'a FileFacts> {
        self.query.scope.iter().find(|f| f.tree.at(node.id()) == Some(node)).copied()
    }

    fn of_table(
        &mut self,
        owner: &Val<'a>,
        table: At<'a>,
        key: &Val<'a>,
        word: &str,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        let file = owner.file;
        let mut out = Vals::default();
        let mut offered = Vec::new();
        // Written under its name.
        for pair in table.children().filter(|c| c.is(Kind::Pair)) {
            let name =
                pair.text().or_else(|| pair.child(0).filter(|_| pair.child(1).is_some())?.text());
            if let Some(name) = name {
                offered.push(Val::text(name, file, pair.line()));
                if name == word
                    && let Some(value) = pair.children().last()
                {
                    let found = self.outside(|eval| eval.of(file, value));
                    out.join(super::names::kept_here(found, file, value));
                }
            }
        }
        // Functions that are written into it.
        for function in table.children().filter(|c| c.is(Kind::Func)) {
            if let Some(name) = function.text() {
                offered.push(Val::text(name, file, function.line()));
                if name == word {
                    out.push(Val::new(What::Func(function), file, function.line()));
                }
            }
        }
        // By number.
        let positional: Vec<At<'a>> = table
            .children()
            .filter(|c| table.is(Kind::Table) && !c.is(Kind::Pair) && !c.is(Kind::Func))
            .take_while(|c| !is_spread(file, *c))
            .collect();
        let mut unknown = false;
        // What others hold is put in as well.
        for inner in spread_in(file, table) {
            let owners = self.outside(|eval| eval.of(file, inner));
            unknown |= owners.lost || owners.list.is_empty();
            for owner in owners.list {
                let found = self.at_key(&owner, key, site);
                unknown |= found.lost;
                found.list.into_iter().filter(|v| v.missed.is_none()).for_each(|v| out.push(v));
                offered.extend(self.keys_of(&owner).list);
            }
        }
        if let Some(n) = key.number() {
            let at = if n < 0.0 {
                n + positional.len() as f64
            } else {
                n - file.language.first_index as f64
            };
            if let Some(entry) = positional.get(at as usize).filter(|_| at >= 0.0) {
                out.join(self.outside(|eval| eval.of(file, *entry)));
            }
        }
        // Pairs of a container that is made from a list of them.
        for pair in table
            .children()
            .flat_map(At::children)
            .filter(|c| c.is(Kind::Table) && !table.is(Kind::Table))
        {
            if let (Some(name), Some(value)) = (pair.child(0).and_then(At::text), pair.child(1)) {
                offered.push(Val::text(name, file, pair.line()));
                if name == word {
                    out.join(self.outside(|eval| eval.of(file, value)));
                }
            }
        }
        let (puts, escapes) = self.puts_beside(file, table, Some(word));
        // What is written out whole is seldom filled by others.
        let escapes = escapes && table.children().next().is_none();
        for put in puts {
            let keys = match (put.named, put.key) {
                (Some(name), _) => Vals::one(Val::text(name, put.file, put.at.line())),
                (None, Some(key)) => self.outside(|eval| eval.of(put.file, key)),
                (None, None) => Vals::lost(),
            };
            let fits = |v: &Val<'a>| v.word().as_deref() == Some(word);
            // What is put behind the last one begins to be counted with the first index.
            let counted = key.number().is_some_and(|n| n >= file.language.first_index as f64)
                && put.key.is_none()
                && put.named.is_none();
            // What is put behind the last one has no name.
            let behind = put.key.is_none() && put.named.is_none() && !counted;
            let meant = keys.list.iter().any(fits)
                || counted
                || !behind && keys.lost && keys.list.is_empty();
            unknown |= !behind && (keys.lost || keys.list.iter().any(|k| k.word().is_none()));
            // What it was written with stood there only first.
            if meant && put.value.is_some_and(|v| !v.is(Kind::Nil)) {
                let nothing = |v: &&mut Val<'a>| v.is_nothing() && v.missed.is_none();
                out.list.iter_mut().filter(nothing).for_each(|v| v.first = true);
            }
            if let Some(value) = put.value.filter(|_| meant) {
                let found = self.outside(|eval| eval.of(put.file, value));
                out.join(super::names::kept_here(found, put.file, value));
            }
            offered.extend(keys.list.into_iter().filter(|v| v.word().is_some()));
        }
        if out.list.is_empty() && !out.lost && !unknown && !escapes {
            out.push(self.missed(owner, key, offered, site));
        }
        out.lost |= out.list.is_empty() || escapes && out.list.is_empty();
        out
    }

    /// What may be taken out of it one by one.
    pub(crate) fn elements(&mut self, owner: &Val<'a>, by: &'a FileFacts) -> Vals<'a> {
        match &owner.what {
            What::Items(items) => Vals { list: items.to_vec(), lost: false },
            What::Doc(doc) => doc.elements(),
            What::Lines(file) => {
                // What a program passes over as a comment is no value.
                let passed = |l: &str| {
                    ["#", "//", ";", "--"].iter().any(|sign| {
                        l.starts_with(sign) && by.tree.named(sign).any(|n| n.is(Kind::Str))
                    })
                };
                let lines = file.text.lines().enumerate();
                // So it is with an empty line, where something tells it from the others.
                let told = ["strip", "rim", "IsNullOr", "isBlank", "isEmpty", "continue", "%S"]
                    .iter()
                    .any(|sign| by.text.contains(sign));
                let blank = |l: &str| l.trim().is_empty() && told;
                let lines = lines.filter(|(_, l)| !blank(l) && !passed(l));
                let mut out = Vals::default();
                lines.for_each(|(n, line)| out.push(Val::text(line, file, n as u32 + 1)));
                out
            }
            What::Text(text) if text.chars().count() < 80 => {
                let mut out = Vals::default();
                text.chars().for_each(|c| out.push(owner.made(What::Text(c.to_string().into()))));
                out
            }
            What::Table(table) => {
                let mut out = Vals::default();
                for entry in table.children().filter(|_| table.is(Kind::Table)) {
                    let value =
                        if entry.is(Kind::Pair) { entry.children().last() } else { Some(entry) };
                    let Some(value) = value else { continue };
                    let found = self.outside(|eval| eval.of(owner.file, value));
                    out.join(match is_spread(owner.file, entry) {
                        true => found.each(|v| self.elements(&v, by)),
                        false => found,
                    });
                }
                let (puts, escapes) = self.puts(owner.file, *table);
                for put in puts {
                    if let Some(value) = put.value {
                        out.join(self.outside(|eval| eval.of(put.file, value)));
                    }
                }
                out.lost |= escapes;
                out
            }
            _ => Vals::lost(),
        }
    }

    /// The keys of it.
    pub(super) fn keys_of(&mut self, owner: &Val<'a>) -> Vals<'a> {
        match &owner.what {
            What::Doc(doc) => Vals { list: doc.keys(), lost: false },
            What::Table(table) => {
                let mut out = Vals::default();
                for pair in table.children().filter(|c| c.is(Kind::Pair)) {
                    if let Some(name) = pair.text() {
                        out.push(Val::text(name, owner.file, pair.line()));
                    }
                }
                for inner in spread_in(owner.file, *table) {
                    let owners = self.outside(|eval| eval.of(owner.file, inner));
                    out.join(owners.each(|v| self.keys_of(&v)));
                }
                let (puts, escapes) = self.puts(owner.file, *table);
                for put in puts {
                    match (put.named, put.key) {
                        (Some(name), _) => out.push(Val::text(name, put.file, put.at.line())),
                        (None, Some(key)) => out.join(self.outside(|eval| eval.of(put.file, key))),
                        (None, None) => {}
                    }
                }
                out.lost |= escapes || out.list.is_empty();
                out
            }
            _ => Vals::lost(),
        }
    }

    /// Everything that is put into a container after it was made, and whether somebody else may put
    /// something in.
    pub(crate) fn puts(&self, file: &'a FileFacts, made: At<'a>) -> (Vec<Put<'a>>, bool) {
        self.puts_beside(file, made, None)
    }

    /// As [`Eval::puts`], where calling what is asked for itself puts nothing in.
    fn puts_beside(
        &self,
        file: &'a FileFacts,
        made: At<'a>,
        asked: Option<&str>,
    ) -> (Vec<Put<'a>>, bool) {
        let Some(names) = kept_under(made) else { return (Vec::new(), true) };
        let mut names: Vec<(&'a FileFacts, At<'a>)> =
            names.into_iter().map(|n| (file, n)).collect();
        let mut found = Kept::default();
        let mut next = 0;
        // It may be known under further names, each of which leads to others.
        while let Some((home, name)) = names.get(next).copied().filter(|_| next < NAMES) {
            next += 1;
            let Some(text) = name.text() else { continue };
            let by_field = !matches!(name.kind(), Kind::Name | Kind::Param);
            let bare = by_field || is_member(home, name);
            for f in self.query.scope.iter().filter(|f| f.language.is_code()) {
                for n in f.tree.named(text) {
                    let same = match n.kind() {
                        Kind::Field => bare || f.path != home.path && n.function().is_none(),
                        Kind::Name => f.path == home.path && (n == name || self.reads(f, n, name)),
                        _ => false,
                    };
                    let own = asked.is_some() && n.parent().and_then(At::text) == asked;
                    if same && !(own && n.parent().is_some_and(At::is_callee)) {
                        put_by(f, n, &mut found);
                    }
                }
            }
            // Its own functions know it by another name.
            for n in
                file.tree.all().filter(|n| next == 1 && n.is(Kind::Name) && n.is_called("this"))
            {
                let function = n.ancestors().find(|a| {
                    a.is(Kind::Class) || a.is(Kind::Func) && object_of(file, *a).is_some()
                });
                if function.and_then(|f| object_of(file, f)) == Some(made) {
                    put_by(file, n, &mut found);
                }
            }
            for (home, node) in std::mem::take(&mut found.on) {
                for further in self.further_names(home, node) {
                    if !names.iter().any(|(_, known)| *known == further.1) {
                        names.push(further);
                    }
                }
            }
        }
        found.puts.dedup_by(|a, b| a.at == b.at);
        (found.puts, found.escapes || next >= NAMES)
    }

    /// The names under which it is known from where it is handed on.
    fn further_names(&self, file: &'a FileFacts, node: At<'a>) -> Vec<(&'a FileFacts, At<'a>)> {
        let Some(parent) = node.parent() else { return Vec::new() };
        let target = |value: At<'a>| {
            let values = value.parent().filter(|p| p.is(Kind::Values))?;
            let nth = values.children().position(|v| v == value)?;
            let target = values.parent()?.part(Kind::Targets)?.child(nth)?;
            matches!(target.kind(), Kind::Name | Kind::Field).then_some(target)
        };
        match parent.kind() {
            Kind::Values => target(node).map(|t| (file, t)).into_iter().collect(),
            Kind::Return => {
                let Some(function) = node.function() else { return Vec::new() };
                let calls = self.calls_of(function);
                calls.into_iter().filter_map(|(f, call)| Some((f, target(call)?))).collect()
            }
            Kind::Call | Kind::New => {
                let Some(name) = parent.last_name() else { return Vec::new() };
                let nth = parent.arguments().position(|a| a == node).unwrap_or(0);
                let functions = self.query.scope.iter().flat_map(|f| {
                    f.tree.named(name).filter(|n| n.is(Kind::Func)).map(move |n| (*f, n))
                });
                functions
                    .filter_map(|(f, function)| {
                        let hidden = function.params().next().is_some_and(|p| p.is_called("self"));
                        let at = nth + usize::from(hidden);
                        let param = function.params().nth(at)?;
                        Some((f, param))
                    })
                    .take(3)
                    .collect()
            }
            _ => Vec::new(),
        }
    }

    /// Whether a name that is read is the one that was made there.
    fn reads(&self, file: &'a FileFacts, node: At<'a>, made: At<'a>) -> bool {
        let Some(text) = node.text() else { return false };
        let found = crate::suspect::flow::bindings(file, node, text);
        found.contains(&made) || found.is_empty()
    }
}

/// Whether an entry of a table stands for all that it holds: `...rest`, `*rest`.
fn is_spread(file: &FileFacts, entry: At<'_>) -> bool {
    let before = file.text.get(..entry.span().0).unwrap_or_default();
    before.ends_with("...") || before.ends_with('*') && file.language.declares_by_assigning
}

/// What is put into a table whole where it is written.
fn spread_in<'a>(file: &'a FileFacts, table: At<'a>) -> impl Iterator<Item = At<'a>> {
    let written = table.children().filter(move |_| table.is(Kind::Table));
    written.filter(move |c| is_spread(file, *c))
}

/// The names under which a table is kept where it is written: a variable, a field, a key.
pub(super) fn kept_under(made: At<'_>) -> Option<Vec<At<'_>>> {
    let mut at = made;
    // Of `x or {}` and `setmetatable({}, T)` it is the whole.
    while let Some(up) = at.parent() {
        match up.kind() {
            Kind::Bin if matches!(up.text(), Some("or" | "||" | "??")) => at = up,
            Kind::Call
                if up.last_name() == Some("setmetatable") && up.arguments().next() == Some(at) =>
            {
                at = up;
            }
            _ => break,
        }
    }
    let parent = at.parent()?;
    match parent.kind() {
        Kind::Values => {
            let nth = parent.children().position(|v| v == at)?;
            let target = parent.parent()?.part(Kind::Targets)?.child(nth)?;
            match target.kind() {
                Kind::Name | Kind::Field => Some(vec![target]),
                // An entry of another one.
                _ => Some(Vec::new()),
            }
        }
        Kind::Pair if parent.text().is_some() => Some(vec![parent]),
        Kind::Table | Kind::Pair | Kind::Call | Kind::Return | Kind::New | Kind::ForIn => {
            Some(Vec::new())
        }
        _ => None,
    }
}

/// Whether a name is that of a field, though it is written alone.
fn is_member(file: &FileFacts, name: At<'_>) -> bool {
    let here = name.function().is_none() && name.class().is_some();
    here || file.language.fields_are_bare
        && name.text().is_some_and(|text| {
            let made = crate::suspect::flow::bindings(file, name, text);
            made.iter().any(|b| b.function().is_none() && b.class().is_some())
                || made.contains(&name)
                    && name
                        .parent()
                        .and_then(At::parent)
                        .is_some_and(|a| a.part(Kind::Type).is_none() && !a.has(Flag::Local))
                    && file.tree.named(text).any(|n| {
                        n.function().is_none() && n.class().is_some() && n.defines().is_some()
                    })
        })
}

/// What was seen of a container so far.
#[derive(Default)]
struct Kept<'a> {
    puts: Vec<Put<'a>>,
    /// Whether a call whose work is not known may fill it.
    escapes: bool,
    /// Where it is handed on.
    on: Vec<(&'a FileFacts, At<'a>)>,
}

/// Notes what is put into a container where its name stands, and where it is handed on.
fn put_by<'a>(file: &'a FileFacts, name: At<'a>, found: &mut Kept<'a>) {
    let Some(parent) = name.parent() else { return };
    let put = |at, key, named, value| Put { file, at, key, named, value };
    match parent.kind() {
        Kind::Field if parent.child(0) == Some(name) => {
            let call = parent.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(parent));
            let Some(call) = call else {
                if parent.defines() == Some(How::Assigned) {
                    found.puts.push(put(parent, None, parent.text(), parent.assigned_value()));
                }
                return;
            };
            if parent.text().is_some_and(|t| FILLS.contains(&t)) {
                let arguments: Vec<At<'a>> = call.arguments().collect();
                let (key, value) = match arguments.as_slice() {
                    [value] => (None, Some(*value)),
                    [key, value] => (Some(*key), Some(*value)),
                    _ => (None, None),
                };
                found.puts.push(put(call, key, None, value));
            } else {
                found.escapes |= !parent.text().is_some_and(|t| LOOKS.contains(&t));
            }
        }
        Kind::Index if parent.child(0) == Some(name) => {
            let Some(targets) = parent.parent().filter(|p| p.is(Kind::Targets)) else { return };
            let nth = targets.children().position(|t| t == parent).unwrap_or(0);
            let value = targets.parent().and_then(|a| a.part(Kind::Values)?.child(nth));
            // Put behind the last one it has no key.
            let behind = |k: &At<'a>| k.whole().any(|n| n.is(Kind::Un) && n.is_called("#"));
            let key = parent.child(1).filter(|k| !behind(k));
            found.puts.push(put(parent, key, None, value));
        }
        // A function that belongs to it: `function T.f`.
        Kind::Owner => {
            if let Some(function) = parent.parent() {
                found.puts.push(put(function, None, function.text(), Some(function)));
            }
        }
        Kind::Call if parent.child(0) != Some(name) => {
            if parent.last_name() == Some("insert") && parent.arguments().next() == Some(name) {
                let value = parent.arguments().last().filter(|v| *v != name);
                found.puts.push(put(parent, None, None, value));
            } else {
                found.on.push((file, name));
            }
        }
        Kind::New | Kind::Values | Kind::Return => found.on.push((file, name)),
        _ => {}
    }
}

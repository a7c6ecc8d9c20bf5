//! Names: variables, parameters, what scripts hand out, members of types.

use super::eval::Eval;
use super::val::Doc;
use super::val::{Val, Vals, What};
use crate::suspect::brought::{names_file, shares_names};
use crate::suspect::flow::bindings;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::HandsOut;

impl<'a> Eval<'a, '_> {
    pub(super) fn name(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let Some(name) = node.text() else { return Vals::lost() };
        if matches!(name, "self" | "this") {
            return self.itself(file, node);
        }
        let mut makers: Vec<(&'a FileFacts, At<'a>)> =
            bindings(file, node, name).into_iter().map(|n| (file, n)).collect();
        if makers.is_empty() {
            if let Some(class) = node.class().filter(|_| file.language.fields_are_bare) {
                return self.member_of(file, class, name, 0).unwrap_or_else(Vals::lost);
            }
            // A variable of everybody, made in another script; those of one page know each other's.
            let of_page = |f: &FileFacts| shares_names(self.query.index, f);
            let shared = file.language.hands_out == Some(HandsOut::Exports)
                && self.query.symbols.is_made(name)
                && of_page(file);
            let scripts = self.query.scope.iter().filter(|f| f.path != file.path);
            let scripts = scripts.filter(|f| !shared || of_page(f));
            makers = scripts
                .flat_map(|f| f.tree.named(name).map(move |n| (*f, n)))
                .filter(|(f, n)| {
                    let global = n.function().is_none() && n.class().is_none();
                    n.defines().is_some_and(|h| h != How::Parameter && h != How::Key)
                        && !n.is(Kind::Field)
                        && global
                        && (shared
                            || !(f.language.hands_out.is_some()
                                && n.parent()
                                    .and_then(At::parent)
                                    .is_some_and(|p| p.has(Flag::Local)))
                                && file.language.hands_out != Some(HandsOut::Exports))
                })
                .collect();
        }
        // Where nothing has to be declared, what nobody makes is nothing.
        if makers.is_empty()
            && file.language.hands_out == Some(HandsOut::Globals)
            && !file.language.declares_by_assigning
            && !crate::suspect::is_outside_name(self.query.index, Some(file.language), name)
            && self.query.named(name).all(|(_, n)| n.defines().is_none() || n.is(Kind::Pair))
        {
            return Vals::one(Val::new(What::Nothing, file, node.line()));
        }
        // A bare field of the type that the name stands in.
        let member =
            |n: &At<'a>| n.function().is_none() && n.class().is_some() && !n.is(Kind::Class);
        if file.language.fields_are_bare
            && makers.iter().any(|(_, n)| member(n) && !n.is(Kind::Func))
            && let Some(class) = makers[0].1.class()
        {
            return self.member_of(file, class, name, 0).unwrap_or_else(Vals::lost);
        }
        let found = self.made_by(&makers);
        if found.list.is_empty() && found.lost {
            return self.read_into(file, name).unwrap_or(found);
        }
        found
    }

    /// What an object of a library reads by a call of its own: `setup.read("a.ini")`.
    fn read_into(&mut self, file: &'a FileFacts, name: &str) -> Option<Vals<'a>> {
        let calls = file.tree.named(name).filter_map(|n| {
            let field = n.parent().filter(|p| p.is(Kind::Field) && p.child(0) == Some(n))?;
            let call = field.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(field))?;
            field
                .text()?
                .to_lowercase()
                .contains("read")
                .then_some(call)
                .or_else(|| field.text()?.to_lowercase().contains("load").then_some(call))
        });
        let texts = calls.filter_map(|c| c.arguments().find(|a| a.is(Kind::Str))?.text());
        let data = texts.filter_map(|t| self.data_named(t)).next()?;
        Some(self.document(data))
    }

    /// The values of all these makers; what stood there first is marked where others come.
    pub(super) fn made_by(&mut self, makers: &[(&'a FileFacts, At<'a>)]) -> Vals<'a> {
        if makers.is_empty() {
            return Vals::lost();
        }
        let mut out = Vals::default();
        let values = makers.iter().filter(|(_, n)| n.defines() == Some(How::Assigned)).count();
        for (file, maker) in makers {
            let mut found = self.made(file, *maker);
            let nothing = |v: &Val<'a>| v.is_nothing() && v.missed.is_none();
            if values > 1
                && (maker.is_bare() || maker.assigned_value().is_some_and(|v| v.is(Kind::Nil)))
            {
                found.list.iter_mut().filter(|v| nothing(v)).for_each(|v| v.first = true);
            }
            out.join(found);
        }
        // Where nothing else comes, what is written so is what it is.
        let nothing = |v: &Val<'a>| v.is_nothing() && v.missed.is_none();
        let written = |v: &Val<'a>| {
            v.file.tree.on_line(v.line).any(|n| n.is(Kind::Nil) && n.function().is_some())
        };
        if out.list.len() > 1 && out.list.iter().all(nothing) && out.list.iter().any(written) {
            out.list.retain(written);
            out.list.iter_mut().for_each(|v| v.first = false);
        }
        out
    }

    /// The values that one maker of a name gives it.
    pub(super) fn made(&mut self, file: &'a FileFacts, maker: At<'a>) -> Vals<'a> {
        match maker.defines() {
            Some(How::Function) => Vals::one(Val::new(What::Func(maker), file, maker.line())),
            Some(How::Class) => Vals::one(Val::new(What::Class(maker), file, maker.line())),
            Some(How::Assigned) => self.assigned(file, maker),
            Some(How::Key) => match maker.children().last() {
                Some(value) => kept_here(self.of(file, value), file, value),
                None => Vals::lost(),
            },
            Some(How::Parameter) => self.parameter(file, maker),
            Some(How::Loop) => self.loop_value(file, maker),
            Some(How::Import) => self.brought_in(file, maker),
            None => Vals::lost(),
        }
    }

    fn assigned(&mut self, file: &'a FileFacts, maker: At<'a>) -> Vals<'a> {
        let Some(targets) = maker.parent() else { return Vals::lost() };
        let Some(assign) = targets.parent() else { return Vals::lost() };
        let values: Vec<At<'a>> =
            assign.part(Kind::Values).into_iter().flat_map(At::children).collect();
        let nth = targets.children().position(|t| t == maker).unwrap_or(0);
        let several = targets.children().count() > 1 || self.is_pattern(file, targets);
        match values.as_slice() {
            [] if maker.is_bare() => Vals::one(Val::new(What::Nothing, file, maker.line())),
            [one] if nth == 0 && is_state(file, *one) => self.begun_with(file, *one),
            [one] if several => {
                let name = maker.text().filter(|_| self.is_pattern(file, targets));
                let whole = self.of(file, *one);
                self.taken_apart(whole, nth, name, (file, *one))
            }
            _ => match values.get(nth) {
                Some(value) => {
                    let found = self.of(file, *value);
                    if maker.is(Kind::Field) {
                        let mut found = kept_here(found, file, *value);
                        found.list.iter_mut().for_each(|v| v.kept = Some((file, maker.line())));
                        found
                    } else {
                        // A function that is put into a variable without being called.
                        let mut found = found;
                        let by_name = matches!(value.kind(), Kind::Name | Kind::Field);
                        let functions =
                            found.list.iter_mut().filter(|v| matches!(v.what, What::Func(_)));
                        functions
                            .filter(|_| by_name)
                            .for_each(|v| v.handed = Some((file, value.line())));
                        found
                    }
                }
                // The last one may give several.
                None => match values.last() {
                    Some(last) if last.is(Kind::Call) => {
                        let whole = self.of(file, *last);
                        let at = nth + 1 - values.len();
                        self.taken_apart(whole, at, None, (file, *last))
                    }
                    _ => Vals::one(Val::new(What::Nothing, file, maker.line())),
                },
            },
        }
    }

    /// Whether names are taken out of a table by their keys: `{ a, b } = …`.
    fn is_pattern(&self, file: &FileFacts, targets: At<'a>) -> bool {
        let (Some(first), Some(last)) = (targets.children().next(), targets.children().last())
        else {
            return false;
        };
        let before = file.text.get(..first.span().0).unwrap_or_default().trim_end();
        let after = file.text.get(last.span().1..).unwrap_or_default().trim_start();
        before.ends_with('{')
            && after.trim_start_matches(',').trim_start().starts_with('}')
            && file.language.hands_out == Some(HandsOut::Exports)
    }

    /// One of several values that are taken apart at once.
    pub(super) fn taken_apart(
        &mut self,
        whole: Vals<'a>,
        nth: usize,
        name: Option<&'a str>,
        site: (&'a FileFacts, At<'a>),
    ) -> Vals<'a> {
        whole.each(|val| match (&val.what, name) {
            (_, Some(name)) => {
                let key = Val::text(name, site.0, site.1.line());
                self.at_key(&val, &key, site)
            }
            (What::Items(items), _) => match items.get(nth) {
                Some(item) => Vals::one(item.clone()),
                None => Vals::one(val.made(What::Nothing)),
            },
            (What::Table(table), _) => match table.child(nth).filter(|c| !c.is(Kind::Pair)) {
                Some(entry) => self.of(val.file, entry),
                None if table.children().any(|c| c.is(Kind::Pair)) => Vals::lost(),
                None => Vals::one(val.made(What::Nothing)),
            },
            // Captures of a pattern are texts each.
            (What::AnyText, _) => Vals::one(val),
            // A function that gives one value gives nothing beside it.
            _ => Vals::lost(),
        })
    }

    /// The object that a method belongs to.
    fn itself(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        if let Some(class) = node.class() {
            return Vals::one(Val::new(What::Object(class, None), file, class.line()));
        }
        // A function that makes objects, or one that was put into its prototype.
        for function in node.ancestors().filter(|n| n.is(Kind::Func)) {
            let target = function.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
            let target = target.and_then(|a| a.part(Kind::Targets)?.child(0));
            let of = target.and_then(|t| t.child(0)).filter(|o| o.is_called("prototype"));
            let maker = match of.and_then(|o| o.child(0)).and_then(At::text) {
                Some(name) => file.tree.named(name).find(|n| n.is(Kind::Func)),
                None => Some(function)
                    .filter(|f| f.text().is_some_and(|t| t.starts_with(char::is_uppercase))),
            };
            if let Some(maker) = maker {
                return Vals::one(Val::new(What::Object(maker, None), file, maker.line()));
            }
        }
        // A function that stands in an object belongs to it.
        let table = node.ancestors().filter(|n| n.is(Kind::Func)).find_map(|f| object_of(file, f));
        if let Some(table) = table {
            return Vals::one(Val::new(What::Table(table), file, table.line()));
        }
        // Some write the owner before the function's name.
        let owner = node.ancestors().filter(|n| n.is(Kind::Func)).find_map(|f| {
            f.part(Kind::Owner).and_then(|o| o.child(0)).or_else(|| {
                let target = f.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent)?;
                target.part(Kind::Targets)?.child(0).filter(|t| t.is(Kind::Field))?.child(0)
            })
        });
        let Some(owner) = owner else { return Vals::lost() };
        self.outside(|eval| eval.of(file, owner)).map(|v| match v.what {
            What::Table(table) => Some(What::Object(table, None)),
            _ => None,
        })
    }

    fn loop_value(&mut self, file: &'a FileFacts, maker: At<'a>) -> Vals<'a> {
        let Some(targets) = maker.parent() else { return Vals::lost() };
        let Some(around) = targets.parent() else { return Vals::lost() };
        if around.is(Kind::For) {
            return Vals::lost();
        }
        let through = around
            .children()
            .find(|c| !matches!(c.kind(), Kind::Targets | Kind::Block | Kind::Type));
        let Some(through) = through else { return Vals::lost() };
        let nth = targets.children().position(|t| t == maker).unwrap_or(0);
        let several = targets.children().count() > 1;
        self.gone_through(file, through, several.then_some(nth))
    }

    /// What a name holds that an import brings in.
    pub(crate) fn brought_in(&mut self, file: &'a FileFacts, name: At<'a>) -> Vals<'a> {
        match name.parent() {
            Some(import) => self.imported(file, import, name),
            None => Vals::lost(),
        }
    }

    fn imported(&mut self, file: &'a FileFacts, import: At<'a>, name: At<'a>) -> Vals<'a> {
        let module = self.import(file, import);
        let whole = import.children().count() == 1 && !self.is_named_import(file, import, name);
        if whole {
            return module;
        }
        let text = name.text().unwrap_or_default();
        module.each(|val| match &val.what {
            What::Doc(doc) => doc.at(text),
            _ => {
                let key = Val::text(text, file, name.line());
                self.at_key(&val, &key, (file, name))
            }
        })
    }

    /// Whether an import takes names out of a module, and not the module.
    fn is_named_import(&self, file: &FileFacts, import: At<'a>, name: At<'a>) -> bool {
        let line =
            file.text.get(import.step().span().0..import.step().span().1).unwrap_or_default();
        let from = line.trim_start().starts_with("from ");
        let braces = line.find('{').is_some_and(|open| {
            let at = name.span().0.saturating_sub(import.step().span().0);
            open < at && line.get(at..).is_some_and(|rest| rest.contains('}'))
        });
        from || braces
    }

    /// The script or file of data that an import names.
    pub(super) fn import(&mut self, file: &'a FileFacts, import: At<'a>) -> Vals<'a> {
        let Some(text) = import.text() else { return Vals::lost() };
        if let Some(data) = self.data_named(text) {
            return self.document(data);
        }
        let meant = self
            .query
            .scope
            .iter()
            .find(|f| f.language.is_code() && f.path != file.path && names_file(text, f));
        match meant {
            Some(home) => self
                .given_back(home)
                .unwrap_or_else(|| Vals::one(Val::new(What::Module(home), home, 1))),
            None => Vals::lost(),
        }
    }

    /// The file of data that a text names.
    pub(super) fn data_named(&self, text: &str) -> Option<&'a FileFacts> {
        let bare = text.trim_start_matches("./");
        let files = || self.query.scope.iter().filter(|f| f.language.is_data() && !bare.is_empty());
        let whole =
            |f: &&&'a FileFacts| f.path.as_ref() == bare || f.path.ends_with(&format!("/{bare}"));
        let same_name = |f: &&&'a FileFacts| Some(f.name()) == bare.rsplit('/').next();
        files().find(whole).or_else(|| files().find(same_name)).copied()
    }

    /// What a file of data is once it was read.
    pub(super) fn document(&self, data: &'a FileFacts) -> Vals<'a> {
        if data.data.is_empty() || data.broken {
            return Vals::lost();
        }
        Vals::one(Val::new(What::Doc(Doc::of(data)), data, 1))
    }

    /// What a script hands out under a name; `None` where it hands out nothing of that name.
    pub(super) fn handed_out(&mut self, home: &'a FileFacts, name: &str) -> Option<Vals<'a>> {
        // A table that it gives back whole.
        if let Some(given) = self.given_back(home) {
            let key = Val::text(name, home, 1);
            let mut out = Vals { list: Vec::new(), lost: given.lost };
            for val in given.list {
                let found = self.at_key(&val, &key, (home, home.tree.root()?));
                if found.list.iter().all(|v| v.missed.is_some()) && !found.lost {
                    return None;
                }
                out.join(found);
            }
            return Some(out);
        }
        let exported = |n: &At<'a>| {
            n.is(Kind::Field)
                && n.child(0).is_some_and(|o| matches!(o.last_name(), Some("exports")))
                || n.is(Kind::Pair)
                    && n.parent()
                        .and_then(At::parent)
                        .filter(|v| v.is(Kind::Values))
                        .and_then(At::parent)
                        .and_then(|a| a.part(Kind::Targets)?.child(0))
                        .is_some_and(|t| t.last_name() == Some("exports"))
        };
        let mut makers: Vec<(&'a FileFacts, At<'a>)> = home
            .tree
            .named(name)
            .filter(|n| {
                n.defines().is_some()
                    && (exported(n)
                        || n.function().is_none()
                            && n.class().is_none()
                            && !n.is(Kind::Field)
                            && !n.is(Kind::Pair))
            })
            .filter(|n| !matches!(n.defines(), Some(How::Parameter | How::Loop)))
            .map(|n| (home, n))
            .collect();
        let by_export: Vec<_> = makers.iter().copied().filter(|(_, n)| exported(n)).collect();
        let exports = home.language.hands_out == Some(HandsOut::Exports);
        let any_export = home.tree.all().any(|n| n.is_called("exports"));
        if exports && any_export {
            makers = by_export;
        }
        if makers.is_empty() { None } else { Some(self.outside(|eval| eval.made_by(&makers))) }
    }

    /// What a script gives to those who bring it in, where it gives one thing.
    pub(super) fn given_back(&mut self, home: &'a FileFacts) -> Option<Vals<'a>> {
        let last = home.tree.root()?.children().last()?;
        let value = last.child(0).filter(|_| last.is(Kind::Return));
        // `module.exports = …`, once and nothing beside it.
        let mut exports = home.tree.named("exports").filter(|n| {
            !(n.is(Kind::Name)
                && n.parent().is_some_and(|p| p.is(Kind::Field) && p.is_called("exports")))
        });
        let exported =
            exports.next().and_then(At::assigned_value).filter(|_| exports.next().is_none());
        let value = value.or(exported)?;
        Some(self.outside(|eval| eval.of(home, value)))
    }

    pub(super) fn field(&mut self, file: &'a FileFacts, node: At<'a>) -> Vals<'a> {
        let (Some(owner), Some(name)) = (node.child(0), node.text()) else { return Vals::lost() };
        let owners = self.of(file, owner);
        let mut out = Vals { list: Vec::new(), lost: false };
        if owners.list.is_empty() && self.is_outside(file, owner) {
            return Vals::lost();
        }
        if owners.lost || owners.list.is_empty() {
            // Whatever bears this name anywhere.
            out = self.member_anywhere(name);
            out.lost = true;
        }
        let key = Val::text(name, file, node.line());
        for val in owners.list.into_iter().filter(|v| !v.is_nothing()) {
            out.join(match (&val.what, name) {
                (What::Text(_) | What::Items(_), "length" | "Length" | "Count" | "size") => {
                    match super::eval::length(&val) {
                        Some(n) => Vals::one(val.made(What::Num(n))),
                        None => Vals::lost(),
                    }
                }
                // What XML's elements and some readers of data give their parts under.
                (What::Doc(_), "attrib" | "attributes" | "text" | "body" | "data") => {
                    Vals::one(val)
                }
                _ => match self.has_not(&val, &key, (file, node)) {
                    Some(nothing) => nothing,
                    None => self.at_key(&val, &key, (file, node)),
                },
            });
        }
        out
    }

    /// Everything that is put into a field of this name.
    pub(super) fn member_anywhere(&mut self, name: &str) -> Vals<'a> {
        let makers: Vec<(&'a FileFacts, At<'a>)> = self
            .query
            .named(name)
            .filter(|(_, n)| match n.defines() {
                Some(How::Assigned) => {
                    n.is(Kind::Field) || n.function().is_none() && n.class().is_some()
                }
                Some(How::Function) => n.class().is_some() || n.part(Kind::Owner).is_some(),
                Some(How::Key) => true,
                _ => false,
            })
            .take(40)
            .collect();
        self.outside(|eval| eval.made_by(&makers))
    }

    /// A member of a type or of one of its bases; `None` where it has none of this name.
    pub(super) fn member_of(
        &mut self,
        file: &'a FileFacts,
        class: At<'a>,
        name: &str,
        deep: usize,
    ) -> Option<Vals<'a>> {
        let bare = file.language.fields_are_bare;
        // Objects of some languages do not see what belongs to their type.
        let of_object = file.language.hands_out == Some(HandsOut::Exports);
        let own = |n: &At<'a>| n.class() == Some(class);
        let mut makers: Vec<(&'a FileFacts, At<'a>)> = Vec::new();
        for n in file.tree.named(name).filter(own) {
            let member = match n.defines() {
                Some(How::Function) => {
                    n.function().is_none() && (!of_object || !n.has(Flag::Static))
                }
                // On itself, or on an object that it makes.
                Some(How::Assigned) if n.is(Kind::Field) => true,
                Some(How::Assigned) if n.is(Kind::Name) => {
                    n.function().is_none() || bare && is_field_of(file, class, n)
                }
                _ => false,
            };
            if member {
                makers.push((file, n));
            }
        }
        // What others put into its objects.
        for f in &self.query.scope {
            let outside = f.tree.named(name).filter(|n| {
                n.is(Kind::Field)
                    && n.defines() == Some(How::Assigned)
                    && (f.path != file.path || n.class() != Some(class))
                    && !n.child(0).is_some_and(|o| matches!(o.text(), Some("self" | "this")))
            });
            makers.extend(outside.map(|n| (*f, n)));
        }
        if !makers.is_empty() {
            return Some(self.outside(|eval| eval.made_by(&makers)));
        }
        let bases: Vec<&str> = class
            .part(Kind::Bases)
            .into_iter()
            .flat_map(At::children)
            .filter_map(|b| b.text())
            .collect();
        let mut unknown = false;
        for base in bases {
            match self.class_named(file, base).filter(|_| deep < 6) {
                Some((home, base)) => {
                    if let Some(found) = self.member_of(home, base, name, deep + 1) {
                        return Some(found);
                    }
                }
                None => unknown = true,
            }
        }
        unknown.then(Vals::lost)
    }

    /// The names of all members of a type, its bases included.
    pub(super) fn members_of(
        &self,
        file: &'a FileFacts,
        class: At<'a>,
        deep: usize,
    ) -> Vec<Val<'a>> {
        let mut found: Vec<Val<'a>> = class
            .whole()
            .filter(|n| n.class() == Some(class))
            .filter(|n| match n.defines() {
                Some(How::Function) => n.function().is_none(),
                Some(How::Assigned) => n.is(Kind::Field) || n.function().is_none(),
                _ => false,
            })
            .filter_map(|n| Some(Val::text(n.text()?, file, n.line())))
            .collect();
        let bases = class.part(Kind::Bases).into_iter().flat_map(At::children);
        for base in bases.filter_map(At::text) {
            if let Some((home, base)) = self.class_named(file, base).filter(|_| deep < 6) {
                found.extend(self.members_of(home, base, deep + 1));
            }
        }
        found
    }
}

/// Whether a call gives what a component keeps between two drawings, and what sets it.
fn is_state(file: &FileFacts, call: At<'_>) -> bool {
    call.is(Kind::Call)
        && call.last_name() == Some("useState")
        && file.language.base_id() == "javascript"
}

/// Whether a name that is given something in a method is the field of its type: nothing there
/// declares or takes another one of that name.
fn is_field_of(file: &FileFacts, class: At<'_>, name: At<'_>) -> bool {
    let (Some(text), Some(function)) = (name.text(), name.function()) else { return false };
    let declared = file.tree.named(text).any(|n| {
        n.class() == Some(class) && n.function().is_none() && n.defines() == Some(How::Assigned)
    });
    let own = function.whole().any(|n| {
        n.is_called(text)
            && (n.is(Kind::Param)
                || n.defines() == Some(How::Assigned)
                    && n.parent()
                        .and_then(At::parent)
                        .is_some_and(|a| a.has(Flag::Local) || a.part(Kind::Type).is_some()))
    });
    declared && !own
}

/// Notes where values are kept as they came: a function by its name, a text that was read.
pub(super) fn kept_here<'a>(mut found: Vals<'a>, file: &'a FileFacts, value: At<'a>) -> Vals<'a> {
    let by_name = matches!(value.kind(), Kind::Name | Kind::Field | Kind::Index);
    for val in found.list.iter_mut() {
        match val.what {
            What::Func(_) if by_name => val.handed = Some((file, value.line())),
            What::Text(_) | What::AnyText if by_name && val.handed.is_none() => {
                val.handed = Some((file, value.line()));
            }
            _ => {}
        }
    }
    found
}

/// The object in which a function is written as one of its own: `{ land() { … } }`,
/// `{ land: function () { … } }`. An arrow has no object.
pub(crate) fn object_of<'a>(file: &FileFacts, function: At<'a>) -> Option<At<'a>> {
    if file.language.hands_out != Some(HandsOut::Exports) {
        return None;
    }
    let parent = function.parent()?;
    let head = file.text.get(function.span().0..function.span().1).unwrap_or_default();
    let named = head.trim_start_matches("async ").starts_with("function");
    match parent.kind() {
        Kind::Table => Some(parent),
        Kind::Pair if named => parent.parent().filter(|t| t.is(Kind::Table)),
        _ => None,
    }
}

/// Whether a function is written to be read like a field.
pub(crate) fn is_property(file: &FileFacts, function: At<'_>) -> bool {
    let before = file.text.get(..function.span().0).unwrap_or_default();
    let head = file.text.get(function.span().0..).unwrap_or_default();
    head.starts_with("get ")
        || before.trim_end().ends_with("@property")
        || before.lines().last().is_some_and(|l| l.trim() == "get")
}

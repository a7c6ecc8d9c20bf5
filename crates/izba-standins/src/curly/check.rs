//! What compilers of Java and C# find before anything runs: types, names and members that don't
//! fit.

use super::tree::{Class, Expr, Method, Node, Step, Type, What};
use super::{Language, Problem, Spot, library};
use std::collections::BTreeMap;

/// Checks the classes of a source among all classes that it may use. Problems come in the order of
/// the source.
pub fn check(language: Language, own: &[Class], all: &[Class]) -> Vec<Problem> {
    let classes = all.iter().map(|c| (c.name.as_str(), c)).collect();
    let mut checker = Checker {
        language,
        classes,
        class: None,
        of_type: false,
        scopes: Vec::new(),
        gives: Type::default(),
        found: Vec::new(),
    };
    for class in own {
        checker.class(class);
    }
    checker.found.sort_by_key(|p| (p.line, p.column));
    checker.found.dedup_by_key(|p| (p.line, p.column));
    checker.found
}

struct Local {
    name: String,
    kind: Type,
    at: Spot,
    set: bool,
    read: bool,
}

/// What matters of a member that is used.
#[derive(Clone, Copy)]
struct Member {
    private: bool,
    of_type: bool,
    called: bool,
}

struct Checker<'a> {
    language: Language,
    classes: BTreeMap<&'a str, &'a Class>,
    class: Option<&'a Class>,
    of_type: bool,
    scopes: Vec<Vec<Local>>,
    gives: Type,
    found: Vec<Problem>,
}

impl<'a> Checker<'a> {
    fn say(&mut self, at: Spot, code: &'static str, message: String) {
        let file = self.class.map_or("", |c| c.file.as_str()).to_owned();
        self.found.push(at.problem(&file, code, message));
    }

    /// The same mistake as Java and as C# say it.
    fn wrong(&mut self, at: Spot, java: String, code: &'static str, sharp: String) {
        if self.language == Language::CSharp {
            self.say(at, code, sharp)
        } else {
            self.say(at, "", java)
        }
    }

    fn location(&self) -> String {
        format!("  location: class {}", self.class.map_or("", |c| c.name.as_str()))
    }

    fn class(&mut self, class: &'a Class) {
        self.class = Some(class);
        for field in &class.fields {
            self.known(&field.kind, field.at);
            self.of_type = field.of_type;
            if let Some(value) = &field.value {
                let given = self.infer(value);
                self.fits(&given, &field.kind, value.at);
            }
        }
        for method in &class.methods {
            self.method(method);
        }
    }

    fn method(&mut self, method: &'a Method) {
        self.known(&method.gives, method.at);
        self.of_type = method.of_type;
        self.gives = method.gives.clone();
        let local = |(kind, name, at): &(Type, String, Spot)| Local {
            name: name.clone(),
            kind: kind.clone(),
            at: *at,
            set: true,
            read: true,
        };
        method.takes.iter().for_each(|(kind, _, at)| self.known(kind, *at));
        self.scopes.push(method.takes.iter().map(local).collect());
        self.steps(&method.body);
        self.leave();
    }

    fn leave(&mut self) {
        let Some(scope) = self.scopes.pop() else { return };
        // Only C# says so.
        let sharp = self.language == Language::CSharp;
        let unread = scope.into_iter().filter(|l| !l.read);
        for local in unread.take_while(|_| sharp) {
            let (code, message) = if local.set {
                (
                    "CS0219",
                    format!(
                        "The variable `{}' is assigned but its value is never used",
                        local.name
                    ),
                )
            } else {
                ("CS0168", format!("The variable `{}' is declared but never used", local.name))
            };
            self.say(local.at, code, message);
            if let Some(last) = self.found.last_mut() {
                last.warning = true;
            }
        }
    }

    fn known(&mut self, kind: &Type, at: Spot) {
        let known = kind.is_unknown()
            || library::is_type(self.language, &kind.name)
            || self.classes.contains_key(kind.name.as_str());
        if !known {
            let name = &kind.name;
            let java = format!("cannot find symbol\n  symbol:   class {name}\n{}", self.location());
            let sharp = format!(
                "The type or namespace name `{name}' could not be found. Are you missing \
                    an assembly reference?"
            );
            self.wrong(at, java, "CS0246", sharp);
        }
        kind.of.iter().for_each(|inner| self.known(inner, at));
    }

    fn scoped(&mut self, steps: &'a [Step]) {
        self.scopes.push(Vec::new());
        self.steps(steps);
        self.leave();
    }

    fn steps(&mut self, steps: &'a [Step]) {
        steps.iter().for_each(|step| self.step(step));
    }

    fn local(&mut self, name: &str, kind: Type, at: Spot, set: bool, read: bool) {
        if let Some(scope) = self.scopes.last_mut() {
            scope.push(Local { name: name.into(), kind, at, set, read });
        }
    }

    fn step(&mut self, step: &'a Step) {
        match &step.what {
            What::Local(kind, name, at, value) => {
                self.known(kind, step.at);
                let given = value.as_ref().map(|v| (self.infer(v), v));
                let kind = match &given {
                    Some((given, _)) if kind.is_unknown() => given.clone(),
                    _ => kind.clone(),
                };
                if let Some((given, value)) = &given {
                    self.fits(given, &kind, value.at);
                }
                // A value that has to be computed may be wanted for what computing it does.
                let computed = value
                    .as_ref()
                    .is_some_and(|v| matches!(v.node, Node::Call(..) | Node::New(..)));
                self.local(name, kind, *at, value.is_some(), computed);
            }
            What::Do(value) | What::Throw(value) => {
                self.infer(value);
            }
            What::Return(value) => {
                if let Some(value) = value {
                    let given = self.infer(value);
                    let wanted = self.gives.clone();
                    self.fits(&given, &wanted, value.at);
                }
            }
            What::If(condition, body, other) => {
                self.infer(condition);
                self.scoped(body);
                self.scoped(other);
            }
            What::While(condition, body) => {
                self.infer(condition);
                self.scoped(body);
            }
            What::Each(kind, name, list, body) => {
                self.known(kind, step.at);
                let of = self.infer(list).of.first().cloned().unwrap_or_default();
                self.scopes.push(Vec::new());
                self.local(
                    name,
                    if kind.is_unknown() { of } else { kind.clone() },
                    step.at,
                    true,
                    true,
                );
                self.steps(body);
                self.leave();
            }
            What::Try(body, kind, name, handler) => {
                self.scoped(body);
                self.known(kind, step.at);
                self.scopes.push(Vec::new());
                self.local(name, kind.clone(), step.at, true, true);
                self.steps(handler);
                self.leave();
            }
            What::Switch(value, cases, others) => {
                self.infer(value);
                for (labels, body) in cases {
                    labels.iter().for_each(|l| drop(self.infer(l)));
                    self.scoped(body);
                }
                if let Some(body) = others {
                    self.scoped(body);
                }
            }
            What::Break => {}
            What::Block(body) => self.scoped(body),
        }
    }

    fn fits(&mut self, given: &Type, wanted: &Type, at: Spot) -> bool {
        if library::converts(given, wanted) {
            return true;
        }
        let (given, wanted) = (given.spelt(), wanted.spelt());
        let java = if given == "double" && wanted == "int" {
            "incompatible types: possible lossy conversion from double to int".into()
        } else {
            format!("incompatible types: {given} cannot be converted to {wanted}")
        };
        self.wrong(
            at,
            java,
            "CS0029",
            format!("Cannot implicitly convert type `{given}' to `{wanted}'"),
        );
        false
    }

    fn infer(&mut self, expr: &'a Expr) -> Type {
        let text = Type::named(library::text(self.language));
        let bool_type =
            Type::named(if self.language == Language::Java { "boolean" } else { "bool" });
        match &expr.node {
            Node::Int(_) => Type::named("int"),
            Node::Float(_) => Type::named("double"),
            Node::Text(_) => text,
            Node::Bool(_) => bool_type,
            Node::Null => Type::named("null"),
            Node::This => self.class.map_or_else(Type::default, |c| Type::named(&c.name)),
            Node::Name(name) => self.name(name, expr.at),
            Node::Member(of, name) => self.member(of, name, expr.at),
            Node::Call(None, name, given) => {
                let given = self.all(given);
                let Some(class) = self.class else { return Type::default() };
                match class.method(name) {
                    Some(method) => {
                        if self.of_type && !method.of_type {
                            self.needs_object(class, name, true, expr.at);
                        }
                        self.called(method, &given);
                        method.gives.clone()
                    }
                    None => {
                        let spelt =
                            given.iter().map(|(t, _)| t.spelt()).collect::<Vec<_>>().join(",");
                        let java = format!(
                            "cannot find symbol\n  symbol:   method {name}({spelt})\n{}",
                            self.location()
                        );
                        self.wrong(
                            expr.at,
                            java,
                            "CS0103",
                            format!("The name `{name}' does not exist in the current context"),
                        );
                        Type::default()
                    }
                }
            }
            Node::Call(Some(of), name, given) => self.call(of, name, given, expr.at),
            Node::New(kind, given) => {
                self.known(kind, expr.at);
                let given = self.all(given);
                let constructor =
                    self.classes.get(kind.name.as_str()).and_then(|c| c.method(&kind.name));
                if let Some(constructor) = constructor {
                    self.called(constructor, &given);
                }
                kind.clone()
            }
            Node::Element(of, at) => {
                self.infer(at);
                self.infer(of).of.last().cloned().unwrap_or_default()
            }
            Node::Binary(sign, left, right) => {
                let (left, right) = (self.infer(left), self.infer(right));
                match *sign {
                    "+" if left == text || right == text => text,
                    "+" | "-" | "*" | "/" | "%" => {
                        if left.name == "double" {
                            left
                        } else {
                            right
                        }
                    }
                    _ => bool_type,
                }
            }
            Node::Unary("!", value) => {
                self.infer(value);
                bool_type
            }
            Node::Unary(_, value) | Node::Sure(value) => self.infer(value),
            Node::Set(sign, target, value) => {
                let given = self.infer(value);
                let kind = match &target.node {
                    // Being set is not being read.
                    Node::Name(name) if *sign == "=" => {
                        let local =
                            self.scopes.iter_mut().rev().flatten().find(|l| l.name == *name);
                        match local {
                            Some(local) => {
                                local.set = true;
                                local.kind.clone()
                            }
                            None => self.infer(target),
                        }
                    }
                    _ => self.infer(target),
                };
                if *sign == "=" {
                    self.fits(&given, &kind, value.at);
                }
                kind
            }
        }
    }

    fn all(&mut self, given: &'a [Expr]) -> Vec<(Type, Spot)> {
        given.iter().map(|g| (self.infer(g), g.at)).collect()
    }

    fn name(&mut self, name: &str, at: Spot) -> Type {
        if let Some(local) = self.scopes.iter_mut().rev().flatten().find(|l| l.name == name) {
            local.read = true;
            return local.kind.clone();
        }
        let class = self.class;
        if let Some((class, field)) = class.and_then(|c| c.field(name).map(|f| (c, f))) {
            if self.of_type && !field.of_type {
                self.needs_object(class, name, false, at);
            }
            return field.kind.clone();
        }
        let java = format!("cannot find symbol\n  symbol:   variable {name}\n{}", self.location());
        self.wrong(
            at,
            java,
            "CS0103",
            format!("The name `{name}' does not exist in the current context"),
        );
        Type::default()
    }

    /// The class that an expression names, when it is a type and not a value.
    fn type_named(&self, expr: &Expr) -> Option<Result<&'a Class, ()>> {
        let Node::Name(name) = &expr.node else { return None };
        let shadowed = self.scopes.iter().flatten().any(|l| l.name == *name)
            || self.class.is_some_and(|c| c.field(name).is_some());
        if shadowed {
            return None;
        }
        match self.classes.get(name.as_str()) {
            Some(class) => Some(Ok(class)),
            None => library::is_type(self.language, name).then_some(Err(())),
        }
    }

    fn needs_object(&mut self, class: &Class, name: &str, called: bool, at: Spot) {
        let what = if called { "method" } else { "variable" };
        let signs = if called { "()" } else { "" };
        let java =
            format!("non-static {what} {name}{signs} cannot be referenced from a static context");
        self.wrong(
            at,
            java,
            "CS0120",
            format!(
                "An object reference is required to access non-static member `{}.{name}{signs}'",
                class.full()
            ),
        );
    }

    /// Whether a member may be used from here; what is wrong with it is said.
    fn reached(&mut self, class: &Class, name: &str, member: Member, through_type: bool, at: Spot) {
        let Member { private, of_type, called } = member;
        let own = self.class.is_some_and(|c| c.name == class.name);
        if private && !own {
            let signs = if called { "()" } else { "" };
            let java = format!("{name}{signs} has private access in {}", class.name);
            self.wrong(
                at,
                java,
                "CS0122",
                format!(
                    "`{}.{name}{signs}' is inaccessible due to its protection level",
                    class.full()
                ),
            );
        } else if through_type && !of_type {
            self.needs_object(class, name, called, at);
        } else if !through_type && of_type && self.language == Language::CSharp {
            let signs = if called { "()" } else { "" };
            let said = format!(
                "Static member `{}.{name}{signs}' cannot be accessed with an instance \
                    reference, qualify it with a type name instead",
                class.full()
            );
            self.say(at, "CS0176", said);
        }
    }

    /// The class behind an expression, and whether the type itself was named.
    fn target(&mut self, of: &'a Expr) -> (Type, Option<&'a Class>, bool) {
        match self.type_named(of) {
            Some(Ok(class)) => (Type::named(&class.name), Some(class), true),
            Some(Err(())) => (Type::default(), None, true),
            None => {
                let kind = self.infer(of);
                let class = self.classes.get(kind.name.as_str()).copied();
                (kind, class, false)
            }
        }
    }

    fn full(&self, kind: &Type) -> String {
        self.classes.get(kind.name.as_str()).map_or_else(|| kind.spelt(), |c| c.full())
    }

    fn no_member(&mut self, kind: &Type, java_symbol: &str, name: &str, at: Spot) {
        let java = format!(
            "cannot find symbol\n  symbol:   {java_symbol}\n  location: class {}",
            kind.spelt()
        );
        let sharp = format!(
            "Type `{}' does not contain a definition for `{name}' and no extension method \
                `{name}' of type `{}' could be found. Are you missing an assembly reference?",
            self.full(kind),
            self.full(kind)
        );
        self.wrong(at, java, "CS1061", sharp);
    }

    fn member(&mut self, of: &'a Expr, name: &str, at: Spot) -> Type {
        let (kind, class, through_type) = self.target(of);
        let Some(class) = class else { return library::member(self.language, &kind, name) };
        match class.field(name) {
            Some(field) => {
                let member =
                    Member { private: field.private, of_type: field.of_type, called: false };
                self.reached(class, name, member, through_type, at);
                field.kind.clone()
            }
            None => {
                self.no_member(&kind, &format!("variable {name}"), name, at);
                Type::default()
            }
        }
    }

    fn call(&mut self, of: &'a Expr, name: &str, given: &'a [Expr], at: Spot) -> Type {
        let (kind, class, through_type) = self.target(of);
        let given = self.all(given);
        let Some(class) = class else { return library::member(self.language, &kind, name) };
        match class.method(name) {
            Some(method) => {
                let member =
                    Member { private: method.private, of_type: method.of_type, called: true };
                self.reached(class, name, member, through_type, at);
                self.called(method, &given);
                method.gives.clone()
            }
            None => {
                let spelt = given.iter().map(|(t, _)| t.spelt()).collect::<Vec<_>>().join(",");
                self.no_member(&kind, &format!("method {name}({spelt})"), name, at);
                Type::default()
            }
        }
    }

    fn called(&mut self, method: &Method, given: &[(Type, Spot)]) {
        for (index, ((wanted, _, _), (given, at))) in method.takes.iter().zip(given).enumerate() {
            if library::converts(given, wanted) {
                continue;
            }
            if self.language == Language::CSharp {
                let said = format!(
                    "Argument `#{}' cannot convert `{}' expression to type `{}'",
                    index + 1,
                    given.spelt(),
                    wanted.spelt()
                );
                self.say(*at, "CS1503", said);
            } else {
                self.fits(given, wanted, *at);
            }
        }
    }
}

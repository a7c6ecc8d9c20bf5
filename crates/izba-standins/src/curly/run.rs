//! Runs what was parsed, as the Java machine does for Java and Kotlin: exceptions carry the steps
//! that led to them.

use super::tree::{Class, Expr, Method, Node, Step, Type, What};
use super::value::{Frame, Instance, Raised, Value};
use super::{Language, library};
use std::cell::RefCell;
use std::collections::BTreeMap;
use std::rc::Rc;

type Ran<T> = Result<T, Rc<Raised>>;

enum Flow {
    On,
    Leave,
    Give(Value),
}

struct Call {
    frame: Frame,
    this: Option<Rc<Instance>>,
    scopes: Vec<BTreeMap<String, (Type, Value)>>,
}

/// How many steps a call from outside may take.
const PATIENCE: usize = 1_000_000;
/// How deep calls may go.
const DEPTH: usize = 200;

/// A machine with its classes.
#[derive(Default)]
pub struct Machine {
    pub(super) classes: BTreeMap<String, Rc<Class>>,
    pub(super) kotlin: bool,
    calls: Vec<Call>,
    steps: usize,
    said: Vec<String>,
}

impl Machine {
    /// A machine for classes of a language.
    pub fn new(language: Language, classes: Vec<Class>) -> Machine {
        let classes = classes.into_iter().map(|c| (c.name.clone(), Rc::new(c))).collect();
        Machine { classes, kotlin: language == Language::Kotlin, ..Machine::default() }
    }

    /// Whether there is a class of that name.
    pub fn has(&self, class: &str) -> bool {
        self.classes.contains_key(class)
    }

    /// Whether objects of a class have a field or method of that name.
    pub fn has_member(&self, class: &str, member: &str) -> bool {
        self.classes
            .get(class)
            .is_some_and(|c| c.field(member).is_some() || c.method(member).is_some())
    }

    /// What the program printed since the last time.
    pub fn take_said(&mut self) -> Vec<String> {
        std::mem::take(&mut self.said)
    }

    /// Makes an object.
    ///
    /// # Errors
    ///
    /// The exception that ended it.
    pub fn make(&mut self, class: &str, given: Vec<Value>) -> Ran<Value> {
        self.steps = 0;
        self.calls.clear();
        self.construct(class, given)
    }

    /// Calls a method of an object.
    ///
    /// # Errors
    ///
    /// The exception that ended it.
    pub fn call(&mut self, object: &Value, method: &str, given: Vec<Value>) -> Ran<Value> {
        self.steps = 0;
        self.calls.clear();
        let Value::Object(object) = object else {
            return Err(self.raise("IllegalArgumentException", "no object".into()));
        };
        match object.class.clone().method(method) {
            Some(found) => self.invoke(&object.class.clone(), Some(object.clone()), found, given),
            None => Err(self.raise("NoSuchMethodError", format!("{}.{method}", object.class.name))),
        }
    }

    pub(super) fn raise(&self, kind: &str, message: String) -> Rc<Raised> {
        let frames = self.calls.iter().rev().map(|c| c.frame.clone()).collect();
        Rc::new(Raised {
            kind: library::exception(kind),
            message: (!message.is_empty()).then_some(message),
            frames,
            cause: None,
        })
    }

    fn raise_inside(&self, trouble: library::Trouble) -> Rc<Raised> {
        let raised = self.raise(trouble.kind, trouble.message);
        let frames = trouble.inside.into_iter().chain(raised.frames.iter().cloned()).collect();
        Rc::new(Raised { frames, ..(*raised).clone() })
    }

    fn construct(&mut self, name: &str, given: Vec<Value>) -> Ran<Value> {
        let Some(class) = self.classes.get(name).cloned() else {
            return Err(self.raise("NoClassDefFoundError", name.into()));
        };
        let object = Rc::new(Instance { class: class.clone(), fields: RefCell::default() });
        for field in class.fields.iter().filter(|f| !f.of_type && !f.late) {
            let value = match field.kind.name.as_str() {
                "int" | "long" | "Int" => Value::Int(0),
                "boolean" => Value::Bool(false),
                _ => Value::Null,
            };
            object.fields.borrow_mut().insert(field.name.clone(), value);
        }
        let constructor = class.method(name);
        let values = |machine: &mut Machine| -> Ran<()> {
            for field in class.fields.iter().filter(|f| !f.of_type) {
                if let Some(value) = &field.value {
                    machine.at(value.at.line);
                    let value = machine.eval(value)?;
                    object.fields.borrow_mut().insert(field.name.clone(), value);
                }
            }
            Ok(())
        };
        let line = constructor.map_or(1, |c| c.at.line);
        let frame = self.frame(&class, "<init>", line);
        self.enter(frame, Some(object.clone()))?;
        // What the constructor is given counts for the fields of Kotlin's classes too.
        let takes = constructor.map(|c| c.takes.as_slice()).unwrap_or_default();
        if let Some(scope) = self.calls.last_mut().and_then(|c| c.scopes.last_mut()) {
            scope.extend(
                takes
                    .iter()
                    .zip(given)
                    .map(|((kind, name, _), value)| (name.clone(), (kind.clone(), value))),
            );
        }
        let ran = if self.kotlin {
            let body = constructor.map_or(Ok(Flow::On), |c| self.run(&c.body));
            body.and_then(|_| values(self))
        } else {
            values(self).and_then(|()| constructor.map_or(Ok(()), |c| self.run(&c.body).map(drop)))
        };
        self.calls.pop();
        ran.map(|()| Value::Object(object.clone()))
    }

    fn frame(&self, class: &Class, method: &str, line: usize) -> Frame {
        let file = class.file.rsplit('/').next().unwrap_or(&class.file).to_owned();
        Frame { class: class.full(), method: method.into(), file, line }
    }

    fn enter(&mut self, frame: Frame, this: Option<Rc<Instance>>) -> Ran<()> {
        if self.calls.len() >= DEPTH {
            return Err(self.raise("StackOverflowError", String::new()));
        }
        self.calls.push(Call { frame, this, scopes: vec![BTreeMap::new()] });
        Ok(())
    }

    fn invoke(
        &mut self,
        class: &Rc<Class>,
        this: Option<Rc<Instance>>,
        method: &Method,
        given: Vec<Value>,
    ) -> Ran<Value> {
        let frame = self.frame(class, &method.name, method.at.line);
        self.enter(frame, this)?;
        if let Some(scope) = self.calls.last_mut().and_then(|c| c.scopes.last_mut()) {
            scope.extend(
                method
                    .takes
                    .iter()
                    .zip(given)
                    .map(|((kind, name, _), value)| (name.clone(), (kind.clone(), value))),
            );
        }
        let ran = self.run(&method.body);
        self.calls.pop();
        match ran? {
            Flow::Give(value) => Ok(value),
            Flow::On | Flow::Leave => Ok(Value::Null),
        }
    }

    fn at(&mut self, line: usize) {
        if let Some(call) = self.calls.last_mut() {
            call.frame.line = line;
        }
    }

    fn scoped(&mut self, steps: &[Step], with: Option<(&str, Type, Value)>) -> Ran<Flow> {
        let depth = self.calls.len();
        if let Some(call) = self.calls.last_mut() {
            call.scopes.push(
                with.into_iter()
                    .map(|(name, kind, value)| (name.to_owned(), (kind, value)))
                    .collect(),
            );
        }
        let ran = self.run(steps);
        // An exception that is caught here has left the calls above as they were.
        self.calls.truncate(depth);
        if let Some(call) = self.calls.last_mut() {
            call.scopes.pop();
        }
        ran
    }

    fn run(&mut self, steps: &[Step]) -> Ran<Flow> {
        for step in steps {
            match self.step(step)? {
                Flow::On => {}
                other => return Ok(other),
            }
        }
        Ok(Flow::On)
    }

    fn step(&mut self, step: &Step) -> Ran<Flow> {
        self.at(step.at.line);
        self.steps += 1;
        if self.steps > PATIENCE {
            return Err(
                self.raise("InterruptedException", format!("stopped after {PATIENCE} steps"))
            );
        }
        match &step.what {
            What::Local(kind, name, _, value) => {
                let value = value.as_ref().map_or(Ok(Value::Null), |v| self.eval(v))?;
                if let Some(scope) = self.calls.last_mut().and_then(|c| c.scopes.last_mut()) {
                    scope.insert(name.clone(), (kind.clone(), value));
                }
            }
            What::Do(value) => drop(self.eval(value)?),
            What::Return(value) => {
                return Ok(Flow::Give(value.as_ref().map_or(Ok(Value::Null), |v| self.eval(v))?));
            }
            What::If(condition, body, other) => {
                let body = if self.is_true(condition)? { body } else { other };
                return self.scoped(body, None);
            }
            What::While(condition, body) => {
                while self.is_true(condition)? {
                    match self.scoped(body, None)? {
                        Flow::On => {}
                        Flow::Leave => break,
                        give => return Ok(give),
                    }
                    self.steps += 1;
                    if self.steps > PATIENCE {
                        return Err(self.raise(
                            "InterruptedException",
                            format!("stopped after {PATIENCE} steps"),
                        ));
                    }
                }
            }
            What::Each(kind, name, list, body) => {
                let items = match self.eval(list)? {
                    Value::List(items) => items.borrow().clone(),
                    Value::Null => return Err(self.nothing_there("iterator", list)),
                    _ => Vec::new(),
                };
                for item in items {
                    match self.scoped(body, Some((name.as_str(), kind.clone(), item)))? {
                        Flow::On => {}
                        Flow::Leave => break,
                        give => return Ok(give),
                    }
                }
            }
            What::Throw(value) => {
                return match self.eval(value)? {
                    Value::Raised(raised) => Err(raised),
                    _ => Err(self.raise("NullPointerException", String::new())),
                };
            }
            What::Try(body, kind, name, handler) => {
                return match self.scoped(body, None) {
                    Err(raised) if catches(&kind.name, &raised.kind) => self.scoped(
                        handler,
                        Some((name.as_str(), kind.clone(), Value::Raised(raised))),
                    ),
                    other => other,
                };
            }
            What::Switch(value, cases, others) => {
                let value = self.eval(value)?;
                let mut chosen = others.as_ref();
                'cases: for (labels, body) in cases {
                    for label in labels {
                        if self.eval(label)?.equals(&value) {
                            chosen = Some(body);
                            break 'cases;
                        }
                    }
                }
                if let Some(Flow::Give(value)) =
                    chosen.map(|body| self.scoped(body, None)).transpose()?
                {
                    return Ok(Flow::Give(value));
                }
            }
            What::Break => return Ok(Flow::Leave),
            What::Block(body) => return self.scoped(body, None),
        }
        Ok(Flow::On)
    }

    fn is_true(&mut self, condition: &Expr) -> Ran<bool> {
        Ok(matches!(self.eval(condition)?, Value::Bool(true)))
    }

    fn eval_all(&mut self, given: &[Expr]) -> Ran<Vec<Value>> {
        given.iter().map(|g| self.eval(g)).collect()
    }

    fn eval(&mut self, expr: &Expr) -> Ran<Value> {
        match &expr.node {
            Node::Int(n) => Ok(Value::Int(*n)),
            Node::Float(n) => Ok(Value::Float(*n)),
            Node::Text(text) => Ok(Value::text(text)),
            Node::Bool(b) => Ok(Value::Bool(*b)),
            Node::Null => Ok(Value::Null),
            Node::This => Ok(self.this().map_or(Value::Null, Value::Object)),
            Node::Name(name) => self.name(name),
            Node::Member(of, name) => {
                if let Some(class) = self.class_named(of) {
                    return self.of_type(&class, name);
                }
                let value = self.eval(of)?;
                self.at(expr.at.line);
                match &value {
                    Value::Object(object) => self.field(object, name),
                    Value::Null => Err(self.nothing_there(name, of)),
                    Value::Raised(raised) if name == "message" => {
                        Ok(raised.message.as_deref().map_or(Value::Null, Value::text))
                    }
                    other => self.library(library::call(other, name, &[]), name),
                }
            }
            Node::Call(of, name, given) => self.called(of.as_deref(), name, given, expr.at.line),
            Node::New(kind, given) => {
                let given = self.eval_all(given)?;
                self.at(expr.at.line);
                self.new_value(&kind.name, given)
            }
            Node::Element(of, at) => {
                let (value, at) = (self.eval(of)?, self.eval(at)?);
                self.at(expr.at.line);
                match value {
                    Value::Null => Err(self.nothing_there("get", of)),
                    value => self.library(library::call(&value, "[]", &[at]), "[]"),
                }
            }
            Node::Binary(sign, left, right) => self.binary(sign, left, right),
            Node::Unary("!", value) => Ok(Value::Bool(!self.is_true(value)?)),
            Node::Unary(_, value) => match self.eval(value)? {
                Value::Int(n) => Ok(Value::Int(-n)),
                Value::Float(n) => Ok(Value::Float(-n)),
                other => Ok(other),
            },
            Node::Set(sign, target, value) => {
                let mut given = self.eval(value)?;
                if *sign != "=" {
                    let before = self.eval(target)?;
                    given = self.join(&sign[..1], before, given)?;
                }
                self.set(target, given.clone())?;
                Ok(given)
            }
            Node::Sure(value) => match self.eval(value)? {
                Value::Null => Err(self.raise("NullPointerException", String::new())),
                value => Ok(value),
            },
        }
    }

    pub(super) fn this(&self) -> Option<Rc<Instance>> {
        self.calls.last().and_then(|c| c.this.clone())
    }

    pub(super) fn local(&self, name: &str) -> Option<&(Type, Value)> {
        self.calls.last().and_then(|c| c.scopes.iter().rev().find_map(|s| s.get(name)))
    }

    fn name(&mut self, name: &str) -> Ran<Value> {
        if let Some((_, value)) = self.local(name) {
            return Ok(value.clone());
        }
        match self.this() {
            Some(this) if this.class.field(name).is_some_and(|f| f.of_type) => {
                self.of_type(&this.class.clone(), name)
            }
            Some(this) => self.field(&this, name),
            None => Err(self.raise("NoSuchFieldError", name.into())),
        }
    }

    fn of_type(&mut self, class: &Rc<Class>, name: &str) -> Ran<Value> {
        match class.field(name).and_then(|f| f.value.as_ref()) {
            Some(value) => self.eval(value),
            None => Ok(Value::Null),
        }
    }

    fn field(&mut self, object: &Rc<Instance>, name: &str) -> Ran<Value> {
        if let Some(value) = object.fields.borrow().get(name) {
            return Ok(value.clone());
        }
        match object.class.field(name) {
            Some(field) if field.late => Err(self.raise(
                "UninitializedPropertyAccessException",
                format!("lateinit property {name} has not been initialized"),
            )),
            Some(_) => Ok(Value::Null),
            None => Err(self.raise("NoSuchFieldError", name.into())),
        }
    }

    fn set(&mut self, target: &Expr, value: Value) -> Ran<()> {
        match &target.node {
            Node::Name(name) => {
                let scopes = self.calls.last_mut().map(|c| &mut c.scopes);
                if let Some((_, old)) =
                    scopes.and_then(|s| s.iter_mut().rev().find_map(|s| s.get_mut(name)))
                {
                    *old = value;
                } else if let Some(this) = self.this() {
                    this.fields.borrow_mut().insert(name.clone(), value);
                }
                Ok(())
            }
            Node::Member(of, name) => match self.eval(of)? {
                Value::Object(object) => {
                    object.fields.borrow_mut().insert(name.clone(), value);
                    Ok(())
                }
                _ => {
                    let why = self.described(of).unwrap_or_default();
                    Err(self.raise(
                        "NullPointerException",
                        format!("Cannot assign field \"{name}\"{why}"),
                    ))
                }
            },
            _ => Ok(()),
        }
    }

    fn class_named(&self, of: &Expr) -> Option<Rc<Class>> {
        let Node::Name(name) = &of.node else { return None };
        if self.local(name).is_some() || self.this().is_some_and(|t| t.class.field(name).is_some())
        {
            return None;
        }
        self.classes.get(name).cloned()
    }

    fn called(&mut self, of: Option<&Expr>, name: &str, given: &[Expr], line: usize) -> Ran<Value> {
        let Some(of) = of else {
            let given = self.eval_all(given)?;
            self.at(line);
            let this = self.this();
            let own = this.as_ref().map(|t| t.class.clone());
            if let Some((class, method)) = own.as_ref().and_then(|c| c.method(name).map(|m| (c, m)))
            {
                return self.invoke(class, this, method, given);
            }
            return match name {
                "println" => {
                    self.said.push(given.iter().map(Value::spoken).collect());
                    Ok(Value::Null)
                }
                "listOf" | "mutableListOf" => Ok(Value::List(Rc::new(RefCell::new(given)))),
                _ => self.new_value(name, given),
            };
        };
        // System.out.println and its like: what is printed is what matters.
        let printed = matches!(&of.node, Node::Member(system, out) if out == "out" && matches!(&system.node, Node::Name(n) if n == "System"));
        if printed {
            let given = self.eval_all(given)?;
            self.said.push(given.iter().map(Value::spoken).collect());
            return Ok(Value::Null);
        }
        if let Some(class) = self.class_named(of) {
            let given = self.eval_all(given)?;
            self.at(line);
            return match class.method(name) {
                Some(method) => self.invoke(&class, None, method, given),
                None => Err(self.raise("NoSuchMethodError", name.into())),
            };
        }
        if let Node::Name(kind) = &of.node
            && self.local(kind).is_none()
            && library::is_type(Language::Java, kind)
        {
            let given = self.eval_all(given)?;
            self.at(line);
            return self.library(library::call_type(kind, name, &given), name);
        }
        let value = self.eval(of)?;
        let given = self.eval_all(given)?;
        self.at(line);
        match &value {
            Value::Object(object) => {
                let class = object.class.clone();
                match class.method(name) {
                    Some(method) => self.invoke(&class, Some(object.clone()), method, given),
                    None => Err(self.raise("NoSuchMethodError", format!("{}.{name}", class.name))),
                }
            }
            Value::Null => Err(self.nothing_there(name, of)),
            Value::Raised(raised) if name == "getMessage" => {
                Ok(raised.message.as_deref().map_or(Value::Null, Value::text))
            }
            other => self.library(library::call(other, name, &given), name),
        }
    }

    fn library(&self, done: Option<Result<Value, library::Trouble>>, name: &str) -> Ran<Value> {
        match done {
            Some(Ok(value)) => Ok(value),
            Some(Err(trouble)) => Err(self.raise_inside(trouble)),
            None => Err(self.raise("NoSuchMethodError", name.into())),
        }
    }

    fn new_value(&mut self, kind: &str, given: Vec<Value>) -> Ran<Value> {
        match kind {
            "ArrayList" => Ok(Value::List(Rc::default())),
            "HashMap" => Ok(Value::Map(Rc::default())),
            _ if kind.ends_with("Exception") => {
                let message = given
                    .first()
                    .filter(|v| !matches!(v, Value::Raised(_) | Value::Null))
                    .map(Value::spoken);
                let cause = given
                    .iter()
                    .find_map(|v| if let Value::Raised(r) = v { Some(r.clone()) } else { None });
                let raised = self.raise(kind, String::new());
                let message = message.or_else(|| cause.as_ref().map(|c| c.sentence()));
                Ok(Value::Raised(Rc::new(Raised { message, cause, ..(*raised).clone() })))
            }
            _ => self.construct(kind, given),
        }
    }

    fn binary(&mut self, sign: &str, left: &Expr, right: &Expr) -> Ran<Value> {
        match sign {
            "&&" => return Ok(Value::Bool(self.is_true(left)? && self.is_true(right)?)),
            "||" => return Ok(Value::Bool(self.is_true(left)? || self.is_true(right)?)),
            "?:" => {
                return match self.eval(left)? {
                    Value::Null => self.eval(right),
                    value => Ok(value),
                };
            }
            _ => {}
        }
        let (left, right) = (self.eval(left)?, self.eval(right)?);
        self.join(sign, left, right)
    }

    fn join(&mut self, sign: &str, left: Value, right: Value) -> Ran<Value> {
        Ok(match (sign, &left, &right) {
            ("==", ..) => Value::Bool(left.equals(&right)),
            ("!=", ..) => Value::Bool(!left.equals(&right)),
            ("+", Value::Text(_), _) | ("+", _, Value::Text(_)) => {
                Value::text(&(left.spoken() + &right.spoken()))
            }
            ("/" | "%", Value::Int(_), Value::Int(0)) => {
                return Err(self.raise("ArithmeticException", "/ by zero".into()));
            }
            (_, Value::Int(a), Value::Int(b)) => match sign {
                "+" => Value::Int(a.wrapping_add(*b)),
                "-" => Value::Int(a.wrapping_sub(*b)),
                "*" => Value::Int(a.wrapping_mul(*b)),
                "/" => Value::Int(a.wrapping_div(*b)),
                "%" => Value::Int(a.wrapping_rem(*b)),
                "<" => Value::Bool(a < b),
                ">" => Value::Bool(a > b),
                "<=" => Value::Bool(a <= b),
                _ => Value::Bool(a >= b),
            },
            (_, Value::Int(_) | Value::Float(_), Value::Int(_) | Value::Float(_)) => {
                let number = |v: &Value| {
                    if let Value::Int(n) = v {
                        *n as f64
                    } else if let Value::Float(n) = v {
                        *n
                    } else {
                        0.0
                    }
                };
                let (a, b) = (number(&left), number(&right));
                match sign {
                    "+" => Value::Float(a + b),
                    "-" => Value::Float(a - b),
                    "*" => Value::Float(a * b),
                    "/" => Value::Float(a / b),
                    "<" => Value::Bool(a < b),
                    ">" => Value::Bool(a > b),
                    _ => Value::Bool(a >= b),
                }
            }
            _ => return Err(self.raise("NullPointerException", String::new())),
        })
    }
}

/// Whether a handler for `wanted` takes an exception with the full name `raised`.
fn catches(wanted: &str, raised: &str) -> bool {
    matches!(wanted, "Exception" | "Throwable")
        || (wanted == "RuntimeException" && !raised.ends_with("Error"))
        || raised.rsplit('.').next() == Some(wanted)
}

//! What a source says, as a tree that all three languages share.

use super::Spot;

/// A type by its name, with what it is a list or map of.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Type {
    /// Its name; empty when it is to be found out.
    pub name: String,
    /// What stands in angle brackets.
    pub of: Vec<Type>,
}

impl Type {
    /// A type without anything in angle brackets.
    pub fn named(name: &str) -> Type {
        Type { name: name.into(), of: Vec::new() }
    }

    /// Whether nothing is known of it.
    pub fn is_unknown(&self) -> bool {
        self.name.is_empty() || self.name == "var"
    }

    /// The type as sources spell it.
    pub fn spelt(&self) -> String {
        if self.of.is_empty() {
            return self.name.clone();
        }
        format!("{}<{}>", self.name, self.of.iter().map(Type::spelt).collect::<Vec<_>>().join(","))
    }
}

/// A class with its fields and methods.
#[derive(Debug, Clone)]
pub struct Class {
    /// Its file as the name was given.
    pub file: String,
    /// The namespace that it stands in, if any.
    pub space: String,
    /// Its name.
    pub name: String,
    /// Its fields, in the order of the source.
    pub fields: Vec<Field>,
    /// Its methods; a constructor has the name of the class.
    pub methods: Vec<Method>,
}

impl Class {
    /// Its name with its namespace.
    pub fn full(&self) -> String {
        if self.space.is_empty() {
            self.name.clone()
        } else {
            format!("{}.{}", self.space, self.name)
        }
    }

    /// The field of that name.
    pub fn field(&self, name: &str) -> Option<&Field> {
        self.fields.iter().find(|f| f.name == name)
    }

    /// The method of that name.
    pub fn method(&self, name: &str) -> Option<&Method> {
        self.methods.iter().find(|m| m.name == name)
    }
}

/// A field of a class, and what it begins with.
#[derive(Debug, Clone)]
pub struct Field {
    /// Its type.
    pub kind: Type,
    /// Where the type stands.
    pub at: Spot,
    /// Its name.
    pub name: String,
    /// Belongs to the type, not to an instance.
    pub of_type: bool,
    /// Not open to others.
    pub private: bool,
    /// Set later, and an error when read before.
    pub late: bool,
    /// What it begins with.
    pub value: Option<Expr>,
}

/// A method of a class, or a function outside one.
#[derive(Debug, Clone)]
pub struct Method {
    /// What it gives back.
    pub gives: Type,
    /// Where that type stands.
    pub at: Spot,
    /// Its name.
    pub name: String,
    /// Belongs to the type, not to an instance.
    pub of_type: bool,
    /// Not open to others.
    pub private: bool,
    /// Its parameters.
    pub takes: Vec<(Type, String, Spot)>,
    /// What it does.
    pub body: Vec<Step>,
}

/// A statement with its place.
#[derive(Debug, Clone)]
pub struct Step {
    /// Where it begins.
    pub at: Spot,
    /// What it does.
    pub what: What,
}

/// What a statement does when it is run.
#[derive(Debug, Clone)]
pub enum What {
    /// Makes a local variable.
    Local(Type, String, Spot, Option<Expr>),
    /// Computes something.
    Do(Expr),
    /// Gives a value back.
    Return(Option<Expr>),
    /// Chooses.
    If(Expr, Vec<Step>, Vec<Step>),
    /// Repeats.
    While(Expr, Vec<Step>),
    /// Goes through a list.
    Each(Type, String, Expr, Vec<Step>),
    /// Raises an exception.
    Throw(Expr),
    /// Catches exceptions of a type under a name.
    Try(Vec<Step>, Type, String, Vec<Step>),
    /// Chooses by a value; the last is for all others.
    Switch(Expr, Vec<(Vec<Expr>, Vec<Step>)>, Option<Vec<Step>>),
    /// Leaves a choice.
    Break,
    /// Several.
    Block(Vec<Step>),
}

/// An expression with its place.
#[derive(Debug, Clone)]
pub struct Expr {
    /// Where a compiler points when something is wrong with it.
    pub at: Spot,
    /// What it computes.
    pub node: Node,
}

/// What an expression computes when it is run.
#[derive(Debug, Clone)]
pub enum Node {
    /// A whole number.
    Int(i64),
    /// A number with a point.
    Float(f64),
    /// A text.
    Text(String),
    /// Yes or no.
    Bool(bool),
    /// Nothing.
    Null,
    /// The object itself.
    This,
    /// A name.
    Name(String),
    /// A member of something.
    Member(Box<Expr>, String),
    /// A call, of something or of this.
    Call(Option<Box<Expr>>, String, Vec<Expr>),
    /// A new object.
    New(Type, Vec<Expr>),
    /// An element of a list or map.
    Element(Box<Expr>, Box<Expr>),
    /// Two values joined by a sign.
    Binary(&'static str, Box<Expr>, Box<Expr>),
    /// `!` or `-`.
    Unary(&'static str, Box<Expr>),
    /// A value set: `=`, `+=` or `-=`.
    Set(&'static str, Box<Expr>, Box<Expr>),
    /// A value that must be there.
    Sure(Box<Expr>),
}

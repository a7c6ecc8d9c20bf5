//! Python.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children, unquoted};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

const INSERTED: &[&str] = &["interpolation"];

pub static GRAMMAR: Grammar = Grammar {
    id: "python",
    load: || tree_sitter_python::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: Places {
        blocks: &["module", "block"],
        lists: &["list", "dictionary"],
        branches: &["elif_clause", "else_clause"],
        if_empty: Some("pass"),
    },
};

/// How each kind of node is written; all others are when nothing is said.
static NODES: &[Row] = &[
    (&["identifier"], Name),
    (&["string"], Text(INSERTED)),
    (&["integer", "float"], Word(Kind::Num)),
    (&["true", "false"], Called(Kind::Bool)),
    (&["none"], Leaf(Kind::Nil)),
    (&["attribute"], Field { owner: "object", name: "attribute" }),
    (&["subscript"], Parts(Kind::Index, &["value", "subscript"])),
    (&["call"], By(call)),
    (&["keyword_argument"], By(keyword_argument)),
    (&["assignment"], By(assignment)),
    (&["augmented_assignment"], By(augmented_assignment)),
    (&["named_expression"], Assign(0, "name", "value")),
    (&["function_definition", "lambda"], By(function_definition)),
    (&["decorated_definition"], By(decorated_definition)),
    (&["class_definition"], By(class_definition)),
    (&["list", "dictionary", "set", "tuple"], All(Kind::Table)),
    (&["pair"], By(pair)),
    (&["binary_operator", "boolean_operator"], Binary),
    (&["comparison_operator"], By(comparison_operator)),
    (&["not_operator", "unary_operator"], By(not_operator)),
    (&["delete_statement"], Named(Kind::Un, "del")),
    (&["return_statement", "yield"], All(Kind::Return)),
    (&["raise_statement", "assert_statement"], All(Kind::Throw)),
    (&["if_statement", "elif_clause"], By(if_statement)),
    (&["conditional_expression"], All(Kind::If)),
    (&["for_statement", "for_in_clause"], By(for_statement)),
    (&["while_statement"], Loop(&["condition"], "body")),
    (&["try_statement"], By(try_statement)),
    (&["with_item"], By(with_item)),
    (&["import_statement"], By(import_statement)),
    (&["import_from_statement"], By(import_from_statement)),
    (&["global_statement", "nonlocal_statement"], Nothing),
    (&["block"], Block),
    (&["break_statement", "continue_statement"], Leaf(Kind::Leave)),
    (&["expression_statement", "parenthesized_expression"], Through),
    (&["type", "comment", "pass_statement"], Nothing),
];

fn call(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let called = part("function");
    let line = called
        .and_then(|c| c.child_by_field_name("attribute"))
        .unwrap_or(node)
        .start_position()
        .row as u32
        + 1;
    w.with_line(Kind::Call, 0, None, node, line, |w| {
        w.part(node, "function");
        if let Some(arguments) = part("arguments") {
            if arguments.kind() == "generator_expression" {
                w.node(arguments)
            } else {
                w.each(arguments)
            }
        }
    });
}

fn keyword_argument(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name").map(|n| w.text(n));
    w.with(Kind::Pair, 0, name, node, |w| w.part(node, "value"));
}

fn assignment(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let targets = part("left").map(spread).unwrap_or_default();
    let values = part("right").map(spread).unwrap_or_default();
    w.assign(node, 0, &targets, &values);
}

fn augmented_assignment(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let targets = part("left").map(spread).unwrap_or_default();
    let values = part("right").map(spread).unwrap_or_default();
    w.assign(node, Flag::Augmented as u16, &targets, &values);
}

fn function_definition(w: &mut Writer<'_>, node: Node<'_>) {
    function(w, node, 0)
}

fn decorated_definition(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let marks: Vec<&str> =
        children(node).into_iter().filter(|c| c.kind() == "decorator").map(|c| w.text(c)).collect();
    let fixed = marks.iter().any(|m| m.contains("staticmethod") || m.contains("classmethod"));
    match part("definition") {
        Some(inner) if inner.kind() == "function_definition" => {
            function(w, inner, if fixed { Flag::Static as u16 } else { 0 })
        }
        Some(inner) => w.node(inner),
        None => {}
    }
}

fn class_definition(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name").map(|n| w.text(n));
    w.with(Kind::Class, 0, name, node, |w| {
        if let Some(bases) = part("superclasses") {
            w.with(Kind::Bases, 0, None, bases, |w| w.each(bases));
        }
        if let Some(body) = part("body") {
            w.each(body);
        }
    });
}

fn pair(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let text = part("key")
        .filter(|k| matches!(k.kind(), "string" | "integer"))
        .map(|k| unquoted(w.text(k)));
    w.with(Kind::Pair, 0, text, node, |w| {
        if text.is_none() {
            w.part(node, "key");
        }
        w.part(node, "value");
    });
}

fn comparison_operator(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let sign = part("operators").map_or("", |o| w.text(o));
    w.with(Kind::Bin, 0, Some(sign), node, |w| w.each(node));
}

fn not_operator(w: &mut Writer<'_>, node: Node<'_>) {
    let sign = node.child(0).map_or("", |o| w.text(o));
    w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "argument"));
}

fn if_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::If, 0, None, node, |w| {
        w.part(node, "condition");
        w.body(part("consequence"));
        let mut cursor = node.walk();
        for other in node.children_by_field_name("alternative", &mut cursor) {
            match other.child_by_field_name("body") {
                Some(body) => w.block(body),
                None => w.node(other),
            }
        }
    });
}

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::ForIn, 0, None, node, |w| {
        let targets = part("left").map(spread).unwrap_or_default();
        w.list(Kind::Targets, node, &targets);
        w.part(node, "right");
        w.body(part("body"));
    });
}

fn try_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Try, 0, None, node, |w| {
        w.body(part("body"));
        for clause in children(node).into_iter().filter(|c| c.kind() != "block") {
            w.body(child(clause, "block"));
        }
    });
}

fn with_item(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match part("value") {
        Some(value) if value.kind() == "as_pattern" => {
            let named = value.child_by_field_name("alias").map(children).unwrap_or_default();
            let value: Vec<Node<'_>> = children(value).into_iter().take(1).collect();
            w.assign(node, 0, &named, &value);
        }
        _ => w.each(node),
    }
}

fn import_statement(w: &mut Writer<'_>, node: Node<'_>) {
    for one in children(node) {
        let module = one.child_by_field_name("name").unwrap_or(one);
        let text = w.text(module);
        w.with(Kind::Import, Flag::Whole as u16, Some(text), node, |w| {
            let name = one
                .child_by_field_name("alias")
                .or_else(|| children(module).into_iter().next())
                .unwrap_or(module);
            w.name(name);
        });
    }
}

fn import_from_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let module = part("module_name");
    let text = module.map(|m| w.text(m));
    w.with(Kind::Import, 0, text, node, |w| {
        let mut cursor = node.walk();
        for one in node.children_by_field_name("name", &mut cursor) {
            let name = one.child_by_field_name("alias").unwrap_or(one);
            w.name(name);
        }
    });
}

/// `a, b` as two.
fn spread(node: Node<'_>) -> Vec<Node<'_>> {
    if matches!(node.kind(), "pattern_list" | "tuple_pattern" | "list_pattern" | "expression_list")
    {
        children(node)
    } else {
        vec![node]
    }
}

fn function(w: &mut Writer<'_>, node: Node<'_>, flags: u16) {
    let name = node.child_by_field_name("name").map(|n| w.text(n));
    let mut flags = flags;
    if name == Some("__init__") {
        flags |= Flag::Constructor as u16;
    }
    let member = node
        .parent()
        .and_then(|p| if p.kind() == "decorated_definition" { p.parent() } else { Some(p) })
        .and_then(|p| p.parent());
    if member.is_some_and(|p| p.kind() == "class_definition") {
        flags |= Flag::Member as u16;
        if flags & Flag::Static as u16 == 0 {
            flags |= Flag::Method as u16;
        }
    }
    w.with(Kind::Func, flags, name, node, |w| {
        let parameters = node.child_by_field_name("parameters");
        w.with(Kind::Params, 0, None, parameters.unwrap_or(node), |w| {
            for p in parameters.map(children).unwrap_or_default() {
                let named = p
                    .child_by_field_name("name")
                    .or_else(|| children(p).into_iter().next())
                    .unwrap_or(p);
                let text = w.text(named).trim_start_matches('*');
                w.with(Kind::Param, 0, Some(text), p, |w| w.part(p, "value"));
            }
        });
        w.function_body(node.child_by_field_name("body"));
    });
}

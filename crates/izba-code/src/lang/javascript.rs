//! JavaScript and TypeScript.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children, has, unquoted};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

const INSERTED: &[&str] = &["template_substitution"];

pub const PLACES: Places = Places {
    blocks: &["program", "statement_block", "class_body", "switch_body"],
    lists: &["array", "object"],
    branches: &["else_clause"],
    if_empty: None,
};

pub static GRAMMAR: Grammar = Grammar {
    id: "javascript",
    load: || tree_sitter_javascript::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: PLACES,
};

/// How each kind of node is written; all others are when nothing is said.
pub static NODES: &[Row] = &[
    (
        &[
            "identifier",
            "this",
            "super",
            "property_identifier",
            "private_property_identifier",
            "type_identifier",
            "shorthand_property_identifier_pattern",
        ],
        Name,
    ),
    (&["shorthand_property_identifier"], By(shorthand_property_identifier)),
    (&["string", "template_string"], Text(INSERTED)),
    (&["number"], Word(Kind::Num)),
    (&["regex"], Leaf(Kind::Other)),
    (&["true", "false"], Called(Kind::Bool)),
    (&["null", "undefined"], Called(Kind::Nil)),
    (&["member_expression"], By(member_expression)),
    (&["subscript_expression"], Parts(Kind::Index, &["object", "index"])),
    (&["call_expression"], By(call)),
    (&["new_expression"], By(new_expression)),
    (&["lexical_declaration", "variable_declaration"], Through),
    (&["variable_declarator"], By(variable_declarator)),
    (&["assignment_expression"], Assign(0, "left", "right")),
    (&["augmented_assignment_expression"], Assign(Flag::Augmented as u16, "left", "right")),
    (
        &[
            "function_declaration",
            "generator_function_declaration",
            "function_expression",
            "generator_function",
            "arrow_function",
            "method_definition",
        ],
        By(function),
    ),
    (
        &[
            "class_declaration",
            "class",
            "abstract_class_declaration",
            "interface_declaration",
            "enum_declaration",
        ],
        By(class_declaration),
    ),
    (&["field_definition", "public_field_definition"], By(field_definition)),
    (&["class_static_block"], By(class_static_block)),
    (&["object", "array"], All(Kind::Table)),
    (&["pair"], By(pair)),
    (&["binary_expression"], Binary),
    (&["unary_expression", "update_expression"], By(unary_expression)),
    (&["return_statement"], All(Kind::Return)),
    (&["throw_statement"], All(Kind::Throw)),
    (&["if_statement"], By(if_statement)),
    (&["ternary_expression"], All(Kind::If)),
    (&["for_statement"], By(for_statement)),
    (&["for_in_statement"], By(for_in_statement)),
    (&["while_statement", "do_statement"], Loop(&["condition"], "body")),
    (&["try_statement"], By(try_statement)),
    (&["import_statement"], By(import_statement)),
    (&["export_statement"], By(export_statement)),
    (&["statement_block"], Block),
    (&["break_statement", "continue_statement"], Leaf(Kind::Leave)),
    (&["expression_statement", "parenthesized_expression"], Through),
    // A component in a page's markup is handed its attributes; plain elements are no calls.
    (&["jsx_self_closing_element", "jsx_opening_element"], By(markup)),
    (&["jsx_closing_element"], Nothing),
    // What TypeScript says of a value beside it.
    (&["non_null_expression", "as_expression", "satisfies_expression"], Through),
    (&["type_annotation", "type_arguments", "type_parameters"], Nothing),
    (&["comment"], Nothing),
];

fn shorthand_property_identifier(w: &mut Writer<'_>, node: Node<'_>) {
    let text = w.text(node);
    w.with(Kind::Pair, 0, Some(text), node, |w| w.name(node));
}

fn member_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(name) = part("property") {
        w.field(
            node,
            part("object"),
            name,
            if part("optional_chain").is_some() { Flag::Lenient as u16 } else { 0 },
        );
    }
}

fn new_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let maker = part("constructor");
    let name = maker.map(|m| m.child_by_field_name("property").unwrap_or(m)).map(|m| w.text(m));
    w.with(Kind::New, 0, name, node, |w| {
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
    });
}

fn variable_declarator(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let targets = part("name").map(|n| pattern(n)).unwrap_or_default();
    let value: Vec<Node<'_>> = part("value").into_iter().collect();
    // Names taken out of a module are brought in from there.
    if let Some(module) = value.first().and_then(|v| required(w, *v)) {
        let module = unquoted(w.text(module)).to_owned();
        let parts = part("name").is_some_and(|n| n.kind() == "object_pattern");
        w.with(
            Kind::Import,
            if parts { 0 } else { Flag::Whole as u16 },
            Some(&module),
            node,
            |w| targets.iter().for_each(|t| w.name(*t)),
        );
        return;
    }
    w.assign(node, Flag::Local as u16, &targets, &value);
}

fn class_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name").map(|n| w.text(n));
    w.with(Kind::Class, 0, name, node, |w| {
        if let Some(bases) = child(node, "class_heritage") {
            w.with(Kind::Bases, 0, None, bases, |w| w.each(bases));
        }
        if let Some(body) = part("body") {
            w.each(body);
        }
    });
}

fn field_definition(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let targets: Vec<Node<'_>> = part("property").or(part("name")).into_iter().collect();
    let values: Vec<Node<'_>> = part("value").into_iter().collect();
    let fixed = if has(node, "static") { Flag::Static as u16 } else { 0 };
    w.assign(node, Flag::Member as u16 | fixed, &targets, &values);
}

fn class_static_block(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.body(part("body"))
}

fn pair(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let (key, value) = (part("key"), part("value"));
    let text = key
        .filter(|k| matches!(k.kind(), "property_identifier" | "string" | "number"))
        .map(|k| unquoted(w.text(k)));
    w.with(Kind::Pair, 0, text, node, |w| {
        if let Some(key) = key.filter(|_| text.is_none()) {
            w.each(key);
        }
        if let Some(value) = value {
            w.node(value);
        }
    });
}

fn unary_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let sign = part("operator").map_or("", |o| w.text(o));
    if sign == "delete" || node.kind() == "update_expression" {
        let targets: Vec<Node<'_>> = part("argument").into_iter().collect();
        if sign == "delete" {
            w.with(Kind::Un, 0, Some("delete"), node, |w| w.part(node, "argument"));
        } else {
            w.assign(node, Flag::Augmented as u16, &targets, &[]);
        }
        return;
    }
    w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "argument"));
}

fn if_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::If, 0, None, node, |w| {
        w.part(node, "condition");
        w.body(part("consequence"));
        if let Some(other) = part("alternative") {
            let inner = children(other).into_iter().next();
            if inner.is_some_and(|i| i.kind() == "if_statement") {
                w.each(other)
            } else {
                w.body(inner)
            }
        }
    });
}

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::For, 0, None, node, |w| {
        let declared = part("initializer").and_then(|i| child(i, "variable_declarator"));
        let target: Vec<Node<'_>> =
            declared.and_then(|d| d.child_by_field_name("name")).into_iter().collect();
        w.list(Kind::Targets, node, &target);
        match declared.and_then(|d| d.child_by_field_name("value")) {
            Some(start) => w.node(start),
            None => w.leaf(Kind::Other, 0, None, node),
        }
        match part("condition") {
            Some(condition) => w.node(condition),
            None => w.leaf(Kind::Other, 0, None, node),
        }
        w.body(part("body"));
        w.part(node, "increment");
    });
}

fn for_in_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::ForIn, 0, None, node, |w| {
        let targets = part("left").map(|n| pattern(n)).unwrap_or_default();
        w.list(Kind::Targets, node, &targets);
        w.part(node, "right");
        w.body(part("body"));
    });
}

fn try_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Try, 0, None, node, |w| {
        w.body(part("body"));
        if let Some(handler) = part("handler") {
            w.body(handler.child_by_field_name("body"));
        }
        if let Some(last) = part("finalizer") {
            w.body(last.child_by_field_name("body"));
        }
    });
}

fn import_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let module = part("source").map(|s| unquoted(w.text(s)));
    w.with(Kind::Import, 0, module, node, |w| {
        let mut names = Vec::new();
        bindings(node, &mut names);
        names.into_iter().for_each(|n| w.name(n));
    });
}

fn export_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(declaration) = part("declaration").or(part("value")) {
        let flags = Flag::Export as u16;
        let before = w.with(Kind::Other, flags, None, node, |w| w.node(declaration));
        w.mark(before, Flag::Export);
    } else {
        w.with(Kind::Other, Flag::Export as u16, None, node, |w| {
            for one in child(node, "export_clause").map(children).unwrap_or_default() {
                let name = one.child_by_field_name("alias").or(one.child_by_field_name("name"));
                if let Some(inner) = one.child_by_field_name("name") {
                    let text = name.map(|n| w.text(n));
                    w.with(Kind::Pair, Flag::Export as u16, text, one, |w| w.name(inner));
                }
            }
        });
    }
}

/// `require("./x")`, also with something taken out of it: the text that names the module.
fn required<'n>(w: &Writer<'_>, node: Node<'n>) -> Option<Node<'n>> {
    let called = node
        .child_by_field_name("function")
        .filter(|f| node.kind() == "call_expression" && w.text(*f) == "require");
    called?;
    children(node.child_by_field_name("arguments")?)
        .into_iter()
        .next()
        .filter(|m| m.kind() == "string")
}

fn call(w: &mut Writer<'_>, node: Node<'_>) {
    if let Some(module) = required(w, node) {
        let text = unquoted(w.text(module));
        w.leaf(Kind::Import, 0, Some(text), node);
        return;
    }
    let called = node.child_by_field_name("function");
    let line =
        called.and_then(|c| c.child_by_field_name("property")).unwrap_or(node).start_position().row
            as u32
            + 1;
    let flags =
        if node.child_by_field_name("optional_chain").is_some() { Flag::Lenient as u16 } else { 0 };
    w.with_line(Kind::Call, flags, None, node, line, |w| {
        w.part(node, "function");
        if let Some(arguments) = node.child_by_field_name("arguments") {
            if arguments.kind() == "template_string" {
                w.node(arguments)
            } else {
                w.each(arguments)
            }
        }
    });
}

/// A tag in markup: that of a component is a call with one table, its attributes.
fn markup(w: &mut Writer<'_>, node: Node<'_>) {
    let name = node.child_by_field_name("name");
    let is_component = |n: &Node<'_>| {
        n.kind() != "jsx_namespace_name"
            && (n.kind() != "identifier" || w.text(*n).starts_with(char::is_uppercase))
    };
    let Some(name) = name.filter(is_component) else {
        w.each(node);
        return;
    };
    let attributes: Vec<Node<'_>> = children(node)
        .into_iter()
        .filter(|c| matches!(c.kind(), "jsx_attribute" | "jsx_expression"))
        .collect();
    w.with(Kind::Call, 0, None, node, |w| {
        w.node(name);
        if !attributes.is_empty() {
            w.with(Kind::Table, 0, None, node, |w| {
                attributes.iter().for_each(|a| attribute(w, *a))
            });
        }
    });
}

/// One attribute of a component: what it is called and what it is handed, or all of a table at once.
fn attribute(w: &mut Writer<'_>, node: Node<'_>) {
    if node.kind() == "jsx_expression" {
        w.each(node);
        return;
    }
    let parts = children(node);
    let name = parts.first().map(|n| w.text(*n));
    w.with(Kind::Pair, 0, name, node, |w| match parts.get(1) {
        Some(value) if value.kind() == "jsx_expression" => w.each(*value),
        Some(value) => w.node(*value),
        None => w.leaf(Kind::Bool, 0, Some("true"), node),
    });
}

fn function(w: &mut Writer<'_>, node: Node<'_>) {
    let name = node.child_by_field_name("name").map(|n| w.text(n));
    let mut flags = if node.kind() == "method_definition" {
        Flag::Member as u16 | Flag::Method as u16
    } else {
        0
    };
    if has(node, "static") {
        flags = flags & !(Flag::Method as u16) | Flag::Static as u16;
    }
    if name == Some("constructor") {
        flags |= Flag::Constructor as u16;
    }
    if name.is_some_and(|n| n.starts_with('#')) {
        flags |= Flag::Private as u16;
    }
    w.with(Kind::Func, flags, name, node, |w| {
        let parameters =
            node.child_by_field_name("parameters").or(node.child_by_field_name("parameter"));
        w.with(Kind::Params, 0, None, parameters.unwrap_or(node), |w| {
            let list = parameters
                .map(|p| if p.kind() == "identifier" { vec![p] } else { children(p) })
                .unwrap_or_default();
            for p in list {
                let inner = p.child_by_field_name("pattern").unwrap_or(p);
                let value = p.child_by_field_name("value").or(inner.child_by_field_name("right"));
                let named = inner.child_by_field_name("left").unwrap_or(inner);
                let text = if matches!(named.kind(), "object_pattern" | "array_pattern") {
                    None
                } else {
                    Some(w.text(named).trim_start_matches("..."))
                };
                w.with(Kind::Param, 0, text, p, |w| {
                    if text.is_none() {
                        for n in pattern(named) {
                            let text = w.text(n);
                            w.leaf(Kind::Param, 0, Some(text), n);
                        }
                    }
                    if let Some(value) = value {
                        w.node(value);
                    }
                });
            }
        });
        w.function_body(node.child_by_field_name("body"));
    });
}

/// The names that a pattern binds.
fn pattern(node: Node<'_>) -> Vec<Node<'_>> {
    match node.kind() {
        "object_pattern" | "array_pattern" => {
            children(node).into_iter().flat_map(|c| pattern(c)).collect()
        }
        "pair_pattern" => node.child_by_field_name("value").map(|v| pattern(v)).unwrap_or_default(),
        "assignment_pattern" | "object_assignment_pattern" => {
            node.child_by_field_name("left").map(|v| pattern(v)).unwrap_or_default()
        }
        "rest_pattern" => children(node).into_iter().flat_map(|c| pattern(c)).collect(),
        _ => vec![node],
    }
}

/// The names that an import brings.
fn bindings<'n>(node: Node<'n>, out: &mut Vec<Node<'n>>) {
    for c in children(node) {
        match c.kind() {
            "identifier" => out.push(c),
            "import_specifier" => {
                out.extend(c.child_by_field_name("alias").or(c.child_by_field_name("name")))
            }
            "string" => {}
            _ => bindings(c, out),
        }
    }
}

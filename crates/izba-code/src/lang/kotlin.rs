//! Kotlin, as far as its grammar names the parts.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

const INSERTED: &[&str] = &["interpolation"];

pub static GRAMMAR: Grammar = Grammar {
    id: "kotlin",
    load: || tree_sitter_kotlin_ng::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: Places {
        blocks: &["source_file", "block", "class_body"],
        lists: &[],
        branches: &[],
        if_empty: None,
    },
};

/// How each kind of node is written; all others are when nothing is said.
static NODES: &[Row] = &[
    // The grammar has no words of its own for what is no name.
    (&["identifier"], By(identifier)),
    (&["this_expression", "super_expression"], Name),
    (&["user_type"], By(user_type)),
    (&["string_literal", "multiline_string_literal", "character_literal"], Text(INSERTED)),
    (&["number_literal", "float_literal"], Word(Kind::Num)),
    (&["navigation_expression"], By(navigation_expression)),
    (&["index_expression"], All(Kind::Index)),
    (&["call_expression"], By(call_expression)),
    (&["property_declaration"], By(property_declaration)),
    (&["assignment"], AssignBySign),
    (&["function_declaration", "anonymous_function", "lambda_literal"], By(function_declaration)),
    (&["class_declaration", "object_declaration", "companion_object"], By(class_declaration)),
    (&["enum_entry"], By(enum_entry)),
    (
        &[
            "binary_expression",
            "infix_expression",
            "in_expression",
            "is_expression",
            "as_expression",
            "range_expression",
        ],
        By(binary_expression),
    ),
    (&["unary_expression"], Unary("argument")),
    (&["return_expression"], All(Kind::Return)),
    (&["throw_expression"], All(Kind::Throw)),
    (&["if_expression", "when_expression"], All(Kind::If)),
    (&["for_statement"], By(for_statement)),
    (&["while_statement", "do_while_statement"], All(Kind::While)),
    (&["try_expression"], All(Kind::Try)),
    (&["import"], By(import)),
    (&["package_header", "modifiers", "line_comment", "block_comment", "type_parameters"], Nothing),
    (&["block"], Block),
];

fn identifier(w: &mut Writer<'_>, node: Node<'_>) {
    match w.text(node) {
        "null" => w.leaf(Kind::Nil, 0, None, node),
        word @ ("true" | "false") => w.leaf(Kind::Bool, 0, Some(word), node),
        _ => w.name(node),
    }
}

fn user_type(w: &mut Writer<'_>, node: Node<'_>) {
    let name = child(node, "identifier").unwrap_or(node);
    let text = w.text(name);
    w.leaf(Kind::Type, 0, Some(text), node);
}

fn navigation_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let parts = children(node);
    let lenient = if w.text(node).contains("?.") { Flag::Lenient as u16 } else { 0 };
    match parts.as_slice() {
        [owner, .., name] => w.field(node, Some(*owner), *name, lenient),
        _ => w.each(node),
    }
}

fn call_expression(w: &mut Writer<'_>, node: Node<'_>) {
    w.with(Kind::Call, 0, None, node, |w| {
        for c in children(node) {
            match c.kind() {
                "value_arguments" => children(c).into_iter().for_each(|a| w.each(a)),
                "annotated_lambda" => w.each(c),
                _ => w.node(c),
            }
        }
    });
}

fn property_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let named = child(node, "variable_declaration").and_then(|v| child(v, "identifier"));
    let declared = child(node, "variable_declaration").and_then(|v| children(v).into_iter().nth(1));
    let value = children(node)
        .into_iter()
        .rfind(|c| !matches!(c.kind(), "variable_declaration" | "modifiers" | "getter" | "setter"));
    let flags = modifiers(w, node)
        | if node.parent().is_some_and(|p| p.kind() == "class_body") {
            Flag::Member as u16
        } else {
            Flag::Local as u16
        };
    w.with(Kind::Assign, flags, None, node, |w| {
        let name: Vec<Node<'_>> = named.into_iter().collect();
        let value: Vec<Node<'_>> = value.into_iter().collect();
        w.list(Kind::Targets, node, &name);
        w.list(Kind::Values, node, &value);
        if let Some(declared) = declared {
            w.node(declared);
        }
    });
}

fn function_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let member = node.parent().is_some_and(|p| p.kind() == "class_body");
    let flags =
        modifiers(w, node) | if member { Flag::Member as u16 | Flag::Method as u16 } else { 0 };
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    let text = name.map(|n| w.text(n));
    w.with_line(Kind::Func, flags, text, node, line, |w| {
        let list =
            child(node, "function_value_parameters").or_else(|| child(node, "lambda_parameters"));
        w.with(Kind::Params, 0, None, list.unwrap_or(node), |w| {
            for p in list.map(children).unwrap_or_default() {
                let named = child(p, "identifier").unwrap_or(p);
                let text = w.text(named);
                w.with(Kind::Param, 0, Some(text), p, |w| {
                    children(p).into_iter().skip(1).for_each(|c| w.node(c));
                });
            }
        });
        match child(node, "function_body") {
            Some(body) => w.block(body),
            None => {
                w.with(Kind::Block, 0, None, node, |w| {
                    let steps =
                        children(node).into_iter().filter(|c| c.kind() != "lambda_parameters");
                    if node.kind() == "lambda_literal" {
                        steps.for_each(|c| w.node(c));
                    }
                });
            }
        }
    });
}

fn class_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let text = name.map(|n| w.text(n));
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    w.with_line(Kind::Class, 0, text, node, line, |w| {
        if let Some(bases) = child(node, "delegation_specifiers") {
            w.with(Kind::Bases, 0, None, bases, |w| w.each(bases));
        }
        for p in child(node, "primary_constructor")
            .and_then(|c| child(c, "class_parameters"))
            .map(children)
            .unwrap_or_default()
        {
            if let Some(named) = child(p, "identifier") {
                w.assign(p, Flag::Member as u16, &[named], &[]);
            }
        }
        for body in ["class_body", "enum_class_body"] {
            if let Some(body) = child(node, body) {
                w.each(body);
            }
        }
    });
}

fn enum_entry(w: &mut Writer<'_>, node: Node<'_>) {
    if let Some(name) = child(node, "identifier") {
        w.assign(node, Flag::Member as u16 | Flag::Static as u16, &[name], &[]);
    }
}

fn binary_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let sign = part("operator").map_or("", |o| w.text(o));
    w.with(Kind::Bin, 0, Some(sign), node, |w| w.each(node));
}

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    w.with(Kind::ForIn, 0, None, node, |w| {
        let parts = children(node);
        let target =
            parts.first().and_then(|v| child(*v, "identifier")).into_iter().collect::<Vec<_>>();
        w.list(Kind::Targets, node, &target);
        parts.iter().skip(1).for_each(|c| w.node(*c));
    });
}

fn import(w: &mut Writer<'_>, node: Node<'_>) {
    let text = child(node, "qualified_identifier").map_or("", |n| w.text(n)).to_owned();
    w.with(Kind::Import, 0, Some(&text), node, |w| {
        if let Some(last) =
            child(node, "qualified_identifier").and_then(|q| children(q).into_iter().last())
        {
            w.name(last);
        }
    });
}

fn modifiers(w: &Writer<'_>, node: Node<'_>) -> u16 {
    let text = child(node, "modifiers").map_or("", |m| w.text(m));
    if text.contains("private") { Flag::Private as u16 } else { 0 }
}

//! Java.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

pub static GRAMMAR: Grammar = Grammar {
    id: "java",
    load: || tree_sitter_java::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: Places {
        blocks: &[
            "program",
            "block",
            "class_body",
            "constructor_body",
            "interface_body",
            "switch_block",
        ],
        lists: &["array_initializer"],
        branches: &[],
        if_empty: None,
    },
};

/// How each kind of node is written; all others are when nothing is said.
static NODES: &[Row] = &[
    (&["identifier", "this", "super"], Name),
    (
        &["type_identifier", "integral_type", "floating_point_type", "boolean_type"],
        Word(Kind::Type),
    ),
    (&["string_literal", "character_literal"], Text(&[])),
    (
        &["decimal_integer_literal", "decimal_floating_point_literal", "hex_integer_literal"],
        Word(Kind::Num),
    ),
    (&["true", "false"], Called(Kind::Bool)),
    (&["null_literal"], Leaf(Kind::Nil)),
    (&["field_access"], Field { owner: "object", name: "field" }),
    (&["array_access"], Parts(Kind::Index, &["array", "index"])),
    (&["method_invocation"], By(method_invocation)),
    (&["method_reference"], By(method_reference)),
    (&["object_creation_expression"], By(object_creation_expression)),
    (&["explicit_constructor_invocation"], By(explicit_constructor_invocation)),
    (&["array_creation_expression"], By(array_creation_expression)),
    (&["array_initializer", "element_value_array_initializer"], All(Kind::Table)),
    (&["local_variable_declaration", "field_declaration", "constant_declaration"], By(declaration)),
    (&["assignment_expression"], AssignBySign),
    (&["update_expression"], By(update_expression)),
    (
        &["method_declaration", "constructor_declaration", "compact_constructor_declaration"],
        By(method_declaration),
    ),
    (&["lambda_expression"], By(lambda_expression)),
    (
        &["class_declaration", "interface_declaration", "enum_declaration", "record_declaration"],
        By(class_declaration),
    ),
    (&["enum_constant"], Assign(Flag::Static as u16 | Flag::Member as u16, "name", "arguments")),
    (&["binary_expression"], Binary),
    (&["instanceof_expression"], Named(Kind::Bin, "instanceof")),
    (&["unary_expression"], Unary("operand")),
    (&["cast_expression"], Cast),
    (&["return_statement", "yield_statement"], All(Kind::Return)),
    (&["throw_statement"], All(Kind::Throw)),
    (&["if_statement"], If),
    (&["ternary_expression"], All(Kind::If)),
    (&["for_statement"], By(for_statement)),
    (&["enhanced_for_statement"], By(enhanced_for_statement)),
    (&["while_statement", "do_statement"], Loop(&["condition"], "body")),
    (&["try_statement", "try_with_resources_statement"], By(try_statement)),
    (&["resource"], Assign(Flag::Local as u16, "name", "value")),
    (&["import_declaration"], By(import_declaration)),
    (&["package_declaration"], Nothing),
    (&["block"], Block),
    (&["break_statement", "continue_statement"], Leaf(Kind::Leave)),
    (&["modifiers", "line_comment", "block_comment", "type_parameters"], Nothing),
    (&["expression_statement", "parenthesized_expression"], Through),
];

fn method_invocation(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let Some(name) = part("name") else { return };
    let line = name.start_position().row as u32 + 1;
    w.with_line(Kind::Call, 0, None, node, line, |w| {
        match part("object") {
            Some(object) => w.field(node, Some(object), name, 0),
            None => w.name(name),
        }
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
    });
}

fn method_reference(w: &mut Writer<'_>, node: Node<'_>) {
    let parts = children(node);
    match (parts.first(), parts.last()) {
        (Some(owner), Some(name)) if parts.len() > 1 => w.field(node, Some(*owner), *name, 0),
        _ => w.each(node),
    }
}

fn object_creation_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("type").map(|t| child(t, "type_identifier").unwrap_or(t)).map(|t| w.text(t));
    w.with(Kind::New, 0, name, node, |w| {
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
        if let Some(body) = child(node, "class_body") {
            w.each(body);
        }
    });
}

fn explicit_constructor_invocation(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Call, 0, None, node, |w| {
        w.part(node, "constructor");
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
    });
}

fn array_creation_expression(w: &mut Writer<'_>, node: Node<'_>) {
    w.with(Kind::New, 0, Some("[]"), node, |w| w.each_but(node, &["type"]));
}

fn update_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let targets = children(node);
    w.assign(node, Flag::Augmented as u16, &targets, &[]);
}

fn method_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let mut flags = modifiers(w, node) | Flag::Member as u16;
    if node.kind() != "method_declaration" {
        flags |= Flag::Constructor as u16;
    } else if flags & Flag::Static as u16 == 0 {
        flags |= Flag::Method as u16;
    }
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    let text = name.map(|n| w.text(n));
    w.with_line(Kind::Func, flags, text, node, line, |w| {
        parameters(w, node, part("parameters"));
        w.part(node, "type");
        if let Some(body) = part("body") {
            w.block(body);
        }
    });
}

fn lambda_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Func, 0, None, node, |w| {
        parameters(w, node, part("parameters"));
        w.function_body(part("body"));
    });
}

fn class_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let text = name.map(|n| w.text(n));
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    let flags = modifiers(w, node);
    w.with_line(Kind::Class, flags, text, node, line, |w| {
        let bases: Vec<Node<'_>> =
            [part("superclass"), part("interfaces")].into_iter().flatten().collect();
        if !bases.is_empty() {
            w.list(Kind::Bases, node, &bases);
        }
        if node.kind() == "record_declaration" {
            parameters(w, node, part("parameters"));
        }
        if let Some(body) = part("body") {
            w.each(body);
        }
    });
}

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::For, 0, None, node, |w| {
        let declared = part("init").and_then(|i| i.child_by_field_name("declarator"));
        let target: Vec<Node<'_>> =
            declared.and_then(|d| d.child_by_field_name("name")).into_iter().collect();
        w.list(Kind::Targets, node, &target);
        for bound in [declared.and_then(|d| d.child_by_field_name("value")), part("condition")] {
            match bound {
                Some(bound) => w.node(bound),
                None => w.leaf(Kind::Other, 0, None, node),
            }
        }
        w.body(part("body"));
        w.part(node, "update");
    });
}

fn enhanced_for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::ForIn, 0, None, node, |w| {
        let target: Vec<Node<'_>> = part("name").into_iter().collect();
        w.list(Kind::Targets, node, &target);
        w.part(node, "value");
        w.body(part("body"));
        w.part(node, "type");
    });
}

fn try_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Try, 0, None, node, |w| {
        w.part(node, "resources");
        w.body(part("body"));
        for clause in children(node)
            .into_iter()
            .filter(|c| matches!(c.kind(), "catch_clause" | "finally_clause"))
        {
            w.body(clause.child_by_field_name("body").or_else(|| child(clause, "block")));
        }
    });
}

fn import_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let text = child(node, "scoped_identifier")
        .or_else(|| child(node, "identifier"))
        .map_or("", |n| w.text(n))
        .to_owned();
    let whole = child(node, "asterisk").is_some();
    w.with(Kind::Import, if whole { Flag::Whole as u16 } else { 0 }, Some(&text), node, |w| {
        let last = child(node, "scoped_identifier").and_then(|s| s.child_by_field_name("name"));
        if let Some(last) = last.filter(|_| !whole) {
            w.name(last);
        }
    });
}

fn modifiers(w: &Writer<'_>, node: Node<'_>) -> u16 {
    let text = child(node, "modifiers").map_or("", |m| w.text(m));
    let mut flags = 0;
    for word in text.split_whitespace() {
        flags |= match word {
            "static" => Flag::Static as u16,
            "private" | "protected" => Flag::Private as u16,
            "public" => Flag::Export as u16,
            _ => 0,
        };
    }
    flags
}

fn declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let kind = if node.kind() == "local_variable_declaration" { Flag::Local } else { Flag::Member };
    let flags = kind as u16 | modifiers(w, node);
    for one in children(node).into_iter().filter(|c| c.kind() == "variable_declarator") {
        w.with(Kind::Assign, flags, None, one, |w| {
            let name: Vec<Node<'_>> = one.child_by_field_name("name").into_iter().collect();
            let value: Vec<Node<'_>> = one.child_by_field_name("value").into_iter().collect();
            w.list(Kind::Targets, one, &name);
            w.list(Kind::Values, one, &value);
            w.part(node, "type");
        });
    }
}

fn parameters(w: &mut Writer<'_>, node: Node<'_>, list: Option<Node<'_>>) {
    w.with(Kind::Params, 0, None, list.unwrap_or(node), |w| {
        let parts = list
            .map(|l| if l.kind() == "identifier" { vec![l] } else { children(l) })
            .unwrap_or_default();
        for p in parts {
            let named = p.child_by_field_name("name").unwrap_or(p);
            let text = w.text(named);
            w.with(Kind::Param, 0, Some(text), p, |w| w.part(p, "type"));
        }
    });
}

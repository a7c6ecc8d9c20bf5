//! Java.

use super::{Grammar, Places, Writer, child, children};
use izba_model::code::{Flag, Kind};
use tree_sitter::Node;

pub static GRAMMAR: Grammar = Grammar {
    id: "java",
    load: || tree_sitter_java::LANGUAGE.into(),
    write,
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

fn write(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match node.kind() {
        "identifier" | "this" | "super" => w.name(node),
        "type_identifier" | "integral_type" | "floating_point_type" | "boolean_type" => {
            let text = w.text(node);
            w.leaf(Kind::Type, 0, Some(text), node);
        }
        "string_literal" | "character_literal" => w.string(node, &[]),
        "decimal_integer_literal" | "decimal_floating_point_literal" | "hex_integer_literal" => {
            let text = w.text(node);
            w.leaf(Kind::Num, 0, Some(text), node);
        }
        "true" | "false" => w.leaf(Kind::Bool, 0, Some(node.kind()), node),
        "null_literal" => w.leaf(Kind::Nil, 0, None, node),
        "field_access" => {
            if let Some(name) = part("field") {
                w.field(node, part("object"), name, 0);
            }
        }
        "array_access" => {
            w.with(Kind::Index, 0, None, node, |w| {
                w.part(node, "array");
                w.part(node, "index");
            });
        }
        "method_invocation" => {
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
        "method_reference" => {
            let parts = children(node);
            match (parts.first(), parts.last()) {
                (Some(owner), Some(name)) if parts.len() > 1 => {
                    w.field(node, Some(*owner), *name, 0)
                }
                _ => w.each(node),
            }
        }
        "object_creation_expression" => {
            let name =
                part("type").map(|t| child(t, "type_identifier").unwrap_or(t)).map(|t| w.text(t));
            w.with(Kind::New, 0, name, node, |w| {
                if let Some(arguments) = part("arguments") {
                    w.each(arguments);
                }
                if let Some(body) = child(node, "class_body") {
                    w.each(body);
                }
            });
        }
        "explicit_constructor_invocation" => {
            w.with(Kind::Call, 0, None, node, |w| {
                w.part(node, "constructor");
                if let Some(arguments) = part("arguments") {
                    w.each(arguments);
                }
            });
        }
        "array_creation_expression" => {
            w.with(Kind::New, 0, Some("[]"), node, |w| w.each_but(node, &["type"]));
        }
        "array_initializer" | "element_value_array_initializer" => {
            w.with(Kind::Table, 0, None, node, |w| w.each(node));
        }
        "local_variable_declaration" | "field_declaration" | "constant_declaration" => {
            declaration(w, node)
        }
        "assignment_expression" => {
            let augmented = part("operator").is_some_and(|o| w.text(o) != "=");
            let targets: Vec<Node<'_>> = part("left").into_iter().collect();
            let values: Vec<Node<'_>> = part("right").into_iter().collect();
            w.assign(node, if augmented { Flag::Augmented as u16 } else { 0 }, &targets, &values);
        }
        "update_expression" => {
            let targets = children(node);
            w.assign(node, Flag::Augmented as u16, &targets, &[]);
        }
        "method_declaration" | "constructor_declaration" | "compact_constructor_declaration" => {
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
        "lambda_expression" => {
            w.with(Kind::Func, 0, None, node, |w| {
                parameters(w, node, part("parameters"));
                match part("body") {
                    Some(body) if body.kind() == "block" => w.block(body),
                    Some(body) => {
                        w.with(Kind::Block, 0, None, body, |w| {
                            w.with(Kind::Return, 0, None, body, |w| w.node(body));
                        });
                    }
                    None => {}
                }
            });
        }
        "class_declaration"
        | "interface_declaration"
        | "enum_declaration"
        | "record_declaration" => {
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
        "enum_constant" => {
            let targets: Vec<Node<'_>> = part("name").into_iter().collect();
            let values: Vec<Node<'_>> = part("arguments").into_iter().collect();
            w.assign(node, Flag::Static as u16 | Flag::Member as u16, &targets, &values);
        }
        "binary_expression" => w.binary(node),
        "instanceof_expression" => {
            w.with(Kind::Bin, 0, Some("instanceof"), node, |w| w.each(node));
        }
        "unary_expression" => {
            let sign = part("operator").map_or("", |o| w.text(o));
            w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "operand"));
        }
        "cast_expression" => {
            w.with(Kind::Un, 0, Some("cast"), node, |w| w.part(node, "value"));
        }
        "return_statement" | "yield_statement" => {
            w.with(Kind::Return, 0, None, node, |w| w.each(node));
        }
        "throw_statement" => {
            w.with(Kind::Throw, 0, None, node, |w| w.each(node));
        }
        "if_statement" => {
            w.with(Kind::If, 0, None, node, |w| {
                w.part(node, "condition");
                w.body(part("consequence"));
                match part("alternative") {
                    Some(other) if other.kind() == "if_statement" => w.node(other),
                    other => w.body(other),
                }
            });
        }
        "ternary_expression" => {
            w.with(Kind::If, 0, None, node, |w| w.each(node));
        }
        "for_statement" => {
            w.with(Kind::For, 0, None, node, |w| {
                let declared = part("init").and_then(|i| i.child_by_field_name("declarator"));
                let target: Vec<Node<'_>> =
                    declared.and_then(|d| d.child_by_field_name("name")).into_iter().collect();
                w.list(Kind::Targets, node, &target);
                for bound in
                    [declared.and_then(|d| d.child_by_field_name("value")), part("condition")]
                {
                    match bound {
                        Some(bound) => w.node(bound),
                        None => w.leaf(Kind::Other, 0, None, node),
                    }
                }
                w.body(part("body"));
                w.part(node, "update");
            });
        }
        "enhanced_for_statement" => {
            w.with(Kind::ForIn, 0, None, node, |w| {
                let target: Vec<Node<'_>> = part("name").into_iter().collect();
                w.list(Kind::Targets, node, &target);
                w.part(node, "value");
                w.body(part("body"));
                w.part(node, "type");
            });
        }
        "while_statement" | "do_statement" => {
            w.with(Kind::While, 0, None, node, |w| {
                w.part(node, "condition");
                w.body(part("body"));
            });
        }
        "try_statement" | "try_with_resources_statement" => {
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
        "resource" => {
            let targets: Vec<Node<'_>> = part("name").into_iter().collect();
            let values: Vec<Node<'_>> = part("value").into_iter().collect();
            w.assign(node, Flag::Local as u16, &targets, &values);
        }
        "import_declaration" => {
            let text = child(node, "scoped_identifier")
                .or_else(|| child(node, "identifier"))
                .map_or("", |n| w.text(n))
                .to_owned();
            let whole = child(node, "asterisk").is_some();
            w.with(
                Kind::Import,
                if whole { Flag::Whole as u16 } else { 0 },
                Some(&text),
                node,
                |w| {
                    let last = child(node, "scoped_identifier")
                        .and_then(|s| s.child_by_field_name("name"));
                    if let Some(last) = last.filter(|_| !whole) {
                        w.name(last);
                    }
                },
            );
        }
        "package_declaration" => {}
        "block" => w.block(node),
        "break_statement" | "continue_statement" => w.leaf(Kind::Leave, 0, None, node),
        "modifiers" | "line_comment" | "block_comment" | "type_parameters" => {}
        "expression_statement" | "parenthesized_expression" => w.each(node),
        _ => w.other(node),
    }
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

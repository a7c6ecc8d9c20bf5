//! Python.

use super::{Grammar, Places, Writer, child, children, unquoted};
use izba_model::code::{Flag, Kind};
use tree_sitter::Node;

const INSERTED: &[&str] = &["interpolation"];

pub static GRAMMAR: Grammar = Grammar {
    id: "python",
    load: || tree_sitter_python::LANGUAGE.into(),
    write,
    places: Places {
        blocks: &["module", "block"],
        lists: &["list", "dictionary"],
        branches: &["elif_clause", "else_clause"],
        if_empty: Some("pass"),
    },
};

fn write(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match node.kind() {
        "identifier" => w.name(node),
        "string" => w.string(node, INSERTED),
        "integer" | "float" => {
            let text = w.text(node);
            w.leaf(Kind::Num, 0, Some(text), node);
        }
        "true" | "false" => w.leaf(Kind::Bool, 0, Some(node.kind()), node),
        "none" => w.leaf(Kind::Nil, 0, None, node),
        "attribute" => {
            if let Some(name) = part("attribute") {
                w.field(node, part("object"), name, 0);
            }
        }
        "subscript" => {
            w.with(Kind::Index, 0, None, node, |w| {
                w.part(node, "value");
                w.part(node, "subscript");
            });
        }
        "call" => {
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
        "keyword_argument" => {
            let name = part("name").map(|n| w.text(n));
            w.with(Kind::Pair, 0, name, node, |w| w.part(node, "value"));
        }
        "assignment" => {
            let targets = part("left").map(spread).unwrap_or_default();
            let values = part("right").map(spread).unwrap_or_default();
            w.assign(node, 0, &targets, &values);
        }
        "augmented_assignment" => {
            let targets = part("left").map(spread).unwrap_or_default();
            let values = part("right").map(spread).unwrap_or_default();
            w.assign(node, Flag::Augmented as u16, &targets, &values);
        }
        "named_expression" => {
            let targets: Vec<Node<'_>> = part("name").into_iter().collect();
            let values: Vec<Node<'_>> = part("value").into_iter().collect();
            w.assign(node, 0, &targets, &values);
        }
        "function_definition" | "lambda" => function(w, node, 0),
        "decorated_definition" => {
            let marks: Vec<&str> = children(node)
                .into_iter()
                .filter(|c| c.kind() == "decorator")
                .map(|c| w.text(c))
                .collect();
            let fixed =
                marks.iter().any(|m| m.contains("staticmethod") || m.contains("classmethod"));
            match part("definition") {
                Some(inner) if inner.kind() == "function_definition" => {
                    function(w, inner, if fixed { Flag::Static as u16 } else { 0 })
                }
                Some(inner) => w.node(inner),
                None => {}
            }
        }
        "class_definition" => {
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
        "list" | "dictionary" | "set" | "tuple" => {
            w.with(Kind::Table, 0, None, node, |w| w.each(node));
        }
        "pair" => {
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
        "binary_operator" | "boolean_operator" => w.binary(node),
        "comparison_operator" => {
            let sign = part("operators").map_or("", |o| w.text(o));
            w.with(Kind::Bin, 0, Some(sign), node, |w| w.each(node));
        }
        "not_operator" | "unary_operator" => {
            let sign = node.child(0).map_or("", |o| w.text(o));
            w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "argument"));
        }
        "delete_statement" => {
            w.with(Kind::Un, 0, Some("del"), node, |w| w.each(node));
        }
        "return_statement" | "yield" => {
            w.with(Kind::Return, 0, None, node, |w| w.each(node));
        }
        "raise_statement" | "assert_statement" => {
            w.with(Kind::Throw, 0, None, node, |w| w.each(node));
        }
        "if_statement" | "elif_clause" => {
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
        "conditional_expression" => {
            w.with(Kind::If, 0, None, node, |w| w.each(node));
        }
        "for_statement" | "for_in_clause" => {
            w.with(Kind::ForIn, 0, None, node, |w| {
                let targets = part("left").map(spread).unwrap_or_default();
                w.list(Kind::Targets, node, &targets);
                w.part(node, "right");
                w.body(part("body"));
            });
        }
        "while_statement" => {
            w.with(Kind::While, 0, None, node, |w| {
                w.part(node, "condition");
                w.body(part("body"));
            });
        }
        "try_statement" => {
            w.with(Kind::Try, 0, None, node, |w| {
                w.body(part("body"));
                for clause in children(node).into_iter().filter(|c| c.kind() != "block") {
                    w.body(child(clause, "block"));
                }
            });
        }
        "with_item" => match part("value") {
            Some(value) if value.kind() == "as_pattern" => {
                let named = value.child_by_field_name("alias").map(children).unwrap_or_default();
                let value: Vec<Node<'_>> = children(value).into_iter().take(1).collect();
                w.assign(node, 0, &named, &value);
            }
            _ => w.each(node),
        },
        "import_statement" => {
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
        "import_from_statement" => {
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
        "global_statement" | "nonlocal_statement" => {}
        "block" => w.block(node),
        "break_statement" | "continue_statement" => w.leaf(Kind::Leave, 0, None, node),
        "expression_statement" | "parenthesized_expression" => w.each(node),
        "type" | "comment" | "pass_statement" => {}
        _ => w.other(node),
    }
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
        match node.child_by_field_name("body") {
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

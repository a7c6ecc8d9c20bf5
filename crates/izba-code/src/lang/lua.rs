//! Lua.

use super::{Grammar, Places, Writer, child, children, has, unquoted};
use izba_model::code::{Flag, Kind};
use tree_sitter::Node;

pub static GRAMMAR: Grammar = Grammar {
    id: "lua",
    load: || tree_sitter_lua::LANGUAGE.into(),
    write,
    places: Places {
        blocks: &["chunk", "block"],
        lists: &["table_constructor"],
        branches: &["elseif_statement", "else_statement"],
        if_empty: None,
    },
};

fn write(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match node.kind() {
        "identifier" => w.name(node),
        "string" => w.string(node, &[]),
        "number" => {
            let text = w.text(node);
            w.leaf(Kind::Num, 0, Some(text), node);
        }
        "true" | "false" => w.leaf(Kind::Bool, 0, Some(node.kind()), node),
        "nil" => w.leaf(Kind::Nil, 0, None, node),
        "vararg_expression" => w.leaf(Kind::Name, 0, Some("..."), node),
        "dot_index_expression" => {
            if let Some(name) = part("field") {
                w.field(node, part("table"), name, 0);
            }
        }
        "method_index_expression" => {
            if let Some(name) = part("method") {
                w.field(node, part("table"), name, Flag::Method as u16);
            }
        }
        "bracket_index_expression" => {
            w.with(Kind::Index, 0, None, node, |w| {
                w.part(node, "table");
                w.part(node, "field");
            });
        }
        "function_call" => {
            let colon = part("name").is_some_and(|n| n.kind() == "method_index_expression");
            let line = part("arguments")
                .map_or(node.start_position().row, |a| a.start_position().row)
                as u32
                + 1;
            let require = part("name").is_some_and(|n| matches!(w.text(n), "require" | "dofile"));
            if require
                && let Some(module) = part("arguments")
                    .and_then(|a| children(a).into_iter().next())
                    .filter(|m| m.kind() == "string")
            {
                let text = unquoted(w.text(module));
                w.leaf(Kind::Import, 0, Some(text), node);
                return;
            }
            w.with_line(
                Kind::Call,
                if colon { Flag::Method as u16 } else { 0 },
                None,
                node,
                line,
                |w| {
                    w.part(node, "name");
                    if let Some(arguments) = part("arguments") {
                        w.each(arguments);
                    }
                },
            );
        }
        "variable_declaration" => {
            let inner = child(node, "assignment_statement");
            let list = inner
                .and_then(|i| child(i, "variable_list"))
                .or_else(|| child(node, "variable_list"));
            let targets: Vec<Node<'_>> = list
                .map(children)
                .unwrap_or_default()
                .into_iter()
                .filter(|c| c.kind() != "attribute")
                .collect();
            let values =
                inner.and_then(|i| child(i, "expression_list")).map(children).unwrap_or_default();
            w.assign(node, Flag::Local as u16, &targets, &values);
        }
        "assignment_statement" => {
            let targets = child(node, "variable_list").map(children).unwrap_or_default();
            let values = child(node, "expression_list").map(children).unwrap_or_default();
            w.assign(node, 0, &targets, &values);
        }
        "function_declaration" | "function_definition" => {
            let name = part("name");
            let colon = name.is_some_and(|n| n.kind() == "method_index_expression");
            let local = if has(node, "local") { Flag::Local as u16 } else { 0 };
            let text = name
                .map(|n| {
                    n.child_by_field_name("field").or(n.child_by_field_name("method")).unwrap_or(n)
                })
                .map(|n| w.text(n));
            let flags = local | if colon { Flag::Method as u16 } else { 0 };
            w.with(Kind::Func, flags, text, node, |w| {
                if let Some(owner) = name.and_then(|n| n.child_by_field_name("table")) {
                    w.list(Kind::Owner, owner, &[owner]);
                }
                w.with(Kind::Params, 0, None, part("parameters").unwrap_or(node), |w| {
                    for p in part("parameters").map(children).unwrap_or_default() {
                        let text = w.text(p);
                        w.leaf(Kind::Param, 0, Some(text), p);
                    }
                });
                w.with(Kind::Block, 0, None, part("body").unwrap_or(node), |w| {
                    if let Some(body) = part("body") {
                        w.each(body);
                    }
                });
            });
        }
        "table_constructor" => {
            w.with(Kind::Table, 0, None, node, |w| w.each(node));
        }
        "field" => match (part("name"), part("value")) {
            (Some(key), Some(value)) => {
                let bare = matches!(key.kind(), "identifier" | "string")
                    && (key.kind() == "string" || !has(node, "["));
                let text = bare.then(|| unquoted(w.text(key)));
                w.with(Kind::Pair, 0, text, node, |w| {
                    if !bare {
                        w.node(key);
                    }
                    w.node(value);
                });
            }
            _ => w.each(node),
        },
        "binary_expression" => {
            // The operator is a word of the grammar without a field in some versions.
            let sign = part("operator").or_else(|| node.child(1)).map_or("", |o| w.text(o));
            w.with(Kind::Bin, 0, Some(sign), node, |w| {
                w.part(node, "left");
                w.part(node, "right");
            });
        }
        "unary_expression" => {
            let sign = node.child(0).map_or("", |o| w.text(o));
            w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "operand"));
        }
        "return_statement" => {
            w.with(Kind::Return, 0, None, node, |w| {
                children(node).into_iter().for_each(|c| {
                    if c.kind() == "expression_list" { w.each(c) } else { w.node(c) }
                });
            });
        }
        "if_statement" | "elseif_statement" => {
            w.with(Kind::If, 0, None, node, |w| {
                w.part(node, "condition");
                w.with(Kind::Block, 0, None, part("consequence").unwrap_or(node), |w| {
                    if let Some(then) = part("consequence") {
                        w.each(then);
                    }
                });
                let mut cursor = node.walk();
                for other in node.children_by_field_name("alternative", &mut cursor) {
                    match other.child_by_field_name("body") {
                        Some(body) if other.kind() == "else_statement" => w.block(body),
                        _ => w.node(other),
                    }
                }
            });
        }
        "for_statement" => {
            let clause = part("clause");
            let counting = clause.is_some_and(|c| c.kind() == "for_numeric_clause");
            w.with(if counting { Kind::For } else { Kind::ForIn }, 0, None, node, |w| {
                if let Some(clause) = clause {
                    if counting {
                        let target: Vec<Node<'_>> =
                            clause.child_by_field_name("name").into_iter().collect();
                        w.list(Kind::Targets, clause, &target);
                        w.part(clause, "start");
                        w.part(clause, "end");
                    } else {
                        let targets =
                            child(clause, "variable_list").map(children).unwrap_or_default();
                        w.list(Kind::Targets, clause, &targets);
                        if let Some(list) = child(clause, "expression_list") {
                            w.each(list);
                        }
                    }
                }
                if let Some(body) = part("body") {
                    w.block(body);
                }
            });
        }
        "while_statement" | "repeat_statement" => {
            w.with(Kind::While, 0, None, node, |w| {
                w.part(node, "condition");
                if let Some(body) = part("body") {
                    w.block(body);
                }
            });
        }
        "do_statement" => {
            if let Some(body) = part("body") {
                w.block(body);
            }
        }
        "block" => w.block(node),
        "break_statement" | "goto_statement" => w.leaf(Kind::Leave, 0, None, node),
        "comment" | "label_statement" | "empty_statement" | "hash_bang_line" => {}
        _ => w.other(node),
    }
}

//! Lua.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children, has, unquoted};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

pub static GRAMMAR: Grammar = Grammar {
    id: "lua",
    load: || tree_sitter_lua::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: Places {
        blocks: &["chunk", "block"],
        lists: &["table_constructor"],
        branches: &["elseif_statement", "else_statement"],
        if_empty: None,
    },
};

/// How each kind of node is written; all others are when nothing is said.
static NODES: &[Row] = &[
    (&["identifier"], Name),
    (&["string"], Text(&[])),
    (&["number"], Word(Kind::Num)),
    (&["true", "false"], Called(Kind::Bool)),
    (&["nil"], Leaf(Kind::Nil)),
    (&["vararg_expression"], By(vararg_expression)),
    (&["dot_index_expression"], Field { owner: "table", name: "field" }),
    (&["method_index_expression"], By(method_index_expression)),
    (&["bracket_index_expression"], Parts(Kind::Index, &["table", "field"])),
    (&["function_call"], By(function_call)),
    (&["variable_declaration"], By(variable_declaration)),
    (&["assignment_statement"], By(assignment_statement)),
    (&["function_declaration", "function_definition"], By(function_declaration)),
    (&["table_constructor"], All(Kind::Table)),
    (&["field"], By(field)),
    (&["binary_expression"], By(binary_expression)),
    (&["unary_expression"], By(unary_expression)),
    (&["return_statement"], By(return_statement)),
    (&["if_statement", "elseif_statement"], By(if_statement)),
    (&["for_statement"], By(for_statement)),
    (&["while_statement", "repeat_statement"], Loop(&["condition"], "body")),
    (&["do_statement"], By(do_statement)),
    (&["block"], Block),
    (&["break_statement", "goto_statement"], Leaf(Kind::Leave)),
    (&["comment", "label_statement", "empty_statement", "hash_bang_line"], Nothing),
];

fn vararg_expression(w: &mut Writer<'_>, node: Node<'_>) {
    w.leaf(Kind::Name, 0, Some("..."), node)
}

fn method_index_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(name) = part("method") {
        w.field(node, part("table"), name, Flag::Method as u16);
    }
}

fn function_call(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let colon = part("name").is_some_and(|n| n.kind() == "method_index_expression");
    let line =
        part("arguments").map_or(node.start_position().row, |a| a.start_position().row) as u32 + 1;
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
    w.with_line(Kind::Call, if colon { Flag::Method as u16 } else { 0 }, None, node, line, |w| {
        w.part(node, "name");
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
    });
}

fn variable_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let inner = child(node, "assignment_statement");
    let list =
        inner.and_then(|i| child(i, "variable_list")).or_else(|| child(node, "variable_list"));
    let targets: Vec<Node<'_>> = list
        .map(children)
        .unwrap_or_default()
        .into_iter()
        .filter(|c| c.kind() != "attribute")
        .collect();
    let values = inner.and_then(|i| child(i, "expression_list")).map(children).unwrap_or_default();
    w.assign(node, Flag::Local as u16, &targets, &values);
}

fn assignment_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let targets = child(node, "variable_list").map(children).unwrap_or_default();
    let values = child(node, "expression_list").map(children).unwrap_or_default();
    w.assign(node, 0, &targets, &values);
}

fn function_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let colon = name.is_some_and(|n| n.kind() == "method_index_expression");
    let local = if has(node, "local") { Flag::Local as u16 } else { 0 };
    let text = name
        .map(|n| n.child_by_field_name("field").or(n.child_by_field_name("method")).unwrap_or(n))
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

fn field(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match (part("name"), part("value")) {
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
    }
}

fn binary_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    // The operator is a word of the grammar without a field in some versions.
    let sign = part("operator").or_else(|| node.child(1)).map_or("", |o| w.text(o));
    w.with(Kind::Bin, 0, Some(sign), node, |w| {
        w.part(node, "left");
        w.part(node, "right");
    });
}

fn unary_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let sign = node.child(0).map_or("", |o| w.text(o));
    w.with(Kind::Un, 0, Some(sign), node, |w| w.part(node, "operand"));
}

fn return_statement(w: &mut Writer<'_>, node: Node<'_>) {
    w.with(Kind::Return, 0, None, node, |w| {
        children(node)
            .into_iter()
            .for_each(|c| if c.kind() == "expression_list" { w.each(c) } else { w.node(c) });
    });
}

fn if_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
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

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
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
                let targets = child(clause, "variable_list").map(children).unwrap_or_default();
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

fn do_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(body) = part("body") {
        w.block(body);
    }
}

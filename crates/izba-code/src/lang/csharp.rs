//! C#.

use super::Rule::*;
use super::{Grammar, Places, Row, Writer, child, children};
use izba_model::code::{Flag, Kind};
use std::sync::OnceLock;
use tree_sitter::Node;

const INSERTED: &[&str] = &["interpolation"];

pub static GRAMMAR: Grammar = Grammar {
    id: "csharp",
    load: || tree_sitter_c_sharp::LANGUAGE.into(),
    nodes: NODES,
    table: OnceLock::new(),
    places: Places {
        blocks: &["compilation_unit", "block", "declaration_list", "switch_body"],
        lists: &["initializer_expression"],
        branches: &[],
        if_empty: None,
    },
};

/// How each kind of node is written; all others are when nothing is said.
static NODES: &[Row] = &[
    (&["identifier", "this", "base"], Name),
    (&["generic_name"], By(generic_name)),
    (&["predefined_type"], Word(Kind::Type)),
    (
        &[
            "string_literal",
            "verbatim_string_literal",
            "raw_string_literal",
            "character_literal",
            "interpolated_string_expression",
        ],
        Text(INSERTED),
    ),
    (&["integer_literal", "real_literal"], Word(Kind::Num)),
    (&["boolean_literal"], Word(Kind::Bool)),
    (&["null_literal"], Leaf(Kind::Nil)),
    (&["member_access_expression"], By(member_access_expression)),
    (&["conditional_access_expression"], By(conditional_access_expression)),
    (&["element_access_expression"], By(element_access_expression)),
    (&["invocation_expression"], By(invocation_expression)),
    (&["argument"], By(argument)),
    (
        &["object_creation_expression", "implicit_object_creation_expression"],
        By(object_creation_expression),
    ),
    (&["array_creation_expression", "implicit_array_creation_expression"], Named(Kind::New, "[]")),
    (&["initializer_expression", "collection_expression"], All(Kind::Table)),
    (&["variable_declaration"], By(variable_declaration)),
    (&["field_declaration", "event_field_declaration"], By(field_declaration)),
    (&["property_declaration"], By(property_declaration)),
    (&["accessor_declaration"], By(accessor_declaration)),
    (&["assignment_expression"], AssignBySign),
    (&["postfix_unary_expression", "prefix_unary_expression"], By(postfix_unary_expression)),
    (
        &[
            "method_declaration",
            "constructor_declaration",
            "local_function_statement",
            "destructor_declaration",
        ],
        By(method_declaration),
    ),
    (&["lambda_expression", "anonymous_method_expression"], By(lambda_expression)),
    (
        &[
            "class_declaration",
            "struct_declaration",
            "interface_declaration",
            "enum_declaration",
            "record_declaration",
        ],
        By(class_declaration),
    ),
    (
        &["enum_member_declaration"],
        Assign(Flag::Static as u16 | Flag::Member as u16, "name", "value"),
    ),
    (&["namespace_declaration"], By(namespace_declaration)),
    (&["binary_expression", "is_expression", "as_expression"], Binary),
    (&["unary_expression"], Unary("argument")),
    (&["cast_expression"], Cast),
    (&["return_statement", "yield_statement", "arrow_expression_clause"], All(Kind::Return)),
    (&["throw_statement", "throw_expression"], All(Kind::Throw)),
    (&["if_statement"], If),
    (&["conditional_expression"], All(Kind::If)),
    (&["for_statement"], By(for_statement)),
    (&["foreach_statement"], By(foreach_statement)),
    (&["while_statement", "do_statement"], Loop(&["condition"], "body")),
    (&["try_statement"], By(try_statement)),
    (&["using_directive"], By(using_directive)),
    (&["block"], Block),
    (&["break_statement", "continue_statement"], Leaf(Kind::Leave)),
    (&["modifier", "comment", "attribute_list"], Nothing),
    // The length of an array that is made.
    (&["array_rank_specifier"], Through),
    (&["expression_statement", "parenthesized_expression", "global_statement"], Through),
];

fn generic_name(w: &mut Writer<'_>, node: Node<'_>) {
    let name = child(node, "identifier").unwrap_or(node);
    w.name(name);
}

fn member_access_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(name) = part("name") {
        let name = child(name, "identifier").unwrap_or(name);
        w.field(node, part("expression"), name, 0);
    }
}

fn conditional_access_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let parts = children(node);
    if let [owner, .., binding] = parts.as_slice() {
        let called = child(*binding, "member_binding_expression").unwrap_or(*binding);
        match called.child_by_field_name("name") {
            Some(name) => w.field(node, Some(*owner), name, Flag::Lenient as u16),
            None => w.each(node),
        }
    }
}

fn element_access_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Index, 0, None, node, |w| {
        w.part(node, "expression");
        if let Some(subscript) = part("subscript") {
            w.each(subscript);
        }
    });
}

fn invocation_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let called = part("function");
    let line =
        called.and_then(|c| c.child_by_field_name("name")).unwrap_or(node).start_position().row
            as u32
            + 1;
    w.with_line(Kind::Call, 0, None, node, line, |w| {
        w.part(node, "function");
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
    });
}

fn argument(w: &mut Writer<'_>, node: Node<'_>) {
    w.each_but(node, &["name"])
}

fn object_creation_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("type").map(|t| child(t, "identifier").unwrap_or(t)).map(|t| w.text(t));
    w.with(Kind::New, 0, name, node, |w| {
        if let Some(arguments) = part("arguments") {
            w.each(arguments);
        }
        w.part(node, "initializer");
    });
}

fn variable_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    declaration(w, node, Flag::Local as u16)
}

fn field_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let flags = modifiers(w, node) | Flag::Member as u16;
    if let Some(inner) = child(node, "variable_declaration") {
        declaration(w, inner, flags);
    }
}

fn property_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let flags = modifiers(w, node) | Flag::Member as u16;
    w.with(Kind::Assign, flags, None, node, |w| {
        let name: Vec<Node<'_>> = part("name").into_iter().collect();
        w.list(Kind::Targets, node, &name);
        let value: Vec<Node<'_>> =
            part("value").filter(|v| v.kind() != "arrow_expression_clause").into_iter().collect();
        w.list(Kind::Values, node, &value);
        w.part(node, "type");
        w.part(node, "accessors");
        if let Some(arrow) = part("value").filter(|v| v.kind() == "arrow_expression_clause") {
            w.each(arrow);
        }
    });
}

fn accessor_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    match part("body") {
        Some(body) if body.kind() == "block" => w.block(body),
        Some(body) => w.each(body),
        None => {}
    }
}

fn postfix_unary_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let whole = w.text(node);
    if whole.contains("++") || whole.contains("--") {
        let targets = children(node);
        w.assign(node, Flag::Augmented as u16, &targets, &[]);
    } else {
        let sign = if whole.starts_with('!') { "!" } else { "-" };
        w.with(Kind::Un, 0, Some(sign), node, |w| w.each(node));
    }
}

fn method_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let mut flags = modifiers(w, node) | Flag::Member as u16;
    match node.kind() {
        "constructor_declaration" => flags |= Flag::Constructor as u16,
        "method_declaration" if flags & Flag::Static as u16 == 0 => flags |= Flag::Method as u16,
        _ => {}
    }
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    let text = name.map(|n| w.text(n));
    w.with_line(Kind::Func, flags, text, node, line, |w| {
        parameters(w, node, part("parameters"));
        w.part(node, "returns");
        if let Some(first) = child(node, "constructor_initializer") {
            w.with(Kind::Call, 0, None, first, |w| {
                w.leaf(Kind::Name, 0, Some("base"), first);
                w.each(first);
            });
        }
        body(w, part("body"));
    });
}

fn lambda_expression(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Func, 0, None, node, |w| {
        parameters(w, node, part("parameters"));
        body(w, part("body").or_else(|| child(node, "block")));
    });
}

fn class_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    let name = part("name");
    let text = name.map(|n| w.text(n));
    let line = name.unwrap_or(node).start_position().row as u32 + 1;
    let flags = modifiers(w, node);
    w.with_line(Kind::Class, flags, text, node, line, |w| {
        if let Some(bases) = child(node, "base_list") {
            w.with(Kind::Bases, 0, None, bases, |w| w.each(bases));
        }
        if let Some(body) = part("body") {
            w.each(body);
        }
    });
}

fn namespace_declaration(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    if let Some(body) = part("body") {
        w.each(body);
    }
}

fn for_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::For, 0, None, node, |w| {
        let declared = part("initializer").and_then(|i| child(i, "variable_declarator"));
        let target: Vec<Node<'_>> =
            declared.and_then(|d| d.child_by_field_name("name")).into_iter().collect();
        w.list(Kind::Targets, node, &target);
        let start = declared.and_then(|d| children(d).into_iter().nth(1));
        for bound in [start, part("condition")] {
            match bound {
                Some(bound) => w.node(bound),
                None => w.leaf(Kind::Other, 0, None, node),
            }
        }
        w.body(part("body"));
        w.part(node, "update");
    });
}

fn foreach_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::ForIn, 0, None, node, |w| {
        let target: Vec<Node<'_>> = part("left").into_iter().collect();
        w.list(Kind::Targets, node, &target);
        w.part(node, "right");
        w.body(part("body"));
        w.part(node, "type");
    });
}

fn try_statement(w: &mut Writer<'_>, node: Node<'_>) {
    let part = |field| node.child_by_field_name(field);
    w.with(Kind::Try, 0, None, node, |w| {
        w.body(part("body"));
        for clause in children(node)
            .into_iter()
            .filter(|c| matches!(c.kind(), "catch_clause" | "finally_clause"))
        {
            w.body(clause.child_by_field_name("body").or_else(|| child(clause, "block")));
        }
    });
}

fn using_directive(w: &mut Writer<'_>, node: Node<'_>) {
    let text = child(node, "qualified_name")
        .or_else(|| child(node, "identifier"))
        .map_or("", |n| w.text(n))
        .to_owned();
    w.leaf(Kind::Import, Flag::Whole as u16, Some(&text), node);
}

fn body(w: &mut Writer<'_>, node: Option<Node<'_>>) {
    match node {
        Some(body) if body.kind() == "block" => w.block(body),
        Some(body) => {
            w.with(Kind::Block, 0, None, body, |w| {
                if body.kind() == "arrow_expression_clause" {
                    w.node(body);
                } else {
                    w.with(Kind::Return, 0, None, body, |w| w.node(body));
                }
            });
        }
        None => {}
    }
}

fn modifiers(w: &Writer<'_>, node: Node<'_>) -> u16 {
    let words: Vec<&str> =
        children(node).into_iter().filter(|c| c.kind() == "modifier").map(|c| w.text(c)).collect();
    let mut flags = 0;
    for word in &words {
        flags |= match *word {
            "static" | "const" => Flag::Static as u16,
            "private" | "protected" => Flag::Private as u16,
            "public" | "internal" => Flag::Export as u16,
            _ => 0,
        };
    }
    // What says nothing is closed to others in C#, unless it is a type.
    let member = matches!(
        node.kind(),
        "method_declaration"
            | "field_declaration"
            | "property_declaration"
            | "constructor_declaration"
    );
    let nested_in_interface =
        node.parent().and_then(|p| p.parent()).is_some_and(|p| p.kind() == "interface_declaration");
    if member && !nested_in_interface && flags & (Flag::Private as u16 | Flag::Export as u16) == 0 {
        flags |= Flag::Private as u16;
    }
    flags
}

fn declaration(w: &mut Writer<'_>, node: Node<'_>, flags: u16) {
    for one in children(node).into_iter().filter(|c| c.kind() == "variable_declarator") {
        w.with(Kind::Assign, flags, None, one, |w| {
            let name: Vec<Node<'_>> = one.child_by_field_name("name").into_iter().collect();
            let value: Vec<Node<'_>> = children(one).into_iter().skip(1).collect();
            w.list(Kind::Targets, one, &name);
            w.list(Kind::Values, one, &value);
            if let Some(declared) = node.child_by_field_name("type") {
                declared_type(w, declared);
            }
        });
    }
}

fn declared_type(w: &mut Writer<'_>, node: Node<'_>) {
    let name = child(node, "identifier").unwrap_or(node);
    let text = w.text(name);
    w.leaf(Kind::Type, 0, Some(text), node);
}

fn parameters(w: &mut Writer<'_>, node: Node<'_>, list: Option<Node<'_>>) {
    w.with(Kind::Params, 0, None, list.unwrap_or(node), |w| {
        let parts = list
            .map(|l| if l.kind() == "identifier" { vec![l] } else { children(l) })
            .unwrap_or_default();
        for p in parts {
            let named = p.child_by_field_name("name").unwrap_or(p);
            let text = w.text(named);
            w.with(Kind::Param, 0, Some(text), p, |w| {
                if let Some(declared) = p.child_by_field_name("type") {
                    declared_type(w, declared);
                }
            });
        }
    });
}

//! Something missing between two neighbours: a comma, an operator, a semicolon.

use super::attempt::{Look, Try, is_keyword, is_operand_end, put};
use crate::signs::{Sort, Token};
use izba_model::claim::Saying;
use izba_model::code::Language;
use izba_model::dialect::By;
use izba_model::{say, sayings};

sayings! {
    "between", Syntax, "../../../words/tries/between.toml";
    MISSING_AFTER = "missing-after",
    RIGHT_AFTER = "right-after",
    SIDE_BY_SIDE = "side-by-side",
    COMMA = "comma",
    EQUALS = "equals",
    OPERATOR = "operator",
    SEMICOLON_AT_END = "semicolon-at-end",
    DOT = "dot",
    SEMICOLON = "semicolon",
    OPERAND = "operand",
    EMPTY_BRACKETS = "empty-brackets",
}

/// Of longer lines so many neighbours are looked at.
const PAIRS: usize = 1500;

pub(super) fn between_neighbours(look: &Look<'_>) -> Vec<Try> {
    let mut out = Vec::new();
    let curly = look.language.blocks.by == By::Brackets;
    let operators: Vec<String> =
        look.language.operators.iter().map(|operator| format!(" {operator} ")).collect();
    // A sign that carries a line on to the next one stands between nothing.
    let carries = |t: &Token<'_>| look.language.signs.line_goes_on.as_deref() == Some(t.text);
    let read: Vec<(&Token<'_>, bool)> = look
        .tokens
        .iter()
        .enumerate()
        .filter(|(_, t)| !carries(t))
        .map(|(at, t)| (t, at > 0 && carries(&look.tokens[at - 1])))
        .collect();
    let hot = read.windows(2).filter(|pair| look.hot(pair[0].0.line) || look.hot(pair[1].0.line));
    for pair in hot.take(PAIRS) {
        let [(a, _), (b, carried)] = pair else { continue };
        let broken = a.line != b.line && !carried;
        // Written as words, an operator may stand beside another: `a or not b`.
        let both = is_operand_end(look.language, a) && is_operand_start(look.language, b);
        // What was taken out leaves a space behind: at the end of the one line, or at the beginning
        // of the other.
        let gap = &look.text[a.end()..b.start];
        let first_gap = gap.split('\n').next().unwrap_or("");
        let leads = broken
            && first_gap.trim_end_matches('\r').is_empty()
            && b.indent > a.indent
            && gap.ends_with(' ')
            // Under a bracket a line may stand at any column.
            && b.indent % 2 == 1
            && !within_bracket(look, a);
        let line = if leads { b.line } else { a.line };
        // What the console says it met stands right behind the gap.
        let told = look.near.as_deref() == Some(b.text) && look.noticed == Some(b.line);
        let dangling = a.sort == Sort::Sign
            && matches!(
                a.text,
                "+" | "-"
                    | "*"
                    | "/"
                    | "%"
                    | ".."
                    | "=="
                    | "<"
                    | ">"
                    | "<="
                    | ">="
                    | "&&"
                    | "||"
                    | "="
                    | "~="
                    | "!="
            );
        if dangling
            && matches!(
                b.text,
                ";" | ")"
                    | "]"
                    | "}"
                    | ","
                    | "then"
                    | "do"
                    | "end"
                    | "local"
                    | "return"
                    | "if"
                    | "for"
            )
        {
            let mut attempt = put(a.end(), " 0", a.line, say!(MISSING_AFTER, name = a.text), 0.45);
            attempt.seen.push((a.line, say!(RIGHT_AFTER, name = b.text)));
            out.push(attempt);
        }
        let mut add = |sign: &str, what: Saying, cost: f32| {
            let mut attempt = put(
                a.end(),
                sign,
                line,
                what,
                cost + if broken { 0.05 } else { 0.0 } - if told { 0.2 } else { 0.0 },
            );
            attempt
                .seen
                .push((a.line, say!(SIDE_BY_SIDE, name = short(a.text), other = short(b.text))));
            out.push(attempt);
        };
        if both {
            // A call's bracket may follow a name; in front of a table or another name something has
            // to stand.
            let call = matches!(b.text, "(" | "[" | "{") && !broken;
            let odd = if call { 0.35 } else { 0.0 };
            add(",", say!(COMMA), 0.45 + odd);
            add(" =", say!(EQUALS), 0.45 + odd + if broken { 0.3 } else { 0.0 });
            for operator in &operators {
                add(operator, say!(OPERATOR), 0.6 + odd);
            }
            if curly && broken {
                add(";", say!(SEMICOLON_AT_END), 0.4);
            }
            if !broken && !call {
                add(".", say!(DOT), 0.8);
            }
        }
        if lacks_call(look, a, b) {
            add("()", say!(EMPTY_BRACKETS), 0.3);
        }
        if curly && !both && is_operand_end(look.language, a) {
            add(";", say!(SEMICOLON), if broken { 0.4 } else { 0.6 });
        }
        // A name or value that is declared with what is given to it, or an operator before a sign.
        if !both
            && is_operand_end(look.language, a)
            && matches!(b.text, "function" | "new" | "{" | "[" | "not" | "lambda" | "await")
            && !broken
        {
            add(" =", say!(EQUALS), 0.5);
        }
        if !both
            && !broken
            && !is_operand_end(look.language, a)
            && matches!(b.sort, Sort::Sign)
            && matches!(b.text, "*" | "/" | "%" | "..")
        {
            add(" 0", say!(OPERAND), 0.8);
        }
    }
    out
}

/// Whether the brackets of a function that takes nothing, or of a call that gives nothing, may be
/// what is missing behind `a`: a name is followed by the block, or stands alone as a step.
fn lacks_call(look: &Look<'_>, a: &Token<'_>, b: &Token<'_>) -> bool {
    if a.sort != Sort::Word || is_keyword(look.language, a.text) {
        return false;
    }
    let from = look.tokens.partition_point(|t| t.line < a.line);
    let line: Vec<&Token<'_>> =
        look.tokens[from..].iter().take_while(|t| t.start <= a.start).collect();
    let makes = line.iter().any(|t| matches!(t.text, "function" | "def"));
    let plain = |t: &&&Token<'_>| {
        t.sort == Sort::Word && (makes || !is_keyword(look.language, t.text))
            || matches!(t.text, "." | ":")
    };
    let alone = line.iter().filter(plain).count() == line.len();
    match look.language.blocks.by {
        // A method among others, or a function.
        By::Brackets => b.text == "{" && b.line == a.line && (makes || line.len() <= 2),
        By::Indentation => makes && b.text == ":" && b.line == a.line,
        By::Words => alone && b.line != a.line,
    }
}

fn short(text: &str) -> String {
    let line = text.lines().next().unwrap_or("");
    if line.chars().count() > 18 {
        format!("{}…", line.chars().take(17).collect::<String>())
    } else {
        line.to_owned()
    }
}

fn is_operand_start(language: Language, t: &Token<'_>) -> bool {
    match t.sort {
        Sort::Word => {
            !is_keyword(language, t.text)
                || matches!(t.text, "function" | "not" | "new" | "lambda" | "typeof" | "await")
        }
        Sort::Sign => matches!(t.text, "(" | "[" | "{" | "!" | "-" | "#" | "..."),
        _ => true,
    }
}

/// Whether a bracket is open behind a token: there lines are set in as people like it.
fn within_bracket(look: &Look<'_>, token: &Token<'_>) -> bool {
    let before = look.tokens.iter().take_while(|t| t.start <= token.start);
    let depth = before.fold(0i32, |depth, t| match (t.sort, t.text) {
        (Sort::Sign, "(" | "[" | "{") => depth + 1,
        (Sort::Sign, ")" | "]" | "}") => (depth - 1).max(0),
        _ => depth,
    });
    depth > 0
}

//! wrong-kind: a value is there, but of a kind that does not fit what is done with it.

use super::{Case, Explanation, Family, Sentence, sure};

/// The family.
pub static FAMILY: Family = Family {
    id: "wrong-kind",
    title: "the wrong kind of value",
    patterns: &[
        sure(
            70,
            concat!(
                r"attempt to (?<op>index|call|perform arithmetic on|concatenate",
                r"|get length of|perform bitwise operation on) an? (?<have>\w+) value(?:",
                r" \((?:local|global|field|upvalue|constant|method) '(?<name>[^']*)'\))?"
            ),
        ),
        sure(
            72,
            concat!(
                r"attempt to (?:add|sub|mul|div|mod|pow|unm",
                r"|idiv) an? '(?<have>\w+)' with an? '(?<want>\w+)'"
            ),
        ),
        sure(
            76,
            concat!(
                r"could not convert [`'‘].*?['’] from [`'‘](?<have>[^'’]+)['’] to",
                r" [`'‘](?<want>[^'’]+)['’]"
            ),
        ),
        sure(
            76,
            concat!(
                r"cannot add `(?<have>[^`]+)` to `(?<want>[^`]+)`",
                r"|no implementation for `(?<other>[^`]+)`"
            ),
        ),
        sure(76, r"must be of type (?<want>[\w\\|]+), (?<have>[\w\\]+) given"),
        sure(
            74,
            r#"cannot use .+? \((?:untyped |variable of type |constant .* of type )?(?<have>\w+)[^)]*\) as (?<want>\w+) value|invalid value for (?:Integer|Float)\(\): "(?<text>[^"]*)""#,
        ),
        sure(74, r"Type '(?<have>[^']+)' is not assignable to type '(?<want>[^']+)'"),
        sure(60, r"mismatched types|no implicit conversion of (?<have>\w+) into (?<want>\w+)"),
        sure(76, r#"NumberFormatException: For input string: "(?<text>[^"]*)""#),
        sure(65, r"attempt to compare (?:two (?<have>\w+) values|(?<want>\w+) with (?<other>\w+))"),
        sure(
            72,
            concat!(
                r"bad argument #(?<arg>\d+) to '(?<callee>[^']+)' \((?<want>[^()]*)",
                r" expected, got (?<have>\w+)\)"
            ),
        ),
        sure(60, r"bad argument #(?<arg>\d+) to '(?<callee>[^']+)' \((?<why>[^()]*)\)"),
        sure(70, r"TypeError: (?<name>[\w$.]+) is not (?<op>iterable)"),
        sure(
            75,
            r"unsupported operand type\(s\) for (?<op>[^:]+): '(?<have>\w+)' and '(?<other>\w+)'",
        ),
        sure(75, r#"can only concatenate (?<want>\w+) \(not "(?<have>\w+)"\) to \w+"#),
        sure(
            72,
            concat!(
                r"'(?<have>\w+)' object (?:is not|does not support) (?<op>subscriptable",
                r"|iterable|callable|item assignment|the \w+ protocol)"
            ),
        ),
        sure(
            72,
            r"'[<>=!]+' not supported between instances of '(?<have>\w+)' and '(?<other>\w+)'",
        ),
        sure(72, r"(?<callee>[\w.]+)\(\) (?:missing \d+ required|takes (?:from )?\d+ .*?but \d+)"),
        sure(70, r"invalid literal for \w+\(\) with base \d+: '(?<text>[^']*)'"),
        sure(70, r"(?:list indices|string indices|tuple indices) must be integers"),
        sure(
            80,
            concat!(
                r"incompatible types: (?:possible lossy conversion from",
                r" )?(?<have>[\w.<>\[\]]+)(?: cannot be converted)? to",
                r" (?<want>[\w.<>\[\]]+)"
            ),
        ),
        sure(78, r"class (?<have>[\w.$\[]+) cannot be cast to class (?<want>[\w.$\[]+)"),
        sure(75, r#"NumberFormatException: For input string: "(?<text>[^"]*)""#),
        sure(
            75,
            concat!(
                r"bad operand types for binary operator '(?<op>[^']+)'",
                r"|method (?<callee>[\w.]+) in \w+ [\w.<>]+ cannot be applied",
                r"|no suitable (?:method|constructor) found for (?<name>\w+)"
            ),
        ),
        sure(
            80,
            r"Cannot (?:implicitly )?convert type [`'](?<have>[^'`]+)' to [`'](?<want>[^'`]+)'",
        ),
        sure(
            78,
            concat!(
                r"cannot convert (?:from )?[`'](?<have>[^'`]+)'(?: expression)? to (?:type",
                r" )?[`'](?<want>[^'`]+)'"
            ),
        ),
        sure(
            70,
            r"InvalidCastException|FormatException|Operator [`'](?<op>[^'`]+)' cannot be applied",
        ),
        sure(68, r"ArrayStoreException|ClassCastException"),
    ],
    explain,
    docs: "A text where a number belongs, a number where a table belongs, an argument of the \
        wrong type or too many of them.",
    sample: "attempt to perform arithmetic on a string value (field 'oil')",
};

fn explain(case: &Case<'_>) -> Explanation {
    let name = case.fact("name");
    let have = case.fact("have");
    let want = case.fact("want");
    let subject = name.map(str::to_owned).or_else(|| {
        case.fact("arg")
            .map(|arg| format!("argument {arg} of {}", case.fact("callee").unwrap_or("the call")))
    });
    let (short, plain) = match (&subject, have, want.or(case.fact("other"))) {
        _ if case.fact("text").is_some() => {
            let text = case.fact("text").unwrap_or_default();
            let pointed = text.replace(',', ".");
            let comma = text.matches(',').count() == 1 && pointed.parse::<f64>().is_ok();
            let hint = if comma {
                format!(" Numbers are written with a point here: {pointed} would be one.")
            } else {
                String::new()
            };
            (
                format!("the text “{text}” is not a number"),
                format!(
                    "The text “{text}” is to be turned into a number here, and it is not one.{hint}"
                ),
            )
        }
        _ if case.fact("why").is_some() => {
            let (subject, why) =
                (subject.as_deref().unwrap_or("an argument"), case.fact("why").unwrap_or_default());
            (
                format!("{subject} does not fit: {why}"),
                format!("{subject} has the right kind but not a fitting value: {why}."),
            )
        }
        (None, None, None) if case.fact("callee").is_some() => {
            let callee = case.fact("callee").unwrap_or_default();
            (
                format!("{callee} is called with the wrong number of arguments"),
                format!(
                    "The console says: {}. Compare the call with the line where {callee} is made.",
                    case.entry.root_message
                ),
            )
        }
        (Some(subject), None, _) => (
            format!("{subject} is not of the kind that fits here"),
            format!("{subject} holds something, and {}.", deed(case.fact("op").unwrap_or(""))),
        ),
        (Some(subject), Some(have), Some(want)) => (
            format!("{subject} is {} where {} belongs", a(have), a(want)),
            format!("{subject} is {} here, and this line can only work with {}.", a(have), a(want)),
        ),
        (Some(subject), Some(have), None) => {
            let deed = deed(case.fact("op").unwrap_or(""));
            (
                format!("{subject} is {}, which does not fit here", a(have)),
                format!("{subject} holds {} at this moment, and {deed}.", a(have)),
            )
        }
        (None, Some(have), Some(want)) => (
            format!("{} where {} belongs", a(have), a(want)),
            format!("This line brings {} and {} together, and they do not fit.", a(have), a(want)),
        ),
        (None, Some(have), None) => {
            let deed = deed(case.fact("op").unwrap_or(""));
            (
                format!("{} does not fit here", a(have)),
                format!("There is {} here, and {deed}.", a(have)),
            )
        }
        _ => (
            "a value of the wrong kind".to_owned(),
            "A value is there, but it is not of the kind that this line can work with.".to_owned(),
        ),
    };
    let token = name.and_then(|n| case.word(n)).or(case.entry.token);
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        note: have.map_or_else(
            || "not of the kind that fits".to_owned(),
            |have| format!("this is {}", a(have)),
        ),
        short,
        plain: vec![
            plain,
            "Look where the value comes from: read from a text or a file it is a text until it \
            is turned into a number; or the arguments stand in another order than thought."
                .into(),
        ],
        token,
    }
}

/// What cannot be done with it, as the second half of a sentence.
fn deed(op: &str) -> &'static str {
    match op {
        "index" | "subscriptable" => "nothing can be taken out of that",
        "call" | "callable" => "that cannot be called like a function",
        "concatenate" => "that cannot be joined to a text",
        "get length of" => "that has no length",
        "iterable" => "that cannot be gone through one by one",
        "perform arithmetic on" | "perform bitwise operation on" => "that cannot be counted with",
        _ => "that does not fit what this line does with it",
    }
}

fn a(kind: &str) -> String {
    let last = kind.rsplit(['.', '$']).next().unwrap_or(kind);
    let word = match last {
        "str" | "string" | "String" => "text",
        "int" | "Integer" | "float" | "double" => "number",
        other => other,
    };
    let article = if word.starts_with(['a', 'e', 'i', 'o', 'u', 'A', 'E', 'I', 'O', 'U']) {
        "an"
    } else {
        "a"
    };
    format!("{article} {word}")
}

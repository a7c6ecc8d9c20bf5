//! wrong-kind: a value is there, but of a kind that does not fit what is done with it.

use super::{Case, Explanation, Family, Sentence, sure};

/// The family.
pub static FAMILY: Family = Family {
    id: "wrong-kind",
    title: "the wrong kind of value",
    patterns: &[
        sure(
            70,
            r"attempt to (?<op>index|call|perform arithmetic on|concatenate|get length of|perform bitwise operation on) an? (?<have>\w+) value(?: \((?:local|global|field|upvalue|constant|method) '(?<name>[^']*)'\))?",
        ),
        sure(65, r"attempt to compare (?:two (?<have>\w+) values|(?<want>\w+) with (?<other>\w+))"),
        sure(72, r"bad argument #(?<arg>\d+) to '(?<callee>[^']+)' \((?<want>[^()]*) expected, got (?<have>\w+)\)"),
        sure(60, r"bad argument #(?<arg>\d+) to '(?<callee>[^']+)'"),
        sure(75, r"unsupported operand type\(s\) for (?<op>[^:]+): '(?<have>\w+)' and '(?<other>\w+)'"),
        sure(75, r#"can only concatenate (?<want>\w+) \(not "(?<have>\w+)"\) to \w+"#),
        sure(72, r"'(?<have>\w+)' object (?:is not|does not support) (?:subscriptable|iterable|callable|item assignment|the \w+ protocol)"),
        sure(72, r"'[<>=!]+' not supported between instances of '(?<have>\w+)' and '(?<other>\w+)'"),
        sure(72, r"(?<callee>[\w.]+)\(\) (?:missing \d+ required|takes (?:from )?\d+ .*?but \d+)"),
        sure(70, r"invalid literal for (?<want>\w+)\(\) with base \d+: '(?<have>[^']*)'|could not convert string to (?<other>float)"),
        sure(70, r"(?:list indices|string indices|tuple indices) must be integers"),
        sure(80, r"incompatible types: (?:possible lossy conversion from )?(?<have>[\w.<>\[\]]+)(?: cannot be converted)? to (?<want>[\w.<>\[\]]+)"),
        sure(78, r"class (?<have>[\w.$\[]+) cannot be cast to class (?<want>[\w.$\[]+)"),
        sure(75, r#"NumberFormatException: (?:For input string: "(?<have>[^"]*)")?"#),
        sure(
            75,
            r"bad operand types for binary operator '(?<op>[^']+)'|method (?<callee>[\w.]+) in \w+ [\w.<>]+ cannot be applied|no suitable (?:method|constructor) found for (?<name>\w+)",
        ),
        sure(80, r"Cannot (?:implicitly )?convert type [`'](?<have>[^'`]+)' to [`'](?<want>[^'`]+)'"),
        sure(78, r"cannot convert (?:from )?[`'](?<have>[^'`]+)'(?: expression)? to (?:type )?[`'](?<want>[^'`]+)'"),
        sure(70, r"InvalidCastException|FormatException|Operator [`'](?<op>[^'`]+)' cannot be applied"),
        sure(68, r"ArrayStoreException|ClassCastException"),
    ],
    explain,
    docs: "A text where a number belongs, a number where a table belongs, an argument of the wrong type or too many of them.",
    sample: "attempt to perform arithmetic on a string value (field 'oil')",
};

fn explain(case: &Case<'_>) -> Explanation {
    let name = case.fact("name");
    let have = case.fact("have");
    let want = case.fact("want");
    let subject =
        name.map(str::to_owned).or_else(|| case.fact("arg").map(|arg| format!("argument {arg} of {}", case.fact("callee").unwrap_or("the call"))));
    let (short, plain) = match (&subject, have, want.or(case.fact("other"))) {
        (Some(subject), Some(have), Some(want)) => (
            format!("{subject} is {} where {} belongs", a(have), a(want)),
            format!("{subject} is {} here, and this line can only work with {}.", a(have), a(want)),
        ),
        (Some(subject), Some(have), None) => {
            let deed = case.fact("op").map_or("does not fit what this line does with it".to_owned(), |op| format!("cannot be used to {}", deed(op)));
            (format!("{subject} is {}, which does not fit here", a(have)), format!("{subject} holds {} at this moment, which {deed}.", a(have)))
        }
        (None, Some(have), Some(want)) => {
            (format!("{} where {} belongs", a(have), a(want)), format!("This line brings {} and {} together, and they do not fit.", a(have), a(want)))
        }
        (None, Some(have), None) => {
            (format!("{} does not fit here", a(have)), format!("There is {} here, and this line needs something else.", a(have)))
        }
        _ => ("a value of the wrong kind".to_owned(), "A value is there, but it is not of the kind that this line can work with.".to_owned()),
    };
    let token = name.and_then(|n| case.word(n)).or(case.entry.token);
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        note: have.map_or_else(|| "not of the kind that fits".to_owned(), |have| format!("this is {}", a(have))),
        short,
        plain: vec![plain, "Look where the value comes from: read from a text or a file it is a text until it is turned into a number; or the arguments stand in another order than thought.".into()],
        token,
    }
}

fn deed(op: &str) -> &str {
    match op {
        "index" => "take something out of",
        "call" => "be called like a function",
        "concatenate" => "be joined to a text",
        "get length of" => "be measured",
        _ => "count with",
    }
}

fn a(kind: &str) -> String {
    let word = match kind {
        "str" | "string" | "String" => "text",
        "int" | "Integer" | "float" | "double" => "number",
        other => other.rsplit(['.', '$']).next().unwrap_or(other),
    };
    let article = if word.starts_with(['a', 'e', 'i', 'o', 'u', 'A', 'E', 'I', 'O', 'U']) { "an" } else { "a" };
    format!("{article} {word}")
}

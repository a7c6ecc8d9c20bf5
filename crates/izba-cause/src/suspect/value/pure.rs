//! What the usual functions on texts and numbers give, worked out.

/// A text cut at a sign, as most languages do; without a sign at blanks.
pub(super) fn split(text: &str, sign: Option<&str>) -> Vec<String> {
    match sign {
        None => text.split_whitespace().map(str::to_owned).collect(),
        Some("") => text.chars().map(String::from).collect(),
        Some(sign) => text.split(sign).map(str::to_owned).collect(),
    }
}

/// Characters `from` up to but without `to`, counted from 0; negative ones from the end.
pub(super) fn slice(text: &str, from: Option<i64>, to: Option<i64>) -> String {
    let chars: Vec<char> = text.chars().collect();
    let len = chars.len() as i64;
    let within = |n: i64| (if n < 0 { len + n } else { n }).clamp(0, len) as usize;
    let (from, to) = (within(from.unwrap_or(0)), within(to.unwrap_or(len)));
    if from < to { chars[from..to].iter().collect() } else { String::new() }
}

/// A text as a number, as the strict readers of most languages take it.
pub(super) fn number(text: &str, whole: bool) -> Option<f64> {
    let text = text.trim();
    if whole { text.parse::<i64>().ok().map(|n| n as f64) } else { text.parse().ok() }
}

/// Two numbers put together.
pub(crate) fn count(sign: &str, a: f64, b: f64) -> Option<f64> {
    Some(match sign {
        "+" => a + b,
        "-" => a - b,
        "*" => a * b,
        "/" => a / b,
        "//" => (a / b).floor(),
        "%" => a.rem_euclid(b),
        "**" | "^" => a.powf(b),
        _ => return None,
    })
}

/// Whether two numbers stand as a sign of comparison says.
pub(crate) fn compare(sign: &str, a: f64, b: f64) -> Option<bool> {
    Some(match sign {
        "<" => a < b,
        "<=" => a <= b,
        ">" => a > b,
        ">=" => a >= b,
        "==" | "===" => a == b,
        "!=" | "!==" | "~=" => a != b,
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn texts_are_cut_as_programs_cut_them() {
        assert_eq!(split("7/oak", Some("/")), ["7", "oak"]);
        assert_eq!(split("  reef at 3 ", None), ["reef", "at", "3"]);
        assert_eq!(slice("rope", Some(1), Some(0)), "");
        assert_eq!(slice("rope", Some(-2), None), "pe");
        assert_eq!(slice("rope", None, Some(90)), "rope");
        assert_eq!(
            (number(" 7 ", true), number("7.5", true), number("some", false)),
            (Some(7.0), None, None)
        );
    }

    proptest::proptest! {
        #[test]
        fn no_cut_is_out_of_range(text in ".{0,12}", from in -20i64..20, to in -20i64..20) {
            let cut = slice(&text, Some(from), Some(to));
            proptest::prop_assert!(text.contains(&cut));
        }
    }
}

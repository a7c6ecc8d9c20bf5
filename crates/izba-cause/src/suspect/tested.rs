//! tested: a test got another value than it wants. The mistake is seldom in the test: what it calls
//! is looked at, and worked out where it can be.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::value::{Eval, What, count};
use izba_model::code::{At, FileFacts, Kind, NodeId};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "tested", Any, "../../words/suspects/tested.toml";
    MADE_HERE = "made-here",
    OTHER_SIGN = "other-sign",
    ASKED_HERE = "asked-here",
}

/// The check for this: what a test called gave another value than it wants.
pub static CHECK: Check = Check {
    id: "tested",
    kinds: KINDS,
    applies: |query| {
        let kind = query.entry.root_kind.as_deref().unwrap_or("");
        query.file.is_some() && (kind.contains("Assert") || met(query).is_some())
    },
    look,
};

/// How test runners say what they got and what was wanted.
static MET: Pattern = Pattern::new(
    r"(?x)
    expected\ (?<a>-?[\d.]+)\ to\ (?:be|(?:\w+\ )?equal)\ (?<b>-?[\d.]+)
    | assert\ (?<c>-?[\d.]+)\ ==\ (?<d>-?[\d.]+)
    | ^(?:\w+:\ )?(?<e>-?[\d.]+)\ !={1,2}\ (?<f>-?[\d.]+)
    | (?i:expected):?\s*<?(?<w>-?[\d.]+)>?,?\s*(?i:but\ was|received|actual):?\s*<?(?<g>-?[\d.]+)>?
    ",
);

/// Signs that are taken for one another.
const SIGNS: [&str; 4] = ["+", "-", "*", "/"];

/// The number that a test got, and the one that it wants.
fn met(query: &Query<'_>) -> Option<(f64, f64)> {
    let found = MET.captures(&query.said)?;
    let number = |names: [&str; 4]| {
        let name = names.into_iter().find_map(|n| found.name(n))?;
        name.as_str().trim_end_matches('.').parse::<f64>().ok()
    };
    Some((number(["a", "c", "e", "g"])?, number(["b", "d", "f", "w"])?))
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    let mut eval = Eval::new(query);
    let calls: Vec<At<'_>> = query.on_line().filter(|n| n.is(Kind::Call)).collect();
    for call in calls {
        let Some(name) = call.last_name() else { continue };
        let mut made = query.named(name).filter(|(_, n)| n.is(Kind::Func));
        let (Some((home, function)), None) = (made.next(), made.next()) else { continue };
        if home.path == file.path && function.line() == query.line {
            continue;
        }
        let tested = Tested { home, function, name, from: (file, call) };
        tested.look(query, &mut eval, seen);
    }
}

/// A function that a test calls.
struct Tested<'a> {
    home: &'a FileFacts,
    function: At<'a>,
    name: &'a str,
    from: (&'a FileFacts, At<'a>),
}

impl<'a> Tested<'a> {
    fn look(&self, query: &Query<'a>, eval: &mut Eval<'a, '_>, seen: &mut Seen) {
        let own = |n: &At<'a>| n.function() == Some(self.function);
        let backs = self.function.whole().filter(|n| n.is(Kind::Return)).filter(own);
        let values: Vec<At<'a>> = backs.filter_map(|back| back.child(0)).collect();
        let line = query.line;
        if let Some(met) = met(query)
            && let Some((at, other)) = values.iter().find_map(|v| self.other_sign(eval, *v, met))
        {
            let sign = at.text().unwrap_or_default();
            let name = self.name;
            let reason = say!(
                OTHER_SIGN,
                other,
                sign,
                name,
                want = met.1.to_string(),
                got = met.0.to_string()
            );
            let suspect = seen.suspect(&self.home.path, at.line(), Strength::Plain, reason);
            suspect.saw(&self.from.0.path, line, say!(ASKED_HERE)).tied(1.0);
            return;
        }
        let strength = if values.len() == 1 { Strength::Fair } else { Strength::Weak };
        for value in values {
            let reason = say!(MADE_HERE, name = self.name);
            let suspect = seen.suspect(&self.home.path, value.line(), strength, reason);
            suspect.saw(&self.from.0.path, line, say!(ASKED_HERE)).tied(1.0);
        }
    }

    /// The one operator for which another gives what is wanted, where the expression as it is gives
    /// what the test got; `None` where there are several, so that nobody knows which is meant.
    fn other_sign(
        &self,
        eval: &mut Eval<'a, '_>,
        value: At<'a>,
        (got, want): (f64, f64),
    ) -> Option<(At<'a>, &'static str)> {
        let is = |a: f64, b: f64| (a - b).abs() <= 1e-9 * b.abs().max(1.0);
        if !is(self.worked_out(eval, value, None)?, got) {
            return None;
        }
        let signs = value.whole().filter(|n| n.is(Kind::Bin));
        let signs = signs.filter(|n| n.text().is_some_and(|t| SIGNS.contains(&t)));
        let mut fitting = Vec::new();
        for node in signs {
            for other in SIGNS.into_iter().filter(|s| node.text() != Some(s)) {
                let found = self.worked_out(eval, value, Some((node.id(), other)));
                fitting.extend(found.filter(|n| is(*n, want)).map(|_| (node, other)));
            }
        }
        let &[one] = fitting.as_slice() else { return None };
        Some(one)
    }

    /// What an expression of the function gives to the test, with one operator exchanged.
    fn worked_out(
        &self,
        eval: &mut Eval<'a, '_>,
        node: At<'a>,
        other: Option<(NodeId, &'static str)>,
    ) -> Option<f64> {
        if node.is(Kind::Bin)
            && let (Some(left), Some(right)) = (node.child(0), node.child(1))
        {
            let left = self.worked_out(eval, left, other)?;
            let right = self.worked_out(eval, right, other)?;
            let sign = other.filter(|(id, _)| *id == node.id()).map(|(_, sign)| sign);
            return count(sign.or(node.text())?, left, right);
        }
        let found = eval.where_called(self.home, node, self.function, self.from);
        match found.list.as_slice() {
            [one] => match one.what {
                What::Num(n) => Some(n),
                _ => None,
            },
            _ => None,
        }
    }
}

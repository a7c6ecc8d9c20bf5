//! crossed: a function is given a value of the kind that another of its parameters is used as, and
//! the other way round: the two stand in the wrong order, in the call or in the definition.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::need::kind_of;
use super::query::Query;
use super::swapped::calls_of;
use super::takes::{given_back, name_of};
use super::value::{Eval, What, is_of_lists, is_of_texts};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "crossed", Any, "../../words/suspects/crossed.toml";
    IN_CALL = "in-call",
    IN_DEFINITION = "in-definition",
    TAKEN_AS = "taken-as",
    GIVEN_HERE = "given-here",
}

/// The check for this: arguments whose kinds fit each other's parameters.
pub static CHECK: Check = Check {
    id: "crossed",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| !f.language.checked) && query.family() != Family::DoesNotParse
    },
    look,
};

/// Functions of the way that are looked at.
const FUNCTIONS: usize = 24;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let mut functions: Vec<(&FileFacts, At<'_>)> =
        query.steps.iter().filter_map(|s| Some((s.file, s.function?))).collect();
    let on_way = query.slice.iter().filter(|m| m.weight > 0.2);
    functions.extend(on_way.filter_map(|m| Some((m.file, m.node?.function()?))));
    let mut known: Vec<At<'_>> = Vec::new();
    for (file, function) in functions {
        if known.len() < FUNCTIONS && !known.contains(&function) {
            known.push(function);
            one(query, file, function, seen);
        }
    }
}

fn one<'a>(query: &Query<'a>, file: &'a FileFacts, function: At<'a>, seen: &mut Seen) {
    let named = name_of(function).or_else(|| given_back(query, file, function));
    let Some((name, constructs)) = named else { return };
    let params: Vec<At<'_>> =
        function.params().filter(|p| !matches!(p.text(), Some("self" | "cls"))).collect();
    if params.len() < 2 {
        return;
    }
    let wanted: Vec<Option<&str>> = params.iter().map(|p| used_as(file, function, *p)).collect();
    if wanted.iter().flatten().count() == 0 {
        return;
    }
    let mut eval = Eval::new(query);
    let calls = calls_of(query, name, constructs, function);
    let mut crossed: Vec<(&FileFacts, At<'_>, usize, usize)> = Vec::new();
    for (home, call) in calls.iter().copied().take(40) {
        if call.arguments().count() != params.len() {
            continue;
        }
        let given: Vec<Option<&str>> = call
            .arguments()
            .map(|argument| {
                let vals = eval.of(home, argument);
                let mut kinds = vals.list.iter().map(|v| match &v.what {
                    What::Object(..) | What::Doc(_) => Some("table"),
                    _ => kind_of(v),
                });
                let first = kinds.next()??;
                (!vals.lost && kinds.all(|k| k == Some(first))).then_some(first)
            })
            .collect();
        if let Some((a, b)) = other_way_round(&given, &wanted) {
            crossed.push((home, call, a, b));
        }
    }
    let all = crossed.len() == calls.len() && crossed.len() >= 2;
    for (nth, (home, call, a, b)) in crossed.iter().enumerate() {
        let (Some(one), Some(other)) = (params[*a].text(), params[*b].text()) else { continue };
        let (at, line, says) = if all {
            (file, function.line(), say!(IN_DEFINITION, function = name, one, other))
        } else {
            (*home, call.line(), say!(IN_CALL, function = name, one, other))
        };
        if all && nth > 0 {
            break;
        }
        let suspect = seen.suspect(&at.path, line, Strength::Plain, says);
        suspect.saw(&file.path, function.line(), say!(TAKEN_AS, one, other));
        suspect.saw(&home.path, call.line(), say!(GIVEN_HERE)).tied(1.0);
    }
}

/// Two places of which one is given what the other is used as, and no other kind speaks for how it
/// stands.
fn other_way_round(given: &[Option<&str>], wanted: &[Option<&str>]) -> Option<(usize, usize)> {
    let fits = |at: usize, by: usize| given[at].zip(wanted[by]).map(|(g, w)| g == w);
    let places = 0..given.len();
    let mut pairs = places.clone().flat_map(|a| places.clone().map(move |b| (a, b)));
    pairs.find(|(a, b)| {
        let across = [fits(*a, *b), fits(*b, *a)];
        a != b
            && fits(*a, *a) == Some(false)
            && fits(*b, *b) != Some(true)
            && across.contains(&Some(true))
            && !across.contains(&Some(false))
    })
}

/// The kind of value that a parameter is used as in its function, where all that shows it agrees.
fn used_as(file: &FileFacts, function: At<'_>, param: At<'_>) -> Option<&'static str> {
    let name = param.text()?;
    let own = |n: &At<'_>| {
        n.is(Kind::Name)
            && n.is_called(name)
            && n.defines().is_none()
            && bindings(file, *n, name).contains(&param)
    };
    let mut found: Option<&'static str> = None;
    for node in function.whole().filter(own) {
        let Some(parent) = node.parent() else { continue };
        let first = parent.child(0) == Some(node);
        let kind = match parent.kind() {
            Kind::Call if first => "function",
            Kind::Field if first => {
                let member = parent.text().unwrap_or_default();
                match (parent.is_callee(), is_of_texts(member), is_of_lists(member)) {
                    (true, true, false) => "text",
                    // What both have, and what is asked of anything, says nothing.
                    (_, true, _) | (_, _, true) => continue,
                    (true, ..) | (false, ..) => "table",
                }
            }
            Kind::Index if first => "table",
            Kind::ForIn => "table",
            Kind::Bin
                if matches!(parent.text(), Some("-" | "*" | "/"))
                    || parent.text() == Some("+") && parent.children().any(|c| c.is(Kind::Num)) =>
            {
                "number"
            }
            _ => continue,
        };
        if found.is_some_and(|f| f != kind) {
            return None;
        }
        found = Some(kind);
    }
    found
}

#[cfg(test)]
mod tests {
    use super::other_way_round;

    #[test]
    fn two_places_are_crossed_only_where_each_kind_speaks_for_it() {
        let (number, text, table) = (Some("number"), Some("text"), Some("table"));
        assert_eq!(other_way_round(&[number, text], &[text, number]), Some((0, 1)));
        assert_eq!(other_way_round(&[number, None], &[text, number]), Some((0, 1)));
        assert_eq!(other_way_round(&[number, text], &[text, None]), Some((0, 1)));
        assert_eq!(other_way_round(&[text, number], &[text, number]), None);
        assert_eq!(other_way_round(&[table, number], &[text, number]), None);
        assert_eq!(other_way_round(&[number, number], &[text, number]), None, "one is wrong alone");
        assert_eq!(other_way_round(&[number, text], &[None, None]), None);
    }
}

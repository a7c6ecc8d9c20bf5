//! One mistake that several consoles tell: a server fails, the page is told so, and what waited in
//! the page for the answer fails too. Each is a group of its own; the first of them is where to
//! look.

use super::row::GroupView;
use crate::state::State;
use izba_model::pattern::Pattern;
use izba_model::{Family, Level, Millis, Report};
use std::collections::HashMap;

/// How a page tells that it did not get something.
static NOT_GOT: Pattern = Pattern::new(concat!(
    r"^(?P<address>\S+) was not (?:loaded|let in): ",
    r"(?:the server answers (?P<status>\d{3})\b)?"
));

/// A server's error and what the page is told of it are at most so far apart, in milliseconds: both
/// are stamped when they arrive, from two pipes.
const APART: i64 = 1_500;
/// What fails in the page for want of an answer fails so soon, in milliseconds.
const SOON: i64 = 2_000;

/// So many requests, and scripts that could not be read, are looked at: this is done whenever rows
/// are made, and a page may ask for thousands of things in vain.
const MOST: usize = 64;

/// A request that a page got no good answer to.
struct Request<'a> {
    at: usize,
    address: &'a str,
    status: u32,
}

/// For each group that tells what another one is the reason of, that other one.
pub(super) fn told_before(views: &[GroupView]) -> HashMap<usize, usize> {
    let requests: Vec<Request<'_>> = views
        .iter()
        .enumerate()
        .filter(|(_, view)| is_there(view))
        .filter_map(|(at, view)| {
            let said = view.entry.report.message.as_str();
            let found = NOT_GOT.captures(said)?;
            let status = found.name("status").and_then(|s| s.as_str().parse().ok()).unwrap_or(0);
            Some(Request { at, address: found.name("address")?.as_str(), status })
        })
        .take(MOST)
        .collect();
    let unread: Vec<usize> =
        (0..views.len()).filter(|at| is_unread(&views[*at])).take(MOST).collect();
    let mut before = told_by_the_other(views);
    before.extend(went_on(views));
    if requests.is_empty() && unread.is_empty() {
        return before;
    }
    for request in &requests {
        if let Some(server) = failed_server(views, request) {
            before.insert(request.at, server);
        }
    }
    let told: Vec<usize> = before.keys().copied().collect();
    for (at, view) in views.iter().enumerate().filter(|(_, view)| is_there(view)) {
        if told.contains(&at) {
            continue;
        }
        if NOT_GOT.is_match(&view.entry.report.message) {
            continue;
        }
        if let Some(script) = unread.iter().find(|script| lacks_script(view, &views[**script])) {
            before.insert(at, *script);
            continue;
        }
        let waited = |r: &&Request<'_>| waited_for(view, &views[r.at], r);
        // Of several that failed at once it waited for the one that was asked for where it stands.
        let here = |r: &&Request<'_>| waited(r) && same_step(view, &views[r.at]);
        if let Some(request) = requests.iter().find(here).or_else(|| requests.iter().find(waited)) {
            before.insert(at, request.at);
        }
    }
    before
}

/// Errors that say what another console's error says: they quote its sentence at that very time, as
/// one does who was answered with it, or both name the same trace and the other one knows more.
fn told_by_the_other(views: &[GroupView]) -> HashMap<usize, usize> {
    let there: Vec<usize> = (0..views.len()).filter(|at| is_there(&views[*at])).collect();
    if there.iter().all(|at| views[*at].source == views[there[0]].source) {
        return HashMap::new();
    }
    let pairs = there.iter().take(MOST).flat_map(|at| there.iter().map(move |other| (*at, *other)));
    let mut before: HashMap<usize, usize> = HashMap::new();
    for (at, other) in pairs.filter(|(at, other)| views[*at].source != views[*other].source) {
        let (view, first) = (&views[at], &views[other]);
        if is_near(first, view)
            && (quotes(&view.entry.report, &first.entry.report) || is_of_its_trace(view, first))
        {
            before.entry(at).or_insert(other);
        }
    }
    before
}

/// What comes so soon behind is of the same turn of a page's events, in milliseconds.
const TURN: i64 = 100;

/// Errors that came because another one had been let pass: a browser tells what a listener threw, and
/// whoever fired the event goes on in the same call as if all were well. Both came by one function of
/// the project, the later one in a later line of it, as often, and in the same turn.
fn went_on(views: &[GroupView]) -> HashMap<usize, usize> {
    let there: Vec<usize> =
        (0..views.len()).filter(|at| is_there(&views[*at])).take(MOST).collect();
    let mut before: HashMap<usize, usize> = HashMap::new();
    for at in &there {
        let first = there.iter().find(|other| {
            let (view, first) = (&views[*at], &views[**other]);
            *at != **other
                && view.source == first.source
                && view.entry.report.reader == first.entry.report.reader
                && view.count == first.count
                && gap(first.first, view.first).is_some_and(|ms| (0..=TURN).contains(&ms))
                && is_later_step(&first.entry.report, &view.entry.report)
        });
        if let Some(first) = first {
            before.insert(*at, *first);
        }
    }
    before
}

/// Whether an error came by a function that another one came by too, further out and at an earlier
/// line.
fn is_later_step(first: &Report, later: &Report) -> bool {
    let steps = |report: &Report, from: usize| -> Vec<(String, String, u32)> {
        let own = report
            .frames
            .iter()
            .skip(from)
            .filter_map(|f| Some((f.own.as_deref()?.to_owned(), f.function.clone()?, f.line?)));
        own.collect()
    };
    let outer = steps(first, 1);
    steps(later, 0).iter().any(|(file, function, line)| {
        outer.iter().any(|(f, n, l)| (f, n) == (file, function) && l < line)
    })
}

/// Whether they came at the same time, first or last.
fn is_near(a: &GroupView, b: &GroupView) -> bool {
    [(a.first, b.first), (a.last, b.last)]
        .into_iter()
        .any(|(a, b)| gap(a, b).is_some_and(|ms| ms.abs() <= APART))
}

/// Whether an error's sentence holds the whole of another's, and more.
fn quotes(report: &Report, other: &Report) -> bool {
    let said = other.message.trim();
    // A few words may be said by anybody.
    said.len() >= 20
        && said.matches(' ').count() >= 3
        && report.message.len() > said.len()
        && report.message.contains(said)
}

/// Whether both are of one request, by the trace that it names, and the other has steps of its own:
/// who asked knows less of it than who answered.
fn is_of_its_trace(view: &GroupView, other: &GroupView) -> bool {
    let (ours, its) = (&view.entry.report, &other.entry.report);
    let asks = ours.frames.is_empty() || view.entry.family == Family::NotReached;
    ours.trace.is_some() && ours.trace == its.trace && asks && !its.frames.is_empty()
}

fn is_there(view: &GroupView) -> bool {
    view.state != State::Quiet && !view.muted && view.level() >= Level::Error
}

fn gap(from: Option<Millis>, to: Option<Millis>) -> Option<i64> {
    Some(to?.0 - from?.0)
}

/// The error of another console that made a server answer with a failure: it lies in the file that
/// was asked for, or it came at that very time, and nothing else did.
fn failed_server(views: &[GroupView], request: &Request<'_>) -> Option<usize> {
    if request.status < 500 {
        return None;
    }
    let page = &views[request.at];
    let others = || {
        views.iter().enumerate().filter(|(_, view)| {
            is_there(view)
                && view.source != page.source
                && !NOT_GOT.is_match(&view.entry.report.message)
        })
    };
    let path = path_of(request.address);
    let lies_there = |view: &GroupView| {
        view.entry.place.as_ref().is_some_and(|p| path.trim_start_matches('/') == p.file.as_ref())
    };
    if let Some((at, _)) = others().find(|(_, view)| lies_there(view)) {
        return Some(at);
    }
    let mut at_that_time = others().filter(|(_, view)| is_near(view, page));
    match (at_that_time.next(), at_that_time.next()) {
        (Some((at, _)), None) => Some(at),
        _ => None,
    }
}

/// Whether an error of the same page came for want of what was asked for: it names the address, it
/// says that an answer failed, or it asks for a name when a script did not come.
fn waited_for(view: &GroupView, request_view: &GroupView, request: &Request<'_>) -> bool {
    if view.source != request_view.source {
        return false;
    }
    let soon = gap(request_view.first, view.first).is_some_and(|ms| (-SOON..=SOON).contains(&ms));
    let path = path_of(request.address);
    let said = &view.entry.report.message;
    let names_it = path.len() > 1 && (said.contains(path) || said.contains(request.address));
    let failed = view.entry.family == Family::NotReached && said.to_lowercase().contains("fetch");
    let lacks =
        is_script(path) && view.entry.family == Family::NameNotThere && says_undefined(said);
    soon && (names_it || failed || lacks)
}

/// Whether both were told with the same first step.
fn same_step(a: &GroupView, b: &GroupView) -> bool {
    let step = |view: &GroupView| {
        let step = view.entry.report.frames.first()?;
        Some((step.file.clone()?, step.line?))
    };
    step(a).is_some_and(|at| step(b) == Some(at))
}

/// Whether it says that a script cannot be read.
fn is_unread(view: &GroupView) -> bool {
    is_there(view)
        && view.entry.family == Family::DoesNotParse
        && view.entry.place.as_ref().is_some_and(|p| is_script(&p.file))
}

/// Whether a name is missing in a page right after one of its scripts could not be read.
fn lacks_script(view: &GroupView, other: &GroupView) -> bool {
    let page = view.entry.report.reader == other.entry.report.reader && view.source == other.source;
    page && view.entry.family == Family::NameNotThere
        && says_undefined(&view.entry.report.message)
        && gap(other.first, view.first).is_some_and(|ms| (-SOON..=SOON).contains(&ms))
}

fn is_script(path: &str) -> bool {
    [".js", ".mjs", ".ts", ".tsx", ".jsx"].iter().any(|end| path.ends_with(end))
}

/// Whether a whole name is missing, not a part of an object.
fn says_undefined(said: &str) -> bool {
    said.ends_with("is not defined") || said.starts_with("Can't find variable")
}

/// The path of an address, without what it asks with.
fn path_of(address: &str) -> &str {
    let path = address
        .split_once("://")
        .map_or(address, |(_, rest)| rest.find('/').map_or("", |at| &rest[at..]));
    path.split(['?', '#']).next().unwrap_or(path)
}

#[cfg(test)]
mod tests {
    use super::path_of;
    use crate::{Engine, GroupView};
    use izba_model::project::ProjectFile;
    use izba_model::{Project, Stream};
    use std::sync::Arc;

    /// The groups of a server and a page that print these lines at these times.
    fn told(lines: &[(&str, i64, &str)]) -> Vec<(String, bool)> {
        let file = |path: &str| ProjectFile { path: path.into(), text: Some("a\nb\nc\n".into()) };
        let project = Project::new("/srv", vec![file("src/quay.js"), file("office.mjs")]);
        let mut engine = Engine::new(Arc::new(project));
        let (server, page) = (engine.add_source("server"), engine.add_source("page"));
        let mut at = 0;
        for (source, time, line) in lines {
            let source = if *source == "server" { server } else { page };
            let line = format!("{line}\n");
            engine.feed(source, Stream::Out, Some(izba_model::Millis(*time)), at, line.as_bytes());
            at += line.len() as u64;
        }
        engine.finish();
        let said = |g: &Arc<GroupView>| (g.entry.report.message.clone(), g.later_than.is_some());
        engine.groups().iter().map(said).collect()
    }

    fn alone(lines: &[(&str, i64, &str)]) -> usize {
        told(lines).iter().filter(|(_, folded)| !folded).count()
    }

    const THROWN: &str = "TypeError: tide is not a function\n    at sell (/srv/office.mjs:2:5)";
    const REFUSED: &str = "[page error] http://127.0.0.1:8000/api/tide was not loaded: the server \
        answers 500\n    at http://127.0.0.1:8000/src/quay.js:1:4";

    #[test]
    fn what_a_server_failed_at_and_the_page_is_told_is_one() {
        let thrown = "[page uncaught] Error: /api/tide answers 500\n    at \
            http://127.0.0.1:8000/src/quay.js:2:9";
        let all = [("server", 5_000, THROWN), ("page", 5_040, REFUSED), ("page", 5_050, thrown)];
        assert_eq!(alone(&all), 1, "{:?}", told(&all));
        // In whichever order they arrive.
        assert_eq!(alone(&[all[1], all[0], all[2]]), 1);
    }

    #[test]
    fn what_came_at_another_time_or_has_another_reason_stays_apart() {
        assert_eq!(alone(&[("server", 1_000, THROWN), ("page", 9_000, REFUSED)]), 2);
        let missing = REFUSED.replace("500", "404");
        assert_eq!(alone(&[("server", 5_000, THROWN), ("page", 5_040, &missing)]), 2);
        let other = "[page uncaught] TypeError: rope is null\n    at \
            http://127.0.0.1:8000/src/quay.js:3:9";
        assert_eq!(alone(&[("page", 5_000, REFUSED), ("page", 5_010, other)]), 2);
    }

    #[test]
    fn who_quotes_what_another_console_says_or_names_its_trace_tells_the_same() {
        let failed = "TypeError: no berth is left for boat 7\n    at sell (/srv/office.mjs:2:5)";
        let quoting = "[page error] Error: the office says: no berth is left for boat 7\n    at \
            http://127.0.0.1:8000/src/quay.js:2:9";
        assert_eq!(alone(&[("server", 5_000, failed), ("page", 5_040, quoting)]), 1);
        assert_eq!(alone(&[("page", 5_000, quoting), ("server", 5_040, failed)]), 1);
        assert_eq!(alone(&[("server", 5_000, failed), ("page", 9_000, quoting)]), 2);
        assert_eq!(alone(&[("page", 5_000, failed), ("page", 5_040, quoting)]), 2, "one console");
        let short = failed.replace("no berth is left for boat 7", "torn");
        let torn = quoting.replace("no berth is left for boat 7", "torn");
        assert_eq!(alone(&[("server", 5_000, &short), ("page", 5_040, &torn)]), 2, "any word");

        let id = "4bf92f3577b34da6a3ce929d0e0e4736";
        let stamp = "2026-11-23 20:00:01.250 ERROR office:";
        let failed = format!(
            "{stamp} no berth, trace {id}\n{stamp} java.lang.IllegalStateException: full\n{stamp} \
             \tat quay.Office.sell(Office.java:4)"
        );
        let asked = format!("[page error] the berth was refused, trace {id}");
        assert_eq!(alone(&[("server", 5_000, &failed), ("page", 5_040, &asked)]), 1);
        let another = asked.replace("4bf9", "5bf9");
        assert_eq!(alone(&[("server", 5_000, &failed), ("page", 5_040, &another)]), 2);
    }

    #[test]
    fn what_goes_on_behind_a_listener_that_threw_is_of_the_same_mistake() {
        let thrown = "[page uncaught] TypeError: rope is undefined\n    at tie \
            (http://127.0.0.1:8000/src/quay.js:1:9)\n    at moor (http://127.0.0.1:8000/src/quay.js:2:3)";
        let behind = "[page uncaught] TypeError: knot is undefined\n    at moor \
            (http://127.0.0.1:8000/src/quay.js:3:9)";
        assert_eq!(alone(&[("page", 5_000, thrown), ("page", 5_030, behind)]), 1);
        // Later, further up, or in another function it is another one.
        assert_eq!(alone(&[("page", 5_000, thrown), ("page", 5_900, behind)]), 2);
        let above = behind.replace("quay.js:3", "quay.js:1");
        assert_eq!(alone(&[("page", 5_000, thrown), ("page", 5_030, &above)]), 2);
        let other = behind.replace("at moor", "at sail");
        assert_eq!(alone(&[("page", 5_000, thrown), ("page", 5_030, &other)]), 2);
    }

    #[test]
    fn an_address_is_cut_to_its_path() {
        assert_eq!(path_of("http://127.0.0.1:8000/a/b.js?t=3#x"), "/a/b.js");
        assert_eq!(path_of("http://127.0.0.1:8000"), "");
    }
}

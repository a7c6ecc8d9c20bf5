//! Reports of tests in files: the XML that nearly all test runners can write, named after the first
//! one that did (`testsuite`, `testcase`, `failure`, `error`, `system-out`).

use crate::read::find_place;
use crate::trace::{Assembled, read_text};
use izba_model::{Column, Level, Project, Report, StackFrame};
use roxmltree::{Document, Node};

/// Id under which such reports are known.
const READER: &str = "tests";
/// Lines of what a test printed that are kept.
const PRINTED: usize = 6;

/// Whether a text may be a report of tests.
pub fn is_test_report(text: &str) -> bool {
    let text = text.trim_start_matches('\u{feff}').trim_start();
    let bound = (0..=text.len().min(4_096)).rev().find(|at| text.is_char_boundary(*at));
    let head = &text[..bound.unwrap_or(0)];
    head.starts_with('<') && (head.contains("<testsuite") || head.contains("<testcase"))
}

/// The failed tests of a report, each with the lines of the file that tell of it.
///
/// # Errors
///
/// A sentence with the line, when it is no XML from there on.
pub fn failed_tests(text: &str, project: &Project) -> Result<Vec<Assembled>, String> {
    let text = text.trim_start_matches('\u{feff}');
    let parsed = Document::parse(text).map_err(|e| {
        format!("is no whole XML (line {}: {e}); have it written again", e.pos().row)
    })?;
    let cases = parsed.descendants().filter(|n| n.has_tag_name("testcase"));
    Ok(cases.flat_map(|case| of_case(case, text, project)).collect())
}

/// What a test failed with: one report for each.
fn of_case(case: Node<'_, '_>, text: &str, project: &Project) -> Vec<Assembled> {
    let failed = |n: &Node<'_, '_>| n.has_tag_name("failure") || n.has_tag_name("error");
    let line = |at: usize| text[..at].matches('\n').count() as u64;
    let one = |failure: Node<'_, '_>| Assembled {
        report: report(case, failure, project),
        first_line: line(failure.range().start),
        last_line: line(failure.range().end),
        time: None,
    };
    case.children().filter(failed).map(one).collect()
}

fn report(case: Node<'_, '_>, failure: Node<'_, '_>, project: &Project) -> Report {
    let said = failure.text().unwrap_or("").trim_end();
    let words = failure.attribute("message").unwrap_or("").trim();
    let mut report = read_text(said, project).unwrap_or_else(|| {
        let first = said.lines().map(str::trim).find(|l| !l.is_empty()).unwrap_or("it failed");
        let message = words.lines().next().filter(|w| !w.is_empty()).unwrap_or(first);
        let mut report = Report::new(READER, Level::Error, message);
        // A place may stand anywhere in what is said; the last one is nearest to what failed.
        let own = |l: &str| {
            find_place(l, 0).filter(|p| project.find(p.file).is_some()).map(|p| p.frame())
        };
        report.head = said.lines().rev().find_map(own);
        report
    });
    report.level = report.level.max(Level::Error);
    let kind = failure.attribute("type").map(|k| k.rsplit('.').next().unwrap_or(k));
    report.kind = report.kind.or_else(|| kind.filter(|k| like_kind(k)).map(str::to_owned));
    let name = case.attribute("name").unwrap_or("");
    let of = case.attribute("classname").filter(|c| !c.is_empty() && !name.contains(*c));
    report.handler = report.handler.or_else(|| {
        let whole = of.map_or(name.to_owned(), |c| format!("{c} {name}"));
        (!whole.trim().is_empty()).then_some(whole)
    });
    if report.head.is_none() {
        // Where the test stands, for want of where it failed.
        report.head = stands(case);
        report.head_leads = false;
    }
    let printed = |n: &Node<'_, '_>| n.has_tag_name("system-out") || n.has_tag_name("system-err");
    let lines = case.children().filter(printed).filter_map(|n| n.text());
    let lines = lines.flat_map(str::lines).map(str::trim).filter(|l| !l.is_empty());
    report.details.extend(lines.take(PRINTED).map(str::to_owned));
    report
}

/// Whether the type of a failure is the name of an exception, and not just “failure”.
fn like_kind(word: &str) -> bool {
    ["Error", "Exception", "Failure", "Fault"].iter().any(|end| word.ends_with(end))
        && word.starts_with(|c: char| c.is_ascii_uppercase())
}

fn stands(case: Node<'_, '_>) -> Option<StackFrame> {
    let number = |name: &str| case.attribute(name).and_then(|n| n.parse::<u32>().ok());
    Some(StackFrame {
        file: Some(case.attribute("file")?.to_owned()),
        line: number("line").map(|line| line.max(1)),
        column: number("column").map(Column::chars),
        ..StackFrame::default()
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::ProjectFile;
    use proptest::prelude::*;

    fn project() -> Project {
        let text = Some("one\ntwo\nthree\nfour\nfive\nsix\n".into());
        let files = ["src/bell.js", "test_bell.py", "bell.py"]
            .map(|path| ProjectFile { path: path.into(), text: text.clone() });
        Project::new("/srv/quay", files.to_vec())
    }

    #[test]
    fn failed_tests_are_told_with_what_was_thrown_and_where_and_others_are_not() {
        let xml = r#"<?xml version="1.0"?>
<testsuites><testsuite name="bell">
  <testcase classname="bell" name="is well" time="0.1"/>
  <testcase classname="bell" name="is left out"><skipped/></testcase>
  <testcase classname="bell" name="has a rope" file="src/bell.js" line="5">
    <failure message="x" type="TypeError">
TypeError: Cannot read properties of undefined (reading &apos;length&apos;)
    at rope (/srv/quay/src/bell.js:6:20)
    </failure>
  </testcase>
  <testcase classname="test_bell" name="test_ring">
    <failure message="assert 4 == 5">def test_ring():
&gt;       assert pull(3) == 5
E       assert 4 == 5

test_bell.py:4: AssertionError</failure>
    <system-out>ringing
</system-out>
  </testcase>
  <testcase name="stands" file="bell.py" line="2"><error type="lost.OarException"/></testcase>
</testsuite></testsuites>"#;
        let one = |a: &Assembled| {
            let r = &a.report;
            let place = r.frames.first().or(r.head.as_ref());
            let place = place.map(|f| (f.file.clone().unwrap_or_default(), f.line.unwrap_or(0)));
            let kind = r.kind.as_deref().unwrap_or("-");
            format!(
                "{kind} | {} | {place:?} | {:?} | {:?} | {}-{}",
                r.message, r.handler, r.details, a.first_line, a.last_line
            )
        };
        let told = failed_tests(xml, &project()).expect("it is XML");
        insta::assert_snapshot!(told.iter().map(one).collect::<Vec<_>>().join("\n"), @r#"
        TypeError | Cannot read properties of undefined (reading 'length') | Some(("/srv/quay/src/bell.js", 6)) | Some("bell has a rope") | [] | 5-8
        - | assert 4 == 5 | Some(("test_bell.py", 4)) | Some("test_bell test_ring") | ["ringing"] | 11-15
        OarException | it failed | Some(("bell.py", 2)) | Some("stands") | [] | 19-19
        "#);
        assert!(is_test_report(xml) && !is_test_report("<html><body>testsuite</body></html>"));
        let cut = failed_tests(&xml[..600], &project()).expect_err("it is cut off");
        assert!(cut.starts_with("is no whole XML (line "), "{cut}");
    }

    proptest! {
        #[test]
        fn any_text_is_answered(text in "(<testsuite|<testcase name=\"|<failure>|</failure>|\"|/>|>|&lt;|[a-z \n:.1-9]){0,24}") {
            let _ = is_test_report(&text);
            let _ = failed_tests(&text, &project());
        }
    }
}

//! other: what no family knows, and families without words of their own for a case. Says what is
//! certain, and that the rest is not known.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;
use izba_model::{Family, Level};

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let entry = case.entry;
    let kind = entry.root_kind.as_deref().map(|k| k.rsplit('.').next().unwrap_or(k));
    let message = entry.root_message.lines().next().unwrap_or("").trim();
    let said = match (message.is_empty(), kind) {
        (false, _) => message.to_owned(),
        (true, Some(kind)) => kind.to_owned(),
        (true, None) => "an error without words".to_owned(),
    };
    let placed = entry.place.is_some();
    let headline = match (case.file_name(), entry.place.as_ref().and_then(|p| p.line)) {
        (Some(file), Some(line)) => Sentence::from_name(&said)
            .text(", says ")
            .place(file)
            .text(" at line ")
            .text(&line.to_string())
            .text("."),
        _ => Sentence::from_name(&said).text("."),
    };
    let what = match entry.family {
        Family::Other if entry.report.level == Level::Warning => {
            "This is a warning: the program goes on."
        }
        Family::Other => {
            "Izba does not know this sentence, so it can only show where it comes from."
        }
        family => family.docs(),
    };
    let mut plain = vec![what.to_owned()];
    if ["throw ", "raise ", "error(", "fatal(", "panic!("]
        .iter()
        .any(|word| case.line().contains(word))
    {
        plain = vec![
            "This line raises it on purpose, with words of the program's own. Read the \
            condition that leads here: it was met."
                .into(),
        ];
    }
    if !placed {
        plain.push("It names no line in your own files.".into());
    }
    Explanation {
        headline,
        short: said,
        note: "it happened here".into(),
        plain,
        token: entry.token,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::{Entry, Project, Report};

    #[test]
    fn a_family_without_an_explanation_of_its_own_says_what_it_is() {
        let project = Project::new("/p", Vec::new());
        let report = Report::new("lua", Level::Error, "the bell is cracked");
        let mut entry = Entry::resolve(report, &project, None);
        let plain = |entry: &Entry| explain(&Case { entry }).plain[0].clone();
        assert!(plain(&entry).contains("does not know this sentence"));
        entry.family = Family::NotOpen;
        assert_eq!(plain(&entry), Family::NotOpen.docs());
    }
}

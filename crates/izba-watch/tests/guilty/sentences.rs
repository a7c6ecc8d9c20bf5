//! Every sentence that may be said of a program, in one place to be read aloud from beginning to
//! end: each with the names and numbers of the first seeded program of which it was said, those that
//! none of them needs with their slots open.

use super::seeded::{cases, is_set_aside, project_of, read};
use izba_model::claim::{Kind, Saying};
use izba_model::text::width_cells;
use izba_watch::guilty::Guilty;
use rayon::prelude::*;
use std::collections::BTreeMap;
use std::fmt::Write;

/// A first sentence is read at a glance, so it is no longer than this, in cells.
const TITLE: usize = 100;

#[test]
fn every_sentence_is_told_with_an_example_and_reads_well() {
    let (folder, mut cases) = cases();
    cases.retain(|c| !is_set_aside(&c.project));
    let told: Vec<(Vec<Saying>, String)> = cases
        .par_iter()
        .map(|case| {
            let project = project_of(&folder, case);
            let guilty = Guilty::of(&project);
            let engine = read(&project, &case.console);
            let mut said: Vec<Saying> = Vec::new();
            let mut title = String::new();
            if let Some(group) = engine.groups().first() {
                let found = guilty.find(&group.entry);
                title = group.told(Some(&found)).headline.bare();
                let suspects = found.suspects.iter().map(|s| &s.claim);
                for claim in suspects.chain(found.reasons.iter().map(|r| &r.claim)) {
                    said.push(claim.says.clone());
                    said.extend(claim.evidence.iter().map(|e| e.saw.clone()));
                }
            }
            for remark in izba_cause::checks::all(guilty.repaired()).remarks {
                said.push(remark.claim.says.clone());
                said.extend(remark.claim.evidence.iter().map(|e| e.saw.clone()));
            }
            (said, title)
        })
        .collect();
    let mut examples: BTreeMap<String, String> = BTreeMap::new();
    for saying in told.iter().flat_map(|(said, _)| said) {
        examples.entry(format!("{:?}", saying.kind)).or_insert_with(|| saying.to_string());
    }
    let suspects = izba_cause::suspect::CHECKS.iter().flat_map(|c| c.kinds);
    let checks = izba_cause::checks::CHECKS.iter().flat_map(|c| c.kinds);
    let every = |kind: &&'static Kind| (format!("{kind:?}"), kind.template().unwrap_or_default());
    for (kind, template) in suspects.chain(checks).map(every) {
        examples.entry(kind).or_insert_with(|| template.to_owned());
    }
    let mut text = String::new();
    let mut of = "";
    for (kind, sentence) in &examples {
        let check = kind.split('.').next().unwrap_or_default();
        if check != of {
            let _ = writeln!(text, "{}{check}", if of.is_empty() { "" } else { "\n" });
            of = check;
        }
        let _ = writeln!(text, "  {sentence}");
    }
    insta::assert_snapshot!("sentences", text);

    let long: Vec<&String> =
        told.iter().map(|(_, title)| title).filter(|t| width_cells(t) > TITLE).collect();
    assert!(long.is_empty(), "{} titles are too long: {long:#?}", long.len());
}

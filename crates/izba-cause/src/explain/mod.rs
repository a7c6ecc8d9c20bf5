//! What an error means, in plain words with its own names: one file for each family of errors.
//!
//! A family holds patterns of the sentences that belong to it and a function that explains one of
//! them. A new family is one file here and one line in [`FAMILIES`].

mod case;
mod dependency_ring;
mod does_not_parse;
mod file_not_there;
mod glossary;
mod loose_wiring;
mod name_not_there;
mod not_open;
mod not_reached;
mod other;
mod out_of_range;
mod value_not_there;
mod wrong_kind;

pub use case::{Case, Explanation};
pub use glossary::glossary;

use crate::suspect::Findings;
use izba_model::claim::{LIKELY, Slot};
use izba_model::{Entry, Family, say};

/// Who explains a family; for all others the general words do.
static EXPLAINERS: &[(Family, Explain)] = &[
    (Family::DependencyRing, dependency_ring::explain),
    (Family::DoesNotParse, does_not_parse::explain),
    (Family::FileNotThere, file_not_there::explain),
    (Family::LooseWiring, loose_wiring::explain),
    (Family::NameNotThere, name_not_there::explain),
    (Family::NotOpen, not_open::explain),
    (Family::NotReached, not_reached::explain),
    (Family::OutOfRange, out_of_range::explain),
    (Family::ValueNotThere, value_not_there::explain),
    (Family::WrongKind, wrong_kind::explain),
];

type Explain = fn(&Case<'_>) -> Explanation;

/// The kinds of everything that explanations say, for the test of words.
#[cfg(test)]
pub(crate) static KINDS: &[&[&izba_model::claim::Kind]] = &[
    case::KINDS,
    dependency_ring::KINDS,
    does_not_parse::KINDS,
    file_not_there::KINDS,
    loose_wiring::KINDS,
    name_not_there::KINDS,
    not_open::KINDS,
    not_reached::KINDS,
    other::KINDS,
    out_of_range::KINDS,
    value_not_there::KINDS,
    wrong_kind::KINDS,
];

/// What Izba says of an error with what it found out about it: where it is known who did it, the
/// first sentence says that, and what is only usual is left out.
pub fn explain_found(entry: &Entry, said: &Explanation, found: &Findings) -> Explanation {
    let case = Case { entry };
    let first = found.suspects.first().filter(|s| s.confidence >= ASKED && !s.is_reported());
    let Some(first) = first else { return said.clone() };
    let likely = first.confidence >= LIKELY;
    let mut said = match entry.family {
        Family::DoesNotParse if likely => does_not_parse::found(&case, said, first),
        _ => None,
    }
    .unwrap_or_else(|| said.clone());
    // Where the name is misspelt that is made, the one that is asked for is well.
    let asked = first.claim.check() == SPELLING && first.claim.kind().key != "made-otherwise";
    if let Some(other) = first.claim.says.slot("other").filter(|_| asked) {
        let what = Slot::Sentence(said.headline.clone());
        said.headline = say!(case::MEANT, what, other = other.clone()).sentence();
    }
    if likely {
        said.advice.clear();
    }
    titled(said)
}

/// A question may be asked sooner than a thing is claimed: of suspects as sure as this, seven in ten
/// were guilty.
const ASKED: f32 = 0.45;

/// The check whose findings are questions of spelling.
const SPELLING: &str = "spelling";

/// Explains a placed entry by its family, its sentence and the line it stands on.
pub fn explain(entry: &Entry) -> Explanation {
    let own = EXPLAINERS.iter().find(|(family, _)| *family == entry.family);
    let said = own.map_or(other::explain as Explain, |(_, explain)| *explain)(&Case { entry });
    titled(said)
}

/// A first sentence is read at a glance: it is no longer than this, in cells. The console's own words
/// stand whole in Why.
const TITLE: usize = 100;

fn titled(said: Explanation) -> Explanation {
    Explanation { headline: said.headline.fitting(TITLE), ..said }
}

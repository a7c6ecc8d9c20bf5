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
mod other;
mod out_of_range;
mod value_not_there;
mod wrong_kind;

pub use case::{Case, Explanation};
pub use glossary::glossary;

use izba_model::Entry;
use izba_model::Family;

/// Who explains a family; for all others the general words do.
static EXPLAINERS: &[(Family, Explain)] = &[
    (Family::DependencyRing, dependency_ring::explain),
    (Family::DoesNotParse, does_not_parse::explain),
    (Family::FileNotThere, file_not_there::explain),
    (Family::LooseWiring, loose_wiring::explain),
    (Family::NameNotThere, name_not_there::explain),
    (Family::NotOpen, not_open::explain),
    (Family::OutOfRange, out_of_range::explain),
    (Family::ValueNotThere, value_not_there::explain),
    (Family::WrongKind, wrong_kind::explain),
];

type Explain = fn(&Case<'_>) -> Explanation;

/// Explains a placed entry by its family, its sentence and the line it stands on.
pub fn explain(entry: &Entry) -> Explanation {
    let own = EXPLAINERS.iter().find(|(family, _)| *family == entry.family);
    own.map_or(other::explain as Explain, |(_, explain)| *explain)(&Case { entry })
}

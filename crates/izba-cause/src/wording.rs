//! Held here: every sentence that this crate may say has its words, and no words are left over.

use izba_model::claim::{Kind, misworded};

#[test]
fn every_kind_has_its_words_and_every_line_of_words_its_kind() {
    let of_suspects = crate::suspect::CHECKS.iter().map(|c| (c.id, c.kinds));
    let of_checks = crate::checks::CHECKS.iter().map(|c| (c.id, c.kinds));
    for (id, kinds) in of_suspects.chain(of_checks) {
        assert_eq!(kinds[0].of(), id, "words are called like their check");
        assert_eq!(misworded(kinds), Vec::<String>::new(), "{id}");
    }
    let others: [&[&'static Kind]; 5] = [
        crate::silence::KINDS,
        crate::seen::KINDS,
        crate::pause::KINDS,
        crate::suspect::edited::KINDS,
        crate::suspect::given_up::KINDS,
    ];
    // Whole paragraphs end as sentences do.
    let left = |found: &str| !found.contains("does not read well");
    for kinds in crate::explain::KINDS {
        let mut found = misworded(kinds);
        found.retain(|f| left(f));
        assert_eq!(found, Vec::<String>::new(), "{}", kinds[0].of());
    }
    for kinds in others {
        assert_eq!(misworded(kinds), Vec::<String>::new(), "{}", kinds[0].of());
    }
}

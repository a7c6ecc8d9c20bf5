//! What several checks say of what was seen, at one place.

use izba_model::sayings;

sayings! {
    "seen", Any, "../words/seen.toml";
    pub(crate) ASKED_HERE = "asked-here",
    pub(crate) IT_IS_ASKED_HERE = "it-is-asked-here",
    pub(crate) LIES_HERE = "lies-here",
    pub(crate) MADE_HERE = "made-here",
    pub(crate) NAME_NEEDED_HERE = "name-needed-here",
    pub(crate) NEARLY_THIS_NAME = "nearly-this-name",
    pub(crate) NEEDED_HERE = "needed-here",
    pub(crate) PUT_IN_HERE = "put-in-here",
    pub(crate) STANDS_HERE = "stands-here",
    pub(crate) VALUE_HERE = "value-here",
}

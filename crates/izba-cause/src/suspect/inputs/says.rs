//! All that the check says.

use izba_model::sayings;

sayings! {
    "inputs", Any, "../../../words/suspects/inputs.toml";
    pub(super) GIVES_NOTHING = "gives-nothing",
    pub(super) NOTHING_HERE = "nothing-here",
    pub(super) NOTHING_WRITTEN = "nothing-written",
    pub(super) ODD_VALUE = "odd-value",
    pub(super) ONLY_VALUE = "only-value",
    pub(super) OFFERED_HERE = "offered-here",
    pub(super) NEVER_ASKED = "never-asked",
    pub(super) NOT_REGISTERED = "not-registered",
    pub(super) MADE_HERE = "made-here",
    pub(super) BELONGS_TO_TYPE = "belongs-to-type",
    pub(super) LOOKED_UP = "looked-up",
    pub(super) ARRIVES = "arrives",
    pub(super) LACKS = "lacks",
    pub(super) MADE_WRONGLY = "made-wrongly",
    pub(super) LOOP_DOES_NOTHING = "loop-does-nothing",
    pub(super) NOTHING_PUT_IN = "nothing-put-in",
    pub(super) NOT_HANDED_OUT = "not-handed-out",
    pub(super) NEVER_SET = "never-set",
    pub(super) LOCAL_ONLY = "local-only",
    pub(super) HEAD_LINE = "head-line",
    pub(super) FUNCTION_ITSELF = "function-itself",
    pub(super) STAYS_TEXT = "stays-text",
    pub(super) NOT_OFFERED = "not-offered",
    pub(super) NOT_CONVERTED = "not-converted",
    pub(super) HANDED_CROSSWISE = "handed-crosswise",
    pub(super) TOO_SMALL = "too-small",
    pub(super) NO_RETURN_AT_END = "no-return-at-end",
}

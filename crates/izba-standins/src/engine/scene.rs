//! The scene file: objects with what they begin with, and cues that call their handlers later.

use serde::Deserialize;
use std::collections::BTreeMap;

/// A scene as its JSON file says it.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Scene {
    /// What the game is called.
    pub title: String,
    /// The objects, in the order in which they tick.
    pub objects: Vec<Described>,
    /// What happens later.
    #[serde(default)]
    pub cues: Vec<Cue>,
}

/// One object.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Described {
    /// Its kind.
    pub kind: String,
    /// Its number among those of its kind.
    pub id: u32,
    /// Its script, from the project's folder.
    pub script: String,
    /// Fields that it begins with.
    #[serde(default)]
    pub with: BTreeMap<String, serde_json::Value>,
}

/// A handler that is called at a time, and perhaps again and again.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Cue {
    /// Seconds of game time until the first call.
    pub at: f64,
    /// Seconds between calls; once when left out.
    pub every: Option<f64>,
    /// The handler.
    pub call: String,
    /// The object, as `Bell#1`.
    pub on: String,
}

impl Cue {
    /// Whether the call falls into the tick of length `step` that ends at game time `now`, in seconds.
    pub fn is_due(&self, now: f64, step: f64) -> bool {
        let calls_by = |time: f64| {
            if time < self.at {
                return 0;
            }
            self.every.map_or(1, |every| 1 + ((time - self.at) / every.max(step)) as u64)
        };
        calls_by(now) > calls_by(now - step)
    }
}

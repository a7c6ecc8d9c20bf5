//! The scene file, and the file that says what a player does.

use serde::Deserialize;
use std::collections::BTreeMap;

/// A scene as its JSON file says it.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Scene {
    /// What the game is called.
    pub title: String,
    /// Layers, the farthest first.
    #[serde(default)]
    pub layers: Vec<String>,
    /// Pictures by name.
    #[serde(default)]
    pub pictures: BTreeMap<String, Picture>,
    /// The objects, in the order in which they begin and tick.
    pub objects: Vec<Described>,
    /// What happens later.
    #[serde(default)]
    pub cues: Vec<Cue>,
}

/// A picture that an object of the scene shows.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Picture {
    /// Width and height.
    pub size: (f64, f64),
    /// Hides what lies behind it.
    #[serde(default)]
    pub opaque: bool,
    /// Objects with it bump into one another.
    #[serde(default)]
    pub solid: bool,
}

/// One object of the scene as its file describes it.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Described {
    /// Its kind.
    pub kind: String,
    /// Its number among those of its kind.
    pub id: u32,
    /// Its script, from the project's folder.
    pub script: String,
    /// The picture that is drawn for it.
    pub picture: Option<String>,
    /// The layer on which it is drawn.
    pub layer: Option<String>,
    /// Where its middle is.
    #[serde(default)]
    pub at: (f64, f64),
    /// Whether it is drawn at first.
    #[serde(default = "yes")]
    pub visible: bool,
    /// The handler to call for what a player does, as `"touch": "ring"`.
    #[serde(default)]
    pub handlers: BTreeMap<String, String>,
    /// Fields that it begins with.
    #[serde(default)]
    pub with: BTreeMap<String, serde_json::Value>,
}

fn yes() -> bool {
    true
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
    /// Whether the call falls into tick number `tick`, of `rate` ticks a second.
    pub fn is_due(&self, tick: u32, rate: f64) -> bool {
        let first = tick_of(self.at, rate);
        let since = u64::from(tick).checked_sub(first);
        match self.every {
            None => since == Some(0),
            Some(every) => {
                since.is_some_and(|since| since.is_multiple_of(tick_of(every, rate).max(1)))
            }
        }
    }
}

/// The tick that stands for a time. Times are counted in whole ticks, so that rounding loses or
/// doubles nothing.
pub fn tick_of(seconds: f64, rate: f64) -> u64 {
    (seconds * rate).round() as u64
}

/// One thing that the scripted player does.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Deed {
    /// Seconds of game time.
    pub at: f64,
    /// Touches an object.
    pub touch: Option<String>,
    /// Looks for an object.
    pub look: Option<String>,
}

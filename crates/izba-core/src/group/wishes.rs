//! What the user decided about groups: muted, called fixed, split, joined. Decisions come as a list
//! of wishes, each with its opposite, so that whatever was decided can be undone and the list can
//! be kept as it was made.

use super::Identity;
use crate::phrase::Phrase;
use izba_cause::pause::Breakpoint;
use izba_model::Millis;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};
use std::sync::Arc;

/// By what the parts of a group are told apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Split {
    /// By the object at fault.
    Object,
    /// By who called the function that failed.
    Caller,
    /// By the very words.
    Words,
}

/// What the rows of groups stand for: errors, files, or families.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum GroupBy {
    /// The same mistake.
    #[default]
    Mistake,
    /// The shape of the message.
    Message,
    /// The script and line.
    Place,
    /// The object at fault.
    Object,
    /// The language's kind of error.
    Kind,
    /// The family across languages.
    Family,
    /// The source that told it.
    Source,
}

impl GroupBy {
    /// All of them, in the order of the key.
    pub const ALL: [GroupBy; 7] = [
        GroupBy::Mistake,
        GroupBy::Message,
        GroupBy::Place,
        GroupBy::Object,
        GroupBy::Kind,
        GroupBy::Family,
        GroupBy::Source,
    ];

    /// The word under which it is kept and typed.
    pub fn word(self) -> &'static str {
        match self {
            GroupBy::Mistake => "mistake",
            GroupBy::Message => "message",
            GroupBy::Place => "place",
            GroupBy::Object => "object",
            GroupBy::Kind => "kind",
            GroupBy::Family => "family",
            GroupBy::Source => "source",
        }
    }
}

/// One decision of the user about groups, which can be taken back.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Wish {
    /// Set a group aside, or take it back.
    Mute(Identity, bool),
    /// Set aside whatever a phrase fits, or take it back.
    MutePhrase(String, bool),
    /// Call a group fixed at a moment, or take it back.
    Fixed(Identity, Option<i64>),
    /// Tell the parts of a group apart, or no longer.
    Split(Identity, Option<Split>),
    /// Count the first group as the second, or no longer.
    Join(Identity, Option<Identity>),
    /// Keep a phrase under a name, or no longer.
    Filter(String, Option<String>),
    /// What Izba remarks about the code, or suspects, is known to the user and no news; or no
    /// longer. By its key.
    Known(String, bool),
    /// A breakpoint by its key, or none any more.
    Breakpoint(String, Option<Breakpoint>),
    /// The first is the second after its line was edited. Found by Izba.
    Edited(Identity, Option<Identity>),
}

/// All decisions of the user together, those of earlier sessions too.
#[derive(Debug, Clone, Default)]
pub struct Wishes {
    muted: HashSet<Identity>,
    phrases: Vec<(String, Phrase)>,
    fixed: HashMap<Identity, Millis>,
    splits: HashMap<Identity, Split>,
    joins: HashMap<Identity, Identity>,
    edited: HashMap<Identity, Identity>,
    filters: BTreeMap<String, String>,
    known: Arc<BTreeSet<String>>,
    breakpoints: BTreeMap<String, Breakpoint>,
}

fn set<V: Clone>(map: &mut HashMap<Identity, V>, key: &Identity, value: Option<V>) -> Option<V> {
    match value {
        Some(value) => map.insert(key.clone(), value),
        None => map.remove(key),
    }
}

impl Wishes {
    /// Follows one wish and returns the one that takes it back.
    pub fn follow(&mut self, wish: &Wish) -> Wish {
        match wish {
            Wish::Mute(group, on) => {
                let was =
                    if *on { !self.muted.insert(group.clone()) } else { self.muted.remove(group) };
                Wish::Mute(group.clone(), was)
            }
            Wish::MutePhrase(text, on) => {
                let was = self.phrases.iter().any(|(t, _)| t == text);
                self.phrases.retain(|(t, _)| t != text);
                if *on && let Ok(phrase) = Phrase::parse(text) {
                    self.phrases.push((text.clone(), phrase));
                }
                Wish::MutePhrase(text.clone(), was)
            }
            Wish::Fixed(group, at) => {
                Wish::Fixed(group.clone(), set(&mut self.fixed, group, at.map(Millis)).map(|t| t.0))
            }
            Wish::Split(group, by) => Wish::Split(group.clone(), set(&mut self.splits, group, *by)),
            Wish::Join(group, with) => {
                Wish::Join(group.clone(), set(&mut self.joins, group, with.clone()))
            }
            Wish::Filter(name, phrase) => {
                let was = match phrase {
                    Some(phrase) => self.filters.insert(name.clone(), phrase.clone()),
                    None => self.filters.remove(name),
                };
                Wish::Filter(name.clone(), was)
            }
            Wish::Breakpoint(key, wanted) => {
                let was = match wanted {
                    Some(breakpoint) => self.breakpoints.insert(key.clone(), breakpoint.clone()),
                    None => self.breakpoints.remove(key),
                };
                Wish::Breakpoint(key.clone(), was)
            }
            Wish::Known(key, on) => {
                let known = Arc::make_mut(&mut self.known);
                let was = if *on { !known.insert(key.clone()) } else { known.remove(key) };
                Wish::Known(key.clone(), was)
            }
            Wish::Edited(group, was) => {
                Wish::Edited(group.clone(), set(&mut self.edited, group, was.clone()))
            }
        }
    }

    /// Whether a group was set aside by itself.
    pub fn is_muted(&self, group: &Identity) -> bool {
        self.muted.contains(group)
    }

    /// The phrases that set groups aside.
    pub fn muting(&self) -> impl Iterator<Item = (&str, &Phrase)> {
        self.phrases.iter().map(|(text, phrase)| (text.as_str(), phrase))
    }

    /// The phrases that are kept, by name.
    pub fn filters(&self) -> impl Iterator<Item = (&str, &str)> {
        self.filters.iter().map(|(name, phrase)| (name.as_str(), phrase.as_str()))
    }

    /// What the user knows of the code, or ruled out, by key.
    pub fn known(&self) -> Arc<BTreeSet<String>> {
        self.known.clone()
    }

    /// The breakpoints, by file and line.
    pub fn breakpoints(&self) -> impl Iterator<Item = (&str, &Breakpoint)> {
        self.breakpoints.iter().map(|(key, breakpoint)| (key.as_str(), breakpoint))
    }

    /// When a group was called fixed.
    pub fn fixed(&self, group: &Identity) -> Option<Millis> {
        self.fixed.get(group).copied()
    }

    /// How the parts of a group are told apart.
    pub fn split(&self, group: &Identity) -> Option<Split> {
        self.splits.get(group).copied()
    }

    /// The group that this one counts as; itself when it was not joined.
    pub fn joined<'a>(&'a self, group: &'a Identity) -> &'a Identity {
        let mut at = group;
        // Joins made in a ring end after as many steps as there are.
        for _ in 0..=self.joins.len() {
            match self.joins.get(at) {
                Some(next) if next != group => at = next,
                _ => break,
            }
        }
        at
    }

    /// The identity under which a mistake is known whose line was edited since.
    pub fn before_edit<'a>(&'a self, group: &'a Identity) -> &'a Identity {
        let mut at = group;
        for _ in 0..=self.edited.len() {
            match self.edited.get(at) {
                Some(next) if next != group => at = next,
                _ => break,
            }
        }
        at
    }
}

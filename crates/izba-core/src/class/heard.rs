//! Many who tell, as one class: which mistakes were met by whom, who got rid of them, and who has
//! been at one longest.

use super::Change;
use crate::group::lasting;
use izba_model::Millis;
use izba_model::text::counted;
use serde::Deserialize;
use serde_json::json;
use std::collections::{BTreeMap, HashMap, VecDeque};

/// Senders that are kept apart.
const SENDERS: usize = 1_000;
/// Mistakes that are kept apart.
const MISTAKES: usize = 2_000;
/// Sentences of consoles that lead to a mistake.
const SAID: usize = 4 * MISTAKES;
/// A line that is longer is none of ours, in bytes.
const LINE: usize = 64 << 10;
/// Changes that are kept of a sender.
const HISTORY: usize = 200;
/// Characters of a sender's name.
const NAME: usize = 60;

/// One who tells.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Sender {
    /// The number under which it tells.
    id: String,
    /// How it is called: by the name that it gave, else by the order in which it was heard.
    pub name: String,
    /// When it was heard last.
    pub last: Millis,
    /// Its mistakes that are there now, by their place in [`Class::mistakes`], with the moment from
    /// which on they were.
    pub open: BTreeMap<usize, Millis>,
    /// Mistakes that it got rid of.
    pub rid: usize,
    /// What became of its mistakes, oldest first; of much the newest.
    pub history: VecDeque<(Millis, Change)>,
}

/// A mistake that senders met.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Met {
    mark: String,
    /// What the first Izba that told it says of it.
    pub words: String,
    /// Its file, as the first sender called it.
    pub file: Option<String>,
    /// Its line there.
    pub line: Option<u64>,
    /// Who met it, by their place in [`Class::senders`], and whether they got rid of it.
    pub by: BTreeMap<usize, bool>,
}

/// All who were heard.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Class {
    /// In the order in which they were heard first.
    pub senders: Vec<Sender>,
    /// In the order in which they were met first.
    pub mistakes: Vec<Met>,
    /// Which mistake a console's sentence is about.
    said: HashMap<String, usize>,
}

/// A line as a listener writes it, as far as it is looked at.
#[derive(Deserialize)]
struct Line {
    sender: Who,
    message: String,
    file: Option<String>,
    line: Option<u64>,
    attributes: Attributes,
}

#[derive(Deserialize)]
struct Who {
    id: String,
    name: Option<String>,
}

#[derive(Deserialize)]
struct Attributes {
    #[serde(rename = "izba.mistake")]
    mistake: String,
    #[serde(rename = "izba.change")]
    change: Change,
    #[serde(rename = "izba.says")]
    says: Option<String>,
}

impl Met {
    /// Its file and line, where they were told.
    pub fn place(&self) -> Option<String> {
        let file = self.file.as_deref()?;
        Some(self.line.map_or(file.to_owned(), |line| format!("{file}:{line}")))
    }
}

impl Class {
    /// Hears a line; whether it was one that an Izba told.
    pub fn hear(&mut self, line: &[u8], now: Millis) -> bool {
        // Most lines are not, and this is faster than to read them.
        let may_be = line.len() <= LINE && memchr::memmem::find(line, b"izba.mistake").is_some();
        let Some(told) = may_be.then(|| serde_json::from_slice::<Line>(line).ok()).flatten() else {
            return false;
        };
        let Some(sender) = self.sender(&told.sender, now) else { return true };
        let known = self.mistakes.iter().position(|m| m.mark == told.attributes.mistake);
        let change = told.attributes.change;
        let mistake = match known {
            Some(at) => at,
            // What was never met is no news when it is gone.
            None if change == Change::Gone || self.mistakes.len() >= MISTAKES => return true,
            None => {
                self.mistakes.push(Met {
                    mark: told.attributes.mistake.clone(),
                    words: told.attributes.says.unwrap_or_else(|| told.message.clone()),
                    file: told.file.clone(),
                    line: told.line,
                    by: BTreeMap::new(),
                });
                self.mistakes.len() - 1
            }
        };
        if self.said.len() < SAID {
            self.said.entry(told.message).or_insert(mistake);
        }
        self.becomes(sender, mistake, change, now);
        true
    }

    fn becomes(&mut self, sender: usize, mistake: usize, change: Change, now: Millis) {
        let by = &mut self.mistakes[mistake].by;
        let who = &mut self.senders[sender];
        if who.history.len() == HISTORY {
            who.history.pop_front();
        }
        who.history.push_back((now, change));
        if change == Change::Gone {
            if who.open.remove(&mistake).is_some() {
                who.rid += 1;
                by.insert(sender, true);
            }
            return;
        }
        if by.insert(sender, false) == Some(true) {
            who.rid -= 1;
        }
        who.open.entry(mistake).or_insert(now);
    }

    /// Who tells, by its place in the list; `None` when there is no room for one more.
    fn sender(&mut self, who: &Who, now: Millis) -> Option<usize> {
        let at = match self.senders.iter().position(|s| s.id == who.id) {
            Some(at) => at,
            None if self.senders.len() >= SENDERS => return None,
            None => {
                let name = format!("number {}", self.senders.len() + 1);
                self.senders.push(Sender {
                    id: who.id.clone(),
                    name,
                    last: now,
                    open: BTreeMap::new(),
                    rid: 0,
                    history: VecDeque::new(),
                });
                self.senders.len() - 1
            }
        };
        let sender = &mut self.senders[at];
        sender.last = now;
        if let Some(name) = who.name.as_deref().map(str::trim).filter(|n| !n.is_empty()) {
            sender.name = name.chars().take(NAME).collect();
        }
        Some(at)
    }

    /// Whether nobody was heard.
    pub fn is_empty(&self) -> bool {
        self.senders.is_empty()
    }

    /// The mistake that this sentence of a console is about, where a sender told it.
    pub fn about(&self, sentence: &str) -> Option<&Met> {
        self.said.get(sentence).map(|at| &self.mistakes[*at])
    }

    /// How many met a mistake and how many of them got rid of it, in words.
    pub fn share(&self, met: &Met) -> String {
        let rid = met.by.values().filter(|rid| **rid).count();
        let by = format!("met by {} of {}", met.by.len(), self.senders.len());
        match rid {
            0 => by,
            all if all == met.by.len() => format!("{by}, all got rid of it"),
            some => format!("{by}, {some} got rid of it"),
        }
    }

    /// The mistakes by how many have them now, then by how many met them.
    pub fn by_weight(&self) -> Vec<&Met> {
        let mut all: Vec<&Met> = self.mistakes.iter().collect();
        let now = |met: &Met| met.by.values().filter(|rid| !**rid).count();
        all.sort_by_key(|met| std::cmp::Reverse((now(met), met.by.len())));
        all
    }

    /// Those who have an error now, who has been at one longest first: with it, and since when.
    pub fn stuck(&self) -> Vec<(&Sender, &Met, Millis)> {
        let longest = |sender: &Sender| sender.open.iter().map(|(at, since)| (*since, *at)).min();
        let mut all: Vec<_> = self
            .senders
            .iter()
            .filter_map(|s| longest(s).map(|(since, at)| (s, &self.mistakes[at], since)))
            .collect();
        all.sort_by_key(|(sender, _, since)| (since.0, sender.name.clone()));
        all
    }

    /// The class as text: the mistakes, then who has been at one longest.
    pub fn text(&self, now: Millis) -> String {
        let mut text = format!("\n{}.\n", self.sentence());
        for met in self.by_weight() {
            let place = met.place().map_or(String::new(), |place| format!("  {place}"));
            text.push_str(&format!("  {}: {}{place}\n", self.share(met), met.words));
        }
        for (who, met, since) in self.stuck() {
            let long = lasting(now.since(since).max(1_000));
            text.push_str(&format!("  {}: for {long} at “{}”\n", who.name, met.words));
        }
        text
    }

    /// The class as one line of JSON: each mistake with how many met it and how many of them got rid
    /// of it, and each sender with how long it has been at one, since when in milliseconds since 1970
    /// (UTC).
    pub fn json(&self) -> String {
        let mistakes = self.by_weight().into_iter().map(|met| {
            json!({ "words": met.words, "file": met.file, "line": met.line, "met": met.by.len(),
                "rid": met.by.values().filter(|rid| **rid).count() })
        });
        let senders = self.senders.iter().map(|who| {
            let since = who.open.values().map(|at| at.0).min();
            json!({ "name": who.name, "last": who.last.0, "open": who.open.len(), "rid": who.rid,
                "since": since })
        });
        let class = json!({ "mistakes": mistakes.collect::<Vec<_>>(),
            "senders": senders.collect::<Vec<_>>() });
        format!("{}\n", json!({ "class": class }))
    }

    /// The class in a sentence.
    pub fn sentence(&self) -> String {
        let heard = counted(self.senders.len() as u64, "sender was heard", "senders were heard");
        match self.stuck().len() {
            0 if self.senders.len() == 1 => format!("{heard}, without an error now"),
            0 => format!("{heard}, none with an error now"),
            1 => format!("{heard}, one with an error now"),
            some => format!("{heard}, {some} with an error now"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn line(sender: &str, name: Option<&str>, mistake: &str, change: &str) -> Vec<u8> {
        json!({
            "level": "error", "message": format!("no rope in {mistake}"), "file": "quay.lua",
            "line": 4, "sender": { "id": sender, "name": name },
            "attributes": { "izba.mistake": mistake, "izba.change": change, "izba.count": 3 },
        })
        .to_string()
        .into_bytes()
    }

    fn hear(class: &mut Class, told: &[(&str, &str, &str)]) {
        for (at, (sender, mistake, change)) in told.iter().enumerate() {
            // Later than all that was heard before.
            let now = class.senders.iter().map(|s| s.last.0 + 1).max().unwrap_or(at as i64);
            assert!(class.hear(&line(sender, None, mistake, change), Millis(now)));
        }
    }

    #[test]
    fn a_mistake_that_several_met_is_one_with_who_got_rid_of_it() {
        let mut class = Class::default();
        hear(
            &mut class,
            &[
                ("a", "rope", "met"),
                ("b", "rope", "met"),
                ("c", "tide", "met"),
                ("a", "rope", "gone"),
            ],
        );
        let met = class.about("no rope in rope").expect("it was told");
        assert_eq!(class.share(met), "met by 2 of 3, 1 got rid of it");
        let weights: Vec<&str> = class.by_weight().iter().map(|m| m.words.as_str()).collect();
        assert_eq!(weights, ["no rope in rope", "no rope in tide"]);
        assert_eq!(class.sentence(), "3 senders were heard, 2 with an error now");
    }

    #[test]
    fn who_has_been_at_one_longest_comes_first_and_again_begins_no_new_wait() {
        let mut class = Class::default();
        let told = [("a", "rope", "met"), ("b", "tide", "met"), ("a", "rope", "again")];
        hear(&mut class, &told);
        let stuck = class.stuck();
        let who: Vec<_> = stuck.iter().map(|(s, _, since)| (s.name.as_str(), since.0)).collect();
        assert_eq!(who, [("number 1", 0), ("number 2", 1)]);
        hear(&mut class, &[("a", "rope", "gone"), ("a", "rope", "back")]);
        let back: Vec<_> = class.stuck().iter().map(|(s, ..)| s.name.clone()).collect();
        assert_eq!(back, ["number 2", "number 1"]);
        assert_eq!(class.senders[0].rid, 0, "what is back is not got rid of");
    }

    #[test]
    fn a_name_is_shown_only_where_it_was_given() {
        let mut class = Class::default();
        class.hear(&line("a", Some("Wren"), "rope", "met"), Millis(0));
        class.hear(&line("b", None, "rope", "met"), Millis(0));
        let names: Vec<&str> = class.senders.iter().map(|s| s.name.as_str()).collect();
        assert_eq!(names, ["Wren", "number 2"]);
    }

    #[test]
    fn what_others_log_and_what_nobody_met_changes_nothing() {
        let mut class = Class::default();
        for other in [&b"{\"message\":\"izba.mistake\"}"[..], b"izba.mistake: none", b""] {
            assert!(!class.hear(other, Millis(0)));
        }
        assert!(class.is_empty());
        hear(&mut class, &[("a", "rope", "gone")]);
        assert!(class.mistakes.is_empty());
    }

    proptest! {
        /// Whatever order things are told in: who got rid of something does not have it.
        #[test]
        fn nobody_has_what_they_got_rid_of(
            told in prop::collection::vec((0..4u8, 0..3u8, 0..4usize), 0..40)
        ) {
            let mut class = Class::default();
            for (sender, mistake, change) in told {
                let change = ["met", "again", "gone", "back"][change];
                class.hear(&line(&sender.to_string(), None, &mistake.to_string(), change), Millis(0));
            }
            for (at, met) in class.mistakes.iter().enumerate() {
                for (sender, rid) in &met.by {
                    prop_assert_eq!(*rid, !class.senders[*sender].open.contains_key(&at));
                }
            }
            for (at, sender) in class.senders.iter().enumerate() {
                let rid = class.mistakes.iter().filter(|m| m.by.get(&at) == Some(&true)).count();
                prop_assert_eq!(rid, sender.rid);
            }
        }
    }
}

//! What an engine says that is none of the game's business: a chatty sound driver, and a helper
//! that copies saved games and fails for reasons of its own.

use super::console::{Console, Step};
use super::scene::tick_of;

/// The engine's helpers, with their own random numbers.
#[derive(Debug)]
pub struct Noise {
    state: u64,
}

impl Noise {
    /// Noise that is the same for the same seed.
    pub fn new(seed: u64) -> Noise {
        Noise { state: seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1 }
    }

    /// What is said before the game begins.
    pub fn opening(console: &mut Console) {
        console.say("note", "sound", "opening the default device");
        console.say("warn", "sound", "no device answers; sounds are played silently");
        console.say("note", "sound", "mixer ready, 0 of 16 channels in use");
        console.say("note", "input", "2 devices: keys, pointer");
        console.say("note", "view", "drawing to a surface of 320 x 180");
        console.say("note", "sync", "saved games are copied to the harbour store, helper 1.9");
    }

    /// What is said in tick number `tick`, of `rate` ticks a second.
    pub fn at(&mut self, tick: u32, rate: f64, console: &mut Console) {
        let passes = |every: f64, shift: f64| {
            tick > 0
                && (u64::from(tick) + tick_of(shift, rate))
                    .is_multiple_of(tick_of(every, rate).max(1))
        };
        if passes(1.7, 0.4) {
            let (channel, late) = (self.below(16), 2 + self.below(9));
            console.say(
                "note",
                "sound",
                &format!("channel {channel}: {late} ms late, buffer filled again"),
            );
        }
        if passes(11.0, 0.0) {
            let slot = 1 + self.below(3);
            console.say(
                "warn",
                "sync",
                &format!(
                    "slot {slot} is not copied: the harbour store does not answer; trying again in \
                11 s"
                ),
            );
        }
        if passes(29.0, 0.0) {
            let steps = [("upload", 88), ("put", 41), ("loop", 17)];
            let steps: Vec<Step> = steps
                .iter()
                .map(|(name, line)| Step {
                    file: format!("marsh-sync/{name}.lua"),
                    line: *line,
                    name: (*name).into(),
                })
                .collect();
            console.tell(
                "error",
                "sync",
                "marsh-sync/upload.lua:88: gave up after 3 tries",
                &steps,
            );
        }
    }

    fn below(&mut self, bound: u64) -> u64 {
        self.state ^= self.state << 13;
        self.state ^= self.state >> 7;
        self.state ^= self.state << 17;
        self.state % bound
    }
}

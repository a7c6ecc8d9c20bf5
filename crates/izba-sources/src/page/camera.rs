//! When a picture of the page is taken: a moment after an error, when what it did to the page is
//! drawn, and not for each of many.

use std::time::{Duration, Instant};

/// How long after an error a picture is taken.
const SETTLED: Duration = Duration::from_millis(400);
/// So long no other one is taken.
const APART: Duration = Duration::from_secs(3);
/// Pictures of one run.
const MOST: u32 = 12;

/// When to take pictures.
#[derive(Debug, Default)]
pub(super) struct Camera {
    due: Option<Instant>,
    last: Option<Instant>,
    taken: u32,
}

impl Camera {
    /// A run begins, with room for pictures of its own.
    pub(super) fn starts(&mut self) {
        *self = Camera::default();
    }

    /// An error struck now.
    pub(super) fn struck(&mut self, now: Instant) {
        let soon = self.last.is_some_and(|last| now.saturating_duration_since(last) < APART);
        if self.taken < MOST && !soon {
            self.due.get_or_insert(now + SETTLED);
        }
    }

    /// Whether a picture is to be taken now; then it counts as taken.
    pub(super) fn is_due(&mut self, now: Instant) -> bool {
        let due = self.due.is_some_and(|due| due <= now);
        if due {
            (self.due, self.last, self.taken) = (None, Some(now), self.taken + 1);
        }
        due
    }

    /// No picture could be taken: it is not tried again in this run.
    pub(super) fn failed(&mut self) {
        self.taken = MOST;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_picture_is_taken_a_moment_after_an_error_and_few_of_many() {
        let mut camera = Camera::default();
        let begun = Instant::now();
        let at = |ms: u64| begun + Duration::from_millis(ms);
        let taken = |camera: &mut Camera, until: u64| {
            let mut taken = Vec::new();
            for ms in (0..until).step_by(100) {
                camera.struck(at(ms));
                taken.extend(camera.is_due(at(ms)).then_some(ms));
            }
            taken
        };
        assert!(!camera.is_due(at(0)));
        assert_eq!(taken(&mut camera, 8_000), [400, 3_800, 7_200]);
        camera.starts();
        assert_eq!(taken(&mut camera, 100_000).len(), MOST as usize);
        camera.starts();
        camera.failed();
        assert!(taken(&mut camera, 10_000).is_empty());
    }
}

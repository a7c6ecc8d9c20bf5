//! Times as consoles print them.

use std::time::{Duration, SystemTime, UNIX_EPOCH};

/// A clock; a hurried one begins at eight in the evening and goes on by what is waited, without
/// waiting.
#[derive(Debug)]
pub struct Clock {
    hurried: bool,
    waited: Duration,
}

/// A day on which hurried worlds begin, at 20:00 in UTC.
const EVENING: Duration = Duration::from_secs(1_795_464_000);

impl Clock {
    /// A clock that follows the time of day, or a hurried one.
    pub fn new(hurried: bool) -> Clock {
        Clock { hurried, waited: Duration::ZERO }
    }

    fn since_epoch(&self) -> Duration {
        if self.hurried {
            EVENING + self.waited
        } else {
            SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or(EVENING)
        }
    }

    /// The time of day of the demo world, `20:00:01.250`, in UTC.
    pub fn time(&self) -> String {
        let ms = self.since_epoch().as_millis();
        format!(
            "{:02}:{:02}:{:02}.{:03}",
            ms / 3_600_000 % 24,
            ms / 60_000 % 60,
            ms / 1000 % 60,
            ms % 1000
        )
    }

    /// RFC 3339 with milliseconds, in UTC.
    pub fn date(&self) -> String {
        // Days to a date by the calendar's rule of 400 years.
        let days = i64::try_from(self.since_epoch().as_secs() / 86_400).unwrap_or(0) + 719_468;
        let (era, day) = (days / 146_097, days % 146_097);
        let year = (day - day / 1460 + day / 36_524 - day / 146_096) / 365;
        let of_year = day - (365 * year + year / 4 - year / 100);
        let shifted = (5 * of_year + 2) / 153;
        let month = if shifted < 10 { shifted + 3 } else { shifted - 9 };
        let year = year + era * 400 + i64::from(month <= 2);
        format!(
            "{year:04}-{month:02}-{:02}T{}Z",
            of_year - (153 * shifted + 2) / 5 + 1,
            self.time()
        )
    }

    /// Waits so long, in seconds of the demo world; not at all when it is hurried.
    pub fn wait(&mut self, seconds: f64) {
        if !self.hurry(seconds) {
            std::thread::sleep(Duration::from_secs_f64(seconds));
        }
    }

    /// Goes on without waiting when hurried, and says whether it is.
    pub fn hurry(&mut self, seconds: f64) -> bool {
        self.waited += Duration::from_secs_f64(seconds);
        self.hurried
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_evening_is_where_it_should_be() {
        let mut clock = Clock::new(true);
        assert_eq!(clock.date(), "2026-11-23T20:00:00.000Z");
        clock.wait(86_400.0 * 100.0 + 1.25);
        assert_eq!(clock.date(), "2027-03-03T20:00:01.250Z");
    }
}

//! The moment that a line prints, as far as it can be told: a date with a time of day, with or
//! without its zone, or seconds since the epoch. A time of day alone is no moment.

use crate::Millis;
use crate::pattern::Pattern;
use jiff::civil::{Date, DateTime, Time};
use jiff::tz::TimeZone;

/// What a console printed of the time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Printed {
    /// A moment.
    At(Millis),
    /// A date and time of day where the program runs.
    Local(DateTime),
}

impl Printed {
    /// The moment, with `zone` for what names none.
    pub fn at(self, zone: &TimeZone) -> Option<Millis> {
        match self {
            Printed::At(millis) => Some(millis),
            Printed::Local(civil) => {
                zone.to_timestamp(civil).ok().map(|t| Millis(t.as_millisecond()))
            }
        }
    }
}

static DATED: Pattern = Pattern::new(concat!(
    r"^\D{0,3}(?:(?P<y>\d{4})[-/._](?P<m>\d\d?)[-/._](?P<d>\d\d?)",
    r"|(?P<d2>\d\d?)[-/. ](?P<name>[A-Za-z]{3})[a-z]*[-/. ](?P<y2>\d{4})|",
    r"(?P<first>\d\d?)[-/.](?P<second>\d\d?)[-/.](?P<y3>\d{4})",
    r"|(?:[A-Za-z]{3},? )?(?P<name2>[A-Za-z]{3})[a-z]* (?P<d3>\d\d?),?",
    r" (?P<y4>\d{4}),?)",
    r"[T _:-]+(?P<h>\d\d?)[:.h](?P<min>\d\d)(?:[:.m](?P<s>\d\d)(?:[.,:](?P<f>\d{1,9}))?)?s?",
    r"(?: ?(?P<half>[AaPp][Mm]))?(?: ?(?P<zone>Z|UTC|GMT|[+-]\d\d:?\d\d))?"
));

static EPOCH: Pattern =
    Pattern::new(r"^\D{0,2}(?P<whole>\d{10}|\d{13}|\d{16}|\d{19})(?:[.,](?P<f>\d{1,9}))?\D{0,2}$");

/// Reads the moment that `text` prints. Of `03/04/2026` the day comes first unless it cannot.
pub fn printed(text: &str) -> Option<Printed> {
    if let Some(epoch) = EPOCH.captures(text) {
        let whole = &epoch["whole"];
        let number: i64 = whole.parse().ok()?;
        let fraction = epoch.name("f").map_or(0, |f| millis_of(f.as_str()));
        let millis = match whole.len() {
            10 => number * 1000 + fraction,
            13 => number,
            16 => number / 1_000,
            _ => number / 1_000_000,
        };
        return Some(Printed::At(Millis(millis)));
    }
    let found = DATED.captures(text)?;
    let number = |names: &[&str]| {
        names.iter().find_map(|n| found.name(n)).and_then(|m| m.as_str().parse::<i16>().ok())
    };
    let named = found.name("name").or(found.name("name2")).map(|n| n.as_str().to_lowercase());
    let month_named = named.and_then(|n| {
        ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]
            .iter()
            .position(|m| *m == n)
    });
    let (first, second) = (number(&["first"]), number(&["second"]));
    let (day, month) = match (first, second) {
        (Some(first), Some(second)) if second > 12 => (second, first),
        (Some(first), Some(second)) => (first, second),
        _ => (number(&["d", "d2", "d3"])?, number(&["m"]).or(month_named.map(|m| m as i16 + 1))?),
    };
    let date = Date::new(
        number(&["y", "y2", "y3", "y4"])?,
        i8::try_from(month).ok()?,
        i8::try_from(day).ok()?,
    )
    .ok()?;
    let hour = match (number(&["h"])?, found.name("half").map(|h| h.as_str().to_lowercase())) {
        (12, Some(half)) if half == "am" => 0,
        (hour, Some(half)) if half == "pm" && hour < 12 => hour + 12,
        (hour, _) => hour,
    };
    let fraction = found.name("f").map_or(0, |f| millis_of(f.as_str())) as i32 * 1_000_000;
    let second = number(&["s"]).unwrap_or(0).min(59);
    let time = Time::new(
        i8::try_from(hour).ok()?,
        i8::try_from(number(&["min"])?).ok()?,
        i8::try_from(second).ok()?,
        fraction,
    )
    .ok()?;
    let civil = DateTime::from_parts(date, time);
    let Some(zone) = found.name("zone").map(|z| z.as_str()) else {
        return Some(Printed::Local(civil));
    };
    let offset = match zone.as_bytes() {
        [sign @ (b'+' | b'-'), rest @ ..] => {
            let digits: Vec<i32> =
                rest.iter().filter(|b| b.is_ascii_digit()).map(|b| i32::from(b - b'0')).collect();
            let [a, b, c, d] = digits[..] else { return None };
            let seconds = ((a * 10 + b) * 60 + c * 10 + d) * 60;
            if *sign == b'-' { -seconds } else { seconds }
        }
        _ => 0,
    };
    let utc = jiff::tz::Offset::from_seconds(offset).ok()?.to_timestamp(civil).ok()?;
    Some(Printed::At(Millis(utc.as_millisecond())))
}

/// Milliseconds of a fraction of a second that was printed with so many digits.
fn millis_of(digits: &str) -> i64 {
    format!("{digits:0<3}")[..3].parse().unwrap_or(0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn moments_are_read_in_many_forms_and_a_clock_alone_is_none() {
        let of = |text: &str| {
            printed(text)
                .and_then(|p| p.at(&TimeZone::UTC))
                .and_then(Millis::to_rfc3339)
                .unwrap_or_else(|| "none".into())
        };
        insta::assert_snapshot!(
            [
                "2026-11-23T20:55:24.233811Z", "2026-11-23 20:55:24,233", "[2026/11/23 20:55:24]", "23/Nov/2026:20:55:24 +0100", "23.11.2026 20:55", "11/23/2026 08:55:24 PM",
                "Nov 23, 2026 8:55:24 PM", "Mon Nov 23 20:55:24 2026", "1795467324", "1795467324.233", "1795467324233", "2026-11-23T20:55:24-05:00", "20:55:24", "12.345", "2026-13-40 20:55:24",
            ]
            .map(|t| format!("{t} = {}", of(t)))
            .join("\n"),
            @"
            2026-11-23T20:55:24.233811Z = 2026-11-23T20:55:24.233Z
            2026-11-23 20:55:24,233 = 2026-11-23T20:55:24.233Z
            [2026/11/23 20:55:24] = 2026-11-23T20:55:24.000Z
            23/Nov/2026:20:55:24 +0100 = 2026-11-23T19:55:24.000Z
            23.11.2026 20:55 = 2026-11-23T20:55:00.000Z
            11/23/2026 08:55:24 PM = 2026-11-23T20:55:24.000Z
            Nov 23, 2026 8:55:24 PM = 2026-11-23T20:55:24.000Z
            Mon Nov 23 20:55:24 2026 = none
            1795467324 = 2026-11-23T20:55:24.000Z
            1795467324.233 = 2026-11-23T20:55:24.233Z
            1795467324233 = 2026-11-23T20:55:24.233Z
            2026-11-23T20:55:24-05:00 = 2026-11-24T01:55:24.000Z
            20:55:24 = none
            12.345 = none
            2026-13-40 20:55:24 = none
            "
        );
    }

    proptest! {
        #[test]
        fn any_text_is_answered(text in "[0-9A-Za-z:./, T+-]{0,40}") {
            let _ = printed(&text).and_then(|p| p.at(&TimeZone::UTC));
        }
    }
}

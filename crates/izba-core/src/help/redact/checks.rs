//! Further tests of what looks like something that is nobody's business.

/// A test of what was found; with the text before it on its line and behind it.
pub(super) type Check = fn(was: &str, before: &str, behind: &str) -> bool;

/// The test of this name.
pub(super) fn of(name: &str) -> Option<Check> {
    Some(match name {
        "made" => |was, _, _| is_made(was),
        "cookie" => |was, _, _| was.split_once('=').is_some_and(|(_, value)| is_made(value)),
        // What stands before the `@` of an address of a page is no mail.
        "mail" => |was, before, _| {
            let word = before.rsplit(char::is_whitespace).next().unwrap_or_default();
            !word.contains("://") && !was.starts_with('.')
        },
        "ip4" => is_ip4,
        "ip6" => is_ip6,
        "mac" => |was, _, _| was.chars().any(|c| c.is_ascii_alphabetic() || c == '0'),
        "phone" => |was, _, _| (8..=15).contains(&digits(was)),
        "iban" => |was, _, _| is_iban(was),
        "luhn" => is_card,
        "random" => |was, _, _| is_random(was),
        "mixed" => |was, _, _| is_mixed(was),
        _ => return None,
    })
}

fn digits(text: &str) -> usize {
    text.chars().filter(char::is_ascii_digit).count()
}

/// Whether a value was made by a machine, or at least is no word: letters and digits in it, or long
/// and of both cases.
pub(super) fn is_made(value: &str) -> bool {
    let (lower, upper) =
        (value.chars().any(char::is_lowercase), value.chars().any(|c| c.is_uppercase()));
    let letters = lower || upper;
    let len = value.chars().count();
    len >= 6 && digits(value) > 0 && (letters || len >= 12)
        || len >= 16 && lower && upper && !is_words(value)
        || len >= 24 && !value.contains(['_', '.', '/', '(']) && !is_words(value)
}

/// Whether it is words in a row, as names of functions are: `getTokenOfUser`.
fn is_words(value: &str) -> bool {
    let mut words = 0usize;
    let mut short = 0usize;
    let mut length = 0usize;
    let mut before = ' ';
    for ch in value.chars().chain([' ']) {
        let begins = !ch.is_alphabetic() || ch.is_uppercase() && before.is_lowercase();
        if begins && length > 0 {
            words += 1;
            short += usize::from(length < 3);
            length = 0;
        }
        length += usize::from(ch.is_alphabetic());
        before = ch;
    }
    // A random text changes between cases after a letter or two.
    words > 0 && short * 3 <= words
}

fn is_ip4(was: &str, before: &str, behind: &str) -> bool {
    let parts: Vec<u16> = was.split('.').filter_map(|p| p.parse().ok()).collect();
    let version = before.ends_with(['v', 'V', '.', '-', '=', '~', '^'])
        || before.trim_end().to_lowercase().ends_with("version")
        || behind.starts_with(['.', '-'])
        || was.split('.').any(|p| p.len() > 1 && p.starts_with('0'));
    parts.len() == 4
        && parts.iter().all(|p| *p <= 255)
        && parts[0] != 127
        && was != "0.0.0.0"
        && was != "255.255.255.255"
        && !version
}

/// IPv6 (RFC 4291), also shortened; not a time (`12:30:01`), a path of names (`a::b`) or the loopback.
fn is_ip6(was: &str, before: &str, behind: &str) -> bool {
    let word = |c: char| c.is_alphanumeric() || c == '_';
    let (address, _) = was.split_once('%').unwrap_or((was, ""));
    !before.ends_with(word)
        && !behind.starts_with(|c: char| word(c) || c == ':')
        && address
            .parse::<std::net::Ipv6Addr>()
            .is_ok_and(|a| !a.is_loopback() && !a.is_unspecified())
        && address.len() > 4
}

/// ISO 13616: the first four signs moved behind the rest give 1, taken as a number modulo 97.
fn is_iban(was: &str) -> bool {
    let signs: Vec<char> = was.chars().filter(|c| *c != ' ').collect();
    if !(15..=34).contains(&signs.len()) {
        return false;
    }
    let rest = signs[4..].iter().chain(&signs[..4]).try_fold(0u32, |rest, sign| {
        let value = sign.to_digit(36)?;
        Some((rest * if value > 9 { 100 } else { 10 } + value) % 97)
    });
    rest == Some(1)
}

/// ISO/IEC 7812: digits doubled from behind, every second one, add up to a multiple of ten; and it
/// begins as cards do.
fn is_card(was: &str, before: &str, behind: &str) -> bool {
    let all: Vec<u32> = was.chars().filter_map(|c| c.to_digit(10)).collect();
    let sum: u32 = all
        .iter()
        .rev()
        .enumerate()
        .map(|(at, d)| match at % 2 {
            0 => *d,
            _ if *d > 4 => d * 2 - 9,
            _ => d * 2,
        })
        .sum();
    let apart = !before.ends_with(['.', '-', '_', '#']) && !behind.starts_with(['.', '-', '_']);
    apart
        && (13..=19).contains(&all.len())
        && (2..=6).contains(&all[0])
        && sum.is_multiple_of(10)
        && all.iter().any(|d| *d != all[0])
}

/// Base64 of random bytes: letters of both cases and digits in about the shares that chance gives.
fn is_random(was: &str) -> bool {
    let len = was.chars().count() as f64;
    let share = |is: fn(&char) -> bool| was.chars().filter(is).count() as f64 / len;
    share(char::is_ascii_digit) > 0.05
        && share(|c| c.is_ascii_uppercase()) > 0.15
        && share(|c| c.is_ascii_lowercase()) > 0.15
        && !was.contains("//")
        || was.len() >= 32 && was.chars().all(|c| c.is_ascii_hexdigit()) && digits(was) >= 6
}

/// Letters and digits in a mix that no name has.
fn is_mixed(was: &str) -> bool {
    let letters = was.chars().filter(char::is_ascii_alphabetic).count();
    digits(was) >= 6 && letters >= 6 && !was.contains("--") && !is_stamp(was)
}

/// A day and a time within a name: `run-20261130T124500`, and numbers that all are long.
fn is_stamp(was: &str) -> bool {
    let runs: Vec<&str> =
        was.split(|c: char| !c.is_ascii_digit()).filter(|r| !r.is_empty()).collect();
    let day = |r: &&str| r.len() == 8 && (r.starts_with("20") || r.starts_with("19"));
    runs.iter().any(day) && runs.len() <= 4
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sums_are_checked_as_their_standards_say() {
        assert!(is_iban("DE89370400440532013000") && is_iban("DE89 3704 0044 0532 0130 00"));
        assert!(!is_iban("DE88370400440532013000") && !is_iban("AB12 CDEF"));
        assert!(is_card("4111 1111 1111 1111", "", "") && !is_card("4111 1111 1111 1112", "", ""));
        assert!(!is_card("0000000000000000", "", "") && !is_card("4111111111111111", "", ".5"));
    }

    #[test]
    fn addresses_are_told_from_versions_times_and_paths() {
        assert!(is_ip4("192.0.2.4", "from ", " port"));
        for (was, before) in
            [("127.0.0.1", ""), ("1.2.3.400", ""), ("1.2.3.4", "v"), ("1.2.03.4", "")]
        {
            assert!(!is_ip4(was, before, ""), "{was}");
        }
        assert!(is_ip6("2001:db8::1", "from ", "") && is_ip6("fe80::1:2%eth0", "", ""));
        for was in ["12:30:01", "::1", "a:b:c", "12:30:01:12"] {
            assert!(!is_ip6(was, "", ""), "{was}");
        }
        assert!(!is_ip6("add::be", "", "ef") && !is_ip6("dead::beef", "std::", "::x"));
    }

    #[test]
    fn what_a_machine_made_is_told_from_names() {
        for made in ["ab12cd34", "kJhGfDsAqWeRtYuIoP", "8f14e45fceea167a"] {
            assert!(is_made(made), "{made}");
        }
        for name in ["required", "getTokenOfTheFirstUser", "token", "next_token_of_the_stream"] {
            assert!(!is_made(name), "{name}");
        }
        assert!(!is_mixed("run-20261130T124500-of-the-lantern") && is_mixed("a1b2c3d4e5f6"));
    }
}

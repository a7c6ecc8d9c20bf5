//! rows: a file of data whose lines are alike but for one, which has other signs between its parts,
//! or another number of them.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::FileFacts;
use izba_model::dialect::Form;
use izba_model::{say, sayings};

sayings! {
    "rows", Any, "../../words/suspects/rows.toml";
    OTHER_NUMBER = "other-number",
    NO_SIGN = "no-sign",
    THE_OTHERS = "the-others",
}

/// The check for this: a line of data that is not like the others.
pub static CHECK: Check = Check {
    id: "rows",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::ValueNotThere
                    | Family::OutOfRange
                    | Family::WrongKind
                    | Family::NameNotThere
                    | Family::Other
            )
    },
    look,
};

/// Signs that part a line, the most telling first.
const SIGNS: &[char] = &['\t', ';', '|', ',', '=', ':', ' '];
/// Lines that are needed at least, and those of a text that is no data.
const FEWEST: usize = 3;
const LONGEST: usize = 160;

fn look(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| !f.language.is_code() && is_lines(f)) {
        if query.data_tie(file, 0, "") < 1.0 {
            continue;
        }
        let Some(odd) = odd_row(&file.text) else { continue };
        let words = file.line(odd.line).unwrap_or_default();
        let told =
            words.split(|c: char| !c.is_alphanumeric()).any(|w| w.len() > 2 && query.says(w));
        let strength = match (told, odd.rows) {
            (true, _) => Strength::Fair,
            (false, 4..) if odd.sign != ' ' => Strength::Fair,
            _ => Strength::Weak,
        };
        let shown = if odd.sign == '\t' { "tab".to_owned() } else { odd.sign.to_string() };
        let reason = match odd.has {
            0 => say!(NO_SIGN, sign = shown),
            _ => say!(OTHER_NUMBER, sign = shown, count = odd.has, others = odd.others),
        };
        let suspect = seen.suspect(&file.path, odd.line, strength, reason);
        let shown = file.line(odd.like).unwrap_or_default().trim();
        suspect.saw(&file.path, odd.like, say!(THE_OTHERS));
        suspect.saw(&file.path, odd.like, Saying::quote(shown));
    }
}

/// Whether a file is read line by line, each with parts of its own.
fn is_lines(file: &FileFacts) -> bool {
    !matches!(file.language.data, Some(Form::Json | Form::Xml | Form::Toml | Form::Yaml))
}

/// The one line that is not like the others.
struct Odd {
    line: u32,
    sign: char,
    has: usize,
    others: usize,
    /// A line that is like the rest.
    like: u32,
    rows: usize,
}

fn odd_row(text: &str) -> Option<Odd> {
    let rows: Vec<(u32, &str)> = text
        .lines()
        .enumerate()
        .map(|(n, l)| (n as u32 + 1, l.trim_end()))
        .filter(|(_, l)| !l.is_empty() && !l.starts_with(['#', ';', '[', '/', '-']))
        .collect();
    if rows.len() < FEWEST || rows.iter().any(|(_, l)| l.len() > LONGEST) {
        return None;
    }
    for sign in SIGNS {
        let count = |l: &str| l.matches(*sign).count();
        let mut counts: Vec<usize> = rows.iter().map(|(_, l)| count(l)).collect();
        counts.sort_unstable();
        let usual = counts[counts.len() / 2];
        if usual == 0 {
            continue;
        }
        let mut odd = rows.iter().filter(|(_, l)| count(l) != usual);
        match (odd.next(), odd.next()) {
            // What parts keys from values is found at all; more of it stands in the value.
            (Some((line, l)), None) if !matches!(sign, '=' | ':') || count(l) == 0 => {
                let like = rows.iter().find(|(_, l)| count(l) == usual)?.0;
                let has = count(l);
                return Some(Odd {
                    line: *line,
                    sign: *sign,
                    has,
                    others: usual,
                    like,
                    rows: rows.len(),
                });
            }
            // They are alike in this sign, or not at all.
            _ => return None,
        }
    }
    None
}

#[cfg(test)]
mod tests {
    use super::odd_row;

    fn found(text: &str) -> Option<(u32, char)> {
        odd_row(text).map(|o| (o.line, o.sign))
    }

    #[test]
    fn a_row_with_other_signs_or_other_numbers_of_them_is_found() {
        assert_eq!(found("a,1,2\nb,3,4\nc;5;6\nd,7,8\n"), Some((3, ',')));
        assert_eq!(found("# c\nx = 1\ny: 2\nz = 3\n"), Some((3, '=')));
        assert_eq!(found("ida mate 8\njon hand 6\nkaj boy\n"), Some((3, ' ')));
        assert_eq!(found("lay bow 4\nlay  stern 3\ncut bow 1\n"), Some((2, ' ')));
    }

    #[test]
    fn alike_rows_and_plain_text_are_left_alone() {
        assert_eq!(found("a,1\nb,2\nc,3\n"), None);
        assert_eq!(found("once upon a time\nthere was a boat\nand it sank\nat once\n"), None);
        assert_eq!(found("url = a=b\nx = 1\ny = 2\n"), None);
        assert_eq!(found("a,1\nb\n"), None);
    }
}

//! The source around a line, with the very token underlined; and finding that token.

use crate::project::Project;
use crate::text::SafeText;
use std::sync::Arc;

/// One row of source as it is shown, with its number.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ExcerptRow {
    /// Line number, from 1.
    pub number: u32,
    /// Its text, made safe.
    pub text: SafeText,
    /// Cells of `text` to underline, half open; only in the row at fault.
    pub marked: Option<(usize, usize)>,
    /// Whether this is the line asked for.
    pub at_fault: bool,
}

/// Source around one line, cut to what there is room for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Excerpt {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Rows in order; empty when the file's text is not known.
    pub rows: Vec<ExcerptRow>,
    /// How many lines the file has.
    pub total: u32,
}

impl Excerpt {
    /// The rows `line - above ..= line + below` of `file`, with the bytes `token` of that line
    /// marked.
    ///
    /// A line past the end of the file shows the end; the one right behind the last stands there as
    /// the end itself.
    pub fn around(
        project: &Project,
        file: &str,
        line: u32,
        above: u32,
        below: u32,
        token: Option<(usize, usize)>,
    ) -> Option<Excerpt> {
        let found = project.file(file)?;
        let text = found.text.as_deref().unwrap_or("");
        let total = text.lines().count() as u32;
        let anchor = line.min(total.max(1));
        let (from, to) = (anchor.saturating_sub(above).max(1), (anchor + below).min(total));
        let mut rows: Vec<ExcerptRow> = text
            .lines()
            .enumerate()
            .skip(from as usize - 1)
            .take((to + 1).saturating_sub(from) as usize)
            .map(|(index, raw)| {
                let number = index as u32 + 1;
                let marked = token.filter(|_| number == line).and_then(|(start, end)| {
                    let cells = |at: usize| {
                        raw.get(..at)
                            .map(|head| crate::text::width_cells(SafeText::new(head).as_str()))
                    };
                    Some((cells(start)?, cells(end)?))
                });
                ExcerptRow { number, text: SafeText::new(raw), marked, at_fault: number == line }
            })
            .collect();
        if line == total + 1 {
            rows.push(ExcerptRow {
                number: line,
                text: SafeText::new("‹the end of the file›"),
                marked: None,
                at_fault: true,
            });
        }
        Some(Excerpt { file: found.path.clone(), rows, total })
    }
}

fn is_word(c: char) -> bool {
    c.is_alphanumeric() || c == '_' || c == '$'
}

/// The whole name, number or single sign that stands at byte `at` of `line`.
pub fn token_at(line: &str, at: usize) -> (usize, usize) {
    let at = (0..=at.min(line.len())).rev().find(|a| line.is_char_boundary(*a)).unwrap_or(0);
    let Some(first) = line[at..].chars().next() else {
        let end = line.trim_end().len();
        let start = line[..end].char_indices().last().map_or(0, |(i, _)| i);
        return (start, end);
    };
    if !is_word(first) {
        return (at, at + first.len_utf8());
    }
    let start = line[..at]
        .char_indices()
        .rev()
        .take_while(|(_, c)| is_word(*c))
        .last()
        .map_or(at, |(i, _)| i);
    let len: usize = line[at..].chars().take_while(|c| is_word(*c)).map(char::len_utf8).sum();
    (start, at + len)
}

/// The whole-word occurrence of `name` in `line` nearest to byte `near`, or the first one.
pub fn find_word(line: &str, name: &str, near: Option<usize>) -> Option<(usize, usize)> {
    if name.is_empty() {
        return None;
    }
    line.match_indices(name)
        .filter(|(at, _)| {
            let before = line[..*at].chars().next_back().is_none_or(|c| !is_word(c));
            let after = line[at + name.len()..].chars().next().is_none_or(|c| !is_word(c));
            before && after
        })
        .min_by_key(|(at, _)| near.map_or(*at, |n| n.abs_diff(*at)))
        .map(|(at, _)| (at, at + name.len()))
}

/// The expression that `member` is asked of: in `a.b[c].member`, the bytes of `a.b[c]`.
pub fn receiver_of(line: &str, member: &str, near: Option<usize>) -> Option<(usize, usize)> {
    let dotted = line
        .match_indices(member)
        .filter(|(at, _)| line[at + member.len()..].chars().next().is_none_or(|c| !is_word(c)))
        .filter(|(at, _)| line[..*at].trim_end().ends_with(['.', ':', '?']))
        .min_by_key(|(at, _)| near.map_or(*at, |n| n.abs_diff(*at)))
        .map(|(at, _)| line[..at].trim_end().trim_end_matches(['.', ':', '?']).len());
    // `a[member]` asks the member of `a` as well.
    let end = dotted.or_else(|| {
        line.find(&format!("[{member}]")).or_else(|| line.find(&format!("['{member}']")))
    })?;
    let mut depth = 0usize;
    let mut start = end;
    for (at, c) in line[..end].char_indices().rev() {
        match c {
            ')' | ']' => depth += 1,
            '(' | '[' if depth > 0 => depth -= 1,
            _ if depth > 0 || is_word(c) || matches!(c, '.' | ':') => {}
            _ => break,
        }
        start = at;
    }
    let start = start
        + (line[start..end].len() - line[start..end].trim_start_matches([' ', '.', ':']).len());
    (start < end).then_some((start, end))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[track_caller]
    fn check(line: &str, found: Option<(usize, usize)>, carets: &str) {
        let marks = found.map(|(a, b)| " ".repeat(a) + &"^".repeat(b - a)).unwrap_or_default();
        assert_eq!(marks, carets, "\n{line}\n{marks}");
    }

    #[test]
    fn tokens_and_receivers_are_found() {
        check(
            "self.flame = wick.length * 2",
            find_word("self.flame = wick.length * 2", "wick", None),
            "             ^^^^",
        );
        check(
            "let n = this.rows[i + 1].name;",
            receiver_of("let n = this.rows[i + 1].name;", "name", None),
            "        ^^^^^^^^^^^^^^^^",
        );
        check("x = f(a).b", receiver_of("x = f(a).b", "b", None), "    ^^^^");
        check("  total = tide + 1", Some(token_at("  total = tide + 1", 12)), "          ^^^^");
    }

    #[test]
    fn an_excerpt_stays_inside_its_file() {
        let text = "a\n\tb = wick.x\nc\n";
        let project = Project::new(
            "/p",
            vec![crate::project::ProjectFile { path: "m.lua".into(), text: Some(text.into()) }],
        );
        let rows = |line, above, below| {
            let excerpt = Excerpt::around(&project, "m.lua", line, above, below, Some((5, 9)))
                .expect("it is own");
            excerpt
                .rows
                .iter()
                .map(|r| {
                    format!(
                        "{}{}{}",
                        r.number,
                        if r.at_fault { "!" } else { "" },
                        r.marked.map_or(String::new(), |(a, b)| format!(" {a}..{b}"))
                    )
                })
                .collect::<Vec<_>>()
                .join(" ")
        };
        assert_eq!(rows(2, 5, 5), "1 2! 12..16 3", "a tab is eight cells wide");
        assert_eq!(rows(1, 5, 0), "1!", "a mark beyond the line is none");
        assert_eq!(rows(4, 1, 5), "2 3 4!", "the end of the file stands behind the last line");
        assert_eq!(rows(9, 1, 5), "2 3", "a line far past the end shows the end");
        assert!(Excerpt::around(&project, "n.lua", 1, 1, 1, None).is_none());
    }

    proptest! {
        #[test]
        fn a_token_lies_inside_its_line(line in "\\PC{0,40}", at in 0usize..60, member in "[a-z.]{0,3}") {
            let (start, end) = token_at(&line, at);
            prop_assert!(line.get(start..end).is_some());
            if let Some((start, end)) = receiver_of(&line, &member, Some(at)) {
                prop_assert!(line.get(start..end).is_some());
            }
        }
    }
}

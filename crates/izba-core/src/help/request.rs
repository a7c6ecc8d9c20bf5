//! A request for help: the text that a stranger needs, short first and whole below.

use crate::group::{GroupView, State};
use izba_cause::suspect::Findings;
use izba_model::Language;
use izba_model::StackFrame;
use izba_model::claim::{LIKELY, Reason, Suspect, Verdict, WORTH, WORTH_BESIDE};
use izba_model::excerpt::Excerpt;
use izba_model::project::Project;
use izba_model::text::counted;
use std::fmt::Write;
use std::sync::Arc;

/// All that is known and may be told.
#[derive(Debug, Clone, Copy)]
pub struct Request<'a> {
    /// The error.
    pub group: &'a GroupView,
    /// Who may have done it, where somebody looked.
    pub findings: Option<&'a Findings>,
    /// The project as it was when the error came.
    pub project: &'a Arc<Project>,
    /// How the program was started.
    pub command: Option<&'a str>,
    /// The console's own lines of the error; without them it is put together from what was
    /// understood.
    pub told: &'a [String],
    /// The lines before it.
    pub before: &'a [String],
    /// The first line of its run: what starts there often says its version.
    pub begins: Option<&'a str>,
    /// Names of languages, engines and libraries with their versions.
    pub versions: &'a [(String, String)],
    /// What the user tried or ruled out, a sentence each.
    pub tried: &'a [String],
    /// The little program that still shows it, where there is one.
    pub little: Option<Little<'a>>,
}

/// A little program that still shows the error.
#[derive(Debug, Clone, Copy)]
pub struct Little<'a> {
    /// Its files with their texts.
    pub files: &'a [(Arc<str>, String)],
    /// How it was found, in sentences.
    pub how: &'a str,
}

/// How the request is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Form {
    /// Markdown, as forums and trackers read it.
    #[default]
    Markdown,
    /// Plain text.
    Plain,
}

/// Rows of code above and below a line.
const AROUND: u32 = 6;
/// Suspects whose code is shown.
const SHOWN: usize = 2;

struct Writer {
    form: Form,
    out: String,
}

impl Writer {
    fn title(&mut self, level: usize, text: &str) {
        let gap = if self.out.is_empty() { "" } else { "\n" };
        let _ = match self.form {
            Form::Markdown => writeln!(self.out, "{gap}{} {text}\n", "#".repeat(level)),
            Form::Plain if level == 1 => writeln!(
                self.out,
                "{gap}{text}\n{}\n",
                "=".repeat(izba_model::text::width_cells(text).min(100))
            ),
            Form::Plain => writeln!(
                self.out,
                "{gap}{text}\n{}\n",
                "-".repeat(izba_model::text::width_cells(text).min(100))
            ),
        };
    }

    fn line(&mut self, text: &str) {
        self.out.push_str(text);
        self.out.push('\n');
    }

    /// Lines as they stand, in a fence that none of them can close.
    fn fenced(&mut self, language: &str, lines: impl Iterator<Item = String>) {
        let lines: Vec<String> = lines.collect();
        match self.form {
            Form::Markdown => {
                let longest = lines
                    .iter()
                    .flat_map(|l| l.split(|c| c != '`').map(str::len))
                    .max()
                    .unwrap_or(0);
                let fence = "`".repeat(longest.max(2) + 1);
                self.line(&format!("{fence}{language}"));
                lines.iter().for_each(|l| self.line(l));
                self.line(&fence);
            }
            Form::Plain => lines.iter().for_each(|l| self.line(&format!("    {l}"))),
        }
    }

    fn code(&self, text: &str) -> String {
        match self.form {
            Form::Markdown if !text.contains('`') => format!("`{text}`"),
            _ => text.to_owned(),
        }
    }
}

fn place(file: &str, line: u32) -> String {
    if line == 0 { file.to_owned() } else { format!("{file}:{line}") }
}

/// The sentence of the error alone, to be looked for.
pub fn sentence(group: &GroupView) -> String {
    let report = &group.entry.report;
    match &report.kind {
        Some(kind) => format!("{kind}: {}", report.message),
        None => report.message.clone(),
    }
}

/// Writes the request. What is nobody's business is still in it: see [`super::redact`].
pub fn request(request: &Request<'_>, form: Form) -> String {
    let Request { group, findings, project, .. } = *request;
    let entry = &*group.entry;
    let mut w = Writer { form, out: String::new() };
    w.title(1, group.told(findings).headline.to_string().trim_end_matches('.'));
    let said = w.code(&sentence(group));
    w.line(&said);
    w.line("");
    let mut where_ = Vec::new();
    if let Some(p) = &entry.place {
        where_.push(w.code(&place(&p.file, p.line.unwrap_or(0))));
    }
    where_.extend(entry.function.as_ref().map(|f| format!("in {}", w.code(f))));
    let who = [entry.report.object.as_deref(), entry.report.handler.as_deref()]
        .into_iter()
        .flatten()
        .collect::<Vec<_>>()
        .join(", ");
    if !who.is_empty() {
        where_.push(format!("({who})"));
    }
    let often = counted(group.total.max(1), "time", "times");
    let since = if group.state == State::New {
        ", first met in this run".to_owned()
    } else {
        format!(", {}", group.state.word())
    };
    w.line(&format!(
        "{}{}{often}{since}.",
        where_.join(" "),
        if where_.is_empty() { "" } else { ", " }
    ));
    let mut suspects: Vec<&Suspect> = findings
        .map_or_else(Vec::new, |f| f.suspects.iter().filter(|s| !s.is_reported()).collect());
    // Beside a likely one, what is only thinkable would lead away from it.
    let likely = suspects.first().is_some_and(|s| s.confidence >= LIKELY);
    suspects.retain(|s| s.confidence >= if likely { WORTH_BESIDE } else { WORTH });
    suspects.truncate(SHOWN);
    for suspect in &suspects {
        let sure = if suspect.confidence >= LIKELY { "Likely" } else { "Perhaps" };
        let at = w.code(&place(&suspect.file, suspect.line));
        w.line("");
        w.line(&format!("{sure}: {at}: {}.", suspect.reason()));
    }
    // The line itself, before anything else has to be scrolled to.
    if let Some(p) = entry.place.as_ref().filter(|p| p.line.is_some()) {
        w.line("");
        code(&mut w, project, &p.file, p.line.unwrap_or(0), 2);
    }
    w.title(2, "What the console says");
    let whole = trace(request);
    w.fenced("", whole.into_iter());
    if !suspects.is_empty() || entry.place.is_some() {
        w.title(2, "The code");
        let reported = entry.place.as_ref().and_then(|p| Some((p.file.clone(), p.line?)));
        let places = suspects.iter().map(|s| (s.file.clone(), s.line.max(1))).chain(reported);
        let mut told: Vec<(Arc<str>, u32)> = Vec::new();
        for (file, line) in places {
            if told.iter().any(|(f, l)| *f == file && l.abs_diff(line) < AROUND) {
                continue;
            }
            let name = w.code(&place(&file, line));
            w.line(&format!("{name}:"));
            w.line("");
            code(&mut w, project, &file, line, AROUND);
            w.line("");
            told.push((file, line));
        }
    }
    if let Some(Little { files, how }) = request.little {
        w.title(2, "A little program that still shows it");
        w.line(how);
        for (file, text) in files {
            w.line("");
            let name = w.code(file);
            w.line(&format!("{name}:"));
            w.line("");
            w.fenced(language(file), text.lines().map(str::to_owned));
        }
    }
    let begins = request
        .begins
        .filter(|b| !b.trim().is_empty() && request.before.first().is_none_or(|f| f != b));
    if request.command.is_some() || begins.is_some() || !request.before.is_empty() {
        w.title(2, "How it happens");
        if let Some(command) = request.command {
            let command = w.code(command);
            w.line(&format!("Started with {command}."));
        }
        if let Some(begins) = begins {
            let begins = w.code(izba_model::text::fit(begins.trim(), 160).as_ref());
            if request.command.is_some() {
                w.line("");
            }
            w.line(&format!("It begins with {begins}."));
        }
        if !request.before.is_empty() {
            if request.command.is_some() || begins.is_some() {
                w.line("");
            }
            w.line("Printed just before:");
            w.line("");
            w.fenced("", request.before.iter().cloned());
        }
    }
    looked_into(&mut w, findings, request.tried);
    if !request.versions.is_empty() {
        w.title(2, "Versions");
        for (name, version) in request.versions {
            w.line(&format!("- {name} {version}"));
        }
    }
    w.out
}

fn looked_into(w: &mut Writer, findings: Option<&Findings>, tried: &[String]) {
    let reasons: Vec<&Reason> = findings.map_or_else(Vec::new, |f| f.reasons.iter().collect());
    if reasons.is_empty() && tried.is_empty() {
        return;
    }
    w.title(2, "Looked into");
    for verdict in [Verdict::Likely, Verdict::CantTell, Verdict::RuledOut] {
        for reason in reasons.iter().filter(|r| r.verdict == verdict) {
            let seen = reason.claim.evidence.first().map_or(String::new(), |e| {
                let at = w.code(&place(&e.file, e.line));
                format!(" ({at}: {})", izba_model::text::fit(e.saw.to_string().trim(), 120))
            });
            w.line(&format!("- {}: {}{seen}", verdict.word(), reason.text()));
        }
    }
    for sentence in tried {
        w.line(&format!("- {sentence}"));
    }
}

/// What a fence of Markdown calls the file's language.
fn language(file: &str) -> &str {
    let of_code = Language::of(file).filter(|l| l.is_code());
    let plain = |e: &&str| e.len() <= 5 && e.chars().all(char::is_alphanumeric);
    of_code
        .map(|l| l.known().id.as_str())
        .or(file.rsplit_once('.').map(|(_, e)| e).filter(plain))
        .unwrap_or("")
}

fn code(w: &mut Writer, project: &Project, file: &str, line: u32, around: u32) {
    let Some(excerpt) =
        Excerpt::around(project, file, line, around, around, None).filter(|e| !e.rows.is_empty())
    else {
        return w.line("its text is not at hand");
    };
    let digits = excerpt.rows.last().map_or(1, |r| r.number.to_string().len());
    let rows = excerpt.rows.iter().map(|r| {
        let mark = if r.at_fault { ">" } else { " " };
        format!("{mark}{:>digits$}  {}", r.number, r.text.as_str()).trim_end().to_owned()
    });
    w.fenced(language(file), rows);
}

/// The whole trace: the console's own lines, or what was understood of them.
fn trace(request: &Request<'_>) -> Vec<String> {
    if !request.told.is_empty() {
        return request.told.to_vec();
    }
    let report = &request.group.entry.report;
    let step = |f: &StackFrame| {
        let at = f
            .file
            .as_deref()
            .map_or_else(|| "native code".to_owned(), |file| place(file, f.line.unwrap_or(0)));
        format!(
            "    {at}{}",
            f.function.as_deref().map_or_else(String::new, |n| format!(" in {n}"))
        )
    };
    let mut lines = vec![sentence(request.group)];
    lines.extend(report.frames.iter().map(step));
    for cause in &report.causes {
        let kind = cause.kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
        lines.push(format!("caused by {kind}{}", cause.message));
        lines.extend(cause.frames.iter().map(step));
    }
    lines
}

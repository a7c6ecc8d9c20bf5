//! Nothing happens, and nothing is told: a list of what may be the reason, each step looked into as
//! far as the code tells.

use crate::seen::{MADE_HERE, STANDS_HERE};
use crate::suspect::{As, Occurrence, SymbolIndex};
use izba_model::claim::{About, Claim, Evidence, Reason, Saying, Verdict};
use izba_model::code::{How, Index, Kind, NameEdit, Role};
use izba_model::{say, sayings};

sayings! {
    "silence", Any, "../words/silence.toml";
    NEAR_IT = "near-it",
    NOT_THERE = "not-there",
    UNREAD = "unread",
    UNREAD_OUT = "unread-out",
    PARSES = "parses",
    NAMES = "names",
    NEVER_NAMED = "never-named",
    NEVER_LOADED = "never-loaded",
    NAMED_HERE = "named-here",
    CALLED_OTHERWISE = "called-otherwise",
    NOTHING_CALLS_OR_HANDS = "nothing-calls-or-hands",
    NOTHING_CALLS = "nothing-calls",
    MISSPELT_IN = "misspelt-in",
    LEADS_NOWHERE = "leads-nowhere",
    SET_FALSE = "set-false",
    IS_FALSE = "is-false",
    SWITCHED_OFF = "switched-off",
    HIDDEN = "hidden",
    INVISIBLE = "invisible",
    CONDITION = "condition",
}

/// What says of an object whether it is shown or does anything.
const SWITCHES: &[&str] = &["visible", "shown", "enabled", "active", "alive"];

/// Whether a word is asked for where it stands: called, read, named by data; what is only printed
/// is not.
fn asks(occurrence: &Occurrence<'_>) -> bool {
    let printed = |n: izba_model::code::At<'_>| {
        let call =
            n.parent().filter(|p| p.is(Kind::Call)).and_then(izba_model::code::At::last_name);
        call.is_some_and(|name| {
            matches!(
                name.to_lowercase().as_str(),
                "print" | "println" | "log" | "writeline" | "error" | "warn"
            )
        })
    };
    !matches!(occurrence.as_what, As::File) && !occurrence.node.is_some_and(printed)
}

/// Looks into an object, handler or script of which nothing is heard, in the order in which people
/// should look.
pub fn look(name: &str, index: &Index) -> Vec<Reason> {
    let files: Vec<_> = index.files().iter().map(AsRef::as_ref).collect();
    let words = SymbolIndex::of(&files, index);
    let bare = name.rsplit('/').next().unwrap_or(name);
    let bare = bare.split_once('.').map_or(bare, |(stem, _)| stem);
    let mut steps: Vec<Reason> = Vec::new();
    let mut say = |verdict: Verdict, says: Saying, evidence: Vec<Evidence>| {
        steps.push(Reason { claim: Claim { says, evidence }, verdict })
    };
    let homes: Vec<_> = files
        .iter()
        .filter(|f| {
            f.stem().eq_ignore_ascii_case(bare)
                || f.tree
                    .named(bare)
                    .any(|n| matches!(n.defines(), Some(How::Function | How::Class)))
        })
        .collect();
    if homes.is_empty() {
        let near: Vec<_> = words
            .near(bare, |_, occurrences| {
                occurrences.iter().any(|s| matches!(s.as_what, As::Made(_) | As::File))
            })
            .into_iter()
            .take(3)
            .collect();
        let evidence = near
            .iter()
            .filter_map(|(w, _)| {
                words.occurrences(w).first().map(|s| Evidence {
                    file: s.file.path.clone(),
                    line: s.line,
                    saw: say!(NEAR_IT, name = w),
                })
            })
            .collect();
        say(Verdict::Likely, say!(NOT_THERE, name = bare), evidence);
        return steps;
    }
    // Is the script read at all?
    for home in &homes {
        match home.faults.first() {
            Some(fault) => say(
                Verdict::Likely,
                say!(UNREAD, file = home.name()),
                vec![Evidence {
                    file: home.path.clone(),
                    line: fault.line,
                    saw: fault.what.clone(),
                }],
            ),
            None => say(
                Verdict::RuledOut,
                say!(UNREAD_OUT, file = home.name()),
                vec![Evidence { file: home.path.clone(), line: 0, saw: say!(PARSES) }],
            ),
        }
        // Is it loaded by anything?
        let stem = home.stem();
        let loaded: Vec<Evidence> = files
            .iter()
            .flat_map(|f| {
                let code = f.tree.all().filter(|n| {
                    matches!(n.kind(), Kind::Import | Kind::Str | Kind::New | Kind::Type)
                        && n.text().is_some_and(|t| {
                            t.trim_end_matches(".lua")
                                .trim_end_matches(".js")
                                .rsplit(['/', '.'])
                                .next()
                                == Some(stem)
                        })
                });
                let data = f.data.iter().filter(|d| {
                    d.role == Role::Value
                        && d.text
                            .rsplit('/')
                            .next()
                            .is_some_and(|t| t.split('.').next() == Some(stem))
                });
                let path = &f.path;
                code.map(|n| n.line())
                    .chain(data.map(|d| d.line))
                    .map(move |line| Evidence {
                        file: path.clone(),
                        line,
                        saw: say!(NAMES, name = stem),
                    })
                    .collect::<Vec<_>>()
            })
            .filter(|e| e.file != home.path)
            .collect();
        let mut loaded = loaded;
        loaded.dedup();
        loaded.truncate(3);
        if home.language.is_code() {
            match loaded.is_empty() {
                true => say(Verdict::CantTell, say!(NEVER_NAMED, file = home.name()), Vec::new()),
                false => say(Verdict::RuledOut, say!(NEVER_LOADED, file = home.name()), loaded),
            }
        }
    }
    // Is the handler attached?
    for occurrence in
        words.occurrences(bare).iter().filter(|s| matches!(s.as_what, As::Made(How::Function)))
    {
        let named: Vec<Evidence> = words
            .occurrences(bare)
            .iter()
            .filter(|s| !matches!(s.as_what, As::Made(How::Function) | As::File))
            .take(3)
            .map(|s| Evidence { file: s.file.path.clone(), line: s.line, saw: say!(NAMED_HERE) })
            .collect();
        if named.is_empty() {
            let near: Vec<_> = words
                .near(bare, |w, s| {
                    !s.iter().any(|s| matches!(s.as_what, As::Made(_)))
                        && w.len() > 3
                        && s.iter().any(asks)
                })
                .into_iter()
                .filter(|(_, slip)| *slip <= NameEdit::Letters)
                .collect();
            match near.first() {
                Some((other, slip)) => {
                    let at = words.occurrences(other)[0];
                    say(
                        Verdict::Likely,
                        say!(CALLED_OTHERWISE, name = bare, other, edit = slip.says(bare, other)),
                        vec![Evidence {
                            file: at.file.path.clone(),
                            line: at.line,
                            saw: say!(STANDS_HERE, name = other),
                        }],
                    );
                }
                None => say(
                    Verdict::Likely,
                    say!(NOTHING_CALLS_OR_HANDS, name = bare),
                    vec![Evidence {
                        file: occurrence.file.path.clone(),
                        line: occurrence.line,
                        saw: say!(MADE_HERE, name = bare),
                    }],
                ),
            }
        } else {
            say(Verdict::RuledOut, say!(NOTHING_CALLS, name = bare), named);
        }
    }
    // Does a slip of a name on assignment make a new variable?
    let checked = crate::checks::all(index).remarks;
    for home in homes.iter().filter(|h| h.language.is_code()) {
        let slips: Vec<Evidence> = checked
            .iter()
            .filter(|r| {
                r.claim.about() == About::Name && (r.file == home.path || r.claim.says.names(bare))
            })
            .map(|r| Evidence { file: r.file.clone(), line: r.line, saw: r.claim.says.clone() })
            .take(4)
            .collect();
        match slips.is_empty() {
            true => say(Verdict::RuledOut, say!(MISSPELT_IN, file = home.name()), Vec::new()),
            false => say(Verdict::Likely, say!(LEADS_NOWHERE, file = home.name()), slips),
        }
    }
    // Is it hidden, as far as data tells?
    let before: Vec<Evidence> = checked
        .iter()
        .filter(|r| r.claim.about() == About::Hidden)
        .filter_map(|r| {
            let named =
                |e: &&Evidence| e.saw.subject().is_some_and(|n| n.eq_ignore_ascii_case(bare));
            r.claim.evidence.iter().find(named).map(|e| {
                [
                    Evidence { file: r.file.clone(), line: r.line, saw: r.claim.says.clone() },
                    e.clone(),
                ]
            })
        })
        .flatten()
        .collect();
    // Is it switched off, in its own script or where data places it?
    let off = |node: izba_model::code::At<'_>| {
        node.assigned_value().is_some_and(|v| v.is(Kind::Bool) && v.is_called("false"))
    };
    let switched = homes.iter().filter(|h| h.language.is_code()).flat_map(|h| {
        let nodes = SWITCHES
            .iter()
            .flat_map(|word| h.tree.named(word))
            .filter(|n| n.defines() == Some(How::Assigned) && off(*n));
        nodes.map(|n| Evidence {
            file: h.path.clone(),
            line: n.line(),
            saw: say!(SET_FALSE, name = n.text().unwrap_or_default()),
        })
    });
    let placed = files.iter().flat_map(|f| {
        let own = |record: u32| {
            f.data.iter().any(|d| d.record == record && d.text.eq_ignore_ascii_case(bare))
        };
        let off = f
            .data
            .iter()
            .filter(move |d| d.role == Role::Value && d.text.as_ref() == "false" && own(d.record));
        let named =
            off.filter(|d| d.path.rsplit('/').next().is_some_and(|key| SWITCHES.contains(&key)));
        named.map(|d| Evidence {
            file: f.path.clone(),
            line: d.line,
            saw: say!(IS_FALSE, name = d.path.rsplit('/').next().unwrap_or_default()),
        })
    });
    let switched: Vec<Evidence> = placed.chain(switched).take(4).collect();
    if !switched.is_empty() {
        say(Verdict::Likely, say!(SWITCHED_OFF, name = bare), switched);
    }
    if !before.is_empty() {
        say(Verdict::Likely, say!(HIDDEN, name = bare), before);
    }
    say(Verdict::CantTell, say!(INVISIBLE), Vec::new());
    say(Verdict::CantTell, say!(CONDITION), Vec::new());
    steps
}

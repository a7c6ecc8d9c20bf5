//! imports: what is made elsewhere, or comes with the language, and that the script never brings
//! in.

use super::brought::{names_file, shares_names};
use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::seen::MADE_HERE;
use izba_model::Family;
use izba_model::claim::Slot;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::{Form, HandsOut};
use izba_model::{say, sayings};

sayings! {
    "imports", Any, "../../words/suspects/imports.toml";
    OTHERS_BROUGHT_IN = "others-brought-in",
    NOT_BROUGHT_IN = "not-brought-in",
    MAY_COME_FROM = "may-come-from",
}

/// The check for this: what is made elsewhere, or comes with the language, and that the script
/// never brings in.
pub static CHECK: Check = Check {
    id: "imports",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::NameNotThere
                    | Family::ValueNotThere
                    | Family::WrongKind
                    | Family::Other
                    | Family::LooseWiring
            )
    },
    look: imports,
};

/// Whether what the name belongs to stands right beside it: the slip is on this very line.
fn stands_beside_owner(query: &Query<'_>, file: &FileFacts, wanted: &str) -> bool {
    let on_line: Vec<At<'_>> = query
        .on_line()
        .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field) && n.text().is_some())
        .collect();
    let foreign = |n: &At<'_>| {
        n.text().is_some_and(|t| {
            let made = super::flow::bindings(file, *n, t);
            made.iter().all(|m| m.defines() == Some(How::Import)) && !query.symbols.is_made(t)
                || made.iter().any(|m| m.defines() == Some(How::Import))
        })
    };
    on_line.iter().filter(|n| n.is_called(wanted)).any(|n| {
        on_line.iter().any(|o| {
            let gap = if o.span().0 >= n.span().1 {
                o.span().0 - n.span().1
            } else {
                n.span().0.saturating_sub(o.span().1)
            };
            o.text() != n.text() && gap <= 2 && foreign(o)
        }) || n.parent().is_some_and(|p| p.is(Kind::Field) && p.child(0) == Some(*n))
    })
}

/// The name is made elsewhere, and this file never brings it in.
fn imports(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(name)) = (
        query.file,
        query.asked.clone().or_else(|| query.subject_names().first().map(|n| (*n).to_owned())),
    ) else {
        return;
    };
    let unknown_name = query.family() == Family::NameNotThere || query.said.contains("nil value");
    // What an object lacks is not brought in.
    let of_object = query.said.contains("has no attribute") && !query.said.contains("module '");
    if !unknown_name
        || of_object
        || file.tree.named(&name).any(|n| n.defines() == Some(How::Import))
    {
        return;
    }
    // Scripts of one page know what the others make; what is missing there is said of the page.
    if shares_names(query.index, file) {
        return;
    }
    let globals = file.language.hands_out == Some(HandsOut::Globals);
    // Of a field the file of its owner has to be brought in.
    let of_field = query
        .subjects
        .first()
        .filter(|s| s.is(Kind::Field))
        .and_then(|s| s.child(0))
        .and_then(At::last_name);
    // What an object lacks is not brought in where scripts hand out by name.
    if of_field.is_some() && file.language.hands_out == Some(HandsOut::Exports) {
        return;
    }
    // Asked of the module itself, which the file does bring in.
    if of_field.is_some_and(|owner| {
        !globals && file.tree.named(owner).any(|n| n.defines() == Some(How::Import))
    }) {
        return;
    }
    let wanted = of_field.filter(|_| globals).map_or(name.clone(), str::to_owned);
    let makes = |f: &FileFacts, word: &str| {
        f.tree.named(word).any(|n| match n.defines() {
            Some(How::Function | How::Class) => {
                !n.has(Flag::Member) && n.function().is_none() && n.class().is_none()
            }
            // What only keeps what it brought in makes nothing.
            Some(How::Assigned) => {
                n.function().is_none()
                    && n.class().is_none()
                    && !n.assigned_value().is_some_and(|v| v.is(Kind::Import))
            }
            _ => false,
        })
    };
    let made_here = makes(file, &wanted) || file.tree.named(&wanted).any(|n| n.defines().is_some());
    let homes: Vec<&FileFacts> = query
        .scope
        .iter()
        .copied()
        .filter(|f| {
            f.path != file.path
                && (f.language.is_code() || f.language.data == Some(Form::Json))
                && (makes(f, &wanted) || f.stem().eq_ignore_ascii_case(&wanted))
        })
        .collect();
    let brings = &file.language.imports;
    // Of a name that is called nothing else, and that the language's own modules hold.
    let by_module = query.family() == Family::NameNotThere
        && !file.language.imports_types
        && of_field.is_none()
        && !globals
        && file.language.is_in_module(&wanted)
        && !stands_beside_owner(query, file, &wanted);
    let known = by_module || brings.modules.contains_key(&wanted);
    let known_type =
        file.language.imports_types && (brings.has_type(&wanted) || wanted.ends_with("Exception"));
    if made_here || homes.is_empty() && !known && !known_type {
        return;
    }
    if file.language.imports_types && !known_type {
        return;
    }
    let imports: Vec<At<'_>> = file.tree.all().filter(|n| n.is(Kind::Import)).collect();
    // A line that brings in something else of the same file.
    let same =
        imports.iter().find(|i| homes.iter().any(|h| i.text().is_some_and(|t| names_file(t, h))));
    // Modules may put their names there for all, those aside that give back what they made.
    let for_itself = homes.iter().all(|h| makes_for_itself(h, &wanted)) && !homes.is_empty();
    if globals
        && !for_itself
        && (same.is_some()
            || query.scope.iter().any(|f| {
                f.tree.all().any(|n| {
                    n.is(Kind::Import)
                        && homes.iter().any(|h| n.text().is_some_and(|t| names_file(t, h)))
                }) && loads(query, f, file)
            }))
    {
        return;
    }
    let home = homes.first();
    let place = home.map_or_else(|| Slot::words("the standard library"), |h| Slot::place(h.name()));
    // What a script of this kind needs is usually loaded by the one that begins.
    let begins = home
        .filter(|h| globals && imports.is_empty() && !makes_for_itself(h, &wanted))
        .and_then(|_| query.steps.last())
        .map(|s| s.file)
        .filter(|f| f.path != file.path);
    let (at, line) = match (same, imports.last(), begins) {
        (Some(same), ..) => (file, same.line()),
        (None, _, Some(main)) => {
            (main, main.tree.all().filter(|n| n.is(Kind::Import)).last().map_or(1, At::line))
        }
        (None, Some(_), _) if homes.is_empty() => (file, among(query, file, &imports, &wanted)),
        // Where they stand in order, in that order.
        (None, Some(last), _) => {
            let own: Vec<At<'_>> = imports
                .iter()
                .copied()
                .filter(|i| query.scope.iter().any(|f| i.text().is_some_and(|t| names_file(t, f))))
                .collect();
            let stem = |i: &At<'_>| i.text().map(|t| stem_of(t).to_lowercase());
            let of_home = homes.first().map(|h| h.stem().to_lowercase());
            let in_order = own.len() >= 2 && own.windows(2).all(|w| stem(&w[0]) <= stem(&w[1]));
            let before = own.iter().rev().find(|i| stem(i) <= of_home).map(|i| i.line());
            match in_order {
                true => (file, before.unwrap_or_else(|| own[0].line().saturating_sub(1).max(1))),
                false => (file, as_needed(file, &own, &wanted).unwrap_or_else(|| last.line())),
            }
        }
        (None, None, None) => (file, 1),
    };
    let (strength, reason) = match same {
        Some(_) => (Strength::Plain, say!(OTHERS_BROUGHT_IN, name = wanted, place)),
        // A member of something else is called so too.
        None if by_module && !brings.modules.contains_key(&wanted) => {
            (Strength::Fair, say!(MAY_COME_FROM, name = wanted, file = at.name()))
        }
        None => (Strength::Plain, say!(NOT_BROUGHT_IN, name = wanted, place, file = at.name())),
    };
    let to = imports.last().map_or(1, |l| l.line());
    let suspect = seen.suspect(&at.path, line, strength, reason);
    suspect.to(if same.is_some() { line } else { to });
    if let Some(home) = home {
        let made = home.tree.named(&wanted).find(|n| n.defines().is_some()).map_or(1, At::line);
        suspect.saw(&home.path, made, say!(MADE_HERE, name = wanted));
    }
}

/// Whether a script makes a name for itself and hands it out as what it gives back, so that whoever
/// wants it has to keep it.
fn makes_for_itself(home: &FileFacts, name: &str) -> bool {
    let local = home.tree.named(name).any(|n| {
        n.defines() == Some(How::Assigned)
            && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local))
    });
    let given = |n: At<'_>| n.is(Kind::Return) && n.function().is_none();
    local && home.tree.all().any(|n| given(n) && n.child(0).is_some_and(|v| v.is_called(name)))
}

/// The name of what is brought in: of `./tools/bell.js` and of `tools.bell`, `bell`.
fn stem_of(brought: &str) -> &str {
    match brought.rsplit_once('/') {
        Some((_, file)) => file.split('.').next().unwrap_or(file),
        None => brought.rsplit('.').next().unwrap_or(brought),
    }
}

/// The line of an import after which another of the library would stand: in the order of the
/// alphabet where they stand in it; else before what is one's own.
fn among(query: &Query<'_>, file: &FileFacts, imports: &[At<'_>], wanted: &str) -> u32 {
    let written = |i: &At<'_>| file.line(i.line()).unwrap_or("").trim().trim_end_matches(';');
    let package = |i: &At<'_>| written(i).rsplit_once('.').map(|(package, _)| package);
    // The package that most of these come from stands for where it would be.
    let most =
        imports.iter().max_by_key(|i| imports.iter().filter(|o| package(o) == package(i)).count());
    let of_one: Vec<&At<'_>> =
        imports.iter().filter(|i| most.is_some_and(|m| package(m) == package(i))).collect();
    let in_order = of_one.windows(2).all(|w| written(w[0]) <= written(w[1]));
    let first = |i: &&&At<'_>| written(i).rsplit('.').next().is_some_and(|l| l < wanted);
    let before = of_one.iter().rfind(first);
    if let Some(before) = before.filter(|_| file.language.imports_types && in_order) {
        return before.line();
    }
    // Behind the others of the library, which usually stand before what is one's own.
    let own = |i: &&At<'_>| query.scope.iter().any(|f| i.text().is_some_and(|t| names_file(t, f)));
    let library = imports.iter().take_while(|i| !own(i)).last();
    match library.filter(|_| !file.language.imports_types) {
        Some(last) => last.line(),
        None => imports[0].line().saturating_sub(1).max(1),
    }
}

/// The import after which another would stand, where they stand in the order in which the script
/// first needs what they bring.
fn as_needed(file: &FileFacts, imports: &[At<'_>], wanted: &str) -> Option<u32> {
    let first_use = |name: &str| {
        let uses = file.tree.named(name).filter(|n| n.is(Kind::Name) && n.defines().is_none());
        uses.map(|n| n.span().0).min()
    };
    let needed = |import: &At<'_>| {
        let kept = file.tree.all().filter(|n| {
            n.line() == import.line()
                && matches!(n.defines(), Some(How::Import | How::Assigned))
                && n.is(Kind::Name)
        });
        kept.filter_map(|n| first_use(n.text()?)).min()
    };
    let uses: Vec<(u32, usize)> =
        imports.iter().filter_map(|i| Some((i.line(), needed(i)?))).collect();
    let at = first_use(wanted)?;
    let in_order = uses.len() >= 2 && uses.windows(2).all(|w| w[0].1 <= w[1].1);
    let before = uses.iter().rev().find(|(_, used)| *used <= at).map(|(line, _)| *line);
    in_order.then(|| before.unwrap_or_else(|| uses[0].0.saturating_sub(1).max(1)))
}

/// Whether `by` is loaded before or with `file`, as far as one look tells.
fn loads(query: &Query<'_>, by: &FileFacts, file: &FileFacts) -> bool {
    by.path == file.path
        || query.steps.iter().any(|s| s.file.path == by.path)
        || by
            .tree
            .all()
            .any(|n| n.is(Kind::Import) && n.text().is_some_and(|t| names_file(t, file)))
}

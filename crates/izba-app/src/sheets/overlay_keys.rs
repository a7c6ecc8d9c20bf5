//! Keys while something lies over the room, and typing into its input.

use crate::keymap::{Action, BINDINGS};
use crate::model::{Model, Overlay};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use izba_watch::Order;

pub(crate) fn on_overlay_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let Some(overlay) = model.overlay.take() else { return Vec::new() };
    match overlay {
        Overlay::Help(scroll) => match key {
            "Esc" | "?" | "q" | "Enter" => {}
            "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
            "↑" | "k" => model.overlay = Some(Overlay::Help(scroll.saturating_sub(1))),
            "↓" | "j" => model.overlay = Some(Overlay::Help((scroll + 1).min(BINDINGS.len()))),
            _ => model.overlay = Some(Overlay::Help(scroll)),
        },
        Overlay::Words(scroll) => match key {
            "Esc" | "d" | "q" | "Enter" => {}
            "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
            "↑" | "k" => model.overlay = Some(Overlay::Words(scroll.saturating_sub(1))),
            "↓" | "j" => {
                model.overlay = Some(Overlay::Words(
                    (scroll + 1).min(crate::sheets::overlay::words_rows(model)),
                ))
            }
            _ => model.overlay = Some(Overlay::Words(scroll)),
        },
        Overlay::GoTo(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                let typed: String = input.value().chars().filter(char::is_ascii_digit).collect();
                let Ok(number) = typed.parse::<u64>() else {
                    say(model, "type the number of a line, such as 9000000");
                    return Vec::new();
                };
                crate::rooms::lines::update::go_to_row(
                    model,
                    number.clamp(1, model.shown.snapshot.rows.max(1)) - 1,
                );
                return crate::rooms::lines::update::ask_rows(model);
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::GoTo(input));
            }
        },
        Overlay::Compare(source, earlier, later, scroll) => match key {
            "Esc" | "=" | "q" | "Enter" => {}
            "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
            "↑" | "k" => {
                model.overlay =
                    Some(Overlay::Compare(source, earlier, later, scroll.saturating_sub(1)))
            }
            "↓" | "j" => {
                model.overlay = Some(Overlay::Compare(source, earlier, later, scroll + 1))
            }
            // The earlier one goes further back, or comes nearer.
            "←" => {
                model.overlay = Some(Overlay::Compare(
                    source,
                    crate::rooms::runs::update::beside(model, source, earlier, true)
                        .unwrap_or(earlier),
                    later,
                    0,
                ))
            }
            "→" => {
                let nearer = crate::rooms::runs::update::beside(model, source, earlier, false)
                    .filter(|run| *run < later);
                model.overlay = Some(Overlay::Compare(source, nearer.unwrap_or(earlier), later, 0));
            }
            _ => model.overlay = Some(Overlay::Compare(source, earlier, later, scroll)),
        },
        Overlay::NameFilter(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => return crate::rooms::phrase::keep(model, input.value().trim()),
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::NameFilter(input));
            }
        },
        Overlay::Tell(telling, plain, scroll) => {
            let text = |plain: bool| {
                if plain { telling.plain.text.clone() } else { telling.markdown.text.clone() }
            };
            let rows = crate::sheets::tell::rows(model, &telling, plain);
            let (plain, scroll, effect) = match key {
                "Esc" | "q" | "t" => return Vec::new(),
                "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
                "↑" | "k" => (plain, scroll.saturating_sub(1), None),
                "↓" | "j" => (plain, (scroll + 1).min(rows), None),
                "PgUp" => (plain, scroll.saturating_sub(20), None),
                "PgDn" | "Space" => (plain, (scroll + 20).min(rows), None),
                "p" => (!plain, 0, None),
                "c" | "Enter" => (plain, scroll, Some(Effect::Copy(text(plain)))),
                "s" => (plain, scroll, Some(Effect::Copy(telling.sentence.clone()))),
                "w" => (
                    plain,
                    scroll,
                    Some(Effect::KeepText(text(plain), if plain { "txt" } else { "md" })),
                ),
                "z" => {
                    crate::sheets::pack::open(model, telling);
                    return Vec::new();
                }
                _ => (plain, scroll, None),
            };
            model.overlay = Some(Overlay::Tell(telling, plain, scroll));
            return effect.into_iter().collect();
        }
        Overlay::Paths(chosen) => {
            let paths = model.live.paths.clone().unwrap_or_default();
            let rows = paths.rows();
            let chosen = chosen.min(rows.len().saturating_sub(1));
            let next = match key {
                "Esc" | "q" | "o" => return Vec::new(),
                "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
                "↑" | "k" => chosen.saturating_sub(1),
                "↓" | "j" => (chosen + 1).min(rows.len().saturating_sub(1)),
                "Home" => 0,
                "End" => rows.len().saturating_sub(1),
                "e" => {
                    let place = rows.get(chosen).and_then(|r| r.step.place());
                    if let Some(place) = place {
                        let line = model.live.snapshot.project.line_today(
                            &model.live.today,
                            &place.file,
                            place.line.unwrap_or(1),
                        );
                        model.overlay = Some(Overlay::Paths(chosen));
                        return vec![Effect::Edit {
                            file: place.file.to_string(),
                            line,
                            column: 1,
                        }];
                    }
                    chosen
                }
                // To the lines themselves: the newest path of the line that printed it.
                "Enter" => {
                    let newest = rows[..(chosen + 1).min(rows.len())]
                        .iter()
                        .rev()
                        .find_map(|r| r.printed)
                        .map(|p| p.newest);
                    if let Some(row) = newest {
                        crate::rooms::lines::update::go_to_row(model, row);
                        return crate::rooms::lines::update::ask_rows(model);
                    }
                    chosen
                }
                _ => chosen,
            };
            model.overlay = Some(Overlay::Paths(next));
        }
        Overlay::Note(sheet) => return crate::rooms::notes::update::on_key(model, sheet, key),
        Overlay::Pack(sheet) => return crate::sheets::pack::on_key(model, sheet, key),
        Overlay::Draw(sheet) => return crate::sheets::draw::on_key(model, sheet, key),
        Overlay::Prints(chosen) => {
            let rows = crate::sheets::prints::rows(model);
            let chosen = chosen.min(rows.len().saturating_sub(1));
            let next = match key {
                "Esc" | "q" | "l" => return Vec::new(),
                "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
                "↑" | "k" => chosen.saturating_sub(1),
                "↓" | "j" => (chosen + 1).min(rows.len().saturating_sub(1)),
                "PgUp" => chosen.saturating_sub(15),
                "PgDn" => (chosen + 15).min(rows.len().saturating_sub(1)),
                "Home" => 0,
                "End" => rows.len().saturating_sub(1),
                "e" if chosen < rows.len() => {
                    let (file, line) =
                        (rows[chosen].print.file.to_string(), rows[chosen].print.line);
                    model.overlay = Some(Overlay::Prints(chosen));
                    return vec![Effect::Edit { file, line, column: 1 }];
                }
                "Enter" => match rows.get(chosen).and_then(|r| r.told.first()) {
                    Some(at) => {
                        model.values.row = *at;
                        return Vec::new();
                    }
                    None => {
                        say(model, "this print told no value so far");
                        chosen
                    }
                },
                _ => chosen,
            };
            model.overlay = Some(Overlay::Prints(next));
        }
        Overlay::Corner(scroll) => match key {
            "Esc" | "q" | "Enter" => {}
            "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
            _ => {
                let rows = crate::sheets::corner::rows(model);
                let group = model.live.corner.as_ref().map(|c| c.group);
                let scroll = match key {
                    "↑" | "k" => scroll.saturating_sub(1),
                    "↓" | "j" => (scroll + 1).min(rows),
                    _ => scroll,
                };
                model.overlay = Some(Overlay::Corner(scroll));
                return match (key, group) {
                    ("s", _) => vec![Effect::Order(Order::StopCorner)],
                    ("w", _) => vec![Effect::Order(Order::KeepCorner)],
                    ("y", Some(group)) => vec![Effect::Order(Order::Corner(group, true))],
                    ("a", Some(group)) => vec![Effect::Order(Order::Corner(group, false))],
                    _ => Vec::new(),
                };
            }
        },
        Overlay::Break(sheet) => {
            return crate::rooms::pause::update::on_break_key(model, sheet, key);
        }
        Overlay::Watch(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" if input.value().trim().is_empty() => {}
            "Enter" => {
                return vec![Effect::Order(Order::Pause(izba_watch::PauseOrder::Watch(
                    input.value().trim().to_owned(),
                )))];
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Watch(input));
            }
        },
        Overlay::SetValue(owner, name, mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                let want = izba_dap::Want::Set(owner, name, input.value().trim().to_owned());
                return vec![Effect::Order(Order::Pause(izba_watch::PauseOrder::Want(want)))];
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::SetValue(owner, name, input));
            }
        },
        Overlay::Sources(sheet) => {
            return crate::sheets::sheets_keys::on_sources_key(model, sheet, key);
        }
        Overlay::Teach(teach) => {
            return crate::sheets::sheets_keys::on_teach_key(model, teach, key);
        }
        Overlay::AskQuit => match key {
            "q" | "y" | "Enter" | "Ctrl+C" => return vec![Effect::Quit],
            "Esc" | "n" => {}
            _ => model.overlay = Some(Overlay::AskQuit),
        },
        Overlay::Reply(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                let text = format!("{}\n", input.value());
                say(model, "sent to the program");
                return vec![Effect::Order(Order::Type(text))];
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Reply(input));
            }
        },
        Overlay::Palette(mut input, chosen) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                if let Some(binding) =
                    crate::keymap::palette_matches(input.value(), model.demo).get(chosen)
                {
                    return vec![Effect::Act(binding.action)];
                }
            }
            "↑" => model.overlay = Some(Overlay::Palette(input, chosen.saturating_sub(1))),
            "↓" => {
                let last = crate::keymap::palette_matches(input.value(), model.demo)
                    .len()
                    .saturating_sub(1);
                model.overlay = Some(Overlay::Palette(input, (chosen + 1).min(last)));
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Palette(input, 0));
            }
        },
    }
    Vec::new()
}

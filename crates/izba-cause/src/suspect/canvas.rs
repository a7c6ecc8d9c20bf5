//! canvas: what draws on a canvas is asked of the element itself, and not of the surface that its
//! `getContext` gives.

use super::check::{Check, Seen, Strength};
use super::elements::{By, asks_page, names, pages};
use super::query::Query;
use super::value::{Eval, Val, What};
use izba_model::code::{At, Kind};
use izba_model::{say, sayings};

sayings! {
    "canvas", Any, "../../words/suspects/canvas.toml";
    ELEMENT_PASSED = "element-passed",
    ELEMENT_KEPT = "element-kept",
    DRAWN_HERE = "drawn-here",
}

/// The check for this: the element taken for its surface.
pub static CHECK: Check = Check {
    id: "canvas",
    kinds: KINDS,
    applies: |query| {
        query.said.contains("is not a function")
            && query.file.is_some_and(|f| f.language.base_id() == "javascript")
    },
    look,
};

/// Methods of the two-dimensional surface that elements do not have: HTML, section 4.12.5.1.
const DRAWS: &[&str] = &[
    "arc",
    "arcTo",
    "beginPath",
    "bezierCurveTo",
    "clearRect",
    "clip",
    "closePath",
    "createImageData",
    "createLinearGradient",
    "createPattern",
    "createRadialGradient",
    "drawImage",
    "ellipse",
    "fill",
    "fillRect",
    "fillText",
    "getImageData",
    "lineTo",
    "measureText",
    "moveTo",
    "putImageData",
    "quadraticCurveTo",
    "rect",
    "restore",
    "rotate",
    "roundRect",
    "save",
    "scale",
    "setLineDash",
    "setTransform",
    "stroke",
    "strokeRect",
    "strokeText",
    "transform",
    "translate",
];

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    let mut eval = Eval::new(query);
    let drawn = query.on_line().filter(|n| n.is(Kind::Field) && n.is_callee());
    for callee in drawn.filter(|n| n.text().is_some_and(|t| DRAWS.contains(&t))) {
        let (Some(member), Some(owner)) = (callee.text(), callee.child(0)) else { continue };
        if !query.says(member) {
            continue;
        }
        let found = eval.of(file, owner).list;
        let [element] = found.as_slice() else { continue };
        let What::Element(call) = element.what else { continue };
        if !is_canvas(query, element, call) {
            continue;
        }
        // What is kept under a name of its own is meant as the element, and handed over too early.
        let kept = call.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
        let name = kept.and_then(|a| a.part(Kind::Targets)?.child(0)).and_then(At::last_name);
        let as_element = name.is_some_and(|n| {
            let n = n.to_lowercase();
            n.contains("canvas") || asks_page(element.file, call).is_some_and(|a| a.name == n)
        });
        let suspect = match element.handed.filter(|_| as_element) {
            Some((home, line)) => {
                let says = say!(ELEMENT_PASSED, name = name.unwrap_or_default(), member);
                seen.suspect(&home.path, line, Strength::Plain, says)
            }
            None => {
                let says = say!(ELEMENT_KEPT, member);
                seen.suspect(&element.file.path, call.line(), Strength::Plain, says)
            }
        };
        suspect.saw(&file.path, query.line, say!(DRAWN_HERE));
    }
}

/// Whether what a call asks for or makes is a canvas.
fn is_canvas(query: &Query<'_>, element: &Val<'_>, call: At<'_>) -> bool {
    if call.last_name() == Some("createElement") {
        return call.arguments().next().is_some_and(|a| a.is(Kind::Str) && a.is_called("canvas"));
    }
    let Some(asked) = asks_page(element.file, call) else { return false };
    let held = || pages(query.index).flat_map(|page| names(page, asked.by));
    let mut meant = held().filter(|(name, _)| *name == asked.name).peekable();
    match asked.by {
        By::Tag => asked.name == "canvas",
        By::Id | By::Class | By::Field => {
            meant.peek().is_some() && meant.all(|(_, e)| e.tag.as_ref() == "canvas")
        }
    }
}

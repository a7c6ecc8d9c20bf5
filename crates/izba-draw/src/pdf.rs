//! A page as PDF 1.7 (ISO 32000-1), with those glyphs of the font embedded that it uses and a map
//! back to characters, so that its text can be selected and found.

use crate::drawing::Anchor;
use crate::font::{Cut, advance, units};
use crate::form::DrawError;
use crate::look::Rgb;
use crate::page::{Mark, Page, Stroke, dashes};
use pdf_writer::types::{
    CidFontType, FontFlags, LineCapStyle, LineJoinStyle, SystemInfo, UnicodeCmap,
};
use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref, Str, TextStr};
use std::collections::BTreeMap;
use subsetter::GlyphRemapper;
use ttf_parser::{Face, GlyphId};

/// How glyph numbers are told in a text: two bytes each, as they are.
const IDENTITY: SystemInfo<'static> =
    SystemInfo { registry: Str(b"Adobe"), ordering: Str(b"Identity"), supplement: 0 };

pub(crate) fn pdf(page: &Page) -> Result<Vec<u8>, DrawError> {
    let mut fonts = Cut::ALL.into_iter().map(Embedded::new).collect::<Result<Vec<_>, _>>()?;
    let mut content = Content::new();
    let (width, height) = (page.size.0 as f32, page.size.1 as f32);
    // PDF counts from the lower left corner.
    content.transform([1.0, 0.0, 0.0, -1.0, 0.0, height]);
    content.set_line_join(LineJoinStyle::RoundJoin).set_line_cap(LineCapStyle::ButtCap);
    fill(&mut content, page.ground);
    content.rect(0.0, 0.0, width, height).fill_nonzero();
    for mark in &page.marks {
        draw(&mut content, mark, &mut fonts);
    }
    let mut next = 1;
    let mut number = || {
        next += 1;
        Ref::new(next - 1)
    };
    let (catalog, tree, leaf, stream, info) = (number(), number(), number(), number(), number());
    let mut pdf = Pdf::new();
    pdf.catalog(catalog).pages(tree);
    pdf.pages(tree).kids([leaf]).count(1);
    pdf.document_info(info).title(TextStr(&page.title)).creator(TextStr("Izba"));
    pdf.stream(stream, &content.finish());
    let used: Vec<(&Embedded, Ref)> =
        fonts.iter().filter(|f| !f.said.is_empty()).map(|f| (f, number())).collect();
    let mut written = pdf.page(leaf);
    written.parent(tree).media_box(Rect::new(0.0, 0.0, width, height)).contents(stream);
    let mut resources = written.resources();
    let mut named = resources.fonts();
    for (font, at) in &used {
        named.pair(Name(font.cut.id().as_bytes()), *at);
    }
    named.finish();
    resources.finish();
    written.finish();
    for (font, at) in used {
        font.write(&mut pdf, at, [number(), number(), number(), number()])?;
    }
    Ok(pdf.finish())
}

fn share(part: u8) -> f32 {
    f32::from(part) / 255.0
}

fn fill(content: &mut Content, (r, g, b): Rgb) {
    content.set_fill_rgb(share(r), share(g), share(b));
}

fn set_stroke(content: &mut Content, stroke: Stroke) {
    let (r, g, b) = stroke.ink;
    content.set_stroke_rgb(share(r), share(g), share(b)).set_line_width(stroke.width as f32);
}

fn trace(content: &mut Content, points: &[(f64, f64)]) {
    for (at, (x, y)) in points.iter().enumerate() {
        let (x, y) = (*x as f32, *y as f32);
        if at == 0 {
            content.move_to(x, y)
        } else {
            content.line_to(x, y)
        };
    }
}

/// Fills what was traced, outlines it, or both.
fn paint(content: &mut Content, filled: Option<Rgb>, stroke: Option<Stroke>) {
    match (filled.is_some(), stroke.is_some()) {
        (true, true) => content.fill_nonzero_and_stroke(),
        (true, false) => content.fill_nonzero(),
        (false, true) => content.stroke(),
        (false, false) => content.end_path(),
    };
}

fn draw(content: &mut Content, mark: &Mark, fonts: &mut [Embedded]) {
    match mark {
        Mark::Rect { x, y, w, h, fill: ink, stroke } => {
            fill(content, *ink);
            stroke.iter().for_each(|s| set_stroke(content, *s));
            content.rect(*x as f32, *y as f32, *w as f32, *h as f32);
            paint(content, Some(*ink), *stroke);
        }
        Mark::Line { points, stroke, dash } => {
            set_stroke(content, *stroke);
            content.set_dash_pattern(dashes(*dash).iter().map(|d| *d as f32), 0.0);
            trace(content, points);
            content.stroke();
            content.set_dash_pattern([], 0.0);
        }
        Mark::Polygon { points, fill: ink, stroke } => {
            ink.iter().for_each(|i| fill(content, *i));
            stroke.iter().for_each(|s| set_stroke(content, *s));
            trace(content, points);
            content.close_path();
            paint(content, *ink, *stroke);
        }
        Mark::Text { x, y, words, fill: ink, size, anchor, cut } => {
            let Some(font) = fonts.iter_mut().find(|f| f.cut == *cut) else { return };
            let glyphs = font.glyphs(words);
            let width = font.width(words, *size);
            let x = match anchor {
                Anchor::Start => *x,
                Anchor::Middle => x - width / 2.0,
                Anchor::End => x - width,
            };
            fill(content, *ink);
            content.begin_text().set_font(Name(font.cut.id().as_bytes()), *size as f32);
            // The page is upside down; letters are not.
            content.set_text_matrix([1.0, 0.0, 0.0, -1.0, x as f32, *y as f32]);
            content.show(Str(&glyphs)).end_text();
        }
    }
}

/// One cut of the font with what was said in it.
struct Embedded {
    cut: Cut,
    face: Face<'static>,
    glyphs: GlyphRemapper,
    /// Each glyph in the embedded font, with its character and its width there.
    said: BTreeMap<u16, (char, f32)>,
}

impl Embedded {
    fn new(cut: Cut) -> Result<Embedded, DrawError> {
        let face = Face::parse(cut.data(), 0).map_err(|e| DrawError::Pdf(e.to_string()))?;
        Ok(Embedded { cut, face, glyphs: GlyphRemapper::new(), said: BTreeMap::new() })
    }

    /// The text as numbers of glyphs, two bytes each.
    fn glyphs(&mut self, words: &str) -> Vec<u8> {
        let mut bytes = Vec::with_capacity(words.len() * 2);
        for c in words.chars() {
            let glyph = self.face.glyph_index(c).unwrap_or(GlyphId(0));
            let number = self.glyphs.remap(glyph.0);
            let wide = f64::from(advance(&self.face, c)) / units(&self.face) * 1000.0;
            self.said.entry(number).or_insert((c, wide as f32));
            bytes.extend(number.to_be_bytes());
        }
        bytes
    }

    /// The width of a text in points.
    fn width(&self, words: &str, size: f64) -> f64 {
        let sum: u32 = words.chars().map(|c| u32::from(advance(&self.face, c))).sum();
        f64::from(sum) / units(&self.face) * size
    }

    fn write(&self, pdf: &mut Pdf, at: Ref, refs: [Ref; 4]) -> Result<(), DrawError> {
        let [cid, descriptor, cmap, file] = refs;
        let name = format!("IZBAAA+{}", self.cut.postscript());
        let name = Name(name.as_bytes());
        let data = subsetter::subset(self.cut.data(), 0, &self.glyphs)
            .map_err(|e| DrawError::Pdf(format!("{e:?}")))?;
        pdf.type0_font(at)
            .base_font(name)
            .encoding_predefined(Name(b"Identity-H"))
            .descendant_font(cid)
            .to_unicode(cmap);
        let mut font = pdf.cid_font(cid);
        font.subtype(CidFontType::Type2).base_font(name).system_info(IDENTITY);
        font.font_descriptor(descriptor)
            .default_width(0.0)
            .cid_to_gid_map_predefined(Name(b"Identity"));
        let mut widths = font.widths();
        for (number, (_, wide)) in &self.said {
            widths.consecutive(*number, [*wide]);
        }
        widths.finish();
        font.finish();
        let scale = |value: i16| (f64::from(value) / units(&self.face) * 1000.0) as f32;
        let corners = self.face.global_bounding_box();
        pdf.font_descriptor(descriptor)
            .name(name)
            .flags(FontFlags::SYMBOLIC)
            .bbox(Rect::new(
                scale(corners.x_min),
                scale(corners.y_min),
                scale(corners.x_max),
                scale(corners.y_max),
            ))
            .italic_angle(0.0)
            .ascent(scale(self.face.ascender()))
            .descent(scale(self.face.descender()))
            .cap_height(scale(self.face.capital_height().unwrap_or(0)))
            .stem_v(if self.cut == Cut::Bold { 140.0 } else { 90.0 })
            .font_file2(file);
        let mut map = UnicodeCmap::new(Name(b"Izba"), IDENTITY);
        for (number, (c, _)) in &self.said {
            map.pair(*number, *c);
        }
        pdf.cmap(cmap, &map.finish());
        pdf.stream(file, &data).pair(Name(b"Length1"), data.len() as i32);
        Ok(())
    }
}

//! A drawing as PDF: made from the same SVG, with the font embedded, so that its text can be selected and found.

use crate::DrawError;
use crate::font::NAME;
use std::sync::{Arc, LazyLock};
use svg2pdf::usvg::{Options, Tree, fontdb};
use svg2pdf::{ConversionOptions, PageOptions};

/// Without a font all text would vanish silently.
static FONTS: LazyLock<Arc<fontdb::Database>> = LazyLock::new(|| {
    let mut fonts = fontdb::Database::new();
    fonts.load_font_data(dejavu::sans::regular().to_vec());
    fonts.load_font_data(dejavu::sans::bold().to_vec());
    fonts.set_sans_serif_family(NAME);
    Arc::new(fonts)
});

pub(crate) fn pdf(svg: &str) -> Result<Vec<u8>, DrawError> {
    let options = Options { font_family: NAME.into(), fontdb: FONTS.clone(), ..Options::default() };
    let tree = Tree::from_str(svg, &options).map_err(|e| DrawError::Pdf(e.to_string()))?;
    let conversion = ConversionOptions { embed_text: true, ..ConversionOptions::default() };
    svg2pdf::to_pdf(&tree, conversion, PageOptions::default()).map_err(|e| DrawError::Pdf(e.to_string()))
}

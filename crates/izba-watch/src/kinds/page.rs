//! page: a web page, in a browser of its own or in one that waits for debuggers at an address.

use super::act::{Act, is_outside};
use super::kind::{Found, Line, Open, Opened, SourceKind, Wanted};
use izba_sources::{PageAt, SourceError, WatchedPage};
use std::path::Path;

/// The kind of source for this: a web page, in a browser of its own or in one that waits for
/// debuggers at an address.
pub static KIND: SourceKind = SourceKind {
    word: "page",
    what: "a web page, in a browser (or: URL join 127.0.0.1:9222; or: auto)",
    origin,
    acts,
};

fn origin(wanted: &Wanted, _: &Path) -> Found {
    let what = wanted.what.as_str();
    let (url, join) = match what.split_once(" join ") {
        None => (what, None),
        Some((url, at)) => {
            let at = at.trim();
            let address = at.parse().map_err(|_| {
                format!("“{at}” is no address of a browser; one looks like 127.0.0.1:9222")
            })?;
            (url, Some(address))
        }
    };
    if url == AUTO {
        // Which one it is shows once a program tells; it is opened then.
        let at = PageAt { url: url.to_owned(), join, headless: false };
        return Ok(("page".to_owned(), Box::new(Page(at))));
    }
    let Some((_, name)) = url.split_once("://") else {
        return Err(format!(
            "“{url}” is no address of a page; begin it with http://, https:// or file://"
        ));
    };
    let name = name.trim().trim_end_matches('/').to_owned();
    let at = PageAt { url: url.trim().to_owned(), join, headless: false };
    Ok((name, Box::new(Page(at))))
}

fn acts(wanted: &Wanted, root: &Path) -> Vec<Act> {
    if wanted.what == AUTO {
        return vec![Act::plain("open the page in a browser whose address a program tells here")];
    }
    let (url, join) = match wanted.what.split_once(" join ") {
        None => (wanted.what.as_str(), None),
        Some((url, at)) => (url, Some(at.trim())),
    };
    let url = url.trim();
    let file = url.strip_prefix("file://").map(Path::new);
    let mut acts = match file.is_some_and(|path| is_outside(root, path)) {
        true => {
            vec![Act::named(
                url,
                format!("open {url} in a browser, which lies outside this folder"),
            )]
        }
        false => vec![Act::plain(format!("open {url} in a browser"))],
    };
    acts.extend(join.into_iter().flat_map(|at| Act::connect(at, "join the browser at")));
    acts
}

/// What stands in `izba.toml` for whatever address a program tells first.
const AUTO: &str = "auto";

/// Whether it is the page whose address a program will tell.
pub(crate) fn is_to_come(wanted: &Wanted) -> bool {
    *wanted.kind == KIND && wanted.what == AUTO
}

/// A web page in a browser that Izba opens or joins.
#[derive(Debug)]
pub struct Page(pub PageAt);

impl Open for Page {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        let WatchedPage { closing, reload } =
            izba_sources::open_page(self.0, to.spool, to.bell, to.stop)?;
        Ok(Opened { closing: Some(closing), reload: Some(reload), ..Opened::default() })
    }
}

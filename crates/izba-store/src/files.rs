//! The project's files as they were, each text kept once under the hash of its content, compressed.

use crate::StoreError;
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::fs;
use std::io::Write;
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};

/// A larger text is not kept.
const TEXT_CAP: usize = 1 << 20;
/// Nothing that is kept is longer than this when it is whole again.
const WHOLE_CAP: usize = 64 << 20;

/// Texts by their hashes, in a folder.
#[derive(Debug, Clone)]
pub struct Files {
    folder: PathBuf,
}

/// The hash under which a text is kept (SHA-256, in hexadecimal).
pub fn hash(text: &[u8]) -> String {
    Sha256::digest(text).iter().map(|b| format!("{b:02x}")).collect()
}

impl Files {
    /// The texts below the store's folder.
    pub fn of(store: &Path) -> Files {
        Files { folder: store.join("files") }
    }

    fn path(&self, hash: &str) -> PathBuf {
        self.folder.join(hash.get(..2).unwrap_or("")).join(hash)
    }

    fn keep(&self, hash: &str, text: &[u8]) -> Result<(), StoreError> {
        let path = self.path(hash);
        if path.exists() {
            return Ok(());
        }
        let write = || -> std::io::Result<()> {
            if let Some(folder) = path.parent() {
                fs::DirBuilder::new().recursive(true).mode(0o700).create(folder)?;
            }
            let half = path.with_extension(format!("half-{}", std::process::id()));
            let mut file = fs::OpenOptions::new()
                .write(true)
                .create(true)
                .truncate(true)
                .mode(0o600)
                .open(&half)?;
            file.write_all(&zstd::bulk::compress(text, 3)?)?;
            fs::rename(&half, &path)
        };
        write().map_err(StoreError::io("write", &path))
    }

    /// Keeps these files (path and text) and the list of them; gives the hash of the list.
    ///
    /// # Errors
    ///
    /// When the disk refuses.
    pub fn keep_all<'a>(
        &self,
        files: impl Iterator<Item = (&'a str, &'a str)>,
    ) -> Result<String, StoreError> {
        let mut list: BTreeMap<&str, String> = BTreeMap::new();
        for (path, text) in files.filter(|(_, text)| text.len() <= TEXT_CAP) {
            let hash = hash(text.as_bytes());
            self.keep(&hash, text.as_bytes())?;
            list.insert(path, hash);
        }
        let text = serde_json::to_vec(&list).unwrap_or_default();
        let of_list = hash(&text);
        self.keep(&of_list, &text)?;
        Ok(of_list)
    }

    /// A text by its hash; `None` when it is not there or damaged.
    pub fn text(&self, of: &str) -> Option<String> {
        let packed = fs::read(self.path(of)).ok()?;
        let text = zstd::bulk::decompress(&packed, WHOLE_CAP).ok()?;
        (hash(&text) == of).then(|| String::from_utf8(text).ok())?
    }

    /// The list of files by its hash: paths with the hashes of their texts.
    pub fn list(&self, of: &str) -> Option<BTreeMap<String, String>> {
        serde_json::from_str(&self.text(of)?).ok()
    }

    /// Takes away every text that none of these lists names; gives how many bytes went.
    pub fn prune(&self, lists: &[String]) -> u64 {
        let mut named: std::collections::HashSet<String> = lists.iter().cloned().collect();
        named.extend(lists.iter().filter_map(|l| self.list(l)).flat_map(BTreeMap::into_values));
        let mut freed = 0;
        for file in fs::read_dir(&self.folder)
            .into_iter()
            .flatten()
            .flatten()
            .flat_map(|d| fs::read_dir(d.path()))
            .flatten()
            .flatten()
        {
            let name = file.file_name().to_string_lossy().into_owned();
            let bytes = file.metadata().map_or(0, |m| m.len());
            if !named.contains(&name) && fs::remove_file(file.path()).is_ok() {
                freed += bytes;
            }
        }
        freed
    }
}

//! The Debian package: the laid out files under `/usr`, and what dpkg wants to know of them, after
//! the Debian Policy Manual (5.3, 12).

use super::needs::Needs;
use super::packing::{Packing, architecture};
use super::staged::{each_file, put};
use super::tools::{output, read};
use crate::{Outcome, run};
use std::fs;
use std::path::Path;
use std::process::Command;

/// Packs what is laid out below `tree`.
pub fn pack(packing: &Packing, tree: &Path, needs: &Needs) -> Outcome {
    let folder = packing.into.join("deb");
    let usr = folder.join("usr");
    fs::create_dir_all(&folder).map_err(|e| e.to_string())?;
    run(Command::new("cp").arg("-a").arg(tree).arg(&usr), "cp")?;
    papers(packing, &usr)?;
    let mut bytes = 0;
    let mut sums = Vec::new();
    each_file(&folder, &mut |path| {
        bytes += fs::metadata(path)?.len().div_ceil(1024) * 1024;
        sums.push(path.strip_prefix(&folder).unwrap_or(path).to_owned());
        Ok(())
    })?;
    let summed = output(Command::new("md5sum").args(&sums).current_dir(&folder))?;
    put(&folder.join("DEBIAN/md5sums"), summed.as_bytes(), 0o644)?;
    let control = control(&packing.version, bytes / 1024, needs)?;
    put(&folder.join("DEBIAN/control"), control.as_bytes(), 0o644)?;
    run(
        Command::new("dpkg-deb")
            .args(["--root-owner-group", "-Zxz", "--build"])
            .arg(&folder)
            .arg(packing.deb())
            .env("SOURCE_DATE_EPOCH", &packing.when)
            .stdout(std::process::Stdio::null()),
        "dpkg-deb (Debian: dpkg)",
    )?;
    fs::remove_dir_all(&folder).map_err(|e| e.to_string())
}

/// What Debian wants in a form of its own: packed manual pages and changes, one file of rights.
fn papers(packing: &Packing, usr: &Path) -> Outcome {
    let doc = usr.join("share/doc/izba");
    let changes = read(&packing.source.join("CHANGELOG.md"))?;
    put(&doc.join("changelog"), changes.as_bytes(), 0o644)?;
    let rights = format!(
        "Izba may be used under the MIT licence or the Apache License 2.0, as you like.\n\n{}\n\
         The text of the Apache License 2.0 is in /usr/share/common-licenses/Apache-2.0.\n",
        read(&packing.source.join("LICENSE-MIT"))?
    );
    put(&doc.join("copyright"), rights.as_bytes(), 0o644)?;
    for twice in ["LICENSE-MIT", "LICENSE-APACHE"] {
        fs::remove_file(doc.join(twice)).map_err(|e| format!("{twice}: {e}"))?;
    }
    let mut packed = vec![doc.join("changelog")];
    each_file(&usr.join("share/man"), &mut |page| {
        packed.push(page.to_owned());
        Ok(())
    })?;
    run(Command::new("gzip").args(["-9", "-n"]).args(packed), "gzip")
}

/// What dpkg reads: the package with what it needs and what it goes well with.
fn control(version: &str, kib: u64, needs: &Needs) -> Result<String, String> {
    let mut depends = Vec::new();
    for library in &needs.libraries {
        depends.push(match library.as_str() {
            "libgcc_s.so.1" => "libgcc-s1".to_owned(),
            "libc.so.6" => format!("libc6 (>= {})", needs.glibc),
            part if part.starts_with("libm.so") || part.starts_with("ld-linux") => continue,
            other => return Err(format!("which package brings {other} is not known here")),
        });
    }
    depends.sort();
    Ok(format!(
        "Package: izba\nVersion: {version}\nArchitecture: {}\nSection: devel\nPriority: optional\n\
         Maintainer: The makers of Izba <makers@izba.invalid>\nInstalled-Size: {kib}\nDepends: {}\n\
         Recommends: chromium, chromium-driver\n\
         Description: watches a program's consoles and leads from an error to its line\n \
         For people who are new to making games and apps: it groups the errors of every console of a\n \
         project, says in plain words what each one means and which line is at fault, and shows after\n \
         the next run whether it is gone. Pages of the web are watched in chromium.\n",
        architecture(),
        depends.join(", ")
    ))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn needs(libraries: &[&str]) -> Needs {
        let libraries = libraries.iter().map(|l| (*l).to_owned()).collect();
        Needs { glibc: "2.34".into(), libraries }
    }

    #[test]
    fn a_package_depends_on_what_its_binary_needs() {
        let wanted = needs(&["ld-linux-x86-64.so.2", "libc.so.6", "libgcc_s.so.1", "libm.so.6"]);
        let text = control("0.1.0", 30_000, &wanted).expect("all are known");
        assert!(text.contains("\nDepends: libc6 (>= 2.34), libgcc-s1\n"), "{text}");
        // A line that begins with white space goes on with the one before it: 5.1 of the manual.
        let fields = text.lines().filter(|l| !l.starts_with(' '));
        assert!(fields.clone().all(|l| l.split_once(": ").is_some_and(|(_, v)| !v.is_empty())));
        assert_eq!(fields.count(), 10);
        assert!(text.ends_with('\n') && !text.contains("\n\n"));
    }

    #[test]
    fn a_library_that_no_package_is_known_for_is_told() {
        let refused = control("0.1.0", 1, &needs(&["libc.so.6", "libtide.so.4"]));
        assert!(refused.is_err_and(|sentence| sentence.contains("libtide.so.4")));
    }
}

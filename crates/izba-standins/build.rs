//! The demo project is part of the program: a new file in it means a new build.

fn main() {
    println!("cargo:rerun-if-changed=demo");
}

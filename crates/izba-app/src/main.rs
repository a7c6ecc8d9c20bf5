//! The program `izba`: everything is in the library.

fn main() -> std::process::ExitCode {
    izba_app::cli::main()
}

//! The program `kalotype`.

use std::process::ExitCode;

fn main() -> ExitCode {
    kalotype::run()
}

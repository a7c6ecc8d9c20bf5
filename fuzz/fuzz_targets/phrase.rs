#![no_main]

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| izba_fuzz::phrase(bytes));

//! Whatever archive is brought along: it is opened or refused, within what may come of it.
#![no_main]

use kalotype_core::formats::{archive, open_archive};
use libfuzzer_sys::fuzz_target;

const MOST: usize = 1 << 20;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(files) = open_archive(bytes, MOST) {
        assert!(files.iter().map(|(_, content)| content.len()).sum::<usize>() <= MOST);
        assert!(files.iter().all(|(name, _)| !name.contains(['/', '\\'])));
        let _ = archive(files.iter().map(|(name, content)| (name.as_str(), &content[..])));
    }
});

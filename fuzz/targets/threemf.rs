//! Whatever a 3MF package has in it: it is read or refused. What is no archive is put into one as its
//! model, so that the reader of the model sees it.
#![no_main]

use kalotype_core::formats::{archive, threemf};
use libfuzzer_sys::fuzz_target;

const TYPES: &[u8] = br#"<Types><Default Extension="model"
    ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#;
const RELATIONSHIPS: &[u8] = br#"<Relationships><Relationship Id="r" Target="/3D/3dmodel.model"
    Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#;

fuzz_target!(|bytes: &[u8]| {
    let found = if bytes.starts_with(b"PK") {
        threemf::read(bytes)
    } else {
        let parts = [
            ("[Content_Types].xml", TYPES),
            ("_rels/.rels", RELATIONSHIPS),
            ("3D/3dmodel.model", bytes),
        ];
        threemf::read(&archive(parts.into_iter()))
    };
    if let Ok(found) = found {
        let _ = (found.faults(), found.size(), found.likely_unit());
    }
});

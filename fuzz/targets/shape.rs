//! Whatever a shape's document has in it: it is opened or refused, and what was opened can be set.
#![no_main]

use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::Shape;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(shape) = Shape::open(bytes, "") {
        let _ = shape.stretched((40.0, 30.0), Tolerance::Draft);
    }
});

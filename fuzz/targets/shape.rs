//! Whatever a shape's document has in it: it is opened or refused, and what was opened can be set.
#![no_main]

use kalotype_core::emblems::Setting;
use kalotype_core::piece::{Stroke, StrokeEnds, StrokeSection};
use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::Shape;
use kalotype_core::units::Length;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(shape) = Shape::open(bytes, "") {
        let _ = shape.stretched((40.0, 30.0), Tolerance::Draft);
        // Its lines as wide as can be, and square.
        let stroke = Stroke {
            width: Some(Length::mm(50.0)),
            ends: StrokeEnds::Square,
            section: StrokeSection::Flat,
        };
        let setting = Setting { width: 40.0, stretch: 10.0, turn: 30.0, mirrored: true };
        let _ = shape.set(setting, &stroke, Tolerance::Draft);
    }
});

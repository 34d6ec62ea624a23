//! The emblems one by one.

use super::Drawing::{ByNumbers, Paths, Rule};
use super::{EmblemShape, Numbers, rules};

const fn drawn(
    id: &'static str,
    name: &'static str,
    adds: &'static [&'static str],
    cuts: &'static [&'static str],
) -> EmblemShape {
    EmblemShape { id, name, drawing: Paths { adds, cuts } }
}

const fn ruled(id: &'static str, name: &'static str, rule: fn() -> kurbo::BezPath) -> EmblemShape {
    EmblemShape { id, name, drawing: Rule(rule) }
}

const fn by_numbers(
    id: &'static str,
    name: &'static str,
    rule: fn(Numbers) -> kurbo::BezPath,
) -> EmblemShape {
    EmblemShape { id, name, drawing: ByNumbers(rule) }
}

/// A heart, point down; also an outline for plates.
pub(crate) const HEART: &str = "M50 92C30 74 4 56 4 32C4 17 15 8 27 8C37 8 45 13 50 22C55 13 63 8 73 8C85 8 96 17 96 32C96 56 70 74 50 92Z";

pub(super) const ALL: &[EmblemShape] = &[
    ruled("star", "Star", rules::star),
    drawn("heart", "Heart", &[HEART], &[]),
    drawn(
        "anchor",
        "Anchor",
        &[
            "M50 2A13 13 0 1 0 50 28A13 13 0 1 0 50 2Z",
            "M45 24H55V84H45Z",
            "M28 36H72V45H28Z",
            "M8 56L26 62L22 70C26 80 36 87 50 87C64 87 74 80 78 70L74 62L92 56L94 76L87 74C81 89 67 98 50 98C33 98 19 89 13 74L6 76Z",
        ],
        &["M50 9A6 6 0 1 1 50 21A6 6 0 1 1 50 9Z"],
    ),
    ruled("wave", "Waves", rules::wave),
    drawn(
        "gull",
        "Gull",
        &[
            "M2 40C16 24 36 26 50 44C64 26 84 24 98 40C84 36 70 42 60 54C56 59 53 66 50 72C47 66 44 59 40 54C30 42 16 36 2 40Z",
        ],
        &[],
    ),
    drawn(
        "fish",
        "Fish",
        &["M4 50C16 30 42 24 64 42L96 24C88 40 88 60 96 76L64 58C42 76 16 70 4 50Z"],
        &["M22 42A5 5 0 1 1 22 52A5 5 0 1 1 22 42Z"],
    ),
    drawn(
        "bell",
        "Bell",
        &[
            "M50 2A8 8 0 0 1 57 13C71 17 79 29 80 44C81 62 85 68 92 76V82H8V76C15 68 19 62 20 44C21 29 29 17 43 13A8 8 0 0 1 50 2Z",
            "M38 80H62A12 12 0 0 1 38 80Z",
        ],
        &[],
    ),
    drawn(
        "leaf",
        "Leaf",
        &["M8 92L26 70C10 40 40 8 92 6C96 58 66 92 34 78L16 98Z"],
        &["M33 70L68 31L71 34L38 74Z"],
    ),
    ruled("cog", "Cog", rules::cog),
    drawn("arrow", "Arrow", &["M2 38H56V16L98 50L56 84V62H2Z"], &[]),
    ruled("sun", "Sun", rules::sun),
    drawn("moon", "Crescent moon", &["M66 4A46 46 0 1 0 66 96A54 54 0 0 1 66 4Z"], &[]),
    drawn("drop", "Drop", &["M50 2C60 24 82 42 82 66A32 32 0 0 1 18 66C18 42 40 24 50 2Z"], &[]),
    drawn(
        "boat",
        "Sailing boat",
        &[
            "M4 72H96C92 86 82 94 68 94H30C16 94 8 84 4 72Z",
            "M46 2H52V74H46Z",
            "M56 8C74 24 86 44 90 64H56Z",
            "M42 18V64H12C18 46 28 30 42 18Z",
        ],
        &[],
    ),
    drawn(
        "ferry",
        "Ferry",
        &[
            "M2 60H98L88 84H14Z",
            "M18 42H82V61H18Z",
            "M30 26H66V43H30Z",
            "M50 8H62V28H50Z",
            "M6 88C16 82 24 82 34 88C44 94 54 94 64 88C74 82 84 82 94 88V96C84 90 74 90 64 96C54 102 44 102 34 96C24 90 16 90 6 96Z",
        ],
        &["M26 47H34V55H26Z", "M42 47H50V55H42Z", "M58 47H66V55H58Z", "M0 84.5H100V86.5H0Z"],
    ),
    drawn(
        "lighthouse",
        "Lighthouse",
        &[
            "M36 34H64L72 94H28Z",
            "M30 26H70V36H30Z",
            "M38 12H62V28H38Z",
            "M34 13L50 2L66 13Z",
            "M18 90H82V98H18Z",
            "M2 12L30 17V21L2 26Z",
            "M98 12L70 17V21L98 26Z",
        ],
        &["M33.5 50L66.5 50L67.8 60H32.2Z", "M31 70H69L70 80H30Z"],
    ),
    drawn(
        "buoy",
        "Life ring",
        &["M50 2A48 48 0 1 0 50 98A48 48 0 1 0 50 2Z"],
        &[
            "M50 31A19 19 0 1 1 50 69A19 19 0 1 1 50 31Z",
            "M72.63 33.03L82.53 23.13L76.87 17.47L66.97 27.37Z",
            "M27.37 33.03L17.47 23.13L23.13 17.47L33.03 27.37Z",
            "M72.63 66.97L82.53 76.87L76.87 82.53L66.97 72.63Z",
            "M27.37 66.97L17.47 76.87L23.13 82.53L33.03 72.63Z",
        ],
    ),
    drawn(
        "key",
        "Key",
        &[
            "M26 24A26 26 0 1 0 26 76A26 26 0 1 0 26 24Z",
            "M46 43H98V57H92V72H82V57H74V68H65V57H46Z",
        ],
        &["M22 40A10 10 0 1 1 22 60A10 10 0 1 1 22 40Z"],
    ),
    drawn("house", "House", &["M50 6L98 50H84V94H16V50H2Z"], &["M40 62H60V94.5H40Z"]),
    drawn(
        "flag",
        "Flag",
        &[
            "M12 2H20V98H12Z",
            "M14 11C34 -2 48 18 64 12C74 8 84 8 92 12V58C84 54 74 54 64 58C48 64 34 46 14 57Z",
        ],
        &[],
    ),
    ruled("compass", "Compass star", rules::compass),
    ruled("flower", "Flower", rules::flower),
    ruled("snowflake", "Snowflake", rules::snowflake),
    drawn(
        "shell",
        "Shell",
        &[
            "M50 8C76 8 98 28 98 54C98 66 84 78 66 84L70 96H30L34 84C16 78 2 66 2 54C2 28 24 8 50 8Z",
        ],
        &["M48 20H52L51.5 78H48.5Z", "M26 27L30 25L44 77L41 78Z", "M74 27L70 25L56 77L59 78Z"],
    ),
    drawn("bolt", "Flash", &["M58 2L14 56H44L34 98L86 38H54L70 2Z"], &[]),
    drawn(
        "paw",
        "Paw",
        &[
            "M50 48C66 48 82 66 80 82C78 94 66 94 50 90C34 94 22 94 20 82C18 66 34 48 50 48Z",
            "M14 34A10 13 0 1 0 14 60A10 13 0 1 0 14 34Z",
            "M36 8A11 15 0 1 0 36 38A11 15 0 1 0 36 8Z",
            "M64 8A11 15 0 1 0 64 38A11 15 0 1 0 64 8Z",
            "M86 34A10 13 0 1 0 86 60A10 13 0 1 0 86 34Z",
        ],
        &[],
    ),
    drawn("cross", "Cross", &["M36 2H64V36H98V64H64V98H36V64H2V36H36Z"], &[]),
    drawn("tick", "Tick", &["M4 54L20 38L40 58L80 14L96 30L40 88Z"], &[]),
    ruled("circle", "Circle", rules::circle),
    ruled("ring", "Ring", rules::ring),
    ruled("triangle", "Triangle", rules::triangle),
    ruled("square", "Square", rules::square),
    ruled("diamond", "Diamond", rules::diamond),
    ruled("hexagon", "Hexagon", rules::hexagon),
    by_numbers("star-by-numbers", "Star by numbers", rules::star_by_numbers),
    by_numbers("gear-by-numbers", "Gear by numbers", rules::gear_by_numbers),
    by_numbers("wave-by-numbers", "Wavy disc by numbers", rules::wave_by_numbers),
];

//! Sizes to choose from instead of measuring.

/// A size of a standard.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Nominal {
    /// What people ask for.
    pub name: &'static str,
    /// How much it measures across outside, in mm.
    pub outside: f64,
}

/// Steel pipes: nominal sizes and their specified outside diameters in mm, after ISO 65 and EN 10255
/// (written down from memory; the printed standard was not at hand). What is measured always wins.
pub const STEEL_PIPES: [Nominal; 14] = [
    Nominal { name: "DN 6, 1/8", outside: 10.2 },
    Nominal { name: "DN 8, 1/4", outside: 13.5 },
    Nominal { name: "DN 10, 3/8", outside: 17.2 },
    Nominal { name: "DN 15, 1/2", outside: 21.3 },
    Nominal { name: "DN 20, 3/4", outside: 26.9 },
    Nominal { name: "DN 25, 1", outside: 33.7 },
    Nominal { name: "DN 32, 1 1/4", outside: 42.4 },
    Nominal { name: "DN 40, 1 1/2", outside: 48.3 },
    Nominal { name: "DN 50, 2", outside: 60.3 },
    Nominal { name: "DN 65, 2 1/2", outside: 76.1 },
    Nominal { name: "DN 80, 3", outside: 88.9 },
    Nominal { name: "DN 100, 4", outside: 114.3 },
    Nominal { name: "DN 125, 5", outside: 139.7 },
    Nominal { name: "DN 150, 6", outside: 165.1 },
];

/// Copper tubes: outside diameters in mm after EN 1057 (from memory, as above).
pub const COPPER_TUBES: [Nominal; 10] = [
    Nominal { name: "10 mm", outside: 10.0 },
    Nominal { name: "12 mm", outside: 12.0 },
    Nominal { name: "15 mm", outside: 15.0 },
    Nominal { name: "18 mm", outside: 18.0 },
    Nominal { name: "22 mm", outside: 22.0 },
    Nominal { name: "28 mm", outside: 28.0 },
    Nominal { name: "35 mm", outside: 35.0 },
    Nominal { name: "42 mm", outside: 42.0 },
    Nominal { name: "54 mm", outside: 54.0 },
    Nominal { name: "76.1 mm", outside: 76.1 },
];

#[cfg(test)]
mod tests {
    use super::*;

    /// The sizes the trade names most (components of ISO 65: 21.3, 26.9, 33.7, 42.4, 48.3, 60.3 mm).
    #[test]
    fn steel_pipes_are_those_of_the_standard() {
        for (name, outside) in [
            ("DN 15", 21.3),
            ("DN 20", 26.9),
            ("DN 25", 33.7),
            ("DN 32", 42.4),
            ("DN 40", 48.3),
            ("DN 50", 60.3),
        ] {
            let found = STEEL_PIPES.iter().find(|pipe| pipe.name.starts_with(&format!("{name},")));
            assert_eq!(found.map(|pipe| pipe.outside), Some(outside), "{name}");
        }
        assert!(STEEL_PIPES.windows(2).all(|pair| pair[0].outside < pair[1].outside));
        // Two standards agree on the one they share.
        assert!(COPPER_TUBES.iter().any(|tube| tube.outside == STEEL_PIPES[9].outside));
    }
}

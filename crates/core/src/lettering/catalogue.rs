//! The typefaces that ship with Kalotype, each unmodified and with its licence.

use super::{Group, Typeface};
use std::sync::{Arc, LazyLock};

macro_rules! typeface {
    ($id:literal, $name:literal, $group:ident, $folder:literal, $file:literal) => {
        Arc::new(Typeface::shipped(
            $id,
            $name,
            Group::$group,
            include_bytes!(concat!("../../typefaces/", $folder, "/", $file)),
            include_str!(concat!("../../typefaces/", $folder, "/LICENSE.txt")),
        ))
    };
}

/// All shipped typefaces, in the order they are offered.
pub static TYPEFACES: LazyLock<[Arc<Typeface>; 17]> = LazyLock::new(|| {
    [
        typeface!("nunito", "Nunito Black", Heavy, "nunito", "Nunito_900Black.ttf"),
        typeface!("baloo-2", "Baloo 2 ExtraBold", Heavy, "baloo-2", "Baloo2_800ExtraBold.ttf"),
        typeface!(
            "montserrat",
            "Montserrat ExtraBold",
            Heavy,
            "montserrat",
            "Montserrat_800ExtraBold.ttf"
        ),
        typeface!("rubik", "Rubik Black", Heavy, "rubik", "Rubik_900Black.ttf"),
        typeface!(
            "shantell-sans",
            "Shantell Sans ExtraBold",
            Heavy,
            "shantell-sans",
            "ShantellSans_800ExtraBold.ttf"
        ),
        typeface!("bebas-neue", "Bebas Neue", Narrow, "bebas-neue", "BebasNeue_400Regular.ttf"),
        typeface!("anton", "Anton", Narrow, "anton", "Anton_400Regular.ttf"),
        typeface!("zilla-slab", "Zilla Slab Bold", Slab, "zilla-slab", "ZillaSlab_700Bold.ttf"),
        typeface!(
            "roboto-slab",
            "Roboto Slab ExtraBold",
            Slab,
            "roboto-slab",
            "RobotoSlab_800ExtraBold.ttf"
        ),
        typeface!("noto-serif", "Noto Serif Black", Serif, "noto-serif", "NotoSerif_900Black.ttf"),
        typeface!("pacifico", "Pacifico", Script, "pacifico", "Pacifico_400Regular.ttf"),
        typeface!(
            "saira-stencil-one",
            "Saira Stencil One",
            Stencil,
            "saira-stencil-one",
            "SairaStencilOne_400Regular.ttf"
        ),
        typeface!(
            "black-ops-one",
            "Black Ops One",
            Stencil,
            "black-ops-one",
            "BlackOpsOne_400Regular.ttf"
        ),
        typeface!(
            "jetbrains-mono",
            "JetBrains Mono ExtraBold",
            Display,
            "jetbrains-mono",
            "JetBrainsMono_800ExtraBold.ttf"
        ),
        typeface!(
            "press-start-2p",
            "Press Start 2P",
            Display,
            "press-start-2p",
            "PressStart2P_400Regular.ttf"
        ),
        typeface!(
            "grenze-gotisch",
            "Grenze Gotisch ExtraBold",
            Display,
            "grenze-gotisch",
            "GrenzeGotisch_800ExtraBold.ttf"
        ),
        typeface!("bungee", "Bungee", Display, "bungee", "Bungee_400Regular.ttf"),
    ]
});

/// The shipped typeface of this id.
pub fn shipped(id: &str) -> Option<Arc<Typeface>> {
    TYPEFACES.iter().find(|typeface| typeface.id == id).cloned()
}

/// A shipped typeface that has every one of these characters, one of the preferred group first.
pub fn typeface_for(characters: &[char], preferred: Option<Group>) -> Option<Arc<Typeface>> {
    let mut able = TYPEFACES.iter().filter(|t| characters.iter().all(|&c| t.has(c)));
    let first = able.clone().next();
    able.find(|typeface| typeface.group == preferred).or(first).cloned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashSet;

    #[test]
    fn every_face_parses_prints_names_and_carries_its_licence() {
        let ids: HashSet<_> = TYPEFACES.iter().map(|typeface| &typeface.id).collect();
        assert_eq!(ids.len(), TYPEFACES.len());
        for typeface in TYPEFACES.iter() {
            assert!(typeface.face().units_per_em() > 0);
            for character in "ÅŁßğéŞçñøŽ ABCabc0189&-".chars() {
                assert!(typeface.has(character), "{} lacks {character}", typeface.id);
            }
            let licence = &typeface.licence;
            assert!(
                licence.contains("SIL Open Font License") || licence.contains("Apache License")
            );
        }
    }

    #[test]
    fn capitals_measure_what_was_asked_even_where_the_table_overstates() {
        // Press Start 2P states a cap height of 1000 units; its H stands from 125 to 1000
        // (read with fontTools 4).
        let pixel = shipped("press-start-2p").unwrap().cap_height();
        assert_eq!((pixel.foot, pixel.height), (125.0, 875.0));
        let bebas = shipped("bebas-neue").unwrap().cap_height();
        assert_eq!((bebas.foot, bebas.height), (0.0, 700.0));
    }

    #[test]
    fn a_face_that_has_the_letters_is_found() {
        assert_eq!(typeface_for(&['Ж'], Some(Group::Heavy)).unwrap().group, Some(Group::Heavy));
        assert_eq!(typeface_for(&['Ω'], Some(Group::Slab)).unwrap().id, "roboto-slab");
        assert!(typeface_for(&['ש'], Some(Group::Slab)).is_some());
        assert!(typeface_for(&['⛴'], Some(Group::Slab)).is_none());
    }
}

//! Bringing documents of earlier versions up to the present one.

use super::file_name::PLAIN_FILE_NAME;
use super::{Component, Layering, Lying, Printer};
use crate::filament::shipped_palette;
use serde_json::{Value, json};

/// Brings a document of version 1 to version 2: one corner radius becomes four rounded corners,
/// and what is new in 2 starts as it was in 1, square and through. A document that is not shaped
/// as version 1 had it is left for the reader to refuse.
pub(super) fn from_version_1(mut document: Value) -> Value {
    document["kalotype"] = json!(2);
    let components = document["components"].as_array_mut();
    for component in components.into_iter().flatten() {
        if let Some(plate) = component.pointer_mut("/blank/plate").and_then(Value::as_object_mut) {
            if let Some(radius) = plate.remove("corner_radius") {
                let corner = json!({ "round": radius });
                let corners = ["top_left", "top_right", "bottom_right", "bottom_left"];
                let all: serde_json::Map<String, Value> =
                    corners.map(|name| (name.to_owned(), corner.clone())).into_iter().collect();
                plate.insert("outline".to_owned(), json!({ "rectangle": all }));
            }
            plate.insert("edges".to_owned(), square_edges());
        }
        let elements = component.get_mut("elements").and_then(Value::as_array_mut);
        for element in elements.into_iter().flatten() {
            if let Some(lettering) = element.get_mut("lettering").and_then(Value::as_object_mut) {
                lettering.insert("edge".to_owned(), json!("square"));
            }
            if let Some(hole) = element.get_mut("hole").and_then(Value::as_object_mut) {
                hole.insert("shape".to_owned(), json!("round"));
                hole.insert("turn".to_owned(), json!(0.0));
                hole.insert("depth".to_owned(), Value::Null);
                hole.insert("edges".to_owned(), square_edges());
                hole.insert("repeat".to_owned(), json!("once"));
            }
        }
    }
    document
}

/// Brings a document of version 2 to version 3: everything is on the front and unlocked, heights
/// and depths say what they are, and what is new in 3 is left out.
pub(super) fn from_version_2(mut document: Value) -> Value {
    document["kalotype"] = json!(3);
    document["inputs"] = json!([]);
    document["fronted"] = json!([]);
    let components = document["components"].as_array_mut();
    let elements = components
        .into_iter()
        .flatten()
        .filter_map(|component| component.get_mut("elements").and_then(Value::as_array_mut));
    for element in elements.flatten().filter_map(Value::as_object_mut) {
        for (kind, fields) in element.iter_mut() {
            let Some(fields) = fields.as_object_mut() else { continue };
            fields.insert("locked".to_owned(), json!(false));
            if kind != "loop" {
                fields.insert("side".to_owned(), json!("front"));
            }
            if let Some(relief) = fields.get_mut("relief") {
                *relief = relief_of_version_2(relief);
            }
            match kind.as_str() {
                "lettering" => upgrade_lettering(fields),
                "rim" => {
                    if let Some(height) = fields.remove("height") {
                        fields.insert("relief".to_owned(), json!({ "raised": { "by": height } }));
                    }
                }
                "recess" => {
                    if let Some(inset) = fields.remove("inset") {
                        fields.insert("shape".to_owned(), json!({ "inset": inset }));
                    }
                    let centre = json!({ "from": "clear", "distance": 0.0 });
                    let place = json!({ "across": centre, "up": centre });
                    fields.insert("place".to_owned(), place);
                    fields.insert("repeat".to_owned(), json!("once"));
                }
                "loop" => {
                    if let Some(angle) = fields.remove("angle") {
                        fields.insert("at".to_owned(), json!({ "angle": angle }));
                    }
                    fields.insert("ribbon".to_owned(), Value::Null);
                    fields.insert("own".to_owned(), Value::Null);
                }
                _ => {}
            }
        }
    }
    document
}

/// Brings a document of version 3 to version 4: everything is of one colour, files are named after
/// the piece, and layers are customary ones.
pub(super) fn from_version_3(mut document: Value) -> Value {
    document["kalotype"] = json!(4);
    let filament = shipped_palette().remove(0);
    let components = document["components"].as_array_mut();
    for component in components.into_iter().flatten() {
        if let Some(plate) = component.pointer_mut("/blank/plate").and_then(Value::as_object_mut) {
            plate.insert("colour".to_owned(), json!(filament.id));
            plate.insert("faces".to_owned(), json!({ "top": null, "bottom": null }));
        }
        let elements = component.get_mut("elements").and_then(Value::as_array_mut);
        for element in elements.into_iter().flatten().filter_map(Value::as_object_mut) {
            for (kind, fields) in element.iter_mut() {
                let Some(fields) = fields.as_object_mut() else { continue };
                match kind.as_str() {
                    "recess" => {
                        fields.insert("floor".to_owned(), Value::Null);
                    }
                    "lettering" | "emblem" | "rim" | "loop" => {
                        fields.insert("colour".to_owned(), Value::Null);
                        if kind != "loop" {
                            fields.insert("root".to_owned(), json!(0.0));
                        }
                    }
                    _ => {}
                }
            }
        }
    }
    document["filaments"] = json!([filament]);
    document["file_name"] = json!(PLAIN_FILE_NAME);
    document["layers"] = json!(Layering::default());
    document
}

/// Brings a document of version 4 to version 5: nothing in it changes; 5 has another kind of blank.
pub(super) fn from_version_4(mut document: Value) -> Value {
    document["kalotype"] = json!(5);
    document
}

/// Brings a document of version 5 to version 6: components get ids and names, what every element has
/// stands beside its kind, sides become faces and faces typefaces, and the short form says in which
/// component its fields are.
pub(super) fn from_version_5(mut document: Value) -> Value {
    document["kalotype"] = json!(6);
    let components = document["components"].as_array_mut();
    for (i, component) in components.into_iter().flatten().enumerate() {
        let Some(component) = component.as_object_mut() else { continue };
        component.insert("id".to_owned(), json!(format!("component-{}", i + 1)));
        component.insert("name".to_owned(), json!(""));
        let elements = component.get_mut("elements").and_then(Value::as_array_mut);
        for element in elements.into_iter().flatten() {
            if let Some(with_head) = with_head(element) {
                *element = with_head;
            }
        }
    }
    let fronted = document["fronted"].as_array_mut();
    for field in fronted.into_iter().flatten().filter_map(Value::as_object_mut) {
        let target = match field.get("target").and_then(Value::as_str) {
            Some("piece") | None => continue,
            Some("component") => Component::FIRST.to_owned(),
            Some(other) => format!("{}/{other}", Component::FIRST),
        };
        field.insert("target".to_owned(), json!(target));
        if let Some(name) = field.get("field").and_then(Value::as_str) {
            let last = name.rsplit('.').next();
            let renamed = match last {
                Some("face") => name.trim_end_matches("face").to_owned() + "typeface",
                Some("side") if name == "side" => "face".to_owned(),
                _ => name.to_owned(),
            };
            field.insert("field".to_owned(), json!(renamed));
        }
    }
    document
}

/// An element of version 5, an object of one key, as one of version 6.
fn with_head(element: &mut Value) -> Option<Value> {
    let (kind, fields) = element.as_object_mut()?.iter_mut().next()?;
    let own = fields.as_object_mut()?;
    let id = own.remove("id")?;
    let locked = own.remove("locked").unwrap_or(json!(false));
    let face = own.remove("side").unwrap_or(json!("front"));
    if kind == "lettering" {
        let lines = own.get_mut("lines").and_then(Value::as_array_mut);
        for line in lines.into_iter().flatten().filter_map(Value::as_object_mut) {
            renamed(line, "face", "typeface");
        }
        renamed(own, "face", "typeface");
    }
    let kind = json!({ kind: fields.take() });
    Some(json!({ "id": id, "locked": locked, "face": face, "kind": kind }))
}

fn renamed(fields: &mut serde_json::Map<String, Value>, from: &str, to: &str) {
    if let Some(value) = fields.remove(from) {
        fields.insert(to.to_owned(), value);
    }
}

/// One line of words of a letter height becomes lines of a size, plainly set.
fn upgrade_lettering(fields: &mut serde_json::Map<String, Value>) {
    if let Some(words) = fields.remove("words") {
        let line = json!({ "words": words, "face": null, "scale": 1.0 });
        fields.insert("lines".to_owned(), json!([line]));
    }
    if let Some(height) = fields.remove("letter_height") {
        fields.insert("size".to_owned(), json!({ "height": height }));
    }
    let style =
        json!({ "spacing": 0.0, "heavier": 0.0, "capitals": false, "slant": 0.0, "stretch": 1.0 });
    for (name, value) in [
        ("style", style),
        ("align", json!("centre")),
        ("pitch", json!(1.6)),
        ("sits_by", json!("capitals")),
        ("course", json!("straight")),
        ("repeat", json!("once")),
    ] {
        fields.insert(name.to_owned(), value);
    }
}

fn relief_of_version_2(relief: &Value) -> Value {
    if relief == "level-with-rim" {
        return json!({ "raised": relief });
    }
    for kind in ["raised", "recessed"] {
        if let Some(size) = relief.get(kind) {
            return json!({ kind: { "by": size } });
        }
    }
    relief.clone()
}

fn square_edges() -> Value {
    json!({ "top": "square", "bottom": "square" })
}

/// Brings a document of version 6 to version 7: nothing is joined yet.
pub(super) fn from_version_6(mut document: Value) -> Value {
    document["kalotype"] = json!(7);
    if let Some(piece) = document.as_object_mut() {
        piece.entry("joints").or_insert_with(|| json!([]));
    }
    document
}

/// Brings a document of version 7 to version 8: its fits are those every piece had.
pub(super) fn from_version_7(mut document: Value) -> Value {
    document["kalotype"] = json!(8);
    if let Some(piece) = document.as_object_mut() {
        piece.entry("printer").or_insert_with(|| json!(Printer::default()));
    }
    document
}

/// Brings a document of version 8 to version 9: every component is printed as it is made.
pub(super) fn from_version_8(mut document: Value) -> Value {
    document["kalotype"] = json!(9);
    let components = document["components"].as_array_mut();
    for component in components.into_iter().flatten().filter_map(Value::as_object_mut) {
        component.entry("lies").or_insert_with(|| json!(Lying::AsMade));
    }
    document
}

/// Brings a document of version 9 to version 10, in which shapes can be one's own.
pub(super) fn from_version_9(mut document: Value) -> Value {
    document["kalotype"] = json!(10);
    let components = document["components"].as_array_mut();
    let elements = components
        .into_iter()
        .flatten()
        .filter_map(|component| component.get_mut("elements").and_then(Value::as_array_mut));
    for element in elements.flatten() {
        if let Some(words) = element.pointer_mut("/kind/lettering").and_then(Value::as_object_mut) {
            words.insert("gives".to_owned(), json!("nothing"));
            words.insert("turn".to_owned(), json!(0.0));
            words.insert("mirrored".to_owned(), json!(false));
        }
        if let Some(emblem) = element.pointer_mut("/kind/emblem").and_then(Value::as_object_mut) {
            let stroke = json!({ "width": null, "ends": "drawn", "section": "flat" });
            emblem.insert("stroke".to_owned(), stroke);
        }
    }
    document
}

/// Brings a document of version 10 to version 11: nothing is placed by another element, nothing grows or counts,
/// and emblems have the numbers new ones have.
pub(super) fn from_version_10(mut document: Value) -> Value {
    document["kalotype"] = json!(11);
    for input in document["inputs"].as_array_mut().into_iter().flatten() {
        if let Some(input) = input.as_object_mut() {
            input.insert("counts".to_owned(), Value::Null);
        }
    }
    let components = document["components"].as_array_mut();
    for component in components.into_iter().flatten() {
        if let Some(plate) = component.pointer_mut("/blank/plate").and_then(Value::as_object_mut) {
            plate.insert("grows".to_owned(), json!({ "width": null, "height": null }));
        }
        let elements = component.get_mut("elements").and_then(Value::as_array_mut);
        for element in elements.into_iter().flatten() {
            for kind in ["lettering", "emblem", "recess"] {
                let fields = element.pointer_mut(&format!("/kind/{kind}"));
                let Some(fields) = fields.and_then(Value::as_object_mut) else { continue };
                if let Some(place) = fields.get_mut("place").and_then(Value::as_object_mut) {
                    place.insert("by".to_owned(), Value::Null);
                    place.insert("alone".to_owned(), json!(false));
                }
                if kind == "emblem" {
                    fields.insert("points".to_owned(), json!(5));
                    fields.insert("depth".to_owned(), json!(0.5));
                }
            }
        }
    }
    document
}

/// Brings a document of version 11 to version 12: nothing is set aside, and of the printer customary figures are
/// taken where it says nothing.
pub(super) fn from_version_11(mut document: Value) -> Value {
    document["kalotype"] = json!(12);
    document["set_aside"] = json!([]);
    document
}

/// Brings a document of version 12 to version 13: nothing has bridges or ties.
pub(super) fn from_version_12(mut document: Value) -> Value {
    document["kalotype"] = json!(13);
    let components = document["components"].as_array_mut();
    for component in components.into_iter().flatten() {
        let contour = component.pointer_mut("/blank/plate/outline/contour");
        if let Some(contour) = contour.and_then(Value::as_object_mut) {
            contour.insert("ties".to_owned(), Value::Null);
        }
        let elements = component.get_mut("elements").and_then(Value::as_array_mut);
        for element in elements.into_iter().flatten() {
            for kind in ["lettering", "emblem"] {
                let fields = element.pointer_mut(&format!("/kind/{kind}"));
                if let Some(fields) = fields.and_then(Value::as_object_mut) {
                    fields.insert("bridges".to_owned(), Value::Null);
                }
            }
        }
    }
    document
}

/// Brings a document of version 13 to version 14: no tie was put by hand, and how many filaments a printer lays is not
/// known.
pub(super) fn from_version_13(mut document: Value) -> Value {
    document["kalotype"] = json!(14);
    document
}

#[cfg(test)]
mod tests {
    use crate::piece::{
        Corner, FaceName, FieldShape, HoleShape, Kind, LetterSize, LoopPlace, Outline, Piece,
        Relief, read,
    };
    use crate::units::Length;

    fn kind(piece: &Piece, id: &str) -> Kind {
        piece.first().element(id).unwrap().kind.clone()
    }

    /// A file as version 1 wrote it.
    const VERSION_1: &str = r#"{
      "kalotype": 1, "name": "Berth 7", "units": "mm",
      "components": [{
        "blank": { "plate": { "width": 60, "height": 20, "thickness": 3, "corner_radius": 4 } },
        "margin": 2,
        "elements": [
          { "hole": { "id": "hole-1", "diameter": 5,
              "place": { "across": { "from": "left", "distance": 6 }, "up": { "from": "centre", "distance": 0 } } } },
          { "lettering": { "id": "lettering-1", "words": "Ω", "face": "nunito", "letter_height": 8,
              "relief": { "raised": 1.5 },
              "place": { "across": { "from": "clear", "distance": 0 }, "up": { "from": "centre", "distance": 0 } } } }
        ]
      }]
    }"#;

    #[test]
    fn a_file_of_version_1_is_read_as_what_it_was() {
        let piece = read(VERSION_1.as_bytes()).unwrap();
        let Outline::Rectangle(corners) = &piece.first().plate().unwrap().outline else { panic!() };
        assert_eq!(corners.bottom_left, Corner::Round(Length::mm(4.0)));
        let Kind::Hole(hole) = kind(&piece, "hole-1") else { panic!() };
        assert_eq!((hole.shape, hole.depth), (HoleShape::Round, None));
        assert!(piece.problems().is_empty());
        // What is new in version 2 is still unknown to version 1.
        let mixed = VERSION_1.replace("\"corner_radius\": 4", "\"corner_radius\": 4, \"glaze\": 1");
        assert!(read(mixed.as_bytes()).unwrap_err().to_string().contains("glaze"));
    }

    /// A file as version 2 wrote it.
    const VERSION_2: &str = r#"{
      "kalotype": 2, "name": "Berth 7", "units": "mm",
      "components": [{
        "blank": { "plate": { "width": 60, "height": 20, "thickness": 3, "outline": "stadium",
            "edges": { "top": "square", "bottom": "square" } } },
        "margin": 2,
        "elements": [
          { "rim": { "id": "rim-1", "inset": 0, "width": 2, "height": 1, "edge": { "chamfer": 0.3 } } },
          { "recess": { "id": "recess-1", "inset": 2, "depth": { "fraction": 0.5 }, "edge": "square" } },
          { "loop": { "id": "loop-1", "angle": 90, "inside": 8, "wall": 2, "blend": 3 } },
          { "lettering": { "id": "lettering-1", "words": "Ω", "face": "nunito", "letter_height": 8,
              "relief": { "recessed": 1.5 }, "edge": "square",
              "place": { "across": { "from": "clear", "distance": 0 }, "up": { "from": "centre", "distance": 0 } } } },
          { "emblem": { "id": "emblem-1", "shape": "star", "width": 5, "stretch": 1, "turn": 0, "mirrored": false,
              "relief": "level-with-rim", "edge": "square", "repeat": "once",
              "place": { "across": { "from": "clear", "distance": 0 }, "up": { "from": "centre", "distance": 0 } } } }
        ]
      }]
    }"#;

    #[test]
    fn a_file_of_version_2_is_read_as_what_it_was() {
        let piece = read(VERSION_2.as_bytes()).unwrap();
        let Kind::Rim(rim) = kind(&piece, "rim-1") else { panic!() };
        assert_eq!(rim.relief, Relief::raised(1.0));
        let head = piece.first().element("rim-1").unwrap();
        assert_eq!((head.face, head.locked), (FaceName::Front, false));
        let Kind::Recess(recess) = kind(&piece, "recess-1") else { panic!() };
        assert_eq!(recess.shape, FieldShape::Inset(Length::mm(2.0)));
        let Kind::Loop(ring) = kind(&piece, "loop-1") else { panic!() };
        assert_eq!((ring.at, ring.own), (LoopPlace::Angle(90.0), None));
        let Kind::Lettering(words) = kind(&piece, "lettering-1") else { panic!() };
        assert_eq!(words.relief, Relief::recessed(1.5));
        assert_eq!((words.words().as_str(), words.lines.len()), ("Ω", 1));
        assert_eq!(words.size, LetterSize::Height(Length::mm(8.0)));
        let Kind::Emblem(star) = kind(&piece, "emblem-1") else { panic!() };
        assert_eq!(star.relief, Relief::Raised(crate::piece::Height::LevelWithRim));
    }
}

//! Bringing documents of earlier versions up to the present one.

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

fn square_edges() -> Value {
    json!({ "top": "square", "bottom": "square" })
}

#[cfg(test)]
mod tests {
    use crate::piece::{Corner, Element, HoleShape, Outline, read};
    use crate::units::Length;

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
        let Outline::Rectangle(corners) = &piece.component().plate().outline else { panic!() };
        assert_eq!(corners.bottom_left, Corner::Round(Length::mm(4.0)));
        let Some(Element::Hole(hole)) = piece.element("hole-1") else { panic!() };
        assert_eq!((hole.shape, hole.depth), (HoleShape::Round, None));
        assert!(piece.problems().is_empty());
        // What is new in version 2 is still unknown to version 1.
        let mixed = VERSION_1.replace("\"corner_radius\": 4", "\"corner_radius\": 4, \"glaze\": 1");
        assert!(read(mixed.as_bytes()).unwrap_err().to_string().contains("glaze"));
    }
}

//! What is read, what is remarked on and what is refused, by a package that is right and some fifty
//! mutants of it, each against one sentence of the 3MF Core Specification 1.3 (sections as there).

use super::package::MOST_MODEL_BYTES;
use crate::filament::Rgb;
use crate::formats::{FoundMesh, archive, read_mesh};

const TYPES: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
<Default Extension="MODEL" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/>
</Types>"#;

const RELATIONSHIPS: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
<Relationship Id="r0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel" Target="/3D/any.model"/>
</Relationships>"#;

/// A corner of a cube, 1, 2 and 3 inches along its legs, and another that is made of two of it: one
/// mirrored and 5 inches on, all twice as tall.
const MODEL: &str = r##"<?xml version="1.0" encoding="UTF-8"?>
<model unit="inch" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
  xmlns:q="https://skerry-point.example/quay" recommendedextensions="q">
<metadata name="Title">Sounding cap</metadata><metadata name="q:berth">4</metadata>
<resources>
<basematerials id="9"><base name="a" displaycolor="#10203040"/><base name="b" displaycolor="#ABCDEF"/></basematerials>
<q:tints id="8"><q:tint/></q:tints>
<object id="1" name="&lt;Å&gt;" pid="9" pindex="0" type="model" q:berth="4"><mesh>
<vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="2" z="0"/><vertex x="0" y="0" z="3"/></vertices>
<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3" p1="1"/><triangle v1="0" v2="3" v3="2" pid="8" p1="6"/><triangle v1="1" v2="2" v3="3"/></triangles>
</mesh></object>
<object id="2"><components><component objectid="1" transform="-1 0 0 0 1 0 0 0 1 5 0 0"/><component objectid="1"/></components></object>
</resources>
<build><item objectid="2" transform="1 0 0 0 1 0 0 0 2 0 0 0" partnumber="7"/></build>
</model>"##;

fn packed(types: &str, relationships: &str, model: &[u8]) -> Vec<u8> {
    let parts = [
        ("[Content_Types].xml", types.as_bytes()),
        ("_rels/.rels", relationships.as_bytes()),
        ("3D/any.model", model),
    ];
    archive(parts.into_iter().filter(|(_, bytes)| !bytes.is_empty()))
}

fn package(model: &str) -> Vec<u8> {
    packed(TYPES, RELATIONSHIPS, model.as_bytes())
}

/// The right model with one place of it changed.
fn mutant(from: &str, to: &str) -> Vec<u8> {
    assert!(MODEL.contains(from), "{from}");
    package(&MODEL.replacen(from, to, 1))
}

fn refusal(bytes: &[u8]) -> String {
    match read_mesh(bytes) {
        Ok(found) => format!("read without a word: {:?}", found.remarks),
        Err(error) => error.to_string(),
    }
}

#[track_caller]
fn assert_right(found: &FoundMesh) {
    assert_eq!((&*found.format, found.unit.as_deref()), ("3MF", Some("inch")));
    assert_eq!(found.bodies.len(), 2);
    // abc/6, twice as tall, in cubic inches; the mirrored one is no less outward.
    for body in &found.bodies {
        assert!((body.mesh.measures().volume - 2.0 * 25.4f64.powi(3)).abs() < 1e-9);
        assert_eq!((body.name.as_str(), body.colour), ("<Å>", Some(Rgb([16, 32, 48]))));
    }
    assert!((found.bodies[0].mesh.measures().high[0] - 5.0 * 25.4).abs() < 1e-9);
    assert!(found.faults().is_sound());
}

#[test]
fn objects_are_put_down_as_the_build_and_the_unit_say() {
    let found = read_mesh(&package(MODEL)).unwrap();
    assert_right(&found);
    assert_eq!(found.remarks, [""; 0]);
    // The same in UTF-16, in both orders of bytes, and with a part of its own for the content type.
    let in_utf_16 = MODEL.replace("UTF-8", "UTF-16");
    let units = || std::iter::once(0xfeff).chain(in_utf_16.encode_utf16());
    let [little, big]: [Vec<u8>; 2] = [
        units().flat_map(u16::to_le_bytes).collect(),
        units().flat_map(u16::to_be_bytes).collect(),
    ];
    assert_right(&read_mesh(&packed(TYPES, RELATIONSHIPS, &little)).unwrap());
    assert_right(&read_mesh(&packed(TYPES, RELATIONSHIPS, &big)).unwrap());
    let own = TYPES.replace("Default Extension=\"MODEL\"", "Override PartName=\"/3D/Any.model\"");
    assert_right(&read_mesh(&packed(&own, RELATIONSHIPS, MODEL.as_bytes())).unwrap());
}

/// Mutants whose shape, unit or colours would be in doubt.
#[test]
fn what_the_specification_forbids_is_refused_with_its_reason() {
    let doubled_object = "<object id=\"1\"><mesh/></object></resources>";
    let both = "<component objectid=\"1\"/></components><mesh/></object>";
    for (from, to, words) in [
        // 3.4: units, and extensions that a reader must know.
        ("\"inch\"", "\"furlong\"", "there is no unit “furlong”"),
        ("recommendedext", "requiredext", "without the extension “https://skerry-point.example"),
        ("recommendedextensions=\"q\"", "requiredextensions=\"zz\"", "the extension “zz”"),
        // 2.3: no DTD, no other encoding, well-formed, prefixes and namespaces that are declared.
        ("<model ", "<!DOCTYPE m [<!ENTITY a \"b\">]><model ", "DTD"),
        ("\"UTF-8\"?", "\"ISO-8859-1\"?", "“ISO-8859-1”, which 3MF forbids"),
        ("</build>", "</builds>", "at byte"),
        ("</model>", "", "breaks off"),
        ("name=\"&lt;Å&gt;\"", "name=\"&boom;\"", "boom"),
        ("name=\"&lt;Å&gt;\"", "name=\"a\" name=\"b\"", "duplicate"),
        ("core/2015/02", "core/2013/01", "not in the namespace"),
        ("xmlns=\"http", "xmlns:c=\"http", "“model” is in no namespace"),
        ("<q:tints id=\"8\"><q:tint/></q:tints>", "<w:tints id=\"8\"/>", "“w” stands for nothing"),
        // The schema: elements that there are not, that stand elsewhere, or twice.
        ("<build>", "<built/><build>", "“built” has no place"),
        ("<resources>", "<resources><vertex x=\"0\" y=\"0\" z=\"0\"/>", "“vertex” has no place"),
        ("</build>", "</build><build/>", "two elements “build”"),
        ("<mesh>", "<mesh><vertices/>", "two elements “vertices”"),
        ("</model>", "</model><model/>", "has no place|namespace|two elements “model”"),
        ("<components>", "<mesh/><components>", "both a mesh and components"),
        ("<object id=\"2\">", "<object id=\"3\"/><object id=\"2\">", "neither a mesh nor"),
        ("<component objectid=\"1\"/></components></object>", both, "both a mesh and components"),
        // 3.4.2: ids are unique among all resources, and begin with one.
        ("</resources>", doubled_object, "two resources 1"),
        ("<object id=\"2\">", "<object id=\"9\">", "two resources 9"),
        ("<q:tints id=\"8\">", "<q:tints id=\"9\">", "two resources 9"),
        ("<basematerials id=\"9\">", "<basematerials id=\"0\">", "ids begin with 1"),
        ("<object id=\"2\">", "<object id=\"2147483648\">", "no whole number"),
        ("<object id=\"2\">", "<object id=\"-2\">", "no whole number"),
        ("<object id=\"2\">", "<object>", "a object without “id”"),
        // 4: object types; 3.4.3.1: what is never built.
        ("type=\"model\"", "type=\"ghost\"", "type “ghost”, which 3MF lacks"),
        ("<object id=\"2\">", "<object id=\"2\" type=\"other\">", "never built"),
        // 4.2.1 and 3.4.3.1: what is named is there, and before it is named.
        ("<item objectid=\"2\"", "<item objectid=\"7\"", "no object 7 before"),
        ("<component objectid=\"1\"/>", "<component objectid=\"2\"/>", "no object 2 before"),
        ("<component objectid=\"1\"/>", "<component objectid=\"9\"/>", "no object 9 before"),
        // 3.3: twelve figures that leave a volume.
        ("\"1 0 0 0 1 0 0 0 2 0 0 0\"", "\"1 0\"", "twelve figures"),
        ("\"1 0 0 0 1 0 0 0 2 0 0 0\"", "\"1 0 0 0 1 0 0 0 2 0 0 0 0\"", "twelve figures"),
        ("\"1 0 0 0 1 0 0 0 2 0 0 0\"", "\"1 0 0 0 1 0 0 0 0 0 0 0\"", "no volume"),
        // 4.1: vertices and triangles.
        ("<vertex x=\"1\"", "<vertex x=\"NaN\"", "“NaN” is no number"),
        ("<vertex x=\"1\"", "<vertex x=\"1,0\"", "“1,0” is no number"),
        ("<vertex x=\"1\"", "<vertex", "a vertex without “x”"),
        ("v1=\"0\" v2=\"2\"", "v1=\"0\" v2=\"4\"", "names a vertex it lacks"),
        ("v1=\"0\" v2=\"2\"", "v1=\"0\" v2=\"0\"", "one corner twice"),
        ("v1=\"0\" v2=\"2\"", "v1=\"0\" v2=\"2.0\"", "no whole number"),
        // 4.1.4.1 and 5.1: properties that there are, colours that are some.
        ("pid=\"9\" pindex", "pid=\"7\" pindex", "no group of materials 7"),
        ("pid=\"9\" pindex", "pid=\"1\" pindex", "no group of materials 1"),
        ("pid=\"9\" pindex", "pindex", "a material (pindex) of no group"),
        ("pindex=\"0\"", "pindex=\"2\"", "no material 2 in the group 9"),
        ("p1=\"1\"", "p1=\"2\"", "no material 2 in the group 9"),
        ("p1=\"1\"", "pid=\"7\" p1=\"1\"", "no group of materials 7"),
        ("p1=\"1\"", "pid=\"7\"", "no group of materials 7"),
        ("pid=\"9\" pindex=\"0\" ", "", "a material of no group"),
        ("#ABCDEF", "red", "“red” is no colour"),
        ("#ABCDEF", "#ABCDE", "“#ABCDE” is no colour"),
        ("#10203040", "#102030+4", "“#102030+4” is no colour"),
        ("displaycolor=\"#ABCDEF\"", "", "without “displaycolor”"),
        ("name=\"b\"", "", "without “name”"),
    ] {
        let message = refusal(&mutant(from, to));
        let is_said = words.split('|').any(|word| message.contains(word));
        assert!(is_said, "{from} → {to}: {message}, not {words}");
    }
}

#[test]
fn a_package_that_does_not_hold_together_is_refused_with_its_reason() {
    let model = MODEL.as_bytes();
    let second = "<Relationship Id=\"r1\" Type=\"http://schemas.microsoft.com/3dmanufacturing/2013/01/\
                  3dmodel\" Target=\"/3D/other.model\"/></Relationships>";
    let changed = |from: &str, to: &str| RELATIONSHIPS.replacen(from, to, 1);
    for (bytes, words) in [
        (packed("", RELATIONSHIPS, model), "no list of content types"),
        (packed("<Types/>", RELATIONSHIPS, model), "do not call “3D/any.model” a 3MF model"),
        (packed(&TYPES.replace("3dmodel+xml", "3d"), RELATIONSHIPS, model), "do not call"),
        (packed(TYPES, "", model), "no relationships"),
        (packed(TYPES, "<Relationships/>", model), "none of its relationships names a model"),
        (packed(TYPES, &changed("/3D/any", "/3D/some"), model), "“3D/some.model”, is missing"),
        (packed(TYPES, &changed("Id=\"r0\"", ""), model), "without “Id”"),
        (packed(TYPES, &changed("</Relationships>", second), model), "name 2 models"),
        (
            packed(TYPES, &changed("</Relationships>", &second.replace("r1", "r0")), model),
            "two relationships “r0”",
        ),
        (packed(TYPES, RELATIONSHIPS, b"\xff\xfe<"), "neither in UTF-8 nor in UTF-16"),
        (packed(TYPES, RELATIONSHIPS, b"<model \xc3\x28"), "neither in UTF-8 nor in UTF-16"),
        (packed(TYPES, RELATIONSHIPS, b" "), "there is no model in it"),
        (b"PK\x03\x04 and nothing more".to_vec(), "cannot be read"),
    ] {
        let message = refusal(&bytes);
        assert!(message.contains(words), "{message}, not {words}");
    }
}

/// Mutants that change nothing about the thing: it is read, and what is wrong is said.
#[test]
fn what_does_no_harm_is_remarked_on() {
    for (from, to, words) in [
        ("name=\"q:berth\"", "name=\"berth\"", "metadata “berth” have no namespace"),
        ("name=\"q:berth\"", "name=\"w:berth\"", "metadata “w:berth” have no namespace"),
        ("name=\"q:berth\"", "name=\"Title\"", "metadata “Title” twice"),
        ("<object id=\"2\"", "<object id=\"2\" pid=\"9\" pindex=\"0\"", "has a material too"),
        ("<vertex x=\"0\"", "<vertex w=\"1\" x=\"0\"", "no “w” of a vertex"),
        ("xml:lang=\"en\"", "colour=\"red\"", "no “colour” of a model"),
    ] {
        let found = read_mesh(&mutant(from, to)).unwrap_or_else(|error| panic!("{to}: {error}"));
        assert_right(&found);
        assert_eq!(found.remarks.len(), 1, "{:?}", found.remarks);
        assert!(found.remarks[0].contains(words), "{:?}", found.remarks);
    }
    let found = read_mesh(&mutant(" pindex=\"0\"", "")).unwrap();
    assert_eq!(found.remarks, ["Object 1 does not say which of the materials 9."]);
    assert_eq!(found.bodies[0].colour, None);

    // What only holds the thing up while it is printed is no part of it.
    let supports = "<item objectid=\"3\"/><item objectid=\"2\"";
    let with_support = MODEL
        .replace(
            "<object id=\"2\">",
            "<object id=\"3\" type=\"support\"><mesh/></object><object id=\"2\">",
        )
        .replace("<item objectid=\"2\"", supports);
    let found = read_mesh(&package(&with_support)).unwrap();
    assert_right(&found);
    assert_eq!(found.remarks, ["Objects that are supports were left out (1 in its build)."]);
}

/// A quarter of a gigabyte of blanks packs to a quarter of a megabyte.
#[test]
fn what_unfolds_without_measure_is_refused() {
    let bomb = vec![b' '; (MOST_MODEL_BYTES + 2) as usize];
    let bytes = packed(TYPES, RELATIONSHIPS, &bomb);
    assert!(bytes.len() < 1 << 20);
    assert!(refusal(&bytes).contains("unfolds to more than 256 MB"), "{}", refusal(&bytes));
    let many: String = (0..100_000).map(|i| format!(" a{i}=\"b\"")).collect();
    let said = refusal(&mutant("<resources>", &format!("<resources{many}>")));
    assert!(said.contains("too many attributes"), "{said}");
    let said = refusal(&mutant("type=\"model\"", &format!("type=\"{}\"", "Å".repeat(1 << 20))));
    assert!(said.len() < 300, "{} bytes", said.len());
}

/// Sixteen levels of components, sixty-four references each, to an object without triangles; and one
/// more level than may be.
#[test]
fn components_of_nothing_end() {
    let stacked = |levels: usize, wide: usize| {
        let mut objects = String::from("<object id=\"100\"><mesh/></object>");
        for level in 1..=levels {
            let all = format!("<component objectid=\"{}\"/>", 99 + level).repeat(wide);
            objects +=
                &format!("<object id=\"{}\"><components>{all}</components></object>", 100 + level);
        }
        let model = MODEL.replace("</resources>", &format!("{objects}</resources>"));
        let top = format!("<item objectid=\"{}\"", 100 + levels);
        package(&model.replace("<item objectid=\"2\"", &top))
    };
    assert!(refusal(&stacked(14, 64)).contains("more than 100000 objects"));
    assert!(refusal(&stacked(17, 1)).contains("more than 16 deep"), "{}", refusal(&stacked(17, 1)));
    assert_eq!(refusal(&stacked(16, 1)), "there is no triangle in the file");
}

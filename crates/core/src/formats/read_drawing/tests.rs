//! What is read of drawings, and what is refused.

use super::*;

fn svg(attributes: &str, body: &str) -> String {
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" {attributes}>{body}</svg>"
    )
}

fn refusal(text: &str) -> String {
    read_drawing(text.as_bytes()).unwrap_err().to_string()
}

const SQUARE: &str = "<rect id='a' width='10' height='10'/>";

#[test]
fn units_are_stated_or_told_to_be_missing() {
    let stated = |attributes: &str| {
        let found = read_drawing(svg(attributes, SQUARE).as_bytes()).unwrap();
        let width =
            kurbo::Shape::bounding_box(&(found.marks[0].placing * &found.marks[0].path)).width();
        (found.stated.is_some(), (width * found.likely * 1e3).round() / 1e3)
    };
    assert_eq!(stated("width='100mm' height='50mm' viewBox='0 0 200 100'"), (true, 5.0));
    assert_eq!(stated("width='4in' height='2in' viewBox='0 0 40 20'"), (true, 25.4));
    // CSS Values and Units, level 4: a pixel is 1/96 in.
    assert_eq!(stated("width='96' height='96'"), (false, 2.646));
}

#[test]
fn lines_that_do_not_scale_are_as_wide_as_they_are_meant() {
    // How wide the line along y = 10 is in the drawing, in its own units.
    let width = |attributes: &str, body: &str| {
        let found = read_drawing(svg(attributes, body).as_bytes()).unwrap();
        let [mark] = &found.marks[..] else { panic!("{} marks", found.marks.len()) };
        let MarkKind::Line(Some(pen)) = &mark.kind else { panic!("no line") };
        let outline = kurbo::stroke(mark.path.iter(), pen, &kurbo::StrokeOpts::default(), 1e-4);
        let height = kurbo::Shape::bounding_box(&(mark.placing * outline)).height();
        (height * found.likely * 1e3).round() / 1e3
    };
    let sized = "width='100mm' height='100mm' viewBox='0 0 10 10'";
    let line = "<path d='M1 5H9' stroke='red' stroke-width='2' fill='none'";
    assert_eq!(width(sized, &format!("{line}/>")), 20.0);
    // A pixel of the whole picture, whatever its coordinates are (CSS: 1/96 in).
    let unscaled = [
        format!("{line} vector-effect='non-scaling-stroke'/>"),
        format!("{line} style='fill:none; vector-effect: non-scaling-stroke'/>"),
        format!(
            "<style>path.fine {{ vector-effect: non-scaling-stroke }}</style>{line} class='fine'/>"
        ),
        format!("<g transform='scale(.5)'>{line} id='a' vector-effect='non-scaling-stroke'/></g>"),
        format!(
            "<defs>{line} id='a' vector-effect='non-scaling-stroke'/></defs><use href='#a' transform='scale(.3)'/>"
        ),
    ];
    for body in &unscaled {
        assert_eq!(width(sized, body), 0.529, "{body}");
    }
    // What an element says itself goes before a style sheet.
    let own = format!(
        "<style>path {{ vector-effect: non-scaling-stroke }}</style>{line} style='vector-effect:none'/>"
    );
    assert_eq!(width(sized, &own), 20.0);
}

/// A DXF of entities, as pairs of group codes and values.
fn with_blocks(blocks: &str, entities: &str) -> String {
    let section = |name: &str, body: &str| format!("0\nSECTION\n2\n{name}\n{body}0\nENDSEC\n");
    format!("{}{}0\nEOF\n", section("BLOCKS", blocks), section("ENTITIES", entities))
}

/// Small files that come to more than anybody waits for: they are read in a moment, or refused as soon.
#[test]
fn a_dxf_costs_no_more_than_its_budget() {
    // Radii beyond all measure have as many curves as any.
    let ellipse = |major: &str, ratio: &str| {
        format!(
            "0\nELLIPSE\n8\n0\n10\n0\n20\n0\n11\n{major}\n21\n0\n40\n{ratio}\n41\n0\n42\n6.283185307179586\n"
        )
    };
    for (major, ratio) in [("1e300", "0.5"), ("1", "1e300"), ("1e-300", "1e300"), ("1e308", "10")] {
        match read_drawing(with_blocks("", &ellipse(major, ratio)).as_bytes()) {
            Ok(found) => assert!(found.marks.iter().all(|mark| mark.path.elements().len() < 100)),
            Err(refused) => assert!(refused.to_string().ends_with("was left out"), "{refused}"),
        }
    }
    let exact = read_drawing(with_blocks("", &ellipse("20", "0.5")).as_bytes()).unwrap();
    let area = kurbo::Shape::area(&(exact.marks[0].placing * &exact.marks[0].path)).abs();
    assert!((area - std::f64::consts::PI * 200.0).abs() < 1e-3, "{area}");
    // Points are left out, and a block of them, put in again and again, counts all the same.
    let points = "0\nPOINT\n8\n0\n10\n1\n20\n1\n".repeat(400);
    let block = format!("0\nBLOCK\n8\n0\n2\nB\n10\n0\n20\n0\n{points}0\nENDBLK\n");
    let insert = "0\nINSERT\n8\n0\n2\nB\n10\n0\n20\n0\n";
    let again = with_blocks(&block, &insert.repeat(49_800));
    assert!(refusal(&again).contains("used again"));
    let array = with_blocks(&block, &format!("{insert}70\n220\n71\n220\n"));
    assert!(refusal(&array).contains("used again"));
    // Layers by the ten thousand.
    let lines: String =
        (0..33_000).map(|i| format!("0\nLINE\n8\nL{i}\n10\n0\n20\n0\n11\n9\n21\n{i}\n")).collect();
    assert!(refusal(&with_blocks("", &lines)).contains("layers"));
}

#[test]
fn what_cannot_be_used_is_listed() {
    let body = "<text>Skerry</text><image href='/etc/hostname' width='9' height='9'/>\
                <script>alert(1)</script><rect width='5' height='5' fill='url(#g)'/>\
                <linearGradient id='g'><stop stop-color='#0a0b0c'/><stop offset='1'/></linearGradient>";
    let found = read_drawing(svg("", body).as_bytes()).unwrap();
    assert_eq!(found.marks.len(), 1);
    assert_eq!(found.layers[0].colour, Some(Rgb([10, 11, 12])));
    for said in
        ["1 text was left out", "1 picture was left out", "1 script was not run", "gradients"]
    {
        assert!(found.remarks.iter().any(|one| one.contains(said)), "{said}: {:?}", found.remarks);
    }
}

#[test]
fn files_that_lie_or_unfold_are_refused_before_they_are_worked_out() {
    let entities =
        "<!DOCTYPE svg [<!ENTITY a 'x'><!ENTITY b '&a;&a;'>]>".to_owned() + &svg("", SQUARE);
    assert!(refusal(&entities).contains("entities"));
    let old = "<!DOCTYPE svg PUBLIC '-//W3C//DTD SVG 1.1//EN' 'http://127.0.0.1:1/svg11.dtd'>"
        .to_owned()
        + &svg("", SQUARE);
    assert!(read_drawing(old.as_bytes()).is_ok());
    // Each uses the one before it ten times: 10¹² squares.
    let mut laughing = SQUARE.replace("'a'", "'u0'");
    for level in 1..=12 {
        let before = format!("<use href='#u{}'/>", level - 1);
        laughing = format!("{laughing}<g id='u{level}'>{}</g>", before.repeat(10));
    }
    assert!(refusal(&svg("", &laughing)).contains("used again"));
    // What is used is found with blanks about its name too.
    assert!(refusal(&svg("", &laughing.replace("'#u", "' #u"))).contains("used again"));
    // One that uses itself ends.
    let circle = "<g id='r'><use href='#r'/></g>".to_owned() + SQUARE;
    assert!(read_drawing(svg("", &circle).as_bytes()).is_ok());
    let deep = format!("{}{SQUARE}{}", "<g>".repeat(100_000), "</g>".repeat(100_000));
    assert!(refusal(&svg("", &deep)).contains("groups in groups"));
    let zigzag: String = (0..60_000).map(|i| format!("L{i} {}", i % 2)).collect();
    let marker = "<marker id='m'>".to_owned() + SQUARE + "</marker>";
    let marked = format!("{marker}<path d='M0 0{zigzag}' marker-mid='url(#m)'/>");
    assert!(refusal(&svg("", &marked)).contains("used again"));
    let long = format!("<path d='M0 0{}Z'/>", "L1 1L2 0".repeat(MAX_DRAWING_POINTS / 2 + 1));
    assert!(refusal(&svg("", &long)).contains("points"));
    assert!(refusal(&svg("", "")).contains("nothing drawn"));
    assert!(refusal("<html/>").contains("no SVG"));
    assert!(refusal("<svg xmlns='http://www.w3.org/2000/svg'>").contains("cannot be read"));
    assert!(refusal("Skerry Point").contains("no SVG and no DXF"));
    assert!(read_drawing(&[0x1f, 0x8b, 8]).unwrap_err().to_string().contains("compressed"));
    assert!(read_drawing(&[0xff; 40]).is_err());
    assert!(
        read_drawing(&vec![b' '; MAX_DRAWING_BYTES + 1]).unwrap_err().to_string().contains("MB")
    );
}

/// A DXF of entities, each a list of codes and values, on layer "Hull".
fn dxf(entities: &str) -> String {
    let pairs = |text: &str| text.replace(' ', "\n");
    format!(
        "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n9\n$INSUNITS\n70\n1\n0\nENDSEC\n0\nSECTION\n2\n\
         ENTITIES\n{}\n0\nENDSEC\n0\nEOF\n",
        pairs(entities)
    )
}

#[test]
fn a_dxf_says_its_unit_its_layers_and_what_it_lost() {
    let entities = "0 CIRCLE 8 Hull 10 0 20 0 40 2 0 LINE 8 Deck 10 0 20 0 11 5 21 0 0 TEXT 8 Deck 10 0 20 0 40 1 1 Skerry 0 HATCH 8 Deck 10 0 20 0";
    let found = read_drawing(dxf(entities).as_bytes()).unwrap();
    assert_eq!((&*found.format, found.stated), ("DXF", Some(25.4)));
    let names: Vec<&str> = found.layers.iter().map(|layer| layer.name.as_str()).collect();
    assert_eq!(names, ["Hull", "Deck"]);
    assert!(found.remarks.iter().any(|one| one == "1 text was left out."), "{:?}", found.remarks);
    assert!(found.remarks.iter().any(|one| one.contains("hatch")), "{:?}", found.remarks);
}

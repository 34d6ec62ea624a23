"""Shapes read from awkward drawings, against the same files read by svgelements and ezdxf and laid
together by shapely."""

import json
import math
import pathlib
import re

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh
from ezdxf import disassemble
from PIL import Image, ImageDraw
from scipy.interpolate import BSpline
from shapely.affinity import translate
from shapely.geometry import LineString, MultiPolygon, Polygon
from skimage import measure
from svgelements import SVG, Circle, Close, Ellipse, Line, Move, Path, Polygon as SvgPolygon, Polyline, Rect

# The report is flattened at 0.02 mm, the reference much finer; both round their corners.
CHORD = 0.02


def polygons(data):
    """What a path of straight lines encloses by the even-odd rule, as Kalotype reports it."""
    whole = Polygon()
    for ring in re.findall(r"M([^MZ]*)Z", data):
        figures = [float(figure) for figure in re.findall(r"-?[\d.]+", ring)]
        whole = whole.symmetric_difference(Polygon(list(zip(figures[::2], figures[1::2]))).buffer(0))
    return whole


def look(kalotype, file, *arguments):
    return json.loads(kalotype("shape", file, "--json", *arguments))


def centred(shape):
    x0, y0, x1, y1 = shape.bounds
    return translate(shape, -(x0 + x1) / 2, -(y0 + y1) / 2)


def assert_same(report, reference):
    """That the shapes of a report are a reference in mm, y downwards, but for chords."""
    found = shapely.union_all([polygons(shape["path"]) for shape in report["shapes"]])
    assert found.is_valid
    wanted = centred(reference)
    width, height = report["size"]
    x0, y0, x1, y1 = wanted.bounds
    assert width == pytest.approx(x1 - x0, abs=2 * CHORD)
    assert height == pytest.approx(y1 - y0, abs=2 * CHORD)
    # Twice: on both sides of the outline, and where its box is a chord off.
    assert found.symmetric_difference(wanted).area < 2.5 * CHORD * wanted.length + 1e-3
    assert found.area == pytest.approx(wanted.area, abs=CHORD * wanted.length + 1e-3)


# SVG --------------------------------------------------------------------------------------------


def svg_rings(element, steps=64):
    """The closed runs of an element as lists of points in pixels, transforms applied."""
    rings, points = [], []
    # Arcs are curves before they are skewed: of a skewed arc svgelements makes another one.
    curves = Path(element.segments(transformed=False))
    curves.approximate_arcs_with_cubics()
    for segment in (curves * element.transform).reify():
        if isinstance(segment, Move):
            if len(points) > 2:
                rings.append(points)
            points = [(segment.end.x, segment.end.y)]
        elif isinstance(segment, (Line, Close)):
            if segment.end is not None:
                points.append((segment.end.x, segment.end.y))
        else:
            points += [(at.x, at.y) for at in (segment.point(i / steps) for i in range(1, steps + 1))]
    if len(points) > 2:
        rings.append(points)
    return rings


def winding(rings, rule):
    """What rings enclose. Non-zero: every cell of their arrangement by how often it is run round."""
    lines = shapely.unary_union([LineString([*ring, ring[0]]) for ring in rings])
    cells = shapely.get_parts(shapely.polygonize([*shapely.get_parts(lines)]))
    inside = []
    for cell in cells:
        at = cell.representative_point()
        count = sum(turns(ring, at.x, at.y) for ring in rings)
        if count % 2 if rule == "evenodd" else count:
            inside.append(cell)
    return shapely.union_all(inside)


def turns(ring, x, y):
    """How often a ring runs round a point (crossings to the right, signed)."""
    count = 0
    for (ax, ay), (bx, by) in zip(ring, [*ring[1:], ring[0]]):
        if (ay <= y) != (by <= y):
            across = ax + (y - ay) / (by - ay) * (bx - ax)
            if across > x:
                count += 1 if by > ay else -1
    return count


SHAPES = (Path, Rect, Circle, Ellipse, SvgPolygon, Polyline)


def svg_reference(file, only=None):
    """The filled areas of an SVG in mm, painted over each other; those of one fill alone."""
    whole = MultiPolygon()
    # svgelements works in pixels, 96 to an inch.
    for element in SVG.parse(str(file), ppi=96).elements():
        if not isinstance(element, SHAPES) or element.fill.value is None:
            continue
        rule = element.values.get("fill-rule", "nonzero")
        area = winding(svg_rings(element), rule)
        whole = whole.union(area) if only in (None, element.fill.hex) else whole.difference(area)
    return shapely.affinity.scale(whole, 25.4 / 96, 25.4 / 96, origin=(0, 0))


HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
SVGS = {
    "nested transforms": HEAD
    + """width="90mm" height="60mm" viewBox="-20 -10 180 120"><g transform="translate(40 30) rotate(25)">
      <g transform="scale(1.5 .8) skewX(12)"><path d="M0 0h40v30h-40z"/><g transform="matrix(.5 .2 -.1 .9 30 10)">
      <circle r="20"/></g></g></g></svg>""",
    "used parts": HEAD
    + """width="3in" height="2in" viewBox="0 0 300 200"><defs><g id="oar"><rect width="60" height="6" rx="3"/>
      <ellipse cx="66" cy="3" rx="14" ry="8"/></g></defs><use href="#oar" x="20" y="30"/>
      <use xlink:href="#oar" transform="translate(200 150) rotate(200)"/></svg>""",
    "arcs and curves": HEAD
    + """width="400" height="300"><path d="M50 150a80 50 30 1 1 120 40q40 60 80 -20t60 10c30-40 40 60-20 90
      s-90 10-120-10z"/></svg>""",
    "even-odd": HEAD
    + """width="100mm" height="100mm" viewBox="0 0 100 100"><path fill-rule="evenodd"
      d="M10 10H90V90H10ZM30 30H70V70H30ZM40 40H60V60H40Z"/></svg>""",
    "non-zero, holes turned the other way": HEAD
    + """width="100mm" height="100mm" viewBox="0 0 100 100"><path
      d="M10 10H90V90H10ZM30 30V70H70V30ZM40 40H60V60H40ZM75 75H95V95H75Z"/></svg>""",
    "crossing itself": HEAD
    + """width="100mm" height="100mm" viewBox="0 0 100 100"><polygon points="50,5 79,95 2,39 98,39 21,95"/>
      </svg>""",
    "open paths, filled": HEAD
    + """width="60mm" height="60mm" viewBox="0 0 60 60"><polyline points="5,5 55,5 30,50"/>
      <path d="M10 55 L50 55 L30 40"/></svg>""",
    "stated in points": HEAD + 'width="216pt" height="72pt" viewBox="0 0 30 10"><rect x="1" y="1" width="28" height="8" ry="4"/></svg>',
}


@pytest.mark.parametrize("name", SVGS)
def test_an_svg_encloses_what_svgelements_and_shapely_say(kalotype, tmp_path, name):
    file = tmp_path / "drawing.svg"
    file.write_text(SVGS[name])
    report = look(kalotype, file)
    assert_same(report, svg_reference(file))


def test_colours_painted_over_each_other_leave_what_is_seen(kalotype, tmp_path):
    file = tmp_path / "badge.svg"
    file.write_text(
        HEAD
        + """width="60mm" height="60mm" viewBox="0 0 120 120"><circle cx="60" cy="60" r="58" fill="#1f4e79"/>
        <circle cx="60" cy="60" r="50" fill="#f4efe0"/><g transform="translate(60 62) rotate(-8)">
        <path d="M-40 10L40 10L30 28L-28 28Z" fill="#c8452b"/><path d="M-3 8V-36L28 6Z" fill="#1f4e79"/></g>
        <path d="M40 60 Q60 40 80 75 L60 90Z" fill="#f4efe0"/></svg>"""
    )
    report = look(kalotype, file, "--by-layer")
    whole = []
    for shape in report["shapes"]:
        reference = svg_reference(file, only=shape["colour"])
        found = polygons(shape["path"])
        assert found.area == pytest.approx(reference.area, abs=CHORD * reference.length)
        whole.append(found)
    # No two colours share anything, and together they are the drawing.
    for i, one in enumerate(whole):
        for other in whole[i + 1 :]:
            assert one.intersection(other).area < CHORD * one.length
    assert_same(report, svg_reference(file))


LINES = {
    "butt": [(10, 10), (60, 12), (70, 50)],
    "round": [(10, 10), (60, 12), (15, 40), (70, 50)],
    "square": [(10, 10), (90, 30)],
}


@pytest.mark.parametrize(("cap", "join"), [("butt", "miter"), ("round", "round"), ("square", "bevel")])
def test_lines_are_as_wide_as_shapely_buffers_them(kalotype, tmp_path, cap, join):
    points = LINES[cap]
    file = tmp_path / "line.svg"
    along = " ".join(f"{x},{y}" for x, y in points)
    file.write_text(
        HEAD
        + f"""width="100mm" height="60mm" viewBox="0 0 100 60"><polyline points="{along}" fill="none"
        stroke="#000" stroke-width="5" stroke-linecap="{cap}" stroke-linejoin="{join}"
        stroke-miterlimit="10"/></svg>"""
    )
    caps = {"butt": "flat", "round": "round", "square": "square"}
    joins = {"miter": "mitre", "round": "round", "bevel": "bevel"}
    reference = LineString(points).buffer(
        2.5, cap_style=caps[cap], join_style=joins[join], mitre_limit=10, quad_segs=64
    )
    assert_same(look(kalotype, file, "--lines", "lines"), reference)


# DXF --------------------------------------------------------------------------------------------


def dxf_reference(document, tolerance=2e-4):
    """What the lines of a DXF enclose, nested by shapely; y downwards, as a report has it."""
    entities = disassemble.recursive_decompose(document.modelspace())
    lines = []
    for primitive in disassemble.to_primitives(entities):
        if primitive.path is None:
            continue
        points = [(p.x, -p.y) for p in primitive.path.flattening(tolerance, segments=16)]
        if len(points) > 1:
            lines.append(LineString(points))
    whole = shapely.set_precision(shapely.unary_union(lines), 1e-6)
    # Everything enclosed by an odd number of outer lines.
    outlines = [Polygon(part.exterior) for part in shapely.get_parts(shapely.polygonize([whole]))]
    result = Polygon()
    seen = set()
    for outline in sorted(outlines, key=lambda one: -one.area):
        key = (round(outline.area, 6), round(outline.centroid.x, 6), round(outline.centroid.y, 6))
        if key not in seen:
            seen.add(key)
            result = result.symmetric_difference(outline)
    return result


def new(units):
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = units
    return document


def bulged(space):
    space.add_lwpolyline([(0, 0, 0, 0, 0), (40, 0, 0, 0, 0.5), (40, 20, 0, 0, 0), (0, 20, 0, 0, -0.3)], close=True)
    space.add_circle((20, 10), 4)


def pieces_of_arcs(space):
    # A stadium in four pieces, in any direction, its ends a hundredth apart.
    space.add_line((0, 0), (30, 0))
    space.add_line((30.005, 20), (0.005, 20))
    space.add_arc((30, 10), 10, -90, 90)
    space.add_arc((0, 10), 10, 90, 270)


def ellipses(space):
    space.add_ellipse((10, 5), (20, 8), 0.4)
    space.add_ellipse((60, 5), (0, 15), 0.5, 0, math.pi)
    space.add_line((60, 20), (60, -10))


def splines(space):
    space.add_rational_spline(
        [(60, 0), (90, 0), (90, 30), (60, 30)], [1, 2, 0.5, 1], degree=3
    )
    space.add_line((60, 30), (60, 0))


def blocks(space):
    leaf = space.doc.blocks.new("LEAF", base_point=(2, 1))
    leaf.add_lwpolyline([(2, 1), (12, 1), (12, 6)], close=True)
    twig = space.doc.blocks.new("TWIG")
    twig.add_blockref("LEAF", (0, 0), {"rotation": 30, "xscale": 1.5, "yscale": 1.5})
    twig.add_blockref("LEAF", (0, 20), {"xscale": -1})
    space.add_blockref("TWIG", (5, 5))
    space.add_blockref("TWIG", (60, 0), {"rotation": -70, "yscale": 2, "xscale": 2})


def mirrored(space):
    space.add_arc((-20, 0), 10, 0, 180, dxfattribs={"extrusion": (0, 0, -1)})
    space.add_line((10, 0), (30, 0))
    space.add_circle((-50, 5), 6, dxfattribs={"extrusion": (0, 0, -1)})


DXFS = {
    "bulges": (bulged, 4, 1.0),
    "pieces": (pieces_of_arcs, 4, 1.0),
    "ellipses": (ellipses, 4, 1.0),
    "splines": (splines, 4, 1.0),
    "blocks": (blocks, 4, 1.0),
    "seen from below": (mirrored, 4, 1.0),
    "inches": (bulged, 1, 25.4),
}


@pytest.mark.parametrize("name", DXFS)
def test_a_dxf_encloses_what_ezdxf_and_shapely_say(kalotype, tmp_path, name):
    draw, units, scale = DXFS[name]
    document = new(units)
    draw(document.modelspace())
    file = tmp_path / "drawing.dxf"
    document.saveas(file)
    report = look(kalotype, file)
    assert report["is_stated"]
    if name == "pieces":
        # Polygons of ezdxf do not close over the gaps: a stadium in closed form.
        [shape] = report["shapes"]
        assert shape["area"] == pytest.approx(30 * 20 + math.pi * 100, abs=0.02 * 123)
        assert any("closed, the widest 0.005 mm" in remark for remark in report["remarks"])
        return
    reference = shapely.affinity.scale(dxf_reference(document), scale, scale, origin=(0, 0))
    assert_same(report, reference)


def test_a_closed_spline_is_the_one_scipy_evaluates(kalotype, tmp_path):
    # ezdxf flattens the part of a periodic spline before its first point, too; scipy's is the spline.
    corners = [(0, 0, 0), (30, 5, 0), (40, 30, 0), (10, 40, 0), (-10, 20, 0)]
    document = new(4)
    document.modelspace().add_spline().set_closed(corners, degree=3)
    file = tmp_path / "closed.dxf"
    document.saveas(file)
    around = np.array([*corners, *corners[:3]])[:, :2] * [1, -1]
    reference = Polygon(BSpline(np.arange(12.0), around, 3)(np.linspace(3, 8, 4000)))
    assert_same(look(kalotype, file), reference)


def test_a_dxf_without_a_unit_says_so_and_what_is_open_is_told(kalotype, tmp_path):
    document = new(0)
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (30, 0), (30, 10)], close=True)
    space.add_line((50, 50), (60, 60))
    space.add_text("Skerry")
    space.add_mtext("Point")
    file = tmp_path / "open.dxf"
    document.saveas(file)
    report = look(kalotype, file)
    assert not report["is_stated"]
    assert report["size"] == [30, 10]
    said = " ".join(report["remarks"])
    assert "1 line that closes nowhere was left out" in said
    assert "2 texts were left out" in said


# Pictures ---------------------------------------------------------------------------------------


def drawn(tmp_path, name, draw, size=(600, 450), finer=4):
    """A picture drawn large and made smaller, so that its edges are blurred as those of pictures are."""
    large = Image.new("L", (size[0] * finer, size[1] * finer), 255)
    draw(ImageDraw.Draw(large), finer)
    file = tmp_path / name
    large.resize(size, Image.LANCZOS).save(file)
    return file


def blot(pen, u):
    pen.ellipse([80 * u, 60 * u, 330 * u, 380 * u], fill=0)
    pen.polygon([(300 * u, 100 * u), (540 * u, 180 * u), (420 * u, 400 * u), (310 * u, 300 * u)], fill=0)
    pen.ellipse([150 * u, 150 * u, 250 * u, 260 * u], fill=255)
    pen.rectangle([400 * u, 200 * u, 460 * u, 250 * u], fill=255)


@pytest.mark.parametrize("ending", ["png", "jpg", "webp"])
@pytest.mark.parametrize("threshold", [0.3, 0.5, 0.7])
def test_a_traced_picture_encloses_what_scikit_image_finds(kalotype, tmp_path, ending, threshold):
    file = drawn(tmp_path, f"blot.{ending}", blot)
    report = look(kalotype, file, "--threshold", threshold, "--scale", 0.1)
    grey = np.asarray(Image.open(file).convert("L"), dtype=float) / 255
    # Padded with paper by a pixel, whose middle is 0; a pixel is a tenth of a millimetre.
    around = np.pad(grey, 1, constant_values=1.0)
    reference = Polygon()
    for ring in measure.find_contours(around, threshold):
        if len(ring) > 3 and (area := Polygon((ring[:, ::-1] - 0.5) * 0.1).buffer(0)).area > 0.05:
            reference = reference.symmetric_difference(area)
    # Where the picture lies below what was traced.
    left, top, _, _ = report["tracing"]["place"]
    reference = translate(reference, left, top)
    found = shapely.union_all([polygons(shape["path"]) for shape in report["shapes"]])
    # Curves may stray by four fifths of a pixel, and do so to both sides.
    assert found.area == pytest.approx(reference.area, rel=2e-3)
    assert found.convex_hull.area == pytest.approx(reference.convex_hull.area, rel=2e-3)
    apart = found.symmetric_difference(reference).area
    assert apart < 0.08 * reference.length / 2
    # Tips of corners that were blurred off are put back.
    assert found.hausdorff_distance(reference) < 0.2


def test_a_picture_in_colours_parts_into_what_was_painted(kalotype, tmp_path):
    paint = {(250, 248, 240): None, (30, 70, 130): None, (200, 60, 40): None}
    large = Image.new("RGB", (1600, 1200), (250, 248, 240))
    pen = ImageDraw.Draw(large)
    pen.ellipse([200, 200, 1000, 1000], fill=(30, 70, 130))
    pen.rectangle([800, 500, 1400, 900], fill=(200, 60, 40))
    file = tmp_path / "signal.png"
    large.resize((400, 300), Image.LANCZOS).save(file)
    report = look(kalotype, file, "--colours", 3, "--by-layer", "--scale", 0.1)
    disc = shapely.Point(15, 15).buffer(10, quad_segs=128)
    flag = shapely.box(20, 12.5, 35, 22.5)
    wanted = sorted([40 * 30 - disc.union(flag).area, disc.difference(flag).area, flag.area])
    found = sorted(shape["area"] for shape in report["shapes"])
    assert len(found) == len(paint)
    assert found == pytest.approx(wanted, rel=4e-3)
    assert sum(found) == pytest.approx(1200, abs=1)


def test_pictures_of_other_kinds_are_read_and_lying_ones_refused(kalotype, tmp_path):
    plain = drawn(tmp_path, "plain.png", blot)
    area = look(kalotype, plain, "--scale", 0.1)["shapes"][0]["area"]
    grey = Image.open(plain)
    for name, picture in {
        "palette.png": grey.convert("P"),
        "deep.png": Image.fromarray(np.asarray(grey, dtype=np.uint16) * 257),
        "inks.jpg": grey.convert("RGB").convert("CMYK"),
    }.items():
        picture.save(tmp_path / name)
        found = look(kalotype, tmp_path / name, "--scale", 0.1)["shapes"][0]["area"]
        assert found == pytest.approx(area, rel=5e-3), name
    grey.save(tmp_path / "moves.webp", save_all=True, append_images=[grey.rotate(90)], duration=100)
    report = look(kalotype, tmp_path / "moves.webp", "--scale", 0.1)
    assert "The picture moves; the first of its pictures was taken." in report["remarks"]


# Drawn here, and solids --------------------------------------------------------------------------


def board(tmp_path, figures, mirror="none"):
    file = tmp_path / "board.drawing.json"
    file.write_text(json.dumps({"kalotype_drawing": 1, "mirror": mirror, "figures": figures}))
    return file


def run(points, closed=True, radius=0.0):
    return {"line": {"run": {"closed": closed, "points": [{"at": p, "kind": {"corner": radius}} for p in points]}}}


def test_what_is_drawn_on_the_board_is_what_shapely_rounds_and_lays_together(kalotype, tmp_path):
    # Of a convex outline an opening by a disc rounds the corners by its radius.
    pentagon = [[-30, -10], [25, -18], [34, 6], [4, 28], [-26, 16]]
    sharp = Polygon([(x, -y) for x, y in pentagon])
    rounded = sharp.buffer(-4).buffer(4, quad_segs=128)
    assert_same(look(kalotype, board(tmp_path, [run(pentagon, radius=4.0)])), rounded)
    circle = {"line": {"circle": [[6, 2], [1, 7], [-4, 2]]}}
    across = run([[20, -4], [50, -4], [50, 5], [20, 5]])
    line = {"width": 3, **run([[-20, 0], [-44, 9]], closed=False)}
    reference = (
        sharp.difference(shapely.Point(1, -2).buffer(5, quad_segs=128))
        .union(shapely.box(20, -5, 50, 4))
        .union(LineString([(-20, 0), (-44, -9)]).buffer(1.5, quad_segs=64))
    )
    for figures in ([run(pentagon), circle, across, line], [line, across, circle, run(pentagon)]):
        assert_same(look(kalotype, board(tmp_path, figures)), reference)
    half = run([[0, 12], [15, 20], [18, 2], [0, -16]], closed=False)
    reference = Polygon([(0, -12), (15, -20), (18, -2), (0, 16), (-18, -2), (-15, -20)])
    assert_same(look(kalotype, board(tmp_path, [half], "across")), reference)


def test_a_solid_of_a_shape_has_the_volume_of_its_area_by_its_height(kalotype, tmp_path):
    tile = pathlib.Path(__file__).resolve().parent.parent / "demo" / "wall-tile-light.kalotype.json"
    kalotype("build", tile, "--format", "stl", "--colours", "split", "-o", tmp_path)
    bodies = {file.stem: trimesh.load_mesh(file) for file in tmp_path.glob("*.stl")}
    [red] = [mesh for name, mesh in bodies.items() if "red" in name.lower()]
    document = json.loads((tile.parent / "skerry-light-red.shape.json").read_text())
    # Straight lines only: its rings as they stand, 64 mm wide instead of 72.
    [part] = document["parts"]
    x0, _, x1, _ = document["frame"]
    area = polygons(part["path"].replace("L", " ")).area * (64 / (x1 - x0)) ** 2
    assert red.is_watertight
    assert red.volume == pytest.approx(2.0 * area, rel=1e-4)

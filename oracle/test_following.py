"""Halos and patterns against shapely, rows of elements and plates that grow by hand, and codes read back by
zxing-cpp (`zxingcpp`), all from the finished mesh cut by trimesh."""

import math

import numpy as np
import pytest
import shapely
import zxingcpp
from PIL import Image, ImageDraw
from shapely.affinity import rotate, translate
from shapely.geometry import MultiPolygon, Point, Polygon, box

from conftest import section

CHORD = {"draft": 0.05, "normal": 0.02, "fine": 0.005}


def at(across=0, up=0, by=None, alone=False):
    def centre(distance):
        return {"from": "centre", "distance": distance}

    return {"across": centre(across), "up": centre(up), "by": by, "alone": alone}


def beside(element, side, gap, in_line="middle", shift=0):
    return {"element": element, "side": side, "gap": gap, "in_line": in_line, "shift": shift}


def element(name, kind, **fields):
    return {"id": name, "locked": False, "face": "front", "kind": {kind: fields}}


def words(name, text, height, relief, **more):
    fields = {
        "lines": [{"words": text, "typeface": None, "scale": 1}], "typeface": "nunito", "size": {"height": height},
        "gives": "nothing", "align": "centre", "pitch": 1.6, "sits_by": "capitals", "course": "straight", "turn": 0,
        "style": {"spacing": 0, "heavier": 0, "capitals": False, "slant": 0, "stretch": 1}, "mirrored": False,
        "relief": relief, "colour": None, "root": 0, "edge": "square", "place": at(), "repeat": "once",
    }  # fmt: skip
    return element(name, "lettering", **{**fields, **more})


def emblem(name, shape, width, relief, place):
    return element(
        name, "emblem", shape=shape, width=width, stretch=1, turn=0, mirrored=False, points=5, depth=0.5,
        relief=relief, colour=None, root=0, edge="square", place=place, repeat="once",
        stroke={"width": None, "ends": "drawn", "section": "flat"},
    )  # fmt: skip


def halo(corners, distance, steps=1, crevices=0, gaps=0):
    return element(
        "halo", "halo", round="all", distance=distance, corners=corners, crevices=crevices, gaps=gaps, steps=steps,
        widen=1, relief={"raised": {"by": 0.8}}, colour=None, root=0, edge="square",
    )  # fmt: skip


def pattern(motif, pitch, line, turn=0, **more):
    fields = {
        "motif": motif, "pitch": pitch, "line": line, "turn": turn, "fills": "face", "inset": 3, "apart": 1.5,
        "whole": False, "relief": {"recessed": {"by": 1}}, "colour": None, "root": 0,
    }  # fmt: skip
    return element("pattern", "pattern", **{**fields, **more})


@pytest.fixture
def built(plated):
    """The mesh of a plate with elements on it."""
    return lambda elements, tolerance="normal", **plate: plated(elements, tolerance, **plate)[1]


JOIN = {"round": "round", "sharp": "mitre", "bevelled": "bevel"}


@pytest.mark.parametrize("tolerance", CHORD)
@pytest.mark.parametrize("corners", JOIN)
@pytest.mark.parametrize(("distance", "crevices", "gaps"), [(1.2, 0, 0), (2.5, 1.6, 4), (0.6, 3, 0)])
def test_a_halo_is_shapelys_buffer_of_what_it_goes_round(built, tolerance, corners, distance, crevices, gaps):
    elements = [
        words("name", "Åse Łukasz", 11, {"raised": {"by": 1.5}}),
        emblem("star", "star", 9, {"raised": {"by": 1.5}}, at(by=beside("name", "right", 2))),
        halo(corners, distance, crevices=crevices, gaps=gaps),
    ]
    mesh = built(elements, tolerance)
    letters = section(mesh, 3.8 + 1.0)
    wanted = letters.buffer(distance, quad_segs=64, join_style=JOIN[corners], mitre_limit=4)
    wanted = wanted.buffer(crevices / 2, quad_segs=64).buffer(-crevices / 2, quad_segs=64)
    disc = math.pi * gaps * gaps / 4
    parts = wanted.geoms if isinstance(wanted, MultiPolygon) else [wanted]
    wanted = shapely.union_all(
        [Polygon(part.exterior, [ring for ring in part.interiors if Polygon(ring).area >= disc]) for part in parts]
    )
    found = section(mesh, 3 + 0.4)
    within = 2 * CHORD[tolerance] * wanted.length + 0.01 * wanted.length
    assert found.area == pytest.approx(wanted.area, abs=within)
    assert found.symmetric_difference(wanted).area < 1.5 * within


def test_steps_of_a_halo_are_buffers_one_upon_another(built):
    mesh = built([words("name", "Zoë", 12, {"raised": {"by": 1}}), halo("round", 1, steps=3)], "fine")
    letters = section(mesh, 3 + 3 * 0.8 + 0.5)
    for step in range(3):
        wanted = letters.buffer(3 - step, quad_segs=64)
        found = section(mesh, 3 + 0.8 * step + 0.4)
        assert found.symmetric_difference(wanted).area < 0.02 * wanted.length, step


def hexagon(flats):
    radius = flats / math.sqrt(3)
    return Polygon([(radius * math.cos(a), radius * math.sin(a)) for a in np.radians(np.arange(30, 390, 60))])


def lattice(motif, pitch, row, odd, turn, reach=90):
    """A motif at all sites of a lattice about the origin, turned as a whole."""
    rows = range(-int(reach / row) - 1, int(reach / row) + 2)
    columns = range(-int(reach / pitch) - 1, int(reach / pitch) + 2)
    sites = [(x * pitch + (odd if y % 2 else 0), y * row) for y in rows for x in columns]
    return rotate(shapely.union_all([translate(motif, *site) for site in sites]), turn, origin=(0, 0))


def scale(pitch, line):
    def disc(x, y):
        return Point(x, y).buffer(pitch / 2, quad_segs=64)

    seen = disc(0, 0).difference(disc(-pitch / 2, pitch / 2)).difference(disc(pitch / 2, pitch / 2))
    return seen.buffer(-line / 2, quad_segs=64)


HALF = math.sqrt(3) / 2
MOTIFS = {
    "hexagons": lambda p, l: (hexagon(p - l), p, HALF * p, p / 2),
    "dots": lambda p, l: (Point(0, 0).buffer((p - l) / 2, quad_segs=64), p, HALF * p, p / 2),
    "squares": lambda p, l: (box(-(p - l) / 2, -(p - l) / 2, (p - l) / 2, (p - l) / 2), p, p, 0),
    "stripes": lambda p, l: (box(-150, -(p - l) / 2, 150, (p - l) / 2), 400, p, 0),
    "scales": lambda p, l: (scale(p, l), p, p / 2, p / 2),
}


@pytest.mark.parametrize("motif", MOTIFS)
@pytest.mark.parametrize(("pitch", "line", "turn"), [(6, 1, 0), (4.5, 0.8, 23)])
def test_a_pattern_is_shapelys_lattice_without_what_it_keeps_clear_of(built, motif, pitch, line, turn):
    name = words("name", "Søl 7", 14, {"raised": {"by": 1}})
    letters = section(built([name], "fine"), 3.5)
    mesh = built([pattern(motif, pitch, line, turn), name], "fine")
    parts = letters.geoms if isinstance(letters, MultiPolygon) else [letters]
    filled = shapely.union_all([Polygon(part.exterior) for part in parts])
    room = box(-47, -27, 47, 27).difference(filled.buffer(1.5, quad_segs=64))
    wanted = lattice(*MOTIFS[motif](pitch, line), turn).intersection(room)
    pieces = [part for part in wanted.geoms if part.area > 1e-6]
    whole = max(part.area for part in pieces)
    # What was cut down to less than half and is nowhere wider than 0.4 mm is left out.
    kept = [part for part in pieces if part.area >= whole / 2 or not part.buffer(-0.2).is_empty]
    wanted = shapely.union_all(kept)
    found = box(-50, -30, 50, 30).difference(section(mesh, 2.5))
    within = 0.012 * wanted.length
    assert found.area == pytest.approx(wanted.area, abs=within)
    assert found.symmetric_difference(wanted).area < 2 * within


def test_what_is_cut_through_is_one_body_with_holes(built):
    name = words("name", "o.i", 14, {"raised": {"by": 1}})
    for motif in [*MOTIFS, "waves"]:
        mesh = built([pattern(motif, 6, 1, 15, relief="through"), name], "normal")
        assert mesh.body_count == 1, motif
        assert mesh.euler_number < 0, motif


def test_a_row_keeps_its_distances_and_is_centred(built):
    def square(name, size, by):
        return emblem(name, "square", size, {"raised": {"by": 2}}, at(by=by))

    lead = emblem("lead", "square", 12, {"raised": {"by": 2}}, at(3, -4))
    followers = [
        square("a", 4, beside("lead", "right", 2.5, "low")),
        square("b", 6, beside("a", "right", 1, "high", 0.5)),
        square("c", 5, beside("lead", "left", 3, "middle", -1)),
        square("d", 2, beside("b", "above", 1, "high")),
    ]
    # From left to right 5 + 3 + 12 + 2.5 + 4 + 1 + 6, its middle 3 to the right of the plate’s; feet of the lead at
    # y, the rest by hand: a from y to y + 4, b from y − 1.5 to y + 4.5, c about y + 5 by 5, d from y + 5.5 by 2.
    x = 3 - 33.5 / 2
    y = -4 - (12 - 1.5) / 2
    wanted = {
        "c": (x, y + 2.5, 5), "lead": (x + 8, y, 12), "a": (x + 22.5, y, 4), "b": (x + 27.5, y - 1.5, 6),
        "d": (x + 31.5, y + 5.5, 2),
    }  # fmt: skip
    boxes = [box(x, y, x + side, y + side) for x, y, side in wanted.values()]
    for order in [[lead, *followers], [*reversed(followers), lead]]:
        found = section(built(order), 4)
        assert found.symmetric_difference(shapely.union_all(boxes)).area < 1e-3


@pytest.mark.parametrize("text", ["Å", "Marit Ødegård", "FRIÐRIKA ÞORSTEINSDÓTTIR"])
def test_a_plate_is_as_long_as_its_name_and_two_margins(built, text):
    name = words("name", text, 9, {"raised": {"by": 1}})
    mesh = built([name], "fine", width=20, grows={"width": {"most": 400, "step": 0}, "height": None})
    ink, plate = section(mesh, 3.5), section(mesh, 1.5)
    x0, _, x1, _ = ink.bounds
    low, _, high, _ = plate.bounds
    # Centred by its box, which is its ink.
    assert high - low == pytest.approx(max(20, x1 - x0 + 4), abs=0.03)
    assert x0 - low == pytest.approx(high - x1, abs=0.02)


@pytest.mark.parametrize("reading", ["clockwise", "upright"])
@pytest.mark.parametrize(("distance", "middle"), [(2, 90), (3, 200), (-1.5, -45)])
def test_letters_stand_along_an_outline_by_arc_length(built, reading, distance, middle):
    """Letters that are alike lie an advance apart, measured along the outline drawn in by shapely, and as far
    within it as was asked for; the middle of them where a ray from the middle meets it."""
    height, count = 5, 8
    outline = {"of": "face", "distance": distance, "reading": reading, "middle": middle, "spread": None}
    # Spaced, so that heads that lean to each other do not meet.
    style = {"spacing": 0.5, "heavier": 0, "capitals": False, "slant": 0, "stretch": 1}
    standing = {"raised": {"from-foot": 5}}
    name = words("name", "I" * count, height, standing, course={"outline": outline}, style=style)
    corner = {"round": 12}
    corners = dict.fromkeys(["top_left", "top_right", "bottom_right", "bottom_left"], corner)
    mesh = built([name], "fine", outline={"rectangle": {**corners, "rounding": 0}})
    letters = section(mesh, 4)
    assert len(letters.geoms) == count
    edge = box(-38, -18, 38, 18).buffer(12, quad_segs=256)
    # Half a letter further in than its nearer end, or further out.
    way = edge.buffer(-distance - height / 2 if distance > 0 else -distance + height / 2, quad_segs=256).exterior
    for letter in letters.geoms:
        # On the arcs the chord under a letter and the middle of it are a little apart.
        assert way.distance(letter.centroid) < 0.03
    # The way their feet stand on.
    inwards = distance + height if (reading == "clockwise") == (distance > 0) and distance > 0 else distance
    if distance < 0 and reading == "upright":
        inwards = distance - height
    feet = edge.buffer(-inwards, quad_segs=256).exterior
    at = sorted(feet.project(letter.centroid) for letter in letters.geoms)
    gaps = np.diff([*at, at[0] + feet.length])
    around = np.delete(gaps, np.argmax(gaps))
    # They lie an advance apart, whatever the outline does there: as far as in a straight line.
    straight = section(built([words("name", "I" * count, height, standing, style=style)], "fine"), 3.5)
    xs = sorted(letter.centroid.x for letter in straight.geoms)
    # Where an arc begins a letter leans by the chord under it, and its middle with it.
    assert around == pytest.approx(np.diff(xs), abs=0.1)
    start = np.argmax(gaps) + 1
    ordered = [(at[(start + i) % count]) for i in range(count)]
    unrolled = np.unwrap(ordered, period=feet.length)
    found = feet.interpolate(np.mean(unrolled) % feet.length)
    ray = shapely.LineString([(0, 0), (200 * math.cos(math.radians(middle)), 200 * math.sin(math.radians(middle)))])
    assert found.distance(ray) < 0.05


def code(symbol, text, module, quiet, inverse=False, turn=0):
    return element(
        "code", "code", words=text, symbol=symbol, module=module, quiet=quiet, inverse=inverse, turn=turn,
        relief={"raised": {"by": 0.8}}, colour=None, root=0, place=at(), repeat="once",
    )  # fmt: skip


@pytest.mark.parametrize(
    ("symbol", "text", "module", "quiet"),
    [
        ({"qr": "l"}, "BERTH 7", 1.5, 4),
        ({"qr": "m"}, "https://skerry.example/boats/terna?watch=ß", 1, 4),
        ({"qr": "h"}, "Åse Łukasiewicz · Øst 3", 1, 4),
        ({"bars": 20}, "SKERRY-007", 0.5, 10),
        ({"bars": 15}, "20261127", 0.8, 10),
        ({"bars": 15}, "~ a|b {7}", 0.5, 10),
    ],
)
@pytest.mark.parametrize("inverse", [False, True])
@pytest.mark.parametrize("turn", [0, 90])
def test_another_decoder_reads_what_is_raised(built, symbol, text, module, quiet, inverse, turn):
    mesh = built([code(symbol, text, module, quiet, inverse, turn)], height=99, width=99)
    raised = section(mesh, 3.4)
    scale, side = 12, 99
    picture = Image.new("L", (side * scale, side * scale), 0 if inverse else 255)
    draw = ImageDraw.Draw(picture)
    for part in raised.geoms if isinstance(raised, MultiPolygon) else [raised]:
        for i, ring in enumerate([part.exterior, *part.interiors]):
            points = [((x + side / 2) * scale, (side / 2 - y) * scale) for x, y in ring.coords]
            draw.polygon(points, fill=(255 if inverse else 0) if i == 0 else (0 if inverse else 255))
        # What stands within an opening was painted over by it.
    for part in sorted(raised.geoms if isinstance(raised, MultiPolygon) else [raised], key=lambda p: -p.area):
        for i, ring in enumerate([part.exterior, *part.interiors]):
            points = [((x + side / 2) * scale, (side / 2 - y) * scale) for x, y in ring.coords]
            draw.polygon(points, fill=(255 if inverse else 0) if i == 0 else (0 if inverse else 255))
    found = zxingcpp.read_barcodes(picture)
    assert [one.text for one in found] == [text]

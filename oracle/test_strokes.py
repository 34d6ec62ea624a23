"""Strokes raised on a plate, cut at several heights by trimesh, against shapely's buffer of the same line: half
an ellipse is as wide at every height as its equation says, a taper as its slope says."""

import hashlib
import json
import math

import numpy as np
import pytest
import shapely
import trimesh
from shapely.geometry import LineString, Point

from conftest import ROOT, section

CHORD = {"draft": 0.05, "normal": 0.02, "fine": 0.005}

# Two scrolls that cross, and a closed loop that touches one of them, in mm, y upwards.
SCROLLS = [
    [(-20, -8), (-8, 22), (6, 20), (4, 2), (3, -6), (-6, -4), (-5, 2)],
    [(-22, 6), (-10, -10), (10, -10), (22, 8)],
]
LOOP = [(8, 0), (14, 6), (20, -4), (14, -10), (8, 0)]


def cubic(points, steps=400):
    """A run of cubic curves as a fine polyline."""
    line = [points[0]]
    for i in range(0, len(points) - 1, 3):
        a, b, c, d = (np.array(point, dtype=float) for point in points[i : i + 4])
        for t in np.linspace(0, 1, steps)[1:]:
            line.append(tuple((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d))
    return LineString(line)


def drawing(lines, width, cap):
    """Lines as an SVG, y downwards."""
    join = "round" if cap == "round" else "miter"
    pen = f"fill='none' stroke='#000' stroke-width='{width}' stroke-linecap='{cap}' stroke-linejoin='{join}'"

    def text(points):
        return " ".join(f"{x} {-y}" for x, y in points)

    def path(points):
        letter = "L" if points is LOOP else "C"
        return f"<path d='M{text(points[:1])}{letter}{text(points[1:])}' {pen}/>"

    head = "<svg xmlns='http://www.w3.org/2000/svg' width='80mm' height='60mm' viewBox='-40 -30 80 60'>"
    return head + "".join(map(path, lines)) + "</svg>"


def buffered(lines, half, cap):
    """The same lines so far to either side, by shapely."""
    join = "round" if cap == "round" else "mitre"
    runs = [LineString(points) if points is LOOP else cubic(points) for points in lines]
    grown = [run.buffer(half, quad_segs=64, cap_style=cap, join_style=join, mitre_limit=4) for run in runs]
    return shapely.union_all(grown)


def element(name, kind, fields):
    return {"id": name, "locked": False, "face": "front", "kind": {kind: fields}}


def at(across, up):
    return {"across": {"from": "centre", "distance": across}, "up": {"from": "centre", "distance": up}}


@pytest.fixture
def raised(kalotype, tmp_path):
    """Builds a plate of 100 × 80 × 2 mm with lines raised on it, and other elements before and after them."""

    def build(lines, width, cap, stroke, relief, tolerance, before=(), after=()):
        svg = tmp_path / "lines.svg"
        svg.write_text(drawing(lines, width, cap))
        kalotype("shape", svg, "--lines", "lines", "--out", tmp_path)
        [document] = tmp_path.glob("*.shape.json")
        shape = "shape-" + hashlib.sha256(document.read_bytes()).hexdigest()[:32]
        x0, _, x1, _ = json.loads(document.read_text())["frame"]
        a, b, c, d = buffered(lines, width / 2, cap).bounds
        emblem = {
            "shape": shape, "width": x1 - x0, "stretch": 1, "turn": 0, "mirrored": False, "relief": relief,
            "colour": None, "root": 0, "edge": "square", "stroke": stroke, "repeat": "once",
            "place": at((a + c) / 2, (b + d) / 2),
        }  # fmt: skip
        piece = json.loads((ROOT / "demo" / "ornament.kalotype.json").read_text())
        [component] = piece["components"]
        component["blank"]["plate"].update(width=100, height=80, thickness=2, outline="stadium")
        component["elements"] = [*before, element("lines", "emblem", emblem), *after]
        file, out = tmp_path / "piece.json", tmp_path / "piece.stl"
        file.write_text(json.dumps(piece))
        kalotype("build", file, "-o", out, "--tolerance", tolerance)
        mesh = trimesh.load_mesh(out)
        assert mesh.is_watertight
        return mesh

    return build


def left(section_of, half, share):
    """Half the width that is left of a stroke at a share of its height."""
    if section_of == "round":
        return half * math.sqrt(1 - share * share)
    if section_of == "flat":
        return half
    return half - (half - section_of["tapered"] / 2) * share


def stroke(section_of, width=None, ends="drawn"):
    return {"width": width, "ends": ends, "section": section_of}


@pytest.mark.parametrize("tolerance", CHORD)
@pytest.mark.parametrize("cap", ["round", "square"])
@pytest.mark.parametrize("section_of", ["flat", "round", {"tapered": 0.4}])
def test_a_scroll_is_as_wide_at_every_height_as_its_section_says(raised, tolerance, cap, section_of):
    lines, half, high = SCROLLS[:1], 1.0, 1.5
    mesh = raised(lines, 2 * half, cap, stroke(section_of), {"raised": {"by": high}}, tolerance)
    for share in [0.1, 0.35, 0.6, 0.85, 0.97]:
        wanted = buffered(lines, left(section_of, half, share), cap)
        found = section(mesh, 2 + share * high)
        # Chords of its sides, and of the arc across, which lie further aside the flatter it is.
        flat = 0.3 * share / math.sqrt(1 - share * share)
        within = (2.5 + flat) * CHORD[tolerance] * wanted.length + 1e-3
        assert found.area == pytest.approx(wanted.area, abs=within), share
        assert found.symmetric_difference(wanted).area < 1.5 * within, share


@pytest.mark.parametrize("tolerance", CHORD)
def test_strokes_that_cross_are_one_and_as_wide_as_is_asked_whatever_they_were_drawn_with(raised, tolerance):
    lines = [*SCROLLS, LOOP]
    mesh = raised(lines, 1, "round", stroke("round", width=2.4), {"raised": {"by": 1.2}}, tolerance)
    assert mesh.body_count == 1
    whole = buffered(lines, 1.2, "round")
    for share in [0.1, 0.4, 0.7, 0.9]:
        half = left("round", 1.2, share)
        # In the corners between two lines a little more is left than of both alone, and no more than of both
        # together drawn in.
        least = buffered(lines, half, "round").area
        most = whole.buffer(half - 1.2, join_style="mitre").area
        within = 2.5 * CHORD[tolerance] * whole.length + 1e-3
        assert least - within < section(mesh, 2 + share * 1.2).area < most + within, share


@pytest.mark.parametrize("tolerance", CHORD)
@pytest.mark.parametrize("after", [False, True])
def test_scrolls_from_the_bed_among_a_hole_and_a_bar(raised, tolerance, after):
    lines, half = SCROLLS, 1.5
    hole = element(
        "hole", "hole",
        {"shape": "round", "diameter": 9, "turn": 0, "depth": None, "edges": {"top": "square", "bottom": "square"},
         "place": at(-3, -4), "repeat": "once"},
    )  # fmt: skip
    others = [hole]
    places = {"after": others} if after else {"before": others}
    mesh = raised(lines, 2 * half, "round", stroke({"tapered": 1.0}), {"raised": {"from-foot": 5}}, tolerance, **places)
    drilled = Point(-3, -4).buffer(4.5, quad_segs=64)
    for height in [2.5, 3.5, 4.7]:
        wanted = buffered(lines, left({"tapered": 1.0}, half, height / 5), "round").difference(drilled)
        found = section(mesh, height)
        within = 2.5 * CHORD[tolerance] * wanted.length + 0.25
        assert found.area == pytest.approx(wanted.area, abs=within), height
    # Below the face there is the plate with its hole and nothing else.
    exact = 20 * 80 + math.pi * 1600 - math.pi * 4.5**2
    assert section(mesh, 1).area == pytest.approx(exact, abs=0.75 * CHORD[tolerance] * 2 * math.pi * 44.5 + 0.1)

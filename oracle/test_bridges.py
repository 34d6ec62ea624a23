"""Bridges and ties against trimesh (how many bodies there are) and shapely (what the strips take of the cut), from the
finished mesh cut by trimesh."""

import itertools
import json

import numpy as np
import pytest
import trimesh
from shapely.geometry import MultiPolygon

from conftest import section
from test_following import at, emblem, words
from test_preflight import hole

WIDTH = 1.2


def bridges(**more):
    fields = {"width": WIDTH, "run": "upright", "in_line": False, "each": "one", "height": None, "by_hand": []}
    return {**fields, **more}


def parts(region):
    return list(region.geoms) if isinstance(region, MultiPolygon) else [region]


def bodies(mesh):
    return len(mesh.split(only_watertight=False))


def strips(held, loose):
    """What stays of the cut: where one is solid and the other is not, rounding left out."""
    return [part for part in parts(held.difference(loose.buffer(2e-3))) if part.area > 1e-3]


def widths(strip):
    """How wide a strip is square to each edge of its hull: its straight sides are among them."""
    corners = np.array(strip.convex_hull.exterior.coords)
    ways = np.diff(corners, axis=0)
    across = np.stack([-ways[:, 1], ways[:, 0]], axis=1) / np.linalg.norm(ways, axis=1)[:, None]
    seen = corners @ across.T
    return seen.max(axis=0) - seen.min(axis=0)


def is_as_wide(strip, width):
    return np.abs(widths(strip) - width).min() < 0.02


CUT = [
    ("ÅBØ 8%", "nunito"), ("BOARD", "anton"), ("Ø@&R", "zilla-slab"), ("Łódź", "noto-serif"), ("Ωgδ", "noto-serif"),
    ("o", "pacifico"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "typeface"), CUT)
@pytest.mark.parametrize("tolerance", ["draft", "normal", "fine"])
def test_what_falls_out_is_held_by_strips_of_their_width(plated, text, typeface, tolerance):
    """As many strips as there were islands, each as wide as asked, none of them beside the cut."""

    def made(held):
        fields = {"typeface": typeface, "bridges": held}
        return plated([words("name", text, 14, "through", **fields)], tolerance)[1]

    loose, held, lower = made(None), made(bridges()), made(bridges(height=1))
    islands = bodies(loose) - 1
    assert islands > 0
    assert bodies(held) == bodies(lower) == 1
    across = strips(section(held, 1.5), section(loose, 1.5))
    assert len(across) == islands
    for strip in across:
        # Its ends follow the outlines; its sides are as far apart as it is wide.
        assert is_as_wide(strip, WIDTH)
    taken = sum(strip.area for strip in across)
    # The ends of the strips were drawn in by 2 µm.
    assert held.volume - loose.volume == pytest.approx(3 * taken, rel=5e-3)
    # The lower part alone: the same strips below, nothing above.
    below = strips(section(lower, 0.5), section(loose, 0.5))
    assert sum(strip.area for strip in below) == pytest.approx(taken, rel=2e-3)
    assert strips(section(lower, 2), section(loose, 2)) == []


@pytest.mark.parametrize("order", itertools.permutations(range(3)))
def test_bridges_keep_clear_of_what_others_cut_away(plated, order):
    """A hole where a bridge would be, and a second word across the first, in every order of the list."""
    elements = [
        words("name", "OB8", 20, "through", bridges=bridges()),
        words("other", "Q0Å", 16, "through", bridges=bridges(run="across"), place=at(5, 4), turn=20),
        hole("hole-1", -19.5, -9, 5),
    ]
    _, mesh = plated([elements[i] for i in order])
    assert bodies(mesh) == 1


@pytest.mark.parametrize("run", ["upright", "across", {"angle": 30}])
def test_openwork_is_tied_to_its_ring(plated, run):
    """Letters on the bed in the opening of a ring: as many bodies as letters, dots and the ring; tied they are one."""

    def made(held):
        letters = words("name", "iÅj", 10, {"raised": {"from-foot": 3}}, bridges=held)
        return plated([letters], width=60, height=60, outline={"ring": {"inside": 50}})[1]

    loose, held = made(None), made(bridges(run=run))
    assert (bodies(loose), bodies(held)) == (7, 1)
    for strip in strips(section(held, 1.5), section(loose, 1.5)):
        assert is_as_wide(strip, WIDTH)


@pytest.mark.parametrize("width", [0.8, 1.4, 2])
def test_a_contour_is_tied(plated, width):
    """The parts of a contour, by strips of a width; they overlap nothing that was there."""

    def made(ties):
        contour = {"contour": {"offset": 0.5, "crevices": 0, "gaps": 0, "ties": ties}}
        return plated([words("name", "Jiří", 20, {"raised": {"by": 1}})], outline=contour)[1]

    loose, held = made(None), made(width)
    assert bodies(loose) > 3
    assert bodies(held) == 1
    assert section(loose, 1.5).difference(section(held, 1.5)).area < 0.01
    for strip in strips(section(held, 1.5), section(loose, 1.5)):
        # No wider than asked in its narrowest direction; where a part is narrower, it goes round that.
        assert widths(strip).min() < width + 0.02


@pytest.mark.parametrize("tolerance", ["draft", "normal", "fine"])
@pytest.mark.parametrize("height", [12, 30])
@pytest.mark.parametrize("across", [0.35, 0.5, 0.6])
def test_a_tie_lies_where_it_was_put(plated, tolerance, height, across):
    """The dot of an i on its stem: one strip, its middle at a share of the letter's width, as wide as asked."""
    hand = {"line": 0, "letter": 0, "is": "", "across": across, "up": 0.72, "turn": 90}
    letters = [words("name", "i", height, {"raised": {"by": 1}})]

    def made(ties, by_hand):
        contour = {"offset": 0.3, "crevices": 0, "gaps": 0, "ties": ties, "by_hand": by_hand}
        return plated(letters, tolerance, outline={"contour": contour})[1]

    loose, held = made(None, []), made(0.8, [hand])
    assert (bodies(loose), bodies(held)) == (2, 1)
    [strip] = strips(section(held, 1.5), section(loose, 1.5))
    x0, _, x1, _ = section(loose, 3.5).bounds
    assert (strip.bounds[0] + strip.bounds[2]) / 2 == pytest.approx(x0 + across * (x1 - x0), abs=0.02)
    assert strip.bounds[2] - strip.bounds[0] == pytest.approx(0.8, abs=0.02)
    # All of what is new is 3 mm high; `strips` leaves out two thousandths of a millimetre along either end.
    taken = section(held, 1.5).difference(section(loose, 1.5)).area
    assert held.volume - loose.volume == pytest.approx(3 * taken, rel=1e-3)
    assert strip.area == pytest.approx(taken, abs=0.005)


def test_what_was_cut_loose_is_held_by_what_is_offered(plated, kalotype, looked_through, tmp_path):
    """Two words and an emblem that lose their insides: mended by the command line they are one body."""
    elements = [
        words("name", "BØ", 12, "through", place=at(0, 15)),
        words("other", "8A", 9, "through", place=at(0, -3)),
        emblem("ring", "ring", 14, "through", at(0, -20)),
    ]
    file, mesh = plated(elements)
    assert bodies(mesh) > 6
    assert "loose-parts" in [finding["code"] for finding in looked_through(file)["findings"]]
    mended, out = tmp_path / "mended.json", tmp_path / "mended.stl"
    kalotype("check", file, "--mend", mended)
    assert all(one["kind"][next(iter(one["kind"]))]["bridges"] for one in json.loads(mended.read_text())["components"][0]["elements"])
    kalotype("build", mended, "-o", out)
    assert bodies(trimesh.load_mesh(out)) == 1

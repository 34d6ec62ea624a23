"""What preflight measures, against distances and buffers of shapely (GEOS) on the finished mesh cut by trimesh."""

import itertools
import json
import math
import random

import pytest
import trimesh
from shapely.affinity import translate
from shapely.geometry import MultiPolygon, Point, Polygon

from conftest import section
from test_following import at, element, pattern, words

LINE, GAP = 0.45, 0.25
RAISED = {"raised": {"by": 1.2}}


def hole(name, across, up, diameter):
    square = {"top": "square", "bottom": "square"}
    place = {axis: at(across, up)[axis] for axis in ("across", "up")}
    return element(
        name, "hole", shape="round", diameter=diameter, turn=0, depth=None, edges=square, place=place, repeat="once"
    )


def rim(inset, width):
    return element("rim", "rim", inset=inset, width=width, relief=RAISED, colour=None, root=0, edge="square")


def styled(text, height, relief, spacing=0.0, heavier=0.0, typeface="nunito", up=0):
    style = {"spacing": spacing, "heavier": heavier, "capitals": False, "slant": 0, "stretch": 1}
    return words("name", text, height, relief, style=style, typeface=typeface, place=at(0, up))


def parts(region):
    return list(region.geoms) if isinstance(region, MultiPolygon) else [region]


def found(said, code):
    return [finding for finding in said["findings"] if finding["code"] == code]


@pytest.mark.parametrize("seed", range(24))
def test_walls_are_as_thin_as_the_openings_are_near(plated, looked_through, seed):
    """Two holes of random sizes somewhere on a plate, from far apart to almost touching."""
    dice = random.Random(seed)
    first, second = (dice.uniform(3, 9) for _ in range(2))
    wall = dice.uniform(0.05, 1.3)
    apart = (first + second) / 2 + wall
    x, y = dice.uniform(-30, 20), dice.uniform(-15, 15)
    elements = [hole("one", x, y, first), hole("other", x + apart, y, second), styled("Å", 6, RAISED, up=24)]
    file, mesh = plated(elements)
    [plate] = parts(section(mesh, 1.5))
    one, other = (Polygon(ring) for ring in plate.interiors)
    exact = one.distance(other)
    assert exact == pytest.approx(wall, abs=0.02)
    walls = found(looked_through(file), "thin-wall")
    if exact > 2 * LINE - 0.01:
        # Within a hundredth of the limit it may be said or not.
        assert walls == [] or exact < 2 * LINE + 0.01
        return
    [finding] = walls
    assert finding["figures"]["measured"] == pytest.approx(exact, abs=0.01)
    if abs(exact - LINE) > 0.02:
        assert finding["weight"] == ("must" if exact < LINE else "should")


@pytest.mark.parametrize("spacing", [-0.16, -0.156, -0.153, -0.15, -0.145, -0.13, 0.0])
def test_gaps_are_as_narrow_as_the_letters_are_near(plated, looked_through, spacing):
    file, mesh = plated([styled("HIHIH", 10, RAISED, spacing)])
    letters = parts(section(mesh, 3.6))
    between = [a.distance(b) for a, b in itertools.combinations(letters, 2)]
    least = min(between, default=0.0)
    gaps = found(looked_through(file), "narrow-gap")
    if len(letters) == 5 and 0.01 < least < GAP - 0.01:
        [finding] = gaps
        assert finding["figures"]["measured"] == pytest.approx(least, abs=0.005)
    elif len(letters) == 5 and least > GAP + 0.01:
        assert gaps == []


@pytest.mark.parametrize("width", [0.2, 0.3, 0.44, 0.46, 0.7, 0.89, 0.92, 2])
def test_a_rim_is_as_thin_as_it_is(plated, looked_through, width):
    file, mesh = plated([rim(3, width)])
    [ring] = parts(section(mesh, 3.6))
    exact = ring.exterior.distance(ring.interiors[0])
    assert exact == pytest.approx(width, abs=0.01)
    thin = found(looked_through(file), "thin-rim")
    assert [one["weight"] for one in thin] == (["must"] if width < LINE else ["should"] if width < 0.9 else [])
    assert all(one["figures"]["measured"] == pytest.approx(exact, abs=0.01) for one in thin)


def opened(region, width):
    return region.buffer(-width / 2, quad_segs=64).buffer(width / 2, quad_segs=64)


def closed(region, width):
    return region.buffer(width / 2, quad_segs=64).buffer(-width / 2, quad_segs=64)


@pytest.mark.parametrize("typeface", ["nunito", "pacifico", "noto-serif", "bebas-neue", "grenze-gotisch"])
@pytest.mark.parametrize("heavier", [-0.35, -0.2, 0.0])
@pytest.mark.parametrize("relief", [RAISED, {"recessed": {"by": 1.0}}])
def test_what_is_lost_in_print_is_shapelys_opening(plated, looked_through, typeface, heavier, relief):
    """Raised letters are opened by a line and closed by a gap; of cut ones the walls are what is drawn."""
    file, mesh = plated([styled("Ægir Ø8", 7, relief, heavier=heavier, typeface=typeface)])
    is_cut = "recessed" in relief
    if is_cut:
        letters = section(mesh, 1.0).difference(section(mesh, 2.5))
        narrowest, nearest = GAP, LINE
    else:
        letters = section(mesh, 3.6)
        narrowest, nearest = LINE, GAP
    left = opened(letters, narrowest)
    lost = letters.difference(left).area
    more = closed(left, nearest).difference(left).difference(letters).area
    printed = {one["target"]: one for one in looked_through(file)["printed"]}
    said = printed.get("component-1/name", {"lost_mm2": 0, "closed_mm2": 0})
    # Slivers of less than 0.002 mm² in corners are left out, and arcs are followed to 0.02 mm.
    slack = 0.02 * letters.area
    assert said["lost_mm2"] == pytest.approx(lost, rel=0.1, abs=slack)
    assert said["closed_mm2"] == pytest.approx(more, rel=0.1, abs=slack)


@pytest.mark.parametrize(("heavier", "thin"), [(-1.15, True), (-1.1, True), (0.0, False), (0.3, False)])
def test_strokes_are_lost_where_the_opening_loses_them(plated, looked_through, heavier, thin):
    """Stems of an even width: what a line does not fit into is what preflight names."""
    file, mesh = plated([styled("HIL", 10, RAISED, heavier=heavier)])
    letters = section(mesh, 3.6)
    is_lost = opened(letters, LINE).area < 0.9 * letters.area
    assert is_lost == thin
    assert bool(found(looked_through(file), "thin-stroke")) == thin


@pytest.mark.parametrize("typeface", ["nunito", "pacifico", "noto-serif", "bebas-neue", "grenze-gotisch"])
@pytest.mark.parametrize("heavier", [0.2, 0.5, 0.8, 1.2])
def test_insides_are_filled_where_shapely_fills_them(plated, looked_through, typeface, heavier):
    """As many openings as nothing is left of when the letters are grown by the weight."""
    letters = [7, RAISED, 0.5]
    _, as_drawn = plated([styled("ABØ8g&", *letters, 0.0, typeface)])
    file, _ = plated([styled("ABØ8g&", *letters, heavier, typeface)])
    drawn = section(as_drawn, 3.6)

    openings = [Polygon(ring) for part in parts(drawn) for ring in part.interiors]

    def filled(grown_by):
        left = drawn.buffer(grown_by, quad_segs=32)
        return sum(opening.difference(left).area < 1e-6 for opening in openings)

    # It is worked out at the draft tolerance.
    least, most = filled(heavier - 0.05), filled(heavier + 0.05)
    said = found(looked_through(file), "filled-letters")
    told = [int(one["message"].split()[0].replace("An", "1")) for one in said]
    assert len(told) <= 1
    assert least <= sum(told) <= most


def two_lines(pitch, relief, typeface):
    both = styled("Ågj", 7, relief, typeface=typeface)
    both["kind"]["lettering"]["pitch"] = pitch
    first = both["kind"]["lettering"]["lines"][0]
    both["kind"]["lettering"]["lines"] = [first, dict(first, words="ÄÉf")]
    return both


@pytest.mark.parametrize("relief", [RAISED, {"recessed": {"by": 1.2}}])
@pytest.mark.parametrize("typeface", ["nunito", "pacifico", "noto-serif", "bebas-neue"])
@pytest.mark.parametrize("pitch", [0.6, 0.9, 1.2, 1.5, 1.8])
def test_lines_meet_where_shapely_lets_them(plated, looked_through, typeface, pitch, relief):
    """Lines far apart in the finished mesh are pushed together: where they come to share something it is said, and
    what is offered is the first step of a twentieth at which there is enough between them."""
    _, mesh = plated([two_lines(4.5, RAISED, typeface)])
    letters = parts(section(mesh, 3.6))
    upper, lower = (
        MultiPolygon([letter for letter in letters if (letter.centroid.y > 0) is above]).buffer(0)
        for above in (True, False)
    )

    def pushed(to):
        return translate(upper, 0, -7 * (4.5 - to))

    shared = pushed(pitch).intersection(lower).area
    file, _ = plated([two_lines(pitch, relief, typeface)])
    said = found(looked_through(file), "lines-meet")
    # It is worked out at the draft tolerance.
    assert len(said) == (shared > 0.05) or abs(shared - 0.05) < 0.04
    apart = GAP if relief is RAISED else 2 * LINE
    for finding in said:
        assert finding["figures"]["measured"] == pytest.approx(7 * pitch)
        enough = finding["figures"]["limit"] / 7
        assert pushed(enough).distance(lower) >= apart - 0.05
        assert pushed(enough - 0.05).distance(lower) < apart + 0.05


@pytest.mark.parametrize("deep", [1.0, 2.5, 2.7, 2.9])
@pytest.mark.parametrize("above", [[], [styled("ÆGIR", 9, RAISED, up=14), rim(1, 2)]])
def test_the_floor_of_a_blind_hole_is_as_thin_as_the_mesh_is(plated, looked_through, deep, above):
    blind = hole("one", -30, -10, 6)
    blind["kind"]["hole"]["depth"] = deep
    for elements in ([blind, *above], [*above, blind]):
        file, mesh = plated(elements)
        below, over = (section(mesh, 3 - deep + mm).contains(Point(-30, -10)) for mm in (-0.002, 0.002))
        assert below and not over
        said = found(looked_through(file), "thin-floor")
        assert len(said) == (3 - deep < 0.4)


def test_mending_mends_what_shapely_measures(plated, kalotype, looked_through, tmp_path):
    """After `--mend` the walls, gaps and rims of the mended mesh are as wide as they should be."""
    elements = [
        hole("one", -30, 10, 6), hole("other", -23.7, 10, 6), rim(3, 0.3), styled("HIHIH", 10, RAISED, -0.155),
    ]  # fmt: skip
    file, _ = plated(elements)
    better, out = tmp_path / "better.json", tmp_path / "better.stl"
    said = looked_through(file, "--mend", better)
    assert said["findings"] == []
    kalotype("build", better, "-o", out)
    mesh = trimesh.load_mesh(out)
    [plate] = parts(section(mesh, 1.5))
    one, other = (Polygon(ring) for ring in plate.interiors)
    assert one.distance(other) >= 2 * LINE - 0.01
    raised = sorted(parts(section(mesh, 3.6)), key=lambda part: -part.envelope.area)
    assert raised[0].exterior.distance(raised[0].interiors[0]) >= 2 * LINE - 0.01
    letters = raised[1:]
    assert len(letters) == 5
    assert min(a.distance(b) for a, b in itertools.combinations(letters, 2)) >= GAP - 0.005
    assert json.loads(better.read_text())["kalotype"] == 14


def test_mending_leaves_a_floor_and_land_in_the_finished_mesh(plated, kalotype, looked_through, tmp_path):
    """Blind holes that met have a floor between them, and a hole over the edge lies in the plate and beside a word."""
    front, back = hole("front", 20, 12, 8), hole("back", -20, 12, 5)
    front["kind"]["hole"]["depth"], back["kind"]["hole"]["depth"] = 1.8, 1.5
    back["face"] = "back"
    elements = [styled("ÆGIR", 9, RAISED, up=-24), hole("astray", 0, -29, 6), front, back]
    file, _ = plated(elements)
    better, out = tmp_path / "better.json", tmp_path / "better.stl"
    assert {"back-to-back", "hole-near-edge"} <= {one["code"] for one in looked_through(file)["findings"]}
    assert looked_through(file, "--mend", better)["findings"] == []
    kalotype("build", better, "-o", out)
    mesh = trimesh.load_mesh(out)
    steps = [step / 50 for step in range(1, 150)]
    solid = [height for height in steps if section(mesh, height + 0.001).contains(Point(20, 12))]
    assert len(solid) / 50 >= 0.4 - 0.02
    assert solid == [height for height in steps if solid[0] <= height <= solid[-1]]
    [plate] = parts(section(mesh, 1.5))
    [astray] = [ring for ring in map(Polygon, plate.interiors) if ring.area == pytest.approx(9 * math.pi, rel=0.02)]
    assert plate.exterior.distance(astray) >= 1 - 0.02
    assert section(mesh, 3.6).distance(astray) >= 0.8 - 0.02


@pytest.mark.parametrize("wall", [0.2, 0.4, 0.6, 0.85, 1.2])
def test_walls_of_a_mesh_blank_are_measured_on_the_finished_mesh(kalotype, looked_through, tmp_path, wall):
    """A block of somebody else's with two holes, something raised beside them and something sunk across."""
    stl, file, out = (tmp_path / name for name in ("block.stl", "block.kalotype.json", "out.stl"))
    trimesh.creation.box((60, 40, 6)).export(stl)
    kalotype("blank", stl, "-o", file)
    piece = json.loads(file.read_text())
    piece["components"][0]["elements"] = [
        styled("Å", 6, RAISED, up=14), hole("one", -10, -5, 8), hole("other", -10 + 7 + wall, -5, 6),
        dict(styled("IO", 6, {"recessed": {"by": 1.0}}, up=-14), id="below"),
    ]  # fmt: skip
    file.write_text(json.dumps(piece))
    kalotype("build", file, "-o", out)
    mesh = trimesh.load_mesh(out)
    [block] = parts(section(mesh, 3.0))
    one, other = (Polygon(ring) for ring in block.interiors)
    assert block.area == pytest.approx(60 * 40 - math.pi * (16 + 9), rel=0.002)
    walls = found(looked_through(file), "thin-wall")
    assert len(walls) == (1 if wall < 2 * LINE else 0)
    for finding in walls:
        assert finding["figures"]["measured"] == pytest.approx(one.distance(other), abs=0.015)
        assert finding["weight"] == ("must" if wall < LINE else "should")


@pytest.mark.parametrize("order", [0, 1, 2])
def test_a_wall_is_the_same_in_any_order_and_under_other_things(plated, looked_through, order):
    elements = [
        hole("one", -10, 0, 8), hole("other", -2.5, 0, 6), styled("ÆGIR", 9, RAISED, up=18), rim(2, 2),
        pattern("dots", 6, 2, inset=8, apart=2),
    ]  # fmt: skip
    file, _ = plated(elements[order:] + elements[:order])
    [finding] = found(looked_through(file), "thin-wall")
    assert finding["figures"]["measured"] == pytest.approx(0.5, abs=0.015)


def shape_of(spot):
    """A place of a finding, as shapely has it: rings of an SVG path, y downwards."""
    whole = Polygon()
    for ring in spot["path"].split("M")[1:]:
        figures = [float(figure) for figure in ring.rstrip("Z").replace("L", " ").split()]
        corners = [(x, -y) for x, y in zip(figures[::2], figures[1::2], strict=True)]
        whole = whole.symmetric_difference(Polygon(corners).buffer(0))
    return whole


@pytest.mark.parametrize("wall", [0.1, 0.3, 0.44, 0.6, 0.75])
@pytest.mark.parametrize(("first", "second"), [(4, 9), (6, 6)])
def test_a_wall_has_the_shape_shapely_opens_away(plated, looked_through, wall, first, second):
    """What of the section no disc of two lines covers, between two holes; its heights are those of the plate."""
    apart = (first + second) / 2 + wall
    elements = [hole("one", -10, 3, first), styled("Å", 6, RAISED, up=24), hole("other", apart - 10, 3, second)]
    file, mesh = plated(elements)
    plate = section(mesh, 1.5)
    lost = plate.difference(opened(plate, 2 * LINE))
    # Corners of the plate are none; what lies between the holes is.
    between = Polygon([(-10, 2), (apart - 10, 2), (-10, 4)])
    exact = MultiPolygon([part for part in parts(lost) if part.distance(between) < 1])
    [finding] = found(looked_through(file), "thin-wall")
    [spot] = finding["spots"]
    assert (spot["seen"], spot["bottom"], spot["top"]) == ("sections", 0, 3)
    shape = shape_of(spot)
    # The disc that is laid is 0.004 mm wider: near the limit that is much.
    assert shape.area == pytest.approx(exact.area, rel=0.13, abs=0.03)
    assert shape.symmetric_difference(exact).area < 0.15 * exact.area + 0.05
    (ax, ay), (bx, by) = spot["ends"]
    assert math.hypot(bx - ax, by - ay) == pytest.approx(wall, abs=0.02)


@pytest.mark.parametrize("heavier", [-1.0, -0.95])
def test_thin_strokes_are_where_shapely_loses_them(plated, looked_through, heavier):
    """All that is shown is lost, and what is lost beyond short ends and points is shown."""
    file, mesh = plated([styled("HALØ", 10, RAISED, heavier=heavier)])
    letters = section(mesh, 3.6)
    lost = letters.difference(opened(letters, LINE))
    thin = found(looked_through(file), "thin-stroke")
    shown = Polygon()
    for spot in (spot for finding in thin for spot in finding["spots"]):
        assert spot["bottom"] == pytest.approx(3) and spot["top"] == pytest.approx(4.2)
        shown = shown.union(shape_of(spot))
    assert shown.area > 0.8 * lost.area > 1
    assert shown.difference(lost.buffer(0.02)).area < 0.05 * shown.area


@pytest.mark.parametrize("up", [20, 24])
def test_what_lies_over_each_other_or_the_edge_is_shapelys(plated, looked_through, up):
    """Words over the upper edge: what is shown is what of the letters lies beyond the plate."""
    file, mesh = plated([styled("ÆGIR", 14, RAISED, up=up)])
    letters = section(mesh, 3.6)
    beyond = letters.difference(Polygon([(-50, -30), (50, -30), (50, 30), (-50, 30)]))
    over = found(looked_through(file), "over-edge")
    if beyond.area < 0.01:
        assert over == []
        return
    [finding] = over
    [spot] = finding["spots"]
    assert shape_of(spot).symmetric_difference(beyond).area < 0.02 * beyond.area + 0.01


@pytest.mark.parametrize("words_", ["BOD", "ÅØ8"])
def test_what_falls_out_is_what_trimesh_splits_off(plated, looked_through, words_):
    file, mesh = plated([styled(words_, 12, "through")])
    bodies = sorted(mesh.split(), key=lambda body: -body.volume)
    [finding] = found(looked_through(file), "loose-parts")
    volumes = [shape_of(spot).area * (spot["top"] - spot["bottom"]) for spot in finding["spots"]]
    assert sorted(volumes) == pytest.approx(sorted(body.volume for body in bodies[1:]), rel=1e-3)


@pytest.mark.parametrize("wall", [0.2, 0.4, 0.6])
def test_what_is_lost_between_elements_is_shapelys_opening(plated, looked_through, wall):
    """The wall between a hole and a recess, and between the hole and the edge, above and below the floor of it."""
    recess = element(
        "recess", "recess", shape={"own": {"width": 12, "height": 12, "outline": "ellipse", "turn": 0}},
        depth={"by": 1.5}, edge="square", floor=None, place=at(20, 0), repeat="once",
    )  # fmt: skip
    elements = [hole("one", 20 + 6 + wall + 3, 0, 6), hole("two", -50 + 4 + wall, 10, 8), recess]
    file, mesh = plated(elements)
    lost = [
        whole.difference(opened(whole, LINE))
        for whole in (section(mesh, 0.7), section(mesh, 2.2))
    ]
    exact = lost[0].union(lost[1])
    # Square corners of the plate lose less than is told.
    exact = sum(part.area for part in parts(exact) if part.area > 0.002)
    printed = {(one["target"], one["face"]): one for one in looked_through(file)["printed"]}
    said = [one["lost_mm2"] for (target, face), one in printed.items() if face == "front"]
    assert sum(said) == pytest.approx(exact, rel=0.08, abs=0.12)

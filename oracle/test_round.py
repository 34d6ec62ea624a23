"""Caps, plugs and rings by another library: their solids revolved by manifold3d, the room a pipe has in
a cap, and words round a skirt measured on the mesh."""

import copy
import json

import manifold3d
import numpy
import pytest
import trimesh

from conftest import ROOT

CAP = ROOT / "starters" / "sounding-pipe-cap.kalotype.json"
PLUG = ROOT / "starters" / "crate-plug.kalotype.json"
BOX = ROOT / "starters" / "key-box.kalotype.json"
RING = ROOT / "starters" / "finger-ring.kalotype.json"
# How far a chord strays, in mm.
CHORDS = {"draft": 0.05, "normal": 0.02, "fine": 0.005}


@pytest.fixture
def built(kalotype, tmp_path):
    """Builds a piece file with changes and returns its mesh; what stands on it is left away."""

    def run(path, tolerance="normal", elements=False, **changes):
        piece = copy.deepcopy(json.loads(path.read_text()))
        component = piece["components"][0]
        piece["components"], piece["joints"] = [component], []
        if not elements:
            component["elements"] = []
        elif callable(elements):
            elements(piece, component)
        (blank,) = component["blank"].values()
        blank.update(changes)
        named = {blank["colour"]} | {
            fields["colour"] for one in component["elements"] for fields in one["kind"].values() if fields.get("colour")
        }
        piece["filaments"] = [one for one in piece["filaments"] if one["id"] in named]
        piece["fronted"] = []
        file = tmp_path / "piece.json"
        file.write_text(json.dumps(piece))
        out = tmp_path / "piece.stl"
        kalotype("build", file, "-o", out, "--tolerance", tolerance)
        mesh = trimesh.load(out)
        assert mesh.is_watertight
        return mesh

    return run


def sides(radius, tolerance):
    """How many sides a circle has: a chord over the angle a strays by r (1 - cos(a/2))."""
    angle = 2 * numpy.arccos(1 - CHORDS[tolerance] / radius)
    return 4 * int(numpy.ceil(numpy.pi / 2 / angle))


def solid_of(mesh):
    found = manifold3d.Manifold(
        manifold3d.Mesh64(mesh.vertices.astype(numpy.float64), mesh.faces.astype(numpy.uint64))
    )
    assert found.status() == manifold3d.Error.NoError
    return found


def cylinder(radius, low, high, tolerance, segments=None):
    return manifold3d.Manifold.cylinder(
        high - low, radius, radius, segments or sides(radius, tolerance)
    ).translate([0, 0, low])


def revolved(profile, segments):
    """A profile (how far from the axis, how high) that is turned about the axis."""
    return manifold3d.CrossSection([numpy.array(profile, dtype=numpy.float64)]).revolve(segments)


def alike(mesh, wanted, most):
    """What either has and the other has not is less than so much, in mm³."""
    found = solid_of(mesh)
    assert (found - wanted).volume() + (wanted - found).volume() < most


@pytest.mark.parametrize("tolerance", CHORDS)
def test_a_cap_is_a_cylinder_less_a_cylinder(built, tolerance):
    mesh = built(CAP, tolerance, upper="square", lead_in=0.0, fit={"clearance": 0.4}, over=42.4)
    wanted = cylinder(23.8, 0, 19, tolerance) - cylinder(21.4, -1, 16, tolerance)
    alike(mesh, wanted, 0.05)


def test_chamfers_beads_and_lead_ins_are_revolved(built):
    tolerance = "fine"
    bead = {"bead": {"proud": 0.6, "up": 6.0}}
    mesh = built(CAP, tolerance, fit={"clearance": 0.4}, over=42.4, hold=bead, vent=5.0)
    radius, bore = 23.8, 21.4
    outside = [(0, 0), (radius, 0), (radius, 18.2), (radius - 0.8, 19), (0, 19)]
    inside = [(0, -1), (bore + 1.8, -1), (bore, 0.8), (bore, 5.4), (bore - 0.6, 6), (bore, 6.6), (bore, 16), (0, 16)]
    wanted = revolved(outside, 720) - revolved(inside, 720) - revolved([(0, 10), (2.5, 10), (2.5, 20), (0, 20)], 720)
    # Chords of ours stray by 0.005 mm from those of 720 sides.
    alike(mesh, wanted, 0.005 * mesh.area)


def test_flat_sides_are_a_cylinder_of_as_many(built):
    mesh = built(CAP, "fine", upper="square", lead_in=0.0, fit={"clearance": 0.4}, over=42.4, grip={"facets": 8})
    # Its corners stand so far out that its sides touch the plain cap, one of them at the front.
    corner = 23.8 / numpy.cos(numpy.pi / 8)
    outside = manifold3d.Manifold.cylinder(19, corner, corner, 8).rotate([0, 0, 22.5])
    alike(mesh, outside - cylinder(21.4, -1, 16, "fine"), 0.05)


def test_ribs_are_trapezia_round_a_cylinder(built):
    """Half a pitch wide at the wall and a quarter at their heads, so long as the pitch there."""
    ribs = {"ribs": {"count": 24, "depth": 1.2}}
    mesh = built(CAP, "fine", upper="square", lead_in=0.0, fit={"clearance": 0.4}, over=42.4, grip=ribs)
    radius, head, pitch = 23.8, 25.0, 2 * numpy.pi / 24

    def at(far, angle):
        return [far * numpy.cos(angle), far * numpy.sin(angle)]

    corners = [(22.0, -0.25), (22.0, 0.25), (radius, 0.25), (head, 0.125), (head, -0.125), (radius, -0.25)]
    outside = cylinder(radius, 0, 19, "fine")
    for i in range(24):
        middle = i * pitch - numpy.pi / 2
        ring = [at(far, middle + share * pitch) for far, share in corners]
        # The foot is sunk into the cylinder, nowhere deeper than its own chord.
        section = manifold3d.CrossSection([numpy.array(ring)], manifold3d.FillRule.NonZero)
        outside += section.extrude(19)
    alike(mesh, outside - cylinder(21.4, -1, 16, "fine"), 0.3)


def test_a_knurl_is_the_same_all_the_way_round(built):
    """It stands between the wall and its depth, and turned by a pitch it is itself."""
    knurl = {"knurl": {"count": 24, "depth": 1.0}}
    mesh = built(CAP, "fine", upper="square", lead_in=0.0, fit={"clearance": 0.4}, over=42.4, grip=knurl)
    found = solid_of(mesh)
    bore = cylinder(21.4, -1, 16, "fine")
    assert (cylinder(23.8, 0, 19, "fine") - bore - found).volume() < 1e-2  # the grid
    out = numpy.hypot(mesh.vertices[:, 0], mesh.vertices[:, 1])
    assert out.max() == pytest.approx(24.8, abs=1e-4)
    # By a quarter its circles are themselves too; by one pitch their chords are others.
    alike(mesh, found.rotate([0, 0, 90]), 0.05)
    alike(mesh, found.rotate([0, 0, 360 / 24]), 0.005 * 2 * numpy.pi * 21.4 * 16)


def test_a_cap_on_its_top_is_the_same_cap(kalotype, tmp_path):
    """Upside down, and set on the bed again: by the library that read the other file."""
    solids = []
    for lies in ("as-made", "on-top", "on-left"):
        piece = json.loads(CAP.read_text())
        piece["components"][0]["lies"] = lies
        file, stl = tmp_path / f"{lies}.json", tmp_path / f"{lies}.stl"
        file.write_text(json.dumps(piece))
        kalotype("build", file, "-o", stl)
        mesh = trimesh.load(stl)
        assert mesh.is_watertight and mesh.bounds[0][2] == 0.0
        solids.append(solid_of(mesh))
    made, turned, side = solids
    high = made.bounding_box()[5]
    for other in (turned.rotate([180, 0, 0]).translate([0, 0, high]), side.rotate([0, 90, 0])):
        # On the side it lies on it was moved to its middle.
        low, lowest = numpy.array(other.bounding_box()[:3]), numpy.array(made.bounding_box()[:3])
        other = other.translate(list(lowest - low))
        assert (other - made).volume() + (made - other).volume() < 1e-2


def test_words_spread_all_round_leave_the_same_room_everywhere(built):
    """Six equal letters: turned by 60 degrees the cap is the same but for the chords it is cut from."""

    def spread(piece, component):
        component["elements"] = [one for one in component["elements"] if one["face"] == "around"][:1]
        lettering = component["elements"][0]["kind"]["lettering"]
        lettering.update({"colour": None, "course": {"round": {"spread": 360.0}}})
        lettering["lines"] = [{"words": "IIIIII", "typeface": None, "scale": 1.0}]
        piece["inputs"] = []

    mesh = built(CAP, "fine", elements=spread, upper="square")
    letters = mesh.vertices[numpy.hypot(mesh.vertices[:, 0], mesh.vertices[:, 1]) > (42.4 + 0.2) / 2 + 2.4 + 0.7]
    angles = numpy.sort(numpy.degrees(numpy.arctan2(letters[:, 1], letters[:, 0])) % 360)
    gaps = numpy.diff(numpy.append(angles, angles[0] + 360))
    wide = numpy.sort(gaps)[-6:]
    assert wide == pytest.approx(numpy.full(6, wide.mean()), abs=0.02)
    assert numpy.sort(gaps)[-7] < wide.min() / 2


def test_nominal_sizes_are_near_those_of_another_table(example):
    """The sizes of ISO 65 and EN 10255 are those of ASME B36.10M (fluids.piping) but for rounding; at
    DN 65, 125 and 150 the standards part, by less than a twentieth."""
    from fluids.piping import nearest_pipe

    inches = {"1/8": 0.125, "1/4": 0.25, "3/8": 0.375, "1/2": 0.5, "3/4": 0.75}
    for size in example("nominal_sizes")["steel"]:
        name = size["name"].split(", ")[1]
        whole, _, part = name.partition(" ")
        nominal = inches[name] if name in inches else float(whole) + inches.get(part, 0.0)
        outside = 1000 * nearest_pipe(NPS=nominal, schedule="40")[2]
        apart = 0.05 * outside if size["name"].split(",")[0] in ("DN 65", "DN 125", "DN 150") else 0.35
        assert size["outside_mm"] == pytest.approx(outside, abs=apart), size


def test_a_box_is_a_block_less_a_block(built):
    mesh = built(BOX, "normal", upper="square", lower="square", corner=0.0)
    outside = manifold3d.Manifold.cube([86, 66, 32], True).translate([0, 0, 16])
    inside = manifold3d.Manifold.cube([80, 60, 40], True).translate([0, 0, 22])
    alike(mesh, outside - inside, 0.01)


def test_a_hollow_plug_is_revolved(built):
    mesh = built(PLUG, "fine", upper="square", lead_in="square", fit={"clearance": 0.2})
    end = 13.9 - 10 * numpy.tan(numpy.radians(2))
    profile = [(end - 2, 0), (end, 0), (13.9, 10), (17, 10), (17, 12.6), (0, 12.6), (0, 10), (end - 2, 10)]
    alike(mesh, revolved(profile, 720), 0.005 * mesh.area)


def test_a_ring_is_revolved(built):
    mesh = built(RING, "fine", height=9.0, fit={"clearance": 0.2}, comfort={"chamfer": 0.8}, edge={"chamfer": 0.4})
    bore, outer, high = 9.1, 11.3, 9.0
    profile = [
        (bore + 0.8, 0),
        (outer - 0.4, 0),
        (outer, 0.4),
        (outer, high - 0.4),
        (outer - 0.4, high),
        (bore + 0.8, high),
        (bore, high - 0.8),
        (bore, 0.8),
    ]
    alike(mesh, revolved(profile, 720), 0.005 * mesh.area)


@pytest.mark.parametrize(("fit", "clearance"), [("snug", 0.1), ("sliding", 0.2), ({"clearance": 0.5}, 0.5)])
def test_a_pipe_has_half_the_clearance_all_round(built, fit, clearance):
    mesh = built(CAP, "fine", fit=fit, over=48.3, lead_in=0.0)
    # As long as the skirt goes and further, but not up to the top.
    pipe = cylinder(24.15, -20, 12, "fine", segments=720)
    found = solid_of(mesh)
    assert (found ^ pipe).volume() == 0.0
    assert found.min_gap(pipe, 2.0) == pytest.approx(clearance / 2, abs=0.006)


def test_words_round_a_skirt_are_as_wide_as_on_a_plate(built, kalotype, tmp_path):
    """Their width runs along the arc at the face, their height along the radius."""

    def only_round(_, component):
        component["elements"] = [one for one in component["elements"] if one["face"] == "around"]

    mesh = built(CAP, "fine", elements=only_round, upper="square")
    radius = (42.4 + 0.2) / 2 + 2.4
    out = numpy.hypot(mesh.vertices[:, 0], mesh.vertices[:, 1])
    assert out.max() - radius == pytest.approx(0.8, abs=2e-3)
    letters = mesh.vertices[out > radius + 0.7]
    # The middle of the words looks to the front.
    along = (numpy.arctan2(letters[:, 1], letters[:, 0]) + numpy.pi / 2) * radius
    flat = json.loads((ROOT / "starters" / "key-fob.kalotype.json").read_text())
    lettering = next(
        one for one in json.loads(CAP.read_text())["components"][0]["elements"] if one["face"] == "around"
    )
    lettering["kind"]["lettering"]["colour"] = None
    lettering["face"] = "front"
    plate = flat["components"][0]
    plate["elements"] = [lettering]
    flat["fronted"], flat["inputs"] = [], []
    plate["blank"]["plate"].update({"width": 140.0, "height": 40.0})
    file, stl = tmp_path / "flat.json", tmp_path / "flat.stl"
    file.write_text(json.dumps(flat))
    kalotype("build", file, "-o", stl, "--tolerance", "fine")
    on_plate = trimesh.load(stl).vertices
    on_plate = on_plate[on_plate[:, 2] > on_plate[:, 2].max() - 1e-3]
    assert along.max() - along.min() == pytest.approx(numpy.ptp(on_plate[:, 0]), abs=5e-3)
    assert numpy.ptp(letters[:, 2]) == pytest.approx(numpy.ptp(on_plate[:, 1]), abs=1e-3)

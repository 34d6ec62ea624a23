"""Joints by another library: the least distance of two components put together, and what they share
(manifold3d); volumes by trimesh."""

import copy
import json

import manifold3d
import numpy
import pytest
import trimesh

from conftest import ROOT

DESK = ROOT / "demo" / "desk-harbour-office.kalotype.json"


def solid_of(component):
    """A component as a solid of manifold3d."""
    mesh = manifold3d.Mesh64(
        numpy.array(component["vertices_mm"], dtype=numpy.float64),
        numpy.array(component["triangles"], dtype=numpy.uint64),
    )
    solid = manifold3d.Manifold(mesh)
    assert solid.status() == manifold3d.Error.NoError
    return solid


@pytest.fixture
def put_together(example, tmp_path):
    """Puts the demo's nameplate together after its slot was changed."""

    def run(lean, fit, open_ends=False):
        piece = copy.deepcopy(json.loads(DESK.read_text()))
        slot = piece["joints"][0]["slot"]
        slot["lean"], slot["open"] = lean, open_ends
        piece["joints"][0]["fit"] = fit
        path = tmp_path / "piece.json"
        path.write_text(json.dumps(piece))
        return example("put_together", path)["components"]

    return run


@pytest.mark.parametrize("lean", [0.0, 10.0, -20.0])
@pytest.mark.parametrize(("fit", "clearance"), [("snug", 0.1), ("loose", 0.4), ({"clearance": 0.3}, 0.3)])
def test_half_the_clearance_lies_between_plate_and_slot(put_together, lean, fit, clearance):
    upright, foot = put_together(lean, fit)
    assert foot["slots"][0]["clearance_mm"] == pytest.approx(clearance)
    a, b = solid_of(upright), solid_of(foot)
    assert (a ^ b).volume() == 0.0
    assert a.min_gap(b, 5.0) == pytest.approx(clearance / 2, abs=2e-3)
    # As much on both sides: moved square to the walls by half the clearance it just touches either.
    radians = numpy.radians(lean)
    square = numpy.array([0.0, numpy.cos(radians), -numpy.sin(radians)])
    for way in (1, -1):
        nearer = a.translate(list(way * square * clearance * 0.48))
        assert (nearer ^ b).volume() < 1e-6
        over = a.translate(list(way * square * (clearance * 0.5 + 0.01)))
        assert (over ^ b).volume() > 0.1


def test_an_open_slot_goes_through_both_ends(put_together):
    _, closed = put_together(0.0, "snug")
    _, opened = put_together(0.0, "snug", open_ends=True)
    closed, opened = (
        trimesh.Trimesh(one["vertices_mm"], one["triangles"], process=False) for one in (closed, opened)
    )
    assert closed.is_watertight and opened.is_watertight
    piece = json.loads(DESK.read_text())
    block = piece["components"][1]["blank"]["block"]
    plate = piece["components"][0]["blank"]["plate"]
    slot = piece["joints"][0]["slot"]
    more = (block["width"] - plate["width"] - 0.1) * (plate["thickness"] + 0.1) * slot["depth"]
    # The ends are chamfered; what a slot takes there is missing already.
    assert closed.volume - opened.volume == pytest.approx(more, rel=0.05)


@pytest.mark.parametrize(("fit", "clearance"), [("snug", 0.1), ("sliding", 0.2), ({"clearance": 0.5}, 0.5)])
def test_half_the_clearance_lies_round_a_lid(example, tmp_path, fit, clearance):
    piece = json.loads((ROOT / "starters" / "key-box.kalotype.json").read_text())
    piece["joints"][0]["fit"] = fit
    path = tmp_path / "piece.json"
    path.write_text(json.dumps(piece))
    box, lid = (solid_of(one) for one in example("put_together", path)["components"])
    # It lies on the floor of its rebate and shares nothing with it.
    assert (box ^ lid).volume() < 1e-6
    assert box.min_gap(lid, 1.0) == pytest.approx(0.0, abs=1e-4)
    # Lifted off the floor, what is between them is the room all round, at straight sides and corners.
    lifted = lid.translate([0.0, 0.0, 1.0])
    assert box.min_gap(lifted, 2.0) == pytest.approx(clearance / 2, abs=0.02)
    assert (box ^ lifted).volume() == 0.0
    nearer = lifted.translate([clearance * 0.45, 0.0, 0.0])
    assert (box ^ nearer).volume() == 0.0
    over = lifted.translate([clearance * 0.5 + 0.05, 0.0, 0.0])
    assert (box ^ over).volume() > 0.1


@pytest.mark.parametrize(("fit", "clearance"), [("snug", 0.1), ("loose", 0.4), ({"clearance": 0.7}, 0.7)])
@pytest.mark.parametrize("outline", ["stadium", "heart", {"star": {"points": 5, "inner": 0.5, "turn": 10.0, "rounding": 1.0}}])
@pytest.mark.parametrize(("onto", "face"), [("block", "front"), ("plate", "front")])
@pytest.mark.parametrize("turn", [0.0, 35.0])
def test_half_the_clearance_lies_round_a_tag(example, tmp_path, outline, fit, clearance, onto, face, turn):
    """A tag of any outline in a socket of a plate, and of a front that leans by 15 degrees, turned in it too."""
    piece = json.loads(DESK.read_text())
    part, foot = piece["components"]
    part["elements"], foot["elements"] = [], []
    part["blank"]["plate"].update({"width": 30.0, "height": 20.0, "thickness": 2.0, "outline": outline})
    part["blank"]["plate"]["edges"] = {"top": "square", "bottom": "square"}
    if onto == "plate":
        foot["blank"] = {"plate": {**copy.deepcopy(part["blank"]["plate"]), "width": 60.0, "height": 40.0,
                                   "thickness": 5.0, "outline": "ellipse"}}
    else:
        foot["blank"]["block"].update({"width": 60.0, "depth": 40.0, "height": 40.0, "lean": 15.0})
    centre = {"from": "centre", "distance": 0.0}
    socket = {"face": face, "depth": None, "turn": turn, "place": {"across": centre, "up": centre}}
    piece["joints"] = [{**piece["joints"][0], "fit": fit, "slot": None, "socket": socket}]
    piece["fronted"] = []
    path = tmp_path / "piece.json"
    path.write_text(json.dumps(piece))
    tag, holder = (solid_of(one) for one in example("put_together", path)["components"])
    # Where it lies on a leaning floor both are on the grid as nearly as can be.
    assert (tag ^ holder).volume() < 1e-2
    # Lifted off its floor, what lies between them is the room all round.
    lean = numpy.radians(15.0 if onto == "block" else 90.0)
    out = numpy.array([0.0, -numpy.cos(lean), numpy.sin(lean)])
    lifted = tag.translate(list(out * 0.9))
    assert (lifted ^ holder).volume() == 0.0
    assert lifted.min_gap(holder, 3.0) == pytest.approx(clearance / 2, abs=0.02)
    over = lifted.translate([clearance * 0.5 + 0.05, 0.0, 0.0])
    assert (over ^ holder).volume() > 1e-3


def two_plates(tmp_path, lean, apart=10.0):
    """The demo's upright twice, in two slots of a deeper foot that lean to each other."""
    piece = copy.deepcopy(json.loads(DESK.read_text()))
    upright, foot = piece["components"]
    piece["components"].append({**copy.deepcopy(upright), "id": "component-3", "name": "The other"})
    foot["blank"]["block"].update({"depth": 60.0, "lean": 0.0})
    foot["elements"] = []
    [joint] = piece["joints"]
    other = copy.deepcopy(joint)
    other.update({"id": "joint-2", "part": "component-3"})
    for one, way in ((joint, 1), (other, -1)):
        one["slot"]["lean"] = -way * lean
        one["slot"]["place"]["up"] = {"from": "centre", "distance": way * apart}
    piece["joints"].append(other)
    path = tmp_path / "piece.json"
    path.write_text(json.dumps(piece))
    return path


@pytest.mark.parametrize("lean", [0.0, 6.0, 12.0, 14.0, 18.0, 25.0, 40.0])
def test_what_collides_is_what_manifold_intersects(example, looked_through, tmp_path, lean):
    """Plates that run into each other are told where their solids share something, and nowhere else."""
    path = two_plates(tmp_path, lean)
    one, foot, other = (solid_of(component) for component in example("put_together", path)["components"])
    shared = (one ^ other).volume()
    assert (one ^ foot).volume() < 1e-6 and (other ^ foot).volume() < 1e-6
    codes = [finding["code"] for finding in looked_through(path)["findings"]]
    # Hardly a touch may be told or not.
    if shared == 0.0 or shared > 20.0:
        assert codes.count("parts-collide") == int(shared > 0.0), (shared, codes)

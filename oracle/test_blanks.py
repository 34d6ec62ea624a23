"""Pieces made of meshes of other programs: what was added and cut, by manifold3d and trimesh."""

import json
import math

import manifold3d
import numpy
import pytest
import trimesh

from conftest import ROOT

HULL = ROOT / "demo" / "ferry-hull.stl"
FERRY = ROOT / "demo" / "ferry-aegir.kalotype.json"


def solid(mesh):
    vertices = numpy.asarray(mesh.vertices, dtype=numpy.float64)
    found = manifold3d.Manifold(manifold3d.Mesh64(vert_properties=vertices, tri_verts=mesh.faces.astype(numpy.uint64)))
    assert found.status() == manifold3d.Error.NoError
    return found


def edited(path, out, elements=None, **blank):
    """A piece file with other elements or another blank."""
    piece = json.loads(path.read_text())
    component = piece["components"][0]
    component["blank"]["mesh"].update(blank)
    if elements is not None:
        component["elements"] = [element for element in component["elements"] if next(iter(element["kind"])) in elements]
    out.write_text(json.dumps(piece))
    return out


def built(kalotype, piece, out):
    """The whole of a piece as an OBJ file, with all its figures."""
    kalotype("build", piece, "-o", out, "--mesh", HULL)
    return trimesh.load(out, process=False, force="mesh")


def test_the_hull_without_work_is_the_hull(kalotype, tmp_path):
    plain = built(kalotype, edited(FERRY, tmp_path / "plain.json", elements=[]), tmp_path / "plain.obj")
    assert plain.is_watertight
    assert plain.volume == pytest.approx(trimesh.load(HULL).volume, rel=1e-6)


def test_what_was_drilled_is_a_cone_and_a_cylinder(kalotype, tmp_path):
    drilled = built(kalotype, edited(FERRY, tmp_path / "hole.json", elements=["hole"]), tmp_path / "hole.obj")
    plain = built(kalotype, edited(FERRY, tmp_path / "plain.json", elements=[]), tmp_path / "plain.obj")
    gone = solid(plain) - solid(drilled)
    # 3 mm across and 8 mm deep, its edge widened by 0.5 mm (cylinder and frustum); followed within 0.02 mm.
    exact = math.pi * (1.5**2 * 7.5 + 0.5 / 3 * (1.5**2 + 1.5 * 2 + 2**2))
    assert gone.volume() == pytest.approx(exact, rel=0.02)
    assert (solid(drilled) - solid(plain)).volume() == pytest.approx(0, abs=1e-6)
    low, high = gone.bounding_box()[2], gone.bounding_box()[5]
    assert (low, high) == (pytest.approx(10, abs=1e-4), pytest.approx(18, abs=1e-4))


def test_letters_stand_on_the_deck_and_only_there(kalotype, tmp_path):
    lettered = built(kalotype, edited(FERRY, tmp_path / "words.json", elements=["lettering"]), tmp_path / "words.obj")
    plain = built(kalotype, edited(FERRY, tmp_path / "plain.json", elements=[]), tmp_path / "plain.obj")
    added = solid(lettered) - solid(plain)
    assert (solid(plain) - solid(lettered)).volume() == pytest.approx(0, abs=1e-6)
    assert added.volume() == pytest.approx(lettered.volume - plain.volume, rel=1e-6)
    assert (added.bounding_box()[2], added.bounding_box()[5]) == (
        pytest.approx(18, abs=1e-4),
        pytest.approx(19.2, abs=1e-4),
    )
    # One body for each of the four letters of ÆGIR.
    assert len(added.decompose()) == 4


@pytest.mark.parametrize("turn", [0, 90, 33])
@pytest.mark.parametrize("face", [0, 1, 2])
def test_a_hull_on_any_face_is_the_same_solid(kalotype, tmp_path, face, turn):
    piece = tmp_path / "face.json"
    kalotype("blank", HULL, "-o", piece, "--face", face + 1)
    out = tmp_path / "face.obj"
    mesh = built(kalotype, edited(piece, piece, turn=turn), out)
    hull = trimesh.load(HULL)
    assert mesh.is_watertight and mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(hull.volume, rel=1e-6)
    assert mesh.area == pytest.approx(hull.area, rel=1e-6)
    assert mesh.bounds[0][2] == 0


def test_a_mesh_that_crosses_itself_is_worked_on_as_its_union(kalotype, tmp_path):
    one = trimesh.creation.box((30, 20, 10))
    other = trimesh.creation.cylinder(radius=8, height=14, sections=48)
    other.apply_translation((9, 4, 3))
    crossed = tmp_path / "crossed.stl"
    trimesh.util.concatenate([one, other]).export(crossed)
    piece, out = tmp_path / "crossed.json", tmp_path / "crossed.obj"
    kalotype("blank", crossed, "-o", piece)
    kalotype("build", piece, "-o", out)
    mesh = trimesh.load(out, process=False, force="mesh")
    assert mesh.is_watertight and mesh.body_count == 1
    assert mesh.volume == pytest.approx((solid(one) + solid(other)).volume(), rel=1e-6)

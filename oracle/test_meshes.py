"""Exported meshes, read by trimesh (a general-purpose mesh library)."""

import json
import struct
from pathlib import Path

import numpy as np
import pytest
import trimesh

from conftest import ROOT

PIECES = sorted([*Path(ROOT, "demo").glob("*.kalotype.json"), *Path(ROOT, "starters").glob("*.kalotype.json")])


def test_there_are_pieces():
    assert len(PIECES) >= 24


@pytest.mark.parametrize("ascii_form", [False, True], ids=["binary", "ascii"])
@pytest.mark.parametrize("tolerance", ["draft", "normal", "fine"])
@pytest.mark.parametrize("piece", PIECES, ids=lambda path: f"{path.parent.name}-{path.name.split('.')[0]}")
def test_trimesh_finds_a_closed_body_of_the_stated_volume(kalotype, tmp_path, piece, tolerance, ascii_form):
    out = tmp_path / "out.stl"
    kalotype("build", piece, "-o", out, "--tolerance", tolerance, *(["--ascii"] if ascii_form else []))
    facts = json.loads(kalotype("facts", piece, "--tolerance", tolerance))

    mesh = trimesh.load(out)
    assert mesh.is_watertight
    assert mesh.is_winding_consistent
    components = facts["components"]
    assert mesh.body_count == facts["parts"] == len(components)
    assert len(mesh.faces) == facts["triangles"]
    assert mesh.volume == pytest.approx(facts["volume_mm3"], rel=1e-6)
    assert mesh.area == pytest.approx(facts["area_mm2"], rel=1e-6)
    assert mesh.extents == pytest.approx(facts["size_mm"], abs=1e-4)
    # That of the first component; several lie beside each other.
    if len(components) == 1:
        assert mesh.center_mass == pytest.approx(facts["centre_of_mass_mm"], abs=1e-4)


def test_a_binary_file_is_80_bytes_a_count_and_50_bytes_a_triangle(kalotype, tmp_path):
    out = tmp_path / "out.stl"
    kalotype("build", PIECES[0], "-o", out)
    data = out.read_bytes()
    (count,) = struct.unpack_from("<I", data, 80)
    assert len(data) == 80 + 4 + 50 * count
    assert not data.startswith(b"solid")


@pytest.mark.parametrize("seed", range(6))
def test_boxes_put_together_become_what_trimesh_unites(kalotype, tmp_path, seed):
    """People join boxes so: twenty of them across each other, at any angle, in one file."""
    r = np.random.default_rng(seed)
    boxes = []
    for _ in range(20):
        box = trimesh.creation.box(r.uniform(4, 30, 3))
        box.apply_transform(trimesh.transformations.random_rotation_matrix(r.uniform(size=3)))
        box.apply_translation(r.uniform(-12, 12, 3))
        boxes.append(box)
    # One face to stand on.
    boxes.append(trimesh.creation.box((60, 60, 10), transform=trimesh.transformations.translation_matrix((0, 0, -30))))
    boxes.append(trimesh.creation.box((5, 5, 40), transform=trimesh.transformations.translation_matrix((0, 0, -10))))
    exact = trimesh.boolean.union(boxes, engine="manifold").volume
    file, piece, out = tmp_path / "boxes.stl", tmp_path / "boxes.json", tmp_path / "out.stl"
    trimesh.util.concatenate(boxes).export(file)
    kalotype("blank", file, "-o", piece)
    kalotype("build", piece, "-o", out)
    mesh = trimesh.load(out)
    assert mesh.is_watertight and mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(exact, rel=2e-5)

"""3MF packages read by lib3mf, the 3MF Consortium's own library, in strict mode; OBJ by trimesh."""

import json

import lib3mf
import pytest
import trimesh

from test_meshes import PIECES


@pytest.mark.parametrize("piece", PIECES, ids=lambda path: f"{path.parent.name}-{path.name.split('.')[0]}")
def test_lib3mf_reads_every_package_without_a_warning(kalotype, tmp_path, piece):
    out = tmp_path / "out.3mf"
    kalotype("build", piece, "-o", out)
    facts = json.loads(kalotype("facts", piece))

    model = lib3mf.Wrapper().CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromFile(str(out))
    assert reader.GetWarningCount() == 0
    assert model.GetUnit() == lib3mf.ModelUnit.MilliMeter
    meta = model.GetMetaDataGroup()
    assert meta.GetMetaDataByKey("", "Title").GetValue() == facts["name"]

    # An object for every component, which can be moved about by itself.
    components = facts["components"]
    objects = model.GetMeshObjects()
    assert objects.Count() == len(components)
    meshes = []
    while objects.MoveNext():
        meshes.append(objects.GetCurrentMeshObject())
    names = [facts["name"]] if len(components) == 1 else [one["name"] for one in components]
    assert [mesh.GetName() for mesh in meshes] == names
    assert all(mesh.IsManifoldAndOriented() for mesh in meshes)
    assert [mesh.GetTriangleCount() for mesh in meshes] == [one["triangles"] for one in components]
    boxes = [_box(mesh) for mesh in meshes]
    for (low, high), component in zip(boxes, components):
        assert [b - a for a, b in zip(low, high)] == pytest.approx(component["size_mm"], abs=1e-4)
    low = [min(low[axis] for low, _ in boxes) for axis in range(3)]
    high = [max(high[axis] for _, high in boxes) for axis in range(3)]
    assert [b - a for a, b in zip(low, high)] == pytest.approx(facts["size_mm"], abs=1e-4)
    # Side by side: none over another.
    for (_, before), (after, _) in zip(boxes, boxes[1:]):
        assert after[0] - before[0] >= 5.0

    items = model.GetBuildItems()
    assert items.Count() == len(components)
    while items.MoveNext():
        transform = items.GetCurrent().GetObjectTransform()
        # Built where the bed begins: nothing at negative coordinates.
        for axis in range(3):
            assert low[axis] + transform.Fields[3][axis] == pytest.approx(0.0, abs=1e-4)


def _box(mesh):
    corners = [vertex.Coordinates for vertex in mesh.GetVertices()]
    return [[pick(corner[axis] for corner in corners) for axis in range(3)] for pick in (min, max)]


@pytest.mark.parametrize("piece", PIECES[:4], ids=lambda path: path.name.split(".")[0])
def test_trimesh_reads_the_same_body_from_obj(kalotype, tmp_path, piece):
    out = tmp_path / "out.obj"
    kalotype("build", piece, "-o", out)
    facts = json.loads(kalotype("facts", piece))
    mesh = trimesh.load(out, force="mesh")
    assert mesh.is_watertight and mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(facts["volume_mm3"], rel=1e-6)

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

    objects = model.GetMeshObjects()
    assert objects.Count() == 1
    objects.MoveNext()
    mesh = objects.GetCurrentMeshObject()
    assert mesh.GetName() == facts["name"]
    assert mesh.IsManifoldAndOriented()
    assert mesh.GetTriangleCount() == facts["triangles"]
    low, high = (tuple(corner) for corner in _box(mesh))
    assert [b - a for a, b in zip(low, high)] == pytest.approx(facts["size_mm"], abs=1e-4)

    items = model.GetBuildItems()
    assert items.Count() == 1
    items.MoveNext()
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

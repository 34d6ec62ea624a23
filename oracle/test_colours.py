"""Pieces of several colours: bodies by manifold3d and trimesh, packages by lib3mf, drawings by ezdxf and
shapely, pictures by Pillow."""

import io
import itertools
import json
import re
import zipfile

import ezdxf
import lib3mf
import manifold3d
import numpy
import pytest
import shapely
import trimesh
from PIL import Image

from test_meshes import PIECES

named = pytest.mark.parametrize("piece", PIECES, ids=lambda path: f"{path.parent.name}-{path.name.split('.')[0]}")
PIECES_READ = {path: json.loads(path.read_text()) for path in PIECES}
COLOURED = [path for path, piece in PIECES_READ.items() if len(piece["filaments"]) > 1 and len(piece["components"]) == 1]
coloured = pytest.mark.parametrize("piece", COLOURED, ids=lambda path: path.name.split(".")[0])


def test_enough_pieces_have_colours():
    assert len(COLOURED) >= 10


def read_obj(text):
    """The objects of an OBJ file with every figure as it stands: name to vertices and faces."""
    objects, vertices, first = {}, [], 0
    for line in text.splitlines():
        kind, *words = line.split()
        if kind == "o":
            first += len(vertices)
            vertices, faces = [], []
            objects[words[0]] = (vertices, faces)
        elif kind == "v":
            vertices.append([float(word) for word in words])
        elif kind == "f":
            faces.append([int(word) - 1 - first for word in words])
    return {name: (numpy.array(v), numpy.array(f)) for name, (v, f) in objects.items()}


def volume(vertices, faces):
    a, b, c = (vertices[faces[:, i]] for i in range(3))
    return float(numpy.einsum("ij,ij->i", a, numpy.cross(b, c)).sum()) / 6


def solid(vertices, faces):
    return manifold3d.Manifold(manifold3d.Mesh64(vert_properties=vertices, tri_verts=faces.astype(numpy.uint64)))


@coloured
def test_bodies_are_closed_never_overlap_and_make_up_the_whole(kalotype, tmp_path, piece):
    kalotype("build", piece, "-o", tmp_path, "--format", "obj", "--colours", "split")
    (split,) = tmp_path.glob("*.obj")
    bodies = read_obj(split.read_text())
    out = tmp_path / "whole.obj"
    kalotype("build", piece, "-o", out)
    (whole,) = read_obj(out.read_text()).values()

    assert len(bodies) == len(json.loads(piece.read_text())["filaments"])
    for vertices, faces in bodies.values():
        mesh = trimesh.Trimesh(vertices, faces, process=False)
        assert mesh.is_watertight and mesh.is_winding_consistent
        assert volume(vertices, faces) > 0
    total = sum(volume(*body) for body in bodies.values())
    # On a face that leans corners are rounded to the grid, by half of 2^-16 mm at most.
    blanks = [next(iter(component["blank"])) for component in json.loads(piece.read_text())["components"]]
    leans = any(blank not in ("plate", "mesh") for blank in blanks)
    assert total == pytest.approx(volume(*whole), rel=1e-7 if leans else 1e-9)

    solids = [solid(*body) for body in bodies.values()]
    assert all(one.status() == manifold3d.Error.NoError for one in solids)
    for a, b in itertools.combinations(solids, 2):
        assert abs((a ^ b).volume()) < (1e-2 if leans else 1e-6)


@coloured
@pytest.mark.parametrize("division", ["split", "apart"])
def test_lib3mf_reads_parts_and_materials(kalotype, tmp_path, piece, division):
    out = tmp_path / "out.3mf"
    kalotype("build", piece, "-o", out, "--colours", division)
    filaments = json.loads(piece.read_text())["filaments"]

    model = lib3mf.Wrapper().CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromFile(str(out))
    assert reader.GetWarningCount() == 0
    meshes = model.GetMeshObjects()
    assert meshes.Count() == len(filaments)
    by_name = {filament["name"]: filament["colour"] for filament in filaments}
    while meshes.MoveNext():
        mesh = meshes.GetCurrentMeshObject()
        assert mesh.IsManifoldAndOriented()
        resource, index, has = mesh.GetObjectLevelProperty()
        assert has
        group = model.GetBaseMaterialGroupByID(resource)
        assert group.GetName(index) == mesh.GetName()
        colour = group.GetDisplayColor(index)
        assert f"#{colour.Red:02x}{colour.Green:02x}{colour.Blue:02x}" == by_name[mesh.GetName()]
        assert colour.Alpha == 255
        # lib3mf does not look whether a mesh is inside out.
        corners = numpy.array([vertex.Coordinates for vertex in mesh.GetVertices()], dtype=float)
        faces = numpy.array([triangle.Indices for triangle in mesh.GetTriangleIndices()])
        assert volume(corners, faces) > 0
    parts = model.GetComponentsObjects()
    assert model.GetBuildItems().Count() == (1 if division == "split" else len(filaments))
    if division == "split":
        assert parts.MoveNext()
        assert parts.GetCurrentComponentsObject().GetComponentCount() == len(filaments)

    # Nor whether colours are colours: 3MF Core Specification 1.3, 5.1.1, ST_ColorValue. And it takes XML
    # that breaks off.
    with zipfile.ZipFile(out) as package:
        xml = package.read("3D/3dmodel.model").decode()
        picture = Image.open(io.BytesIO(package.read("Metadata/thumbnail.png")))
        assert "/Metadata/thumbnail.png" in package.read("_rels/.rels").decode()
    assert xml.endswith("</model>\n")
    for colour in re.findall(r'displaycolor="([^"]*)"', xml):
        assert re.fullmatch(r"#[0-9A-F]{8}", colour)
    assert picture.size == (320, 240)
    assert picture.mode == "RGBA" and picture.getextrema()[3] == (0, 255)


def polygons(rings):
    """The area enclosed by closed rings that do not cross, by the even-odd rule."""
    area = shapely.Polygon()
    for ring in sorted((shapely.Polygon(ring) for ring in rings), key=lambda one: -one.area):
        area = area.symmetric_difference(ring)
    return area


@named
def test_drawings_have_the_same_layers_in_svg_and_dxf_true_to_size(kalotype, tmp_path, piece):
    svg_file, dxf_file = tmp_path / "out.svg", tmp_path / "out.dxf"
    kalotype("build", piece, "-o", svg_file)
    kalotype("build", piece, "-o", dxf_file)

    drawing = ezdxf.readfile(dxf_file)
    assert not drawing.audit().has_errors
    assert drawing.header["$INSUNITS"] == ezdxf.units.MM
    rings = {}
    for line in drawing.modelspace():
        assert line.dxftype() == "LWPOLYLINE" and line.closed
        rings.setdefault(line.dxf.layer, []).append([point[:2] for point in line.get_points("xy")])
    by_dxf = [polygons(found) for found in rings.values()]

    text = svg_file.read_text()
    groups = re.findall(r'data-name="([^"]*)".*? d="([^"]*)"', text)
    by_svg = []
    for _, path in groups:
        points = [[tuple(map(float, xy.split())) for xy in re.split("[ML]", ring) if xy] for ring in path.split("Z")]
        by_svg.append(polygons(ring for ring in points if ring))
    assert groups[0][0] == "cut" and list(rings)[0] == "cut"
    assert len(by_svg) == len(by_dxf)
    for svg, dxf in zip(by_svg, by_dxf):
        assert svg.area == pytest.approx(dxf.area, rel=1e-4)

    # True to size: a millimetre wider than what is drawn on every side.
    width, height = (float(size) for size in re.search(r'width="([\d.]+)mm" height="([\d.]+)mm"', text).groups())
    box = shapely.union_all(by_dxf).bounds
    assert (width - 2, height - 2) == pytest.approx((box[2] - box[0], box[3] - box[1]), abs=1e-3)


def test_components_of_several_colours_are_bodies_of_their_own(kalotype, tmp_path):
    piece = next(path for path in PIECES if path.name.startswith("key-box"))
    kalotype("build", piece, "-o", tmp_path, "--format", "obj", "--colours", "split")
    (split,) = tmp_path.glob("*.obj")
    bodies = read_obj(split.read_text())
    assert sorted(bodies) == ["Box,_Harbour_blue", "Lid,_Harbour_blue", "Lid,_Lantern_yellow"]
    facts = json.loads(kalotype("facts", piece))
    total = 0.0
    for vertices, faces in bodies.values():
        mesh = trimesh.Trimesh(vertices, faces, process=False)
        assert mesh.is_watertight and mesh.is_winding_consistent
        total += volume(vertices, faces)
    assert total == pytest.approx(facts["volume_mm3"], rel=1e-6)
    solids = [solid(*body) for body in bodies.values()]
    assert all((a ^ b).volume() == 0.0 for a, b in itertools.combinations(solids, 2))


@coloured
def test_pictures_show_every_colour(kalotype, tmp_path, piece):
    for kind, size in [("plan-png", 1280), ("solid-png", 1280)]:
        out = tmp_path / f"{kind}.png"
        kalotype("build", piece, "-o", out, "--format", kind)
        picture = Image.open(out)
        assert max(picture.size) == size
        seen = numpy.asarray(picture)
        assert seen[..., 3].max() == 255 and seen[0, 0, 3] == 0
        if kind == "plan-png":
            for filament in json.loads(piece.read_text())["filaments"]:
                wanted = [int(filament["colour"][i : i + 2], 16) for i in (1, 3, 5)]
                assert (seen[..., :3] == wanted).all(axis=-1).any(), filament["name"]

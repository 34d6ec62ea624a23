"""Runs the built programs whose output the checks compare with reference libraries."""

import json
import os
import subprocess
from pathlib import Path

import numpy as np
import pytest
import trimesh
from shapely.geometry import Polygon

ROOT = Path(__file__).resolve().parent.parent
TARGET = Path(os.environ.get("CARGO_TARGET_DIR", ROOT / "target")) / "debug"


@pytest.fixture
def kalotype():
    """Runs `kalotype` with arguments and returns its standard output."""

    def run(*arguments):
        done = subprocess.run([TARGET / "kalotype", *map(str, arguments)], capture_output=True, text=True, check=False)
        assert done.returncode == 0, done.stderr
        return done.stdout

    return run


@pytest.fixture
def looked_through():
    """What `kalotype check` says of one piece file, as JSON: `findings` and `printed`."""

    def run(path, *arguments):
        command = [TARGET / "kalotype", "check", "--json", str(path), *map(str, arguments)]
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        # 5 and 6 say that there is something to look at or to mend.
        assert done.returncode in (0, 5, 6), done.stderr
        return json.loads(done.stdout)[0]

    return run


@pytest.fixture
def example():
    """Runs an example program of the core and returns the JSON it prints."""

    def run(name, *arguments):
        program = TARGET / "examples" / name
        done = subprocess.run([program, *map(str, arguments)], capture_output=True, text=True, check=True)
        return json.loads(done.stdout)

    return run


@pytest.fixture
def set_words(example):
    """Sets words with the core and returns what came of it."""

    def run(face, height, tolerance, words):
        return example("set_words", face, height, tolerance, words)

    return run


def section(mesh, height):
    """What a mesh is at a height."""
    path, _ = mesh.section(plane_origin=[0, 0, height], plane_normal=[0, 0, 1]).to_2D(to_2D=np.eye(4))
    whole = Polygon()
    for ring in path.discrete:
        whole = whole.symmetric_difference(Polygon(ring).buffer(0))
    return whole


@pytest.fixture
def plated(kalotype, tmp_path):
    """Makes a square-edged plate of 100 × 60 × 3 mm with elements on it: its piece file, and its mesh."""

    def make(elements, tolerance="normal", **plate):
        piece = json.loads((ROOT / "demo" / "berth-growing.kalotype.json").read_text())
        piece.update(kalotype=14, set_aside=[])
        [component] = piece["components"]
        square = dict.fromkeys(["top_left", "top_right", "bottom_right", "bottom_left"], "square")
        component["blank"]["plate"].update(
            {
                "width": 100, "height": 60, "thickness": 3, "grows": {"width": None, "height": None},
                "outline": {"rectangle": {**square, "rounding": 0}}, "edges": {"top": "square", "bottom": "square"},
                "faces": {"top": None, "bottom": None}, **plate,
            }
        )  # fmt: skip
        component["margin"] = 2
        component["elements"] = elements
        file, out = tmp_path / "piece.json", tmp_path / "piece.stl"
        file.write_text(json.dumps(piece))
        kalotype("build", file, "-o", out, "--tolerance", tolerance)
        mesh = trimesh.load_mesh(out)
        assert mesh.is_watertight
        return file, mesh

    return make

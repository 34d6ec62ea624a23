"""Random pieces of every blank, things on every one of its faces in any order, at every tolerance: their volume in
closed form. What is sunk shares ground with other things that are sunk as it likes (shapely says what is how deep);
what is raised stands beside it. More pieces are made with `KALOTYPE_RANDOM=3000`, other ones with `KALOTYPE_SEED`.
"""

import itertools
import json
import math
import os
import random

import pytest
import shapely
import trimesh
from shapely.affinity import rotate, scale, translate
from shapely.geometry import Point, box

from conftest import ROOT

PIECES = int(os.environ.get("KALOTYPE_RANDOM", "90"))
SEED = os.environ.get("KALOTYPE_SEED", "1")
PARTS = 6
EDGE = 5
CHORD = {"draft": 0.05, "normal": 0.02, "fine": 0.005}
SQUARE = dict.fromkeys(["top_left", "top_right", "bottom_right", "bottom_left"], "square")
WORDS = ["I", "HIT", "Øre", "8", "Łódź"]


def plate(r):
    w, h, t = r.uniform(60, 140), r.uniform(50, 110), r.uniform(3, 9)
    kind = r.choice(["rectangle", "ellipse", "stadium", "hexagon"])
    outline, area, wide, high = {
        "rectangle": ({"rectangle": SQUARE}, w * h, w, h),
        "ellipse": ("ellipse", math.pi * w * h / 4, w * 0.68, h * 0.68),
        "stadium": ("stadium", min(w, h) * (max(w, h) - min(w, h)) + math.pi * min(w, h) ** 2 / 4, w * 0.66, h * 0.66),
        "hexagon": (
            {"polygon": {"sides": 6, "turn": r.uniform(0, 60), "rounding": 0, "regular": {"flats": h}}},
            h * h * math.sqrt(3) / 2, h * 0.6, h * 0.6,
        ),
    }[kind]  # fmt: skip
    fields = {
        "width": w, "height": h, "thickness": t, "outline": outline, "edges": {"top": "square", "bottom": "square"},
        "grows": {"width": None, "height": None}, "faces": {"top": None, "bottom": None},
    }  # fmt: skip
    faces = {face: ((wide, high), t / 2 - 0.3, None) for face in ("front", "back")}
    return fields, area * t, faces, 2 * math.pi * max(w, h) * t


def block(r):
    w, d, h, lean = r.uniform(60, 150), r.uniform(40, 70), r.uniform(30, 60), r.choice([0, r.uniform(1, 25)])
    back = h * math.tan(math.radians(lean))
    fields = {"width": w, "depth": d, "height": h, "lean": lean, "top": "square", "bottom": "square", "ends": "square"}
    front = h / math.cos(math.radians(lean))
    # The ends of a block that leans are trapeziums: only their middle counts.
    ends = (d - back - 4, h * 0.9)
    faces = {
        "front": ((w, front), 3, None), "back": ((w, h), 3, None), "top": ((w, d - back), 3, None),
        **({"left": (ends, 3, None), "right": (ends, 3, None)} if lean == 0 else {}),
    }  # fmt: skip
    return fields, w * h * (d - back / 2), faces, 0


def bent_bar(r):
    length, t, angle = r.uniform(70, 160), r.uniform(4, 8), r.uniform(50, 130)
    base, upright = r.uniform(48, 70), r.uniform(48, 70)
    inside = r.uniform(0.5, 2)
    outside = inside + t
    half = math.radians(angle) / 2
    taken = outside / math.tan(half)
    legs = r.choice(["corner", "straight"])
    before = taken if legs == "straight" else 0
    corner = (1 / math.tan(half)) - (math.pi / 2 - half)
    section = (base + upright + 2 * before) * t - t * t / math.tan(half)
    section += inside**2 * corner - outside**2 * corner
    fields = {
        "length": length, "thickness": t, "base": base, "upright": upright, "legs": legs, "angle": angle,
        "inside": inside, "outside": outside, "long": "square", "ends": "square",
    }  # fmt: skip
    deep = t / 2 - 0.4
    faces = {
        "front": ((length, upright + before - taken), deep, None),
        "back": ((length, upright + before - taken), deep, None),
        "top": ((length, base + before - taken), deep, None),
    }
    return fields, length * section, faces, 4 * length * outside


def tent(r):
    length, leg, angle = r.uniform(70, 150), r.uniform(50, 70), r.uniform(45, 80)
    high = leg * math.cos(math.radians(angle) / 2)
    wide = 2 * leg * math.sin(math.radians(angle) / 2)
    thickness = r.choice([None, r.uniform(3, 5)])
    area = wide * high / 2
    if thickness:
        inner = high - thickness / math.sin(math.radians(angle) / 2)
        area -= inner * inner * math.tan(math.radians(angle) / 2)
    fields = {
        "length": length, "front": leg, "back": leg, "angle": angle, "thickness": thickness,
        "fold": "square", "ends": "square",
    }  # fmt: skip
    # Near its foot and its fold the card runs out to an edge.
    faces = {face: ((length, leg * 0.55), 1.2, None) for face in ("front", "back")}
    return fields, length * area, faces, 0


def cap(r):
    over, wall, skirt, top = r.uniform(60, 100), r.uniform(3, 6), r.uniform(30, 50), r.uniform(4, 8)
    bore = (over + 0.2) / 2
    radius, height = bore + wall, skirt + top
    fields = {
        "over": over, "fit": {"clearance": 0.2}, "wall": wall, "skirt": skirt, "top": top, "grip": "plain",
        "lead_in": 0, "hold": "nothing", "vent": None, "upper": "square", "lower": "square",
    }  # fmt: skip
    faces = {
        "top": ((radius * 1.3, radius * 1.3), top / 2 - 0.4, None),
        "under": ((bore * 1.3, bore * 1.3), top / 2 - 0.4, None),
        "around": ((radius * 4, height), wall / 2 - 0.4, radius),
    }
    volume = math.pi * (radius**2 * height - bore**2 * skirt)
    return fields, volume, faces, 2 * math.pi * (radius * height + bore * skirt)


def plug(r):
    into, shank, collar, top = r.uniform(60, 90), r.uniform(20, 40), r.uniform(2, 8), r.uniform(20, 30)
    radius, outer = (into - 0.2) / 2, into / 2 + collar
    fields = {
        "into": into, "fit": {"clearance": 0.2}, "shank": shank, "taper": 0, "wall": None, "collar": collar,
        "top": top, "grip": "plain", "lead_in": "square", "upper": "square",
    }  # fmt: skip
    faces = {
        "top": ((outer * 1.3, outer * 1.3), 3, None), "under": ((radius * 1.3, radius * 1.3), 3, None),
        "around": ((outer * 4, top), 1.5, outer),
    }  # fmt: skip
    volume = math.pi * (radius**2 * shank + outer**2 * top)
    return fields, volume, faces, 2 * math.pi * (radius * shank + outer * top)


def ring(r):
    over, wall, height = r.uniform(50, 80), r.uniform(4, 8), r.uniform(25, 40)
    bore = (over + 0.2) / 2
    fields = {"over": over, "fit": {"clearance": 0.2}, "wall": wall, "height": height, "comfort": "square", "edge": "square"}
    faces = {
        "around": (((bore + wall) * 4, height), wall / 2 - 0.5, bore + wall),
        "inside": ((bore * 4, height), wall / 2 - 0.5, -bore),
    }
    volume = math.pi * ((bore + wall) ** 2 - bore**2) * height
    return fields, volume, faces, 2 * math.pi * (2 * bore + wall) * height


def open_box(r):
    w, d, h = r.uniform(60, 110), r.uniform(60, 90), r.uniform(40, 60)
    wall, floor = r.uniform(3, 6), r.uniform(3, 6)
    fields = {
        "width": w, "depth": d, "height": h, "wall": wall, "floor": floor, "corner": 0,
        "upper": "square", "lower": "square",
    }  # fmt: skip
    faces = {
        "front": ((w, h), wall - 0.8, None), "back": ((w, h), wall - 0.8, None), "left": ((d, h), wall - 0.8, None),
        "right": ((d, h), wall - 0.8, None), "inside": ((w, d), floor / 2 - 0.4, None),
        "under": ((w, d), floor / 2 - 0.4, None),
    }  # fmt: skip
    volume = (w + 2 * wall) * (d + 2 * wall) * (h + floor) - w * d * h
    return fields, volume, faces, 0


BLANKS = {
    "plate": plate, "block": block, "bent-bar": bent_bar, "tent": tent, "cap": cap, "plug": plug, "ring": ring,
    "box": open_box,
}  # fmt: skip


def place(x, y):
    return {"across": {"from": "centre", "distance": x}, "up": {"from": "centre", "distance": y}}


def sunk(r, name, face, wide, high, deep):
    """Something sunk into the lower half of a face: the element, its plan and how deep it is."""
    side = min(wide / 2, high / 2) * 0.8
    w, h = r.uniform(0.3, 0.6) * side, r.uniform(0.3, 0.6) * side
    x = r.uniform(-1, 1) * (wide / 2 - 0.55 * side)
    y = -high / 4 + r.uniform(-1, 1) * max(high / 4 - 0.45 * side, 0)
    # Three may lie in each other.
    depth, turn = round(r.uniform(0.1, deep / 3), 3), r.uniform(0, 90)
    kind = r.choice(["rectangle", "ellipse", "hole"])
    if kind == "hole":
        plan = Point(x, y).buffer(w / 2, quad_segs=256)
        fields = {"shape": "round", "diameter": w, "turn": 0, "depth": depth, "edges": {"top": "square", "bottom": "square"}}
        return element(name, face, "hole", {**fields, "place": place(x, y), "repeat": "once"}), plan, depth
    if kind == "ellipse":
        plan, outline = scale(Point(0, 0).buffer(0.5, quad_segs=256), w, h), "ellipse"
    else:
        plan, outline = box(-w / 2, -h / 2, w / 2, h / 2), {"rectangle": SQUARE}
    plan = translate(rotate(plan, turn, origin=(0, 0)), x, y)
    own = {"own": {"width": w, "height": h, "outline": outline, "turn": turn, "fit": None}}
    fields = {"shape": own, "depth": {"by": depth}, "floor": None, "edge": "square", "place": place(x, y), "repeat": "once"}
    return element(name, face, "recess", fields), plan, depth


def element(name, face, kind, fields):
    return {"id": name, "locked": False, "face": face, "kind": {kind: fields}}


def lettering(r, name, face, wide, high, deep):
    """Words in the upper half of a face, raised or sunk: the element, the words, their height, by how much."""
    words = r.choice(WORDS)
    tall = min(high / 4, wide / 2 / max(len(words), 2)) * r.uniform(0.5, 0.8)
    by = round(r.uniform(0.3, min(deep, 2)), 3)
    way = r.choice([1, -1])
    relief = {"raised": {"by": by}} if way > 0 else {"recessed": {"by": by}}
    fields = {
        "lines": [{"words": words, "typeface": None, "scale": 1}], "typeface": "rubik", "size": {"height": tall},
        "gives": "nothing", "align": "centre", "pitch": 1.6, "sits_by": "capitals", "course": "straight", "turn": 0,
        "style": {"spacing": 0, "heavier": 0, "capitals": False, "slant": 0, "stretch": 1}, "mirrored": False,
        "relief": relief, "colour": None, "root": 0, "edge": "square", "place": place(0, high / 4 - tall / 4),
        "repeat": "once",
    }  # fmt: skip
    return element(name, face, "lettering", fields), words, tall, way * by


def along(by, radius):
    """What a thing of plan area 1 takes or gives on a face that runs round, by how far it stands out (theorem of
    Pappus: its middle lies by half of that further out, or nearer to the axis inside)."""
    return by if radius is None else by * (1 + by / (2 * radius))


def taken(cuts, radius):
    """What is gone where things are sunk into a face: a recess lies so deep below the floor it is in, a hole below
    the face."""
    gone = 0
    for chosen in itertools.product([True, False], repeat=len(cuts)):
        within = [cut for cut, is_in in zip(cuts, chosen) if is_in]
        if not within:
            continue
        shared = shapely.intersection_all([plan for _, plan, _ in within])
        others = [plan for (_, plan, _), is_in in zip(cuts, chosen) if not is_in]
        alone = shared.difference(shapely.union_all(others)).area
        recesses = sum(depth for kind, _, depth in within if kind == "recess")
        gone -= alone * along(-max([recesses, *(depth for kind, _, depth in within if kind == "hole")]), radius)
    return gone


@pytest.mark.parametrize("part", range(PARTS))
def test_every_blank_with_things_on_every_face_has_its_volume(kalotype, set_words, tmp_path, part):
    r = random.Random(f"{SEED}-{part}")
    kinds = list(BLANKS)
    for number in range(PIECES // PARTS):
        kind = kinds[(part + number) % len(kinds)]
        tolerance = r.choice(list(CHORD))
        fields, exact, faces, curved = BLANKS[kind](r)
        # What chords of curves leave, at the most (a chord lies at most so far inside).
        slack = CHORD[tolerance] * curved
        made = []
        for face, ((wide, high), deep, radius) in faces.items():
            # What is sunk into the face beside it reaches no further than this.
            wide, high = wide - 2 * EDGE, high - 2 * EDGE
            cuts = []
            for i in range(r.randint(0, 3)):
                one, plan, depth = sunk(r, f"sunk-{face}-{i}", face, wide, high, deep)
                made.append(one)
                cuts.append((next(iter(one["kind"])), plan, depth))
                slack += CHORD[tolerance] * plan.length * depth
            exact -= taken(cuts, radius)
            if r.random() < 0.6:
                one, words, tall, by = lettering(r, f"words-{face}", face, wide, high, deep)
                made.append(one)
                area = set_words("rubik", tall, tolerance, words)["area_mm2"]
                exact += area * along(by, radius)
                slack += 0.01 * area * abs(by)
        r.shuffle(made)
        piece = json.loads((ROOT / "demo" / "berth-growing.kalotype.json").read_text())
        piece.update(kalotype=14, set_aside=[])
        piece["components"][0].update(blank={kind: {**fields, "colour": "harbour"}}, elements=made)
        file, out = tmp_path / "piece.json", tmp_path / "piece.obj"
        file.write_text(json.dumps(piece))
        kalotype("build", file, "-o", out, "--tolerance", tolerance)
        mesh = trimesh.load(out, process=False, force="mesh")
        assert mesh.is_watertight and mesh.is_winding_consistent, (kind, number)
        # A piece whose outlines cannot be laid over each other as they are is nudged by so much all round.
        slack += max(1e-4 * exact, 0.002 * mesh.area)
        assert mesh.volume == pytest.approx(exact, abs=slack), (kind, tolerance, number, file)


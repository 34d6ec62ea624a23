"""Lettering against HarfBuzz (shaping), fontTools (outlines) and shapely (areas)."""

import math
from pathlib import Path

import pytest
import shapely
import uharfbuzz
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

from conftest import ROOT

FACES = {path.name: next(path.glob("*.ttf")) for path in sorted(Path(ROOT, "crates/core/typefaces").iterdir())}
WORDS = ["AVATAR", "Łucja", "Ğülşah", "Tǫ", "fifty", "Åse ß"]
HEIGHT = 10.0


def shaped(path, words):
    """Glyph ids and advances as HarfBuzz gives them."""
    font = uharfbuzz.Font(uharfbuzz.Face(uharfbuzz.Blob.from_file_path(str(path))))
    buffer = uharfbuzz.Buffer()
    buffer.add_str(words)
    buffer.guess_segment_properties()
    uharfbuzz.shape(font, buffer)
    return [info.codepoint for info in buffer.glyph_infos], list(buffer.glyph_positions)


def test_there_are_at_least_ten_faces():
    assert len(FACES) >= 10


@pytest.mark.parametrize("words", WORDS)
@pytest.mark.parametrize("face", FACES)
def test_kerned_advances_agree_with_harfbuzz(set_words, face, words):
    found = set_words(face, HEIGHT, "draft", words)
    if found["missing"]:
        pytest.skip(f"{face} lacks {found['missing']}")
    _, positions = shaped(FACES[face], words)
    scale = HEIGHT / found["cap_height_units"]
    assert found["advance_mm"] == pytest.approx(scale * sum(p.x_advance for p in positions), abs=1e-6)


@pytest.mark.parametrize("face", FACES)
def test_the_cap_height_is_what_the_h_measures(set_words, face):
    font = TTFont(FACES[face])
    found = set_words(face, HEIGHT, "draft", "H")
    glyph = font["glyf"][font.getBestCmap()[ord("H")]]
    measured = glyph.yMax - glyph.yMin
    assert found["cap_height_units"] == pytest.approx(measured, abs=0.51)


def flattened(path, glyph_name, scale, chord):
    """The glyph as a shapely region: every curve cut into so many chords that none strays."""
    pen = DecomposingRecordingPen(TTFont(path).getGlyphSet())
    pen.glyphSet[glyph_name].draw(pen)
    rings, ring = [], []

    def quadratic(p0, p1, p2):
        # A chord of a quadratic strays at most |p0 - 2 p1 + p2| / (4 n^2) (Bézier error bound).
        bend = math.hypot(p0[0] - 2 * p1[0] + p2[0], p0[1] - 2 * p1[1] + p2[1]) * scale
        n = max(1, math.ceil(math.sqrt(bend / (4 * chord))))
        for i in range(1, n + 1):
            t = i / n
            yield tuple((1 - t) ** 2 * a + 2 * t * (1 - t) * b + t * t * c for a, b, c in zip(p0, p1, p2))

    for verb, points in pen.value:
        if verb == "moveTo":
            ring = [points[0]]
        elif verb == "lineTo":
            ring.append(points[0])
        elif verb == "qCurveTo":
            if points[-1] is None:
                start = tuple((a + b) / 2 for a, b in zip(points[0], points[-2]))
                ring, points = [start], [*points[:-1], start]
            offs, end = list(points[:-1]), points[-1]
            for i, off in enumerate(offs):
                last = i == len(offs) - 1
                on = end if last else tuple((a + b) / 2 for a, b in zip(off, offs[i + 1]))
                ring.extend(quadratic(ring[-1], off, on))
        elif verb == "closePath":
            rings.append(ring)
        else:
            raise AssertionError(f"{verb} in a TrueType face")
    return nonzero(rings, scale)


def nonzero(rings, scale):
    """The faces of the rings' line work around which they wind, summed, a number of times other than zero."""
    scaled = [[(x * scale, y * scale) for x, y in ring] for ring in rings if len(ring) > 2]
    lines = shapely.union_all([shapely.LinearRing(ring) for ring in scaled])
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(lines)))
    inside = [face for face in faces if winding(face.representative_point(), scaled) != 0]
    return shapely.union_all(inside)


def winding(point, rings):
    """Winding number of the rings around a point, by the crossings of a ray to the right."""
    number = 0
    for ring in rings:
        for (x0, y0), (x1, y1) in zip(ring, ring[1:] + ring[:1]):
            side = (x1 - x0) * (point.y - y0) - (point.x - x0) * (y1 - y0)
            if y0 <= point.y < y1 and side > 0:
                number += 1
            elif y1 <= point.y < y0 and side < 0:
                number -= 1
    return number


@pytest.mark.parametrize("letter", "HOBSg8&")
@pytest.mark.parametrize("face", FACES)
def test_letter_areas_agree_with_fonttools_and_shapely(set_words, face, letter):
    path = FACES[face]
    found = set_words(face, HEIGHT, "fine", letter)
    (glyph,), _ = shaped(path, letter)
    name = TTFont(path).getGlyphOrder()[glyph]
    scale = HEIGHT / found["cap_height_units"]
    exact = flattened(path, name, scale, 1e-4)
    # Our chords stray by up to 0.005 mm, so the area may differ by that along the outline.
    assert found["area_mm2"] == pytest.approx(exact.area, abs=0.005 * exact.length)
    low, high = found["bounds_mm"], exact.bounds
    assert (low["x0"], low["y0"] + found["cap_foot_units"] * scale, low["x1"]) == pytest.approx((high[0], high[1], high[2]), abs=0.006)

"""Fonts of one's own: WOFF2 and variable ones, against HarfBuzz (advances), FreeType (outlines) and
fontTools (unpacking)."""

import io

import freetype
import pytest
import uharfbuzz
from fontTools.ttLib import TTFont

from conftest import ROOT

FOLDER = ROOT / "web/node_modules/@fontsource-variable/hanken-grotesk/files"
PACKED = FOLDER / "hanken-grotesk-latin-wght-normal.woff2"
HEIGHT = 10.0


@pytest.fixture(scope="module")
def unpacked():
    """The same font as plain TrueType, unpacked by fontTools."""
    font = TTFont(PACKED)
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def advance(unpacked, weight, words):
    """The advance in font units as HarfBuzz gives it."""
    font = uharfbuzz.Font(uharfbuzz.Face(unpacked))
    font.set_variations({"wght": weight})
    buffer = uharfbuzz.Buffer()
    buffer.add_str(words)
    buffer.guess_segment_properties()
    uharfbuzz.shape(font, buffer)
    return sum(position.x_advance for position in buffer.glyph_positions)


@pytest.mark.parametrize("weight", [100, 400, 725, 900])
@pytest.mark.parametrize("words", ["AVATAR", "fifty", "Solveig"])
def test_a_variable_woff2_is_set_as_harfbuzz_sets_it(example, unpacked, weight, words):
    found = example("own_face", PACKED, weight, HEIGHT, words)
    scale = HEIGHT / found["cap_height_units"]
    expected = scale * advance(unpacked, weight, words)
    # HarfBuzz rounds every advance of a variation to whole units.
    assert found["advance_mm"] == pytest.approx(expected, abs=0.6 * scale * len(words))
    assert "OFL" in found["licence"] or "Open Font" in found["licence"]
    assert found["faces"][0]["weights"] == [100.0, 400.0, 900.0]


@pytest.mark.parametrize("weight", [100, 725, 900])
@pytest.mark.parametrize("letter", list("HOg&"))
def test_the_outlines_are_those_freetype_draws(example, unpacked, weight, letter):
    found = example("own_face", PACKED, weight, HEIGHT, letter)
    face = freetype.Face(io.BytesIO(unpacked))
    face.set_var_design_coords([weight])
    face.load_char(letter, freetype.FT_LOAD_NO_SCALE | freetype.FT_LOAD_NO_HINTING)
    box = face.glyph.outline.get_bbox()
    scale = HEIGHT / found["cap_height_units"]
    bounds = found["bounds_mm"]
    for key, units in [("x0", box.xMin), ("x1", box.xMax), ("y0", box.yMin), ("y1", box.yMax)]:
        # FreeType rounds the points of a variation to whole units; chords stray by 0.005 mm.
        assert bounds[key] == pytest.approx(scale * units, abs=1.1 * scale + 0.01), key

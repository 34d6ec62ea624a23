"""Fonts of one's own: WOFF2 and variable ones, against HarfBuzz (advances), FreeType (outlines) and
fontTools (unpacking)."""

import io

import freetype
import pytest
import uharfbuzz
from fontTools.cffLib import SubrsIndex
from fontTools.fontBuilder import FontBuilder
from fontTools.misc.psCharStrings import T2CharString
from fontTools.pens.t2CharStringPen import T2CharStringPen
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


@pytest.fixture(scope="module")
def cubic(unpacked, tmp_path_factory):
    """The same outlines in the Compact Font Format, each letter in a subroutine of its own."""
    font = TTFont(io.BytesIO(unpacked))
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    charstrings = {}
    for name in order:
        pen = T2CharStringPen(glyphs[name].width, glyphs)
        glyphs[name].draw(pen)
        charstrings[name] = pen.getCharString()
    builder = FontBuilder(font["head"].unitsPerEm, isTTF=False)
    builder.setupGlyphOrder(order)
    builder.setupCharacterMap(font.getBestCmap())
    builder.setupHorizontalMetrics({name: font["hmtx"][name] for name in order})
    builder.setupHorizontalHeader(ascent=font["hhea"].ascent, descent=font["hhea"].descent)
    builder.setupCFF("Cubic", {}, charstrings, {})
    builder.setupNameTable({"familyName": "Cubic", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    for tag in {"GDEF", "GPOS", "GSUB"} & set(font.keys()):
        builder.font[tag] = font[tag]
    top = builder.font["CFF "].cff.topDictIndex[0]
    top.Private.Subrs = SubrsIndex()
    bias = 107 if len(order) < 1240 else 1131
    for number, name in enumerate(order):
        charstring = top.CharStrings[name]
        charstring.decompile()
        # The width stands before the first operator, and may not be in a subroutine alone.
        body = T2CharString(program=[*charstring.program[:-1], "return"])
        body.private, body.globalSubrs = top.Private, builder.font["CFF "].cff.GlobalSubrs
        top.Private.Subrs.append(body)
        charstring.program = [number - bias, "callsubr", "endchar"]
    file = tmp_path_factory.mktemp("cubic") / "cubic.otf"
    builder.save(file)
    return file


@pytest.mark.parametrize("words", ["Solveig", "Håkon 8&"])
def test_letters_in_subroutines_are_those_that_are_not(example, unpacked, cubic, tmp_path, words):
    plain = tmp_path / "plain.ttf"
    plain.write_bytes(unpacked)
    one, other = (example("own_face", file, 400, HEIGHT, words) for file in (plain, cubic))
    for key, mm in one["bounds_mm"].items():
        assert other["bounds_mm"][key] == pytest.approx(mm, abs=0.02), key

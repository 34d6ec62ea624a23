"""Offsets of lettering against shapely's buffer, which is GEOS's."""

import pytest
import shapely


def region_of(contours):
    """Outer contours turn counter-clockwise, counters clockwise."""
    rings = [shapely.LinearRing(contour) for contour in contours]
    outers = [shapely.Polygon(ring) for ring in rings if ring.is_ccw]
    counters = [shapely.Polygon(ring) for ring in rings if not ring.is_ccw]
    return shapely.union_all(outers).difference(shapely.union_all(counters))


@pytest.mark.parametrize("distance", [2.0, 0.5, 0.2, -0.2, -0.5])
@pytest.mark.parametrize("face", ["nunito", "bebas-neue", "noto-serif", "pacifico", "press-start-2p"])
def test_offsets_agree_with_shapely(example, face, distance):
    found = example("offset_words", face, 12, distance, "Sjø8&")
    region = region_of(found["contours_mm"])
    assert region.area == pytest.approx(found["area_mm2"], rel=1e-9)
    exact = region.buffer(distance, quad_segs=128)
    # Arcs are flattened to 0.005 mm, so the area may differ by that along the outline.
    assert found["offset_area_mm2"] == pytest.approx(exact.area, abs=0.005 * exact.length + 1e-3)

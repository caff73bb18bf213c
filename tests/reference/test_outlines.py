"""Flat outlines against closed forms, drawn by other hands: group codes put down here, and matplotlib."""

import io
import math
import random
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.figure import Figure
from matplotlib.patches import Circle, PathPatch, Rectangle
from matplotlib.path import Path
from scipy.interpolate import BSpline
from shapely import affinity
from shapely.geometry import Polygon

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.outline import Outline, loops_of, outlines_of
from kiteloom.formats.dxf import read_dxf
from kiteloom.formats.outline_files import loops_in


def dxf(*entities, unit=4, blocks=""):
    """A drawing as text: its group codes as the format's published reference has them, from memory."""
    header = f"0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n9\n$INSUNITS\n70\n{unit}\n0\nENDSEC\n"
    blocks = f"0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n"
    return header + blocks + "0\nSECTION\n2\nENTITIES\n" + "".join(entities) + "0\nENDSEC\n0\nEOF\n"


def entity(kind, *pairs):
    return f"0\n{kind}\n8\n0\n" + "".join(f"{code}\n{value}\n" for code, value in pairs)


def line(a, b):
    return entity("LINE", (10, a[0]), (20, a[1]), (30, 0), (11, b[0]), (21, b[1]), (31, 0))


def polyline(*corners):
    """Corners of x, y and bulge, closed."""
    body = [pair for x, y, bulge in corners for pair in ((10, x), (20, y), (42, bulge))]
    return entity("LWPOLYLINE", (100, "AcDbEntity"), (100, "AcDbPolyline"), (90, len(corners)), (70, 1), *body)


def measured(text, unit=None, kind="dxf"):
    loops, used, assumed = loops_in(kind, text, unit)
    outlines, _ = outlines_of(loops)
    return sum(one.area_mm2 for one in outlines), outlines, used, assumed


# Source: closed forms of a rectangle, a circle's segments, an ellipse; a bulge is the tangent of a quarter of its arc.
def test_arcs_bulges_ellipses_and_unsorted_lines_in_inches():
    slot = polyline((0, 0, 0), (6, 0, 1), (6, 2, 0), (0, 2, 1))  # two half circles of radius 1
    hole = entity("CIRCLE", (10, 3), (20, 1), (30, 0), (40, 0.5))
    area, outlines, unit, _ = measured(dxf(hole, slot, unit=1))
    assert (unit, len(outlines[0].holes)) == ("in", 1)
    assert area == pytest.approx((12 + math.pi - math.pi / 4) * 25.4**2, rel=4e-5)
    flatter = polyline((0, 0, 0), (100, 0, math.tan(math.pi / 12)), (100, 50, 0), (0, 50, 0))  # an arc of 60°
    radius = 50 / (2 * math.sin(math.pi / 6))
    assert measured(dxf(flatter))[0] == pytest.approx(
        5000 + radius**2 / 2 * (math.pi / 3 - math.sin(math.pi / 3)), rel=3e-5
    )
    half = entity("ELLIPSE", (10, 0), (20, 0), (30, 0), (11, 80), (21, 0), (31, 0), (40, 0.5), (41, 0), (42, math.pi))
    assert measured(dxf(half, line((-80, 0), (80, 0))))[0] == pytest.approx(math.pi * 80 * 40 / 2, rel=3e-5)
    corners = [(300 * math.cos(a), 200 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 60, endpoint=False)]
    sides = [
        line(*pair[:: random.Random(n).choice((1, -1))])
        for n, pair in enumerate(zip(corners, corners[1:] + corners[:1], strict=True))
    ]
    random.Random(7).shuffle(sides)
    assert measured(dxf(*sides))[0] == pytest.approx(Polygon(corners).area, rel=1e-9)


# Source: the de Boor curve of the same knots in SciPy, and its area by the trapezoids of 20 000 points.
def test_splines_and_turned_blocks():
    knots = [0, 0, 0, 0, 1, 2, 2, 2, 2]
    points = np.array([(0, 0), (20, 60), (60, 80), (110, 30), (100, 0)], dtype=float)
    curve = BSpline(knots, points, 3)(np.linspace(0, 2, 20_000))
    area = Polygon(curve).area
    body = [(70, 8), (71, 3), (72, len(knots)), (73, len(points)), (74, 0)]
    body += [(40, k) for k in knots] + [pair for x, y in points for pair in ((10, x), (20, y), (30, 0))]
    spline = entity("SPLINE", (100, "AcDbEntity"), (100, "AcDbSpline"), *body)
    assert measured(dxf(spline, line((100, 0), (0, 0))))[0] == pytest.approx(area, rel=4e-5)
    block = entity("BLOCK", (2, "rib"), (70, 0), (10, 0), (20, 0), (30, 0), (3, "rib"))
    block += spline + line((100, 0), (0, 0)) + entity("ENDBLK")
    turned = entity("INSERT", (2, "rib"), (10, 500), (20, -40), (30, 0), (41, 2), (42, -3), (43, 1), (50, 37))
    found, outlines, *_ = measured(dxf(turned, blocks=block))
    assert found == pytest.approx(6 * area, rel=4e-5)
    where = affinity.translate(
        affinity.rotate(affinity.scale(Polygon(curve), 2, -3, origin=(0, 0)), 37, origin=(0, 0)), 500, -40
    )
    assert Polygon(outlines[0].outer).symmetric_difference(where).area < 1e-4 * where.area


# Source: matplotlib's own SVG writer: inches given there, points written, a clip path and a background beside it.
def test_an_svg_of_another_writer():
    figure = Figure(figsize=(8, 4))
    figure.patch.set_visible(False)
    shapes = [Rectangle((0.1, 0.1), 0.8, 0.8), Circle((0.5, 0.5), 0.1)]
    curved = Path(
        [(0.6, 0.2), (0.85, 0.2), (0.85, 0.6), (0.6, 0.2)], [Path.MOVETO, Path.CURVE3, Path.CURVE3, Path.CLOSEPOLY]
    )
    for shape in (*shapes, PathPatch(curved)):
        shape.set_transform(figure.transFigure)
        figure.add_artist(shape)
    text = io.StringIO()
    figure.savefig(text, format="svg")
    area, outlines, unit, _ = measured(text.getvalue(), kind="svg")
    width, height = 8 * 25.4, 4 * 25.4
    # A quadratic curve over a triangle of its control points fills two thirds of it.
    triangle = Polygon([(0.6, 0.2), (0.85, 0.2), (0.85, 0.6)]).area * width * height
    expected = 0.64 * width * height - math.pi * 0.01 * width * height - triangle * 2 / 3
    assert (unit, len(outlines), len(outlines[0].holes)) == ("pt", 1, 2)
    assert area == pytest.approx(expected, rel=1e-4)


# Source: Shapely's areas of the same polygons: cut into lines at their corners, in any order, they are found again.
@given(seed=st.integers(0, 2**32), corners=st.integers(3, 40), turn=st.floats(0, 360), inside=st.integers(0, 4))
def test_loops_are_found_again_from_their_lines(seed, corners, turn, inside):
    dice = random.Random(seed)
    rays = [2 * math.pi * (n + 0.8 * dice.random()) / corners for n in range(corners)]
    outer = [(200 * (1 + dice.random()) * math.cos(a), 200 * (1 + dice.random()) * math.sin(a)) for a in rays]
    holes = [[(x + 12 * n, y) for x, y in ((-30, -5), (-22, -5), (-22, 5), (-30, 5))] for n in range(inside)]
    whole = affinity.rotate(Polygon(outer, holes), turn, origin=(0, 0))
    if (
        not whole.is_valid
        or min(math.hypot(*p) for p in outer) < 60
        or not Polygon(outer).contains(Polygon(holes[0] if holes else outer[:3]))
    ):
        return
    rings = [whole.exterior, *whole.interiors]
    lines = [list(pair) for ring in rings for pair in pairwise(ring.coords)]
    dice.shuffle(lines)
    outlines, _ = outlines_of(loops_of([one if dice.random() < 0.5 else one[::-1] for one in lines])[0])
    assert sum(one.area_mm2 for one in outlines) == pytest.approx(whole.area, rel=1e-9)
    assert sum(one.edge_mm for one in outlines) == pytest.approx(whole.length, rel=1e-9)


def test_lines_shorter_than_ends_are_joined_over_keep_their_curve():
    corners = [(40 * math.cos(a), 30 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 8000, endpoint=False)]
    ends = list(pairwise([*corners, corners[0]]))  # each some 0.03 mm long
    ends[7] = (ends[7][0], (ends[7][1][0] + 0.02, ends[7][1][1]))  # and one that does not quite meet the next
    random.Random(3).shuffle(ends)
    loops, _ = loops_of(ends)
    assert [len(loop) for loop in loops] == [8000]
    assert outlines_of(loops)[0][0].area_mm2 == pytest.approx(math.pi * 1200, rel=1e-5)


def test_what_is_no_outline_is_refused_with_its_place():
    with pytest.raises(Refused, match=r"from x 100, y 48.6 mm to x 100, y 50 mm it is 1.4 mm open"):
        measured(dxf(line((0, 0), (100, 0)), line((100, 0), (100, 48.6)), line((100, 50), (0, 0))))
    with pytest.raises(Refused, match="says no unit"):
        read_dxf(dxf(line((0, 0), (9, 0)), unit=0))
    with pytest.raises(Refused, match="cut off"):
        read_dxf("0\nSECTION\n2\nENTI")
    with pytest.raises(Refused, match="defines entities"):
        measured('<!DOCTYPE svg [<!ENTITY a "aa">]><svg>&a;</svg>', kind="svg")
    assert Outline(((0, 0), (2, 0), (2, 2))).area_mm2 == 2

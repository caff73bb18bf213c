"""Readings, hidden holes and gauges against reference libraries and published tables."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import linregress
from shapely.geometry import Point as Dot
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import parse
from kiteloom.core.build.checks import Check, Point, line_of
from kiteloom.core.build.hidden_hole import LEAST_MM, STEP_IN_MM, STEP_MM, by_pitch, by_two_measures, pilot_mm
from kiteloom.core.build.twist import twist_check
from kiteloom.core.build.vacuum import best_mbar, beyond_words
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4

# ICAO standard atmosphere (ISO 2533), geopotential height in m and pressure in hPa; from memory.
ATMOSPHERE = [
    (0, 1013.25),
    (500, 954.61),
    (1000, 898.75),
    (1500, 845.56),
    (2000, 794.95),
    (3000, 701.09),
    (5000, 540.20),
]
# Standard atmosphere, in inches of mercury by feet: what a gauge can show at best.
GAUGES = [(0, 29.92), (1000, 28.86), (2000, 27.82), (5000, 24.90), (10_000, 20.58)]
# NIST SP 811: pound-force inch and foot in newton metres; the inch of mercury at 0 °C in pascals.
TORQUES = [("1 lbf·in", 0.1129848), ("1 lbf·ft", 1.355818), ("100 in lb", 11.29848), ("12 N·m", 12.0)]


@pytest.mark.parametrize(("metres", "hpa"), ATMOSPHERE)
def test_the_air_presses_as_in_the_standard_atmosphere(metres, hpa):
    assert best_mbar(metres) == pytest.approx(hpa, rel=2e-4)


@pytest.mark.parametrize(("feet", "inches"), GAUGES)
def test_the_best_vacuum_by_height_is_that_of_the_tables_in_inches(feet, inches):
    best = best_mbar(parse(f"{feet} ft", "length", "m")) / parse("1 inHg", "pressure", "mbar")
    assert best == pytest.approx(inches, abs=0.02)


def test_a_gauge_is_doubted_only_well_beyond_what_the_air_presses():
    for metres, hpa in ATMOSPHERE:
        assert beyond_words(hpa, metres) == ""
        assert "is the gauge right?" in beyond_words(hpa + 40, metres)
    assert "24.9 inHg" in beyond_words(950, 1524, "us")
    with pytest.raises(Refused, match="6000 m"):
        best_mbar(9000)


@pytest.mark.parametrize(("typed", "newton_metres"), TORQUES)
def test_torque_is_read_as_nist_has_it(typed, newton_metres):
    assert parse(typed, "torque", "N·m") == pytest.approx(newton_metres, rel=1e-6)


@settings(max_examples=examples(60), deadline=None)
@given(st.floats(0.2, 2), st.floats(0, 2), st.floats(-8, 8), st.floats(-8, 8))
def test_the_twist_asked_half_way_is_that_of_the_ruled_surface(root, tip, in_deg, out_deg):
    """Geometry: straight lines between the sections, drawn by the loft's own stations, cut half way."""
    inner = Station(0, root, twist_deg=in_deg, section=naca4("0012"))
    outer = Station(3, tip, 0.2, 0.1, out_deg, section=naca4("0012"))
    edges = np.array([one.placed(np.array([[0.0, 0.0], [1.0, 0.0]])) for one in (inner, outer)]).mean(axis=0)
    aft, _, up = edges[1] - edges[0]
    middle = twist_check(Loft((inner, outer))).points[1]
    level = in_deg if root >= tip else out_deg
    assert middle.nominal == pytest.approx(math.degrees(math.atan2(-up, aft)) - level, abs=0.006)
    assert middle.at_m == 1.5


@settings(max_examples=examples(100), deadline=None)
@given(ats=st.lists(st.integers(0, 300), min_size=3, max_size=12, unique=True), data=st.data())
def test_the_line_through_stations_is_that_of_scipy(ats, data):
    found = [data.draw(st.floats(-5, 5)) for _ in ats]
    points = [Point(f"p{n}", 0.5, at / 40) for n, at in enumerate(ats)]
    slope, start, worst = line_of(points, found)
    fit = linregress([point.at_m for point in points], [value - 0.5 for value in found])
    assert (slope, start) == pytest.approx((fit.slope, fit.intercept), abs=1e-6)
    leaves = [
        abs(value - 0.5 - fit.intercept - fit.slope * point.at_m) for point, value in zip(points, found, strict=True)
    ]
    assert leaves[worst] == pytest.approx(max(leaves), abs=1e-6)


@st.composite
def holes(draw):
    """Two points and a hole that is seen from both under no flat angle."""
    apart = draw(st.floats(50, 2000))
    x, y = draw(st.floats(-0.5, 1.5)) * apart, draw(st.floats(0.25, 1.5)) * apart
    return apart, x, y


@settings(max_examples=examples(100), deadline=None)
@given(hole=holes())
def test_two_measures_find_the_hole_where_two_circles_cross(hole):
    apart, x, y = hole
    one, other = math.hypot(x, y), math.hypot(x - apart, y)
    found = by_two_measures(apart, one, other)
    assert (found.along_mm, found.across_mm) == pytest.approx((x, y), rel=1e-6, abs=1e-6)
    circles = (Dot(0, 0).buffer(one, 512).exterior, Dot(apart, 0).buffer(other, 512).exterior)
    crossing = circles[0].intersection(circles[1])
    assert crossing.distance(Dot(found.along_mm, found.across_mm)) < 0.005 * apart


@settings(max_examples=examples(40), deadline=None)
@given(hole=holes(), seed=st.integers(0, 2**16))
def test_measures_that_are_off_put_the_hole_off_by_no_more_than_is_said(hole, seed):
    apart, x, y = hole
    one, other = math.hypot(x, y), math.hypot(x - apart, y)
    off = 0.0005 * apart
    said = by_two_measures(apart, one, other, off)
    rng = np.random.default_rng(seed)
    corners = [(a, b) for a in (-off, off) for b in (-off, off)]
    worst = 0.0
    for da, db in [*corners, *rng.uniform(-off, off, (60, 2)).tolist()]:
        moved = by_two_measures(apart, one + da, other + db, off)
        worst = max(worst, math.hypot(moved.along_mm - x, moved.across_mm - y))
    # The rule is of first order: what is a little more comes from the circles' own curve.
    assert worst <= said.off_mm * 1.02
    assert worst >= said.off_mm * 0.9


@settings(max_examples=examples(150), deadline=None)
@given(hole=st.floats(1, 30), off=st.floats(0, 6), drills=st.sampled_from(("metric", "us")))
def test_the_pilot_lies_within_the_last_hole_wherever_it_is_and_the_next_drill_would_not(hole, off, drills):
    found = pilot_mm(hole, off, drills)
    step, least = (STEP_IN_MM, 25.4 / 16) if drills == "us" else (STEP_MM, LEAST_MM)
    last = Dot(0, 0).buffer(hole / 2 + 1e-6, 256)
    if found is None:
        assert hole - 2 * off < least + step
        return
    assert found >= least - 1e-9
    assert (found / step) == pytest.approx(round(found / step))
    assert last.buffer(0.01).contains(Dot(off, 0).buffer(found / 2, 256))
    assert hole - 2 * off < found + step + 1e-6


def test_by_the_pitch_every_one_adds_to_how_far_off_it_is():
    offs = [by_pitch(40, steps, 0.5, 0.1).off_mm for steps in (1, 2, 10)]
    assert offs == pytest.approx([0.6, 0.7, 1.5])
    assert by_pitch(25.4, 12).along_mm == pytest.approx(304.8)


@pytest.mark.parametrize(
    ("apart", "one", "other", "says"),
    [
        (500, 100, 200, "meet nowhere"),
        (500, 900, 300, "meet nowhere"),
        (500, 250.5, 250.5, "so flat an angle"),
        (0, 100, 100, "the distance of the two points"),
        (500, -1, 100, "the measure from the first"),
    ],
)
def test_measures_that_meet_nowhere_or_say_nothing_are_refused(apart, one, other, says):
    with pytest.raises(Refused, match=says):
        by_two_measures(apart, one, other)


def test_a_check_without_places_or_with_its_ends_swapped_is_refused():
    for low, high, points, says in (
        (1, -1, (Point("a", 1),), "ends are swapped"),
        (-1, 1, (), "name at least one place"),
    ):
        with pytest.raises(Refused, match=says):
            Check("length", points, low, high)

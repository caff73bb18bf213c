"""Sections, lofts and laminates against published ordinates, closed forms and a laminate library."""

import math
from itertools import pairwise

import numpy as np
import pytest
from composipy import LaminateProperty, OrthotropicMaterial
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.laminate.stack import Ply, Stack, is_balanced, is_symmetric, ply_figures
from kiteloom.core.shape.loft import Loft, Planform, Station, straight
from kiteloom.core.shape.section import naca4, section_from_sides, section_girth
from kiteloom.core.stores.materials import Cloth
from kiteloom.core.weight.balance import Weight, balance_of, balance_weight, hinge_moment


# Source: Abbott & von Doenhoff, Theory of Wing Sections, NACA 0012 ordinates [% chord].
@pytest.mark.parametrize(("x", "y"), [(5, 3.555), (10, 4.683), (30, 6.002), (50, 5.294), (90, 1.448)])
def test_naca_0012_ordinates(x, y):
    upper = naca4("0012").side("upper")
    assert 100 * np.interp(x / 100, upper[:, 0], upper[:, 1]) == pytest.approx(y, abs=0.005)


# Source: Abbott & von Doenhoff, Theory of Wing Sections, NACA 2412 at 30 % of the chord.
@pytest.mark.parametrize(("side", "y"), [("upper", 7.88), ("lower", -4.12)])
def test_naca_2412_ordinates(side, y):
    points = naca4("2412").side(side)
    assert 100 * np.interp(0.3, points[:, 0], points[:, 1]) == pytest.approx(y, abs=0.01)


# Source: equations of NACA Report 460; arc lengths computed from them, open trailing edge [chords].
@pytest.mark.parametrize(
    ("code", "side", "girth"), [("0012", "upper", 1.0196), ("2412", "upper", 1.0280), ("2412", "lower", 1.0134)]
)
def test_arc_lengths_of_naca_sections(code, side, girth):
    assert section_girth(naca4(code), side) == pytest.approx(girth, abs=1e-4)


# Source: closed form: a prism's side is girth × span; a cone frustum's lateral area.
def test_skin_area_of_a_straight_wing_and_of_a_tapered_cylinder():
    prism = straight(Planform(3, 0.8, 0.8, 0), naca4("2412"), naca4("2412"))
    assert prism.skin_area_m2("upper") == pytest.approx(3 * prism.girth_m("upper", "root"), rel=1e-12)
    around = [(0.5 - 0.5 * math.cos(a), 0.5 * math.sin(a)) for a in np.linspace(0, math.pi, 721)]
    half = section_from_sides("circle", around, [(x, -y) for x, y in around])
    # Half a frustum with both circles touching the same nose line is oblique; centred, it is right.
    frustum = straight(Planform(2, 1.0, 0.5, 0.25), half, half)
    expected = math.pi * (0.5 + 0.25) * math.hypot(2, 0.25) / 2
    assert frustum.skin_area_m2("upper") == pytest.approx(expected, rel=1e-4)


# Source: CMH-17 / MIL-HDBK-17 relations: 290 g/m² glass, 2.56 g/cm³, 55 % by weight, resin 1.15 g/cm³.
def test_ply_thickness_and_volume_fraction():
    figures = ply_figures(Cloth("glass", 290, 2.56, 0.55), 1.15)
    assert figures.fibre_volume_fraction == pytest.approx(0.354, abs=5e-4)
    assert figures.thickness_mm == pytest.approx(0.320, abs=5e-4)


def library(angles, thickness_mm=0.25):
    material = OrthotropicMaterial(181e3, 10.3e3, 0.28, 7.17e3, thickness_mm)
    return LaminateProperty([float(a) for a in angles], material)


# Source: Kaw, Mechanics of Composite Materials, worked example [0/30/−45], 5 mm plies [Pa·m]: it vouches for the
# laminate library (composipy) that our flags are compared with below.
def test_the_laminate_library_gives_the_published_worked_example():
    a = library([0, 30, -45], 5).A * 1e3  # N/mm → Pa·m
    published = {(0, 0): 1.739e9, (0, 1): 3.884e8, (0, 2): 5.663e7, (1, 1): 4.533e8, (1, 2): -1.141e8, (2, 2): 4.525e8}
    for place, value in published.items():
        assert a[place] == pytest.approx(value, rel=2e-3)


# Source: classical laminate theory in composipy: symmetric → B = 0; balanced → A16 = A26 = 0.
@pytest.mark.parametrize(
    "angles",
    [
        (0, 30, -45),
        (45, 0, 0, 45),
        (45, -45),
        (30, -30, -30, 30),
        (0, 90, 0),
        (90, 0),
        (60, -60, 0),
        (20, 70, -70, -20),
    ],
)
def test_our_flags_agree_with_laminate_theory(angles):
    one_way = Cloth("tape", 200, 2.56, 0.6)
    stack = Stack(tuple(Ply(one_way, angle) for angle in angles))
    found = library(angles)
    assert is_symmetric(stack) == bool(np.abs(found.B).max() < 1e-6 * np.abs(found.A).max())
    assert is_balanced(stack) == bool(max(abs(found.A[0, 2]), abs(found.A[1, 2])) < 1e-6 * found.A[0, 0])


def nacas(code):
    """Upper and lower side as functions of the chord's fraction, and their slopes: NACA Report 460."""
    m, p, t = int(code[0]) / 100, int(code[1]) / 10, int(code[2:]) / 100

    def side(sign):
        def point(x):
            half = 5 * t * (0.2969 * x**0.5 - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1015 * x**4)
            if not m:
                return x, sign * half
            if x < p:
                camber, slope = m / p**2 * (2 * p * x - x * x), 2 * m / p**2 * (p - x)
            else:
                camber = m / (1 - p) ** 2 * (1 - 2 * p + 2 * p * x - x * x)
                slope = 2 * m / (1 - p) ** 2 * (p - x)
            turn = math.atan(slope)
            return x - sign * half * math.sin(turn), camber + sign * half * math.cos(turn)

        return point

    return {"upper": side(1), "lower": side(-1)}


# Source: NACA Report 460's equations, their arc length measured by a fine polygon in x = s², which
# has no singular nose; independent of the program's own spacing.
@pytest.mark.parametrize("code", ["0012", "0024", "2412", "4415", "6409", "1408"])
@pytest.mark.parametrize("side", ["upper", "lower"])
def test_girths_of_many_naca_sections(code, side):
    points = np.array([nacas(code)[side](s * s) for s in np.linspace(0, 1, 20_001)])
    expected = np.hypot(*np.diff(points, axis=0).T).sum()
    assert section_girth(naca4(code), side) == pytest.approx(expected, abs=5e-5)


panels = st.builds(
    lambda span, root, tip, sweep, one, other: (Planform(span, root, tip, sweep), naca4(one), naca4(other)),
    st.floats(0.5, 12),
    st.floats(0.2, 2.5),
    st.floats(0.0, 2.0),
    st.floats(-1, 3),
    st.sampled_from(["0012", "2412", "4415"]),
    st.sampled_from(["0012", "4412", "6409"]),
)


# Source: limits that need none: area grows with the square of size; a skin is at least its shadow and
# at most the sum of its strips' longest sides; mirroring and cutting a panel in two change nothing.
@settings(max_examples=60, deadline=None)
@given(panel=panels, factor=st.floats(0.2, 5))
def test_skin_areas_scale_and_lie_within_their_bounds(panel, factor):
    (plan, root, tip), loft = panel, straight(*panel)
    larger = Planform(
        plan.span_m * factor, plan.root_chord_m * factor, plan.tip_chord_m * factor, plan.sweep_m * factor
    )
    for side in ("upper", "lower"):
        area = loft.skin_area_m2(side)
        assert straight(larger, root, tip).skin_area_m2(side) == pytest.approx(area * factor**2, rel=1e-9)
        assert area >= loft.area_m2 * (1 - 1e-9)
        mean_girth = (loft.girth_m(side, "root") + loft.girth_m(side, "tip")) / 2
        longest = math.hypot(plan.span_m, abs(plan.sweep_m) + max(plan.root_chord_m, plan.tip_chord_m))
        assert area <= mean_girth * longest * 1.0001


@settings(max_examples=30, deadline=None)
@given(panel=panels, cut=st.floats(0.1, 0.9))
def test_a_panel_cut_in_two_has_the_skin_it_had(panel, cut):
    plan, section, _ = panel
    middle = plan.root_chord_m + (plan.tip_chord_m - plan.root_chord_m) * cut
    inner = Planform(plan.span_m * cut, plan.root_chord_m, middle, plan.sweep_m * cut)
    outer = Planform(plan.span_m * (1 - cut), middle, plan.tip_chord_m, plan.sweep_m * (1 - cut))
    whole = straight(plan, section).skin_area_m2("upper")
    parts = sum(straight(part, section).skin_area_m2("upper") for part in (inner, outer))
    assert parts == pytest.approx(whole, rel=1e-9)


# Source: closed forms: constant section with dihedral, |(dx, 0, dz) × (0, L, H)|; a half cone to its point; and a
# twisted, swept wing of three panels against a dense triangulation of the same ruled surface, written here.
def test_lofts_of_stations_against_closed_forms_and_a_dense_triangulation():
    section = naca4("2412")
    bent = Loft((Station(0, 0.8, section=section), Station(4, 0.8, 0, 3, section=section)))
    dx, dz = 0.8 * np.diff(section.side("lower"), axis=0).T
    assert bent.skin_area_m2("lower") == pytest.approx(np.sqrt(16 * dz**2 + 25 * dx**2).sum(), rel=1e-12)
    assert bent.leading_edge_m == bent.trailing_edge_m == 5.0
    around = [(0.5 - 0.5 * math.cos(a), 0.5 * math.sin(a)) for a in np.linspace(0, math.pi, 361)]
    circle = section_from_sides("circle", around, [(x, -y) for x, y in around])
    cone = Loft((Station(0, 1.0, section=circle), Station(2, 0.0, 0.5, section=circle)))
    assert cone.skin_area_m2("upper") == pytest.approx(math.pi * 0.5 * math.hypot(2, 0.5) / 2, rel=1e-4)
    rows = [(0, 1.2, 0, 0, 2.0, "0018"), (2.5, 1.0, 0.1, 0.2, 1.0, "0012"), (6, 0.5, 0.6, 0.7, -4.0, "0009")]
    wing = Loft(tuple(Station(*row[:5], section=naca4(row[5])) for row in rows))
    for side in ("upper", "lower"):
        assert wing.skin_area_m2(side) == pytest.approx(dense(rows, side), rel=5e-4)


def dense(rows, side):
    """Σ of 400 × 200 cells a bay, each its two triangles; without camber points lie at equal fractions of chord."""
    total, x = 0.0, (1 - np.cos(np.linspace(0, np.pi, 401))) / 2

    def line(at, chord, lead, height, twist, code):
        points = np.array([nacas(code)[side](v) for v in x])
        y = points[:, 1]
        turn = math.radians(twist)
        aft = lead + chord * (x * math.cos(turn) + y * math.sin(turn))
        up = height + chord * (y * math.cos(turn) - x * math.sin(turn))
        return np.column_stack((aft, np.full_like(x, at), up))

    for before, after in pairwise(rows):
        share = np.linspace(0, 1, 201)[:, None, None]
        grid = line(*before)[None] * (1 - share) + line(*after)[None] * share
        a, b, c, d = grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]
        for one, other in ((b - a, c - a), (c - a, d - a)):
            total += np.linalg.norm(np.cross(one, other), axis=-1).sum() / 2
    return total


angles = st.lists(st.sampled_from([0, 30, 45, -45, 60, -60, 90, -30, 135, 180]), min_size=1, max_size=6)


# Source: classical laminate theory in composipy, as above, on any stack. A stack may be free of
# coupling without being balanced or symmetric ply by ply, so only that direction is compared.
@settings(max_examples=150, deadline=None)
@given(angles=angles, mirrored=st.booleans())
def test_a_stack_we_call_symmetric_or_balanced_never_couples(angles, mirrored):
    angles = angles + angles[::-1] if mirrored else angles
    stack = Stack(tuple(Ply(Cloth("tape", 200, 2.56, 0.6), angle) for angle in angles))
    found = library(angles)
    largest = np.abs(found.A).max()
    if mirrored:
        assert is_symmetric(stack)
    if is_symmetric(stack):
        assert np.abs(found.B).max() < 1e-9 * largest
    if is_balanced(stack):
        assert max(abs(found.A[0, 2]), abs(found.A[1, 2])) < 1e-9 * largest


# Source: classical laminate theory: a woven ply is two crossed half-weight layers at one place.
@settings(max_examples=100, deadline=None)
@given(angles=angles)
def test_woven_plies_count_as_two_crossed_layers(angles):
    woven = Stack(tuple(Ply(Cloth("twill", 200, 2.56, 0.6, balanced=True), angle) for angle in angles))
    crossed = library([turned for angle in angles for turned in (angle, angle + 90)])
    if is_balanced(woven):
        assert max(abs(crossed.A[0, 2]), abs(crossed.A[1, 2])) < 1e-9 * np.abs(crossed.A).max()


# Source: mass balance: what a ply weighs is what its thickness holds.
@given(weight=st.floats(20, 2000), fibre=st.floats(1.2, 3), share=st.floats(0.2, 0.85), resin=st.floats(0.9, 1.4))
def test_a_plys_volume_holds_its_fibre_and_its_resin(weight, fibre, share, resin):
    found = ply_figures(Cloth("any", weight, fibre, share), resin)
    volume = found.thickness_mm * 1e-3  # m³ per m²
    held = volume * (found.fibre_volume_fraction * fibre + (1 - found.fibre_volume_fraction) * resin) * 1e6
    assert held == pytest.approx(weight + found.resin_g_m2)
    assert weight / (weight + found.resin_g_m2) == pytest.approx(share)


# Source: FAA-H-8083-1, the moment method (from memory): Σ moments ÷ Σ weights; statics of a beam about its hinge.
def test_centre_of_gravity_and_balance_by_moments():
    wing = [Weight("left half", 1200, 410, -900), Weight("right half", 1200, 410, 900), Weight("nose weight", 600, 35)]
    found = balance_of(wing)
    assert (found.grams, found.x_mm, found.y_mm) == pytest.approx((3000, 335, 0))
    aileron = balance_of([Weight("skin", 640, 95), Weight("spar", 210, 12), Weight("paint", 90, 101)])
    about = hinge_moment(aileron, 40)
    assert about == pytest.approx(640 * 55 - 210 * 28 + 90 * 61)
    weight = balance_weight(aileron, 40, -35)
    # With it hung up the surface stands level: nothing is left of the moment.
    level = balance_of([Weight("aileron", aileron.grams, aileron.x_mm), Weight("lead", weight, -35)])
    assert hinge_moment(level, 40) == pytest.approx(0, abs=1e-6)
    assert balance_weight(aileron, 40, -35, 80) == pytest.approx(0.8 * weight)
    assert balance_weight(balance_of([Weight("nose", 500, 10)]), 40, -35) == 0

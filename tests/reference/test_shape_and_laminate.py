"""Sections, lofts and laminates against published ordinates, closed forms and a laminate library."""

import math

import numpy as np
import pytest
from composipy import LaminateProperty, OrthotropicMaterial

from kiteloom.core.laminate import Ply, Stack, is_balanced, is_symmetric, ply_figures
from kiteloom.core.materials import Cloth
from kiteloom.core.shape import Panel, Planform, naca4, section_from_sides, section_girth


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
    straight = Panel(Planform(3, 0.8, 0.8, 0), naca4("2412"), naca4("2412"))
    assert straight.skin_area_m2("upper") == pytest.approx(3 * straight.girth_m("upper", "root"), rel=1e-12)
    around = [(0.5 - 0.5 * math.cos(a), 0.5 * math.sin(a)) for a in np.linspace(0, math.pi, 721)]
    half = section_from_sides("circle", around, [(x, -y) for x, y in around])
    # Half a frustum with both circles touching the same nose line is oblique; centred, it is right.
    frustum = Panel(Planform(2, 1.0, 0.5, 0.25), half, half)
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

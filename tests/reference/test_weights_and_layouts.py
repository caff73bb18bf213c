"""Weight and balance by the moment method, fibre shares of laminates, layouts against a bin packer's own.

Sources: FAA-H-8083-1, weight and balance handbook: CG = Σ moments ÷ Σ weights, ballast = total × distance to move ÷
distance of the ballast (from memory); burn-off of laminates: fibre share = fibre ÷ laminate (ISO 1172, from memory);
rectpack, an open library of rectangle packers.
"""

import itertools
import math
import random

import pytest
import rectpack
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.laminate.layout import Sheets, layouts
from kiteloom.core.laminate.rolls import Cut
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.shape.flat import StripAt, Strips
from kiteloom.core.stores.materials import Cloth
from kiteloom.core.weight.hinge import Hinge, Read, behind_hinge_m, judged
from kiteloom.core.weight.part import Band, Stays, fibre_share
from kiteloom.core.weight.whole import Carried, Limits, whole_of

POUND, INCH = 453.59237, 0.0254


def carried(*rows):
    return [Carried(name, Band(*(3 * (pounds * POUND,))), inches * INCH) for name, pounds, inches in rows]


def test_a_light_aeroplane_on_three_wheels():
    """Weighed on its wheels: both mains at 34 in, the nose wheel at −32.2 in from its datum (from memory)."""
    found = whole_of(carried(("left", 617, 34.0), ("right", 614, 34.0), ("nose", 152, -32.2)), Limits())
    assert found.weighs.grams / POUND == pytest.approx(1383)
    assert found.cg_m / INCH == pytest.approx(26.72, abs=0.01)


def test_a_loaded_aeroplane_comes_to_the_sum_of_its_moments():
    """Empty, two in front, fuel, two behind and bags, in pounds and inches (the handbook's method, own figures)."""
    rows = [("empty", 1343, 39.1), ("front", 340, 37.0), ("fuel", 240, 48.0), ("rear", 300, 73.0), ("bags", 60, 95.0)]
    found = whole_of(carried(*rows), Limits())
    moment = sum(pounds * inches for _, pounds, inches in rows)
    assert moment == pytest.approx(104_211.3)
    assert found.cg_m / INCH == pytest.approx(moment / 2283)
    assert found.moment_kg_m == pytest.approx(moment * POUND / 1000 * INCH)


@given(st.floats(500, 3000), st.floats(20, 60), st.floats(70, 300), st.floats(0.1, 4))
def test_ballast_moves_the_centre_of_gravity_as_the_handbook_says(total, cg, at, move):
    ballast = total * move / (at - cg - move) if at - cg > move + 1 else None
    if ballast is None:
        return
    found = whole_of(carried(("aeroplane", total, cg), ("ballast", ballast, at)), Limits())
    assert found.cg_m / INCH == pytest.approx(cg + move, rel=1e-9)


@given(st.floats(0.3, 0.7), st.floats(80, 900), st.integers(1, 12), st.floats(0.05, 12))
def test_a_laminate_that_holds_so_much_fibre_is_found_to_hold_it(share, g_m2, plies, area):
    """ISO 1172: what is left after the resin is burnt off ÷ all of it."""
    cloth = g_m2 * plies * area
    rows = [Stays("lay", "cloth", "glass", cloth, ""), Stays("lay", "resin", "epoxy", 1.0, "")]
    assert fibre_share(rows, cloth / share) == pytest.approx(share)


@pytest.mark.parametrize(("span", "chord", "hinge"), [(1.8, 0.3, 0.06), (0.9, 0.45, 0.1), (3.2, 0.25, 0.0)])
def test_a_plank_of_a_control_surface_balances_as_a_lever_does(span, chord, hinge):
    """Law of the lever: m·(c/2 − h) = w·b."""
    plank = Strips((StripAt(0, chord), StripAt(span, chord)))
    where = Hinge(hinge, hinge, 0.05)
    behind = behind_hinge_m(plank, where)
    assert behind == pytest.approx(chord / 2 - hinge)
    grams = 1500.0
    bare = judged(Read(grams * behind / chord, chord), where, "metric")
    assert bare.wanted_g == pytest.approx(grams * behind / 0.05)
    assert judged(Read(0.0, chord, bare.wanted_g), where, "metric").holds
    assert not judged(Read(10.0, chord, bare.wanted_g * 0.9), where, "metric").holds


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10_000), st.integers(4, 14), st.booleans())
def test_boards_take_few_more_sheets_than_a_bin_packer_makes_of_them(seed, count, turns):
    dice = random.Random(seed)
    boards = [(dice.randrange(100, 800), dice.randrange(80, 500)) for _ in range(count)]
    cuts = [Cut(str(n), ((0, 0), (a, 0), (a, b), (0, b)), 0) for n, (a, b) in enumerate(boards)]
    found = list(itertools.islice(layouts(cuts, Sheets(1200, 600, 0, turns), [], 0, seed=1), 12))[-1]
    packer = rectpack.newPacker(rotation=turns)
    for n, (a, b) in enumerate(boards):
        packer.add_rect(a, b, n)
    packer.add_bin(1200, 600, count=count)
    packer.pack()
    least = math.ceil(sum(a * b for a, b in boards) / (1200 * 600) - 1e-9)
    assert least <= found.sheets <= len(packer) + 1
    assert len(found.laid) == count


def test_cloth_stitched_at_45_has_its_fibres_where_woven_cloth_cut_on_the_bias_has_them():
    """A ply of a schedule says where fibres run, not how the roll lies: the codes are alike (common practice)."""
    woven, stitched = Cloth("w", 300, 2.56, 0.55, balanced=True), Cloth("s", 300, 2.56, 0.55, True, fibre_off_deg=45)
    books = [Stack((Ply(cloth, 45),)) for cloth in (woven, stitched)]
    assert [ply.angle_deg - ply.cloth.fibre_off_deg for book in books for ply in book.plies] == [45, 0]
    assert books[0].plies[0].angle_deg == books[1].plies[0].angle_deg

"""Covering and coats against the contract's own sums, geometry, and a search for the fewest widths."""

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import examples
from tests.core.tasks import clothed

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.clothing_steps import bays_in_turn
from kiteloom.core.build.covering import Cloth, Panel, adhesive_l, attachments, landing_m2, panel_of, tape_m, widths
from kiteloom.core.build.recipe import build
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.need.coats import coats
from kiteloom.core.shape.loft import Loft, Ribs, Station
from kiteloom.core.shape.section import naca4

METRES = st.floats(0.3, 8)


@settings(max_examples=examples(200), deadline=None)
@given(METRES, METRES, st.floats(0.6, 2.2), st.floats(0, 0.05), st.floats(0, 0.2))
def test_no_fewer_widths_cover_it_and_their_seams_reach_over(along, across, roll, wrap, overlap):
    """Geometry: n widths with n - 1 overlaps reach across; one fewer would not."""
    panel = Panel(along, across, along * across, 2 * along, 2 * across)
    found = widths(panel, Cloth(roll, 90, wrap, overlap))
    needed = across + 2 * wrap
    assert found.width_m <= roll + 1e-9
    assert found.count * found.width_m - (found.count - 1) * overlap == pytest.approx(needed)
    if found.count > 1:
        assert (found.count - 1) * roll - (found.count - 2) * overlap < needed + 1e-6
    # What is cut is what is on the part, and what is trimmed off its corners and its taper.
    cut = found.count * found.length_m * found.width_m * 90
    assert found.on_part_g <= cut + 1e-6


def test_a_straight_panel_comes_to_the_contracts_sums_by_hand():
    girth = 1.0196  # NACA 0012, open trailing edge, a side: NACA Report 460, arc length computed from it
    ribs = Ribs((0.0, 1.0, 2.0, 3.0), 0.01, 0.03)
    panel = panel_of(Loft((Station(0, 1, section=naca4("0012")), Station(3, 1, section=naca4("0012"))), ribs), "whole")
    assert (panel.along_m, panel.edges_m) == (3.0, 6.0)
    assert panel.across_m == pytest.approx(2 * girth, rel=1e-4)
    landing = landing_m2(panel, ribs.width_m, ribs.edge_m)
    assert landing == pytest.approx(8 * girth * 0.01 + (6 + 4 * girth) * 0.03, rel=1e-4)
    assert adhesive_l(landing, 4, 5.0, 0.2) == pytest.approx(landing * 4 / 5 / 0.8)
    assert tape_m(panel) == pytest.approx(8 * girth + 6 + 4 * girth, rel=1e-4)
    assert attachments(panel, 0.0635) == 8 * (math.ceil(girth / 0.0635) + 1)


@given(
    st.floats(0.1, 50), st.integers(1, 6), st.floats(2, 20), st.floats(0, 0.6), st.floats(0.8, 1.6), st.floats(0.1, 1)
)
def test_what_is_mixed_is_on_the_part_beside_it_or_dried_away(area, count, spread, lost, density, solids):
    """Mass in is mass out."""
    found = coats(area, count, spread, lost, density, solids)
    beside_g = found.litres * 1000 * density * lost
    dried_away_g = found.wet_g - found.dry_g
    assert found.litres * 1000 * density == pytest.approx(found.dry_g + dried_away_g + beside_g)


@given(st.integers(1, 60))
def test_no_bay_is_ironed_right_after_its_neighbour(count):
    turn = bays_in_turn(count)
    assert sorted(turn) == list(range(1, count + 1))
    if count > 4:
        assert all(abs(one - other) != 1 for one, other in pairwise(turn))


@pytest.mark.parametrize(
    ("key", "given", "more", "says"),
    [
        ("wrap", {"held": "rivets"}, {}, "not given yet: the pitch of its rivets, from the designer or the chart"),
        (
            "wrap",
            {"rib_width_m": 0.05},
            {},
            "edge tape is 40.0 mm wide, and its ribs are 50.0 mm: a tape must reach over",
        ),
        ("wrap", {}, {"school": "separate coats"}, "belongs to the school of separate coats; this is covering by pre"),
        (
            "cover",
            {},
            {"school": "pre-finished"},
            "belongs to the school of pre-finished; this is covering by",
        ),
        ("cover", {"overlap_m": 0.3}, {"roll": 0.3}, "the overlap is 0.3 m; it can't be as wide as the cloth, 0.3 m"),
    ],
)
def test_what_does_not_go_together_is_said_by_name(key, given, more, says):
    task = clothed(key, given)
    cloth = replace(task.materials["cloth"], school=more.get("school", ""), roll_width_m=more.get("roll", 1.8))
    task = replace(task, materials={**task.materials, "cloth": cloth})
    cant = build(recipe_of(key), given, lambda _: task).cant
    assert says in "; ".join(cant)


def test_each_school_does_what_it_names_in_its_order():
    """Common practice (P4, P5): two coats on each face before it is set; slack, finish, tapes after."""
    names = {step.key: n for n, step in enumerate(recipe_of("wrap").steps(clothed("wrap")))}
    in_order = ("frame-1", "frame-2", "cloth-1", "cloth-2", "set", "slack", "finish", "tapes", "done")
    assert sorted(in_order, key=names.__getitem__) == list(in_order)
    laced = {"held": "lacing", "pitch_m": 0.0635, "land_m": 0.015, "thin_edge": "is thin"}
    steps = {step.key: step for step in recipe_of("cover").steps(clothed("cover", laced))}
    wanted = ["look", "strips", "stiffen", "cut", "cement", "slack", "finish", "first", "ribs", "hold", "tapes"]
    assert list(steps)[:11] == wanted
    assert steps["cement"].gate
    assert steps["hold"].name == f"Lace the cloth to its ribs in {8 * (math.ceil(1.0196 / 0.0635) + 1)} places"
    assert steps["finish"].heats == (("at", 155),)
    takes = {one.name: one for one in recipe_of("cover").supplies(clothed("cover", laced))}
    assert takes["lacing cord"].amount == pytest.approx(0.15 * takes["stitches"].amount)


def test_a_spread_of_nothing_is_refused():
    for wrong in (lambda: adhesive_l(1, 2, 0), lambda: coats(1, 1, 0, 0, 1)):
        with pytest.raises(Refused, match="must be above 0"):
            wrong()

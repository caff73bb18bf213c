"""Where a core is scored: what must hold for any core on any section."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.tasks import FOAM, GLASS

from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.laminate.cover import cover_of
from kiteloom.core.laminate.scoring import GAP_M, LEAST, apart_m, deep_m, scoring_of
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.laminate.zones import Band, Zone
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4, section_from_sides
from kiteloom.core.shape.skin import skin_of

from . import tasks


def bow(radius_m, half_rad=0.6, chord_m=1.0):
    """A section whose upper side is an arc of a circle, as wide as a chord; its lower side is flat."""
    angle = np.linspace(-half_rad, half_rad, 61)
    across = 2 * radius_m * math.sin(half_rad)
    assert across == pytest.approx(chord_m, rel=1e-9)
    x = (radius_m * np.sin(angle) + across / 2) / across
    y = radius_m * (np.cos(angle) - math.cos(half_rad)) / across
    upper = [[float(a), float(b)] for a, b in zip(x, y, strict=True)]
    return section_from_sides("bow", upper, [[0.0, 0.0], [0.5, -0.001], [1.0, 0.0]])


def on_bow(radius_m, core=FOAM, span_m=2.0, **more):
    half = 0.6
    chord = 2 * radius_m * math.sin(half)
    loft = Loft(tuple(Station(at, chord, section=bow(radius_m / chord)) for at in (0.0, span_m)))
    return scoring_of(cover_of(Stack((Ply(GLASS, 45),) * 2, core, 1, **more), skin_of(loft, "upper")))


def test_on_a_round_mould_it_is_scored_all_over_by_the_rule_of_the_arc():
    radius, span = 0.25, 2.0
    found = on_bow(radius, span_m=span)
    assert [(row.at_m, row.lead, row.tail) for row in found.rows] == [(0.0, 0.0, 1.0), (span, 0.0, 1.0)]
    row = found.rows[0]
    assert row.radius_m == pytest.approx(radius, rel=0.005)
    # Between two cuts a flat strip is a chord of the circle: it stands off by R − √(R² − (s/2)²).
    assert radius - math.sqrt(radius**2 - (row.apart_m / 2) ** 2) == pytest.approx(GAP_M, rel=0.02)
    # What is left under a cut, bent to the radius, stretches its faces no more than the whole sheet at its limit.
    left = FOAM.thickness_mm / 1000 - row.deep_m
    assert left / (2 * row.radius_m) == pytest.approx(FOAM.thickness_mm / 1000 / (2 * FOAM.bend_m), rel=1e-6)
    # Each cut opens by its share of the whole turn of 1.2 rad: wedges as deep as the cut.
    assert found.fills_ml == pytest.approx(1e6 * row.deep_m**2 / 2 * 1.2 * span, rel=0.02)


def test_a_flat_enough_mould_needs_no_score_and_a_stiffer_core_needs_more():
    assert on_bow(0.5).rows == ()
    assert on_bow(0.5).fills_ml == 0
    stiff = replace(FOAM, bends_to_m=1.5)
    assert len(on_bow(0.5, stiff).rows) == 2
    assert scoring_of(cover_of(Stack((Ply(GLASS, 0),)), skin_of(Loft(_wing("0012")), "upper"))).rows == ()


def _wing(naca, root=1.2, tip=0.6):
    return (Station(0.0, root, section=naca4(naca)), Station(4.0, tip, 0.1, section=naca4(naca)))


@settings(max_examples=30)
@given(
    st.sampled_from(["0009", "0012", "2415", "4418"]),
    st.sampled_from(["upper", "lower"]),
    st.floats(3, 25),
    st.floats(20, 120),
)
def test_on_any_wing_it_begins_at_the_nose_and_asks_for_what_can_be_cut(naca, side, thick, times):
    core = replace(FOAM, thickness_mm=thick, bends_to_m=times * thick / 1000)
    skin = skin_of(Loft(_wing(naca)), side)
    found = scoring_of(cover_of(Stack((Ply(GLASS, 45),) * 2, core, 1), skin))
    assert found.rows[0].lead == 0
    for row in found.rows:
        assert LEAST * thick / 1000 - 1e-9 <= row.radius_m < core.bend_m
        assert 0 < row.deep_m < thick / 1000
        assert (row.apart_m, row.deep_m) == (apart_m(row.radius_m), deep_m(core, row.radius_m))
        assert 0 <= row.lead < row.tail <= 1
        assert row.sharp is None or row.lead <= row.sharp[0] <= row.sharp[1] <= row.tail
    assert found.fills_ml > 0
    assert any(row.care("metric") for row in found.rows) == any(row.sharp for row in found.rows)


def test_only_where_the_core_lies_is_it_scored():
    stack = Stack((Ply(GLASS, 45),) * 2, FOAM, 1, (Zone("box", Band(1.0, 3.0, 0.02, 0.6)),), "box")
    skin = skin_of(Loft(_wing("2415")), "upper")
    found = scoring_of(cover_of(stack, skin))
    assert [row.at_m for row in found.rows] == pytest.approx([1.0, 3.0])
    assert min(row.lead for row in found.rows) == pytest.approx(0.02, abs=0.003)
    behind = replace(stack, zones=(Zone("box", Band(1.0, 3.0, 0.4, 0.6)),))
    assert scoring_of(cover_of(behind, skin)).rows == ()


def test_scores_are_filled_as_the_core_is_bedded_and_are_called_at_the_bench():
    wing = Loft(_wing("2415"))
    task = replace(tasks.skin(), form=wing)
    flat = replace(task, stack=replace(task.stack, core=replace(FOAM, bends_to_m=0.001)))
    needs, without = (tasks.needs("skin", each) for each in (task, flat))
    more = {key: needs[key].core_g - without[key].core_g for key in needs}
    fills = scoring_of(cover_of(task.stack, skin_of(wing, "upper"))).fills_ml
    assert more == pytest.approx({"skin-1/layup": 0, "core/bed": fills * 1.15, "skin-2/layup": 0})
    called = {item.key: item for item in recipe_of("skin").items(task, "core/bed")}
    assert called["score-upper"].scored
    assert "score-upper" not in {item.key for item in recipe_of("skin").items(flat, "core/bed")}

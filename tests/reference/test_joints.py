"""Joints against published rules: rivets in sheet metal and laminates, fillets, and what a glue line holds."""

import math

import pytest
from scipy.integrate import quad

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.bond_line import fillet_g, line_g
from kiteloom.core.build.faces import barrier_between
from kiteloom.core.build.fasteners import WIDEST, fasteners, spread


@pytest.mark.parametrize(
    ("more", "edge", "pitch"),
    [
        # FAA AC 43.13-1B chapter 4 (from memory): 2 D from the edge, 2.5 D countersunk; 3 D apart, 4 D in double rows.
        ({"material": "sheet metal"}, 2, 3),
        ({"material": "sheet metal", "countersunk": True}, 2.5, 3),
        ({"material": "sheet metal", "rows": 2}, 2, 4),
        # Common practice for laminates.
        ({"material": "laminate"}, 3, 4),
        ({"material": "laminate", "rows": 3, "countersunk": True}, 3, 4),
    ],
)
def test_edge_distance_and_pitch_are_in_diameters(more, edge, pitch):
    found = fasteners("solid", 3.2, stack_mm=[1.0, 0.8], **more)
    assert (found.edge_least_mm, found.pitch_least_mm) == pytest.approx((edge * 3.2, pitch * 3.2))


def test_a_solid_rivet_is_as_long_as_its_grip_and_a_half_more_than_its_diameter():
    # FAA-H-8083-31 (from memory): 1/8 in rivet through two sheets of 0.040 in: 0.080 + 0.1875 = 0.2675 in.
    inch = 25.4
    found = fasteners("solid", inch / 8, "sheet metal", [0.04 * inch] * 2, length_mm=0.25 * inch)
    assert found.length_mm / inch == pytest.approx(0.2675)
    assert [(check.what, check.ok) for check in found.checks] == [("length", False)]
    blind = fasteners("blind", 3.2, "laminate", [2.0, 1.5], length_mm=3.5)
    assert (blind.length_mm, blind.washer, blind.grip_mm) == (None, True, 3.5)
    assert [(check.what, check.ok) for check in blind.checks] == [("length", True)]
    assert not fasteners("blind", 3.2, "sheet metal", [1.0]).washer


@pytest.mark.parametrize(("span", "edge", "widest"), [(200, 10, 60), (1000, 8, 19), (16, 8, 20), (333.3, 6.4, 22.2)])
def test_a_row_has_equal_gaps_no_wider_than_asked_and_no_fewer_would_do(span, edge, widest):
    row = spread(span, edge, widest)
    assert row.at_mm[0] == edge
    assert row.at_mm[-1] == pytest.approx(span - edge)
    gaps = [b - a for a, b in zip(row.at_mm, row.at_mm[1:], strict=False)]
    assert gaps == pytest.approx([row.pitch_mm] * (row.count - 1), abs=1e-5)
    assert row.pitch_mm <= widest + 1e-9
    assert row.count == 1 or (span - 2 * edge) / (row.count - 2 or 1e-12) > widest


def test_a_span_without_a_pitch_is_laid_out_at_six_diameters_and_too_close_is_told():
    found = fasteners("solid", 4.0, "sheet metal", [1, 1], span_mm=100)
    assert found.layout.pitch_mm <= WIDEST * 4.0
    assert found.layout.at_mm[0] == 8.0
    close = fasteners("solid", 4.0, "sheet metal", [1, 1], span_mm=100, pitch_mm=9, edge_mm=5)
    assert {check.what: check.ok for check in close.checks} == {"edge": False, "pitch": False, "layout": False}
    with pytest.raises(Refused, match="no fastener fits"):
        fasteners("solid", 4.0, "sheet metal", [1, 1], span_mm=15)
    for wrong in (
        {"stack_mm": []},
        {"stack_mm": [1, -1]},
        {"stack_mm": [1], "rows": 0},
        {"stack_mm": [1], "edge_mm": 0},
    ):
        with pytest.raises(Refused):
            fasteners("solid", 4.0, "sheet metal", **wrong)


@pytest.mark.parametrize("radius", [1.0, 6.0, 12.5])
def test_a_fillet_holds_what_lies_between_its_corner_and_a_circle(radius):
    section, _ = quad(lambda x: radius - math.sqrt(radius**2 - (radius - x) ** 2), 0, radius)
    assert fillet_g(1.0, 1, radius, 1.0) == pytest.approx(section, rel=1e-6)
    assert fillet_g(2.5, 3, radius, 1.1) == pytest.approx(section * 2.5 * 3 * 1.1, rel=1e-6)


def test_a_glue_line_weighs_its_volume_and_only_metals_want_a_barrier():
    assert line_g(3.0, 0.02, 0.5, 1.1) == pytest.approx(300 * 2 * 0.05 * 1.1)  # in centimetres
    assert barrier_between("wood", "aluminium") == ""
    assert "must not touch" in barrier_between("steel", "aluminium")
    with pytest.raises(Refused, match="“glas” is no face"):
        barrier_between("glas", "wood")

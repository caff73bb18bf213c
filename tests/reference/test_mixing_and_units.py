"""Units, hardener per hundred and ratios against definitions, a reference library and handbooks."""

import pint
import pytest

from kiteloom.core.base.quantities import UNITS, parse
from kiteloom.core.mix.ratio import MixSystem, Ratio, hardener_per_hundred, judge, masses, top_up

PINT = pint.UnitRegistry()
AS_PINT = {
    "m²": "m**2", "ft²": "ft**2", "g/m²": "g/m**2", "oz/yd²": "oz/yd**2", "kg/m³": "kg/m**3",
    "lb/ft³": "lb/ft**3", "g/ml": "g/ml", "fl oz": "floz", "°C": "degC", "°F": "degF", "in": "inch",
}  # fmt: skip
BASES = {
    "length": "m", "area": "m**2", "mass": "g", "areal weight": "g/m**2", "volume": "ml",
    "density": "kg/m**3", "temperature": "degC", "time": "min", "pressure": "mbar",
}  # fmt: skip


# Source: pint's definitions (NIST SP 811 values), for every unit of a dimension pint knows.
@pytest.mark.parametrize("unit", [u for u in UNITS if u.dimension in BASES], ids=lambda u: u.symbol)
def test_each_unit_agrees_with_the_reference_library(unit):
    expected = PINT.Quantity(7.25, AS_PINT.get(unit.symbol, unit.symbol)).to(BASES[unit.dimension]).magnitude
    assert parse(f"7.25 {unit.symbol}", unit.dimension, unit.symbol) == pytest.approx(expected, rel=1e-12)


@pytest.mark.parametrize(
    ("typed", "dimension", "expected"),
    [
        ("1 oz/yd2", "areal weight", 33.906),  # exact definitions
        ("1 lb/ft3", "density", 16.018),  # exact definitions
        ("1 gal", "volume", 3785.412),  # exact definition, 231 in³
        ("40 °F", "temperature", 4.444),  # exact definition
    ],
)
def test_trade_units_have_their_defined_size(typed, dimension, expected):
    assert parse(typed, dimension, typed.split(maxsplit=1)[1]) == pytest.approx(expected, abs=5e-4)


# Source: Lee & Neville, Handbook of Epoxy Resins (from memory).
@pytest.mark.parametrize(("amine", "expected"), [(20.6, 10.8), (24.4, 12.8)], ids=["DETA", "TETA"])
def test_hardener_per_hundred_resin_on_an_epoxide_equivalent_of_190(amine, expected):
    assert hardener_per_hundred(amine, 190) == pytest.approx(expected, abs=0.05)


# Source: conservation of mass; the ratio's own definition.
@pytest.mark.parametrize(("resin", "hardener"), [(100, 30), (250, 40), (12.5, 9), (80, 0)])
def test_a_topped_up_cup_is_exact_and_nothing_is_lost(resin, hardener):
    system = MixSystem(Ratio(100, 28), tolerance_pct=3)
    added = top_up(system.by_weight, resin, hardener)
    poured = {"resin": resin, "hardener": hardener}
    poured[added.component] += added.grams
    assert judge(system, **{f"{part}_g": grams for part, grams in poured.items()}).deviation_pct == pytest.approx(0)
    again = masses(system, total_g=sum(poured.values()))
    assert (again.resin_g, again.hardener_g) == pytest.approx((poured["resin"], poured["hardener"]))

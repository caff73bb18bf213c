"""What is typed is understood or refused; what is shown can be typed back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import FORMATS, UNITS, parse, show


@pytest.mark.parametrize(
    ("typed", "dimension", "unit", "expected"),
    [
        ("35 1/2 in", "length", "mm", 0.9017),
        ('35-1/2"', "length", "mm", 0.9017),
        ("5' 3 1/2\"", "length", "m", 1.6129),
        ("5 ft 3", "length", "m", 1.6002),
        ("3 1/2 in", "length", "m", 0.0889),
        ("1/2", "length", "in", 0.0127),
        ("  900 mm ", "length", "in", 0.9),
        ("7.2", "length", "m", 7.2),
        ("-0.12 m", "length", "m", -0.12),
        ("−0.12", "length", "m", -0.12),  # a printed minus
        ("3,5", "mass", "g", 3.5),
        ("0,125 kg", "mass", "g", 125),
        ("1,234.5 g", "mass", "g", 1234.5),
        ("2 lb 3 oz", "mass", "g", 992.2333),
        ("1e3", "mass", "g", 1000),
        ("40 °F", "temperature", "°C", 4.4444),
        ("-40 f", "temperature", "°C", -40),
        ("9 °F", "temperature difference", "K", 5),
        ("2.6 oz/yd2", "areal weight", "g/m²", 88.155),
        ("8%", "share", "%", 8),
        ("1.5 h", "time", "min", 90),
    ],
)
def test_what_a_builder_types_is_understood(typed, dimension, unit, expected):
    assert parse(typed, dimension, unit) == pytest.approx(expected, abs=1e-4)


@pytest.mark.parametrize(
    ("typed", "dimension", "named"),
    [
        ("", "mass", "nothing was typed"),
        ("abc", "mass", "“abc”"),
        ("3 4", "mass", "“3 4”"),
        ("3,500", "mass", "could be 3.500 or 3500"),
        ("1.2.3", "mass", "“1.2.3”"),
        ("12 bananas", "mass", "“bananas” is not a unit of mass"),
        ("3 1/2 in", "mass", "“in” is not a unit of mass"),
        ("1/0 in", "length", "“1/0 in”"),
        ("35 in 3", "length", "“35 in 3”"),
        ("nan", "mass", "“nan”"),
        ("1e999", "mass", "too large"),
        ("--3", "mass", "“--3”"),
    ],
)
def test_what_cannot_be_understood_is_refused_by_name_with_an_example(typed, dimension, named):
    base = next(unit.symbol for unit in UNITS if unit.dimension == dimension)
    with pytest.raises(Refused) as refused:
        parse(typed, dimension, base, "a field")
    assert named in refused.value.sentence
    assert refused.value.field == "a field"


SCALE = {
    "thickness": 1e-3,
    "step": 1e-3,
    "reading": 1e-3,
    "pressure": 10,
    "barometer": 10,
}  # kinds whose number is not in their dimension's base unit
TYPEABLE = [kind for kind, (dimension, _) in FORMATS.items() if dimension != "number"]


@pytest.mark.parametrize("system", ["metric", "us"])
@pytest.mark.parametrize("kind", TYPEABLE)
@given(value=st.floats(0.01, 5000))
def test_what_is_shown_can_be_typed_back(kind, system, value):
    dimension, formats = FORMATS[kind]
    shown = show(value, kind, system)
    used = formats[system]
    if used.large and abs(value * used.factor) >= used.large_from:
        used = used.large
    resolution = (1 / 16 if used.sixteenths else 10**-used.decimals) / used.factor
    back = parse(shown, dimension, used.unit) / SCALE.get(kind, 1)
    assert back == pytest.approx(value, abs=0.51 * resolution + 1e-9)


@pytest.mark.parametrize(
    ("value", "kind", "system", "shown"),
    [
        (0.9017, "length", "us", "35 1/2 in"),
        (0.3048, "length", "us", "12 in"),
        (-0.00635, "length", "us", "-1/4 in"),
        (-0.0001, "length", "us", "0 in"),
        (7.2, "length", "metric", "7.200 m"),
        (999.4, "mass", "metric", "999 g"),
        (1000, "mass", "metric", "1.00 kg"),
        (1500, "scale", "metric", "1500.0 g"),
        (-0.04, "temperature", "metric", "0.0 °C"),
        (45, "angle", "us", "45°"),
        (341.8, "hours", "metric", "5.7 h"),
    ],
)
def test_figures_are_shown_as_a_shop_reads_them(value, kind, system, shown):
    assert show(value, kind, system) == shown

"""What a builder types, understood; and how each figure is shown.

Inside the program a quantity has one unit, named in its field (``span_m``, ``mass_g``).
Text with units is read here and nowhere else, and the table that says how figures are
shown in each unit system stands here, for the screens and the printed sheets alike.

References
----------
International yard and pound agreement (1959): 1 in = 25.4 mm, 1 lb = 453.59237 g exactly;
1 US gal = 231 in³ exactly.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused

#: A scale counts in grams, whatever the shop measures with, unless it is said to count in ounces.
UnitSystem = Literal["metric", "us", "metric, oz", "us, oz"]


_INCH = 0.0254


_YARD2 = (36 * _INCH) ** 2


_OUNCE = 453.59237 / 16


_GALLON = 231 * 2.54**3
#: A US quart [l].
QUART_L = _GALLON / 4 / 1000


@dataclass(frozen=True)
class Unit:
    """``base = typed × factor + offset``; the base is the first unit of its dimension."""

    symbol: str
    dimension: str
    factor: float = 1.0
    offset: float = 0.0
    also: tuple[str, ...] = ()


UNITS = (
    Unit("m", "length", also=("metre", "metres", "meter", "meters")),
    Unit("mm", "length", 1e-3),
    Unit("cm", "length", 1e-2),
    Unit("in", "length", _INCH, also=("inch", "inches", '"', "″", "”")),
    Unit("ft", "length", 12 * _INCH, also=("foot", "feet", "'", "′", "’")),
    Unit("m²", "area", also=("m2",)),
    Unit("cm²", "area", 1e-4, also=("cm2",)),
    Unit("in²", "area", _INCH**2, also=("in2", "sq in")),
    Unit("ft²", "area", (12 * _INCH) ** 2, also=("ft2", "sq ft")),
    Unit("g", "mass", also=("gram", "grams")),
    Unit("kg", "mass", 1000),
    Unit("oz", "mass", _OUNCE),
    Unit("lb", "mass", 16 * _OUNCE, also=("lbs",)),
    Unit("g/m²", "areal weight", also=("g/m2", "gsm")),
    Unit("oz/yd²", "areal weight", _OUNCE / _YARD2, also=("oz/yd2",)),
    Unit("ml", "volume", also=("cc",)),
    Unit("l", "volume", 1000, also=("litre", "litres", "liter", "liters")),
    Unit("fl oz", "volume", _GALLON / 128, also=("floz",)),
    Unit("qt", "volume", _GALLON / 4),
    Unit("gal", "volume", _GALLON),
    Unit("kg/m³", "density", also=("kg/m3",)),
    Unit("g/ml", "density", 1000, also=("g/cm³", "g/cm3")),
    Unit("lb/ft³", "density", 0.45359237 / (12 * _INCH) ** 3, also=("lb/ft3",)),
    Unit("°C", "temperature", also=("c", "degc", "celsius")),
    Unit("°F", "temperature", 5 / 9, -32 * 5 / 9, also=("f", "degf", "fahrenheit")),
    # A difference of temperatures is not a temperature: it has no offset.
    Unit("K", "temperature difference", also=("°C", "c")),
    Unit("Δ°F", "temperature difference", 5 / 9, also=("°F", "f")),
    Unit("mbar", "pressure", also=("hpa",)),
    Unit("bar", "pressure", 1000),
    Unit("kPa", "pressure", 10),
    # A pound-force on a square inch, under standard gravity.
    Unit("psi", "pressure", 0.45359237 * 9.80665 / _INCH**2 / 100),
    # Of mercury at 0 °C (13 595.1 kg/m³) under standard gravity.
    Unit("inHg", "pressure", _INCH * 13595.1 * 9.80665 / 100, also=("in hg", "inch hg")),
    Unit("°", "angle", also=("deg", "degrees")),
    Unit("N·m", "torque", also=("nm", "n m")),
    Unit("lbf·in", "torque", 4.4482216152605 * _INCH, also=("in·lbf", "in lb", "inlb", "lbf in")),
    Unit("lbf·ft", "torque", 4.4482216152605 * 12 * _INCH, also=("ft·lbf", "ft lb", "ftlb", "lbf ft")),
    Unit("%", "share", also=("percent",)),
    Unit("min", "time", also=("minute", "minutes")),
    Unit("h", "time", 60, also=("hour", "hours")),
    Unit("days", "time", 1440, also=("d", "day")),
    Unit("weeks", "time", 7 * 1440, also=("week", "wk")),
    # A shelf life in months is meant in months of a year, not of thirty days.
    Unit("months", "time", 365.25 / 12 * 1440, also=("month", "mo")),
    Unit("years", "time", 365.25 * 1440, also=("year", "yr")),
    Unit("", "number"),
)


_EXAMPLES = {
    "length": "900 mm, 1.25 m or 35 1/2 in",
    "mass": "120 g, 0.12 kg or 4 1/4 oz",
    "temperature": "18 °C or 64 °F",
    "angle": "45 or -30",
    "torque": "12 N·m or 106 lbf·in",
    "share": "8 %",
    "areal weight": "90 g/m² or 2.6 oz/yd²",
    "time": "45 min or 1.5 h",
    "pressure": "820 mbar or 24 inHg",
    "number": "12 or 3.5",
}


def unit(symbol: str, dimension: str) -> Unit | None:
    """The unit a symbol names within a dimension, or None.

    >>> unit("oz", "mass").factor, unit("oz", "length")
    (28.349523125, None)
    """
    wanted = symbol.strip().lower()
    for known in UNITS:
        if known.dimension == dimension and wanted in (name.lower() for name in (known.symbol, *known.also)):
            return known
    return None


@dataclass(frozen=True)
class Typed:
    """What somebody typed, and the unit a bare number was meant in."""

    text: str
    unit: str

    def read(self, dimension: str, field: str) -> float:
        """The value in the dimension's base unit; `Refused` names the field.

        >>> Typed("1 lb 2 oz", "g").read("mass", "amount")
        510.29141625
        """
        return parse(self.text, dimension, self.unit, field)


#: A quantity is written in so many letters.
LONGEST = 80
_NUMBER = re.compile(
    r"""\s*
    (?: (?P<whole>\d+)(?:\s+|-)(?P<num>\d+)\s*/\s*(?P<den>\d+)      # 35 1/2, 35-1/2
      | (?P<num0>\d+)\s*/\s*(?P<den0>\d+)                           # 1/2
      | (?P<decimal>(?:\d[\d.,]*|[.,]\d+)(?:[eE][-+]?\d+)?) )       # 3.5, 3,5
    \s*+(?P<unit>[^\d\s.,+-][^\d.,+-]{0,15}?(?:[²³23](?![\d/]))?)?\s*+(?=$|\d)""",
    re.VERBOSE,
)


def _decimal(text: str, field: str) -> float:
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", text):
        whole, part = text.split(",")
        raise Refused(field, f"“{text}” could be {whole}.{part} or {whole}{part}; write it without the comma")
    if re.fullmatch(r"[1-9]\d{0,2}(,\d{3})+(\.\d*)?", text):
        text = text.replace(",", "")
    elif text.count(",") == 1 and "." not in text:
        text = text.replace(",", ".")
    return float(text)


def parse(text: str, dimension: str, default: str, field: str = "") -> float:
    """What was typed, in the base unit of its dimension.

    Parameters
    ----------
    text : str
        ``"35 1/2 in"``, ``"5 ft 3"``, ``"3,5"``, ``"64 °F"``; a bare number has the default unit.
    dimension : str
        ``"length"`` [m], ``"area"`` [m²], ``"mass"`` [g], ``"areal weight"`` [g/m²],
        ``"volume"`` [ml], ``"density"`` [kg/m³], ``"temperature"`` [°C],
        ``"temperature difference"`` [K], ``"angle"`` [°], ``"share"`` [%], ``"time"`` [min]
        or ``"number"``.
    default : str
        Symbol of the unit a bare number has.

    Raises
    ------
    Refused
        If it is not such a quantity, naming what was typed.

    Examples
    --------
    >>> round(parse("35 1/2 in", "length", "mm"), 6)
    0.9017
    >>> parse("3,5", "mass", "g")
    3.5
    >>> round(parse("40 °F", "temperature", "°C"), 3)
    4.444
    >>> parse("1 h 30", "time", "min"), parse("1:30", "time", "min")
    (90.0, 90.0)
    >>> round(parse("5' 3 1/2\\"", "length", "m"), 4)
    1.6129
    """
    shown = text.strip()
    if len(shown) > LONGEST:
        raise Refused(field, f"“{shown[:20]}…” has {len(shown)} letters; a quantity has at most {LONGEST}")
    fallback = unit(default, dimension)
    if fallback is None:
        raise Refused(field, f"“{default}” is not a unit of {dimension}")
    example = _EXAMPLES.get(dimension, "a number")
    if not shown:
        raise Refused(field, f"nothing was typed; write it like {example}")
    body, sign = shown.replace("−", "-"), 1.0
    if dimension == "time" and (clocked := re.fullmatch(r"(\d{1,3}):([0-5]\d)", body)):
        return 60.0 * int(clocked[1]) + int(clocked[2])
    if body[0] in "+-":
        sign, body = (-1.0 if body[0] == "-" else 1.0), body[1:]
    total, at, previous, parts = 0.0, 0, fallback, 0
    while at < len(body):
        found = _NUMBER.match(body, at)
        if not found:
            raise Refused(field, f"“{shown}” isn't understood; write it like {example}")
        try:
            if found["decimal"]:
                number = _decimal(found["decimal"], field)
            else:
                top, bottom = found["num"] or found["num0"], found["den"] or found["den0"]
                if found["whole"] and int(top) >= int(bottom) > 0:
                    over = f"{top}/{bottom} is {'more than ' if int(top) > int(bottom) else ''}a whole one"
                    raise Refused(field, f"“{shown}” isn't understood: {over}; is a figure missing or too much?")
                number = int(found["whole"] or 0) + int(top) / int(bottom)
        except (ValueError, ZeroDivisionError, OverflowError) as wrong:
            if isinstance(wrong, Refused):
                raise
            raise Refused(field, f"“{shown}” isn't understood; write it like {example}") from None
        named = found["unit"]
        # "5 ft 3" goes on in inches, "1 h 30" in minutes; nothing else may go on without saying its unit.
        used = unit(named, dimension) if named else _continued(previous, parts, fallback)
        if used is None or (parts and (dimension not in ("length", "mass", "time") or used.factor >= previous.factor)):
            what = f"“{named}” is not a unit of {dimension}" if named else f"“{shown}” isn't understood"
            raise Refused(field, f"{what}; write it like {example}")
        total += number * used.factor + used.offset if sign > 0 else -number * used.factor + used.offset
        at, previous, parts = found.end(), used, parts + 1
    if not math.isfinite(total):
        raise Refused(field, f"“{shown}” is too large to be a {dimension}")
    return total


def _continued(previous: Unit, parts: int, fallback: Unit) -> Unit | None:
    if not parts:
        return fallback
    return {"ft": unit("in", "length"), "lb": unit("oz", "mass"), "h": unit("min", "time")}.get(previous.symbol)


@dataclass(frozen=True)
class Format:
    """How a kind of figure is shown: ``shown = value × factor + offset``, then rounded.

    ``sixteenths`` shows whole and sixteenths instead of decimals; above ``large_from``
    (in the shown unit) the ``large`` format is used instead.
    """

    unit: str
    factor: float
    offset: float = 0.0
    decimals: int = 0
    sixteenths: bool = False
    large_from: float | None = None
    large: Format | None = None


def _shown(symbol: str, dimension: str, decimals: int, scale: float = 1.0, **more: object) -> Format:
    used = unit(symbol, dimension)
    assert used is not None
    return Format(used.symbol, scale / used.factor, -used.offset / used.factor, decimals, **more)  # type: ignore[arg-type]


def system_of(units: UnitSystem) -> Literal["metric", "us"]:
    """The system of everything that is not read off a scale.

    >>> system_of("us, oz")
    'us'
    """
    return "us" if units.startswith("us") else "metric"


def format_of(kind: str, units: UnitSystem) -> Format:
    """How a kind of figure is shown.

    >>> format_of("scale", "us").unit, format_of("scale", "metric, oz").unit, format_of("mass", "us").unit
    ('g', 'oz', 'oz')
    """
    if kind == "scale":
        return OUNCES if units.endswith("oz") else FORMATS["scale"][1][system_of(units)]
    return FORMATS[kind][1][system_of(units)]


def _mass_us() -> Format:
    return _shown("oz", "mass", 2, large_from=32, large=_shown("lb", "mass", 2))


#: kind of figure → its dimension, and its format in each unit system.
#: The kind says which unit the number in the API has: ``thickness`` is in mm, ``length`` in m,
#: ``minutes`` and ``hours`` both in minutes.
FORMATS: dict[str, tuple[str, dict[Literal["metric", "us"], Format]]] = {
    "length": ("length", {"metric": _shown("m", "length", 3), "us": _shown("in", "length", 0, sixteenths=True)}),
    "pressure": ("pressure", {"metric": _shown("kPa", "pressure", 2, 10), "us": _shown("psi", "pressure", 3, 10)}),
    # As weather stations say it.
    "barometer": ("pressure", {"metric": _shown("mbar", "pressure", 0, 10), "us": _shown("inHg", "pressure", 2, 10)}),
    # Off a roll: nobody cuts tape to the millimetre.
    "run": ("length", {"metric": _shown("m", "length", 1), "us": _shown("ft", "length", 1)}),
    "step": (
        "length",
        {"metric": _shown("mm", "length", 0, 1e-3), "us": _shown("in", "length", 0, 1e-3, sixteenths=True)},
    ),
    "thickness": (
        "length",
        {"metric": _shown("mm", "length", 2, 1e-3), "us": _shown("in", "length", 3, 1e-3)},
    ),
    # What is read off a rule.
    "reading": (
        "length",
        {"metric": _shown("mm", "length", 1, 1e-3), "us": _shown("in", "length", 0, 1e-3, sixteenths=True)},
    ),
    "area": ("area", {"metric": _shown("m²", "area", 3), "us": _shown("ft²", "area", 2)}),
    # Of a patch, which is smaller than a hand.
    "small area": ("area", {"metric": _shown("cm²", "area", 0), "us": _shown("in²", "area", 1)}),
    "mass": (
        "mass",
        {
            "metric": _shown("g", "mass", 0, large_from=1000, large=_shown("kg", "mass", 2)),
            "us": _mass_us(),
        },
    ),
    # What is read off a scale while pouring keeps one unit, however much it is: the scale's own.
    "scale": ("mass", {"metric": _shown("g", "mass", 1), "us": _shown("g", "mass", 1)}),
    "volume": ("volume", {"metric": _shown("ml", "volume", 0), "us": _shown("fl oz", "volume", 2)}),
    "areal weight": (
        "areal weight",
        {"metric": _shown("g/m²", "areal weight", 0), "us": _shown("oz/yd²", "areal weight", 2)},
    ),
    "temperature": ("temperature", {"metric": _shown("°C", "temperature", 1), "us": _shown("°F", "temperature", 0)}),
    # A temperature difference is not a temperature: it has no zero to shift.
    "difference": ("number", {"metric": Format("°C", 1.0, decimals=1), "us": Format("°F", 1.8, decimals=1)}),
    "humidity": ("number", {"metric": Format("%", 1.0), "us": Format("%", 1.0)}),
    "density": ("density", {"metric": _shown("kg/m³", "density", 0), "us": _shown("lb/ft³", "density", 1)}),
    "vacuum": ("pressure", {"metric": _shown("mbar", "pressure", 0), "us": _shown("inHg", "pressure", 1)}),
    "angle": ("angle", {"metric": _shown("°", "angle", 0), "us": _shown("°", "angle", 0)}),
    "degrees": ("angle", {"metric": _shown("°", "angle", 2), "us": _shown("°", "angle", 2)}),
    "torque": ("torque", {"metric": _shown("N·m", "torque", 1), "us": _shown("lbf·in", "torque", 0)}),
    "hardness": ("number", {"metric": _shown("", "number", 0), "us": _shown("", "number", 0)}),
    "share": ("share", {"metric": _shown("%", "share", 1), "us": _shown("%", "share", 1)}),
    "minutes": ("time", {"metric": _shown("min", "time", 0), "us": _shown("min", "time", 0)}),
    "hours": ("time", {"metric": _shown("h", "time", 1), "us": _shown("h", "time", 1)}),
    "count": ("number", {"metric": _shown("", "number", 0), "us": _shown("", "number", 0)}),
    "number": ("number", {"metric": _shown("", "number", 3), "us": _shown("", "number", 3)}),
    # About a hinge, in g·m; of an airframe, in kg·m.
    "hinge moment": ("number", {"metric": Format("g·m", 1.0, decimals=1), "us": Format("in·oz", 1.388739, decimals=1)}),
    "moment": ("number", {"metric": Format("kg·m", 1.0, decimals=1), "us": Format("in·lb", 86.79617, decimals=0)}),
    "money": ("number", {"metric": Format("", 1.0, decimals=2), "us": Format("", 1.0, decimals=2)}),
}

#: What a scale shows that counts in ounces.
OUNCES = _shown("oz", "mass", 2)


def show(value: float, kind: str, system: UnitSystem = "metric") -> str:
    """A figure in words, with its unit, as the screens and sheets show it.

    Examples
    --------
    >>> show(0.9017, "length", "us"), show(1234.5, "mass"), show(4.44, "temperature", "us")
    ('35 1/2 in', '1.23 kg', '40 °F')
    """
    used = format_of(kind, system)
    number = value * used.factor + used.offset
    if used.large is not None and used.large_from is not None and abs(number) >= used.large_from:
        used = used.large
        number = value * used.factor + used.offset
    text = _sixteenths(number) if used.sixteenths else f"{number:.{used.decimals}f}"
    if text.startswith("-") and not text.strip("-0."):
        text = text[1:]
    joined = "" if used.unit in ("°", "") else " "
    return f"{text}{joined}{used.unit}"


def _sixteenths(number: float) -> str:
    count = round(abs(number) * 16)
    whole, part = divmod(count, 16)
    sign = "-" if number < 0 and count else ""
    if not part:
        return f"{sign}{whole}"
    step = math.gcd(part, 16)
    fraction = f"{part // step}/{16 // step}"
    return f"{sign}{whole} {fraction}" if whole else f"{sign}{fraction}"
